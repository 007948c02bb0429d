//! Turns as pictures show them: by how much, and around which axis.

use harmonym_runtime::base::{Kind, Time, Vector, turn};
use std::borrow::Cow;

/// Values over time, as many numbers each as are drawn.
#[derive(Clone, Debug, PartialEq)]
pub struct Drawn<'a> {
    /// The values: of a turn the angle in radians, 0 to π.
    pub values: Cow<'a, [(Time, Vector)]>,
    /// How many of their components are drawn.
    pub count: usize,
    /// Of a turn, the axis that it is around, of length 1; all 0 while it is not turned.
    pub axes: Option<Vec<(Time, Vector)>>,
}

impl<'a> Drawn<'a> {
    /// What is drawn of values of a kind.
    pub fn of(kind: Kind, values: &'a [(Time, Vector)]) -> Self {
        let count = kind.components();
        match kind {
            Kind::Turn => {
                let each = |draw: fn(Vector) -> Vector| {
                    values.iter().map(|(t, value)| (*t, draw(*value))).collect()
                };
                Self {
                    values: Cow::Owned(each(|value| Vector::axis(turn::angle(value)))),
                    count: 1,
                    axes: Some(each(turn::axis)),
                }
            }
            Kind::Switch | Kind::Axis | Kind::Plane | Kind::Space => {
                Self { values: Cow::Borrowed(values), count: count.max(1), axes: None }
            }
        }
    }

    /// Of a turn, the axis that it was around when it was farthest.
    pub fn farthest_axis(&self) -> Option<Vector> {
        let pairs = self.values.iter().zip(self.axes.as_deref()?);
        let farthest = pairs.max_by(|a, b| a.0.1.x.total_cmp(&b.0.1.x))?;
        Some(farthest.1.1).filter(|axis| *axis != Vector::ZERO)
    }
}
