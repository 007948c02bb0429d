//! Why an action did what it did on some hands: its episodes, the presses that came to nothing, and
//! where every station stood at one moment, all with the engine's own numbers.

mod end_reason;
mod record;
mod stations;
mod status;

pub use end_reason::EndReason;
pub use stations::{Blocked, ControlAt, OpTrace, StationsAt};
pub use status::{Awaits, Status};

use crate::take::{Input, Playing, Run};
use harmonym_runtime::base::{ActionId, AlternativeId, ControlId, Time};
use harmonym_runtime::engine::Cause;
use harmonym_runtime::plan::Plan;
use record::Record;
use std::sync::Arc;

/// One episode of an action.
#[derive(Clone, Debug, PartialEq)]
pub struct EpisodeRecord {
    /// When it woke.
    pub woke: Time,
    /// Its fires: when, by which alternative, and since when each was kept back, if it was.
    pub fires: Vec<(Time, AlternativeId, Option<Time>)>,
    /// When and why it ended; nothing while it is open.
    pub end: Option<(Time, Cause)>,
    /// The numbers behind that.
    pub ending: Option<EndReason>,
}

/// Presses that woke nothing, one after the other for the same reason.
#[derive(Clone, Debug, PartialEq)]
pub struct Miss {
    /// When the first began.
    pub from: Time,
    /// When the last was over.
    pub to: Time,
    /// How many they were.
    pub count: usize,
    /// The control that was pressed last.
    pub control: ControlId,
    /// Why nothing came of it, when it was furthest.
    pub status: Status,
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
    /// What stands at the end of the hands.
    pub last: Status,
}

/// What becomes of `action` under some hands, and how it stands at `at`.
pub fn why(
    plan: &Arc<Plan>,
    playing: Playing,
    inputs: impl IntoIterator<Item = Input>,
    action: ActionId,
    at: Option<Time>,
) -> Story {
    let mut record = Record::new(plan, action);
    let mut run = Run::new(Arc::clone(plan), playing, None, &mut record);
    let mut moment = None;
    let look = |run: &mut Run, record: &mut Record, at: Time| {
        let inside = run.look(at, record).inside();
        record.settle(&inside, None);
        Moment {
            t: inside.now(),
            stations: StationsAt::of(&inside, action, record),
            status: Status::of(&inside, action, record),
            episode: record.episodes.len().checked_sub(1),
        }
    };
    for input in inputs {
        if let Some(at) = at.filter(|at| *at < input.t && moment.is_none()) {
            moment = Some(look(&mut run, &mut record, at));
        }
        if run.input(input, &mut record).is_break() {
            break;
        }
    }
    if let Some(at) = at.filter(|_| moment.is_none()) {
        moment = Some(look(&mut run, &mut record, at));
    }
    run.finish(&mut record);
    let last = record.close();
    Story { episodes: record.episodes, misses: record.misses, moment, last }
}
