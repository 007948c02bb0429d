//! Reports taken in: what reads them sees something else, and is marked.

use super::Tell;
use super::agenda::Agenda;
use super::controls::{only, seen};
use super::inputs::Inputs;
use super::state::State;
use crate::base::limits::{LET_GO, PRESSED};
use crate::base::{ActionId, Component, Contact, ControlUseId, PhysicalInputId, Vector};
use crate::plan::{Control, Gather, Notch, Tables};

/// The most notches that one report of a wheel presses.
const MOST_NOTCHES: i32 = 10_000;

impl State {
    /// Takes a report of anything but relative movement.
    #[inline(never)]
    pub fn report(
        &mut self,
        plan: &Tables,
        contact: Contact,
        value: Vector,
        tell: &mut (impl Tell + ?Sized),
    ) {
        let before = self.inputs.controls.raw(contact.control, contact.device as usize);
        let Control { kind, class } = plan.controls[contact.control];
        if value == before && kind.is_held() {
            return;
        }
        let is_used =
            kind.is_held() && value.magnitude() >= PRESSED && before.magnitude() < PRESSED;
        self.catch_up_on(plan, contact);
        self.inputs.take_in(&mut self.agenda, plan, contact, value);
        if is_used {
            self.inputs.use_class(self.clock, plan, class, tell);
        }
        self.pass(plan, tell);
    }

    /// Takes a report of relative movement; a wheel presses a button for each whole notch.
    #[inline(never)]
    pub fn move_by(
        &mut self,
        plan: &Tables,
        contact: Contact,
        by: Vector,
        tell: &mut (impl Tell + ?Sized),
    ) {
        self.inputs.see(plan, contact);
        self.inputs.add_movement(&mut self.agenda, plan, contact, by);
        let class = plan.controls[contact.control].class;
        if !plan.notches.iter().any(|notch| notch.wheel == contact.control) {
            return self.inputs.use_moved(self.clock, plan, class, by.magnitude(), tell);
        }
        let [x, y] = self.inputs.controls.notches(contact, by);
        for (component, count) in [(Component::X, x), (Component::Y, y)] {
            let way = |n: &&Notch| {
                n.wheel == contact.control && n.component == component && n.positive == (count > 0)
            };
            let Some(notch) = plan.notches.iter().find(way).filter(|_| count != 0) else {
                continue;
            };
            let button = Contact { control: notch.button, ..contact };
            for _ in 0..count.abs().min(MOST_NOTCHES) {
                self.report(plan, button, Vector::axis(1.0), tell);
                self.report(plan, button, Vector::ZERO, tell);
            }
        }
    }
}

impl Inputs {
    fn see(&mut self, plan: &Tables, contact: Contact) {
        if self.controls.see(plan, contact) {
            self.routes.stir();
        }
    }

    /// Takes a report in, and marks what reads it.
    pub fn take_in(&mut self, agenda: &mut Agenda, plan: &Tables, contact: Contact, value: Vector) {
        self.controls.put(contact, value);
        self.see(plan, contact);
        self.spread(agenda, plan, contact, value.magnitude());
    }

    /// Forgets what a control ever reported, and marks what reads it.
    pub fn forget(&mut self, agenda: &mut Agenda, plan: &Tables, contact: Contact) {
        self.controls.forget(contact);
        self.spread(agenda, plan, contact, 0.0);
    }

    /// Marks what reads a control that is now at a magnitude.
    fn spread(&mut self, agenda: &mut Agenda, plan: &Tables, contact: Contact, magnitude: f64) {
        self.routes.close_lane(contact.control);
        let device = contact.device;
        let mut nth = 0;
        while let Some(id) = self.controls.listener(contact.control, nth) {
            nth += 1;
            let input = &plan.inputs[id];
            if input.device.is_some_and(|own| own != device) {
                continue;
            }
            let muted = &mut self.controls.inputs[id].muted;
            let is_freed = magnitude < LET_GO && *muted & (1 << device) != 0;
            if is_freed {
                *muted &= !(1 << device);
                // Reports of it may take a shorter way from now on.
                self.routes.stir();
            }
            let used = &plan.uses[input.of];
            self.refresh(agenda, plan, input.of);
            for &plus in used.pluses.of(&plan.listed_pluses) {
                // What was held when the map opened, or hides others, may be let go by it.
                if is_freed || self.pluses[plus].is_latched() {
                    agenda.stale_pluses.insert(plus);
                }
            }
        }
    }

    /// What a use sees is looked at anew; what follows from it is marked if that is something else.
    pub fn refresh(&mut self, agenda: &mut Agenda, plan: &Tables, id: ControlUseId) {
        if !self.see_anew(agenda, plan, id) {
            return;
        }
        let used = &plan.uses[id];
        for &plus in used.pluses.of(&plan.listed_pluses) {
            agenda.stale_pluses.insert(plus);
        }
        agenda.dirty.insert(used.action);
        agenda.reread.insert(used.action);
    }

    /// The same, but only the use's bindings are marked; tells whether it sees something else.
    pub fn see_anew(&mut self, agenda: &mut Agenda, plan: &Tables, id: ControlUseId) -> bool {
        let value = self.controls.gathered(plan, id);
        let visible = &mut self.controls.visible[id];
        if *visible == value {
            return false;
        }
        *visible = value;
        for &binding in plan.uses[id].bindings.of(&plan.use_bindings) {
            agenda.stale.insert(binding);
        }
        true
    }

    /// Mutes what is held on `devices`, unless its action carries it over. Whoever calls this stirs
    /// the routes.
    pub fn mute(&mut self, plan: &Tables, id: PhysicalInputId, devices: u8) {
        let input = &plan.inputs[id];
        let used = &plan.uses[input.of];
        if !used.holds && !plan.actions[used.action].carry {
            self.controls.inputs[id].muted |= self.controls.held(plan, input) & devices;
        }
    }

    /// Adds a movement to every use that it counts for.
    pub fn add_movement(
        &mut self,
        agenda: &mut Agenda,
        plan: &Tables,
        contact: Contact,
        by: Vector,
    ) {
        let mut nth = 0;
        while let Some(id) = self.controls.listener(contact.control, nth) {
            nth += 1;
            let input = &plan.inputs[id];
            let used = &plan.uses[input.of];
            if input.device.is_some_and(|own| own != contact.device) {
                continue;
            }
            let state = &mut self.controls.inputs[id];
            let covered = state.covered(contact.device as usize);
            state.moved = state.moved.plus(only(seen(by, input, covered), input));
            agenda.at_tick.insert(used.action);
        }
    }

    /// Each tick takes the sum of what was moved, and holds it until the next.
    pub fn take_sums(&mut self, agenda: &mut Agenda, plan: &Tables, action: ActionId) {
        for id in plan.actions[action].uses.iter() {
            if plan.uses[id].gather != Gather::Sum {
                continue;
            }
            for input in plan.uses[id].inputs.iter() {
                let state = &mut self.controls.inputs[input];
                state.held = std::mem::take(&mut state.moved);
                if state.held != Vector::ZERO {
                    agenda.at_tick.insert(action);
                }
            }
            self.refresh(agenda, plan, id);
        }
    }
}
