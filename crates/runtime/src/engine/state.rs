//! All that changes while a plan runs. Made once; nothing in it grows.
//!
//! It has four parts, each with what holds of itself: inputs, values, episodes, agenda. What goes from
//! one to another is here and in the files of the pass.

use super::Tell;
use super::agenda::Agenda;
use super::episodes::Episodes;
use super::inputs::Inputs;
use super::motion::Mode;
use super::values::Values;
use crate::base::{ActionId, Time, VariableId};
use crate::plan::Tables;

#[derive(Clone, Debug)]
pub(super) struct State {
    pub now: Time,
    /// Ticks that were.
    pub ticks: u64,
    /// Whether nothing happened since the last tick.
    pub frame_stands: bool,
    /// How evaluations treat what steps keep.
    pub mode: Mode,
    pub inputs: Inputs,
    pub values: Values,
    pub episodes: Episodes,
    pub agenda: Agenda,
}

impl State {
    pub fn new(plan: &Tables) -> Self {
        Self {
            now: Time::ZERO,
            ticks: 0,
            frame_stands: false,
            mode: Mode::Event,
            inputs: Inputs::new(plan),
            values: Values::new(plan),
            episodes: Episodes::new(plan),
            agenda: Agenda::new(plan),
        }
    }

    /// Everything as if new, without allocating.
    pub fn reset(&mut self, plan: &Tables) {
        // Taken apart by name, here and in the parts: a field that is added later cannot be forgotten.
        let Self { now, ticks, frame_stands, mode, inputs, values, episodes, agenda } = self;
        (*now, *ticks, *frame_stands, *mode) = (Time::ZERO, 0, false, Mode::Event);
        inputs.reset();
        values.reset(plan);
        episodes.reset();
        agenda.reset();
    }

    /// A setting or fact becomes `value`, in its own unit.
    pub fn set_variable(&mut self, plan: &Tables, id: VariableId, value: f64, tell: Tell<'_>) {
        if !self.values.set_variable(plan, id, value) {
            return;
        }
        self.mode = Mode::Event;
        self.inputs.forget_bands();
        for &action in &plan.variables[id].readers {
            self.touch(plan, action);
            for &plus in plan.actions[action].pluses.of(&plan.listed_pluses) {
                self.agenda.stale_pluses.insert(plus);
            }
        }
        self.pass(plan, tell);
    }

    /// Has an action worked out, with all its bindings.
    pub fn touch(&mut self, plan: &Tables, action: ActionId) {
        if self.is_active(action) {
            self.agenda.touch(plan, action);
        }
    }

    /// The tick at which the game sees what is told now: right after a tick still that one.
    pub fn tick_that_sees(&self) -> u64 {
        self.ticks + u64::from(!self.frame_stands)
    }

    /// Closes the frame: game code may read.
    pub fn settle_frame(&mut self, plan: &Tables) {
        self.ticks += 1;
        self.frame_stands = true;
        self.agenda.changed.clear();
        while let Some(action) = self.agenda.moved.pop() {
            let value = self.value_read(plan, action);
            let shown = &mut self.episodes.actions[action].shown_value;
            if *shown != value {
                *shown = value;
                self.agenda.changed.insert(action);
            }
        }
    }
}
