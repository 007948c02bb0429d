//! TOML values of the type asked for, or a fault at their place.

use crate::report::{Diagnostics, FaultKind, did_you_mean, nearest};
use crate::source::{Quoted, Source, Span};
use crate::syntax::Word;
use std::fmt::Display;
use toml::Spanned;
use toml::de::{DeTable, DeValue};

use super::table::Key;

pub(crate) type Value<'a> = Spanned<DeValue<'a>>;

/// Reads values out of one file and tells what is wrong with them.
pub(crate) struct Reader<'a> {
    pub source: &'a Source,
    pub diagnostics: &'a mut Diagnostics,
}

/// The type of a value, for people.
fn type_of(value: &DeValue<'_>) -> &'static str {
    match value {
        DeValue::String(_) => "a text",
        DeValue::Integer(_) | DeValue::Float(_) => "a number",
        DeValue::Boolean(_) => "true or false",
        DeValue::Datetime(_) => "a date",
        DeValue::Array(_) => "a list",
        DeValue::Table(_) => "a table",
    }
}

impl Reader<'_> {
    fn wrong_type(&mut self, key: impl Display, value: &Value<'_>, wanted: &str, example: &str) {
        let found = type_of(value.get_ref());
        let message = format!("`{key}` is {wanted}, not {found}");
        let help = format!("write `{example}`");
        self.diagnostics.fault(FaultKind::WrongKind, value.span().into(), message, help);
    }

    pub fn text(&mut self, key: impl Display, value: &Value<'_>) -> Option<Quoted> {
        match value.get_ref() {
            DeValue::String(text) => {
                let span = value.span().into();
                Some(Quoted::new(self.source.text(), span, text.as_ref()))
            }
            _ => {
                let example = format!("{key} = \"…\"");
                self.wrong_type(key, value, "a text", &example);
                None
            }
        }
    }

    pub fn boolean(&mut self, key: impl Display, value: &Value<'_>) -> Option<(bool, Span)> {
        match value.get_ref() {
            DeValue::Boolean(yes) => Some((*yes, value.span().into())),
            _ => {
                let example = format!("{key} = true");
                self.wrong_type(key, value, "true or false", &example);
                None
            }
        }
    }

    pub fn number(&mut self, key: impl Display, value: &Value<'_>) -> Option<(f64, Span)> {
        let parsed = match value.get_ref() {
            DeValue::Integer(number) => {
                i64::from_str_radix(number.as_str(), number.radix()).ok().map(|n| n as f64)
            }
            DeValue::Float(number) => number.as_str().parse().ok(),
            _ => {
                let example = format!("{key} = 0.5");
                self.wrong_type(key, value, "a number", &example);
                return None;
            }
        };
        match parsed.filter(|number: &f64| number.is_finite()) {
            Some(number) => Some((number, value.span().into())),
            None => {
                let (span, message) =
                    (value.span().into(), format!("`{key}` is not a finite number"));
                self.diagnostics.fault(
                    FaultKind::OutOfRange,
                    span,
                    message,
                    "write a plain number",
                );
                None
            }
        }
    }

    /// A text, or a list of texts.
    pub fn texts(&mut self, key: impl Display + Copy, value: &Value<'_>) -> Vec<Quoted> {
        match value.get_ref() {
            DeValue::Array(list) => {
                list.iter().filter_map(|one| self.text_of_list(key, one)).collect()
            }
            _ => self.text_of_list(key, value).into_iter().collect(),
        }
    }

    /// A text where a list of them may stand too.
    pub fn text_of_list(&mut self, key: impl Display, value: &Value<'_>) -> Option<Quoted> {
        match value.get_ref() {
            DeValue::String(_) => self.text(key, value),
            _ => {
                let example = format!("{key} = [\"…\"]");
                self.wrong_type(key, value, "a text or a list of texts", &example);
                None
            }
        }
    }

    pub fn table<'v, 'i>(
        &mut self,
        key: impl Display,
        value: &'v Value<'i>,
    ) -> Option<&'v DeTable<'i>> {
        match value.get_ref() {
            DeValue::Table(table) => Some(table),
            _ => {
                let example = format!("[{key}]");
                self.wrong_type(key, value, "a table", &example);
                None
            }
        }
    }

    /// Whether `key` is among `known`; if not, that is told.
    pub fn is_known(&mut self, key: &Word, known: &[Key], of: &str) -> bool {
        let is_known = known.iter().any(|k| k.name == key.text);
        if !is_known {
            self.unknown_key(key, known, of);
        }
        is_known
    }

    /// Tells that `key` is none of those that are `known`.
    pub fn unknown_key(&mut self, key: &Word, known: &[Key], of: &str) {
        let name = key.text.as_str();
        let names = known.iter().map(|k| k.name);
        let help = did_you_mean(nearest(name, names.clone()), || {
            format!("the keys of {of} are {}", names.collect::<Vec<_>>().join(", "))
        });
        let message = format!("`{name}` is not a key of {of}");
        self.diagnostics.fault(FaultKind::UnknownKey, key.span, message, help);
    }
}

/// The entries of a table in file order.
pub(crate) fn entries<'v, 'i>(table: &'v DeTable<'i>) -> Vec<(Word, &'v Value<'i>)> {
    let mut entries: Vec<_> = table
        .iter()
        .map(|(key, value)| {
            let word = Word { text: key.get_ref().to_string(), span: key.span().into() };
            (word, value)
        })
        .collect();
    entries.sort_by_key(|(key, _)| key.span);
    entries
}
