//! Characters that do something else than being shown, and JSON without them.

use std::borrow::Cow;
use std::fmt::Write;

/// Whether a letter does something else than being shown: control characters, line and paragraph
/// separators, what overrides the direction of text (Unicode's bidirectional formatting
/// characters, UAX #9 table 2), and noncharacters.
pub fn is_command(letter: char) -> bool {
    letter.is_control()
        || matches!(letter,
            '\u{61c}' | '\u{200e}' | '\u{200f}' | '\u{202a}'..='\u{202e}'
            | '\u{2066}'..='\u{2069}' | '\u{2028}' | '\u{2029}' | '\u{feff}'
            | '\u{fdd0}'..='\u{fdef}' | '\u{fffe}' | '\u{ffff}')
}

/// Whether nothing in it can be a command, found quickly for most texts.
pub fn is_plain(text: &str) -> bool {
    let is_quiet = |byte: &u8| matches!(byte, b' '..=b'~' | b'\n');
    // Without leaving early, so that many bytes are looked at together.
    text.as_bytes().iter().fold(true, |all, byte| all & is_quiet(byte))
        || !text.contains(|letter| letter != '\n' && is_command(letter))
}

/// Lines of JSON of the same meaning, in which all that would not be shown is escaped: `\u001b`.
pub fn shown_json(text: &str) -> Cow<'_, str> {
    if is_plain(text) {
        return Cow::Borrowed(text);
    }
    let mut out = String::new();
    for letter in text.chars() {
        match letter {
            // Writing to memory does not fail.
            _ if letter != '\n' && is_command(letter) => {
                let _ = write!(out, "\\u{:04x}", u32::from(letter));
            }
            _ => out.push(letter),
        }
    }
    Cow::Owned(out)
}
