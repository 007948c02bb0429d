//! What is in a profile's text, and what holds where it says nothing.

use crate::edit::{Thing, stretches};
use harmonym_lang::model;
use harmonym_lang::profile::Profile;
use harmonym_lang::source::{Source, Span};
use harmonym_runtime::base::shortest;

/// Something that has a name, with its place in the text.
#[derive(Clone, Debug, PartialEq)]
pub struct Symbol {
    /// What it is.
    pub thing: Thing,
    /// Its kind of value or map, if it says one.
    pub detail: String,
    /// All of it.
    pub whole: Span,
    /// Its name.
    pub name: Span,
    /// What is in it.
    pub children: Vec<Symbol>,
}

/// Everything that a profile defines, in the order of the text; actions stand in their maps.
pub fn symbols(source: &Source, raw: &Profile) -> Vec<Symbol> {
    let mut all: Vec<Symbol> = Vec::new();
    for stretch in stretches(source.text()) {
        let path: Vec<&str> = stretch.path.iter().map(String::as_str).collect();
        let thing = match path.as_slice() {
            ["map", map] => Thing::Map((*map).to_owned()),
            ["map", map, action] => Thing::Action((*map).to_owned(), (*action).to_owned()),
            ["scheme", name] => Thing::Scheme((*name).to_owned()),
            ["setting", name] => Thing::Setting((*name).to_owned()),
            ["fact", name] => Thing::Fact((*name).to_owned()),
            ["preset", name] => Thing::Preset((*name).to_owned()),
            ["device", name] => Thing::Device((*name).to_owned()),
            _ => continue,
        };
        let detail = detail(raw, &thing);
        let symbol =
            Symbol { detail, whole: stretch.whole, name: stretch.key, children: Vec::new(), thing };
        match &symbol.thing {
            Thing::Action(map, _) => {
                let of = Thing::Map(map.clone());
                match all.iter_mut().find(|one| one.thing == of) {
                    Some(map) => {
                        map.whole = Span::new(
                            map.whole.start.min(symbol.whole.start),
                            map.whole.end.max(symbol.whole.end),
                        );
                        map.children.push(symbol);
                    }
                    None => all.push(symbol),
                }
            }
            _ => all.push(symbol),
        }
    }
    all
}

fn detail(raw: &Profile, thing: &Thing) -> String {
    let said = match thing {
        Thing::Map(name) => {
            raw.maps.iter().find(|one| one.name.text == *name).and_then(|one| one.kind.as_ref())
        }
        Thing::Action(map, name) => {
            let map = raw.maps.iter().find(|one| one.name.text == *map);
            let action = map.and_then(|map| map.actions.iter().find(|one| one.name.text == *name));
            action.and_then(|action| action.value.as_ref())
        }
        _ => None,
    };
    said.map_or_else(|| thing.kind().to_owned(), |text| text.value().to_owned())
}

/// What holds where the file says nothing, with the place behind which to tell it.
pub fn left_out(raw: &Profile, profile: &model::Profile) -> Vec<(usize, String)> {
    let mut hints = Vec::new();
    // Both have all actions in the order of the file.
    let written = raw.maps.iter().flat_map(|map| &map.actions);
    for (action, of) in written.zip(profile.actions.iter()) {
        if let Some(value) = &action.value {
            let mut said = Vec::new();
            if !of.fire_given {
                let rule: Vec<&str> = of.fire.iter().map(|one| one.text.as_str()).collect();
                said.push(format!("fire = \"{}\"", rule.join(" or ")));
            }
            if !of.levels_given && !of.bindings.is_empty() {
                let [down, up] = [of.levels.down, of.levels.up].map(shortest);
                said.push(format!("down {down}, up {up}"));
            }
            if !said.is_empty() {
                hints.push((value.span().end, said.join("; ")));
            }
        }
    }
    hints
}
