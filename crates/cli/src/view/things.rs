//! What a profile has besides its maps: schemes, settings, facts, presets, devices of its own.

use super::said;
use super::table::table;
use crate::escape::one_line;
use crate::output::style::{Ink, Look, hung};
use harmonym_lab::edit::Thing;
use harmonym_lang::model::{Profile, Scheme, Variable};
use harmonym_runtime::base::Class;

/// All of them, a table for each kind that there is.
pub fn tables(profile: &Profile, look: Look) -> String {
    let mut text = String::new();
    let about = |text: &Option<String>| one_line(text.as_deref().unwrap_or_default()).into_owned();
    let schemes = profile.schemes.iter();
    let rows = schemes.map(|one| [one.name.clone(), classes(profile, one), about(&one.about)]);
    add(&mut text, look, ["scheme", "devices", "about"], rows.collect());
    for (head, is_setting) in [("setting", true), ("fact", false)] {
        let own = profile.variables.iter().filter(|one| one.is_setting == is_setting);
        let rows = own.map(|one| [one.name.clone(), value(one), range(one), about(&one.about)]);
        add(&mut text, look, [head, "at first", "range", "about"], rows.collect());
    }
    let rows = profile.presets.iter().map(|(name, steps)| [name.clone(), steps.clone()]);
    add(&mut text, look, ["preset", "steps"], rows.collect());
    let devices = own_devices(profile);
    let rows = devices.map(|(class, name)| [name.to_owned(), controls_text(profile, class)]);
    add(&mut text, look, ["device", "controls"], rows.collect());
    text
}

/// A table behind an empty line, if it has rows.
fn add<const N: usize>(text: &mut String, look: Look, heads: [&str; N], rows: Vec<[String; N]>) {
    if !rows.is_empty() {
        text.push('\n');
        text.push_str(&table(look, heads, rows));
    }
}

/// One of them, and what uses it.
pub fn one(profile: &Profile, thing: &Thing, users: &[String], look: Look) -> String {
    let name = thing.name();
    let mut lines: Vec<(&str, String)> = Vec::new();
    let mut about = None;
    match thing {
        Thing::Setting(_) | Thing::Fact(_) => {
            for one in profile.variables.iter().filter(|one| one.name == name) {
                lines.push(("at first", value(one)));
                lines.push(("range", range(one)));
                about.clone_from(&one.about);
            }
        }
        Thing::Scheme(_) => {
            for one in profile.schemes.iter().filter(|one| one.name == name) {
                lines.push(("devices", classes(profile, one)));
                about.clone_from(&one.about);
            }
        }
        Thing::Preset(_) => {
            for (_, steps) in profile.presets.iter().filter(|(known, _)| known == name) {
                lines.push(("steps", steps.clone()));
            }
        }
        Thing::Device(_) => {
            for (class, _) in own_devices(profile).filter(|(_, known)| *known == name) {
                lines.push(("controls", controls_text(profile, class)));
            }
        }
        Thing::Map(_) | Thing::Action(..) => {}
    }
    let used = match users {
        [] => "nothing".to_owned(),
        users => users.join(", "),
    };
    lines.push(("used by", used));
    let about = said(about.as_deref());
    let mut text = format!("{}{about}\n", look.paint(Ink::Strong, thing.address()));
    for (head, says) in lines.iter().filter(|(_, says)| !says.is_empty()) {
        text.push_str(&format!("{}  {says}\n", look.paint(Ink::Faint, format!("{head:>10}"))));
    }
    hung(&text, look.width)
}

fn classes(profile: &Profile, scheme: &Scheme) -> String {
    let words = scheme.classes.iter().map(|&class| profile.catalogue.word(class));
    words.collect::<Vec<_>>().join(", ")
}

pub fn own_devices(profile: &Profile) -> impl Iterator<Item = (Class, &str)> {
    let own = profile.catalogue.classes().filter(|class| matches!(class, Class::Own(_)));
    own.map(|class| (class, profile.catalogue.word(class)))
}

/// What a device reports, without its own name, and the kind of each.
pub fn controls(profile: &Profile, class: Class) -> impl Iterator<Item = (&str, &'static str)> {
    let own = profile.catalogue.reported().iter().filter(move |one| one.class == class);
    own.map(|one| {
        let name = one.name.split_once('.').map_or(&*one.name, |(_, name)| name);
        (name, one.kind.word())
    })
}

fn controls_text(profile: &Profile, class: Class) -> String {
    let all = controls(profile, class).map(|(name, kind)| format!("{name} ({kind})"));
    all.collect::<Vec<_>>().join(", ")
}

/// The value of a setting or fact at first.
fn value(one: &Variable) -> String {
    match (one.is_switch, one.default) {
        (true, 0.0) => "off".to_owned(),
        (true, _) => "on".to_owned(),
        (false, value) => {
            let unit = one.unit.as_deref().map_or(String::new(), |unit| format!(" {unit}"));
            format!("{value}{unit}")
        }
    }
}

fn range(one: &Variable) -> String {
    one.range.map_or(String::new(), |(least, most)| format!("{least} to {most}"))
}
