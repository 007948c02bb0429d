//! What is wrong in a line of a take, in our words.

use super::line::Components;
use harmonym_lang::report::{Diagnostic, FaultKind, nearest};
use harmonym_lang::source::Span;
use serde_json::error::Category;
use serde_json::value::RawValue;
use std::borrow::Cow;
use std::collections::BTreeMap;

/// What is wrong in the line at hand, before its number is known.
pub(super) struct LineFault {
    message: String,
    help: String,
    /// What in the line it is about; the whole line if it isn't found there.
    about: Option<String>,
}

impl LineFault {
    pub fn new(message: impl Into<String>, help: impl Into<String>) -> Self {
        Self { message: message.into(), help: help.into(), about: None }
    }

    pub fn about(mut self, text: &str) -> Self {
        self.about = Some(text.to_owned());
        self
    }
}

/// What is wrong in a line, at its place in it.
pub(super) fn in_line(line: &str, fault: LineFault) -> Diagnostic {
    let about = fault.about.as_deref().and_then(|text| Some((line.find(text)?, text)));
    let (start, text) = about.unwrap_or((0, line));
    let span = Span::new(start, start + text.len());
    Diagnostic::fault(FaultKind::Syntax, span, fault.message, fault.help)
}

/// What is wrong in a line that is not one of a take's objects; `error` is what the JSON reader
/// says of one that begins as an object.
pub(super) fn not_json(line: &str, error: Option<&serde_json::Error>) -> Diagnostic {
    let Some(error) = error else {
        let help = "write `{\"t\":0.5,\"control\":\"key.Space\",\"value\":1}`, say";
        return in_line(line, LineFault::new("every line of a take is one JSON object", help));
    };
    let text = error.to_string();
    let said = text.split(" at line ").next().unwrap_or(&text);
    if error.classify() == Category::Data {
        let of_field = of_field(said).map(|fault| in_line(line, fault));
        return of_field.or_else(|| wrong_kind(line)).unwrap_or_else(|| {
            in_line(line, LineFault::new("this is no line of a take", "see the reference"))
        });
    }
    let start = line.floor_char_boundary(error.column().saturating_sub(1));
    let width = line[start..].chars().next().map_or(0, char::len_utf8);
    let (message, help) = match error.classify() {
        Category::Eof => ("the line ends before its object does", "close its quotes and brackets"),
        _ => in_words(said),
    };
    Diagnostic::fault(FaultKind::Syntax, Span::new(start, start + width), message, help)
}

/// What the JSON reader says of a key, in our words.
fn of_field(said: &str) -> Option<LineFault> {
    let (what, field) = said.strip_suffix('`').unwrap_or(said).split_once(" field `")?;
    let (field, known) = field.split_once('`').unwrap_or((field, ""));
    let (message, help) = match what {
        "unknown" => {
            let known = known.split('`').filter(|word| word.chars().all(char::is_alphabetic));
            let help = match nearest(field, known.filter(|word| !word.is_empty())) {
                Some(near) => format!("did you mean `\"{near}\"`?"),
                None => "take the key out".to_owned(),
            };
            (format!("`{field}` is not a key of this line"), help)
        }
        "missing" => (format!("`{field}` is missing"), format!("write `\"{field}\":…`")),
        _ => (format!("`{field}` is given twice"), "keep one of them".to_owned()),
    };
    Some(LineFault::new(message, help).about(&format!("\"{field}\"")))
}

/// What the value of a key is.
#[derive(Clone, Copy)]
enum Wanted {
    Whole,
    Flag,
    Text,
    TextOrNull,
    Texts,
    Numbers,
}

impl Wanted {
    fn fits(self, json: &str) -> bool {
        fn is<'a, T: serde::Deserialize<'a>>(json: &'a str) -> bool {
            serde_json::from_str::<T>(json).is_ok()
        }
        match self {
            Self::Whole => is::<u64>(json),
            Self::Flag => is::<bool>(json),
            Self::Text | Self::TextOrNull => is::<Option<Cow<'_, str>>>(json),
            Self::Texts => is::<Option<Vec<Cow<'_, str>>>>(json),
            Self::Numbers => is::<Option<Components>>(json),
        }
    }

    const fn words(self) -> &'static str {
        match self {
            Self::Whole => "a whole number",
            Self::Flag => "true or false",
            Self::Text => "a text",
            Self::TextOrNull => "a text, or null for all",
            Self::Texts => "a list of texts",
            Self::Numbers => "a number, or a list of at most four numbers",
        }
    }
}

/// What each key takes, with an example.
const KEYS: [(&str, Wanted, &str); 20] = [
    ("take", Wanted::Whole, "1"),
    ("title", Wanted::Text, "\"Two hails\""),
    ("start", Wanted::Text, "\"quay\""),
    ("layout", Wanted::Text, "\"us\""),
    ("seats", Wanted::Whole, "1"),
    ("devices", Wanted::Texts, "[\"key#1\",\"pad#1\"]"),
    ("control", Wanted::Text, "\"key.Space\""),
    ("value", Wanted::Numbers, "1"),
    ("by", Wanted::Numbers, "[3,-2]"),
    ("open", Wanted::Text, "\"quay\""),
    ("close", Wanted::Text, "\"quay\""),
    ("fact", Wanted::Text, "\"on-deck\""),
    ("setting", Wanted::Text, "\"look-speed\""),
    ("seat", Wanted::Whole, "1"),
    ("plug", Wanted::Text, "\"pad#2\""),
    ("unplug", Wanted::Text, "\"pad#2\""),
    ("give", Wanted::Text, "\"pad#2\""),
    ("pause", Wanted::Flag, "true"),
    ("tick", Wanted::Flag, "true"),
    ("scheme", Wanted::TextOrNull, "\"pad\""),
];

/// The first key whose value is of another kind than it takes.
fn wrong_kind(line: &str) -> Option<Diagnostic> {
    let values: BTreeMap<Cow<'_, str>, &RawValue> = serde_json::from_str(line).ok()?;
    KEYS.iter().find_map(|(key, wanted, example)| {
        let json = values.get(*key)?.get();
        let start = json.as_ptr().addr() - line.as_ptr().addr();
        let span = Span::new(start, start + json.len());
        let message = format!("`{key}` is {}", wanted.words());
        let help = format!("write `\"{key}\":{example}`");
        let fault = || Diagnostic::fault(FaultKind::WrongKind, span, message, help);
        (!wanted.fits(json)).then(fault)
    })
}

/// What the JSON reader says of the text, in our words, and what to do: by a part of what it says.
const SAID: &[(&str, &str, &str)] = &[
    ("control character", "a control character stands in a text", "write it as `\\u001b`"),
    ("escape", "this `\\` begins nothing that JSON knows", "write `\\\\` for the sign itself"),
    ("surrogate", "this `\\u` is half of a character", "write both halves, or the character"),
    ("unicode", "this `\\u` is no character", "write the character itself"),
    ("out of range", "the number is too large", "write one below 1e308"),
    ("number", "this is no number of JSON", "write 1, 0.5, -2 or 1e-3"),
    ("key must be", "a key stands without quotes", "write `\"t\"`"),
    ("trailing comma", "there is a comma too many", "take it out"),
    ("trailing", "there is more behind the line's object", "write a line for each object"),
    ("expected `:`", "the key has no value", "write `\"key\":value`"),
    ("expected `,`", "a comma or a closing bracket is missing", "write it here"),
    ("recursion", "brackets stand too deep in one another", "take them out"),
];

fn in_words(said: &str) -> (&'static str, &'static str) {
    let known = SAID.iter().find(|(part, ..)| said.contains(part));
    known.map_or(
        ("this is no value of JSON", "write a number, a text in quotes, true or false"),
        |(_, message, help)| (message, help),
    )
}
