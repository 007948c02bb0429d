//! Straight movements through what a control reported.

use harmonym_runtime::base::{Time, Vector};

/// Reports further apart than this are not one movement: the control rested in between.
const REST: Time = Time::from_millis(20);

/// A movement begins so long before its first report, where the control rested before.
const LEAD: Time = Time::from_millis(4);

/// No movement is fitted through more reports than this.
const MOST: usize = 400;

/// A movement in a straight line from where the control is, or a jump if it takes no time.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Movement {
    /// When it begins.
    pub from: Time,
    /// When it is there.
    pub to: Time,
    /// Where.
    pub value: Vector,
}

/// Movements that are nowhere further from the points than `within`, and at the last point exactly there;
/// `settle` says what a movement may go to: a value with few digits.
pub(super) fn movements(
    points: &[(Time, Vector)],
    within: f64,
    settle: impl Fn(Vector) -> Vector,
) -> Vec<Movement> {
    let mut all: Vec<Movement> = Vec::new();
    let (mut at, mut free, mut hand) = (0, Time::ZERO, Vector::ZERO);
    while let Some(&(t, value)) = points.get(at) {
        let next = points.get(at + 1);
        let rests = next.is_none_or(|(later, _)| later.since(t) > REST);
        // Where it stays it has to be right: a stick that is let go is at 0, not nearly there.
        let settles = rests && (next.is_none() || value == Vector::ZERO);
        let to = settle(value);
        if off(hand, value) <= within / 2.0 && !(settles && hand != to) {
            at += 1;
            continue;
        }
        let rested = t.since(free).min(LEAD);
        let lead = Time::from_nanos(t.nanos() - rested.nanos());
        let jump = (at, Movement { from: t, to: t, value: to });
        // What is there at once did not move there.
        let way = reach(points, at, (lead, hand), within, &settle).filter(|(end, _)| *end > at);
        let (end, movement) = way.unwrap_or(jump);
        all.push(movement);
        (hand, free, at) = (movement.value, movement.to, end + 1);
    }
    all
}

/// The movement from a point in time and a value through the points from `at` that goes farthest, and the last
/// point that it goes through.
fn reach(
    points: &[(Time, Vector)],
    at: usize,
    (from, hand): (Time, Vector),
    within: f64,
    settle: &impl Fn(Vector) -> Vector,
) -> Option<(usize, Movement)> {
    let mut best = None;
    for end in at..points.len().min(at + MOST) {
        let (to, value) = points[end];
        if end > at && to.since(points[end - 1].0) > REST {
            break;
        }
        let movement = Movement { from, to, value: settle(value) };
        if to <= from {
            break;
        }
        let fits = |(t, value): &(Time, Vector)| off(movement.at(hand, *t), *value) <= within;
        if points[at..=end].iter().all(fits) {
            best = Some((end, movement));
        } else if best.is_some() {
            break;
        }
    }
    best
}

impl Movement {
    /// Where the straight line from `hand` is at `t`.
    fn at(&self, hand: Vector, t: Time) -> Vector {
        let share = t.since(self.from).nanos() as f64 / self.to.since(self.from).nanos() as f64;
        let between = |from: f64, to: f64| from + (to - from) * share;
        let (a, b) = (hand, self.value);
        Vector {
            x: between(a.x, b.x),
            y: between(a.y, b.y),
            z: between(a.z, b.z),
            w: between(a.w, b.w),
        }
    }
}

/// How far a value is from another: in the component where it is most.
fn off(a: Vector, b: Vector) -> f64 {
    let pairs = a.components().into_iter().zip(b.components());
    pairs.map(|(a, b)| (a - b).abs()).fold(0.0, f64::max)
}
