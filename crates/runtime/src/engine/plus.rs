//! `A + B`: the last part counts only while the others are held, and hides other uses of its
//! control with fewer holders until that is let go.

use super::agenda::Agenda;
use super::clock::Mode;
use super::controls::{Halves, both, freed, on_devices};
use super::inputs::Inputs;
use super::state::State;
use crate::base::limits::PRESSED;
use crate::base::{ControlId, MOST_DEVICES, PhysicalInputId, PlusId, Vector};
use crate::plan::{Plus, Tables};

#[derive(Clone, Copy, Debug, Default)]
pub(super) struct PlusState {
    /// Whether the last part counts.
    counts: bool,
    /// Whether the last part is at 0.5 or more.
    is_high: bool,
    /// Whether the last part was held since before the map opened.
    barred: bool,
    /// Whether it counts, or did since its control was let go: it hides other uses.
    latched: bool,
}

impl PlusState {
    pub fn is_latched(self) -> bool {
        self.latched
    }
}

impl State {
    /// Settles every `+` that may have changed, the most holders first.
    #[inline]
    pub fn settle_pluses(&mut self, plan: &Tables) {
        if self.agenda.stale_pluses.is_empty() {
            return;
        }
        while let Some(id) = self.agenda.stale_pluses.pop() {
            let plus = &plan.pluses[id];
            if !self.inputs.is_active(plus.action) {
                continue;
            }
            (self.values.evaluating, self.values.passed_moving) = (Some(plus.action), false);
            self.evaluate(plan, plus.ops, Vector::ZERO);
            self.update_plus(plan, id, false);
        }
    }

    /// Sets a `+` of a map that has just opened: what is held already does not count.
    pub fn begin_plus(&mut self, plan: &Tables, id: PlusId) {
        self.evaluate(plan, plan.pluses[id].ops, Vector::ZERO);
        self.update_plus(plan, id, true);
    }

    /// What a `+` gives, from what its parts have just given.
    pub fn plus(&mut self, plan: &Tables, id: PlusId) -> Vector {
        match self.clock.mode {
            Mode::Still => return self.values.ops[plan.pluses[id].last],
            Mode::Peek => {}
            _ => self.update_plus(plan, id, false),
        }
        if self.inputs.pluses[id].counts {
            self.values.ops[plan.pluses[id].last]
        } else {
            Vector::ZERO
        }
    }

    fn update_plus(&mut self, plan: &Tables, id: PlusId, opens: bool) {
        let plus = &plan.pluses[id];
        if !self.inputs.is_enabled(plan, plus.binding) {
            return;
        }
        let mut state = self.inputs.pluses[id];
        let holders = plus.holders.of(&plan.listed_ops);
        let all_held = holders.iter().all(|&op| self.values.ops[op].magnitude() >= PRESSED);
        let last = self.values.ops[plus.last].magnitude_of(plus.kind);
        let was_high = std::mem::replace(&mut state.is_high, last >= PRESSED);
        let uses = plus.uses.of(&plan.listed_uses);
        let is_held =
            state.is_high || uses.iter().any(|&used| self.inputs.controls.is_muted(plan, used));
        state.barred = is_held && (opens || state.barred);
        state.counts = all_held
            && match plus.is_pressed {
                true => state.is_high && !opens && (state.counts || !was_high),
                false => !state.barred,
            };
        state.latched = state.counts
            || (state.latched && !uses.iter().all(|&r| self.inputs.controls.is_let_go(plan, r)));
        let changed = state.latched != self.inputs.pluses[id].latched;
        self.inputs.pluses[id] = state;
        if changed {
            self.inputs.hide_anew(&mut self.agenda, plan, plus);
        }
    }
}

impl Inputs {
    /// Forgets a `+` whose map closed: it hides nothing any more.
    pub fn end_plus(&mut self, agenda: &mut Agenda, plan: &Tables, id: PlusId) {
        let was = std::mem::take(&mut self.pluses[id]);
        agenda.stale_pluses.remove(id);
        if was.latched {
            self.hide_anew(agenda, plan, &plan.pluses[id]);
        }
    }

    /// Works out anew what is hidden of the controls of a `+`.
    fn hide_anew(&mut self, agenda: &mut Agenda, plan: &Tables, plus: &Plus) {
        for &used in plus.uses.of(&plan.listed_uses) {
            for input in plan.uses[used].inputs.iter() {
                let key = plan.inputs[input].key;
                self.hide_listeners(agenda, plan, key, key);
                for notch in plan.notches.iter().filter(|notch| notch.wheel == key) {
                    self.hide_listeners(agenda, plan, notch.button, key);
                }
            }
        }
    }

    fn hide_listeners(
        &mut self,
        agenda: &mut Agenda,
        plan: &Tables,
        control: ControlId,
        key: ControlId,
    ) {
        let mut nth = 0;
        while let Some(id) = self.controls.listener(control, nth) {
            nth += 1;
            let used = plan.inputs[id].of;
            if plan.inputs[id].key == key && self.is_active(plan.uses[used].action) {
                self.hide(plan, id);
                self.refresh(agenda, plan, used);
            }
        }
    }

    /// Sets what every `+` hides of an input.
    pub fn hide(&mut self, plan: &Tables, id: PhysicalInputId) {
        let hidden = self.hidden(plan, id);
        let old = std::mem::replace(&mut self.controls.inputs[id].hidden, hidden);
        self.routes.stir();
        let action = plan.uses[plan.inputs[id].of].action;
        if self.maps.changing && freed(hidden, old, plan.inputs[id].halves) != 0 {
            self.maps.covered.insert(action);
        }
        let freed = freed(old, hidden, plan.inputs[id].halves);
        if freed != 0 {
            self.mute(plan, id, freed);
        }
    }

    fn hidden(&self, plan: &Tables, id: PhysicalInputId) -> Halves {
        let input = &plan.inputs[id];
        let used = &plan.uses[input.of];
        let mut hidden = [0; MOST_DEVICES];
        if used.holds {
            return hidden;
        }
        let place = self.place(used.action);
        for &plus in &plan.pluses_of[input.key] {
            let spec = &plan.pluses[plus];
            if !self.pluses[plus].latched {
                continue;
            }
            let own = self.place(spec.action);
            // In its own map it hides uses with fewer holders; from lower maps it claims.
            let applies = match own == place {
                true => spec.count > used.holders,
                false => own < place && plan.actions[spec.action].claim,
            };
            for &last in spec.uses.of(&plan.listed_uses).iter().filter(|_| applies) {
                for other in plan.uses[last].inputs.iter().map(|input| &plan.inputs[input]) {
                    if other.key == input.key {
                        hidden = both(hidden, on_devices(other.device, other.halves));
                    }
                }
            }
        }
        hidden
    }
}
