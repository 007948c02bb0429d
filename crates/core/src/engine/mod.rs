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
mod pass;
mod sequence;
mod state;
mod timers;
mod trigger;

pub use event::{Cause, Event, EventKind, Notice};
pub use frame::{Phase, Reading};

use crate::base::{ActionId, ControlId, Id, MapId, NamedId, Time, Vector};
use crate::plan::{ControlKind, Plan, Trigger};
use state::State;
use std::sync::Arc;
use timers::When;

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
    /// An engine at time 0 with no map open yet.
    pub fn new(plan: Arc<Plan>) -> Self {
        let state = State::new(&plan);
        Self { plan, state }
    }

    /// Opens the map `start`, or the one that the profile starts with, and works out its actions
    /// once. Call it first.
    pub fn start(&mut self, start: Option<MapId>, tell: Tell<'_>) {
        self.state.open_at_start(&self.plan, start, tell);
    }

    /// Back to time 0, as if new.
    pub fn reset(&mut self) {
        self.state.reset(&self.plan);
    }

    /// The plan that runs.
    pub fn plan(&self) -> &Arc<Plan> {
        &self.plan
    }

    /// Takes what a control reports at `at`: first everything that falls due by then.
    pub fn report(&mut self, at: Time, control: ControlId, value: Vector, tell: Tell<'_>) {
        let Self { plan, state } = self;
        state.advance(plan, at, When::Reach, tell);
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
        for &binding in &plan.readers[control] {
            let action = plan.bindings[binding].action;
            if state.open[plan.actions[action].map] {
                state.stale.insert(binding);
                state.dirty.insert(action);
            }
        }
        state.pass(plan, tell);
    }

    /// The player or the game changes a setting or fact at `at`, to `value` in its own unit; a
    /// switch is 1 or 0.
    pub fn set_number(&mut self, at: Time, named: NamedId, value: f64, tell: Tell<'_>) {
        let Self { plan, state } = self;
        state.advance(plan, at, When::Reach, tell);
        state.set_named(plan, named, if value.is_finite() { value } else { 0.0 }, tell);
    }

    /// Goes on to `at`, through all that is due by then, so that a reading is that of this moment.
    pub fn advance(&mut self, at: Time, tell: Tell<'_>) {
        self.state.advance(&self.plan, at, When::RunOut, tell);
    }

    /// One frame of the game, at `at`: everything that falls due by then, then the tick itself.
    pub fn tick(&mut self, at: Time, tell: Tell<'_>) {
        let Self { plan, state } = self;
        state.advance(plan, at, When::RunOut, tell);
        let mut next = state.firing.next(0);
        while let Some(alternative) = next {
            let action = plan.alternatives[alternative].action;
            state.pass_before(plan, Some(action), tell);
            if state.firing.next(alternative.index()) == Some(alternative) {
                state.fire_at_tick(plan, alternative, tell);
            }
            next = state.firing.next(alternative.index() + 1);
        }
        state.pass(plan, tell);
        state.settle_frame(plan);
    }

    /// Ends what is still open, with cause `stopped`. Call it right after the last tick.
    pub fn stop(&mut self, tell: Tell<'_>) {
        let Self { plan, state } = self;
        for action in plan.actions.ids() {
            state.end_by_force(plan, action, Cause::Stopped, tell);
        }
    }

    /// Whether nothing is due any more: no trigger waits for its time (`repeat` and `while`
    /// aside).
    pub fn is_settled(&self) -> bool {
        let repeats = |id| matches!(self.plan.alternatives[id].trigger, Trigger::Repeat(..));
        self.state.timers.waiting().all(repeats)
    }

    /// How many ticks there were.
    pub fn ticks(&self) -> u64 {
        self.state.ticks
    }

    /// What game code reads of an action after a tick.
    pub fn read(&self, action: ActionId) -> Reading {
        self.state.read(&self.plan, action)
    }

    /// Whether an action's value at the last tick differs from that at the tick before.
    pub fn has_changed(&self, action: ActionId) -> bool {
        self.state.changed.next(action.index()) == Some(action)
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
