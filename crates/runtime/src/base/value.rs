//! The values that actions and controls have.

use super::limits::{AT_REST, MOST};

use std::fmt;

/// What an action gives to game code, and what an expression yields.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "pack", derive(serde::Serialize, serde::Deserialize))]
#[cfg_attr(feature = "pack", serde(rename_all = "kebab-case"))]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub enum Kind {
    /// On or off.
    Switch,
    /// One number.
    Axis,
    /// x and y.
    Plane,
    /// x, y and z.
    Space,
    /// A rotation: a unit quaternion x, y, z, w.
    Turn,
}

impl Kind {
    /// The kind's word in a profile.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Switch => "switch",
            Self::Axis => "axis",
            Self::Plane => "plane",
            Self::Space => "space",
            Self::Turn => "turn",
        }
    }

    /// The word with its article, for messages.
    pub const fn a_word(self) -> &'static str {
        match self {
            Self::Switch => "a switch",
            Self::Axis => "an axis",
            Self::Plane => "a plane",
            Self::Space => "a space",
            Self::Turn => "a turn",
        }
    }

    /// How many components a value has.
    pub const fn components(self) -> usize {
        match self {
            Self::Switch | Self::Axis => 1,
            Self::Plane => 2,
            Self::Space => 3,
            Self::Turn => 4,
        }
    }
}

/// One component of a value.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "pack", derive(serde::Serialize, serde::Deserialize))]
#[cfg_attr(feature = "pack", serde(rename_all = "kebab-case"))]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub enum Component {
    /// To the right.
    X,
    /// Up.
    Y,
    /// Towards the viewer.
    Z,
}

impl Component {
    /// All of them, in order.
    pub const ALL: [Self; 3] = [Self::X, Self::Y, Self::Z];

    /// The component called `letter`.
    pub fn from_letter(letter: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|component| component.letter() == letter)
    }

    /// Its letter.
    pub const fn letter(self) -> &'static str {
        match self {
            Self::X => "x",
            Self::Y => "y",
            Self::Z => "z",
        }
    }
}

/// A value's components; those that its kind doesn't have are 0. No rotation is all 0 too, and
/// shown as (0, 0, 0, 1).
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Vector {
    /// The first component; the only one of a switch or axis.
    pub x: f64,
    /// The second component.
    pub y: f64,
    /// The third component.
    pub z: f64,
    /// The fourth component, of a turn.
    pub w: f64,
}

impl From<f64> for Vector {
    /// A number, in x.
    fn from(x: f64) -> Self {
        Self::axis(x)
    }
}

impl From<bool> for Vector {
    /// On or off, as 1 or 0 in x.
    fn from(on: bool) -> Self {
        Self::axis(f64::from(u8::from(on)))
    }
}

impl From<[f64; 2]> for Vector {
    /// A plane.
    fn from([x, y]: [f64; 2]) -> Self {
        Self::new(x, y)
    }
}

impl From<[f64; 3]> for Vector {
    /// A space.
    fn from([x, y, z]: [f64; 3]) -> Self {
        Self::space(x, y, z)
    }
}

impl From<[f64; 4]> for Vector {
    /// A turn.
    fn from([x, y, z, w]: [f64; 4]) -> Self {
        Self { x, y, z, w }
    }
}

impl Vector {
    /// All 0.
    pub const ZERO: Self = Self { x: 0.0, y: 0.0, z: 0.0, w: 0.0 };

    /// Both components of a plane.
    pub const fn new(x: f64, y: f64) -> Self {
        Self { x, y, z: 0.0, w: 0.0 }
    }

    /// A single number.
    pub const fn axis(x: f64) -> Self {
        Self::new(x, 0.0)
    }

    /// All three components.
    pub const fn space(x: f64, y: f64, z: f64) -> Self {
        Self { x, y, z, w: 0.0 }
    }

    /// The components in order.
    pub const fn components(self) -> [f64; 4] {
        [self.x, self.y, self.z, self.w]
    }

    /// The first three components.
    pub const fn xyz(self) -> [f64; 3] {
        [self.x, self.y, self.z]
    }

    /// The component asked for.
    pub const fn component(self, component: Component) -> f64 {
        match component {
            Component::X => self.x,
            Component::Y => self.y,
            Component::Z => self.z,
        }
    }

    /// Whether every component is a finite number.
    pub const fn is_finite(self) -> bool {
        self.x.is_finite() && self.y.is_finite() && self.z.is_finite() && self.w.is_finite()
    }

    /// The value with one component replaced.
    pub const fn with(self, component: Component, value: f64) -> Self {
        match component {
            Component::X => Self { x: value, ..self },
            Component::Y => Self { y: value, ..self },
            Component::Z => Self { z: value, ..self },
        }
    }

    /// Each component changed by itself, and held within ±10¹⁵.
    pub fn map(self, change: impl Fn(f64) -> f64) -> Self {
        let held = |v: f64| change(v).clamp(-MOST, MOST);
        Self { x: held(self.x), y: held(self.y), z: held(self.z), w: self.w }
    }

    /// The same for so many components from the first on, the others kept.
    pub fn map_first(self, components: u8, change: impl Fn(f64) -> f64) -> Self {
        let all = self.map(change);
        match components {
            1 => Self { x: all.x, ..self },
            2 => Self { z: self.z, w: self.w, ..all },
            _ => all,
        }
    }

    /// |v| of a single number, the length of several: √(x² + y² + z²).
    pub fn magnitude(self) -> f64 {
        if self.y == 0.0 && self.z == 0.0 {
            return self.x.abs();
        }
        (self.x * self.x + self.y * self.y + self.z * self.z).sqrt()
    }

    /// Each component times its own factor, held within ±10¹⁵.
    pub fn times(self, by: Self) -> Self {
        let held = |v: f64, by: f64| (v * by).clamp(-MOST, MOST);
        Self { x: held(self.x, by.x), y: held(self.y, by.y), z: held(self.z, by.z), w: 0.0 }
    }

    /// Component by component, held within ±10¹⁵.
    pub fn plus(self, other: Self) -> Self {
        let held = |a: f64, b: f64| (a + b).clamp(-MOST, MOST);
        Self {
            x: held(self.x, other.x),
            y: held(self.y, other.y),
            z: held(self.z, other.z),
            w: 0.0,
        }
    }

    /// The way from `other` to this, component by component, held within ±10¹⁵.
    pub fn minus(self, other: Self) -> Self {
        let held = |a: f64, b: f64| (a - b).clamp(-MOST, MOST);
        Self::space(held(self.x, other.x), held(self.y, other.y), held(self.z, other.z))
    }

    /// The same direction with magnitude `to`; 0 stays 0. `from` is the present magnitude.
    pub fn resized(self, from: f64, to: f64) -> Self {
        if from == 0.0 {
            return Self::ZERO;
        }
        let resized = |v: f64| v / from * to;
        Self { x: resized(self.x), y: resized(self.y), z: resized(self.z), w: 0.0 }
    }

    /// The components as game code reads them: of no rotation (0, 0, 0, 1).
    pub fn shown(self, kind: Kind) -> [f64; 4] {
        match kind {
            Kind::Turn if self == Self::ZERO => [0.0, 0.0, 0.0, 1.0],
            _ => self.components(),
        }
    }

    /// What an action of `kind` holds against its levels: |v| or the length; of a turn the angle
    /// from no rotation, in radians.
    pub fn magnitude_of(self, kind: Kind) -> f64 {
        match kind {
            Kind::Turn => super::turn::angle(self),
            _ => self.magnitude(),
        }
    }

    /// Whether some component differs by more than [`AT_REST`].
    pub fn differs(self, other: Self) -> bool {
        let apart = |a: f64, b: f64| (a - b).abs() > AT_REST;
        apart(self.x, other.x)
            || apart(self.y, other.y)
            || apart(self.z, other.z)
            || apart(self.w, other.w)
    }

    /// The components that a value of `kind` has, −0 written as 0.
    pub fn display(self, kind: Kind) -> impl fmt::Display {
        Shown { value: self, kind }
    }
}

struct Shown {
    value: Vector,
    kind: Kind,
}

/// `(0.6, 0.8)` or `0.6`, to the precision asked for (`{:.3}`).
impl fmt::Display for Shown {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let digits = f.precision().unwrap_or(3);
        let rounded = |v: f64| {
            let text = format!("{:.digits$}", v + 0.0);
            let text = text.trim_end_matches('0').trim_end_matches('.');
            if text == "-0" { "0".to_owned() } else { text.to_owned() }
        };
        let text = match self.kind {
            Kind::Switch => if self.value.x == 0.0 { "off" } else { "on" }.to_owned(),
            Kind::Axis => rounded(self.value.x),
            kind => {
                let components = self.value.shown(kind);
                let all: Vec<_> =
                    components.iter().take(kind.components()).map(|&v| rounded(v)).collect();
                format!("({})", all.join(", "))
            }
        };
        f.pad_integral(true, "", &text)
    }
}
