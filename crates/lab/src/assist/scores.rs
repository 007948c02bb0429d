//! What may be written at a place of a score.

use super::writer::Writer;
use super::{Entry, Item, ItemKind};
use crate::score::forms::{HEADERS, LineText, VERBS};
use harmonym_lang::profile::{Profile, read};
use harmonym_lang::report::Diagnostics;
use harmonym_lang::source::{Source, Span};
use harmonym_runtime::controls::{Catalogue, Layout};

/// What an expectation may say behind its action.
const EVENTS: &[(&str, &str)] = &[
    ("wakes", "it begins to be held"),
    ("fires", "it fires"),
    ("lapses", "it ends without having fired"),
    ("rests", "it ends after it fired"),
    ("never", "none of an event comes"),
];
/// What may stand behind an event.
const BEHIND: &[(&str, &str)] = &[
    ("once", "one time"),
    ("twice", "two times"),
    ("at", "at a moment"),
    ("between", "from one moment to another"),
    ("before", "before a moment"),
    ("after", "after a moment"),
    ("by", "by a cue, as it is written"),
    ("because", "for a cause"),
];

/// What may be written at a byte of a score for a profile.
pub fn complete_in_score(
    score: &Source,
    offset: usize,
    profile: &Source,
    catalogue: &Catalogue,
) -> Vec<Item> {
    let text = score.text();
    let offset = text.floor_char_boundary(offset.min(text.len()));
    let line = text[..offset].rfind('\n').map_or(0, |at| at + 1);
    let before = text[line..offset].trim_start_matches('\u{feff}');
    let start = before.rfind(char::is_whitespace).map_or(0, |at| at + 1);
    let word = before[start..].to_owned();
    let words: Vec<&str> = before[..start].split_whitespace().collect();
    let raw = read(profile, &mut Diagnostics::new());
    let span = Span::new(offset - word.len(), offset);
    let mut writer = Writer::new(&raw, catalogue, span, "");
    let verb = |place: usize| words.get(place).copied().unwrap_or_default();
    match words.as_slice() {
        [] => {
            lines(&mut writer, HEADERS);
            for (word, says) in [
                ("at", "counts from the start: at 0.5s …"),
                ("after", "counts from the end of the line before: after 0.5s …"),
                ("expect", "what has to come: expect tie-knot fires once"),
            ] {
                let item = writer.add(ItemKind::Word, word, says);
                item.insert = format!("{word} ");
                item.entry =
                    (word == "expect").then_some(Entry { topic: "scores", word: "expect" });
            }
        }
        ["start"] | ["at" | "after", _, "open" | "close"] | ["expect", "map"] => {
            names(&mut writer, ItemKind::Map, &raw);
        }
        ["layout"] => {
            for layout in Layout::all() {
                writer.add(ItemKind::Word, layout.word(), layout.title());
            }
        }
        ["at" | "after", _] => lines(&mut writer, VERBS),
        ["at" | "after", _, "scheme"] | ["expect", "scheme"] => {
            names(&mut writer, ItemKind::Scheme, &raw);
            writer.add(ItemKind::Word, "all", "all bindings count");
        }
        ["at" | "after", _, "setting" | "fact"] => {
            let is_setting = verb(2) == "setting";
            writer.numbers(Some(is_setting));
        }
        ["at" | "after", _, "pause" | "resume" | "seat" | "plug" | "unplug", ..] => {}
        ["at" | "after", _, _] => writer.controls(&word),
        ["at" | "after", _, "press", _] => add(&mut writer, "for", "how long it stays down"),
        ["at" | "after", _, "push", _] => add(&mut writer, "to", "where it goes"),
        ["at" | "after", _, "drag", _] => add(&mut writer, "by", "how far it goes"),
        ["at" | "after", _, "drift", _] => add(&mut writer, "at", "what is added"),
        ["at" | "after", _, "noise", _] => add(&mut writer, "of", "how much is added"),
        ["at" | "after", _, "release", _] | ["at" | "after", _, "push" | "drag", _, _, ..] => {
            add(&mut writer, "over", "how long it takes");
        }
        ["expect"] => {
            writer.actions("");
            add(&mut writer, "scheme", "which scheme is in use");
            add(&mut writer, "map", "whether a map is open");
        }
        ["expect", _] => {
            EVENTS.iter().for_each(|(word, says)| add(&mut writer, word, says));
            add(&mut writer, "=", "what game code reads");
        }
        ["expect", _, .., "because"] => {
            for cause in harmonym_runtime::engine::Cause::ALL {
                writer.add(ItemKind::Word, cause.word(), "a cause");
            }
        }
        ["expect", _, _, ..] => BEHIND.iter().for_each(|(word, says)| add(&mut writer, word, says)),
        _ => {}
    }
    writer.begun(text)
}

fn add(writer: &mut Writer<'_>, word: &str, says: &str) {
    writer.add(ItemKind::Word, word, says).insert = format!("{word} ");
}

fn lines(writer: &mut Writer<'_>, lines: &'static [LineText]) {
    for line in lines {
        let item = writer.add(ItemKind::Word, line.word, line.says);
        item.insert = format!("{} ", line.word);
        item.entry = Some(Entry { topic: "scores", word: line.word });
    }
}

fn names(writer: &mut Writer<'_>, kind: ItemKind, raw: &Profile) {
    let all: Vec<&str> = match kind {
        ItemKind::Map => raw.maps.iter().map(|one| one.name.text.as_str()).collect(),
        _ => raw.schemes.iter().map(|one| one.name.text.as_str()).collect(),
    };
    for name in all {
        writer.add(kind, name, if kind == ItemKind::Map { "map" } else { "scheme" });
    }
}
