//! The same hands through two profiles: what only one of them gives, what moved in time, and how
//! far values are apart.

use crate::trace::{Lane, Lanes, Mark};
use harmonym_runtime::base::{Kind, Time, Vector};
use harmonym_runtime::plan::Plan;

/// Values no farther apart than this are the same, where nothing else is said.
pub const TOLERANCE: f64 = 1e-6;

/// Events of one kind farther apart than this are not the same one.
const WINDOW: Time = Time::from_millis(500);
/// One thing that is not the same.
#[derive(Clone, Debug, PartialEq)]
pub struct Difference {
    /// When: in the first run, where it is in both.
    pub t: Time,
    /// The action's address.
    pub action: String,
    /// What.
    pub what: Change,
}

/// What is not the same.
#[derive(Clone, Debug, PartialEq)]
pub enum Change {
    /// An event that only the first run has.
    Gone(Mark),
    /// An event that only the second run has.
    New(Mark),
    /// An event that comes at another time in the second run.
    Moved(Mark, Time),
    /// An end that has another cause in the second run.
    Ends(Mark, Mark),
    /// The value is this far apart at most, at that moment.
    Value(f64),
    /// The second profile has no such action.
    NoAction,
}

/// What is not the same between two runs, in order of time. Actions are matched by address; values
/// no farther apart than `tolerance` are the same.
pub fn compare(
    (a, plan_a): (&Lanes, &Plan),
    (b, plan_b): (&Lanes, &Plan),
    tolerance: f64,
) -> Vec<Difference> {
    let mut all = Vec::new();
    let named = |lane: &Lane, plan: &Plan| plan.names().actions[lane.action].clone();
    for lane in &a.lanes {
        let name = named(lane, plan_a);
        let other = b.lanes.iter().find(|other| named(other, plan_b) == name);
        match other {
            Some(other) => both(&name, lane, other, tolerance, &mut all),
            None if lane.is_quiet() => {}
            None => {
                let t = lane.marks.first().map_or(Time::ZERO, |mark| mark.0);
                all.push(Difference { t, action: name, what: Change::NoAction });
            }
        }
    }
    for lane in &b.lanes {
        let name = named(lane, plan_b);
        if !a.lanes.iter().any(|other| named(other, plan_a) == name) {
            let new = lane.marks.iter().map(|&(t, mark)| (t, Change::New(mark)));
            all.extend(new.map(|(t, what)| Difference { t, action: name.clone(), what }));
        }
    }
    all.sort_by(|x, y| (x.t, &x.action).cmp(&(y.t, &y.action)));
    all
}

fn both(name: &str, a: &Lane, b: &Lane, tolerance: f64, all: &mut Vec<Difference>) {
    let mut tell = |t: Time, what: Change| {
        all.push(Difference { t, action: name.to_owned(), what });
    };
    for kind in [is_wake, is_fire, is_lapse, is_rest] {
        let of = |lane: &Lane| -> Vec<(Time, Mark)> {
            lane.marks.iter().copied().filter(|(_, mark)| kind(*mark)).collect()
        };
        let (ours, theirs) = (of(a), of(b));
        let (mut i, mut j) = (0, 0);
        while i < ours.len() || j < theirs.len() {
            match (ours.get(i), theirs.get(j)) {
                (Some(&(t, mark)), Some(&(u, other))) if apart(t, u) <= WINDOW => {
                    if t != u {
                        tell(t, Change::Moved(mark, u));
                    }
                    if mark != other {
                        tell(t, Change::Ends(mark, other));
                    }
                    (i, j) = (i + 1, j + 1);
                }
                (Some(&(t, mark)), other) if other.is_none_or(|(u, _)| t < *u) => {
                    tell(t, Change::Gone(mark));
                    i += 1;
                }
                (_, Some(&(u, mark))) => {
                    tell(u, Change::New(mark));
                    j += 1;
                }
                _ => break,
            }
        }
    }
    // How far a switch is pulled is no value that game code reads.
    let is_read = a.kind != Kind::Switch && b.kind != Kind::Switch;
    let apart = farthest(&a.values, &b.values).filter(|(_, d)| is_read && *d > tolerance);
    if let Some((t, distance)) = apart {
        tell(t, Change::Value(distance));
    }
}

fn is_wake(mark: Mark) -> bool {
    mark == Mark::Wake
}

fn is_fire(mark: Mark) -> bool {
    mark == Mark::Fire
}

fn is_lapse(mark: Mark) -> bool {
    matches!(mark, Mark::Lapse(_))
}

fn is_rest(mark: Mark) -> bool {
    matches!(mark, Mark::Rest(_))
}

fn apart(a: Time, b: Time) -> Time {
    a.max(b).since(a.min(b))
}

/// Where two values that stay between their changes are farthest apart, and how far.
fn farthest(a: &[(Time, Vector)], b: &[(Time, Vector)]) -> Option<(Time, f64)> {
    let mut times: Vec<Time> = a.iter().chain(b).map(|(t, _)| *t).collect();
    times.sort();
    times.dedup();
    let (mut i, mut j, mut x, mut y) = (0, 0, Vector::ZERO, Vector::ZERO);
    let mut most: Option<(Time, f64)> = None;
    for t in times {
        while let Some((_, value)) = a.get(i).filter(|(at, _)| *at <= t) {
            (x, i) = (*value, i + 1);
        }
        while let Some((_, value)) = b.get(j).filter(|(at, _)| *at <= t) {
            (y, j) = (*value, j + 1);
        }
        let parts = x.components().into_iter().zip(y.components());
        let distance = parts.map(|(a, b)| (a - b) * (a - b)).sum::<f64>().sqrt();
        if most.is_none_or(|(_, greatest)| distance > greatest) {
            most = Some((t, distance));
        }
    }
    most
}
