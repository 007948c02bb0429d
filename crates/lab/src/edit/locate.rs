//! Where the things of a profile stand in its text.

use super::outline::{Form, Node, Outline};
use harmonym_lang::profile::table;
use harmonym_lang::source::Span;
use std::collections::HashMap;

/// A section of a text, or a key that holds what a section could.
#[derive(Clone, Debug, PartialEq)]
pub struct Stretch {
    /// The keys that lead to it.
    pub path: Vec<String>,
    /// Its header's last key, or its own.
    pub key: Span,
    /// All of it.
    pub whole: Span,
}

/// The sections of a text in their order, with what stands in them as one key: presets, and actions
/// that are written as `name = { … }` or `name.key = …`.
pub fn stretches(text: &str) -> Vec<Stretch> {
    let outline = Outline::new(text);
    let owned = |path: &[&str]| path.iter().map(|&key| key.to_owned()).collect::<Vec<_>>();
    let mut all: Vec<Stretch> = Vec::new();
    let mut entries = outline.entries().into_iter().peekable();
    for (place, section) in outline.sections.iter().enumerate() {
        let (path, first) = (section.path(), all.len());
        if let Some(header) = &section.header {
            let whole = Span::new(header.span.start, section.end().unwrap_or(header.span.end));
            let key = header.keys.last().map_or(header.span, |key| key.span);
            all.push(Stretch { path: owned(&path), key, whole });
        }
        while let Some(found) = entries.next_if(|one| one.section == place) {
            let own = found.path();
            let length = match own.as_slice() {
                ["map", _, _, ..] => 3,
                ["preset" | "scheme" | "setting" | "fact" | "device", _, ..] => 2,
                _ => continue,
            };
            let is_key_of_map = length == 3 && table::MAP.iter().any(|key| key.name == own[2]);
            if path.len() >= length || found.before.len() >= length || is_key_of_map {
                continue;
            }
            let (path, whole) = (owned(&own[..length]), found.entry.span());
            match all[first..].iter_mut().find(|one| one.path == path) {
                Some(known) => known.whole.end = known.whole.end.max(whole.end),
                None => all.push(Stretch { path, key: found.key_of(&own[..length]).span, whole }),
            }
        }
    }
    all
}

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
