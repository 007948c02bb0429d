//! Values in time as curves; of what falls into one pixel the least and the greatest stay.

use super::ruler::Ruler;
use harmonym_core::base::Time;

/// Where values are.
#[derive(Clone, Copy, Debug)]
pub struct Scale {
    pub top: f64,
    pub bottom: f64,
    pub least: f64,
    pub most: f64,
}

impl Scale {
    /// A scale for values, with 0 on it.
    pub fn new(values: impl Iterator<Item = f64>, top: f64, bottom: f64) -> Self {
        let (mut least, mut most) = (0.0_f64, 0.0_f64);
        for value in values {
            (least, most) = (least.min(value), most.max(value));
        }
        if least == most {
            most = 1.0;
        }
        Self { top, bottom, least, most }
    }

    pub fn y(&self, value: f64) -> f64 {
        let share = (value - self.least) / (self.most - self.least);
        self.bottom - share * (self.bottom - self.top)
    }
}

/// What falls into one column of pixels.
struct Column {
    x: f64,
    first: f64,
    least: f64,
    most: f64,
    last: f64,
}

/// A value that stays between its changes, as a line.
pub fn held(
    values: impl Iterator<Item = (Time, f64)>,
    ruler: &Ruler,
    scale: Scale,
) -> Vec<(f64, f64)> {
    let mut points = Vec::new();
    let mut before = 0.0;
    let mut column: Option<Column> = None;
    let end = |points: &mut Vec<(f64, f64)>, column: Option<Column>| {
        let Some(Column { x, first, least, most, last }) = column else { return };
        for value in [first, least, most, last] {
            let point = (x, scale.y(value));
            if points.last() != Some(&point) {
                points.push(point);
            }
        }
    };
    for (t, value) in values {
        let x = ruler.x(t);
        if x < ruler.left() {
            before = value;
            continue;
        }
        if x > ruler.right() {
            break;
        }
        if let Some(open) = column.as_mut().filter(|open| x - open.x < 1.0) {
            (open.least, open.most) = (open.least.min(value), open.most.max(value));
            open.last = value;
            before = value;
            continue;
        }
        end(&mut points, column.take());
        // It stays as it was until here.
        let corner = (x, scale.y(before));
        if points.is_empty() {
            points.push((ruler.left(), corner.1));
        }
        if points.last().is_none_or(|last| last.1 != corner.1 || last.0 < x) {
            points.push(corner);
        }
        column = Some(Column { x, first: value, least: value, most: value, last: value });
        before = value;
    }
    end(&mut points, column);
    points.push((ruler.right(), scale.y(before)));
    without_middles(points)
}

/// Movements, each from 0 and back.
pub fn moved(
    values: impl Iterator<Item = (Time, f64)>,
    ruler: &Ruler,
    scale: Scale,
) -> Vec<(f64, f64)> {
    let zero = scale.y(0.0);
    let mut points = vec![(ruler.left(), zero)];
    let mut column: Option<(f64, f64, f64)> = None;
    let close = |points: &mut Vec<(f64, f64)>, (x, least, most): (f64, f64, f64)| {
        points.extend([(x, zero), (x, scale.y(least)), (x, scale.y(most)), (x, zero)]);
    };
    for (t, value) in values {
        let Some(x) = ruler.x_within(t) else { continue };
        match &mut column {
            Some((at, least, most)) if x - *at < 1.0 => {
                (*least, *most) = (least.min(value), most.max(value));
            }
            other => {
                if let Some(done) = other.take() {
                    close(&mut points, done);
                }
                *other = Some((x, value.min(0.0), value.max(0.0)));
            }
        }
    }
    if let Some(done) = column {
        close(&mut points, done);
    }
    points.push((ruler.right(), zero));
    without_middles(points)
}

/// Points in the middle of a level stretch say nothing.
fn without_middles(points: Vec<(f64, f64)>) -> Vec<(f64, f64)> {
    let mut kept: Vec<(f64, f64)> = Vec::with_capacity(points.len());
    for point in points {
        if let [.., a, b] = kept[..]
            && a.1 == b.1
            && b.1 == point.1
        {
            kept.pop();
        }
        kept.push(point);
    }
    kept
}
