//! What a terminal sends, byte by byte, to keys and mouse.
//!
//! Sources: ECMA-48 control sequences; xterm's *Control Sequences* for function keys and the mouse (SGR, 1006) and the
//! focus (1004); the terminal keyboard protocol with progressive enhancement (`CSI u`), by which presses, releases and
//! the key of the base layout are told.

use std::borrow::Cow;

/// What happens to a key.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Does {
    Down,
    Repeat,
    Up,
}

/// The modifiers that a terminal tells with a key.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Modifiers {
    pub shift: bool,
    pub alt: bool,
    pub control: bool,
    pub meta: bool,
}

/// A key, by what it types and by its place as far as that is told.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Key {
    /// Its W3C UI Events code, where the terminal says it.
    pub code: Option<Cow<'static, str>>,
    /// What it types, without modifiers.
    pub types: Option<char>,
    pub does: Does,
    pub modifiers: Modifiers,
    /// Whether the terminal tells when it comes up.
    pub is_told_whole: bool,
}

/// One thing that the terminal tells.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Told {
    Key(Key),
    /// A mouse button: `left`, `middle`, `right`, `back`, `forward`, and whether it is down now.
    Button(&'static str, bool, Modifiers),
    /// A notch of the wheel: across and up.
    Notch(i8, i8, Modifiers),
    /// Whether the terminal is what the person works in.
    Focus(bool),
}

/// Reads what comes, and keeps the beginning of what is not complete.
#[derive(Debug, Default)]
pub struct Parser {
    kept: Vec<u8>,
}

/// The longest sequence there is; what goes on without an end is none.
const LONGEST: usize = 64;

const ESC: u8 = 0x1b;

impl Parser {
    /// Whether a sequence has begun that may be a key by itself.
    pub fn is_open(&self) -> bool {
        !self.kept.is_empty()
    }

    pub fn take(&mut self, bytes: &[u8], tell: &mut dyn FnMut(Told)) {
        self.kept.extend_from_slice(bytes);
        let kept = std::mem::take(&mut self.kept);
        let mut rest = &kept[..];
        while !rest.is_empty() {
            match one(rest) {
                Some((length, told)) => {
                    told.into_iter().for_each(&mut *tell);
                    rest = &rest[length..];
                }
                None if rest.len() > LONGEST => rest = &rest[1..],
                None => break,
            }
        }
        self.kept = rest.to_vec();
    }

    /// Nothing more comes: what has begun is a key by itself.
    pub fn close(&mut self, tell: &mut dyn FnMut(Told)) {
        let kept = std::mem::take(&mut self.kept);
        if kept.first() == Some(&ESC) {
            tell(press(Some("Escape"), None, Modifiers::default()));
            if let Some(&byte) = kept.get(1) {
                let alt = Modifiers { alt: true, ..Modifiers::default() };
                tell(press(None, char::from_u32(u32::from(byte)), alt));
            }
        }
    }
}

/// The first thing that is told, and how many bytes it takes; nothing if it is not complete.
fn one(bytes: &[u8]) -> Option<(usize, Option<Told>)> {
    match bytes {
        [ESC, b'[', rest @ ..] => {
            let end = rest.iter().position(|byte| (0x40..=0x7e).contains(byte))?;
            let text = std::str::from_utf8(&rest[..end]).unwrap_or_default();
            Some((end + 3, sequence(text, rest[end])))
        }
        [ESC, b'O', end, ..] => Some((3, sequence("", *end))),
        [ESC, b'O'] | [ESC] => None,
        [ESC, rest @ ..] => {
            let (length, told) = one(rest)?;
            let told = told.map(|told| match told {
                Told::Key(key) => {
                    Told::Key(Key { modifiers: Modifiers { alt: true, ..key.modifiers }, ..key })
                }
                other => other,
            });
            Some((length + 1, told))
        }
        [byte @ 0..=0x7f, ..] => Some((1, Some(plain(*byte)))),
        _ => {
            let length = match bytes[0] {
                0xc0..=0xdf => 2,
                0xe0..=0xef => 3,
                0xf0..=0xf7 => 4,
                _ => return Some((1, None)),
            };
            let whole = bytes.get(..length)?;
            let typed = std::str::from_utf8(whole).ok().and_then(|text| text.chars().next());
            let key = typed.map(|typed| press(None, Some(typed), Modifiers::default()));
            Some((if key.is_some() { length } else { 1 }, key))
        }
    }
}

fn press(code: Option<&'static str>, types: Option<char>, modifiers: Modifiers) -> Told {
    let shift = types.is_some_and(char::is_uppercase);
    let types = types.and_then(|c| c.to_lowercase().next());
    let modifiers = Modifiers { shift: modifiers.shift || shift, ..modifiers };
    let code = code.map(Cow::Borrowed);
    Told::Key(Key { code, types, does: Does::Down, modifiers, is_told_whole: false })
}

/// A byte of a terminal without the protocol.
fn plain(byte: u8) -> Told {
    let none = Modifiers::default();
    let control = Modifiers { control: true, ..none };
    match byte {
        b'\r' | b'\n' => press(Some("Enter"), None, none),
        b'\t' => press(Some("Tab"), None, none),
        0x7f | 0x08 => press(Some("Backspace"), None, none),
        b' ' => press(Some("Space"), Some(' '), none),
        0 => press(Some("Space"), Some(' '), control),
        1..=0x1a => press(None, Some(char::from(byte + b'a' - 1)), control),
        0x1c..=0x1f => press(None, Some(char::from(byte + 0x40)), control),
        byte => press(None, Some(char::from(byte)), none),
    }
}

/// Numbers of one parameter, parted by colons; what is left out is nothing.
fn numbers(parameter: &str) -> Vec<Option<u32>> {
    parameter.split(':').map(|number| number.parse().ok()).collect()
}

fn sequence(text: &str, end: u8) -> Option<Told> {
    if let Some(mouse) = text.strip_prefix('<') {
        return pointer(mouse, end == b'M');
    }
    match (text, end) {
        ("", b'I') => return Some(Told::Focus(true)),
        ("", b'O') => return Some(Told::Focus(false)),
        ("", b'Z') => {
            let shift = Modifiers { shift: true, ..Modifiers::default() };
            return Some(press(Some("Tab"), None, shift));
        }
        _ => {}
    }
    let parameters: Vec<Vec<Option<u32>>> = text.split(';').map(numbers).collect();
    let number = |at: usize, sub: usize| *parameters.get(at)?.get(sub)?;
    let bits = number(1, 0).unwrap_or(1).saturating_sub(1);
    let modifiers = Modifiers {
        shift: bits & 1 != 0,
        alt: bits & 2 != 0,
        control: bits & 4 != 0,
        meta: bits & (8 | 16 | 32) != 0,
    };
    let (does, is_told_whole) = match number(1, 1) {
        Some(3) => (Does::Up, true),
        Some(2) => (Does::Repeat, true),
        Some(_) => (Does::Down, true),
        None => (Does::Down, end == b'u'),
    };
    let first = number(0, 0).unwrap_or(1);
    let (code, types) = match end {
        b'u' => keyed(first, number(0, 2)),
        b'~' => (by_number(first).map(Cow::Borrowed), None),
        letter => (by_letter(letter).map(Cow::Borrowed), None),
    };
    if code.is_none() && types.is_none() {
        return None;
    }
    Some(Told::Key(Key { code, types, does, modifiers, is_told_whole }))
}

/// What `CSI u` says: the code point that the key types, and that of the same place on the base layout.
fn keyed(point: u32, base: Option<u32>) -> (Option<Cow<'static, str>>, Option<char>) {
    if let Some(code) = functional(point) {
        return (Some(code), (point == 32).then_some(' '));
    }
    let types = char::from_u32(point).filter(|c| !c.is_control());
    (base.and_then(char::from_u32).and_then(on_base), types)
}

/// The place of a key by what it types on the base layout, which is that of the United States.
fn on_base(letter: char) -> Option<Cow<'static, str>> {
    use harmonym_runtime::controls::Layout;
    Layout::US.key(letter).map(|code| Cow::Owned(code.to_owned()))
}

fn by_letter(letter: u8) -> Option<&'static str> {
    Some(match letter {
        b'A' => "ArrowUp",
        b'B' => "ArrowDown",
        b'C' => "ArrowRight",
        b'D' => "ArrowLeft",
        b'E' => "Numpad5",
        b'F' => "End",
        b'H' => "Home",
        b'P' => "F1",
        b'Q' => "F2",
        b'R' => "F3",
        b'S' => "F4",
        _ => return None,
    })
}

fn by_number(number: u32) -> Option<&'static str> {
    Some(match number {
        1 | 7 => "Home",
        2 => "Insert",
        3 => "Delete",
        4 | 8 => "End",
        5 => "PageUp",
        6 => "PageDown",
        11 => "F1",
        12 => "F2",
        13 => "F3",
        14 => "F4",
        15 => "F5",
        17 => "F6",
        18 => "F7",
        19 => "F8",
        20 => "F9",
        21 => "F10",
        23 => "F11",
        24 => "F12",
        29 => "ContextMenu",
        _ => return None,
    })
}

/// Keys that type nothing, by the numbers that the protocol gives them (from the private use area).
fn functional(point: u32) -> Option<Cow<'static, str>> {
    let name = match point {
        9 => "Tab",
        13 => "Enter",
        27 => "Escape",
        32 => "Space",
        127 => "Backspace",
        57358 => "CapsLock",
        57359 => "ScrollLock",
        57360 => "NumLock",
        57361 => "PrintScreen",
        57362 => "Pause",
        57363 => "ContextMenu",
        57376..=57387 => return Some(Cow::Owned(format!("F{}", point - 57376 + 13))),
        57399..=57408 => return Some(Cow::Owned(format!("Numpad{}", point - 57399))),
        57409 | 57426 => "NumpadDecimal",
        57410 => "NumpadDivide",
        57411 => "NumpadMultiply",
        57412 => "NumpadSubtract",
        57413 => "NumpadAdd",
        57414 => "NumpadEnter",
        57415 => "NumpadEqual",
        57416 => "NumpadComma",
        // Without NumLock the keypad's keys are told as what they then do.
        57417 => "Numpad4",
        57418 => "Numpad6",
        57419 => "Numpad8",
        57420 => "Numpad2",
        57421 => "Numpad9",
        57422 => "Numpad3",
        57423 => "Numpad7",
        57424 => "Numpad1",
        57425 => "Numpad0",
        57427 => "Numpad5",
        57428..=57430 => "MediaPlayPause",
        57432 => "MediaStop",
        57435 => "MediaTrackNext",
        57436 => "MediaTrackPrevious",
        57438 => "AudioVolumeDown",
        57439 => "AudioVolumeUp",
        57440 => "AudioVolumeMute",
        57441 => "ShiftLeft",
        57442 => "ControlLeft",
        57443 => "AltLeft",
        57444 | 57446 => "MetaLeft",
        57447 => "ShiftRight",
        57448 => "ControlRight",
        57449 | 57453 => "AltRight",
        57450 | 57452 => "MetaRight",
        _ => return None,
    };
    Some(Cow::Borrowed(name))
}

/// `button;column;row`, pressed or let go.
fn pointer(text: &str, is_down: bool) -> Option<Told> {
    let bits: u32 = text.split(';').next()?.parse().ok()?;
    let modifiers = Modifiers {
        shift: bits & 4 != 0,
        alt: bits & 8 != 0,
        control: bits & 16 != 0,
        meta: false,
    };
    // Movement is told too, by cells: nothing that a game's mouse says.
    if bits & 32 != 0 {
        return None;
    }
    match (bits & 0b1100_0000, bits & 3) {
        (0, 0) => Some(Told::Button("left", is_down, modifiers)),
        (0, 1) => Some(Told::Button("middle", is_down, modifiers)),
        (0, 2) => Some(Told::Button("right", is_down, modifiers)),
        (64, 0) => Some(Told::Notch(0, 1, modifiers)),
        (64, 1) => Some(Told::Notch(0, -1, modifiers)),
        (64, 2) => Some(Told::Notch(-1, 0, modifiers)),
        (64, 3) => Some(Told::Notch(1, 0, modifiers)),
        (128, 0) => Some(Told::Button("back", is_down, modifiers)),
        (128, 1) => Some(Told::Button("forward", is_down, modifiers)),
        _ => None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn told(parts: &[&str]) -> Vec<Told> {
        let (mut parser, mut all) = (Parser::default(), Vec::new());
        for part in parts {
            parser.take(part.as_bytes(), &mut |told| all.push(told));
        }
        all
    }

    fn key(told: &Told) -> (Option<&str>, Option<char>, Does) {
        match told {
            Told::Key(key) => (key.code.as_deref(), key.types, key.does),
            other => panic!("{other:?}"),
        }
    }

    #[test]
    fn keys_with_the_protocol_are_told_by_place_down_and_up() {
        use Does::{Down, Repeat, Up};
        for (bytes, code, types, does) in [
            ("\x1b[119;1:1u", None, Some('w'), Down),
            ("\x1b[119;1:2u", None, Some('w'), Repeat),
            ("\x1b[119;1:3u", None, Some('w'), Up),
            // A Cyrillic letter, and the key of the base layout behind it.
            ("\x1b[1094::119;1:1u", Some("KeyW"), Some('ц'), Down),
            ("\x1b[1094:1062:119;2u", Some("KeyW"), Some('ц'), Down),
            ("\x1b[57441;2:1u", Some("ShiftLeft"), None, Down),
            ("\x1b[57441;1:3u", Some("ShiftLeft"), None, Up),
            ("\x1b[57404u", Some("Numpad5"), None, Down),
            ("\x1b[57376u", Some("F13"), None, Down),
            ("\x1b[32u", Some("Space"), Some(' '), Down),
            ("\x1b[27u", Some("Escape"), None, Down),
            ("\x1b[1;1:3A", Some("ArrowUp"), None, Up),
            ("\x1b[3;5:1~", Some("Delete"), None, Down),
        ] {
            let all = told(&[bytes]);
            assert_eq!(all.len(), 1, "{bytes:?}");
            assert_eq!(key(&all[0]), (code, types, does), "{bytes:?}");
            let Told::Key(key) = &all[0] else { unreachable!() };
            assert!(key.is_told_whole, "{bytes:?}");
        }
    }

    #[test]
    fn keys_without_the_protocol_are_told_once() {
        for (bytes, code, types) in [
            ("w", None, Some('w')),
            ("ж", None, Some('ж')),
            ("\x1b[A", Some("ArrowUp"), None),
            ("\x1bOP", Some("F1"), None),
            ("\x1b[15~", Some("F5"), None),
            ("\r", Some("Enter"), None),
            ("\x7f", Some("Backspace"), None),
            ("\x03", None, Some('c')),
        ] {
            let all = told(&[bytes]);
            assert_eq!(all.len(), 1, "{bytes:?}");
            assert_eq!(key(&all[0]), (code, types, Does::Down), "{bytes:?}");
            let Told::Key(key) = &all[0] else { unreachable!() };
            assert!(!key.is_told_whole, "{bytes:?}");
            assert_eq!(key.modifiers.control, bytes == "\x03");
        }
        let Told::Key(key) = &told(&["W"])[0] else { panic!() };
        assert!(key.modifiers.shift && key.types == Some('w'));
        let Told::Key(key) = &told(&["\x1bx"])[0] else { panic!() };
        assert!(key.modifiers.alt && key.types == Some('x'));
    }

    #[test]
    fn a_sequence_may_come_in_pieces_and_a_lone_escape_is_a_key() {
        let whole = told(&["\x1b[1094::119;1:1u"]);
        let text = "\x1b[1094::119;1:1u";
        for cut in 1..text.len() {
            assert_eq!(told(&[&text[..cut], &text[cut..]]), whole, "{cut}");
        }
        assert_eq!(told(&["\u{436}"]).len(), 1);
        let mut parser = Parser::default();
        let mut all = Vec::new();
        parser.take(b"\x1b", &mut |told| all.push(told));
        assert!(all.is_empty() && parser.is_open());
        parser.close(&mut |told| all.push(told));
        assert_eq!(key(&all[0]).0, Some("Escape"));
        assert!(!parser.is_open());
    }

    #[test]
    fn the_mouse_and_the_focus_are_told() {
        let none = Modifiers::default();
        let alt = Modifiers { alt: true, ..none };
        for (bytes, wanted) in [
            ("\x1b[<0;3;4M", vec![Told::Button("left", true, none)]),
            ("\x1b[<2;3;4m", vec![Told::Button("right", false, none)]),
            ("\x1b[<128;3;4M", vec![Told::Button("back", true, none)]),
            ("\x1b[<72;3;4M", vec![Told::Notch(0, 1, alt)]),
            ("\x1b[<65;3;4M", vec![Told::Notch(0, -1, none)]),
            ("\x1b[<35;3;4M", vec![]),
            ("\x1b[I", vec![Told::Focus(true)]),
            ("\x1b[O", vec![Told::Focus(false)]),
        ] {
            assert_eq!(told(&[bytes]), wanted, "{bytes:?}");
        }
    }

    #[test]
    fn rubbish_is_passed_over() {
        let mut parser = Parser::default();
        let mut count = 0;
        for round in 0..2000_u32 {
            let bytes: Vec<u8> =
                (0..7_u32).map(|k| (round.wrapping_mul(2_654_435_761) >> (k * 4)) as u8).collect();
            parser.take(&bytes, &mut |_| count += 1);
            assert!(parser.kept.len() <= LONGEST + 7);
        }
        assert!(count > 0);
        // And what comes after it is heard.
        parser.take(&[b'0'; 2 * LONGEST], &mut |_| {});
        let mut last = None;
        parser.take(b"~~~~w", &mut |told| last = Some(told));
        assert_eq!(key(&last.expect("a key")).1, Some('w'));
    }
}
