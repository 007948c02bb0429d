//! What must hold of every plan: whatever the engine indexes by is in bounds, whatever it takes for
//! granted is so. A plan that passes can be run on any hands.

use super::{Action, Cue, Guard, Map, Op, OpKind, Operands, Param, Plus, Tables, Variable};
use crate::base::{
    ALL_HALVES, ActionId, Id, IdRange, ListSlice, MOST_DEVICES, OpId, ParamId, Seat,
};

impl Tables {
    /// Checks every id, every length and every order.
    ///
    /// # Errors
    /// Says what doesn't hold; that is a fault of whoever filled the tables, not of the profile.
    pub(super) fn verify(&self) -> Result<(), String> {
        self.verify_lengths()?;
        self.verify_controls()?;
        self.params.iter().try_for_each(|param| self.verify_param(*param))?;
        self.variables.iter().try_for_each(|one| self.verify_variable(one))?;
        self.ops.entries().try_for_each(|(id, op)| self.verify_op(id, *op))?;
        self.verify_inputs()?;
        self.verify_uses()?;
        self.pluses.iter().try_for_each(|plus| self.verify_plus(plus))?;
        self.verify_bindings()?;
        self.verify_alternatives()?;
        self.actions.entries().try_for_each(|(id, action)| self.verify_action(id, action))?;
        self.maps.iter().try_for_each(|map| self.verify_map(map))
    }

    /// Lists that stand beside each other are of one length; those of all actions name each once.
    fn verify_lengths(&self) -> Result<(), String> {
        let names = &self.names;
        let named = names.actions.len() == self.actions.len()
            && names.bindings.len() == self.bindings.len()
            && names.alternatives.len() == self.alternatives.len()
            && names.maps.len() == self.maps.len()
            && names.controls.len() == self.controls.len()
            && names.variables.len() == self.variables.len()
            && names.action_labels.len() == self.actions.len()
            && names.binding_labels.len() == self.bindings.len()
            && names.map_labels.len() == self.maps.len()
            && names.scheme_labels.len() == names.schemes.len();
        ensure(Seat::new(self.seats).is_some(), "there are more seats than eight, or none")?;
        ensure(named, "a list of names is not as long as what it names")?;
        ensure(self.motions <= self.ops.len(), "more moves on its own than there are steps")?;
        ensure(self.inputs_of.len() == self.controls.len(), "a control has no list of inputs")?;
        ensure(self.pluses_of.len() == self.controls.len(), "a control has no list of `+`")?;
        let mut seen = vec![false; self.actions.len()];
        let mut once = |id: ActionId| match seen.get_mut(id.index()) {
            Some(seen) => !std::mem::replace(seen, true),
            None => false,
        };
        let all = self.by_file.len() == self.actions.len();
        ensure(
            all && self.by_file.iter().all(|&id| once(id)),
            "file order is no order of actions",
        )?;
        let mut schemes = self.schemes_of_class.iter().flatten();
        let known = schemes.all(|scheme| scheme.index() < names.schemes.len());
        ensure(known, "a class is of no scheme")
    }

    fn verify_controls(&self) -> Result<(), String> {
        let classes = self.schemes_of_class.len();
        let known = self.controls.iter().all(|control| control.class.index() < classes);
        ensure(known, "a control is of no class")?;
        let control = |id| self.controls.get(id).is_some();
        let notches = self.notches.iter().all(|n| control(n.wheel) && control(n.button));
        ensure(notches, "a notch of no control")
    }

    fn verify_param(&self, param: Param) -> Result<(), String> {
        match param {
            Param::Fixed(value) => ensure(value.is_finite(), "a number is none"),
            Param::Variable { named, least, most } => {
                ensure(self.variables.get(named).is_some(), "a number of no setting or fact")?;
                ensure(is_range(least, most), "a number's range is none")
            }
        }
    }

    fn verify_variable(&self, one: &Variable) -> Result<(), String> {
        let finite = one.default.is_finite() && one.factor.is_finite() && one.factor != 0.0;
        ensure(finite, "a setting or fact begins with no number")?;
        let range = one.range.is_none_or(|(least, most)| is_range(least, most));
        ensure(range, "the range of a setting is none")?;
        let params = one.params.iter().all(|&id| self.params.get(id).is_some());
        ensure(params, "a setting or fact stands for a number out of bounds")?;
        let readers = one.readers.iter().all(|&id| self.actions.get(id).is_some());
        ensure(readers, "a setting or fact is read by no action")
    }

    fn verify_inputs(&self) -> Result<(), String> {
        for (control, inputs) in self.inputs_of.entries() {
            let own = |id| self.inputs.get(id).is_some_and(|input| input.control == control);
            ensure(inputs.iter().all(|&id| own(id)), "an input listens to another control")?;
            ensure(inputs.is_sorted(), "inputs are not in order")?;
        }
        for (id, input) in self.inputs.entries() {
            let control = |c| self.controls.get(c).is_some();
            ensure(control(input.control) && control(input.key), "an input of no control")?;
            let device = input.device.is_none_or(|device| (device as usize) < MOST_DEVICES);
            ensure(device, "an input on no device")?;
            ensure(input.halves & !ALL_HALVES == 0, "an input of no half-axis")?;
            let of = self.uses.get(input.of).is_some_and(|one| one.inputs.contains(id));
            ensure(of, "an input of no use")?;
            // They are in order, as was seen above.
            let listed = self.inputs_of[input.control].binary_search(&id).is_ok();
            ensure(listed, "an input that its control does not know")?;
        }
        Ok(())
    }

    fn verify_uses(&self) -> Result<(), String> {
        for (id, one) in self.uses.entries() {
            ensure(self.actions.get(one.action).is_some(), "a use of no action")?;
            ensure(one.inputs.fits(self.inputs.len()), "inputs out of bounds")?;
            let own = one.inputs.iter().all(|input| self.inputs[input].of == id);
            ensure(own, "a use has another one's input")?;
            self.slice(one.bindings, &self.use_bindings)?;
            let bindings = one.bindings.of(&self.use_bindings);
            let own = |b| self.bindings.get(b).is_some_and(|b| b.action == one.action);
            ensure(bindings.iter().all(|&b| own(b)), "a use is of another action's binding")?;
            self.slice(one.pluses, &self.listed_pluses)?;
        }
        let pluses = self.pluses_of.iter().flatten().chain(&self.listed_pluses);
        ensure(pluses.copied().all(|p| self.pluses.get(p).is_some()), "`+` out of bounds")
    }

    fn verify_plus(&self, plus: &Plus) -> Result<(), String> {
        let binding = self.bindings.get(plus.binding);
        let own = binding.is_some_and(|binding| binding.action == plus.action);
        ensure(own, "a `+` is of another action's binding")?;
        self.verify_ops(plus.ops)?;
        let own = |op: OpId| plus.ops.contains(op);
        ensure(own(plus.last), "a `+` gives another one's value")?;
        self.slice(plus.holders, &self.listed_ops)?;
        let holders = plus.holders.of(&self.listed_ops);
        ensure(holders.iter().all(|&op| own(op)), "a `+` holds another one's part")?;
        self.slice(plus.uses, &self.listed_uses)?;
        let uses = plus.uses.of(&self.listed_uses).iter();
        let own = |id| self.uses.get(id).is_some_and(|one| one.action == plus.action);
        ensure(uses.copied().all(own), "a `+` uses another action's control")
    }

    fn verify_bindings(&self) -> Result<(), String> {
        for (id, binding) in self.bindings.entries() {
            let of = self.actions.get(binding.action);
            let own = of.is_some_and(|action| action.bindings.contains(id));
            ensure(own, "a binding of no action")?;
            let scheme = binding.scheme.is_none_or(|s| s.index() < self.names.schemes.len());
            ensure(scheme, "a binding of no scheme")?;
            self.verify_ops(binding.ops)?;
            self.verify_own_ops(binding.action, binding.ops)?;
        }
        Ok(())
    }

    fn verify_alternatives(&self) -> Result<(), String> {
        for (id, alternative) in self.alternatives.entries() {
            let of = self.actions.get(alternative.action);
            let own = of.is_some_and(|action| action.alternatives.contains(id));
            ensure(own, "an alternative of no action")?;
            self.verify_cue(alternative.action, alternative.cue)?;
            self.slice(alternative.guards, &self.guards)?;
            for guard in alternative.guards.of(&self.guards) {
                match *guard {
                    Guard::Live(other, _) => ensure(
                        other < alternative.action,
                        "a guard names an action that is worked out later",
                    )?,
                    Guard::Holds(variable, _) => ensure(
                        self.variables.get(variable).is_some(),
                        "a guard names no setting or fact",
                    )?,
                }
            }
        }
        Ok(())
    }

    fn verify_cue(&self, action: ActionId, cue: Cue) -> Result<(), String> {
        let number = |id: ParamId| ensure(self.params.get(id).is_some(), "number out of bounds");
        match cue {
            Cue::Press | Cue::Release | Cue::While | Cue::Change => Ok(()),
            Cue::Hold(time) | Cue::Tap(time) | Cue::Charge(time) => number(time),
            Cue::Taps(count, gap) => number(count).and(number(gap)),
            Cue::Repeat(every, after) => number(every).and(number(after)),
            Cue::Sequence(steps, within) => {
                self.slice(steps, &self.listed)?;
                let steps = steps.of(&self.listed);
                let before = steps.iter().all(|&step| step < action);
                ensure(!steps.is_empty() && before, "a sequence of what is worked out later")?;
                number(within)
            }
        }
    }

    fn verify_action(&self, id: ActionId, action: &Action) -> Result<(), String> {
        ensure(self.maps.get(action.map).is_some(), "an action of no map")?;
        ensure(action.bindings.fits(self.bindings.len()), "bindings out of bounds")?;
        let own = action.bindings.iter().all(|b| self.bindings[b].action == id);
        ensure(own, "an action has another one's binding")?;
        ensure(action.alternatives.fits(self.alternatives.len()), "alternatives out of bounds")?;
        let own = action.alternatives.iter().all(|a| self.alternatives[a].action == id);
        ensure(own, "an action has another one's alternative")?;
        self.verify_ops(action.shape)?;
        self.verify_own_ops(id, action.shape)?;
        let first = action.shape.first().map(|op| self.ops[op].kind);
        ensure(first == Some(OpKind::Blended), "a shape begins with something else")?;
        ensure(action.uses.fits(self.uses.len()), "uses out of bounds")?;
        let own = action.uses.iter().all(|one| self.uses[one].action == id);
        ensure(own, "an action has another one's use")?;
        ensure(action.memories.fits(self.kept_in_pause.len()), "memories out of bounds")?;
        ensure(action.motions.fits(self.motions), "motions out of bounds")?;
        self.slice(action.pluses, &self.listed_pluses)?;
        self.slice(action.maps, &self.listed_maps)?;
        let maps = action.maps.of(&self.listed_maps);
        ensure(maps.iter().all(|&m| self.maps.get(m).is_some()), "an action lives in no map")?;
        for list in [action.yields_to, action.named_by, action.read_by] {
            self.slice(list, &self.listed)?;
        }
        let all = |list: ListSlice, holds: &dyn Fn(ActionId) -> bool| {
            list.of(&self.listed).iter().all(|&other| holds(other))
        };
        let later = |other: ActionId| other > id && self.actions.get(other).is_some();
        ensure(all(action.yields_to, &|other| other < id), "an action yields to a later one")?;
        ensure(all(action.named_by, &later), "an action is named by an earlier one")?;
        ensure(all(action.read_by, &later), "an action is read by an earlier one")?;
        let named_by = action.named_by.of(&self.listed);
        let is_known = |id: ActionId| named_by.binary_search(&id).is_ok();
        ensure(all(action.read_by, &is_known), "an action is read by one that does not name it")?;
        let finite = [action.wake, action.down, action.up].iter().all(|level| level.is_finite());
        let in_order = 0.0 < action.up && action.up <= action.wake && action.wake <= action.down;
        ensure(finite && in_order, "levels are out of order")
    }

    fn verify_map(&self, map: &Map) -> Result<(), String> {
        let known = map.residents.iter().all(|&a| self.actions.get(a).is_some());
        ensure(known, "a map of no action")?;
        ensure(map.residents.is_sorted(), "the actions of a map are not in order")
    }

    /// That a list holds what is taken from it.
    fn slice<T>(&self, slice: ListSlice, list: &[T]) -> Result<(), String> {
        ensure(slice.fits(list.len()), "a list is too short")
    }

    fn verify_ops(&self, ops: IdRange<OpId>) -> Result<(), String> {
        ensure(ops.fits(self.ops.len()), "operations out of bounds")?;
        ensure(ops.last().is_some(), "nothing gives the value")
    }

    /// What operations read and keep belongs to their action.
    fn verify_own_ops(&self, action: ActionId, ops: IdRange<OpId>) -> Result<(), String> {
        let spec = self.actions.get(action).ok_or("operations of no action")?;
        for id in ops.iter() {
            let kind = self.ops[id].kind;
            let own = match kind.operands() {
                Operands::Control(one, _) => {
                    self.uses.get(one).is_some_and(|one| one.action == action)
                }
                Operands::Plus(plus) => self.pluses.get(plus).is_some_and(|p| p.action == action),
                Operands::Action(other) => other < action,
                // What they read is before them; their memory and motion are looked at below.
                Operands::Sides(..)
                | Operands::Components { .. }
                | Operands::Either(..)
                | Operands::Blended
                | Operands::Before => true,
            };
            ensure(own, "an operation reads another action's control")?;
            let has = |at| spec.memories.contains(at);
            let memory = kind.memory().is_none_or(has);
            let has = |at| spec.motions.contains(at);
            let motion = kind.motion().is_none_or(has);
            ensure(memory && motion, "an operation keeps what is another action's")?;
        }
        Ok(())
    }

    fn verify_op(&self, id: OpId, op: Op) -> Result<(), String> {
        let before = |o: OpId| ensure(o < id, "an operation reads a later one");
        let numbers_fit = op.kind.params().iter().all(|params| params.fits(self.params.len()));
        ensure(numbers_fit, "number out of bounds")?;
        let memory = op.kind.memory().is_none_or(|id| self.kept_in_pause.get(id).is_some());
        ensure(memory, "memory out of bounds")?;
        let motion = op.kind.motion().is_none_or(|id| id.index() < self.motions);
        ensure(motion, "motion out of bounds")?;
        self.slice(op.conditions, &self.conditions)?;
        let mut conditions = op.conditions.of(&self.conditions).iter();
        let known = conditions.all(|one| self.variables.get(one.named).is_some());
        ensure(known, "a condition names no setting or fact")?;
        ensure(!matches!(op.kind, OpKind::Points(_, 0)), "a curve of no points")?;
        if let OpKind::Clamp(_, count) | OpKind::Remap(_, count) = op.kind {
            ensure(count <= 3, "a step of too many components")?;
        }
        match op.kind.operands() {
            Operands::Control(u, _) => ensure(self.uses.get(u).is_some(), "a use out of bounds"),
            Operands::Plus(plus) => {
                let plus = self.pluses.get(plus).ok_or("`+` out of bounds")?;
                ensure(plus.ops.last().is_some_and(|last| last < id), "a `+` of later operations")
            }
            Operands::Action(other) => ensure(self.actions.get(other).is_some(), "no such action"),
            Operands::Sides(a, b) | Operands::Either(a, b) => before(a).and(before(b)),
            Operands::Components { x, y, z } => {
                before(x).and(before(y)).and(z.map_or(Ok(()), before))
            }
            Operands::Blended => Ok(()),
            Operands::Before => ensure(id.index() > 0, "a step has nothing before it"),
        }
    }
}

fn is_range(least: f64, most: f64) -> bool {
    least <= most
}

#[inline]
fn ensure(holds: bool, message: &str) -> Result<(), String> {
    if holds { Ok(()) } else { Err(message.to_owned()) }
}
