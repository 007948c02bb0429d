//! Text from files and names as it may stand on a terminal, in a picture or a protocol.

use std::borrow::Cow;
use std::fmt::Write;

/// Whether a letter does something else than being shown: control characters, line and paragraph
/// separators, and what overrides the direction of text (Unicode's bidirectional formatting
/// characters, UAX #9 table 2).
fn is_command(letter: char) -> bool {
    letter.is_control()
        || matches!(letter,
            '\u{61c}' | '\u{200e}' | '\u{200f}' | '\u{202a}'..='\u{202e}'
            | '\u{2066}'..='\u{2069}' | '\u{2028}' | '\u{2029}' | '\u{feff}')
}

/// A text of one line with all that would not be shown written out: `\u{1b}`.
pub fn shown(text: &str) -> Cow<'_, str> {
    if !text.contains(is_command) {
        return Cow::Borrowed(text);
    }
    let mut out = String::new();
    for letter in text.chars() {
        match letter {
            _ if !is_command(letter) => out.push(letter),
            '\t' => out.push(' '),
            // Writing to memory does not fail.
            _ => drop(write!(out, "\\u{{{:x}}}", u32::from(letter))),
        }
    }
    Cow::Owned(out)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_would_command_a_terminal_is_written_out() {
        for (text, wanted) in [
            ("Hail the boat", "Hail the boat"),
            ("\u{1b}[2Jgone", "\\u{1b}[2Jgone"),
            ("a\tb\r\n", "a b\\u{d}\\u{a}"),
            ("\u{9b}2J", "\\u{9b}2J"),
            ("eohce\u{202e} x", "eohce\\u{202e} x"),
            ("\u{2066}x\u{2069}", "\\u{2066}x\\u{2069}"),
            ("日本 é", "日本 é"),
        ] {
            assert_eq!(shown(text), wanted);
        }
    }
}
