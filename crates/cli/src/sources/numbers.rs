//! Devices by their numbers.

use super::{Arrival, Hardware, Heard};
use harmonym_lab::take::What;
use harmonym_runtime::base::{
    Class, Contact, ControlId, ControlKind, Device, MOST_DEVICES, Vector,
};
use harmonym_runtime::plan::Plan;
use std::collections::HashMap;

/// Numbers for devices, in the order in which they come; one that comes again has its number again.
#[derive(Debug, Default)]
pub struct Numbers {
    known: HashMap<Hardware, Known>,
    /// The keys and buttons of keyboards and mice that are down, in that order.
    down: Vec<Contact>,
    /// What was said already, which is not said again.
    said: Vec<String>,
    /// What is to be said.
    words: Vec<String>,
}

#[derive(Clone, Copy, Debug)]
struct Known {
    number: u8,
    is_there: bool,
    /// Whether the plan was told of it.
    is_plugged: bool,
}

impl Numbers {
    /// What happens to the seats by it, if anything does.
    pub fn what(&mut self, plan: &Plan, arrival: &Arrival) -> Option<What> {
        match &arrival.heard {
            Heard::Comes(hardware) => self.comes(plan, hardware),
            Heard::Goes(hardware) => {
                let known = self.known.get_mut(hardware)?;
                known.is_there = false;
                let was_plugged = std::mem::take(&mut known.is_plugged);
                let device = Device { class: hardware.class, number: known.number };
                was_plugged.then_some(What::Plug(device, false))
            }
            Heard::Report(hardware, control, value) => {
                let known = self.known.get(hardware).filter(|known| known.is_plugged)?;
                let contact = Contact { control: *control, device: known.number };
                let value = self.within(plan, contact, *value)?;
                let is_button = plan.controls()[contact.control].kind == ControlKind::Button;
                if is_button && matches!(hardware.class, Class::Key | Class::Mouse) {
                    self.down.retain(|down| *down != contact);
                    if value != Vector::ZERO {
                        self.down.push(contact);
                    }
                }
                Some(What::Report(contact, value))
            }
            Heard::Words(_) | Heard::Terminal(_) | Heard::Page(_) => None,
        }
    }

    /// Lets go of every key and button of keyboards and mice, the last one first.
    pub fn let_go(&mut self) -> Vec<What> {
        self.down.drain(..).rev().map(|contact| What::Report(contact, Vector::ZERO)).collect()
    }

    /// The seats are others now: none of them was told of any device.
    pub fn unplug_all(&mut self) {
        self.known.values_mut().for_each(|known| known.is_plugged = false);
        self.down.clear();
    }

    /// What there is to say since this was asked last.
    pub fn words(&mut self) -> Vec<String> {
        std::mem::take(&mut self.words)
    }

    /// The devices that another plan has a use for and is not told of yet.
    pub fn plugged_on(&mut self, plan: &Plan) -> Vec<What> {
        let there = self.known.iter_mut().filter(|(_, known)| known.is_there && !known.is_plugged);
        let mut all: Vec<Device> = there
            .filter(|(hardware, _)| plan.uses_class(hardware.class))
            .map(|(hardware, known)| {
                known.is_plugged = true;
                Device { class: hardware.class, number: known.number }
            })
            .collect();
        all.sort();
        all.into_iter().map(|device| What::Plug(device, true)).collect()
    }

    /// The devices that are there, by their names.
    pub fn there(&self, plan: &Plan) -> Vec<String> {
        let there = self.known.iter().filter(|(_, known)| known.is_plugged);
        let device = |(hardware, known): (&Hardware, &Known)| Device {
            class: hardware.class,
            number: known.number,
        };
        let mut all: Vec<Device> = there.map(device).collect();
        all.sort();
        all.into_iter().map(|device| plan.catalogue().device_name(device)).collect()
    }

    fn comes(&mut self, plan: &Plan, hardware: &Hardware) -> Option<What> {
        let class = hardware.class;
        let word = plan.catalogue().word(class).to_owned();
        let number = match self.known.get(hardware) {
            Some(known) => known.number,
            None => {
                let taken = |number: u8| {
                    let mut of_class = self.known.iter().filter(|(one, _)| one.class == class);
                    of_class.any(|(_, known)| known.number == number)
                };
                let free = (0..MOST_DEVICES as u8).find(|&number| !taken(number)).or_else(|| {
                    // One that is gone makes room.
                    let gone = self.known.iter().find(|(o, k)| o.class == class && !k.is_there);
                    let (gone, number) = gone.map(|(gone, known)| (gone.clone(), known.number))?;
                    self.known.remove(&gone);
                    Some(number)
                });
                let Some(free) = free else {
                    self.say(format!(
                        "there are {MOST_DEVICES} {word} devices: another is not read"
                    ));
                    return None;
                };
                free
            }
        };
        let is_plugged = plan.uses_class(class);
        if !is_plugged {
            self.say(format!("no scheme has `{word}`: what such a device reports is left out"));
        }
        let known = Known { number, is_there: true, is_plugged };
        let was = self.known.insert(hardware.clone(), known);
        let comes = is_plugged && was.is_none_or(|was| !was.is_plugged);
        comes.then_some(What::Plug(Device { class, number }, true))
    }

    /// A value as a control can have it.
    fn within(&mut self, plan: &Plan, contact: Contact, value: Vector) -> Option<Vector> {
        let spec = plan.controls().get(contact.control)?;
        let name = |id: ControlId| &plan.names().controls[id];
        if !value.is_finite() {
            self.say(format!("{} reported what is no number: left out", name(contact.control)));
            return None;
        }
        let (least, most) = spec.kind.range();
        let held = |v: f64| v.clamp(least, most);
        let (x, y, z, w) = (held(value.x), held(value.y), held(value.z), held(value.w));
        let held = Vector { x, y, z, w };
        if held != value {
            let name = name(contact.control);
            self.say(format!("{name} reported beyond {least} to {most}: held to that"));
        }
        Some(held)
    }

    /// Says something once.
    fn say(&mut self, words: String) {
        if !self.said.contains(&words) {
            self.said.push(words.clone());
            self.words.push(words);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use harmonym_runtime::base::Time;

    fn plan() -> Plan {
        let text = "harmonym = 1\nscheme.pad.devices = [\"pad\"]\n";
        harmonym_lang::load(&harmonym_lang::source::Source::new("p", text)).expect("sound").1
    }

    fn pad(identity: &str) -> Hardware {
        Hardware { class: Class::Pad, identity: identity.into() }
    }

    fn tell(numbers: &mut Numbers, heard: Heard) -> Option<What> {
        numbers.what(&plan(), &Arrival { t: Time::ZERO, heard })
    }

    fn device(number: u8) -> Device {
        Device { class: Class::Pad, number }
    }

    #[test]
    fn a_device_that_comes_again_has_its_number_again() {
        let mut numbers = Numbers::default();
        for (identity, number) in [("a", 0), ("b", 1), ("c", 2)] {
            let what = tell(&mut numbers, Heard::Comes(pad(identity)));
            assert_eq!(what, Some(What::Plug(device(number), true)));
        }
        assert_eq!(tell(&mut numbers, Heard::Comes(pad("b"))), None, "it is there");
        let gone = tell(&mut numbers, Heard::Goes(pad("b")));
        assert_eq!(gone, Some(What::Plug(device(1), false)));
        assert_eq!(tell(&mut numbers, Heard::Goes(pad("b"))), None);
        let fourth = tell(&mut numbers, Heard::Comes(pad("d")));
        assert_eq!(fourth, Some(What::Plug(device(3), true)), "the number of b is kept for it");
        let again = tell(&mut numbers, Heard::Comes(pad("b")));
        assert_eq!(again, Some(What::Plug(device(1), true)));
        assert_eq!(numbers.there(&plan()), ["pad#1", "pad#2", "pad#3", "pad#4"]);
    }

    #[test]
    fn a_ninth_device_is_told_once_unless_one_is_gone() {
        let mut numbers = Numbers::default();
        for identity in 0..8 {
            assert!(tell(&mut numbers, Heard::Comes(pad(&identity.to_string()))).is_some());
        }
        for _ in 0..2 {
            assert_eq!(tell(&mut numbers, Heard::Comes(pad("ninth"))), None);
        }
        assert_eq!(numbers.words().len(), 1);
        tell(&mut numbers, Heard::Goes(pad("3")));
        let ninth = tell(&mut numbers, Heard::Comes(pad("ninth")));
        assert_eq!(ninth, Some(What::Plug(device(3), true)));
    }

    #[test]
    fn values_beyond_what_a_control_can_have_are_held_and_told_once() {
        let (mut numbers, plan) = (Numbers::default(), plan());
        tell(&mut numbers, Heard::Comes(pad("a")));
        let stick = plan.find_control("pad.left-stick").expect("a stick");
        let report = |numbers: &mut Numbers, x: f64| {
            tell(numbers, Heard::Report(pad("a"), stick, Vector::new(x, 0.5)))
        };
        let value = |x: f64| What::Report(Contact::first(stick), Vector::new(x, 0.5));
        assert_eq!(report(&mut numbers, 1.0), Some(value(1.0)));
        assert!(numbers.words().is_empty());
        assert_eq!(report(&mut numbers, 1.0 + f64::EPSILON), Some(value(1.0)));
        assert_eq!(report(&mut numbers, -7.0), Some(value(-1.0)));
        assert_eq!(numbers.words(), ["pad.left-stick reported beyond -1 to 1: held to that"]);
        assert_eq!(report(&mut numbers, f64::NAN), None);
        assert_eq!(numbers.words().len(), 1);
    }

    #[test]
    fn what_no_scheme_has_is_not_plugged_before_a_plan_has_it() {
        let mut numbers = Numbers::default();
        let mouse = Hardware { class: Class::Mouse, identity: "m".into() };
        assert_eq!(tell(&mut numbers, Heard::Comes(mouse.clone())), None);
        assert_eq!(numbers.words().len(), 1);
        let text = "harmonym = 1\nscheme.desk.devices = [\"mouse\"]\n";
        let source = harmonym_lang::source::Source::new("p", text);
        let other = harmonym_lang::load(&source).expect("sound").1;
        let plug = What::Plug(Device { class: Class::Mouse, number: 0 }, true);
        assert_eq!(numbers.plugged_on(&other), [plug]);
        assert_eq!(numbers.plugged_on(&other), []);
    }
}
