//! The profile at a glance, and one map as a table.

use super::style::{Ink, Look};
use super::table::table;
use harmonym_core::base::{ActionId, Id, MapId, SchemeId};
use harmonym_core::model::{Action, Profile};

/// All maps, each as a table.
pub fn glance(profile: &Profile, look: Look) -> String {
    let title = profile.title.as_deref().unwrap_or("A profile without a title");
    let mut text = look.paint(Ink::Strong, title);
    let schemes = profile.schemes.iter().map(|scheme| {
        let classes: Vec<_> = scheme.classes.iter().map(|c| c.word()).collect();
        format!("{} ({})", scheme.name, classes.join(", "))
    });
    let schemes: Vec<_> = schemes.collect();
    text.push_str(&format!("\nschemes: {}\n", schemes.join(", ")));
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
    let starts = if map.start { ", open at the start" } else { "" };
    let about = map.about.as_ref().map_or(String::new(), |about| format!(": {about}"));
    let heading = look.paint(Ink::Strong, &map.name);
    let mut text = format!("{heading} (solo map{starts}){about}\n");
    if map.actions.is_empty() {
        text.push_str("no actions yet\n");
        return text;
    }
    let rows = map.actions.iter().flat_map(|&id| rows(profile, id)).collect();
    text.push_str(&table(look, ["action", "value", "scheme", "binding", "fires"], rows));
    text
}

/// One row a binding; what is the same as in the row above is left out.
fn rows(profile: &Profile, id: ActionId) -> Vec<[String; 5]> {
    let action = &profile.actions[id];
    let mut last: Option<SchemeId> = None;
    let mut rows: Vec<[String; 5]> = Vec::new();
    for binding in &action.bindings {
        let is_new = last.replace(binding.scheme) != Some(binding.scheme);
        let scheme =
            if is_new { profile.schemes[binding.scheme].name.clone() } else { String::new() };
        rows.push([String::new(), String::new(), scheme, binding.text.clone(), String::new()]);
    }
    if rows.is_empty() {
        rows.push(["", "", "", "not bound yet", ""].map(str::to_owned));
    }
    if let Some([name, value, _, _, fires]) = rows.first_mut() {
        (*name, *value, *fires) =
            (action.name.clone(), action.kind.word().to_owned(), rule(action));
    }
    rows
}

/// A fire rule as written.
pub fn rule(action: &Action) -> String {
    let all: Vec<_> = action.fire.iter().map(|a| a.text.as_str()).collect();
    all.join(" or ")
}

/// How many of each thing there are.
pub fn counts(profile: &Profile) -> String {
    let bindings: usize = profile.actions.iter().map(|a| a.bindings.len()).sum();
    let many = |n: usize, word: &str| format!("{n} {word}{}", if n == 1 { "" } else { "s" });
    let maps = many(profile.maps.len(), "map");
    let last = profile.actions.ids().next_back().map_or(0, |id| id.index() + 1);
    format!("{maps}, {}, {}", many(last, "action"), many(bindings, "binding"))
}
