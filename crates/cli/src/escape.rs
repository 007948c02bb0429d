//! Text from files and names as it may stand on a terminal, in a picture or a protocol.

pub use harmonym_lab::told::letters::shown_json;
use harmonym_lab::told::letters::{is_command, is_plain};
use std::borrow::Cow;
use std::fmt::Write;
use std::hash::{BuildHasher, Hasher, RandomState};
use std::path::Path;
use std::sync::LazyLock;

/// Unicode keeps it for uses inside of a program (a noncharacter).
const NONCHARACTER: char = '\u{fdd0}';

/// Begins a style in text that goes to a terminal: this, numbers, `m`. It stands for the characters
/// `ESC [`. No text from outside can bring it along: it is another each time the program runs.
pub fn mark() -> &'static str {
    static MARK: LazyLock<String> = LazyLock::new(|| {
        let number = RandomState::new().build_hasher().finish();
        format!("{NONCHARACTER}{number:016x}")
    });
    &MARK
}

/// A letter that is a command written out: `\u{1b}`.
fn write_out(out: &mut String, letter: char) {
    // Writing to memory does not fail.
    let _ = write!(out, "\\u{{{:x}}}", u32::from(letter));
}

/// A text of one line with all that would not be shown written out: `\u{1b}`.
pub fn shown(text: &str) -> Cow<'_, str> {
    if !text.contains(is_command) {
        return Cow::Borrowed(text);
    }
    let mut out = String::new();
    for letter in text.chars() {
        match letter {
            '\t' => out.push(' '),
            _ if is_command(letter) => write_out(&mut out, letter),
            _ => out.push(letter),
        }
    }
    Cow::Owned(out)
}

/// A text of several lines as one: no line of it can be taken for another's.
pub fn one_line(text: &str) -> Cow<'_, str> {
    let is_break = |letter: char| letter.is_whitespace() && letter != ' ';
    if !text.contains(is_break) {
        return Cow::Borrowed(text);
    }
    Cow::Owned(text.split_whitespace().collect::<Vec<_>>().join(" "))
}

/// A path as it stands in a sentence.
pub fn named(path: &Path) -> String {
    shown(&path.to_string_lossy()).into_owned()
}

/// A word as a shell takes it: in quotes where it needs them.
pub fn quoted(word: &str) -> String {
    let is_plain = |letter: char| letter.is_alphanumeric() || "-_./+,:@%".contains(letter);
    match !word.is_empty() && !word.starts_with('-') && word.chars().all(is_plain) {
        true => word.to_owned(),
        // POSIX.1, Shell Command Language, 2.2.2: nothing between single quotes means anything else.
        false => format!("'{}'", word.replace('\'', "'\\''")),
    }
}

/// Lines as they go to a terminal: our own styles as the codes for them, every other command
/// written out.
pub fn styled(text: &str) -> Cow<'_, str> {
    if is_plain(text) {
        return Cow::Borrowed(text);
    }
    let mut out = String::new();
    let mut rest = text;
    while let Some(at) = rest.find(is_command) {
        let (before, from) = rest.split_at(at);
        out.push_str(before);
        if let Some(styled) = from.strip_prefix(mark())
            && styled.split_once('m').is_some_and(|(numbers, _)| is_style(numbers))
        {
            out.push_str("\u{1b}[");
            rest = styled;
            continue;
        }
        let letter = from.chars().next().unwrap_or_default();
        rest = &from[letter.len_utf8()..];
        match letter {
            '\n' | '\t' => out.push(letter),
            _ => write_out(&mut out, letter),
        }
    }
    out.push_str(rest);
    Cow::Owned(out)
}

/// Whether these are the numbers of a style that hides nothing (ECMA-48, SGR): weight, slant,
/// underline, and colours of the text.
fn is_style(numbers: &str) -> bool {
    let number = |text: &str| text.parse::<u8>().ok();
    match numbers.split(';').collect::<Vec<_>>().as_slice() {
        ["38", "5", color] => number(color).is_some(),
        [one] => number(one).is_some_and(|one| matches!(one, 0..=4 | 30..=37 | 90..=97)),
        _ => false,
    }
}

/// Text in which another library put codes for styles, and nothing else of that kind, with our
/// marks for them.
pub fn marked(text: &str) -> String {
    text.replace("\u{1b}[", mark())
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

    #[test]
    fn styles_are_ours_alone() {
        for (text, wanted) in [
            (&*marked("\u{1b}[1mHail\u{1b}[0m\n"), "\u{1b}[1mHail\u{1b}[0m\n"),
            (&marked("\u{1b}[38;5;12mblue"), "\u{1b}[38;5;12mblue"),
            // Those of texts from outside are no marks.
            ("\u{fdd0}1mHail\u{fdd0}0m\n", "\\u{fdd0}1mHail\\u{fdd0}0m\n"),
            ("\u{fdd0}00000000000000001m", "\\u{fdd0}00000000000000001m"),
            ("\u{1b}[1mHail", "\\u{1b}[1mHail"),
            ("a\tb\r\n", "a\tb\\u{d}\n"),
            ("\u{7f}\u{9b}2J日", "\\u{7f}\\u{9b}2J日"),
        ] {
            assert_eq!(styled(text), wanted);
        }
        for hidden in ["8mhidden", "2J", "2;8m"] {
            let told = styled(&marked(&format!("\u{1b}[{hidden}"))).into_owned();
            assert!(told.starts_with("\\u{fdd0}") && told.ends_with(hidden), "{told}");
        }
    }

    #[test]
    fn json_means_the_same() {
        let text = "a\u{7f}\u{202e}\u{fdd0}日\u{9b}";
        let line = serde_json::to_string(text).unwrap() + "\n";
        let safe = shown_json(&line);
        assert_eq!(safe, "\"a\\u007f\\u202e\\ufdd0日\\u009b\"\n");
        assert_eq!(serde_json::from_str::<String>(&safe).unwrap(), text);
    }

    #[test]
    fn a_folder_is_told_as_a_shell_takes_it() {
        for (word, told) in [
            ("my-game", "my-game"),
            ("spiele/hafen_2", "spiele/hafen_2"),
            ("a; x", "'a; x'"),
            ("it's", r"'it'\''s'"),
            ("-f", "'-f'"),
            ("$(x)", "'$(x)'"),
            ("~", "'~'"),
            ("", "''"),
        ] {
            assert_eq!(quoted(word), told);
        }
    }
}
