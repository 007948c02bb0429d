//! What sources tell, as the control that was meant.

use crate::sources::terminal::{Does, Key, Modifiers, Told, place};
use harmonym_lab::take::Input;
use harmonym_runtime::base::{Contact, ControlKind, Seat, Time, Vector};
use harmonym_runtime::controls::Layout;
use harmonym_runtime::engine::Start;
use harmonym_runtime::plan::Plan;
use harmonym_runtime::seats::{Caught, Seats};
use std::sync::Arc;

/// What an event is to somebody who waits for a press.
#[derive(Clone, Debug, PartialEq)]
pub enum Heard {
    /// A control that was meant.
    Control(Pressed),
    /// The hand wants to leave.
    Leave,
    /// Nothing yet.
    Nothing,
}

/// A control that was meant, and those that were held with it.
#[derive(Clone, Debug, PartialEq)]
pub struct Pressed {
    pub held: Vec<String>,
    pub control: String,
    /// What the device reports: of a stick all of it, whichever way it went.
    pub kind: ControlKind,
    caught: Caught,
}

/// Whether the key with that code is held with others.
pub fn is_modifier(code: &str) -> bool {
    MODIFIERS.iter().any(|word| code.starts_with(word))
}

impl Pressed {
    /// The control, or the part of it that is of a kind.
    pub fn named(&self, plan: &Plan, kind: ControlKind) -> String {
        self.caught.name(plan, kind)
    }

    /// As a binding writes it.
    pub fn expression(&self) -> String {
        let all = self.held.iter().chain([&self.control]);
        all.map(String::as_str).collect::<Vec<_>>().join(" + ")
    }
}

/// Listens to what sources tell.
pub struct Ear {
    seats: Seats,
    layout: Layout,
    /// Whether a modifier was told of by itself.
    tells_modifiers: bool,
}

impl Ear {
    /// An ear for controls of some kinds; the notches of the wheel are buttons.
    pub fn new(plan: &Arc<Plan>, layout: Layout, kinds: &[ControlKind]) -> Self {
        let mut seats = Seats::start(Arc::clone(plan), 1, Start::default(), &mut |_| {});
        // There is a first seat.
        let _ = seats.catch(Seat::FIRST, kinds);
        Self { seats, layout, tells_modifiers: false }
    }

    /// Takes in what happens to devices.
    pub fn take(&mut self, input: Input) -> Heard {
        // What the seats refuse is nothing that was meant.
        let _ = input.give(&mut self.seats, &mut |_| {});
        self.heard(Modifiers::default())
    }

    /// Takes in what the terminal tells.
    pub fn hear(&mut self, t: Time, told: &Told) -> Heard {
        match told {
            Told::Key(key) => self.key(t, key),
            Told::Button(name, is_down, modifiers) => {
                if *is_down {
                    self.press(t, &format!("mouse.{name}"));
                }
                self.heard(*modifiers)
            }
            Told::Notch(across, up, modifiers) => {
                let by = Vector::new(f64::from(*across), f64::from(*up));
                self.report(t, "mouse.wheel", by);
                self.heard(*modifiers)
            }
            Told::Focus(_) => Heard::Nothing,
        }
    }

    fn key(&mut self, t: Time, key: &Key) -> Heard {
        if key.types == Some('c') && key.modifiers.control {
            return Heard::Leave;
        }
        let Some(code) = place(key, self.layout) else { return Heard::Nothing };
        let name = format!("key.{code}");
        match (is_modifier(code) && key.is_told_whole, key.does) {
            (true, does) => {
                self.tells_modifiers = true;
                let down = if does == Does::Up { 0.0 } else { 1.0 };
                self.report(t, &name, Vector::axis(down));
            }
            // Not every terminal tells when a key comes up.
            (false, Does::Down) => self.press(t, &name),
            (false, _) => return Heard::Nothing,
        }
        self.heard(key.modifiers)
    }

    fn press(&mut self, t: Time, control: &str) {
        self.report(t, control, Vector::axis(1.0));
        self.report(t, control, Vector::ZERO);
    }

    fn report(&mut self, t: Time, control: &str, value: Vector) {
        // What is no control of any device is not heard.
        if let Ok(control) = self.seats.plan().find_control(control) {
            let _ = self.seats.report(t, Contact::first(control), value, &mut |_| {});
        }
    }

    /// What was meant by now, with the modifiers that the terminal tells of only together with a key.
    fn heard(&mut self, modifiers: Modifiers) -> Heard {
        let Some(caught) = self.seats.caught() else { return Heard::Nothing };
        let plan = self.seats.plan();
        let name = |contact: Contact| plan.names().controls[contact.control].to_string();
        let mut held: Vec<String> = caught.held().map(name).collect();
        if !self.tells_modifiers {
            let flags = [
                (modifiers.control, "key.Control"),
                (modifiers.alt, "key.Alt"),
                (modifiers.meta, "key.Meta"),
                (modifiers.shift, "key.Shift"),
            ];
            let held_now = flags.iter().filter(|(is_held, _)| *is_held);
            held.extend(held_now.map(|(_, name)| (*name).to_owned()));
        }
        let kind = plan.controls()[caught.contact.control].kind;
        let control = caught.name(plan, ControlKind::Button);
        Heard::Control(Pressed { held, control, kind, caught })
    }
}

/// The keys that are held with others, by how their codes begin.
const MODIFIERS: &[&str] = &["Shift", "Control", "Alt", "Meta"];

#[cfg(test)]
mod tests {
    use super::*;
    use harmonym_runtime::controls::Catalogue;

    fn ear(layout: Layout) -> Ear {
        let text = "harmonym = 1\n";
        let source = harmonym_lang::source::Source::new("p", text);
        let (_, plan) = harmonym_lang::load(&source).expect("a profile");
        Ear::new(&Arc::new(plan), layout, &[ControlKind::Button])
    }

    fn hear(ear: &mut Ear, told: &Told) -> Option<String> {
        match ear.hear(Time::ZERO, told) {
            Heard::Control(pressed) => Some(pressed.expression()),
            Heard::Leave | Heard::Nothing => None,
        }
    }

    fn key(code: Option<&'static str>, types: Option<char>, modifiers: Modifiers) -> Key {
        let code = code.map(std::borrow::Cow::Borrowed);
        Key { code, types, does: Does::Down, modifiers, is_told_whole: false }
    }

    #[test]
    fn keys_are_named_by_their_place_and_every_name_is_a_control() {
        let none = Modifiers::default();
        let (control, shift) =
            (Modifiers { control: true, ..none }, Modifiers { shift: true, ..none });
        for (key, layout, wanted) in [
            (key(None, Some('w'), none), Layout::US, "key.KeyW"),
            (key(None, Some('z'), none), Layout::from_word("fr").unwrap(), "key.KeyW"),
            (key(Some("Space"), Some(' '), none), Layout::US, "key.Space"),
            (key(Some("F24"), None, none), Layout::US, "key.F24"),
            (key(None, Some('h'), control), Layout::US, "key.Control + key.KeyH"),
            (key(None, Some('h'), shift), Layout::US, "key.Shift + key.KeyH"),
            (key(Some("NumpadAdd"), None, none), Layout::US, "key.NumpadAdd"),
        ] {
            assert_eq!(hear(&mut ear(layout), &Told::Key(key)).as_deref(), Some(wanted));
            for control in wanted.split(" + ") {
                assert!(Catalogue::built_in().find(control).is_some(), "{control}");
            }
        }
        let leaves = Told::Key(key(None, Some('c'), control));
        assert_eq!(ear(Layout::US).hear(Time::ZERO, &leaves), Heard::Leave);
    }

    #[test]
    fn a_modifier_alone_counts_when_it_is_let_go_and_else_is_held() {
        let shift = |does| {
            let held = Modifiers { shift: true, ..Modifiers::default() };
            let key = key(Some("ShiftRight"), None, held);
            Told::Key(Key { does, is_told_whole: true, ..key })
        };
        let mut alone = ear(Layout::US);
        assert_eq!(hear(&mut alone, &shift(Does::Down)), None);
        assert_eq!(hear(&mut alone, &shift(Does::Repeat)), None);
        assert_eq!(hear(&mut alone, &shift(Does::Up)).as_deref(), Some("key.ShiftRight"));
        let mut both = ear(Layout::US);
        assert_eq!(hear(&mut both, &shift(Does::Down)), None);
        let held = Modifiers { shift: true, ..Modifiers::default() };
        let told = hear(&mut both, &Told::Key(key(None, Some('e'), held)));
        assert_eq!(told.as_deref(), Some("key.ShiftRight + key.KeyE"));
    }

    #[test]
    fn the_mouse_is_heard_with_its_wheel() {
        let alt = Modifiers { alt: true, ..Modifiers::default() };
        for (told, wanted) in [
            (Told::Button("right", true, alt), Some("key.Alt + mouse.right")),
            (Told::Button("right", false, alt), None),
            (Told::Notch(0, 1, alt), Some("key.Alt + mouse.wheel.up")),
            (Told::Notch(0, -1, alt), Some("key.Alt + mouse.wheel.down")),
            (Told::Notch(-1, 0, alt), Some("key.Alt + mouse.wheel.left")),
            (Told::Notch(1, 0, alt), Some("key.Alt + mouse.wheel.right")),
        ] {
            assert_eq!(hear(&mut ear(Layout::US), &told).as_deref(), wanted);
        }
    }
}
