//! The scheme in use, a second time: found from the inputs alone, whatever maps and actions there are.

use crate::devices::Cables;
use harmonym_lab::take::{Input, What};
use harmonym_lang::model::Profile;
use harmonym_runtime::base::{
    Class, Contact, ControlId, ControlKind, Device, Id, SchemeId, Time, Vector, limits,
};
use std::collections::BTreeMap;

/// When the hands go over to which scheme.
pub fn schemes(profile: &Profile, inputs: &[Input]) -> Vec<(Time, SchemeId)> {
    let mut slow = InUse {
        profile,
        raw: BTreeMap::new(),
        moved: BTreeMap::new(),
        told: Vec::new(),
        cables: Cables::default(),
    };
    for input in inputs {
        match input.what {
            What::Report(contact, value) => slow.report_by_cable(input.t, contact, value),
            What::Plug(device, true) => slow.plug(input.t, device),
            What::Plug(device, false) => slow.unplug(device),
            _ => {}
        }
    }
    slow.told
}

struct InUse<'a> {
    profile: &'a Profile,
    /// What each control reported last, by device; of a wheel, all that it was turned by.
    raw: BTreeMap<(ControlId, u8), Vector>,
    /// Movements that told nothing yet.
    moved: BTreeMap<Class, Vec<(Time, f64)>>,
    told: Vec<(Time, SchemeId)>,
    cables: Cables,
}

impl InUse<'_> {
    fn report_by_cable(&mut self, t: Time, contact: Contact, value: Vector) {
        let control = &self.profile.catalogue.reported()[contact.control.index()];
        let (least, most) = control.kind.range();
        let held = value.xyz().map(|v| v.clamp(least, most));
        let device = Device { class: control.class, number: contact.device };
        if self.cables.pass(device, contact, held) {
            self.report(t, contact, value);
        }
    }

    fn plug(&mut self, t: Time, device: Device) {
        let reported = self.profile.catalogue.reported();
        let kind = |control: ControlId| {
            let one = &reported[control.index()];
            (one.class == device.class).then_some(one.kind)
        };
        for (contact, [x, y, z]) in self.cables.plug(device, kind) {
            self.report(t, contact, Vector::space(x, y, z));
        }
    }

    fn unplug(&mut self, device: Device) {
        let reported = self.profile.catalogue.reported();
        let own = |control: ControlId| reported[control.index()].class == device.class;
        for control in self.cables.unplug(device, own) {
            self.raw.remove(&(control, device.number));
        }
    }

    fn report(&mut self, t: Time, contact: Contact, value: Vector) {
        let reported = self.profile.catalogue.reported();
        let control = &reported[contact.control.index()];
        let is_wheel = reported.iter().any(|r| r.notch.is_some_and(|n| n.0 == contact.control));
        let before = self.raw.entry((contact.control, contact.device)).or_default();
        match control.kind {
            ControlKind::Relative if is_wheel => {
                let now = before.plus(value);
                let whole = |v: f64| (v + 1e-9_f64.copysign(v)).trunc();
                let turns = whole(now.x) != 0.0 || whole(now.y) != 0.0;
                *before = Vector::new(now.x - whole(now.x), now.y - whole(now.y));
                if turns {
                    self.uses(t, control.class);
                }
            }
            ControlKind::Relative => self.moves(t, control.class, value.magnitude()),
            ControlKind::Spot | ControlKind::Place | ControlKind::Turn => {}
            ControlKind::Button | ControlKind::Lever | ControlKind::Axis | ControlKind::Stick => {
                let least = match control.kind {
                    ControlKind::Lever => 0.0,
                    _ => -1.0,
                };
                let value = value.map(|v| v.clamp(least, 1.0));
                let before = std::mem::replace(before, value);
                if before.magnitude() < limits::PRESSED && value.magnitude() >= limits::PRESSED {
                    self.uses(t, control.class);
                }
            }
        }
    }

    fn moves(&mut self, t: Time, class: Class, counts: f64) {
        if self.has(class) {
            return;
        }
        let moved = self.moved.entry(class).or_default();
        moved.push((t, counts));
        moved.retain(|(at, _)| t.since(*at) <= limits::MOVED_WITHIN);
        if moved.iter().map(|(_, counts)| counts).sum::<f64>() >= limits::MOVED - 1e-9 {
            moved.clear();
            self.uses(t, class);
        }
    }

    /// Whether the scheme in use has a class.
    fn has(&self, class: Class) -> bool {
        let of = |scheme: SchemeId| self.profile.schemes[scheme].classes.contains(&class);
        self.told.last().is_some_and(|(_, scheme)| of(*scheme))
    }

    fn uses(&mut self, t: Time, class: Class) {
        let mut schemes = self.profile.schemes.entries();
        let first = schemes.find(|(_, scheme)| scheme.classes.contains(&class));
        if let Some((scheme, _)) = first.filter(|_| !self.has(class)) {
            self.told.push((t, scheme));
        }
    }
}
