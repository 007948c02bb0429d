//! What a terminal tells of keys and the mouse, as controls.

use crossterm::event::{
    Event, KeyCode, KeyEvent, KeyEventKind, KeyEventState, KeyModifiers, MediaKeyCode,
    ModifierKeyCode, MouseButton, MouseEventKind,
};
use harmonym_runtime::base::{Contact, ControlKind, Seat, Time, Vector};
use harmonym_runtime::controls::{Catalogue, Layout};
use harmonym_runtime::engine::Start;
use harmonym_runtime::plan::Plan;
use harmonym_runtime::seats::Seats;
use std::sync::Arc;
use std::time::Instant;

/// What an event is to somebody who waits for a press.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Heard {
    /// A control that was meant.
    Control(Pressed),
    /// The hand wants to leave.
    Leave,
    /// Nothing yet.
    Nothing,
}

/// A control that was meant, and those that were held with it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Pressed {
    pub held: Vec<String>,
    pub control: String,
}

impl Pressed {
    /// As a binding writes it.
    pub fn expression(&self) -> String {
        let all = self.held.iter().chain([&self.control]);
        all.map(String::as_str).collect::<Vec<_>>().join(" + ")
    }
}

/// Listens to the keys and the mouse of a terminal.
pub struct Ear {
    seats: Seats,
    layout: Layout,
    began: Instant,
    /// Whether a modifier was told of by itself.
    tells_modifiers: bool,
}

impl Ear {
    /// An ear for buttons, and for the notches of the wheel.
    pub fn new(plan: &Arc<Plan>, layout: Layout) -> Self {
        let mut seats = Seats::start(Arc::clone(plan), 1, Start::default(), &mut |_| {});
        // There is a first seat.
        let _ = seats.catch(Seat::FIRST, &[ControlKind::Button]);
        Self { seats, layout, began: Instant::now(), tells_modifiers: false }
    }

    /// Takes in what the terminal tells.
    pub fn hear(&mut self, event: &Event) -> Heard {
        match event {
            Event::Key(key) => self.key(key),
            Event::Mouse(mouse) => {
                let (up, down) = (Vector::new(0.0, 1.0), Vector::new(0.0, -1.0));
                let (right, left) = (Vector::new(1.0, 0.0), Vector::new(-1.0, 0.0));
                match mouse.kind {
                    MouseEventKind::Down(button) => self.press(mouse_button(button)),
                    MouseEventKind::ScrollUp => self.report("mouse.wheel", up),
                    MouseEventKind::ScrollDown => self.report("mouse.wheel", down),
                    MouseEventKind::ScrollLeft => self.report("mouse.wheel", left),
                    MouseEventKind::ScrollRight => self.report("mouse.wheel", right),
                    _ => {}
                }
                self.heard(mouse.modifiers)
            }
            _ => Heard::Nothing,
        }
    }

    fn key(&mut self, key: &KeyEvent) -> Heard {
        let leaves = matches!(key.code, KeyCode::Char('c' | 'C'))
            && key.modifiers.contains(KeyModifiers::CONTROL);
        if leaves {
            return Heard::Leave;
        }
        match (key.code, key.kind) {
            (KeyCode::Modifier(code), kind) => {
                let Some(name) = modifier(code) else { return Heard::Nothing };
                self.tells_modifiers = true;
                let down = if kind == KeyEventKind::Release { 0.0 } else { 1.0 };
                self.report(name, Vector::axis(down));
            }
            // Not every terminal tells when a key comes up.
            (_, KeyEventKind::Press) => {
                let Some(code) = code(key, self.layout) else { return Heard::Nothing };
                self.press(&format!("key.{code}"));
            }
            _ => return Heard::Nothing,
        }
        self.heard(key.modifiers)
    }

    fn press(&mut self, control: &str) {
        self.report(control, Vector::axis(1.0));
        self.report(control, Vector::ZERO);
    }

    fn report(&mut self, control: &str, value: Vector) {
        let at = Time::from(self.began.elapsed());
        // What is no control of any device is not heard.
        if let Ok(control) = self.seats.plan().find_control(control) {
            let _ = self.seats.report(at, Contact::first(control), value, &mut |_| {});
        }
    }

    /// What was meant by now, with the modifiers that the terminal tells of only together with a key.
    fn heard(&mut self, modifiers: KeyModifiers) -> Heard {
        let Some(caught) = self.seats.caught() else { return Heard::Nothing };
        let plan = self.seats.plan();
        let name = |contact: Contact| plan.names().controls[contact.control].to_string();
        let mut held: Vec<String> = caught.held().map(name).collect();
        if !self.tells_modifiers {
            let flags = [
                (KeyModifiers::CONTROL, "key.Control"),
                (KeyModifiers::ALT, "key.Alt"),
                (KeyModifiers::SUPER, "key.Meta"),
                (KeyModifiers::SHIFT, "key.Shift"),
            ];
            let held_now = flags.iter().filter(|(flag, _)| modifiers.contains(*flag));
            held.extend(held_now.map(|(_, name)| (*name).to_owned()));
        }
        Heard::Control(Pressed { held, control: caught.name(plan, ControlKind::Button) })
    }
}

fn mouse_button(button: MouseButton) -> &'static str {
    match button {
        MouseButton::Left => "mouse.left",
        MouseButton::Middle => "mouse.middle",
        MouseButton::Right => "mouse.right",
    }
}

fn modifier(code: ModifierKeyCode) -> Option<&'static str> {
    Some(match code {
        ModifierKeyCode::LeftShift => "key.ShiftLeft",
        ModifierKeyCode::RightShift => "key.ShiftRight",
        ModifierKeyCode::LeftControl => "key.ControlLeft",
        ModifierKeyCode::RightControl => "key.ControlRight",
        ModifierKeyCode::LeftAlt => "key.AltLeft",
        ModifierKeyCode::RightAlt | ModifierKeyCode::IsoLevel3Shift => "key.AltRight",
        ModifierKeyCode::LeftSuper | ModifierKeyCode::LeftMeta => "key.MetaLeft",
        ModifierKeyCode::RightSuper | ModifierKeyCode::RightMeta => "key.MetaRight",
        _ => return None,
    })
}

/// The position of a key, by its W3C UI Events code. A character stands for the key that types it
/// on the player's layout.
fn code(key: &KeyEvent, layout: Layout) -> Option<String> {
    let is_keypad = key.state.contains(KeyEventState::KEYPAD);
    let plain = match key.code {
        KeyCode::Char(c) if is_keypad => match c {
            '0'..='9' => return Some(format!("Numpad{c}")),
            '+' => "NumpadAdd",
            '-' => "NumpadSubtract",
            '*' => "NumpadMultiply",
            '/' => "NumpadDivide",
            '.' => "NumpadDecimal",
            ',' => "NumpadComma",
            '=' => "NumpadEqual",
            _ => return None,
        },
        KeyCode::Enter if is_keypad => "NumpadEnter",
        KeyCode::Char(' ') => "Space",
        KeyCode::Char(c) => {
            let control = Catalogue::built_in().key_of(c.to_lowercase().next()?, layout)?;
            let name =
                &Catalogue::built_in().reported()[harmonym_runtime::base::Id::index(control)].name;
            return name.strip_prefix("key.").map(str::to_owned);
        }
        KeyCode::F(n) => return (1..=24).contains(&n).then(|| format!("F{n}")),
        KeyCode::Enter => "Enter",
        KeyCode::Tab | KeyCode::BackTab => "Tab",
        KeyCode::Backspace => "Backspace",
        KeyCode::Esc => "Escape",
        KeyCode::Left => "ArrowLeft",
        KeyCode::Right => "ArrowRight",
        KeyCode::Up => "ArrowUp",
        KeyCode::Down => "ArrowDown",
        KeyCode::Home => "Home",
        KeyCode::End => "End",
        KeyCode::PageUp => "PageUp",
        KeyCode::PageDown => "PageDown",
        KeyCode::Insert => "Insert",
        KeyCode::Delete => "Delete",
        KeyCode::CapsLock => "CapsLock",
        KeyCode::ScrollLock => "ScrollLock",
        KeyCode::NumLock => "NumLock",
        KeyCode::PrintScreen => "PrintScreen",
        KeyCode::Pause => "Pause",
        KeyCode::Menu => "ContextMenu",
        KeyCode::Media(media) => match media {
            MediaKeyCode::PlayPause | MediaKeyCode::Play | MediaKeyCode::Pause => "MediaPlayPause",
            MediaKeyCode::Stop => "MediaStop",
            MediaKeyCode::TrackNext => "MediaTrackNext",
            MediaKeyCode::TrackPrevious => "MediaTrackPrevious",
            MediaKeyCode::LowerVolume => "AudioVolumeDown",
            MediaKeyCode::RaiseVolume => "AudioVolumeUp",
            MediaKeyCode::MuteVolume => "AudioVolumeMute",
            _ => return None,
        },
        _ => return None,
    };
    Some(plain.to_owned())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crossterm::event::MouseEvent;

    fn ear(layout: Layout) -> Ear {
        let text = "harmonym = 1\n";
        let source = harmonym_lang::source::Source::new("p", text);
        let (_, plan) = harmonym_lang::load(&source).expect("a profile");
        Ear::new(&Arc::new(plan), layout)
    }

    fn expression(heard: &Heard) -> Option<String> {
        match heard {
            Heard::Control(pressed) => Some(pressed.expression()),
            Heard::Leave | Heard::Nothing => None,
        }
    }

    fn press(code: KeyCode, modifiers: KeyModifiers) -> Event {
        Event::Key(KeyEvent::new(code, modifiers))
    }

    #[test]
    fn keys_are_named_by_their_place_and_every_name_is_a_control() {
        let none = KeyModifiers::NONE;
        for (event, layout, wanted) in [
            (press(KeyCode::Char('w'), none), Layout::US, "key.KeyW"),
            (press(KeyCode::Char('z'), none), Layout::from_word("fr").unwrap(), "key.KeyW"),
            (press(KeyCode::Char(' '), none), Layout::US, "key.Space"),
            (press(KeyCode::F(24), none), Layout::US, "key.F24"),
            (
                press(KeyCode::Char('h'), KeyModifiers::CONTROL),
                Layout::US,
                "key.Control + key.KeyH",
            ),
            (press(KeyCode::Char('H'), KeyModifiers::SHIFT), Layout::US, "key.Shift + key.KeyH"),
            (press(KeyCode::BackTab, none), Layout::US, "key.Tab"),
            (press(KeyCode::Menu, none), Layout::US, "key.ContextMenu"),
            (
                Event::Key(KeyEvent {
                    state: KeyEventState::KEYPAD,
                    ..KeyEvent::new(KeyCode::Char('+'), none)
                }),
                Layout::US,
                "key.NumpadAdd",
            ),
        ] {
            assert_eq!(expression(&ear(layout).hear(&event)).as_deref(), Some(wanted));
            for control in wanted.split(" + ") {
                assert!(Catalogue::built_in().find(control).is_some(), "{control}");
            }
        }
        let leaves = press(KeyCode::Char('c'), KeyModifiers::CONTROL);
        assert_eq!(ear(Layout::US).hear(&leaves), Heard::Leave);
    }

    #[test]
    fn a_modifier_alone_counts_when_it_is_let_go_and_else_is_held() {
        let shift = |kind| {
            let code = KeyCode::Modifier(ModifierKeyCode::RightShift);
            Event::Key(KeyEvent::new_with_kind(code, KeyModifiers::SHIFT, kind))
        };
        let hear = |ear: &mut Ear, event: &Event| expression(&ear.hear(event));
        let mut alone = ear(Layout::US);
        assert_eq!(hear(&mut alone, &shift(KeyEventKind::Press)), None);
        assert_eq!(hear(&mut alone, &shift(KeyEventKind::Repeat)), None);
        let told = hear(&mut alone, &shift(KeyEventKind::Release));
        assert_eq!(told.as_deref(), Some("key.ShiftRight"));
        let mut both = ear(Layout::US);
        assert_eq!(hear(&mut both, &shift(KeyEventKind::Press)), None);
        let told = hear(&mut both, &press(KeyCode::Char('E'), KeyModifiers::SHIFT));
        assert_eq!(told.as_deref(), Some("key.ShiftRight + key.KeyE"));
    }

    #[test]
    fn the_mouse_is_heard_with_its_wheel() {
        let mouse = |kind| {
            Event::Mouse(MouseEvent { kind, column: 0, row: 0, modifiers: KeyModifiers::ALT })
        };
        for (kind, wanted) in [
            (MouseEventKind::Down(MouseButton::Right), Some("key.Alt + mouse.right")),
            (MouseEventKind::ScrollUp, Some("key.Alt + mouse.wheel.up")),
            (MouseEventKind::ScrollDown, Some("key.Alt + mouse.wheel.down")),
            (MouseEventKind::ScrollLeft, Some("key.Alt + mouse.wheel.left")),
            (MouseEventKind::ScrollRight, Some("key.Alt + mouse.wheel.right")),
            (MouseEventKind::Moved, None),
        ] {
            assert_eq!(expression(&ear(Layout::US).hear(&mouse(kind))).as_deref(), wanted);
        }
    }
}
