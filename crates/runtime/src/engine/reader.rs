//! A place of one's own in the stream of edges.

use super::event::Cause;
use super::frame::Frame;
use crate::base::{ActionId, Table};
use crate::plan::Plan;

/// What happened to an action since a reader looked last.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Edges {
    /// How many times it woke.
    pub woke: u64,
    /// How many times it fired.
    pub fired: u64,
    /// How many of its episodes ended.
    pub ended: u64,
    /// If any did, the last of them: whether it had fired, and why it ended.
    pub last_end: Option<(bool, Cause)>,
}

/// All that ever happened to an action.
#[derive(Clone, Copy, Debug, Default)]
pub(super) struct Counts {
    pub woke: u64,
    pub fired: u64,
    pub ended: u64,
    pub last_end: Option<(bool, Cause)>,
}

/// A place of one's own in the stream of edges. Any number of readers look at one engine, each as
/// often as it likes (a fixed step and a drawn frame, say): none loses an edge, none sees one twice.
///
/// What is told after a tick is seen at once: a reader needs no tick of its own.
#[derive(Clone, Debug)]
pub struct Reader {
    seen: Table<ActionId, (u64, u64, u64)>,
}

impl Reader {
    /// A reader that has seen nothing yet.
    pub fn new(plan: &Plan) -> Self {
        Self { seen: Table::filled((0, 0, 0), plan.actions().len()) }
    }

    /// What happened to an action since this reader looked at it last. An action that the plan does
    /// not have never does anything.
    pub fn take(&mut self, frame: Frame<'_>, action: ActionId) -> Edges {
        let (Some(seen), Some(counts)) = (self.seen.get_mut(action), frame.counts(action)) else {
            return Edges::default();
        };
        // A restart begins to count anew.
        let since = |now: u64, then: u64| if now >= then { now - then } else { now };
        let ended = since(counts.ended, seen.2);
        let edges = Edges {
            woke: since(counts.woke, seen.0),
            fired: since(counts.fired, seen.1),
            ended,
            last_end: counts.last_end.filter(|_| ended > 0),
        };
        *seen = (counts.woke, counts.fired, counts.ended);
        edges
    }
}

impl Frame<'_> {
    pub(super) fn counts(self, action: ActionId) -> Option<Counts> {
        self.state.episodes.actions.get(action).map(|state| state.all)
    }
}
