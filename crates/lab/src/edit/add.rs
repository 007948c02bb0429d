//! Adding what is new, where a person would put it.

use super::Draft;
use super::address::{exists, new_name, things};
use super::names::Thing;
use super::outline::Section;
use super::text::{Beside, Value};
use harmonym_lang::profile::table;
use harmonym_lang::report::Faults;
use harmonym_lang::source::Span;
use std::collections::HashSet;

/// Fields of something new, in order.
pub type Fields = Vec<(String, Value)>;

impl Draft {
    /// Adds a map, scheme, setting, fact or device with its fields, after those there are.
    ///
    /// # Errors
    /// When its name is none or is taken.
    pub fn add(&mut self, thing: &Thing, fields: &Fields) -> Result<(), Faults> {
        new_name(&self.raw, thing)?;
        self.add_table(thing, fields);
        self.read();
        Ok(())
    }

    /// Adds a map as whole sections, laid out already.
    ///
    /// # Errors
    /// When its name is none or is taken.
    pub fn add_map_of(&mut self, thing: &Thing, block: &str) -> Result<(), Faults> {
        new_name(&self.raw, thing)?;
        let at = self.place_for(&thing.path());
        self.text.add_section(at, block);
        self.read();
        Ok(())
    }

    /// The sections of a thing as they are written, comments and all.
    pub fn sections_of(&self, thing: &Thing) -> String {
        let sections = self.text.outline.sections.iter().enumerate();
        let own = sections.filter(|(_, section)| section.path().starts_with(&thing.path()));
        let texts: Vec<&str> = own
            .map(|(index, _)| {
                let span = Span::new(self.text.section_start(index), self.text.section_end(index));
                self.text.slice(span).trim_end()
            })
            .collect();
        format!("{}\n", texts.join("\n\n"))
    }

    /// Adds an action at `address` (`quay.hail`) to its map.
    ///
    /// # Errors
    /// When there is no such map, or its name is none or is taken.
    pub fn add_action(&mut self, address: &str, fields: &Fields) -> Result<Thing, Faults> {
        let thing = self.new_action(address)?;
        self.add_table(&thing, fields);
        self.read();
        Ok(thing)
    }

    /// Adds a preset with its steps.
    ///
    /// # Errors
    /// When its name is none or is taken.
    pub fn add_preset(&mut self, name: &str, steps: &str) -> Result<(), Faults> {
        let thing = Thing::Preset(name.to_owned());
        new_name(&self.raw, &thing)?;
        let value = Value::Text(steps.to_owned());
        if self.text.outline.has(&["preset"]) {
            self.text.put(&["preset", name], &value);
        } else {
            let at = self.place_for(&["preset"]);
            self.text.add_section(at, &format!("[preset]\n{name} = {}\n", value.written(None)));
        }
        self.read();
        Ok(())
    }

    /// Where a section at `path` goes: after those of its own table, else after those that come
    /// before it in a profile.
    pub(super) fn place_for(&self, path: &[&str]) -> usize {
        let sections = &self.text.outline.sections;
        let own = |section: &Section| section.path().starts_with(&path[..path.len() - 1]);
        let order = |name: &str| table::TOP.iter().position(|key| key.name == name);
        let earlier = |section: &Section| {
            section.path().first().is_none_or(|first| order(first) <= order(path[0]))
        };
        let last = match path.len() {
            1 => None,
            _ => sections.iter().rposition(|section| section.header.is_some() && own(section)),
        };
        let index = last.or_else(|| sections.iter().rposition(earlier)).unwrap_or(0);
        self.text.section_end(index)
    }

    /// The names of the things beside a thing: of its kind, and in its map.
    fn kin(&self, thing: &Thing) -> HashSet<String> {
        let path = thing.path();
        let beside = |other: &Thing| {
            let other = other.path();
            other.len() == path.len() && other[..other.len() - 1] == path[..path.len() - 1]
        };
        let all = things(&self.raw);
        all.iter().filter(|other| beside(other)).map(|other| other.name().to_owned()).collect()
    }

    /// Adds a table as the last one of its kind is written.
    pub(super) fn add_table(&mut self, thing: &Thing, fields: &Fields) {
        let path = thing.path();
        let (group, name) = (&path[..path.len() - 1], path[path.len() - 1]);
        let kin: HashSet<String> = self.kin(thing);
        let is_kin = |other: &[&str]| {
            other.len() >= path.len()
                && other.starts_with(group)
                && other.get(group.len()).is_some_and(|name| kin.contains(*name))
        };
        let headers = self.text.outline.sections.iter().filter(|section| section.header.is_some());
        let has_header = headers.map(Section::path).any(|path| is_kin(&path));
        let entries = if has_header { Vec::new() } else { self.text.outline.entries() };
        let by_line = entries.iter().rfind(|f| f.before.len() < path.len() && is_kin(&f.path()));
        if let Some(found) = by_line {
            // As the others: a line with dots, or one with braces.
            let key = found.key_of(&path);
            let prefix = Span::new(found.entry.span().start, key.span.start);
            let prefix = format!("{}{name}", self.text.slice(prefix));
            let in_braces = found.path().len() == path.len() || fields.is_empty();
            let lines = match in_braces {
                true => format!("{prefix} = {}", Value::Table(fields.clone()).written(None)),
                false => {
                    let line = |(key, v): &(String, Value)| {
                        format!("{prefix}.{key} = {}", v.written(None))
                    };
                    let joint = if found.inside.is_some() { ", " } else { "\n" };
                    fields.iter().map(line).collect::<Vec<_>>().join(joint)
                }
            };
            let beside: Beside = found.clone().into();
            return self.text.add_beside(&beside, &lines);
        }
        if let Some(node) = self.text.outline.value(group) {
            let entry = format!("{name} = {}", Value::Table(fields.clone()).written(None));
            let splice = self.text.with_braces(node, &entry);
            return self.text.splice(vec![splice]);
        }
        let lines = fields.iter().map(|(key, value)| format!("{key} = {}\n", value.written(None)));
        let block = format!("[{}]\n{}", path.join("."), lines.collect::<String>());
        let at = self.place_for(&path);
        self.text.add_section(at, &block);
    }

    /// Whether the profile has a thing.
    pub fn has(&self, thing: &Thing) -> bool {
        exists(&self.raw, thing)
    }
}
