//! The same where the terminal is read by crossterm.

use super::{Does, Key, Modifiers, Told};
use crossterm::event::{
    Event, KeyCode, KeyEvent, KeyEventKind, KeyEventState, KeyModifiers, ModifierKeyCode,
    MouseButton, MouseEventKind,
};
use std::borrow::Cow;

pub fn told(event: &Event) -> Option<Told> {
    Some(match event {
        Event::Key(key) => Told::Key(self::key(key)?),
        Event::Mouse(mouse) => {
            let modifiers = modifiers(mouse.modifiers);
            let button = |button| match button {
                MouseButton::Left => "left",
                MouseButton::Middle => "middle",
                MouseButton::Right => "right",
            };
            match mouse.kind {
                MouseEventKind::Down(one) => Told::Button(button(one), true, modifiers),
                MouseEventKind::Up(one) => Told::Button(button(one), false, modifiers),
                MouseEventKind::ScrollUp => Told::Notch(0, 1, modifiers),
                MouseEventKind::ScrollDown => Told::Notch(0, -1, modifiers),
                MouseEventKind::ScrollLeft => Told::Notch(-1, 0, modifiers),
                MouseEventKind::ScrollRight => Told::Notch(1, 0, modifiers),
                _ => return None,
            }
        }
        Event::FocusGained => Told::Focus(true),
        Event::FocusLost => Told::Focus(false),
        _ => return None,
    })
}

fn modifiers(held: KeyModifiers) -> Modifiers {
    Modifiers {
        shift: held.contains(KeyModifiers::SHIFT),
        alt: held.contains(KeyModifiers::ALT),
        control: held.contains(KeyModifiers::CONTROL),
        meta: held.contains(KeyModifiers::SUPER),
    }
}

fn key(event: &KeyEvent) -> Option<Key> {
    let is_keypad = event.state.contains(KeyEventState::KEYPAD);
    let (code, types) = match event.code {
        KeyCode::Char(c) if is_keypad => (keypad(c), None),
        KeyCode::Char(c) => (None, c.to_lowercase().next()),
        KeyCode::F(n) => (Some(Cow::Owned(format!("F{n}"))), None),
        code => (named(code, is_keypad).map(Cow::Borrowed), None),
    };
    let does = match event.kind {
        KeyEventKind::Press => Does::Down,
        KeyEventKind::Repeat => Does::Repeat,
        KeyEventKind::Release => Does::Up,
    };
    let is_known = code.is_some() || types.is_some();
    // A console of Windows tells when keys come up, without being asked.
    let is_told_whole = cfg!(windows);
    let modifiers = modifiers(event.modifiers);
    is_known.then_some(Key { code, types, does, modifiers, is_told_whole })
}

fn keypad(c: char) -> Option<Cow<'static, str>> {
    Some(Cow::Borrowed(match c {
        '0'..='9' => return Some(Cow::Owned(format!("Numpad{c}"))),
        '+' => "NumpadAdd",
        '-' => "NumpadSubtract",
        '*' => "NumpadMultiply",
        '/' => "NumpadDivide",
        '.' => "NumpadDecimal",
        ',' => "NumpadComma",
        '=' => "NumpadEqual",
        _ => return None,
    }))
}

fn named(code: KeyCode, is_keypad: bool) -> Option<&'static str> {
    Some(match code {
        KeyCode::Enter if is_keypad => "NumpadEnter",
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
        KeyCode::Modifier(code) => match code {
            ModifierKeyCode::LeftShift => "ShiftLeft",
            ModifierKeyCode::RightShift => "ShiftRight",
            ModifierKeyCode::LeftControl => "ControlLeft",
            ModifierKeyCode::RightControl => "ControlRight",
            ModifierKeyCode::LeftAlt => "AltLeft",
            ModifierKeyCode::RightAlt => "AltRight",
            ModifierKeyCode::LeftSuper => "MetaLeft",
            ModifierKeyCode::RightSuper => "MetaRight",
            _ => return None,
        },
        _ => return None,
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_crossterm_tells_is_told_the_same_way() {
        let event = |code, modifiers| Event::Key(KeyEvent::new(code, modifiers));
        for (event, code, types) in [
            (event(KeyCode::Char('W'), KeyModifiers::SHIFT), None, Some('w')),
            (event(KeyCode::F(24), KeyModifiers::NONE), Some("F24"), None),
            (event(KeyCode::Menu, KeyModifiers::NONE), Some("ContextMenu"), None),
            (
                event(KeyCode::Modifier(ModifierKeyCode::RightShift), KeyModifiers::SHIFT),
                Some("ShiftRight"),
                None,
            ),
            (
                Event::Key(KeyEvent {
                    state: KeyEventState::KEYPAD,
                    ..KeyEvent::new(KeyCode::Char('+'), KeyModifiers::NONE)
                }),
                Some("NumpadAdd"),
                None,
            ),
        ] {
            let Some(Told::Key(key)) = told(&event) else { panic!("{event:?}") };
            assert_eq!((key.code.as_deref(), key.types), (code, types), "{event:?}");
        }
        assert_eq!(told(&Event::FocusLost), Some(Told::Focus(false)));
        assert_eq!(told(&Event::Resize(1, 1)), None);
    }
}
