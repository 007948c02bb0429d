//! The same hands through two profiles: what only one of them gives, what moved in time, and how
//! far values are apart.

mod align;

use crate::trace::{Lane, Lanes, Mark};
use align::align;
use harmonym_runtime::base::{Kind, Seat, Time, Vector};
use harmonym_runtime::plan::Plan;

/// Values no farther apart than this are the same, where nothing else is said.
pub const TOLERANCE: f64 = 1e-6;

/// Episodes that woke farther apart than this are not the same one.
const WINDOW: Time = Time::from_millis(500);
/// What a difference costs, in microseconds of moving: less is always better.
const DIFFERENCE: u64 = 1 << 36;

/// One thing that is not the same.
#[derive(Clone, Debug, PartialEq)]
pub struct Difference {
    /// When: in the first run, where it is in both.
    pub t: Time,
    /// Whose.
    pub seat: Seat,
    /// The action's address.
    pub action: String,
    /// What.
    pub what: Change,
}

/// What is not the same.
#[derive(Clone, Debug, PartialEq)]
pub enum Change {
    /// An episode that only the first run has.
    EpisodeGone(Whole),
    /// An episode that only the second run has.
    EpisodeNew(Whole),
    /// An event that only the first run has, of an episode of both.
    Gone(Mark),
    /// An event that only the second run has, of an episode of both.
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

/// A whole episode.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Whole {
    /// How often it fired; `while` counts once a stretch.
    pub fires: usize,
    /// When and how it ended; nothing while it is open.
    pub end: Option<(Time, Mark)>,
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
        let is_same = |other: &Lane| other.seat == lane.seat && named(other, plan_b) == name;
        let other = b.lanes.iter().find(|other| is_same(other));
        match other {
            Some(other) => both(&name, lane, other, tolerance, &mut all),
            None if lane.is_quiet() => {}
            None => {
                let t = lane.marks.first().map_or(Time::ZERO, |mark| mark.0);
                let seat = lane.seat;
                all.push(Difference { t, seat, action: name, what: Change::NoAction });
            }
        }
    }
    for lane in &b.lanes {
        let name = named(lane, plan_b);
        let seat = lane.seat;
        if !a.lanes.iter().any(|other| other.seat == seat && named(other, plan_a) == name) {
            let new = episodes(lane).into_iter();
            let new = new.map(|one| (one[0].0, Change::EpisodeNew(whole(one))));
            all.extend(new.map(|(t, what)| Difference { t, seat, action: name.clone(), what }));
        }
    }
    all.sort_by(|x, y| (x.t, x.seat, &x.action).cmp(&(y.t, y.seat, &y.action)));
    all
}

fn both(name: &str, a: &Lane, b: &Lane, tolerance: f64, all: &mut Vec<Difference>) {
    let mut tell = |t: Time, what: Change| {
        all.push(Difference { t, seat: a.seat, action: name.to_owned(), what });
    };
    let (ours, theirs) = (episodes(a), episodes(b));
    let pairs = align(
        &ours,
        &theirs,
        |x, y| x[0].0.cmp(&y[0].0),
        |one| DIFFERENCE * one.len() as u64,
        |x, y| (apart(x[0].0, y[0].0) <= WINDOW).then(|| cost(x, y)),
    );
    for (ours, theirs) in pairs.into_iter().map(|(i, j)| (i.map(|i| ours[i]), j.map(|j| theirs[j])))
    {
        match (ours, theirs) {
            (Some(x), Some(y)) => between(x, y, &mut tell),
            (Some(x), None) => tell(x[0].0, Change::EpisodeGone(whole(x))),
            (None, Some(y)) => tell(y[0].0, Change::EpisodeNew(whole(y))),
            (None, None) => {}
        }
    }
    // How far a switch is pulled is no value that game code reads.
    let is_read = a.kind != Kind::Switch && b.kind != Kind::Switch;
    let apart = farthest(&a.values, &b.values).filter(|(_, d)| is_read && *d > tolerance);
    if let Some((t, distance)) = apart {
        tell(t, Change::Value(distance));
    }
}

/// The marks of one episode, from its wake on.
type Episode<'l> = &'l [(Time, Mark)];

/// The episodes of a lane.
fn episodes(lane: &Lane) -> Vec<Episode<'_>> {
    lane.marks.chunk_by(|_, (_, next)| *next != Mark::Wake).collect()
}

fn whole(one: Episode<'_>) -> Whole {
    Whole { fires: fires(one).len(), end: end(one) }
}

fn fires(one: Episode<'_>) -> Vec<Time> {
    one.iter().filter(|(_, mark)| *mark == Mark::Fire).map(|(t, _)| *t).collect()
}

fn end(one: Episode<'_>) -> Option<(Time, Mark)> {
    one.iter().copied().find(|(_, mark)| matches!(mark, Mark::Lapse(_) | Mark::Rest(_)))
}

/// What differs between two episodes, one as the other.
fn between(x: Episode<'_>, y: Episode<'_>, tell: &mut dyn FnMut(Time, Change)) {
    if x[0].0 != y[0].0 {
        tell(x[0].0, Change::Moved(Mark::Wake, y[0].0));
    }
    let (ours, theirs) = (fires(x), fires(y));
    let moved = |a: &Time, b: &Time| Some(moved(*a, *b));
    for (i, j) in align(&ours, &theirs, Time::cmp, |_| DIFFERENCE, moved) {
        match (i.map(|i| ours[i]), j.map(|j| theirs[j])) {
            (Some(t), Some(u)) if t != u => tell(t, Change::Moved(Mark::Fire, u)),
            (Some(t), None) => tell(t, Change::Gone(Mark::Fire)),
            (None, Some(u)) => tell(u, Change::New(Mark::Fire)),
            _ => {}
        }
    }
    match (end(x), end(y)) {
        (Some((t, mark)), Some((u, other))) => {
            if t != u {
                tell(t, Change::Moved(mark, u));
            }
            if mark != other {
                tell(t, Change::Ends(mark, other));
            }
        }
        (Some((t, mark)), None) => tell(t, Change::Gone(mark)),
        (None, Some((u, mark))) => tell(u, Change::New(mark)),
        (None, None) => {}
    }
}

/// What two episodes cost side by side: every difference, then how far they lie apart.
fn cost(x: Episode<'_>, y: Episode<'_>) -> u64 {
    let mut differences = 0;
    between(x, y, &mut |_, _| differences += 1);
    DIFFERENCE * differences + micros(x[0].0, y[0].0)
}

/// What two events of one kind cost side by side.
fn moved(a: Time, b: Time) -> u64 {
    let differs = if a == b { 0 } else { DIFFERENCE };
    differs + micros(a, b)
}

fn micros(a: Time, b: Time) -> u64 {
    (apart(a, b).nanos() / 1000).min(DIFFERENCE / 2)
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
