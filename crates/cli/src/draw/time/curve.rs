//! Values in time as curves; of what falls into one pixel the least and the greatest stay.

use super::ruler::Ruler;
use harmonym_runtime::base::Time;

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
    /// The value before it.
    before: f64,
    least: f64,
    most: f64,
    last: f64,
}

impl Column {
    /// Its points, up to where the next one begins. Where that is far off, the value stays as it
    /// is until there.
    fn close(&self, next: f64, scale: Scale, points: &mut Vec<(f64, f64)>) {
        let least_first = (self.before - self.least).abs() <= (self.before - self.most).abs();
        let [near, far] =
            if least_first { [self.least, self.most] } else { [self.most, self.least] };
        let mut add = |x: f64, value: f64| {
            let point = (x, scale.y(value));
            if points.last() != Some(&point) {
                points.push(point);
            }
        };
        add(self.x, near);
        add(self.x, far);
        if next - self.x > 1.5 {
            add(self.x, self.last);
            add(next, self.last);
        }
    }
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
    for (t, value) in values {
        let x = ruler.x(t);
        if x < ruler.left() {
            before = value;
            continue;
        }
        if x > ruler.right() {
            break;
        }
        match column.as_mut().filter(|open| x - open.x < 1.0) {
            Some(open) => {
                (open.least, open.most) = (open.least.min(value), open.most.max(value));
                open.last = value;
            }
            None => {
                match column.take() {
                    Some(done) => done.close(x, scale, &mut points),
                    None => {
                        points.extend([ruler.left(), x].map(|x| (x, scale.y(before))));
                    }
                }
                column = Some(Column { x, before, least: value, most: value, last: value });
            }
        }
        before = value;
    }
    match column {
        Some(done) => done.close(ruler.right().max(done.x + 2.0), scale, &mut points),
        None => points.extend([ruler.left(), ruler.right()].map(|x| (x, scale.y(before)))),
    }
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

#[cfg(test)]
mod tests {
    use super::*;

    fn stage() -> (Ruler, Scale) {
        let ruler = Ruler::new(Time::ZERO, Time::from_millis(10_000), 100.0, 1100.0);
        (ruler, Scale { top: 0.0, bottom: 100.0, least: -1.0, most: 1.0 })
    }

    /// Values that jump about, many to a pixel.
    fn many() -> Vec<(Time, f64)> {
        let mut seed = 5_u64;
        let value = |i: u64| {
            seed = seed.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1);
            (Time::from_nanos(i * 200_000), f64::from((seed >> 40) as u32 % 1000) / 1000.0 - 0.5)
        };
        (0..50_000).map(value).collect()
    }

    #[test]
    fn peaks_stay_and_points_are_few() {
        let (ruler, scale) = stage();
        let mut values = many();
        values[31_415].1 = 1.0;
        values[27_182].1 = -1.0;
        let points = held(values.iter().copied(), &ruler, scale);
        assert!(points.len() < 4 * 1000, "{}", points.len());
        let ys = || points.iter().map(|(_, y)| *y);
        assert_eq!(ys().fold(f64::INFINITY, f64::min), scale.y(1.0));
        assert_eq!(ys().fold(0.0, f64::max), scale.y(-1.0));
        assert!(points.windows(2).all(|pair| pair[0].0 <= pair[1].0), "from left to right");
        let moves = moved(values.into_iter(), &ruler, scale);
        assert!(
            moves.contains(&(ruler.x(Time::from_nanos(31_415 * 200_000)), scale.y(1.0)))
                || moves.iter().any(|(_, y)| *y == scale.y(1.0))
        );
    }

    #[test]
    fn a_value_stays_until_it_changes() {
        let (ruler, scale) = stage();
        let at = |ms: u64, value: f64| (Time::from_millis(ms), value);
        let points = held([at(2000, 1.0), at(5000, 0.0)].into_iter(), &ruler, scale);
        let wanted = [
            (100.0, scale.y(0.0)),
            (300.0, scale.y(0.0)),
            (300.0, scale.y(1.0)),
            (600.0, scale.y(1.0)),
            (600.0, scale.y(0.0)),
            (1100.0, scale.y(0.0)),
        ];
        assert_eq!(points, wanted);
        // What was before the picture begins still holds in it.
        let later = Ruler::new(Time::from_millis(3000), Time::from_millis(4000), 0.0, 100.0);
        let points = held([at(2000, 1.0), at(5000, 0.0)].into_iter(), &later, scale);
        assert_eq!(points, [(0.0, scale.y(1.0)), (100.0, scale.y(1.0))]);
    }

    #[test]
    fn a_scale_has_0_on_it_and_is_never_empty() {
        for (values, least, most) in [
            (vec![0.2, 0.5], 0.0, 0.5),
            (vec![-2.0, -1.0], -2.0, 0.0),
            (vec![], 0.0, 1.0),
            (vec![0.0], 0.0, 1.0),
        ] {
            let scale = Scale::new(values.into_iter(), 10.0, 20.0);
            assert_eq!((scale.least, scale.most), (least, most));
            assert_eq!((scale.y(least), scale.y(most)), (20.0, 10.0));
        }
    }
}
