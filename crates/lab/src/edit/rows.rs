//! A profile's actions as rows of a table, and rows made part of a profile.

use super::address::{exists, find_action};
use super::bind::classes;
use super::{Draft, Fields, Thing, Value};
use harmonym_lang::profile::{Action, Profile};
use harmonym_lang::report::Faults;
use harmonym_lang::source::Quoted;
use harmonym_runtime::base::corrected_name;
use harmonym_runtime::controls::Catalogue;
use std::collections::HashMap;

/// One binding of an action, or an action without any.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Row {
    /// The map.
    pub map: String,
    /// The action.
    pub action: String,
    /// What it gives.
    pub value: String,
    /// The binding's scheme.
    pub scheme: String,
    /// The binding.
    pub binding: String,
    /// The action's fire rule.
    pub fire: String,
    /// What it is about.
    pub about: String,
    /// How the action's bindings share it.
    pub blend: String,
    /// Its steps after the blend.
    pub shape: String,
}

/// The columns of a table, in the order in which they are written.
pub const COLUMNS: [&str; 9] =
    ["map", "action", "value", "scheme", "binding", "fire", "about", "blend", "shape"];

/// The devices of each scheme that a table names.
pub(super) type Devices = HashMap<String, Vec<String>>;

/// What came of a row.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Done {
    /// Things that are new.
    Added(Vec<String>),
    /// Keys that have another value, and what is new besides.
    Changed(Vec<String>),
    /// It was all there.
    Nothing,
}

/// A profile's actions, a row for each binding, in file order.
pub fn export(raw: &Profile) -> Vec<Row> {
    let mut rows = Vec::new();
    for map in &raw.maps {
        for action in &map.actions {
            let row = Row::of(&map.name.text, action);
            let before = rows.len();
            for (scheme, bindings) in &action.binds {
                rows.extend(bindings.iter().map(|binding| Row {
                    scheme: scheme.text.clone(),
                    binding: binding.from.value().to_owned(),
                    ..row.clone()
                }));
            }
            if rows.len() == before {
                rows.push(row);
            }
        }
    }
    rows
}

impl Draft {
    /// Makes a row part of the profile: its map, scheme and action where they are missing, its
    /// binding, and the action's keys where the row says otherwise. An empty field says nothing.
    ///
    /// # Errors
    /// When something in the row is no name, no expression, or misses what it needs.
    pub fn take_row(&mut self, row: &Row) -> Result<Done, Faults> {
        let devices = self.devices_of(std::iter::once(row));
        self.take_row_of(row, &devices)
    }

    /// The devices that the bindings of each scheme have in all rows together; of classes that
    /// there are.
    pub(super) fn devices_of<'r>(&self, rows: impl Iterator<Item = &'r Row>) -> Devices {
        let is_known = |class: &String| {
            let own = Thing::Device(class.clone());
            Catalogue::built_in().class(class).is_some() || exists(&self.raw, &own)
        };
        let mut devices = Devices::new();
        for row in rows {
            let all = devices.entry(row.scheme.clone()).or_default();
            all.extend(classes(&row.binding).unwrap_or_default().into_iter().filter(is_known));
            all.sort();
            all.dedup();
        }
        devices
    }

    /// The same for a row of a table, in which the schemes have these devices.
    pub(super) fn take_row_of(&mut self, row: &Row, devices: &Devices) -> Result<Done, Faults> {
        let mut added = Vec::new();
        let mut changed = Vec::new();
        for (what, name) in [("map", &row.map), ("action", &row.action)] {
            if name.is_empty() {
                let help = "every row names its map and its action";
                return Err(Faults::refused(format!("the row has no {what}"), help));
            }
        }
        let map = Thing::Map(row.map.clone());
        if !exists(&self.raw, &map) {
            let is_first = self.raw.maps.is_empty();
            let start = ("start".to_owned(), Value::Plain("true".to_owned()));
            self.add(&map, &is_first.then_some(start).into_iter().collect())?;
            added.push(map.address());
        }
        let address = format!("{}.{}", row.map, row.action);
        let action = Thing::Action(row.map.clone(), row.action.clone());
        if exists(&self.raw, &action) {
            self.take_keys(row, &address, &mut changed)?;
        } else {
            if row.value.is_empty() {
                let help = "write switch, axis, plane, space or turn as its value";
                return Err(Faults::refused(
                    format!("the new action `{address}` has no value"),
                    help,
                ));
            }
            let fields: Fields = row
                .keys()
                .into_iter()
                .filter(|(_, text)| !text.is_empty())
                .map(|(key, text)| (key.to_owned(), Value::Text(text.to_owned())))
                .collect();
            self.add_action(&address, &fields)?;
            added.push(address.clone());
        }
        if !row.binding.is_empty() {
            self.take_binding(row, devices, &address, &mut added)?;
        }
        Ok(match (added.is_empty(), changed.is_empty()) {
            (true, true) => Done::Nothing,
            (false, true) => Done::Added(added),
            _ => {
                changed.extend(added);
                Done::Changed(changed)
            }
        })
    }

    fn take_keys(
        &mut self,
        row: &Row,
        address: &str,
        changed: &mut Vec<String>,
    ) -> Result<(), Faults> {
        let Some(action) = find_action(&self.raw, &row.map, &row.action) else { return Ok(()) };
        let now = Row::of(&row.map, action);
        for ((key, new), (_, old)) in row.keys().into_iter().zip(now.keys()) {
            if !new.is_empty() && new != old {
                let address = format!("{address}.{key}");
                self.set(&address, &[new.to_owned()])?;
                changed.push(address);
            }
        }
        Ok(())
    }

    fn take_binding(
        &mut self,
        row: &Row,
        devices: &Devices,
        address: &str,
        added: &mut Vec<String>,
    ) -> Result<(), Faults> {
        let scheme = match row.scheme.as_str() {
            "" => self.scheme_of(&row.binding)?,
            scheme => scheme.to_owned(),
        };
        let thing = Thing::Scheme(scheme.clone());
        if scheme != "all" && !exists(&self.raw, &thing) {
            let devices = match devices.get(&scheme) {
                Some(all) if !all.is_empty() => all.clone(),
                _ => classes(&row.binding)?,
            };
            let devices = Value::Texts(devices);
            self.add(&thing, &vec![("devices".to_owned(), devices)])?;
            added.push(thing.address());
        }
        if self.place_of(&row.map, &row.action, &scheme, &row.binding).is_none() {
            let expressions = std::slice::from_ref(&row.binding);
            added.extend(self.bind(address, expressions, Some(&scheme))?.new);
        }
        Ok(())
    }
}

impl Row {
    /// An action without its bindings.
    fn of(map: &str, action: &Action) -> Self {
        let text = |text: &Option<Quoted>| {
            text.as_ref().map_or_else(String::new, |text| text.value().to_owned())
        };
        Self {
            map: map.to_owned(),
            action: action.name.text.clone(),
            value: text(&action.value),
            fire: text(&action.fire),
            about: text(&action.about),
            blend: text(&action.blend),
            shape: text(&action.shape),
            ..Self::default()
        }
    }

    /// The keys of its action that it says, with what it says.
    fn keys(&self) -> [(&'static str, &str); 5] {
        [
            ("value", &self.value),
            ("about", &self.about),
            ("blend", &self.blend),
            ("shape", &self.shape),
            ("fire", &self.fire),
        ]
    }

    /// Its fields, in the order of [`COLUMNS`].
    pub fn fields(&self) -> [&String; 9] {
        let Self { map, action, value, scheme, binding, fire, about, blend, shape } = self;
        [map, action, value, scheme, binding, fire, about, blend, shape]
    }

    /// The same, to be written.
    pub(super) fn fields_mut(&mut self) -> [&mut String; 9] {
        let Self { map, action, value, scheme, binding, fire, about, blend, shape } = self;
        [map, action, value, scheme, binding, fire, about, blend, shape]
    }

    /// The row with names as names are written: `Cast Line` becomes `cast-line`.
    #[must_use]
    pub fn with_names(mut self) -> Self {
        for name in [&mut self.map, &mut self.action, &mut self.scheme] {
            if let Some(corrected) = corrected_name(name) {
                *name = corrected;
            }
        }
        self
    }
}
