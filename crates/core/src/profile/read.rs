//! TOML to raw.

use super::raw::{Action, Levels, Map, Preset, Profile, Scheme};
use super::table;
use super::toml_value::{Reader, Value, entries};
use crate::base::{corrected_name, is_name};
use crate::lang::Word;
use crate::report::{Finding, Findings, Rule};
use crate::source::{Source, Span};
use toml::de::{DeTable, DeValue};

/// The version of the format that this version reads.
const FORMAT: i64 = 1;

/// Reads a profile. What could be read comes back, with the lines that are not TOML; all else
/// that is wrong is added to `findings`.
pub fn read(source: &Source, findings: &mut Findings) -> Profile {
    let (table, errors) = DeTable::parse_recoverable(source.text());
    let mut profile = Reader { source, findings }.profile(table.get_ref());
    for error in &errors {
        let span = error.span().map_or(Span::new(0, 0), Span::from);
        let line = source.line(source.place(span.start).line);
        profile.broken.push((line, syntax_fault(error.message(), span)));
    }
    profile
}

fn syntax_fault(message: &str, span: Span) -> Finding {
    if message.contains("duplicate key") {
        let help = "keep one of them, or rename one";
        return Finding::new(Rule::UsedTwice, span, "this is defined already", help);
    }
    let help = "see that quotes and brackets are closed, and that every line is `key = value`";
    Finding::new(Rule::Syntax, span, format!("this is not TOML: {message}"), help)
}

impl Reader<'_> {
    fn profile(&mut self, top: &DeTable<'_>) -> Profile {
        let mut profile = Profile::default();
        self.format(top);
        for (key, value) in entries(top) {
            if !self.is_known(&key, table::TOP, "a profile") {
                continue;
            }
            match key.text.as_str() {
                "title" => profile.title = self.text("title", value),
                "about" => profile.about = self.text("about", value),
                "scheme" => {
                    let schemes = self.named(&key.text, value, Self::scheme);
                    profile.schemes = schemes;
                }
                "preset" => profile.presets = self.presets(value),
                "map" => {
                    profile.maps = self.named(&key.text, value, Self::map);
                }
                _ => {}
            }
        }
        profile
    }

    fn format(&mut self, top: &DeTable<'_>) {
        let first = "write `harmonym = 1` as the first line";
        let Some(value) = top.get("harmonym") else {
            let message = "the version of the format is missing";
            self.findings.push(Finding::new(Rule::Missing, Span::new(0, 0), message, first));
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
                Rule::OutOfRange,
                format!("this profile is in format {newer}; this version reads format {FORMAT}"),
                "use a newer version of harmonym",
            ),
            Some(_) => {
                (Rule::OutOfRange, "there is no such format".to_owned(), "write `harmonym = 1`")
            }
            None => {
                (Rule::WrongKind, "`harmonym` is a whole number".to_owned(), "write `harmonym = 1`")
            }
        };
        self.findings.push(Finding::new(rule, span, message, help));
    }

    /// The tables under `[key.NAME]`, each with a sound name.
    fn named<T>(
        &mut self,
        key: &str,
        value: &Value<'_>,
        read: impl Fn(&mut Self, Word, &DeTable<'_>) -> T,
    ) -> Vec<T> {
        let Some(table) = self.table(&format!("{key}.NAME"), value) else { return Vec::new() };
        let mut all = Vec::new();
        for (name, value) in entries(table) {
            let reserved = match key {
                "map" => &["map", "scheme", "setting", "fact", "preset", "device"][..],
                _ => &["all"],
            };
            self.check_name(&name, &format!("a {key}"), reserved);
            if let Some(table) = self.table(&format!("{key}.{}", name.text), value) {
                all.push(read(self, name, table));
            }
        }
        all
    }

    fn check_name(&mut self, name: &Word, of: &str, reserved: &[&str]) {
        let text = &name.text;
        if reserved.contains(&text.as_str()) {
            let message = format!("`{text}` cannot be the name of {of}");
            let help = format!("the language uses the word itself; write `{text}-1`, say");
            self.findings.push(Finding::new(Rule::BadName, name.span, message, help));
        } else if !is_name(text) {
            let message = format!("`{}` is not a name", text.escape_debug());
            let help = match corrected_name(text) {
                Some(corrected) => format!("write `{corrected}`"),
                None => "names are lower-case letters, digits and single hyphens".to_owned(),
            };
            self.findings.push(Finding::new(Rule::BadName, name.span, message, help));
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

    fn presets(&mut self, value: &Value<'_>) -> Vec<Preset> {
        let Some(table) = self.table("preset", value) else { return Vec::new() };
        let mut presets = Vec::new();
        for (name, value) in entries(table) {
            self.check_name(&name, "a preset", &[]);
            if let Some(steps) = self.text(&name.text, value) {
                presets.push(Preset { name, steps });
            }
        }
        presets
    }

    fn map(&mut self, name: Word, table: &DeTable<'_>) -> Map {
        let mut map =
            Map { name, about: None, label: None, kind: None, start: None, actions: Vec::new() };
        for (key, value) in entries(table) {
            let is_key = table::MAP.iter().any(|k| k.name == key.text);
            if let (false, DeValue::Table(action)) = (is_key, value.get_ref()) {
                self.check_name(&key, "an action", &["or", "with", "without", "when", "unless"]);
                map.actions.push(self.action(key, action));
                continue;
            }
            if !self.is_known(&key, table::MAP, "a map") {
                continue;
            }
            match key.text.as_str() {
                "about" => map.about = self.text("about", value),
                "label" => map.label = self.text("label", value),
                "kind" => map.kind = self.text("kind", value),
                "start" => map.start = self.boolean("start", value),
                _ => {}
            }
        }
        map
    }

    fn action(&mut self, name: Word, table: &DeTable<'_>) -> Action {
        let before = self.findings.len();
        let mut action = Action {
            name,
            value: None,
            binds: Vec::new(),
            blend: None,
            shape: None,
            levels: None,
            fire: None,
            about: None,
            label: None,
            has_faults: false,
        };
        for (key, value) in entries(table) {
            if !self.is_known(&key, table::ACTION, "an action") {
                continue;
            }
            match key.text.as_str() {
                "value" => action.value = self.text("value", value),
                "bind" => action.binds = self.binds(value),
                "blend" => action.blend = self.text("blend", value),
                "shape" => action.shape = self.text("shape", value),
                "levels" => action.levels = self.levels(value),
                "fire" => action.fire = self.text("fire", value),
                "about" => action.about = self.text("about", value),
                "label" => action.label = self.text("label", value),
                _ => {}
            }
        }
        action.has_faults = self.findings.len() > before;
        action
    }

    fn binds(&mut self, value: &Value<'_>) -> Vec<(Word, Vec<crate::source::Quoted>)> {
        let Some(table) = self.table("bind.SCHEME", value) else { return Vec::new() };
        let mut binds = Vec::new();
        for (scheme, value) in entries(table) {
            if scheme.text == "all" {
                let help = "bind under each scheme by its name";
                self.findings.push(Finding::not_yet(scheme.span, "`bind.all`", help));
                continue;
            }
            let texts = self.texts(&format!("bind.{}", scheme.text), value);
            binds.push((scheme, texts));
        }
        binds
    }

    fn levels(&mut self, value: &Value<'_>) -> Option<Levels> {
        let table = match value.get_ref() {
            DeValue::Table(table) => table,
            _ => {
                let message = "`levels` is a table of numbers";
                let help = "write `levels = { down = 0.55, up = 0.44 }`";
                self.findings.push(Finding::new(
                    Rule::WrongKind,
                    value.span().into(),
                    message,
                    help,
                ));
                return None;
            }
        };
        let mut levels = Levels::default();
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
