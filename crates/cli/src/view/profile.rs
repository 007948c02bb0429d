//! The profile at a glance, and one map as a table.

use super::table::table;
use super::{action, said, things};
use crate::escape::one_line;
use crate::output::style::{Ink, Look, hung};
use harmonym_lang::model::{Action, ActionId, Cue, Guard, Map, Profile};
use harmonym_runtime::base::{Id, MapId, MapKind};

/// All that is in a profile, a table for each map; with `all` also the whole way of each action.
pub fn glance(profile: &Profile, all: bool, look: Look) -> String {
    let title = profile.title.as_deref().unwrap_or("A profile without a title");
    let about = said(profile.about.as_deref());
    let heading =
        format!("{}{about}\n{}\n", look.paint(Ink::Strong, one_line(title)), counts(profile));
    let mut text = hung(&heading, look.width);
    text.push_str(&things::tables(profile, look));
    for map in profile.maps.ids() {
        text.push('\n');
        text.push_str(&one_map(profile, map, all, look));
    }
    text
}

/// One map as a table; with `all` also the whole way of each action.
pub fn one_map(profile: &Profile, id: MapId, all: bool, look: Look) -> String {
    let map = &profile.maps[id];
    let mut text = hung(&map_heading(map, look), look.width);
    if map.actions.is_empty() && map.also.is_empty() {
        text.push_str("no actions yet\n");
        return text;
    }
    let own = map.actions.iter().flat_map(|&id| rows(profile, id));
    let also = map.also.iter().map(|&id| {
        let kind = profile.actions[id].kind.word().to_owned();
        let as_there = format!("as in {}", profile.maps[profile.actions[id].map].name);
        [profile.address(id), kind, String::new(), as_there, String::new()]
    });
    let rows = own.chain(also).collect();
    text.push_str(&table(look, ["action", "value", "scheme", "binding", "fires"], rows));
    if all {
        for &id in &map.actions {
            text.push_str(&format!("\n{}", action::text(profile, id, look)));
        }
    }
    text
}

/// What a map is called, how it lies with others, and what it is about.
fn map_heading(map: &Map, look: Look) -> String {
    let starts = match (map.kind, map.start) {
        (MapKind::Always, _) => "",
        (_, true) => ", open at the start",
        (_, false) => "",
    };
    let about = said(map.about.as_deref());
    format!("{} ({} map{starts}){about}\n", look.paint(Ink::Strong, &map.name), map.kind.word())
}

/// One row a binding; what is the same as in the row above is left out.
fn rows(profile: &Profile, id: ActionId) -> Vec<[String; 5]> {
    let action = &profile.actions[id];
    let mut last: Option<&str> = None;
    let mut rows: Vec<[String; 5]> = Vec::new();
    for binding in &action.bindings {
        let name = profile.scheme_name(binding);
        let scheme = if last.replace(name) != Some(name) { name.to_owned() } else { String::new() };
        rows.push([String::new(), String::new(), scheme, binding.text.clone(), String::new()]);
    }
    if rows.is_empty() {
        let follows = matches!(action.fire.first().map(|a| &a.cue), Some(Cue::Sequence { .. }));
        let none = if follows { "follows other actions" } else { "not bound yet" };
        rows.push(["", "", "", none, ""].map(str::to_owned));
    }
    if let Some([name, value, _, _, fires]) = rows.first_mut() {
        (*name, *value, *fires) =
            (action.name.clone(), action.kind.word().to_owned(), rule(profile, action));
    }
    rows
}

/// A fire rule as written.
pub fn rule(profile: &Profile, action: &Action) -> String {
    let all = action.fire.iter().map(|alternative| {
        let guards =
            alternative.guards.iter().map(|guard| format!(" {}", guard_words(profile, *guard)));
        format!("{}{}", alternative.text, guards.collect::<String>())
    });
    all.collect::<Vec<_>>().join(" or ")
}

/// A guard as written.
pub fn guard_words(profile: &Profile, guard: Guard) -> String {
    match guard {
        Guard::With(other) => format!("with {}", profile.address(other)),
        Guard::Without(other) => format!("without {}", profile.address(other)),
        Guard::When(named) => format!("when {}", profile.variables[named].name),
        Guard::Unless(named) => format!("unless {}", profile.variables[named].name),
    }
}

/// How many of each thing there are.
pub fn counts(profile: &Profile) -> String {
    let bindings: usize = profile.actions.iter().map(|a| a.bindings.len()).sum();
    let many = |n: usize, word: &str| format!("{n} {word}{}", if n == 1 { "" } else { "s" });
    let maps = many(profile.maps.len(), "map");
    let last = profile.actions.ids().next_back().map_or(0, |id| id.index() + 1);
    format!("{maps}, {}, {}", many(last, "action"), many(bindings, "binding"))
}
