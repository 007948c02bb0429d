//! Runs a plan: raw reports and ticks in, events out.
//!
//! Guarantees to every later stage: times never go back, every `wake` has exactly one end, no
//! value is NaN or infinite, and after the first tick nothing is allocated. No call can fail: what
//! is out of range is held to the range, what is no number reads as 0.
#![deny(clippy::unwrap_used, clippy::expect_used, clippy::panic)]
#![deny(clippy::print_stdout, clippy::print_stderr)]

mod cue;
mod episode;
mod evaluate;
mod event;
mod frame;
mod hands;
mod inside;
mod maps;
mod motion;
mod pass;
mod plus;
mod sequence;
mod state;
mod timers;
mod transfer;
mod usage;
mod wait;

pub use event::{Cause, Event, EventKind, Notice};
pub use frame::{EpisodeState, Reading};
pub use inside::{Alternative, Episode, Inside, Touch};
pub use state::{Level, Stage};

use crate::base::{
    ActionId, Contact, ControlKind, Id, MOST_DEVICES, MapId, NamedId, SchemeId, Time, Vector,
};
use crate::plan::Plan;
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

    /// Opens the maps that are open at first, with the solo map `start` in place of the profile's,
    /// and works their actions out once. Call it first.
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

    /// Takes what a control reports at `at`: first everything that falls due by then. Of what is
    /// relative, `value` is what it moved by.
    pub fn report(&mut self, at: Time, contact: Contact, value: Vector, tell: Tell<'_>) {
        let Self { plan, state } = self;
        state.advance(plan, at, When::Look, tell);
        let Some(spec) = plan.controls.get(contact.control) else { return };
        if contact.device as usize >= MOST_DEVICES {
            return;
        }
        let value = hands::held_to_range(value, spec.kind);
        match spec.kind {
            ControlKind::Relative => state.move_by(plan, contact, value, tell),
            _ => state.report(plan, contact, value, tell),
        }
    }

    /// The game opens a map at `at`; a solo map closes the solo map that was open. An open map
    /// stays as it is, and `always` maps always do.
    pub fn open(&mut self, at: Time, map: MapId, tell: Tell<'_>) {
        let Self { plan, state } = self;
        state.advance(plan, at, When::Look, tell);
        state.catch_up(plan);
        state.open_map(plan, map, tell);
    }

    /// The game closes a map at `at`.
    pub fn close(&mut self, at: Time, map: MapId, tell: Tell<'_>) {
        let Self { plan, state } = self;
        state.advance(plan, at, When::Look, tell);
        state.catch_up(plan);
        state.close_map(plan, map, tell);
    }

    /// The game is paused at `at`, or goes on.
    pub fn pause(&mut self, at: Time, paused: bool, tell: Tell<'_>) {
        let Self { plan, state } = self;
        state.advance(plan, at, When::Look, tell);
        state.catch_up(plan);
        state.pause(plan, paused, tell);
    }

    /// The game narrows the bindings to those of one scheme at `at`, or lets all count again.
    pub fn narrow(&mut self, at: Time, scheme: Option<SchemeId>, tell: Tell<'_>) {
        let Self { plan, state } = self;
        state.advance(plan, at, When::Look, tell);
        state.catch_up(plan);
        state.narrow(plan, scheme, tell);
    }

    /// The player or the game changes a setting or fact at `at`, to `value` in its own unit; a
    /// switch is 1 or 0.
    pub fn set_number(&mut self, at: Time, named: NamedId, value: f64, tell: Tell<'_>) {
        let Self { plan, state } = self;
        state.advance(plan, at, When::Look, tell);
        state.catch_up(plan);
        state.set_named(plan, named, if value.is_finite() { value } else { 0.0 }, tell);
    }

    /// Goes on to `at`, through all that is due by then, so that a reading is that of this moment.
    pub fn advance(&mut self, at: Time, tell: Tell<'_>) {
        let Self { plan, state } = self;
        state.advance(plan, at, When::RunOut, tell);
        state.catch_up(plan);
    }

    /// Works out every value that waits to be looked at. A tick does so by itself.
    pub fn catch_up(&mut self) {
        self.state.catch_up(&self.plan);
    }

    /// One frame of the game, at `at`: everything that falls due by then, then the tick itself.
    pub fn tick(&mut self, at: Time, tell: Tell<'_>) {
        let Self { plan, state } = self;
        state.advance(plan, at, When::RunOut, tell);
        state.catch_up(plan);
        state.tick(plan, tell);
    }

    /// Ends what is still open, with cause `stopped`. Call it right after the last tick.
    pub fn stop(&mut self, tell: Tell<'_>) {
        let Self { plan, state } = self;
        state.catch_up(plan);
        for action in plan.actions.ids() {
            state.end_by_force(plan, action, Cause::Stopped, tell);
        }
    }

    /// Whether nothing is due any more: no cue waits for its time (`repeat` and `while`
    /// aside), and no step moves on its own.
    pub fn is_settled(&self) -> bool {
        !self.state.waits(&self.plan) && self.state.moving.is_empty()
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
