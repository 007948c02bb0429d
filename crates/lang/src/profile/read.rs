//! TOML to raw.

use super::broken::not_toml;
use super::raw::{
    Action, Binding, Default, Device, Levels, Map, Preset, Profile, Scheme, Variable,
};
use super::table;
use super::toml_value::{Reader, Value, entries};
use crate::report::{Diagnostics, FaultKind};
use crate::source::{Quoted, Source, Span};
use crate::syntax::Word;
use harmonym_runtime::base::{corrected_name, is_name};
use std::fmt::Display;
use toml::de::{DeTable, DeValue};

/// The version of the format that this version reads.
const FORMAT: i64 = 1;

/// Reads a profile. What could be read comes back, with the lines that are not TOML; all else
/// that is wrong is added to `diagnostics`.
pub fn read(source: &Source, diagnostics: &mut Diagnostics) -> Profile {
    let (table, errors) = DeTable::parse_recoverable(source.text());
    let mut profile = Reader { source, diagnostics }.profile(table.get_ref());
    for error in &errors {
        let span = error.span().map_or(Span::new(0, 0), Span::from);
        let line = source.line(source.place(span.start).line);
        profile.broken.push((line, not_toml(error.message(), span, source.slice(span))));
    }
    profile
}

impl Reader<'_> {
    fn profile(&mut self, top: &DeTable<'_>) -> Profile {
        let mut profile = <Profile as std::default::Default>::default();
        self.format(top);
        for (key, value) in entries(top) {
            if !self.is_known(&key, table::TOP, "a profile") {
                continue;
            }
            match key.text.as_str() {
                "title" => profile.title = self.text("title", value),
                "about" => profile.about = self.text("about", value),
                "seats" => profile.seats = self.number("seats", value),
                "reserved" => profile.reserved = self.texts("reserved", value),
                "waive" => profile.waive = self.texts("waive", value),
                "device" => profile.devices = self.named(&key.text, value, Self::device),
                "scheme" => {
                    let schemes = self.named(&key.text, value, Self::scheme);
                    profile.schemes = schemes;
                }
                "setting" => {
                    let settings =
                        self.named(&key.text, value, |this, name, t| this.setting(name, t, true));
                    profile.variables.extend(settings);
                }
                "fact" => {
                    let facts =
                        self.named(&key.text, value, |this, name, t| this.setting(name, t, false));
                    profile.variables.extend(facts);
                }
                "preset" => profile.presets = self.presets(value),
                "map" => {
                    profile.maps = self.named(&key.text, value, Self::map);
                }
                _ => {}
            }
        }
        profile.variables.sort_by_key(|named| named.name.span);
        profile
    }

    fn format(&mut self, top: &DeTable<'_>) {
        let first = "write `harmonym = 1` as the first line";
        let Some(value) = top.get("harmonym") else {
            let message = "the version of the format is missing";
            self.diagnostics.fault(FaultKind::Missing, Span::new(0, 0), message, first);
            return;
        };
        let span = value.span().into();
        let version = match value.get_ref() {
            DeValue::Integer(number) => i64::from_str_radix(number.as_str(), number.radix()).ok(),
            _ => None,
        };
        let (rule, message, help) = match version {
            Some(FORMAT) => return,
            Some(newer) if newer > FORMAT => (
                FaultKind::OutOfRange,
                format!("this profile is in format {newer}; this version reads format {FORMAT}"),
                "use a newer version of harmonym",
            ),
            Some(_) => (
                FaultKind::OutOfRange,
                "there is no such format".to_owned(),
                "write `harmonym = 1`",
            ),
            None => (
                FaultKind::WrongKind,
                "`harmonym` is a whole number".to_owned(),
                "write `harmonym = 1`",
            ),
        };
        self.diagnostics.fault(rule, span, message, help);
    }

    /// The tables under `[key.NAME]`, each with a sound name.
    fn named<T>(
        &mut self,
        key: &str,
        value: &Value<'_>,
        read: impl Fn(&mut Self, Word, &DeTable<'_>) -> T,
    ) -> Vec<T> {
        let Some(table) = self.table(format_args!("{key}.NAME"), value) else { return Vec::new() };
        let mut all = Vec::new();
        for (name, value) in entries(table) {
            let word = name.text.as_str();
            let is_taken = match key {
                "map" => ["map", "scheme", "setting", "fact", "preset", "device"].contains(&word),
                "scheme" => word == "all",
                "device" => {
                    ["key", "char", "mouse", "pad", "touch", "head", "hand", "act"].contains(&word)
                }
                _ => table::is_taken(word),
            };
            self.check_name(&name, &format!("a {key}"), is_taken);
            if let Some(table) = self.table(format_args!("{key}.{}", name.text), value) {
                all.push(read(self, name, table));
            }
        }
        all
    }

    fn check_name(&mut self, name: &Word, of: &str, is_taken: bool) {
        let text = &name.text;
        if is_taken {
            let message = format!("`{text}` cannot be the name of {of}");
            let help = format!("the language uses the word itself; write `{text}-1`, say");
            self.diagnostics.fault(FaultKind::BadName, name.span, message, help);
        } else if !is_name(text) {
            let message = format!("`{}` is not a name", text.escape_debug());
            let help = match corrected_name(text) {
                Some(corrected) => format!("write `{corrected}`"),
                None => "names are lower-case letters, digits and single hyphens".to_owned(),
            };
            self.diagnostics.fault(FaultKind::BadName, name.span, message, help);
        }
    }

    fn scheme(&mut self, name: Word, table: &DeTable<'_>) -> Scheme {
        let mut scheme = Scheme { name, devices: None, about: None, label: None };
        for (key, value) in entries(table) {
            if !self.is_known(&key, table::SCHEME, "a scheme") {
                continue;
            }
            match key.text.as_str() {
                "devices" => scheme.devices = Some(self.texts("devices", value)),
                "about" => scheme.about = self.text("about", value),
                "label" => scheme.label = self.text("label", value),
                _ => {}
            }
        }
        scheme
    }

    fn device(&mut self, name: Word, table: &DeTable<'_>) -> Device {
        let mut device = Device { name, controls: Vec::new(), stands_for: Vec::new() };
        for (key, value) in entries(table) {
            if !self.is_known(&key, table::DEVICE, "a device") {
                continue;
            }
            match key.text.as_str() {
                "controls" => device.controls = self.words_by_name("controls", value),
                "as" => device.stands_for = self.words_by_name("as", value),
                about => {
                    self.text(about, value);
                }
            }
        }
        device
    }

    /// `{ name = "…", name = "…" }`.
    fn words_by_name(&mut self, key: &str, value: &Value<'_>) -> Vec<(Word, Quoted)> {
        let Some(table) = self.table(key, value) else { return Vec::new() };
        let mut words = Vec::new();
        for (name, value) in entries(table) {
            self.check_name(&name, "a control", false);
            if let Some(word) = self.text(&name.text, value) {
                words.push((name, word));
            }
        }
        words
    }

    fn setting(&mut self, name: Word, table: &DeTable<'_>, is_setting: bool) -> Variable {
        let mut named =
            Variable { name, is_setting, default: None, range: None, unit: None, about: None };
        let (known, of) = match is_setting {
            true => (table::SETTING, "a setting"),
            false => (table::FACT, "a fact"),
        };
        for (key, value) in entries(table) {
            if !self.is_known(&key, known, of) {
                continue;
            }
            match (key.text.as_str(), value.get_ref()) {
                ("default", DeValue::Boolean(on)) if is_setting => {
                    named.default = Some(Default::Switch(*on));
                }
                ("default", _) => {
                    let number = self.number("default", value);
                    named.default = number.map(|(number, span)| Default::Number(number, span));
                }
                ("range", _) => named.range = self.range(value),
                ("unit", _) => named.unit = self.text("unit", value),
                _ => named.about = self.text("about", value),
            }
        }
        named
    }

    /// Two numbers, the least and the most.
    fn range(&mut self, value: &Value<'_>) -> Option<((f64, f64), Span)> {
        if let DeValue::Array(list) = value.get_ref()
            && let [least, most] = list.iter().collect::<Vec<_>>()[..]
        {
            let (least, most) = (self.number("range", least)?.0, self.number("range", most)?.0);
            return Some(((least, most), value.span().into()));
        }
        let message = "`range` is a list of two numbers";
        let help = "write `range = [0.2, 4]`, the least and the most";
        self.diagnostics.fault(FaultKind::WrongKind, value.span().into(), message, help);
        None
    }

    fn presets(&mut self, value: &Value<'_>) -> Vec<Preset> {
        let Some(table) = self.table("preset", value) else { return Vec::new() };
        let mut presets = Vec::new();
        for (name, value) in entries(table) {
            self.check_name(&name, "a preset", false);
            if let Some(steps) = self.text(&name.text, value) {
                presets.push(Preset { name, steps });
            }
        }
        presets
    }

    fn map(&mut self, name: Word, table: &DeTable<'_>) -> Map {
        let mut map = Map {
            name,
            about: None,
            label: None,
            kind: None,
            start: None,
            rank: None,
            in_pause: false,
            also: Vec::new(),
            waive: Vec::new(),
            actions: Vec::with_capacity(table.len()),
        };
        for (key, value) in entries(table) {
            match key.text.as_str() {
                "about" => map.about = self.text("about", value),
                "label" => map.label = self.text("label", value),
                "kind" => map.kind = self.text("kind", value),
                "start" => map.start = self.boolean("start", value),
                "rank" => map.rank = self.number("rank", value),
                "in-pause" => {
                    map.in_pause = self.boolean("in-pause", value).is_some_and(|(yes, _)| yes);
                }
                "also" => map.also = self.texts("also", value),
                "waive" => map.waive = self.texts("waive", value),
                _ => match value.get_ref() {
                    DeValue::Table(action) => {
                        let is_taken = ["or", "with", "without", "when", "unless"]
                            .contains(&key.text.as_str());
                        self.check_name(&key, "an action", is_taken);
                        map.actions.push(self.action(key, action));
                    }
                    _ => self.unknown_key(&key, table::MAP, "a map"),
                },
            }
        }
        map
    }

    fn action(&mut self, name: Word, table: &DeTable<'_>) -> Action {
        let before = self.diagnostics.len();
        let mut action = Action {
            name,
            value: None,
            binds: Vec::new(),
            rebind: None,
            blend: None,
            shape: None,
            levels: None,
            fire: None,
            yields_to: Vec::new(),
            about: None,
            label: None,
            claim: None,
            carry: None,
            in_pause: None,
            waive: Vec::new(),
            has_faults: false,
        };
        for (key, value) in entries(table) {
            match key.text.as_str() {
                "value" => action.value = self.text("value", value),
                "bind" => action.binds = self.binds(value),
                "rebind" => action.rebind = self.boolean("rebind", value).map(|(yes, _)| yes),
                "blend" => action.blend = self.text("blend", value),
                "shape" => action.shape = self.text("shape", value),
                "levels" => action.levels = self.levels(value),
                "fire" => action.fire = self.text("fire", value),
                "yields-to" => action.yields_to = self.texts("yields-to", value),
                "about" => action.about = self.text("about", value),
                "label" => action.label = self.text("label", value),
                "claim" => action.claim = self.boolean("claim", value).map(|(yes, _)| yes),
                "carry" => action.carry = self.boolean("carry", value).map(|(yes, _)| yes),
                "in-pause" => action.in_pause = self.boolean("in-pause", value).map(|(yes, _)| yes),
                "waive" => action.waive = self.texts("waive", value),
                _ => self.unknown_key(&key, table::ACTION, "an action"),
            }
        }
        action.has_faults = self.diagnostics.len() > before;
        action
    }

    fn binds(&mut self, value: &Value<'_>) -> Vec<(Word, Vec<Binding>)> {
        let Some(table) = self.table("bind.SCHEME", value) else { return Vec::new() };
        let mut binds = Vec::with_capacity(table.len());
        for (scheme, value) in entries(table) {
            let key = format_args!("bind.{}", scheme.text);
            let bindings = match value.get_ref() {
                DeValue::Array(list) => {
                    list.iter().filter_map(|one| self.binding(key, one)).collect()
                }
                _ => self.binding(key, value).into_iter().collect(),
            };
            binds.push((scheme, bindings));
        }
        binds
    }

    /// An expression, alone or in a table.
    fn binding(&mut self, key: impl Display, value: &Value<'_>) -> Option<Binding> {
        let DeValue::Table(table) = value.get_ref() else {
            let from = self.text_of_list(key, value)?;
            return Some(Binding { from, rebind: None, label: None });
        };
        let (mut from, mut rebind, mut label) = (None, None, None);
        for (key, value) in entries(table) {
            if self.is_known(&key, table::BINDING, "a binding") {
                match key.text.as_str() {
                    "from" => from = self.text("from", value),
                    "rebind" => rebind = self.boolean("rebind", value).map(|(yes, _)| yes),
                    _ => label = self.text("label", value),
                }
            }
        }
        if from.is_none() {
            let message = "the binding does not say what it reads";
            let help = "write `{ from = \"key.KeyT\" }`";
            self.diagnostics.fault(FaultKind::Missing, value.span().into(), message, help);
        }
        Some(Binding { from: from?, rebind, label })
    }

    fn levels(&mut self, value: &Value<'_>) -> Option<Levels> {
        let table = match value.get_ref() {
            DeValue::Table(table) => table,
            _ => {
                let message = "`levels` is a table of numbers";
                let help = "write `levels = { down = 0.55, up = 0.44 }`";
                self.diagnostics.fault(FaultKind::WrongKind, value.span().into(), message, help);
                return None;
            }
        };
        let mut levels = <Levels as std::default::Default>::default();
        for (key, value) in entries(table) {
            if self.is_known(&key, table::LEVELS, "levels") {
                let level = self.number(&key.text, value);
                match key.text.as_str() {
                    "wake" => levels.wake = level,
                    "down" => levels.down = level,
                    _ => levels.up = level,
                }
            }
        }
        Some(levels)
    }
}
