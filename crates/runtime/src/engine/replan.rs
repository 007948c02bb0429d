//! Another plan takes over while hands are on the old one: what is bound anew ends and begins again,
//! all else goes on where it is.

use super::clock::Mode;
use super::event::{Cause, Notice};
use super::rearrange::Change;
use super::state::State;
use super::{Engine, Refused, Tell};
use crate::base::{ActionId, Id, IdRange, MapId, MapKind, OpId, Time};
use crate::plan::{Kin, Plan, Tables};
use std::sync::Arc;

impl Engine {
    /// Another plan takes over at `at`, as when a player rebinds an action or a file is tuned.
    ///
    /// Actions go by their addresses. One that reads the same controls through the same steps and fires
    /// by the same cues stays where it is, whatever its numbers are now; any other ends what it has
    /// open, with cause `rebound`, and begins as if its map had just been opened: what is held then
    /// does not count before it is let go. Maps stay open, devices and the scheme in use stay what they are, and settings and
    /// facts keep what they were set to; one that was never set is worth what the new plan says.
    ///
    /// What is told before [`Notice::Plan`] goes by the ids of the old plan, what is told after it by
    /// those of the new one: look ids up anew, and make a new [`Reader`](super::Reader). This allocates.
    ///
    /// # Errors
    /// When the new plan is for devices with other controls.
    pub fn replan(
        &mut self,
        at: Time,
        plan: Arc<Plan>,
        tell: &mut (impl Tell + ?Sized),
    ) -> Result<(), Refused> {
        let kin = self.kin_of(&plan)?;
        self.be_at(at, tell);
        self.part(&kin, tell);
        let clock = self.state.clock;
        tell(Notice::Plan { t: clock.now, tick: clock.tick_that_sees() });
        self.take_up(plan, &kin, tell);
        Ok(())
    }

    /// What of the present plan is the same in another.
    pub(crate) fn kin_of(&self, plan: &Plan) -> Result<Kin, Refused> {
        let (old, new) = (self.plan.tables(), plan.tables());
        match old.has_controls_of(new) {
            true => Ok(Kin::of(old, new)),
            false => Err(Refused::OtherControls),
        }
    }

    /// Ends what another plan does not keep.
    pub(crate) fn part(&mut self, kin: &Kin, tell: &mut (impl Tell + ?Sized)) {
        self.state.part(self.plan.tables(), kin, tell);
    }

    /// Goes on with another plan.
    pub(crate) fn take_up(&mut self, plan: Arc<Plan>, kin: &Kin, tell: &mut (impl Tell + ?Sized)) {
        let (old, new) = (self.plan.tables(), plan.tables());
        let before = std::mem::replace(&mut self.state, State::new(new));
        self.state.take_over(new, &before, old, kin);
        self.state.shut_other_solos(new, tell);
        self.state.rearrange(new, Change::Rebinds, tell);
        self.plan = plan;
    }
}

impl State {
    fn part(&mut self, plan: &Tables, kin: &Kin, tell: &mut (impl Tell + ?Sized)) {
        let narrowed = self.inputs.maps.narrowed;
        if narrowed.is_some_and(|scheme| kin.scheme(scheme).is_none()) {
            self.narrow(plan, None, tell);
        }
        self.clock.mode = Mode::Event;
        let mut next = self.inputs.maps.living.next(0);
        while let Some(action) = next {
            next = self.inputs.maps.living.next(action.index() + 1);
            if !kin.keeps(action) {
                self.end_and_tell_others(plan, action, Cause::Rebound, tell);
                self.die(plan, action, false);
            }
        }
        for map in plan.maps.ids().filter(|map| !kin.has_map(*map)) {
            if self.inputs.maps.is_open(map) {
                self.inputs.switch_map(self.clock, map, false, tell);
            }
        }
    }

    /// Everything that is kept of what was under an old plan.
    fn take_over(&mut self, plan: &Tables, before: &Self, old_plan: &Tables, kin: &Kin) {
        // Taken apart by name: a part that is added later cannot be forgotten.
        let Self { clock, inputs, values, episodes, agenda } = self;
        *clock = before.clock;
        inputs.take_over(plan, &before.inputs, old_plan, kin);
        episodes.take_over(plan, &before.episodes, old_plan, kin);
        agenda.take_over(plan, &before.agenda, old_plan, kin);
        values.moment = before.values.moment;
        for (old, own) in kin.kept() {
            values.take_action_over((plan, own), &before.values, (old_plan, old));
        }
        for id in values.take_variables_over(plan, &before.values, old_plan, kin) {
            for &action in &plan.variables[id].readers {
                self.touch_wholly(plan, action);
            }
        }
        for (old, own) in kin.kept() {
            if self.has_other_numbers((plan, own), before, (old_plan, old)) {
                self.touch_wholly(plan, own);
            }
        }
    }

    /// Whether an action that is kept has other levels, numbers or readers than it had as `old`.
    fn has_other_numbers(
        &self,
        (plan, own): (&Tables, ActionId),
        before: &Self,
        (old_plan, old): (&Tables, ActionId),
    ) -> bool {
        let (to, from) = (&plan.actions[own], &old_plan.actions[old]);
        let levels = (to.wake, to.down, to.up) != (from.wake, from.down, from.up);
        // What is read by others is looked at in another way while it moves.
        levels
            || to.read_by.is_empty() != from.read_by.is_empty()
            || !self.are_alike((plan, to.shape), before, (old_plan, from.shape))
            || to.bindings.iter().zip(from.bindings.iter()).any(|(to, from)| {
                let (to, from) = (plan.bindings[to].ops, old_plan.bindings[from].ops);
                !self.are_alike((plan, to), before, (old_plan, from))
            })
    }

    /// Whether the numbers of operations are what they were.
    fn are_alike(
        &self,
        (plan, to): (&Tables, IdRange<OpId>),
        before: &Self,
        (old_plan, from): (&Tables, IdRange<OpId>),
    ) -> bool {
        to.iter().zip(from.iter()).all(|(to, from)| {
            let (to, from) = (plan.ops[to].kind.params(), old_plan.ops[from].kind.params());
            to.into_iter().zip(from).all(|(to, from)| {
                let mut each = to.iter().zip(from.iter());
                each.all(|(to, from)| self.values.number(to) == before.values.number(from))
            })
        })
    }

    /// Of the solo maps that are open, which may have been layers before, the one that opened last stays.
    fn shut_other_solos(&mut self, plan: &Tables, tell: &mut (impl Tell + ?Sized)) {
        let maps = &self.inputs.maps;
        let is_solo = |map: &MapId| plan.maps[*map].kind == MapKind::Solo && maps.is_open(*map);
        let mut open: Vec<MapId> = plan.maps.ids().filter(is_solo).collect();
        open.sort_unstable_by_key(|map| maps.opened_when(*map));
        open.pop();
        for map in open {
            self.inputs.switch_map(self.clock, map, false, tell);
        }
    }
}
