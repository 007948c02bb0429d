//! What a terminal tells of keys and the mouse, as controls.

use crossterm::event::{
    Event, KeyCode, KeyEvent, KeyEventKind, KeyEventState, KeyModifiers, MediaKeyCode,
    ModifierKeyCode, MouseButton, MouseEventKind,
};
use harmonym_runtime::controls::{Catalogue, Layout};

/// What an event is to somebody who waits for a press.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Heard {
    /// An expression: a control, or several held together.
    Expression(String),
    /// The hand wants to leave.
    Leave,
    /// Nothing yet.
    Nothing,
}

/// The modifier keys held so far, where the terminal tells of them one by one.
#[derive(Debug, Default)]
pub struct Ear {
    held: Vec<&'static str>,
    /// Whether another key was pressed while they were held.
    used: bool,
}

impl Ear {
    /// Takes in what the terminal tells.
    pub fn hear(&mut self, event: &Event, layout: Layout) -> Heard {
        match event {
            Event::Key(key) => self.key(key, layout),
            Event::Mouse(mouse) => {
                let control = match mouse.kind {
                    MouseEventKind::Down(MouseButton::Left) => "mouse.left",
                    MouseEventKind::Down(MouseButton::Middle) => "mouse.middle",
                    MouseEventKind::Down(MouseButton::Right) => "mouse.right",
                    MouseEventKind::ScrollUp => "mouse.wheel.up",
                    MouseEventKind::ScrollDown => "mouse.wheel.down",
                    MouseEventKind::ScrollLeft => "mouse.wheel.left",
                    MouseEventKind::ScrollRight => "mouse.wheel.right",
                    _ => return Heard::Nothing,
                };
                self.with_held(control, mouse.modifiers)
            }
            _ => Heard::Nothing,
        }
    }

    fn key(&mut self, key: &KeyEvent, layout: Layout) -> Heard {
        let leaves = matches!(key.code, KeyCode::Char('c' | 'C'))
            && key.modifiers.contains(KeyModifiers::CONTROL);
        if leaves {
            return Heard::Leave;
        }
        if let KeyCode::Modifier(code) = key.code {
            return match modifier(code) {
                Some(name) => self.modifier(name, key.kind),
                None => Heard::Nothing,
            };
        }
        if key.kind != KeyEventKind::Press {
            return Heard::Nothing;
        }
        match code(key, layout) {
            Some(code) => self.with_held(&format!("key.{code}"), key.modifiers),
            None => Heard::Nothing,
        }
    }

    /// A modifier counts by itself when it is let go with nothing else pressed meanwhile.
    fn modifier(&mut self, name: &'static str, kind: KeyEventKind) -> Heard {
        match kind {
            KeyEventKind::Press => {
                if self.held.is_empty() {
                    self.used = false;
                }
                if !self.held.contains(&name) {
                    self.held.push(name);
                }
                Heard::Nothing
            }
            KeyEventKind::Repeat => Heard::Nothing,
            KeyEventKind::Release => {
                let was_held = self.held.contains(&name);
                let all = self.held.join(" + ");
                self.held.retain(|held| *held != name);
                if was_held && !std::mem::replace(&mut self.used, true) {
                    return Heard::Expression(all);
                }
                Heard::Nothing
            }
        }
    }

    fn with_held(&mut self, control: &str, modifiers: KeyModifiers) -> Heard {
        self.used = true;
        let mut parts: Vec<&str> = self.held.clone();
        if parts.is_empty() {
            let flags = [
                (KeyModifiers::CONTROL, "key.Control"),
                (KeyModifiers::ALT, "key.Alt"),
                (KeyModifiers::SUPER, "key.Meta"),
                (KeyModifiers::SHIFT, "key.Shift"),
            ];
            parts.extend(flags.iter().filter(|(flag, _)| modifiers.contains(*flag)).map(|f| f.1));
        }
        parts.push(control);
        Heard::Expression(parts.join(" + "))
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
            assert_eq!(Ear::default().hear(&event, layout), Heard::Expression(wanted.to_owned()));
            for control in wanted.split(" + ") {
                assert!(Catalogue::built_in().find(control).is_some(), "{control}");
            }
        }
        let leaves = press(KeyCode::Char('c'), KeyModifiers::CONTROL);
        assert_eq!(Ear::default().hear(&leaves, Layout::US), Heard::Leave);
    }

    #[test]
    fn a_modifier_alone_counts_when_it_is_let_go_and_else_is_held() {
        let shift = |kind| {
            let code = KeyCode::Modifier(ModifierKeyCode::RightShift);
            Event::Key(KeyEvent::new_with_kind(code, KeyModifiers::SHIFT, kind))
        };
        let mut ear = Ear::default();
        let mut hear = |event: &Event| ear.hear(event, Layout::US);
        let alone = Heard::Expression("key.ShiftRight".to_owned());
        assert_eq!(hear(&shift(KeyEventKind::Press)), Heard::Nothing);
        assert_eq!(hear(&shift(KeyEventKind::Repeat)), Heard::Nothing);
        assert_eq!(hear(&shift(KeyEventKind::Release)), alone);
        assert_eq!(hear(&shift(KeyEventKind::Press)), Heard::Nothing);
        let both = Heard::Expression("key.ShiftRight + key.KeyE".to_owned());
        assert_eq!(hear(&press(KeyCode::Char('E'), KeyModifiers::SHIFT)), both);
        assert_eq!(hear(&shift(KeyEventKind::Release)), Heard::Nothing);
    }
}
