//! Devices of the second interpreter: what comes of those that go away and come back.

use crate::interpreter::Interpreter;
use crate::motion::Mode;
use crate::values::{V, len};
use harmonym_runtime::base::{Contact, ControlId, ControlKind, Device, Id};
use std::collections::{BTreeMap, BTreeSet};

/// What stands between the devices and the hands: all that devices report, and what of it counts.
#[derive(Default)]
pub struct Cables {
    reported: BTreeMap<(ControlId, u8), V>,
    gone: BTreeSet<Device>,
    /// What is held since before its device came.
    held_back: BTreeSet<(ControlId, u8)>,
}

impl Cables {
    /// Takes a report down, and tells whether it counts.
    pub fn pass(&mut self, device: Device, contact: Contact, value: V) -> bool {
        let at = (contact.control, contact.device);
        self.reported.insert(at, value);
        if self.gone.contains(&device) {
            return false;
        }
        if len(value) < 0.15 {
            self.held_back.remove(&at);
        }
        !self.held_back.contains(&at)
    }

    /// A device goes; gives what it had reported.
    pub fn unplug(&mut self, device: Device, own: impl Fn(ControlId) -> bool) -> Vec<ControlId> {
        self.gone.insert(device);
        self.held_back.retain(|(control, number)| *number != device.number || !own(*control));
        let all = self.reported.keys().filter(|(control, n)| *n == device.number && own(*control));
        all.map(|(control, _)| *control).collect()
    }

    /// A device comes back; gives what of it counts at once.
    pub fn plug(
        &mut self,
        device: Device,
        kind: impl Fn(ControlId) -> Option<ControlKind>,
    ) -> Vec<(Contact, V)> {
        let mut counts = Vec::new();
        if !self.gone.remove(&device) {
            return counts;
        }
        for ((control, number), value) in &self.reported {
            let Some(kind) = kind(*control).filter(|_| *number == device.number) else { continue };
            if kind.is_held() && len(*value) >= 0.2 {
                self.held_back.insert((*control, *number));
            } else if *value != [0.0; 3] && kind != ControlKind::Relative {
                counts.push((Contact { control: *control, device: *number }, *value));
            }
        }
        counts
    }
}

impl Interpreter<'_> {
    fn device_of(&self, contact: Contact) -> Device {
        let class = self.profile.catalogue.reported()[contact.control.index()].class;
        Device { class, number: contact.device }
    }

    /// Takes a report, if its device is there and it was let go since it came.
    pub fn report_by_cable(&mut self, contact: Contact, value: V) {
        let kind = self.profile.catalogue.reported()[contact.control.index()].kind;
        let (least, most) = kind.range();
        let held = value.map(|v| v.clamp(least, most));
        if self.cables.pass(self.device_of(contact), contact, held) {
            self.report(contact, value);
        }
    }

    pub fn plug(&mut self, device: Device) {
        let reported = self.profile.catalogue.reported();
        let kind = |control: ControlId| {
            let one = &reported[control.index()];
            (one.class == device.class).then_some(one.kind)
        };
        for (contact, value) in self.cables.plug(device, kind) {
            self.report(contact, value);
        }
    }

    pub fn unplug(&mut self, device: Device) {
        let reported = self.profile.catalogue.reported();
        let own = |control: ControlId| reported[control.index()].class == device.class;
        for control in self.cables.unplug(device, own) {
            self.inputs.world.forget(control, device.number);
            self.notches.remove(&(control, device.number));
        }
        let mut lost = false;
        for id in self.order.clone() {
            if !self.lives(id) || !self.lost_something(id) {
                continue;
            }
            lost = true;
            self.inputs.forget_steps(&self.profile.address(id));
            let (value, _) = self.value_of(id, Mode::Event);
            let act = &self.acts[id.index()];
            let was_held = act.episode.is_some() && act.level > 0;
            if was_held && len(value) < self.action(id).levels.up {
                self.end(id, "unplugged", Some([0.0; 3]));
                self.forced(id);
            }
            self.act(id).seen = None;
        }
        if lost {
            self.after_input();
        }
    }
}
