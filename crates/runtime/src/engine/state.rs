//! All that changes while a plan runs. Made once; nothing in it grows.
//!
//! It has four parts, each with what holds of itself and with what needs no other part: inputs, values,
//! episodes, agenda. Levels and cues work on a view without inputs (`cues.rs`). Only the pass sees all
//! four: the instant worked through (`pass.rs`), the evaluation of a value, maps that change, and the
//! short ways of a report.

use super::Tell;
use super::agenda::Agenda;
use super::clock::{Clock, Mode};
use super::episodes::Episodes;
use super::inputs::Inputs;
use super::values::Values;
use crate::base::{ActionId, VariableId};
use crate::plan::Tables;

#[derive(Clone, Debug)]
pub(super) struct State {
    pub clock: Clock,
    pub inputs: Inputs,
    pub values: Values,
    pub episodes: Episodes,
    pub agenda: Agenda,
}

impl State {
    pub fn new(plan: &Tables) -> Self {
        Self {
            clock: Clock::START,
            inputs: Inputs::new(plan),
            values: Values::new(plan),
            episodes: Episodes::new(plan),
            agenda: Agenda::new(plan),
        }
    }

    /// Everything as if new, without allocating.
    pub fn reset(&mut self, plan: &Tables) {
        // Taken apart by name, here and in the parts: a field that is added later cannot be forgotten.
        let Self { clock, inputs, values, episodes, agenda } = self;
        *clock = Clock::START;
        inputs.reset();
        values.reset(plan);
        episodes.reset();
        agenda.reset();
    }

    /// A setting or fact becomes `value`, in its own unit.
    pub fn set_variable(
        &mut self,
        plan: &Tables,
        id: VariableId,
        value: f64,
        tell: &mut (impl Tell + ?Sized),
    ) {
        if !self.values.set_variable(plan, id, value) {
            return;
        }
        self.clock.mode = Mode::Event;
        self.inputs.forget_bands();
        for &action in &plan.variables[id].readers {
            self.touch_wholly(plan, action);
        }
        self.pass(plan, tell);
    }

    /// Has an action worked out, with all its bindings and every `+` of them.
    pub fn touch_wholly(&mut self, plan: &Tables, action: ActionId) {
        self.touch(plan, action);
        for &plus in plan.actions[action].pluses.of(&plan.listed_pluses) {
            self.agenda.stale_pluses.insert(plus);
        }
    }

    /// Has an action worked out, with all its bindings.
    pub fn touch(&mut self, plan: &Tables, action: ActionId) {
        if self.inputs.is_active(action) {
            self.agenda.touch(plan, action);
        }
    }

    /// Closes the frame: game code may read.
    pub fn settle_frame(&mut self, plan: &Tables) {
        self.clock.ticks += 1;
        self.clock.frame_stands = true;
        self.agenda.changed.clear();
        while let Some(action) = self.agenda.moved.pop() {
            let value = self.episodes.value_read(plan, action);
            let shown = &mut self.episodes.actions[action].shown_value;
            // Also where it is equal: of −0 comes 0.
            let before = std::mem::replace(shown, value);
            if value != before {
                self.agenda.changed.insert(action);
            }
        }
    }
}
