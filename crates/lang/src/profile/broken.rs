//! What is no TOML, in our words.

use crate::report::{Diagnostic, FaultKind};
use crate::source::Span;

/// What the TOML reader says, by a part of it, in our words, and what to do. The first that fits
/// counts.
const SAID: &[(&str, &str, &str)] = &[
    (
        "cannot extend",
        "this has a value already, so nothing can stand in it",
        "keep the value or what stands in it, not both",
    ),
    ("recurs", "brackets stand too deep in one another", "write it with fewer brackets"),
    ("carriage return", "half a line break stands in a line", "take it out"),
    ("missing comma", "a comma is missing", "write a comma between the two"),
    ("extra comma", "there is a comma too many", "take it out"),
    ("extra", "there is an `=` too many", "take it out"),
    ("`=` in array", "an `=` stands in a list", "write a table in braces: `{ key = value }`"),
    ("missing assignment", "the key has no value", "write `key = value`"),
    ("key with no value", "the key has no value", "write `key = value`"),
    ("missing value", "nothing stands behind the `=`", "write the value, a text in quotes"),
    ("unclosed array table", "the table's name is not closed", "write `]]` behind it"),
    ("unclosed table", "the table's name is not closed", "write `]` behind it"),
    ("unclosed array", "the list is not closed", "write `]` behind its last value"),
    ("unclosed inline", "the table in braces is not closed", "write `}` behind its last value"),
    ("escaped", ESCAPE, ESCAPES),
    ("comment", "a control character stands in a comment", "take it out"),
    ("multi-line basic string", TEXT, "close it with `\"\"\"`"),
    ("multi-line literal string", TEXT, "close it with `'''`"),
    ("invalid basic string", TEXT, "close it with the same quote in the same line"),
    ("invalid literal string", TEXT, "close it with the same quote in the same line"),
    ("unexpected key or value", BEHIND, "write it in a line of its own"),
    ("unexpected content", BEHIND, "write it in a line of its own"),
    ("key", "this is no key", "a key has letters, digits, `-` and `_`, or stands in quotes"),
    ("table", "this is no name of a table", "write `[map.quay]`, say"),
    ("invalid date", "there is no such day", "write a text in quotes"),
    ("invalid time", "there is no such time", "write a text in quotes"),
];
const ESCAPE: &str = "this `\\` in a text begins nothing that is known";
const ESCAPES: &str = "write `\\\\` for the sign itself, or the text in single quotes";
const BEHIND: &str = "this stands behind the end of a value or a name";
const TEXT: &str = "the text is not closed, or has a control character in it";

/// What else it says is about numbers.
const NUMBERS: &[&str] = &[
    "`_`", "radix", "prefix", "sign", "zero", "number", "exponent", "float", "fraction",
    "mantissa", "digit", "integer",
];

/// The fault at `span`, where `written` stands, of which the TOML reader says `said`.
pub(crate) fn not_toml(said: &str, span: Span, written: &str) -> Diagnostic {
    // What it would take instead tells a `\\u` from a value.
    let said = if said.contains("unicode") { "escaped" } else { said };
    let said = said.split(", expected").next().unwrap_or(said);
    if said.contains("duplicate key") {
        let help = "keep one of them, or rename one";
        return Diagnostic::fault(FaultKind::UsedTwice, span, "this is defined already", help);
    }
    let known = SAID.iter().find(|(part, ..)| said.contains(part));
    let is_number = || NUMBERS.iter().any(|part| said.contains(part));
    let (message, help) = match known {
        Some((_, message, help)) => (*message, *help),
        None if is_number() => ("this is no number", "write 12, 0.5, -2 or 1e-3; a text in quotes"),
        None if written.eq_ignore_ascii_case("true") || written.eq_ignore_ascii_case("false") => {
            ("true and false are written in small letters", "write `true` or `false`")
        }
        None if written.is_empty() => ("a value is missing", "write a number, or a text in quotes"),
        None => (
            "this is neither a number nor a text in quotes",
            "write a text in quotes, and a comma between the values of a list",
        ),
    };
    Diagnostic::fault(FaultKind::Syntax, span, format!("this is not TOML: {message}"), help)
}
