//! What an action makes of a raw value, without hands and without time: for drawing curves.

use super::Engine;
use super::clock::Mode;
use super::evaluate::Memory;
use super::inputs::Inputs;
use crate::base::{BindingId, Id, OpId, Vector};
use crate::plan::{Operands, Portion, Tables};

impl Engine {
    /// What `binding` and its action's shape give when the combination that the binding begins with
    /// would give `raw`: with everything that moves on its own arrived, what toggles off before,
    /// every `+` counting, and `travel` as what it adds up to in a second.
    ///
    /// It leaves the engine as after hands that did this: use a fresh one.
    pub fn transfer(&mut self, binding: BindingId, raw: Vector) -> Vector {
        let (plan, state) = (self.plan.tables(), &mut self.state);
        let spec = &plan.bindings[binding];
        let action = &plan.actions[spec.action];
        action.memories.iter().for_each(|id| state.values.memories[id] = Memory::default());
        action.uses.iter().for_each(|id| state.inputs.controls.visible[id] = Vector::ZERO);
        let before = std::mem::replace(&mut state.clock.mode, Mode::Still);
        if let Some(last) = spec.ops.iter().next_back() {
            state.inputs.give(plan, last, raw);
        }
        let bound = state.evaluate(plan, spec.ops, Vector::ZERO);
        let shaped = state.evaluate(plan, action.shape, bound);
        state.clock.mode = before;
        shaped
    }
}

impl Inputs {
    /// Has the controls behind an operation report what makes its combination give `raw`.
    fn give(&mut self, plan: &Tables, op: OpId, raw: Vector) {
        match plan.ops[op].kind.operands() {
            Operands::Control(used, portion) => {
                let whole = &mut self.controls.visible[used];
                *whole = match portion {
                    Portion::Whole => raw,
                    Portion::Component(component) => whole.with(component, raw.x),
                    // The other half of the same control may have been given already.
                    Portion::Half(..) if raw.x <= 0.0 => *whole,
                    Portion::Half(component, true) => whole.with(component, raw.x),
                    Portion::Half(component, false) => whole.with(component, -raw.x),
                };
            }
            Operands::Sides(neg, pos) => {
                self.give(plan, neg, Vector::axis((-raw.x).max(0.0)));
                self.give(plan, pos, Vector::axis(raw.x.max(0.0)));
            }
            Operands::Components { x, y, z } => {
                self.give(plan, x, Vector::axis(raw.x));
                self.give(plan, y, Vector::axis(raw.y));
                if let Some(z) = z {
                    self.give(plan, z, Vector::axis(raw.z));
                }
            }
            Operands::Either(first, _) => self.give(plan, first, raw),
            Operands::Plus(plus) => self.give(plan, plan.pluses[plus].last, raw),
            Operands::Action(_) | Operands::Blended => {}
            Operands::Before => {
                if let Some(before) = op.index().checked_sub(1) {
                    self.give(plan, OpId::new(before), raw);
                }
            }
        }
    }
}
