//! Why an action did what it did on some hands: its episodes, the presses that came to nothing, and
//! where every station stood at one moment, all with the engine's own numbers.

mod blocked;
mod devices;
mod end_reason;
mod mover;
mod record;
mod stations;
mod status;
mod stretch;

pub use blocked::Blocked;
pub use end_reason::EndReason;
pub use mover::Mover;
pub use stations::{ControlAt, OpTrace, StationsAt};
pub use status::{Awaits, Obstacle, Status, Waiting};

use crate::take::{Input, Playing, Run, Watcher};
use harmonym_runtime::base::{ActionId, AlternativeId, ControlId, Seat, Time};
use harmonym_runtime::engine::{Cause, Notice};
use harmonym_runtime::plan::Plan;
use harmonym_runtime::seats::Told;
pub(crate) use record::Record;
use std::sync::Arc;

/// One episode of an action.
#[derive(Clone, Debug, PartialEq)]
pub struct EpisodeRecord {
    /// When it woke.
    pub woke: Time,
    /// What woke it, where that is known.
    pub began: Option<Mover>,
    /// Its fires: when, by which alternative, and since when each was kept back, if it was.
    pub fires: Vec<(Time, AlternativeId, Option<Time>)>,
    /// When and why it ended; nothing while it is open.
    pub end: Option<(Time, Cause)>,
    /// The numbers behind that.
    pub ending: Option<EndReason>,
    /// How long it had been down when something else than letting go ended it, of the time that a cue of it
    /// takes.
    pub short_of: Option<(Time, Time)>,
    /// A stick or lever that was all there was of it, and how far it was at most, where that is no more than
    /// one may report that nobody touches.
    pub drift: Option<(ControlId, f64)>,
}

impl EpisodeRecord {
    /// One that has just woken.
    pub fn new(woke: Time) -> Self {
        let fires = Vec::new();
        Self { woke, began: None, fires, end: None, ending: None, short_of: None, drift: None }
    }
}

/// Presses of one control that woke nothing, one after the other for the same reason.
#[derive(Clone, Debug, PartialEq)]
pub struct Miss {
    /// When the first began.
    pub from: Time,
    /// When the last was over.
    pub to: Time,
    /// How many they were.
    pub count: usize,
    /// The control.
    pub control: ControlId,
    /// Why nothing came of it, one reason after the other; of several presses there is one.
    pub phases: Vec<Phase>,
}

/// A time in which a press came to nothing for one reason.
#[derive(Clone, Debug, PartialEq)]
pub struct Phase {
    /// The reason; of how far it was pressed, the farthest.
    pub status: Status,
    /// Since when.
    pub from: Time,
    /// Until when.
    pub to: Time,
}

/// An action at one moment.
#[derive(Clone, Debug)]
pub struct Moment {
    /// When, after all that happened at that very instant.
    pub t: Time,
    /// Every station.
    pub stations: StationsAt,
    /// What all of that comes to.
    pub status: Status,
    /// The last episode that had begun by then, of those of the story.
    pub episode: Option<usize>,
}

/// What an action did, and why.
#[derive(Clone, Debug)]
pub struct Story {
    /// Its episodes, in order.
    pub episodes: Vec<EpisodeRecord>,
    /// What was pressed in vain, in order.
    pub misses: Vec<Miss>,
    /// The moment that was asked for.
    pub moment: Option<Moment>,
    /// Whether one of its controls was ever pressed, or moved.
    pub touched: bool,
    /// What stands at the end of the hands.
    pub last: Status,
    /// Whether the run was cut short, since it told too much.
    pub is_cut: bool,
}

impl Story {
    /// Whether nothing was done for the action: no control of it was touched, and it never woke.
    pub fn is_silent(&self) -> bool {
        let waits = matches!(self.last, Status::Unbound | Status::Step(..));
        !self.touched && self.episodes.is_empty() && !waits
    }
}

/// The lowest seat in which something happens to an action under some hands; the first if nothing does.
pub fn seat_of(plan: &Arc<Plan>, playing: Playing, inputs: &[Input], action: ActionId) -> Seat {
    struct First(ActionId, Option<Seat>);
    impl Watcher for First {
        fn notice(&mut self, Told { seat, notice }: Told) {
            if matches!(notice, Notice::Event(event) if event.action == self.0) {
                self.1 = [self.1, seat].into_iter().flatten().min();
            }
        }
    }
    if playing.seats.unwrap_or(plan.seats()) == 1 {
        return Seat::FIRST;
    }
    let mut first = First(action, None);
    let mut run = Run::new(Arc::clone(plan), playing, None, &mut first);
    for &input in inputs {
        if run.input(input, &mut first).is_break() {
            break;
        }
    }
    run.finish(&mut first);
    first.1.unwrap_or(Seat::FIRST)
}

/// What becomes of an action of a seat under some hands, and how it stands at `at`.
pub fn why(
    plan: &Arc<Plan>,
    playing: Playing,
    inputs: impl IntoIterator<Item = Input>,
    (seat, action): (Seat, ActionId),
    at: Option<Time>,
) -> Story {
    let mut record = Record::new(plan, seat, action);
    let mut run = Run::new(Arc::clone(plan), playing, None, &mut record);
    let mut moment = None;
    for input in inputs {
        if let Some(at) = at.filter(|at| *at < input.t && moment.is_none()) {
            moment = Some(record.look(&mut run, at));
        }
        if run.input(input, &mut record).is_break() {
            break;
        }
    }
    if let Some(at) = at.filter(|_| moment.is_none()) {
        moment = Some(record.look(&mut run, at));
    }
    let is_cut = run.finish(&mut record).is_cut;
    let last = record.close();
    if let Some(moment) = &mut moment {
        record.look_ahead(&mut moment.status, moment.t);
    }
    Story {
        episodes: record.episodes,
        misses: record.misses,
        moment,
        touched: record.touched,
        last,
        is_cut,
    }
}
