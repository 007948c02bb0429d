//! The profile at a glance, and one map as a table.

use super::table::table;
use crate::output::style::{Ink, Look, wrapped};
use harmonym_lang::model::{Action, ActionId, Cue, Guard, Map, Profile, Variable};
use harmonym_runtime::base::{Id, MapId, MapKind};

/// A setting or fact in a line.
fn named_words(named: &Variable) -> String {
    let kind = if named.is_setting { "setting" } else { "fact" };
    let value = match (named.is_switch, named.default) {
        (true, 0.0) => "off".to_owned(),
        (true, _) => "on".to_owned(),
        (false, value) => format!("{value}{}", named.unit.as_deref().unwrap_or_default()),
    };
    let range = named.range.map_or(String::new(), |(least, most)| format!(" ({least} to {most})"));
    let about = named.about.as_ref().map_or(String::new(), |about| format!(": {about}"));
    format!("{kind} {} = {value}{range}{about}", named.name)
}

/// More rows than this are more than a screen.
const SCREEN: usize = 24;

/// All maps, each as a table; where that is more than a screen, only what is in them.
pub fn glance(profile: &Profile, look: Look) -> String {
    let whole = tables(profile, look);
    if whole.lines().count() <= SCREEN {
        return whole;
    }
    let mut text = heading(profile, look);
    let named = |is_setting| {
        let of_kind = profile.variables.iter().filter(move |named| named.is_setting == is_setting);
        of_kind.map(|named| named.name.as_str()).collect::<Vec<_>>()
    };
    let presets = profile.presets.iter().map(|(name, _)| name.as_str()).collect();
    for (what, names) in [("settings", named(true)), ("facts", named(false)), ("presets", presets)]
    {
        if !names.is_empty() {
            text.push_str(&wrapped(&format!("{what}: {}", names.join(", ")), look.width));
            text.push('\n');
        }
    }
    for map in profile.maps.iter() {
        let own = map.actions.iter().map(|&id| &profile.actions[id]);
        let own = own.map(|action| format!("{} ({})", action.name, action.kind.word()));
        let also = map.also.iter().map(|&id| profile.address(id));
        let names: Vec<_> = own.chain(also).collect();
        let names = if names.is_empty() { "no actions yet".to_owned() } else { names.join(", ") };
        text.push_str(&map_heading(map, look));
        for line in wrapped(&names, look.width.saturating_sub(2)).lines() {
            text.push_str(&format!("  {line}\n"));
        }
    }
    text
}

fn heading(profile: &Profile, look: Look) -> String {
    let title = profile.title.as_deref().unwrap_or("A profile without a title");
    let mut text = look.paint(Ink::Strong, title);
    let schemes = profile.schemes.iter().map(|scheme| {
        let classes: Vec<_> =
            scheme.classes.iter().map(|&class| profile.catalogue.word(class)).collect();
        format!("{} ({})", scheme.name, classes.join(", "))
    });
    let schemes: Vec<_> = schemes.collect();
    text.push_str(&format!("\nschemes: {}\n", schemes.join(", ")));
    text
}

/// All maps, each as a table.
fn tables(profile: &Profile, look: Look) -> String {
    let mut text = heading(profile, look);
    for named in profile.variables.iter() {
        text.push_str(&format!("{}\n", named_words(named)));
    }
    for (name, steps) in &profile.presets {
        text.push_str(&format!("@{name} = {steps}\n"));
    }
    for map in profile.maps.ids() {
        text.push('\n');
        text.push_str(&one_map(profile, map, look));
    }
    text
}

/// One map as a table.
pub fn one_map(profile: &Profile, id: MapId, look: Look) -> String {
    let map = &profile.maps[id];
    let mut text = map_heading(map, look);
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
    text
}

/// What a map is called, how it lies with others, and what it is about.
fn map_heading(map: &Map, look: Look) -> String {
    let starts = match (map.kind, map.start) {
        (MapKind::Always, _) => "",
        (_, true) => ", open at the start",
        (_, false) => "",
    };
    let about = map.about.as_ref().map_or(String::new(), |about| format!(": {about}"));
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
