//! Which devices of an action's controls came and went, and what they reported.

use super::stretch::Own;
use harmonym_runtime::base::limits::LET_GO;
use harmonym_runtime::base::{
    AT_REST, Class, Contact, ControlId, Device, PhysicalInputId, Time, Vector,
};
use harmonym_runtime::engine::Inside;
use harmonym_runtime::plan::Plan;

/// What is known of the devices so far.
#[derive(Default)]
pub(super) struct Devices {
    /// Those that are gone, and since when.
    gone: Vec<(Device, Time)>,
    /// When a device of a class came last.
    came: Vec<(Class, Time)>,
    /// What was reported last of each control, whether or not the seat counts it.
    reported: Vec<(Contact, Vector)>,
}

impl Devices {
    /// Notes that a device came, or went away.
    pub fn note(&mut self, t: Time, device: Device, is_there: bool) {
        self.gone.retain(|(other, _)| *other != device);
        if is_there {
            self.came.retain(|(class, _)| *class != device.class);
            self.came.push((device.class, t));
        } else {
            self.gone.push((device, t));
        }
    }

    /// Notes what a control reports.
    pub fn note_report(&mut self, contact: Contact, value: Vector) {
        self.reported.retain(|(other, _)| *other != contact);
        self.reported.push((contact, value));
    }

    /// A device of some of these controls that is gone, and since when.
    pub fn gone(&self, plan: &Plan, own: &[Own]) -> Option<(Device, Time)> {
        let is_own = |class| own.iter().any(|own| plan.controls()[own.control].class == class);
        self.gone.iter().rev().find(|(device, _)| is_own(device.class)).copied()
    }

    /// One of these controls that is held since before its device came, and since when that is there: the
    /// seat counts it only once it was let go.
    pub fn held_back(&self, inside: &Inside<'_>, own: &[Own]) -> Option<(ControlId, Time)> {
        self.reported.iter().find_map(|(contact, value)| {
            let spec = inside.plan().controls()[contact.control];
            let own = own.iter().find(|own| own.control == contact.control)?;
            let device = usize::from(contact.device);
            let counts =
                |input: &PhysicalInputId| inside.touch(*input, device).raw.magnitude() > AT_REST;
            let is_held = spec.kind.is_held() && value.magnitude() >= LET_GO;
            if !is_held || own.inputs().iter().any(counts) {
                return None;
            }
            let came = self.came.iter().find(|(class, _)| *class == spec.class)?;
            let is_gone = self.gone.iter().any(|(device, _)| device.class == spec.class);
            (!is_gone).then_some((contact.control, came.1))
        })
    }
}
