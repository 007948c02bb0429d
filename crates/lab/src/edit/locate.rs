//! Where the things of a profile stand in its text.

use super::outline::{Form, Node, Outline};
use harmonym_lang::source::Span;
use std::collections::HashMap;

/// The places of every key of a text.
#[derive(Clone, Debug)]
pub struct Locator<'t> {
    text: &'t str,
    /// By path, its keys joined by a dot: no key that is sound has one.
    keys: HashMap<String, Span>,
    values: HashMap<String, Node>,
}

impl<'t> Locator<'t> {
    /// Finds every key of a text that is sound TOML.
    pub fn new(text: &'t str) -> Self {
        let outline = Outline::new(text);
        let (mut keys, mut values) = (HashMap::new(), HashMap::new());
        for section in &outline.sections {
            let Some(header) = &section.header else { continue };
            keys.insert(section.path().join("."), header.span);
        }
        for found in outline.entries() {
            let path = found.path();
            for count in found.before.len() + 1..=path.len() {
                let key = found.key_of(&path[..count]).span;
                keys.entry(path[..count].join(".")).or_insert(key);
            }
            values.insert(path.join("."), found.entry.value.clone());
        }
        Self { text, keys, values }
    }

    /// The place of a key's value, of an item of its list, or of a word of that; of the key, or
    /// of what it would stand in, where it is not written.
    pub fn span(&self, path: &[String], item: Option<usize>, word: Option<&str>) -> Span {
        let Some(node) = self.values.get(&path.join(".")) else {
            let known = (1..=path.len()).rev().find_map(|n| self.keys.get(&path[..n].join(".")));
            return known.copied().unwrap_or_default();
        };
        let span = match (&node.form, item) {
            (Form::Array(items), Some(index)) => items.get(index).map_or(node.span, |i| i.span),
            _ => node.span,
        };
        word.and_then(|word| self.word(span, word)).unwrap_or(span)
    }

    /// Where a word stands in a stretch of the text, by itself.
    fn word(&self, span: Span, word: &str) -> Option<Span> {
        let text = self.text.get(span.start..span.end)?;
        let is_part = |c: char| c.is_alphanumeric() || matches!(c, '-' | '.' | '#');
        text.match_indices(word).find_map(|(at, _)| {
            let before = text[..at].chars().next_back();
            let after = text[at + word.len()..].chars().next();
            let alone = !before.is_some_and(is_part) && !after.is_some_and(is_part);
            alone.then(|| Span::new(span.start + at, span.start + at + word.len()))
        })
    }
}
