//! What must hold of every plan.

use super::{Code, Op, Opposed, Plan};
use crate::base::{Id, IdRange, MemoryId, OpId, ParamId};

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
        let params = |first: ParamId, count: usize| {
            ensure(first.index() + count <= self.params.len(), "number out of bounds")?;
            ensure(id.index() > 0, "a step has nothing before it")
        };
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
            Code::Not(m) | Code::Toggle(m) => memory(m).and(params(ParamId::new(0), 0)),
            Code::SwitchAt { on, off, memory: m } => {
                memory(m).and(params(on, 1)).and(params(off, 1))
            }
            Code::Deadzone { low, full } | Code::DeadzoneAxes { low, full } => {
                params(low, 1).and(params(full, 1))
            }
            Code::Scale(p)
            | Code::Curve(p)
            | Code::Cap(p)
            | Code::Rotate(p, _)
            | Code::Notch(p) => params(p, 1),
            Code::Ways { count, from } => params(count, 1).and(params(from, 1)),
            Code::Clamp(p, _) => params(p, 2),
            Code::ScaleEach(p) => params(p, 3),
            Code::Remap(p, _) => params(p, 4),
            Code::Points(p, count) => params(p, 2 * count as usize),
            Code::Flip(_)
            | Code::Unit
            | Code::Onto(_)
            | Code::Pick(_)
            | Code::Length
            | Code::Order(_) => params(ParamId::new(0), 0),
        }
    }
}

fn ensure(holds: bool, message: &str) -> Result<(), String> {
    if holds { Ok(()) } else { Err(message.to_owned()) }
}
