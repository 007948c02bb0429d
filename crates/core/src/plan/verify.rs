//! What must hold of every plan.

use super::{Code, Op, Opposed, Plan};
use crate::base::{Id, IdRange, MemoryId, OpId};

impl Plan {
    /// Checks every id and every order in the plan.
    ///
    /// # Errors
    /// Says what doesn't hold; that is a fault of whoever made the plan, not of the profile.
    pub fn verify(&self) -> Result<(), String> {
        self.ops.entries().try_for_each(|(id, op)| self.verify_op(id, *op))?;
        for readers in self.readers.iter() {
            ensure(readers.is_sorted(), "readers are not in file order")?;
            ensure(
                readers.iter().all(|&b| self.bindings.get(b).is_some()),
                "reader out of bounds",
            )?;
        }
        ensure(self.readers.len() == self.controls.len(), "a control has no list of readers")?;
        for binding in self.bindings.iter() {
            ensure(self.actions.get(binding.action).is_some(), "binding of no action")?;
            self.verify_ops(binding.ops)?;
        }
        for (id, action) in self.actions.entries() {
            ensure(self.maps.get(action.map).is_some(), "action of no map")?;
            ensure(action.bindings.fits(self.bindings.len()), "bindings out of bounds")?;
            let own = action.bindings.iter().all(|b| self.bindings[b].action == id);
            ensure(own, "an action has another one's binding")?;
            ensure(
                action.alternatives.fits(self.alternatives.len()),
                "alternatives out of bounds",
            )?;
            let own = action.alternatives.iter().all(|a| self.alternatives[a].action == id);
            ensure(own, "an action has another one's alternative")?;
            self.verify_ops(action.shape)?;
            let listed = action.yields_to.of(&self.listed).iter();
            ensure(listed.copied().all(|other| other < id), "an action yields to a later one")?;
            let listed = action.named_by.of(&self.listed).iter();
            ensure(
                listed.copied().all(|other| other > id),
                "an action is named by an earlier one",
            )?;
            let in_order =
                0.0 < action.up && action.up <= action.wake && action.wake <= action.down;
            ensure(in_order, "levels are out of order")?;
        }
        let known = |action| self.actions.get(action).is_some();
        ensure(self.maps.iter().all(|m| m.actions.iter().all(|&a| known(a))), "map of no action")
    }

    fn verify_ops(&self, ops: IdRange<OpId>) -> Result<(), String> {
        ensure(ops.fits(self.ops.len()), "operations out of bounds")?;
        ensure(ops.last().is_some(), "nothing gives the value")
    }

    fn verify_op(&self, id: OpId, op: Op) -> Result<(), String> {
        let control = |c| ensure(self.controls.get(c).is_some(), "control out of bounds");
        let before = |o: OpId| ensure(o < id, "an operation reads a later one");
        let memory = |m: MemoryId| ensure(m.index() < self.memories, "memory out of bounds");
        let numbers_fit = op.code.params().iter().all(|params| params.fits(self.params.len()));
        ensure(numbers_fit, "number out of bounds")?;
        let after_another = || ensure(id.index() > 0, "a step has nothing before it");
        match op.code {
            Code::Whole(c) | Code::Part(c, _) | Code::Half(c, _, _) => control(c),
            Code::Action(action) => ensure(self.actions.get(action).is_some(), "no such action"),
            Code::Pair { neg, pos, opposed } => {
                if let Opposed::Newest { memory: m, .. } | Opposed::Oldest { memory: m, .. } =
                    opposed
                {
                    memory(m)?;
                }
                before(neg).and(before(pos))
            }
            Code::Join { x, y, z } => before(x).and(before(y)).and(before(z)),
            Code::Greater(a, b) => before(a).and(before(b)),
            Code::Blended => Ok(()),
            Code::Not(m) | Code::Toggle(m) | Code::SwitchAt { memory: m, .. } => {
                memory(m).and(after_another())
            }
            _ => after_another(),
        }
    }
}

fn ensure(holds: bool, message: &str) -> Result<(), String> {
    if holds { Ok(()) } else { Err(message.to_owned()) }
}
