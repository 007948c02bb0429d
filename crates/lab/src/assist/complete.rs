//! What may be written at a place of a profile.

use super::expression::{Wanted, wanted};
use super::keys::{Holding, holding};
use super::place::{At, place};
use super::{Entry, Item, ItemKind};
use harmonym_lang::profile::controls::meant;
use harmonym_lang::profile::cues::CueWord;
use harmonym_lang::profile::steps::StepWord;
use harmonym_lang::profile::table::{self, Holds, Key, Keyword, RULES, keys_at};
use harmonym_lang::profile::{Profile, read};
use harmonym_lang::report::Diagnostics;
use harmonym_lang::source::{Source, Span};
use harmonym_runtime::base::ControlKind;
use harmonym_runtime::controls::Catalogue;

/// What may be written at a byte of a profile's text, the likeliest first. `catalogue` has the controls
/// that there are.
pub fn complete(source: &Source, offset: usize, catalogue: &Catalogue) -> Vec<Item> {
    let text = source.text();
    let offset = text.floor_char_boundary(offset.min(text.len()));
    let found = place(text, offset);
    let raw = read(source, &mut Diagnostics::new());
    let table: Vec<&str> = found.table.iter().map(String::as_str).collect();
    let mut writer = Writer::new(&raw, catalogue, Span::new(offset, offset), "");
    writer.map = match table.as_slice() {
        ["map", map, ..] => map,
        _ => "",
    };
    match &found.at {
        At::Header(before, start) => {
            writer.span.start = *start;
            let before: Vec<&str> = before.iter().map(String::as_str).collect();
            writer.header(&before);
        }
        At::Key(before, start) => {
            writer.span.start = *start;
            let path: Vec<&str> =
                table.into_iter().chain(before.iter().map(String::as_str)).collect();
            writer.key(&path);
        }
        At::Value { keys, string, start, .. } => {
            let path: Vec<&str> =
                table.into_iter().chain(keys.iter().map(String::as_str)).collect();
            let begun = string.map_or(*start, |string| string.start);
            writer.span.start = begun;
            writer.value(&path, &text[begun..offset]);
            if string.is_none() {
                writer.quote(&path);
            }
        }
        At::Elsewhere => {}
    }
    writer.begun(text)
}

/// The items that may be written, gathered.
pub(super) struct Writer<'a> {
    raw: &'a Profile,
    catalogue: &'a Catalogue,
    /// What is replaced.
    pub span: Span,
    /// The map in whose table the place is.
    map: &'a str,
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
        self.items.push(Item {
            kind,
            label: label.to_owned(),
            insert: label.to_owned(),
            detail: detail.to_owned(),
            entry: None,
            span: self.span,
            query: None,
        });
        let last = self.items.len() - 1;
        &mut self.items[last]
    }

    fn words(&mut self, words: &'static [Keyword], topic: &'static str) {
        for word in words {
            self.add(ItemKind::Word, word.name, word.says).entry =
                Some(Entry { topic, word: word.name });
        }
    }

    fn header(&mut self, before: &[&str]) {
        match before {
            [] => {
                for key in table::TOP.iter().filter(|key| key.holds == Holds::Table) {
                    self.of_key(key, "");
                }
            }
            ["map"] => {
                let names: Vec<String> =
                    self.raw.maps.iter().map(|map| map.name.text.clone()).collect();
                names.iter().for_each(|name| {
                    self.add(ItemKind::Map, name, "map");
                });
            }
            _ => {}
        }
    }

    fn of_key(&mut self, key: &'static Key, behind: &str) {
        let topic =
            if table::MAP.iter().any(|one| std::ptr::eq(one, key)) { "maps" } else { "profile" };
        let item = self.add(ItemKind::Key, key.name, key.says);
        item.insert = format!("{}{behind}", key.name);
        item.entry = Some(Entry { topic, word: key.name });
    }

    fn key(&mut self, path: &[&str]) {
        if let ["map", _, _, "bind"] = path {
            let schemes: Vec<String> =
                self.raw.schemes.iter().map(|one| one.name.text.clone()).collect();
            for scheme in schemes.iter().map(String::as_str).chain(["all"]) {
                self.add(ItemKind::Scheme, scheme, "scheme").insert = format!("{scheme} = ");
            }
            return;
        }
        for key in keys_at(path) {
            match (key.name, key.holds) {
                ("bind", _) => self.of_key(key, "."),
                (_, Holds::Table) if path.is_empty() => {}
                ("levels" | "controls" | "as", _) => self.of_key(key, " = { "),
                _ => self.of_key(key, " = "),
            }
        }
    }

    fn value(&mut self, path: &[&str], before: &str) {
        match holding(path) {
            Holding::Expression(of) => {
                let (wanted, start) = wanted(of, before);
                self.span.start += start;
                let word = before[start..].to_owned();
                self.wanted(&wanted, &word);
            }
            Holding::Words(words) => self.words(words, topic_of(path)),
            Holding::Actions => self.actions(""),
            Holding::Classes => {
                let classes: Vec<String> = self
                    .catalogue
                    .classes()
                    .map(|class| self.catalogue.word(class).to_owned())
                    .collect();
                classes.iter().for_each(|class| {
                    self.add(ItemKind::Word, class, "a class of devices");
                });
            }
            Holding::Controls => {
                let word = before.to_owned();
                self.controls(&word);
            }
            Holding::Kinds => {
                for kind in ControlKind::ALL {
                    self.add(ItemKind::Word, kind.word(), "a kind of control");
                }
            }
            Holding::Rules => {
                for rule in RULES {
                    self.add(ItemKind::Word, rule, "a rule of the checker");
                }
            }
            Holding::Switch => {
                self.add(ItemKind::Word, "true", "");
                self.add(ItemKind::Word, "false", "");
            }
            Holding::Other => {}
        }
    }

    /// Puts quotes around texts, where none are there yet.
    fn quote(&mut self, path: &[&str]) {
        if holding(path) == Holding::Switch {
            return;
        }
        for item in &mut self.items {
            item.insert = format!("\"{}\"", item.insert.trim_end());
        }
    }

    fn wanted(&mut self, wanted: &Wanted, word: &str) {
        match wanted {
            Wanted::Control(inside) => {
                if word.strip_prefix("act.").is_some() {
                    self.actions("act.");
                    return;
                }
                if inside.is_some_and(|name| matches!(name, "pair" | "four")) {
                    self.option("opposed");
                }
                if *inside == Some("four") {
                    self.option("corner");
                }
                if !word.contains('.') {
                    for form in table::COMBINATIONS {
                        let item = self.add(ItemKind::Word, form.form, form.says);
                        item.insert = format!("{}(", form.name);
                        item.entry = Some(Entry { topic: "bindings", word: form.name });
                    }
                }
                self.controls(word);
            }
            Wanted::Step => {
                for text in StepWord::ALL.iter().map(|step| step.text()) {
                    let item = self.add(ItemKind::Step, text.word, text.gives);
                    item.insert = first(text.form).to_owned();
                    item.entry = Some(Entry { topic: "steps", word: text.word });
                }
                self.presets();
            }
            Wanted::Preset => self.presets(),
            Wanted::OfStep(step) => {
                step.text().options.iter().for_each(|option| self.option(option));
                self.add(ItemKind::Word, "when", "only while a setting or fact is not 0");
                self.add(ItemKind::Word, "unless", "only while a setting or fact is 0");
                self.numbers();
                self.components(*step);
            }
            Wanted::Cue => {
                for text in CueWord::ALL.iter().map(|cue| cue.text()) {
                    let item = self.add(ItemKind::Cue, text.word, text.fires);
                    item.insert = first(text.form).to_owned();
                    item.entry = Some(Entry { topic: "cues", word: text.word });
                }
            }
            Wanted::OfCue(cue) => {
                let digits = word.trim_end_matches(|c: char| c.is_alphabetic());
                if digits.starts_with(|c: char| c.is_ascii_digit()) {
                    for (unit, says) in [("s", "seconds"), ("ms", "thousandths of a second")] {
                        self.add(ItemKind::Word, &format!("{digits}{unit}"), says);
                    }
                    return;
                }
                cue.text().options.iter().for_each(|option| self.option(option));
                for (word, says) in [
                    ("or", "another cue beside it"),
                    ("with", "only while another action is live"),
                    ("without", "only while another action is not live"),
                    ("when", "only while a setting or fact is not 0"),
                    ("unless", "only while a setting or fact is 0"),
                ] {
                    self.add(ItemKind::Word, word, says).insert = format!("{word} ");
                }
                self.numbers();
            }
            Wanted::Action => self.actions(""),
            Wanted::Number => self.numbers(),
            Wanted::Choice(words) => {
                words.iter().for_each(|word| {
                    self.add(ItemKind::Word, word.name, word.says);
                });
            }
            Wanted::Nothing => {}
        }
    }

    fn option(&mut self, option: &str) {
        self.add(ItemKind::Word, &format!("{option}="), "an option");
    }

    fn components(&mut self, step: StepWord) {
        let words: &[&str] = match step {
            StepWord::Flip | StepWord::Onto => &["x", "y", "z"],
            StepWord::Pick => &["x", "y", "z", "length"],
            StepWord::Order => &["yx", "zyx", "zxy", "xzy"],
            _ => &[],
        };
        words.iter().for_each(|word| {
            self.add(ItemKind::Word, word, "a component");
        });
    }

    fn presets(&mut self) {
        let all: Vec<(String, String)> = self
            .raw
            .presets
            .iter()
            .map(|one| (one.name.text.clone(), one.steps.value().to_owned()))
            .collect();
        for (name, steps) in all {
            self.add(ItemKind::Preset, &format!("@{name}"), &steps);
        }
    }

    fn numbers(&mut self) {
        self.numbers_of(None);
    }

    /// Settings, or facts, or both.
    pub fn numbers_of(&mut self, is_setting: Option<bool>) {
        let all: Vec<(String, &str, String)> = self
            .raw
            .variables
            .iter()
            .filter(|one| is_setting.is_none_or(|wanted| wanted == one.is_setting))
            .map(|one| {
                let kind = if one.is_setting { "setting" } else { "fact" };
                let about =
                    one.about.as_ref().map_or(String::new(), |about| about.value().to_owned());
                (one.name.text.clone(), kind, about)
            })
            .collect();
        for (name, kind, about) in all {
            let detail =
                if about.is_empty() { kind.to_owned() } else { format!("{kind}: {about}") };
            self.add(ItemKind::Number, &name, &detail);
        }
    }

    /// The actions: those of the own map by their names alone.
    pub fn actions(&mut self, before: &str) {
        let mut all = Vec::new();
        for map in &self.raw.maps {
            for action in &map.actions {
                let name = &action.name.text;
                let about = action.about.as_ref().map_or("", |about| about.value());
                let label = match map.name.text == self.map {
                    true => format!("{before}{name}"),
                    false => format!("{before}{}.{name}", map.name.text),
                };
                all.push((label, about.to_owned()));
            }
        }
        for (label, about) in all {
            self.add(ItemKind::Action, &label, &about);
        }
    }

    /// The controls that go by a word, or by several; all of them where nothing is written yet.
    pub fn controls(&mut self, query: &str) {
        let words: Vec<String> = query
            .split(|c: char| c.is_whitespace())
            .filter(|w| !w.is_empty())
            .map(str::to_owned)
            .collect();
        let lower = query.to_lowercase();
        let mut found: Vec<(u8, &str, String)> = Vec::new();
        let tried = meant(query.trim(), self.catalogue);
        for entry in self.catalogue.entries() {
            let rank = match &*entry.name {
                name if name.starts_with(query) => 0,
                name if tried.iter().any(|one| one == name) => 1,
                name if name.to_lowercase().contains(&lower) => 2,
                _ if entry.has_phrase(&words) => 3,
                _ if entry.matches(&words) => 4,
                _ => continue,
            };
            found.push((rank, &entry.name, format!("{}, {}", entry.kind.word(), entry.place)));
        }
        found.sort_by_key(|(rank, ..)| *rank);
        let found: Vec<(String, String)> =
            found.into_iter().map(|(_, name, place)| (name.to_owned(), place)).collect();
        for (name, place) in found {
            let item = self.add(ItemKind::Control, &name, &place);
            item.query = Some(query.to_owned());
        }
    }
}

fn topic_of(path: &[&str]) -> &'static str {
    match path.last() {
        Some(&"blend") => "bindings",
        Some(&"kind") => "maps",
        _ => "profile",
    }
}

/// The first of the forms that a step or cue is told with.
fn first(form: &'static str) -> &'static str {
    form.split(", or ").next().unwrap_or(form)
}
