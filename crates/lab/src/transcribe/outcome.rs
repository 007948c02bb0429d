//! What comes of hands, to be held against what comes of others.

use crate::take::{Input, Playing, Run, Watcher};
use harmonym_runtime::base::{ActionId, Kind, Seat, Time, Vector};
use harmonym_runtime::engine::{EventKind, Frame, Notice};
use harmonym_runtime::plan::{Cue, Plan};
use harmonym_runtime::seats::Told;
use std::collections::BTreeMap;
use std::sync::Arc;

/// An action of a seat.
pub(super) type Whose = (ActionId, Seat);

/// What came of some hands.
#[derive(Clone, Debug, Default)]
pub(super) struct Outcome {
    /// The events of each action, in order. What fires at every tick is told once a stretch, and what still
    /// goes on at the end has no end.
    pub events: BTreeMap<Whose, Vec<(EventKind, Time)>>,
    /// The values of each action that has others than on and off, at the ticks at which they changed.
    pub values: BTreeMap<Whose, Vec<(Time, Vector)>>,
}

impl Outcome {
    pub fn of(plan: &Arc<Plan>, playing: Playing, inputs: impl IntoIterator<Item = Input>) -> Self {
        let mut gather = Gather { plan, own: Self::default() };
        let mut run = Run::new(Arc::clone(plan), playing, None, &mut gather);
        for input in inputs {
            if run.input(input, &mut gather).is_break() {
                break;
            }
        }
        run.finish(&mut gather);
        gather.own
    }

    /// Whether the same came: no event more or less, none for another cause, none further off than `apart`.
    pub fn is_like(&self, other: &Self, apart: Time) -> bool {
        let like = |(a, b): (&(EventKind, Time), &(EventKind, Time))| {
            is_same(a.0, b.0) && a.1.max(b.1).since(a.1.min(b.1)) <= apart
        };
        self.events.len() == other.events.len()
            && self.events.iter().zip(&other.events).all(|((a, own), (b, others))| {
                a == b && own.len() == others.len() && own.iter().zip(others).all(like)
            })
    }

    /// The value of an action at a tick.
    pub fn value(&self, whose: Whose, t: Time) -> Vector {
        let values = self.values.get(&whose).map_or(&[][..], Vec::as_slice);
        let until = values.partition_point(|(at, _)| *at <= t);
        until.checked_sub(1).map_or(Vector::ZERO, |last| values[last].1)
    }
}

fn is_same(a: EventKind, b: EventKind) -> bool {
    match (a, b) {
        (EventKind::Fire(a, _), EventKind::Fire(b, _)) => a == b,
        (a, b) => a == b,
    }
}

struct Gather<'p> {
    plan: &'p Plan,
    own: Outcome,
}

impl Watcher for Gather<'_> {
    fn notice(&mut self, told: Told) {
        let Notice::Event(event) = told.notice else { return };
        let whose = (event.action, told.seat.unwrap_or(Seat::FIRST));
        let own = self.own.events.entry(whose).or_default();
        let goes_on = |by| self.plan.alternatives()[by].cue == Cue::While;
        if let (EventKind::Fire(by, _), Some((EventKind::Fire(last, _), _))) =
            (event.kind, own.last())
            && by == *last
            && goes_on(by)
        {
            return;
        }
        own.push((event.kind, event.t));
    }

    fn tick(&mut self, seat: Seat, frame: Frame<'_>, t: Time) {
        for action in frame.changed() {
            if self.plan.actions()[action].kind != Kind::Switch {
                self.own.values.entry((action, seat)).or_default().push((t, frame.value(action)));
            }
        }
    }
}
