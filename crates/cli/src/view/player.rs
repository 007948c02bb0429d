//! What a player changed, and what may be changed.

use super::table::table;
use crate::output::style::{Ink, Look};
use harmonym_lab::told::{self, Start};
use harmonym_lang::model::{ActionId, Profile};
use harmonym_lang::player::{Applied, NONE, Open, Player, Worth};
use harmonym_lang::source::Source;
use harmonym_runtime::base::shortest;
use serde::Serialize;

/// A player's file, the profile, and what comes of both.
pub struct Told<'a> {
    pub profile: &'a Profile,
    pub file: &'a Player,
    pub applied: &'a Applied,
}

/// What differs from the profile, then what may be changed at all.
pub fn text(told: &Told<'_>, only: Option<ActionId>, look: Look) -> String {
    let Told { profile, file, .. } = told;
    let of = only.map(|id| profile.address(id));
    let is_meant =
        |owner: &str| of.as_ref().is_none_or(|of| owner.split('@').next() == Some(of.as_str()));
    let mut rows: Vec<[String; 3]> = Vec::new();
    for one in file.settings.iter().filter(|_| of.is_none()) {
        let variable = profile.variables.iter().find(|known| known.name == one.name.text);
        let shipped = variable.map_or(String::new(), |known| match known.is_switch {
            true => on(known.default != 0.0).to_owned(),
            false => shortest(known.default).to_string(),
        });
        rows.push([format!("setting {}", one.name.text), shipped, worth(one.value)]);
    }
    for one in file.replaced.iter().filter(|one| is_meant(&one.of.text)) {
        let new = if one.new.text == NONE { "–".to_owned() } else { one.new.text.clone() };
        rows.push([one.of.text.clone(), one.old.text.clone(), new]);
    }
    for one in file.also.iter().filter(|one| is_meant(&one.of.text)) {
        rows.push([one.of.text.clone(), "–".to_owned(), one.control.text.clone()]);
    }
    let mut out = match rows.is_empty() {
        true => "Nothing differs from the profile.\n".to_owned(),
        false => table(look, ["what", "profile", "player"], rows),
    };
    let fixed: Vec<String> = profile
        .actions
        .entries()
        .filter(|(id, action)| !action.rebind && only.is_none_or(|only| only == *id))
        .map(|(id, _)| profile.address(id))
        .collect();
    if only.is_some() {
        out.push_str(&format!("\n{}\n", look.paint(Ink::Head, "What may be changed")));
        let rows: Vec<[String; 2]> = Open::all(profile, only)
            .iter()
            .map(|one| [one.of.text(profile), names(one).join(", ")])
            .collect();
        out.push_str(&match rows.is_empty() {
            true => "nothing\n".to_owned(),
            false => table(look, ["of", "controls"], rows),
        });
    } else {
        out.push_str(&format!("\n{} actions may be rebound", open_actions(profile)));
        if !fixed.is_empty() {
            out.push_str(&format!("; these may not: {}", fixed.join(", ")));
        }
        if !profile.reserved.is_empty() {
            out.push_str(&format!("; reserved: {}", profile.reserved.join(", ")));
        }
        out.push('\n');
    }
    out
}

fn on(on: bool) -> &'static str {
    if on { "on" } else { "off" }
}

fn worth(value: Worth) -> String {
    match value {
        Worth::Switch(yes) => on(yes).to_owned(),
        Worth::Number(number) => shortest(number).to_string(),
    }
}

fn open_actions(profile: &Profile) -> usize {
    profile.actions.iter().filter(|action| action.rebind).count()
}

/// The names of the controls that may be changed.
fn names(open: &Open) -> Vec<String> {
    open.controls.iter().map(|(name, _)| name.clone()).collect()
}

#[derive(Serialize)]
struct SettingLine<'a> {
    kind: &'static str,
    setting: &'a str,
    value: serde_json::Value,
}

#[derive(Serialize)]
struct ChangeLine<'a> {
    kind: &'static str,
    of: &'a str,
    #[serde(skip_serializing_if = "Option::is_none")]
    old: Option<&'a str>,
    new: &'a str,
}

#[derive(Serialize)]
struct OpenLine {
    kind: &'static str,
    of: String,
    controls: Vec<String>,
}

#[derive(Serialize)]
struct NoteLine<'a> {
    kind: &'static str,
    level: &'static str,
    message: &'a str,
    help: &'a str,
    line: usize,
    column: usize,
}

/// The same as JSON Lines.
pub fn json(out: &mut String, told: &Told<'_>, source: &Source, only: Option<ActionId>) {
    let Told { profile, file, applied } = told;
    let of = only.map(|id| profile.address(id));
    let is_meant =
        |owner: &str| of.as_ref().is_none_or(|of| owner.split('@').next() == Some(of.as_str()));
    told::line(out, &Start::new("player", profile.title.as_deref()));
    for one in file.settings.iter().filter(|_| of.is_none()) {
        let value = match one.value {
            Worth::Switch(on) => on.into(),
            Worth::Number(number) => number.into(),
        };
        told::line(out, &SettingLine { kind: "setting", setting: &one.name.text, value });
    }
    for one in file.replaced.iter().filter(|one| is_meant(&one.of.text)) {
        let (of, old, new) = (&*one.of.text, Some(&*one.old.text), &*one.new.text);
        told::line(out, &ChangeLine { kind: "replace", of, old, new });
    }
    for one in file.also.iter().filter(|one| is_meant(&one.of.text)) {
        let (of, new) = (&*one.of.text, &*one.control.text);
        told::line(out, &ChangeLine { kind: "also", of, old: None, new });
    }
    for one in Open::all(profile, only) {
        let (of, controls) = (one.of.text(profile), names(&one));
        told::line(out, &OpenLine { kind: "open", of, controls });
    }
    for note in &applied.notes {
        let place = source.place(note.span.start);
        let (level, message, help) = (note.level.word(), &*note.message, &*note.help);
        let (line, column) = (place.line, place.column);
        told::line(out, &NoteLine { kind: "note", level, message, help, line, column });
    }
}
