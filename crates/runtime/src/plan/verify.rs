//! What must hold of every plan.

use super::{Code, Op, Opposed, Plan, Plus};
use crate::base::{Id, IdRange, MemoryId, MotionId, OpId};

impl Plan {
    /// Checks every id and every order in the plan.
    ///
    /// # Errors
    /// Says what doesn't hold; that is a fault of whoever made the plan, not of the profile.
    pub fn verify(&self) -> Result<(), String> {
        self.ops.entries().try_for_each(|(id, op)| self.verify_op(id, *op))?;
        self.verify_reads()?;
        self.pluses.iter().try_for_each(|plus| self.verify_plus(plus))?;
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
            let maps = action.maps.of(&self.listed_maps);
            ensure(maps.iter().all(|&m| self.maps.get(m).is_some()), "action lives in no map")?;
            ensure(action.reads.fits(self.reads.len()), "reads out of bounds")?;
            ensure(action.memories.fits(self.kept_in_pause.len()), "memories out of bounds")?;
            ensure(action.motions.fits(self.motions), "motions out of bounds")?;
            let in_order =
                0.0 < action.up && action.up <= action.wake && action.wake <= action.down;
            ensure(in_order, "levels are out of order")?;
        }
        let known = |action| self.actions.get(action).is_some();
        ensure(self.maps.iter().all(|m| m.residents.iter().all(|&a| known(a))), "map of no action")
    }

    fn verify_reads(&self) -> Result<(), String> {
        for leads in self.leads_of.iter() {
            let known = leads.iter().all(|&lead| self.leads.get(lead).is_some());
            ensure(leads.is_sorted() && known, "leads are not in order")?;
        }
        ensure(self.leads_of.len() == self.controls.len(), "a control has no list of leads")?;
        ensure(self.pluses_of.len() == self.controls.len(), "a control has no list of `+`")?;
        for (id, lead) in self.leads.entries() {
            let control = |c| self.controls.get(c).is_some();
            ensure(control(lead.control) && control(lead.key), "lead of no control")?;
            let of =
                self.reads.get(lead.read).is_some_and(|read| read.leads.iter().any(|l| l == id));
            ensure(of, "lead of no read")?;
        }
        for read in self.reads.iter() {
            ensure(self.actions.get(read.action).is_some(), "read of no action")?;
            ensure(read.leads.fits(self.leads.len()), "leads out of bounds")?;
            let bindings = read.bindings.of(&self.read_bindings);
            let own = |b| self.bindings.get(b).is_some_and(|b| b.action == read.action);
            ensure(bindings.iter().all(|&b| own(b)), "a read is of another action's binding")?;
        }
        let pluses = self.pluses_of.iter().flatten().chain(&self.listed_pluses);
        ensure(pluses.copied().all(|p| self.pluses.get(p).is_some()), "`+` out of bounds")
    }

    fn verify_plus(&self, plus: &Plus) -> Result<(), String> {
        ensure(self.actions.get(plus.action).is_some(), "`+` of no action")?;
        self.verify_ops(plus.ops)?;
        let own = |op: OpId| plus.ops.iter().any(|o| o == op);
        ensure(own(plus.last), "a `+` gives another one's value")?;
        let holders = plus.holders.of(&self.listed_ops);
        ensure(holders.iter().all(|&op| own(op)), "a `+` holds another one's part")?;
        let reads = plus.reads.of(&self.listed_reads);
        ensure(reads.iter().all(|&r| self.reads.get(r).is_some()), "read of a `+` out of bounds")
    }

    fn verify_ops(&self, ops: IdRange<OpId>) -> Result<(), String> {
        ensure(ops.fits(self.ops.len()), "operations out of bounds")?;
        ensure(ops.last().is_some(), "nothing gives the value")
    }

    fn verify_op(&self, id: OpId, op: Op) -> Result<(), String> {
        let read = |r| ensure(self.reads.get(r).is_some(), "read out of bounds");
        let motion = |m: MotionId| ensure(m.index() < self.motions, "motion out of bounds");
        let before = |o: OpId| ensure(o < id, "an operation reads a later one");
        let memory =
            |m: MemoryId| ensure(m.index() < self.kept_in_pause.len(), "memory out of bounds");
        let numbers_fit = op.code.params().iter().all(|params| params.fits(self.params.len()));
        ensure(numbers_fit, "number out of bounds")?;
        let after_another = || ensure(id.index() > 0, "a step has nothing before it");
        match op.code {
            Code::Whole(r) | Code::Part(r, _) | Code::Half(r, _, _) => read(r),
            Code::Plus(plus) => ensure(self.pluses.get(plus).is_some(), "`+` out of bounds"),
            Code::Ease { motion: m, .. }
            | Code::Smooth(_, m)
            | Code::SmoothTurn(_, m)
            | Code::Travel(m) => motion(m).and(after_another()),
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
            Code::Greater(a, b) | Code::GreaterTurn(a, b) => before(a).and(before(b)),
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
