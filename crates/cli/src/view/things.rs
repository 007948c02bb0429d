//! What a profile has besides its maps: schemes, settings, facts, presets, devices of its own.

use super::table::table;
use crate::output::style::{Ink, Look, hung};
use harmonym_lab::edit::Thing;
use harmonym_lang::model::{Profile, Scheme, Variable};
use harmonym_runtime::base::Class;

/// All of them, a table for each kind that there is.
pub fn tables(profile: &Profile, look: Look) -> String {
    let mut text = String::new();
    let mut add = |heads: [&str; 4], rows: Vec<[String; 4]>| {
        if !rows.is_empty() {
            text.push('\n');
            text.push_str(&table(look, heads, rows));
        }
    };
    let schemes = profile.schemes.iter().map(|one| {
        let about = one.about.clone().unwrap_or_default();
        [one.name.clone(), classes(profile, one), about, String::new()]
    });
    add(["scheme", "devices", "about", ""], schemes.collect());
    for (head, is_setting) in [("setting", true), ("fact", false)] {
        let own = profile.variables.iter().filter(|one| one.is_setting == is_setting);
        let rows = own.map(|one| {
            let about = one.about.clone().unwrap_or_default();
            [one.name.clone(), value(one), range(one), about]
        });
        add([head, "at first", "range", "about"], rows.collect());
    }
    let presets = profile.presets.iter();
    let rows = presets.map(|(name, steps)| [name.clone(), steps.clone(), "".into(), "".into()]);
    add(["preset", "steps", "", ""], rows.collect());
    let rows = own_devices(profile).map(|(class, name)| {
        [name.to_owned(), controls(profile, class).join(", "), String::new(), String::new()]
    });
    add(["device", "controls", "", ""], rows.collect());
    text
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
                lines.push(("controls", controls(profile, class).join(", ")));
            }
        }
        Thing::Map(_) | Thing::Action(..) => {}
    }
    let used = match users {
        [] => "nothing".to_owned(),
        users => users.join(", "),
    };
    lines.push(("used by", used));
    let about = about.map_or(String::new(), |about| format!(": {about}"));
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

fn own_devices(profile: &Profile) -> impl Iterator<Item = (Class, &str)> {
    let own = profile.catalogue.classes().filter(|class| matches!(class, Class::Own(_)));
    own.map(|class| (class, profile.catalogue.word(class)))
}

/// What a device reports, without its own name.
fn controls(profile: &Profile, class: Class) -> Vec<String> {
    let own = profile.catalogue.reported().iter().filter(|one| one.class == class);
    own.map(|one| {
        let name = one.name.split_once('.').map_or(&*one.name, |(_, name)| name);
        format!("{name} ({})", one.kind.word())
    })
    .collect()
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
