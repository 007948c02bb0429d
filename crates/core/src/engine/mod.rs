//! Runs a plan: raw reports and ticks in, events out.
//!
//! Guarantees to every later stage: times never go back, every `wake` has exactly one end, no
//! value is NaN or infinite, and after the first tick nothing is allocated. No call can fail: what
//! is out of range is held to the range, what is no number reads as 0.
#![deny(clippy::unwrap_used, clippy::expect_used, clippy::panic)]
#![deny(clippy::print_stdout, clippy::print_stderr)]

mod episode;
mod evaluate;
mod event;
mod frame;
mod state;
mod timers;

pub use event::{Cause, Event, EventKind, Notice};
pub use frame::{Phase, Reading};

use crate::base::{ActionId, AlternativeId, ControlId, Id, MapId, Time, Vector};
use crate::plan::{ControlKind, Plan};
use state::State;
use std::sync::Arc;

/// One player's hands on one plan.
///
/// Feed it raw reports in order of time and a [`tick`](Self::tick) a frame; read events as they
/// come, or [`read`](Self::read) the actions after each tick.
#[derive(Clone, Debug)]
pub struct Engine {
    plan: Arc<Plan>,
    state: State,
}

/// What is called with everything that the engine has to tell.
pub type Tell<'a> = &'a mut dyn FnMut(Notice);

impl Engine {
    /// An engine at time 0. `start` is the solo map that is open; if none is named, the one that
    /// the profile starts with.
    pub fn new(plan: Arc<Plan>, start: Option<MapId>) -> Self {
        let mut state = State::new(&plan);
        state.open_at_start(&plan, start);
        Self { plan, state }
    }

    /// Back to time 0, as if new.
    pub fn reset(&mut self, start: Option<MapId>) {
        self.state.reset();
        self.state.open_at_start(&self.plan, start);
    }

    /// The plan that runs.
    pub fn plan(&self) -> &Arc<Plan> {
        &self.plan
    }

    /// Takes what a control reports at `at`: first everything that falls due by then.
    pub fn report(&mut self, at: Time, control: ControlId, value: Vector, tell: Tell<'_>) {
        let Self { plan, state } = self;
        state.advance(plan, at, tell);
        let (Some(spec), Some(before)) = (plan.controls.get(control), state.raw.get(control))
        else {
            return;
        };
        let (kind, class, before) = (spec.kind, spec.class, *before);
        let value = held_to_range(value, kind);
        if value == before {
            return;
        }
        state.raw[control] = value;
        if before.magnitude() < state::IN_USE && value.magnitude() >= state::IN_USE {
            state.use_class(plan, class, tell);
        }
        let mut readers = plan.readers[control].iter().copied().peekable();
        while let Some(binding) = readers.next() {
            let action = plan.bindings[binding].action;
            if !state.open[plan.actions[action].map] {
                continue;
            }
            state.evaluate_binding(plan, binding);
            let more = readers.peek().is_some_and(|&next| plan.bindings[next].action == action);
            if !more {
                state.work_out(plan, action, tell);
            }
        }
    }

    /// One frame of the game, at `at`: everything that falls due by then, then the tick itself.
    pub fn tick(&mut self, at: Time, tell: Tell<'_>) {
        let Self { plan, state } = self;
        state.advance(plan, at, tell);
        let mut next = state.firing.next(0);
        while let Some(alternative) = next {
            state.fire(plan, alternative, tell);
            next = state.firing.next(alternative.index() + 1);
        }
        state.settle_frame(plan);
    }

    /// Ends what is still open, with cause `stopped`. Call it right after the last tick.
    pub fn stop(&mut self, tell: Tell<'_>) {
        let Self { plan, state } = self;
        for action in plan.actions.ids() {
            state.end_by_force(plan, action, Cause::Stopped, tell);
        }
    }

    /// Whether nothing is due any more: no trigger waits for its time (`while` aside).
    pub fn is_settled(&self) -> bool {
        self.state.timers.is_empty()
    }

    /// How many ticks there were.
    pub fn ticks(&self) -> u64 {
        self.state.ticks
    }

    /// What game code reads of an action after a tick.
    pub fn read(&self, action: ActionId) -> Reading {
        self.state.read(&self.plan, action)
    }

    /// The actions whose value at the last tick differs from that at the tick before, in order.
    pub fn changed(&self) -> impl Iterator<Item = ActionId> {
        let after = |id: &ActionId| self.state.changed.next(id.index() + 1);
        std::iter::successors(self.state.changed.next(0), after)
    }
}

/// A report as its control can give it: in range, a button on or off, no number as 0.
fn held_to_range(value: Vector, kind: ControlKind) -> Vector {
    let (least, most) = kind.range();
    let held = |v: f64| if v.is_nan() { 0.0 } else { v.clamp(least, most) + 0.0 };
    match kind {
        ControlKind::Button => Vector::axis(if held(value.x) >= 0.5 { 1.0 } else { 0.0 }),
        ControlKind::Lever | ControlKind::Axis => Vector::axis(held(value.x)),
        _ => Vector::new(held(value.x), held(value.y)),
    }
}

/// The alternative that a fire came by.
pub type By = AlternativeId;
