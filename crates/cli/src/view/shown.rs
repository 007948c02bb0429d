//! The profile as JSON Lines: what `show`, `controls` and `uses` tell as text.

use super::action::{self, Station};
use super::profile::rule;
use super::things::{controls, own_devices};
use harmonym_lab::edit::Thing;
use harmonym_lab::told::line;
use harmonym_lang::model::{Action, ActionId, Levels, Map, Profile, Scheme, Variable};
use harmonym_runtime::base::{Class, MapId};
use serde::Serialize;
use std::collections::BTreeMap;

#[derive(Serialize)]
struct SchemeLine<'a> {
    kind: &'static str,
    address: String,
    devices: Vec<&'a str>,
    #[serde(skip_serializing_if = "Option::is_none")]
    about: Option<&'a str>,
}

#[derive(Serialize)]
struct NamedLine<'a> {
    kind: &'static str,
    address: String,
    default: serde_json::Value,
    #[serde(skip_serializing_if = "Option::is_none")]
    range: Option<(f64, f64)>,
    #[serde(skip_serializing_if = "Option::is_none")]
    unit: Option<&'a str>,
    #[serde(skip_serializing_if = "Option::is_none")]
    about: Option<&'a str>,
}

#[derive(Serialize)]
struct PresetLine<'a> {
    kind: &'static str,
    address: String,
    steps: &'a str,
}

#[derive(Serialize)]
struct DeviceLine<'a> {
    kind: &'static str,
    address: String,
    controls: BTreeMap<&'a str, &'static str>,
}

#[derive(Serialize)]
struct MapLine<'a> {
    kind: &'static str,
    address: &'a str,
    map_kind: &'static str,
    rank: i64,
    start: bool,
    also: Vec<String>,
    #[serde(skip_serializing_if = "Option::is_none")]
    about: Option<&'a str>,
}

#[derive(Serialize)]
struct ActionLine<'a> {
    kind: &'static str,
    address: String,
    value: &'static str,
    #[serde(skip_serializing_if = "Option::is_none")]
    about: Option<&'a str>,
    blend: &'static str,
    #[serde(skip_serializing_if = "Option::is_none")]
    shape: Option<&'a str>,
    levels: LevelsLine,
    fire: String,
    yields_to: Vec<String>,
    claim: bool,
    carry: bool,
    in_pause: bool,
    rebind: bool,
}

#[derive(Serialize)]
struct LevelsLine {
    wake: f64,
    down: f64,
    up: f64,
}

impl From<Levels> for LevelsLine {
    fn from(levels: Levels) -> Self {
        Self { wake: levels.wake, down: levels.down, up: levels.up }
    }
}

#[derive(Serialize)]
struct BindingLine<'a> {
    kind: &'static str,
    address: String,
    scheme: &'a str,
    from: &'a str,
    #[serde(skip_serializing_if = "Vec::is_empty")]
    stations: Vec<StationLine>,
}

#[derive(Serialize)]
struct StationLine {
    station: String,
    says: String,
}

#[derive(Serialize)]
struct AfterLine {
    kind: &'static str,
    address: String,
    stations: Vec<StationLine>,
}

fn stations(all: Vec<Station>) -> Vec<StationLine> {
    all.into_iter().map(|one| StationLine { station: one.name, says: one.says }).collect()
}

/// The whole profile.
pub fn whole(out: &mut String, profile: &Profile) {
    profile.schemes.iter().for_each(|one| scheme(out, profile, one));
    profile.variables.iter().for_each(|one| variable(out, one));
    profile.presets.iter().for_each(|one| preset(out, one));
    own_devices(profile).for_each(|(class, name)| device(out, profile, class, name));
    profile.maps.ids().for_each(|map| one_map(out, profile, map));
}

/// A scheme, setting, fact, preset or device.
pub fn one_thing(out: &mut String, profile: &Profile, thing: &Thing) {
    let name = thing.name();
    match thing {
        Thing::Scheme(_) => {
            let own = profile.schemes.iter().filter(|one| one.name == name);
            own.for_each(|one| scheme(out, profile, one));
        }
        Thing::Setting(_) | Thing::Fact(_) => {
            let own = profile.variables.iter().filter(|one| one.name == name);
            own.for_each(|one| variable(out, one));
        }
        Thing::Preset(_) => {
            let own = profile.presets.iter().filter(|(known, _)| known == name);
            own.for_each(|one| preset(out, one));
        }
        Thing::Device(_) => {
            let own = own_devices(profile).filter(|(_, known)| *known == name);
            own.for_each(|(class, name)| device(out, profile, class, name));
        }
        Thing::Map(_) | Thing::Action(..) => {}
    }
}

fn device(out: &mut String, profile: &Profile, class: Class, name: &str) {
    let controls = controls(profile, class).collect();
    line(out, &DeviceLine { kind: "device", address: format!("device.{name}"), controls });
}

fn scheme(out: &mut String, profile: &Profile, scheme: &Scheme) {
    let devices = scheme.classes.iter().map(|&class| profile.catalogue.word(class)).collect();
    let (address, about) = (format!("scheme.{}", scheme.name), scheme.about.as_deref());
    line(out, &SchemeLine { kind: "scheme", address, devices, about });
}

fn variable(out: &mut String, named: &Variable) {
    let kind = if named.is_setting { "setting" } else { "fact" };
    let default = match named.is_switch {
        true => serde_json::Value::from(named.default != 0.0),
        false => serde_json::Value::from(named.default),
    };
    let line_of = NamedLine {
        kind,
        address: format!("{kind}.{}", named.name),
        default,
        range: named.range,
        unit: named.unit.as_deref(),
        about: named.about.as_deref(),
    };
    line(out, &line_of);
}

fn preset(out: &mut String, (name, steps): &(String, String)) {
    line(out, &PresetLine { kind: "preset", address: format!("preset.{name}"), steps });
}

/// A map with its actions and their bindings.
pub fn one_map(out: &mut String, profile: &Profile, id: MapId) {
    let map: &Map = &profile.maps[id];
    let map_line = MapLine {
        kind: "map",
        address: &map.name,
        map_kind: map.kind.word(),
        rank: map.rank,
        start: map.start,
        also: map.also.iter().map(|&id| profile.address(id)).collect(),
        about: map.about.as_deref(),
    };
    line(out, &map_line);
    for &action in &map.actions {
        one_action(out, profile, action, false);
    }
}

/// An action with its bindings; with the stations of its way if it is asked for alone.
pub fn one_action(out: &mut String, profile: &Profile, id: ActionId, with_way: bool) {
    let action: &Action = &profile.actions[id];
    let action_line = ActionLine {
        kind: "action",
        address: profile.address(id),
        value: action.kind.word(),
        about: action.about.as_deref(),
        blend: action.blend.word(),
        shape: action.shape_text.as_deref(),
        levels: action.levels.into(),
        fire: rule(profile, action),
        yields_to: action.yields_to.iter().map(|&other| profile.address(other)).collect(),
        claim: action.claim,
        carry: action.carry,
        in_pause: action.in_pause,
        rebind: action.rebind,
    };
    line(out, &action_line);
    let way = action::way(profile, id);
    for (binding, own) in action.bindings.iter().zip(way.bindings) {
        let binding_line = BindingLine {
            kind: "binding",
            address: profile.binding_address(id, binding),
            scheme: profile.scheme_name(binding),
            from: &binding.text,
            stations: if with_way { stations(own) } else { Vec::new() },
        };
        line(out, &binding_line);
    }
    if with_way {
        let (address, stations) = (profile.address(id), stations(way.after));
        line(out, &AfterLine { kind: "after", address, stations });
    }
}
