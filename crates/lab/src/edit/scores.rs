//! What a score names of the profile.

use super::names::{Gatherer, Thing};
use harmonym_lang::profile::{Map, Profile};
use harmonym_lang::source::{Quoted, Source, Span};
use harmonym_runtime::base::ControlName;

/// What a score renames when a thing of the profile has another name: stretches of its text, each
/// with the new one.
pub fn renamed_in_score(
    raw: &Profile,
    source: &Source,
    thing: &Thing,
    new: &str,
) -> Vec<(Span, String)> {
    let mut splices = Vec::new();
    for (start, line) in source.lines() {
        let words = score_words(line);
        let text = |i: usize| words.get(i).map_or("", |&(from, to)| &line[from..to]);
        // After `at T` or `after T` comes what happens.
        let first = if matches!(text(0), "at" | "after") { 2 } else { 0 };
        let names = match (text(first), text(first + 1)) {
            ("start" | "open" | "close", name) => {
                (name == thing.name() && matches!(thing, Thing::Map(_))).then_some(first + 1)
            }
            ("scheme", name) => scheme_at(thing, name, first + 1),
            ("setting", name) => (*thing == Thing::Setting(name.to_owned())).then_some(first + 1),
            ("fact", name) => (*thing == Thing::Fact(name.to_owned())).then_some(first + 1),
            ("expect", "scheme") => scheme_at(thing, text(first + 2), first + 2),
            _ => None,
        };
        let at = |i: usize| {
            let (from, to) = words[i];
            Span::new(start + from, start + to)
        };
        if let Some(index) = names {
            splices.push((at(index), new.to_owned()));
        } else if text(first) == "expect" {
            let name = text(first + 1);
            splices.extend(expected(raw, thing, name, new).map(|name| (at(first + 1), name)));
            let by = (first + 2..words.len()).find(|&i| text(i) == "by");
            if let Some(index) = by.map(|i| i + 1).filter(|&i| i < words.len()) {
                let map = expected_map(raw, name);
                let quoted = Quoted::new(source.text(), at(index), text(index).trim_matches('"'));
                splices.extend(in_cue(raw, &map, &quoted, thing, new));
            }
        } else if let Thing::Device(device) = thing
            && ControlName::new(text(first + 1)).class == device
        {
            let span = at(first + 1);
            splices.push((Span::new(span.start, span.start + device.len()), new.to_owned()));
        }
    }
    splices
}

fn scheme_at(thing: &Thing, name: &str, index: usize) -> Option<usize> {
    (*thing == Thing::Scheme(name.to_owned())).then_some(index)
}

/// The words of a line of a score, texts in quotes whole, up to a comment.
fn score_words(line: &str) -> Vec<(usize, usize)> {
    let mut words = Vec::new();
    let mut at = 0;
    while let Some(c) = line[at..].chars().next() {
        let rest = &line[at..];
        let len = match c {
            _ if c.is_whitespace() => {
                at += c.len_utf8();
                continue;
            }
            '#' => break,
            '"' => rest[1..].find('"').map_or(rest.len(), |i| i + 2),
            '=' | '(' | ')' | ',' => 1,
            _ => rest.find([' ', '\t', '=', '(', ')', ',', '\r']).unwrap_or(rest.len()).max(1),
        };
        words.push((at, at + len));
        at += len;
    }
    words
}

/// The map of the action that an expectation names.
fn expected_map(raw: &Profile, name: &str) -> String {
    match name.split_once('.') {
        Some((map, _)) => map.to_owned(),
        None => {
            let has = |map: &&Map| map.actions.iter().any(|a| a.name.text == name);
            raw.maps.iter().find(has).map_or_else(String::new, |map| map.name.text.clone())
        }
    }
}

/// The name that an expectation has afterwards, when that is another.
fn expected(raw: &Profile, thing: &Thing, name: &str, new: &str) -> Option<String> {
    let map = expected_map(raw, name);
    let own = name.split_once('.').map_or(name, |(_, own)| own);
    match thing {
        Thing::Map(old) if *old == map && name.contains('.') => Some(format!("{new}.{own}")),
        Thing::Action(of, old) if *of == map && old == own => Some(match name.contains('.') {
            true => format!("{map}.{new}"),
            false => new.to_owned(),
        }),
        _ => None,
    }
}

/// The same for a cue in quotes.
fn in_cue(
    raw: &Profile,
    map: &str,
    text: &Quoted,
    thing: &Thing,
    new: &str,
) -> Vec<(Span, String)> {
    let mut gatherer = Gatherer::new(raw, map);
    gatherer.fire(text);
    let renamed = gatherer.all.iter().map(|m| (m.span, m.renamed(thing, new)));
    renamed.filter_map(|(span, text)| Some((span, text?))).collect()
}
