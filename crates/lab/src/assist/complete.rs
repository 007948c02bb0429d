//! What may be written at a place of a profile.

use super::expression::{Expression, Wanted, wanted};
use super::keys::{Holding, holding, topic_of_key, topic_of_words};
use super::place::{At, place};
use super::writer::Writer;
use super::{Entry, Item, ItemKind};
use harmonym_lang::profile::cues::CueWord;
use harmonym_lang::profile::read;
use harmonym_lang::profile::steps::StepWord;
use harmonym_lang::profile::table::{self, Holds, Key, Keyword, RULES, first_form, keys_at};
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

/// What may be written at the end of a binding that stands by itself.
pub fn complete_binding(text: &str, profile: &Source, catalogue: &Catalogue) -> Vec<Item> {
    let raw = read(profile, &mut Diagnostics::new());
    let mut writer = Writer::new(&raw, catalogue, Span::new(0, text.len()), "");
    writer.expression(Expression::Binding, text);
    writer.begun(text)
}

impl Writer<'_> {
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
                    self.of_key("profile", key, "");
                }
            }
            ["map"] => {
                for map in &self.raw.maps {
                    self.add(ItemKind::Map, &map.name.text, "map");
                }
            }
            _ => {}
        }
    }

    fn of_key(&mut self, topic: &'static str, key: &'static Key, behind: &str) {
        let item = self.add(ItemKind::Key, key.name, key.says);
        item.insert = format!("{}{behind}", key.name);
        item.entry = Some(Entry { topic, word: key.name });
    }

    fn key(&mut self, path: &[&str]) {
        if let ["map", _, _, "bind"] = path {
            let schemes = self.raw.schemes.iter().map(|one| one.name.text.as_str());
            for scheme in schemes.chain(["all"]) {
                self.add(ItemKind::Scheme, scheme, "scheme").insert = format!("{scheme} = ");
            }
            return;
        }
        for key in keys_at(path) {
            let own: Vec<&str> = path.iter().copied().chain([key.name]).collect();
            let behind = match (key.name, key.holds) {
                (_, Holds::Table) if path.is_empty() => continue,
                ("bind", _) => ".",
                ("levels" | "controls" | "as", _) => " = { ",
                _ => " = ",
            };
            self.of_key(topic_of_key(&own), key, behind);
        }
    }

    fn expression(&mut self, of: Expression, before: &str) {
        let (wanted, start) = wanted(of, before);
        self.span.start += start;
        self.wanted(&wanted, &before[start..]);
    }

    fn value(&mut self, path: &[&str], before: &str) {
        match holding(path) {
            Holding::Expression(of) => self.expression(of, before),
            Holding::Words(words) => self.words(words, topic_of_words(path)),
            Holding::Actions => self.actions(""),
            Holding::Classes => {
                let catalogue = self.catalogue;
                for class in catalogue.classes() {
                    self.add(ItemKind::Word, catalogue.word(class), "a class of devices");
                }
            }
            Holding::Controls => self.controls(before),
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
                    item.insert = first_form(text.form).to_owned();
                    item.entry = Some(Entry { topic: "steps", word: text.word });
                }
                self.presets();
            }
            Wanted::Preset => self.presets(),
            Wanted::OfStep(step) => {
                step.text().options.iter().for_each(|option| self.option(option));
                self.add(ItemKind::Word, "when", "only while a setting or fact is not 0");
                self.add(ItemKind::Word, "unless", "only while a setting or fact is 0");
                self.numbers(None);
                self.components(*step);
            }
            Wanted::Cue => {
                for text in CueWord::ALL.iter().map(|cue| cue.text()) {
                    let item = self.add(ItemKind::Cue, text.word, text.fires);
                    item.insert = first_form(text.form).to_owned();
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
                self.numbers(None);
            }
            Wanted::Action => self.actions(""),
            Wanted::Number => self.numbers(None),
            Wanted::Choice(words) => {
                for word in *words {
                    self.add(ItemKind::Word, word.name, word.says);
                }
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
        for word in words {
            self.add(ItemKind::Word, word, "a component");
        }
    }
}
