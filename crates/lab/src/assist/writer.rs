//! What may be written, gathered: names of the profile, and controls by any words.

use super::{Item, ItemKind};
use harmonym_lang::profile::Profile;
use harmonym_lang::profile::controls::meant;
use harmonym_lang::source::Span;
use harmonym_runtime::controls::Catalogue;

pub(super) struct Writer<'a> {
    pub raw: &'a Profile,
    pub catalogue: &'a Catalogue,
    /// What is replaced.
    pub span: Span,
    /// The map in whose table the place is.
    pub map: &'a str,
    pub items: Vec<Item>,
}

impl<'a> Writer<'a> {
    pub fn new(raw: &'a Profile, catalogue: &'a Catalogue, span: Span, map: &'a str) -> Self {
        Self { raw, catalogue, span, map, items: Vec::new() }
    }

    /// What goes on with the word that is begun, or has it in it; all, if nothing does.
    pub fn begun(self, text: &str) -> Vec<Item> {
        let word = |item: &Item| {
            let span = item.span;
            text.get(span.start..span.end).unwrap_or_default().trim_matches('"').to_lowercase()
        };
        let has = |item: &&Item| item.query.is_some() || item.label.contains(&word(item));
        let mut found: Vec<Item> = self.items.iter().filter(has).cloned().collect();
        found.sort_by_key(|item| item.query.is_none() && !item.label.starts_with(&word(item)));
        if found.is_empty() { self.items } else { found }
    }

    pub fn add(&mut self, kind: ItemKind, label: &str, detail: &str) -> &mut Item {
        let last = self.items.len();
        self.items.push(Item {
            kind,
            label: label.to_owned(),
            insert: label.to_owned(),
            detail: detail.to_owned(),
            entry: None,
            span: self.span,
            query: None,
        });
        &mut self.items[last]
    }

    pub fn presets(&mut self) {
        for one in &self.raw.presets {
            self.add(ItemKind::Preset, &format!("@{}", one.name.text), one.steps.value());
        }
    }

    /// Settings, or facts, or both.
    pub fn numbers(&mut self, is_setting: Option<bool>) {
        let raw = self.raw;
        let asked = |is: bool| is_setting.is_none_or(|wanted| wanted == is);
        for one in raw.variables.iter().filter(|one| asked(one.is_setting)) {
            let kind = if one.is_setting { "setting" } else { "fact" };
            let detail = match &one.about {
                Some(about) => format!("{kind}: {}", about.value()),
                None => kind.to_owned(),
            };
            self.add(ItemKind::Number, &one.name.text, &detail);
        }
    }

    /// The actions: those of the own map by their names alone.
    pub fn actions(&mut self, before: &str) {
        for map in &self.raw.maps {
            for action in &map.actions {
                let name = &action.name.text;
                let about = action.about.as_ref().map_or("", |about| about.value());
                let label = match map.name.text == self.map {
                    true => format!("{before}{name}"),
                    false => format!("{before}{}.{name}", map.name.text),
                };
                self.add(ItemKind::Action, &label, about);
            }
        }
    }

    /// The controls that go by a word, or by several; all of them where nothing is written yet.
    pub fn controls(&mut self, query: &str) {
        let words: Vec<String> = query.split_whitespace().map(str::to_owned).collect();
        let lower = query.to_lowercase();
        let catalogue = self.catalogue;
        let tried = meant(query.trim(), catalogue);
        let mut found = Vec::new();
        for entry in catalogue.entries() {
            let rank = match &*entry.name {
                name if name.starts_with(query) => 0,
                name if tried.iter().any(|one| one == name) => 1,
                name if name.to_lowercase().contains(&lower) => 2,
                _ if entry.has_phrase(&words) => 3,
                _ if entry.matches(&words) => 4,
                _ => continue,
            };
            found.push((rank, entry));
        }
        found.sort_by_key(|(rank, _)| *rank);
        for (_, entry) in found {
            let detail = format!("{}, {}", entry.kind.word(), entry.place);
            self.add(ItemKind::Control, &entry.name, &detail).query = Some(query.to_owned());
        }
    }
}
