//! What may be written in a player's file, and what stands there.

use super::look::word_at;
use super::place::{At, place};
use super::writer::Writer;
use super::{Item, ItemKind, Subject};
use crate::edit::Thing;
use harmonym_lang::profile::{Profile, read};
use harmonym_lang::report::Diagnostics;
use harmonym_lang::source::{Source, Span};
use harmonym_runtime::controls::Catalogue;

/// What may be written at a byte of a player's file over a profile.
pub fn complete_in_player(
    player: &Source,
    offset: usize,
    profile: &Source,
    catalogue: &Catalogue,
) -> Vec<Item> {
    let text = player.text();
    let offset = text.floor_char_boundary(offset.min(text.len()));
    let found = place(text, offset);
    let raw = read(profile, &mut Diagnostics::new());
    let mut writer = Writer::new(&raw, catalogue, Span::new(offset, offset), "");
    let table: Vec<&str> = found.table.iter().map(String::as_str).collect();
    match &found.at {
        At::Header(before, start) => {
            writer.span.start = *start;
            match before.iter().map(String::as_str).collect::<Vec<_>>().as_slice() {
                [] => {
                    writer.add(ItemKind::Key, "setting", "what the player set");
                    writer.add(
                        ItemKind::Key,
                        "replace",
                        "controls in the place of others: [replace.\"quay.walk@desk\"]",
                    );
                    writer.add(ItemKind::Key, "also", "controls besides");
                }
                ["replace"] => owners(&mut writer, &raw),
                _ => {}
            }
        }
        At::Key(before, start) => {
            writer.span.start = *start;
            match (table.as_slice(), before.as_slice()) {
                ([], []) => {
                    writer.add(ItemKind::Key, "harmonym-player", "the version of the format, 1");
                }
                (["setting"], []) => {
                    writer.numbers(Some(true));
                    for item in &mut writer.items {
                        item.insert.push_str(" = ");
                    }
                }
                (["also"], []) => owners(&mut writer, &raw),
                (["replace", of], []) => {
                    for control in controls_of(&raw, of) {
                        let item = writer.add(ItemKind::Control, &control, "bound in the profile");
                        item.insert = format!("\"{control}\" = ");
                    }
                }
                _ => {}
            }
        }
        At::Value { keys, string, start, .. } => {
            let path: Vec<&str> =
                table.into_iter().chain(keys.iter().map(String::as_str)).collect();
            let begun = string.map_or(*start, |string| string.start);
            writer.span.start = begun;
            if matches!(path.as_slice(), ["replace", _, _] | ["also", _]) {
                writer.controls(&text[begun..offset]);
                if path[0] == "replace" {
                    writer.add(ItemKind::Word, "none", "no control at all");
                }
                if string.is_none() {
                    for item in &mut writer.items {
                        item.insert = format!("\"{}\"", item.insert);
                    }
                }
            }
        }
        At::Elsewhere => {}
    }
    writer.begun(text)
}

/// The actions with their schemes: `"quay.walk@desk"`.
fn owners(writer: &mut Writer<'_>, raw: &Profile) {
    for map in &raw.maps {
        for action in &map.actions {
            for (scheme, _) in &action.binds {
                let of = format!("{}.{}@{}", map.name.text, action.name.text, scheme.text);
                let about = action.about.as_ref().map_or("", |about| about.value());
                writer.add(ItemKind::Action, &of, about).insert = format!("\"{of}\"");
            }
        }
    }
}

/// The controls that the bindings of an action in a scheme name.
fn controls_of(raw: &Profile, of: &str) -> Vec<String> {
    let Some((address, scheme)) = of.split_once('@') else { return Vec::new() };
    let Some((map, name)) = address.split_once('.') else { return Vec::new() };
    let maps = raw.maps.iter().filter(|one| one.name.text == map);
    let actions = maps.flat_map(|map| &map.actions).filter(|one| one.name.text == name);
    let binds = actions.flat_map(|one| &one.binds).filter(|(own, _)| own.text == scheme);
    let words = binds.flat_map(|(_, list)| list).flat_map(|binding| {
        let is_word = |c: char| c.is_alphanumeric() || matches!(c, '-' | '.' | '#');
        let words = binding.from.value().split(move |c| !is_word(c));
        words.filter(|word| word.contains('.') && !word.starts_with(|c: char| c.is_ascii_digit()))
    });
    let mut found: Vec<String> = Vec::new();
    for word in words {
        if !found.iter().any(|known| known == word) {
            found.push(word.to_owned());
        }
    }
    found
}

/// What stands at a byte of a player's file, and where.
pub fn look_in_player(player: &Source, offset: usize) -> Option<(Span, Vec<Subject>)> {
    let span = word_at(player.text(), offset)?;
    let word = player.slice(span);
    let found = place(player.text(), span.end);
    let table: Vec<&str> = found.table.iter().map(String::as_str).collect();
    let owner = |word: &str| {
        let (map, rest) = word.split_once('.')?;
        let name = rest.split_once('@').map_or(rest, |(name, _)| name);
        Some(Subject::Thing(Thing::Action(map.to_owned(), name.to_owned())))
    };
    let subject = match (table.as_slice(), &found.at) {
        (_, At::Header(..)) | (["also"], At::Key(..)) => owner(word)?,
        (["setting"], At::Key(..)) => Subject::Thing(Thing::Setting(word.to_owned())),
        (["replace", _], At::Key(..)) | (["replace", _] | ["also"], At::Value { .. }) => {
            Subject::Control(word.to_owned())
        }
        _ => return None,
    };
    Some((span, vec![subject]))
}
