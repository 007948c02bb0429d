//! Devices that are gone.

use super::Tell;
use super::clock::Mode;
use super::episodes::Level;
use super::event::Cause;
use super::state::State;
use crate::base::{ActionId, Class, Contact, Id, Vector};
use crate::plan::Tables;

impl State {
    /// A device is gone: its controls are at 0. First come the ends of the episodes that it held,
    /// then all is worked out.
    pub fn unplug(
        &mut self,
        plan: &Tables,
        class: Class,
        device: u8,
        tell: &mut (impl Tell + ?Sized),
    ) {
        self.clock.mode = Mode::Event;
        let mut lost = false;
        for (control, spec) in plan.controls.entries() {
            let contact = Contact { control, device };
            if spec.class == class
                && self.inputs.controls.raw(control, device.into()) != Vector::ZERO
            {
                self.inputs.forget(&mut self.agenda, plan, contact);
                lost = true;
            }
        }
        if !lost {
            return;
        }
        let mut next = self.agenda.dirty.next(0);
        while let Some(action) = next {
            next = self.agenda.dirty.next(action.index() + 1);
            self.lose(plan, action, tell);
        }
        self.pass(plan, tell);
    }

    /// Ends what was above its up level and would be under it now; the steps of an action that lost a
    /// device begin anew.
    fn lose(&mut self, plan: &Tables, action: ActionId, tell: &mut (impl Tell + ?Sized)) {
        let spec = &plan.actions[action];
        // What only names another that ended has lost nothing.
        if !self.agenda.reread.contains(action) {
            return;
        }
        self.values.forget(plan, action, |_| false);
        self.touch(plan, action);
        let state = &self.episodes.actions[action];
        if !state.awake || state.level == Level::Up {
            return;
        }
        let (value, _) = self.value_of(plan, action);
        self.agenda.fresh.insert(action);
        if value.magnitude_of(spec.kind) < spec.up {
            self.end_and_tell_others(plan, action, Cause::Unplugged, tell);
        }
    }
}
