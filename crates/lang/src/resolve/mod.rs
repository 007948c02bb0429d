//! Raw values and trees to the model: names, kinds, ranges, order.
//!
//! Guarantees to every later stage: the model is whole, or there is none and the diagnostics say why.

mod action;
mod args;
mod binding;
mod component;
mod control;
mod device;
mod fire;
mod levels;
mod named;
mod reference;
mod step;
mod words;

use crate::model::{ActionId, Map, Profile, Scheme, Variable};
use crate::profile::{self, table};
use crate::report::{Diagnostic, Diagnostics, FaultKind, did_you_mean};
use crate::source::Quoted;
use crate::syntax::{self, Step as StepTree};
use harmonym_runtime::base::{Class, Id, MapId, MapKind, SchemeId, Table};
use harmonym_runtime::controls::Catalogue;
use std::collections::HashMap;
use std::sync::Arc;

/// Looks up everything that a profile names. `None` when something is wrong with it.
pub fn resolve(raw: &profile::Profile, diagnostics: &mut Diagnostics) -> Option<Profile> {
    let before = diagnostics.len();
    let mut resolver = Resolver {
        raw,
        catalogue: Arc::clone(Catalogue::built_in()),
        actions: Vec::new(),
        action_ids: HashMap::new(),
        schemes: Vec::new(),
        named: Vec::new(),
        presets: Vec::new(),
        preset_places: preset_places(raw),
        steps_left: Some(MOST_STEPS),
        diagnostics,
    };
    resolver.know_actions();
    resolver.devices();
    let seats = resolver.seats();
    let reserved = resolver.reserved();
    let waive = resolver.waived(&raw.waive);
    resolver.schemes();
    resolver.named_numbers();
    resolver.presets();
    let (maps, actions) = resolver.maps();
    let schemes = std::mem::take(&mut resolver.schemes);
    let named = std::mem::take(&mut resolver.named);
    let catalogue = resolver.catalogue;
    if diagnostics.len() > before {
        return None;
    }
    let presets = raw.presets.iter().map(|p| (p.name.text.clone(), p.steps.value().to_owned()));
    Some(Profile {
        title: said(raw.title.as_ref()),
        about: said(raw.about.as_ref()),
        catalogue,
        seats,
        reserved,
        waive,
        schemes: schemes.into(),
        variables: named.into(),
        presets: presets.collect(),
        maps,
        actions,
    })
}

/// What a text of the file says.
fn said(text: Option<&Quoted>) -> Option<String> {
    text.map(|text| text.value().to_owned())
}

struct Resolver<'a> {
    raw: &'a profile::Profile,
    /// Every control that the profile may bind.
    catalogue: Arc<Catalogue>,
    /// All actions in file order, before any is resolved.
    actions: Vec<reference::Known>,
    /// The same by address.
    action_ids: HashMap<String, ActionId>,
    schemes: Vec<Scheme>,
    named: Vec<Variable>,
    /// The steps of each preset; none where they have faults.
    presets: Vec<Option<Vec<StepTree>>>,
    /// Where among the presets each name stands first, as written.
    preset_places: HashMap<&'a str, usize>,
    /// How many steps presets may still put in their places; nothing once that is told.
    steps_left: Option<usize>,
    diagnostics: &'a mut Diagnostics,
}

/// A chain has at most so many steps, those of its presets among them.
pub(crate) const LONGEST_CHAIN: usize = 1_000;
/// Presets lie at most so deep in each other.
pub(crate) const DEEPEST: usize = 64;
/// Presets put at most so many steps in their places in all of a profile.
pub(crate) const MOST_STEPS: usize = 1_000_000;

/// An action has at most so many bindings.
pub(crate) const MOST_BINDINGS: usize = 500;

fn preset_places(raw: &profile::Profile) -> HashMap<&str, usize> {
    let names = raw.presets.iter().map(|preset| preset.name.text.as_str());
    // Of several with one name the first stands.
    names.enumerate().map(|(place, name)| (name, place)).rev().collect()
}

impl Resolver<'_> {
    fn schemes(&mut self) {
        for raw in &self.raw.schemes {
            let mut classes = Vec::new();
            match &raw.devices {
                Some(devices) => {
                    for device in devices {
                        classes.extend(self.class(device));
                    }
                    if devices.is_empty() {
                        let message = format!("the scheme `{}` has no devices", raw.name.text);
                        let help = "write `devices = [\"key\", \"mouse\"]`, say";
                        self.diagnostics.fault(FaultKind::Missing, raw.name.span, message, help);
                    }
                }
                None => {
                    let message =
                        format!("the scheme `{}` does not say its devices", raw.name.text);
                    let help = "write `devices = [\"key\", \"mouse\"]`, say";
                    self.diagnostics.fault(FaultKind::Missing, raw.name.span, message, help);
                }
            }
            self.schemes.push(Scheme {
                name: raw.name.text.clone(),
                classes,
                about: said(raw.about.as_ref()),
                label: said(raw.label.as_ref()),
            });
        }
    }

    fn class(&mut self, device: &Quoted) -> Option<Class> {
        let word = device.value();
        match self.catalogue.class(word) {
            Some(class) => return Some(class),
            None => {
                let classes = self.catalogue.classes().map(|class| self.catalogue.word(class));
                let help = did_you_mean(self.diagnostics.nearest(word, classes), || {
                    String::from(
                        "the classes are key (keyboard), mouse, pad (gamepad), touch, \
                         head (headset), hand (tracked hands); \
                         one of your own is a `[device.NAME]`",
                    )
                });
                let message = format!("`{word}` is not a device class");
                self.diagnostics.fault(FaultKind::UnknownName, device.span(), message, help);
            }
        }
        None
    }

    /// Reads all presets, puts those within presets in their place, and tells what is wrong.
    fn presets(&mut self) {
        let raw = &self.raw.presets;
        let trees: Vec<_> =
            raw.iter().map(|preset| syntax::parse_steps(&preset.steps, self.diagnostics)).collect();
        for index in 0..raw.len() {
            let mut way = vec![index];
            let flat = self.flat(&trees, &mut way);
            let steps = flat.filter(|steps| !self.check_preset(steps));
            self.presets.push(steps);
        }
    }

    /// Whether presets may put so many more steps in their places; tells if not.
    fn has_room(&mut self, tree: &StepTree, more: usize) -> bool {
        match self.steps_left.and_then(|left| left.checked_sub(more)) {
            Some(left) => self.steps_left = Some(left),
            None => {
                let message = format!("presets make more than {MOST_STEPS} steps here");
                let help = "write fewer steps in presets that many bindings use";
                self.too_many(tree, message, help);
            }
        }
        self.steps_left.is_some()
    }

    /// Tells, once in a profile, that there are too many steps.
    fn too_many(&mut self, tree: &StepTree, message: String, help: &str) {
        if self.steps_left.take().is_some() {
            self.diagnostics.fault(FaultKind::OutOfRange, tree.span, message, help);
        }
    }

    /// The steps of the last preset on the way, with those of other presets in their place.
    fn flat(
        &mut self,
        trees: &[Option<Vec<StepTree>>],
        way: &mut Vec<usize>,
    ) -> Option<Vec<StepTree>> {
        let mut flat = Vec::new();
        for tree in trees[*way.last()?].as_ref()? {
            if !tree.is_preset {
                flat.push(tree.clone());
                continue;
            }
            let raw = &self.raw.presets;
            let Some(&inner) = self.preset_places.get(tree.name.text.as_str()) else {
                // Told once, at the preset that says it.
                if way.len() == 1 {
                    self.unknown_preset(tree);
                }
                return None;
            };
            if let Some(start) = way.iter().position(|&on_way| on_way == inner) {
                // Told once: by the preset of the loop that stands first.
                if start == 0 && way.iter().min() == way.first() {
                    let names = way[start..]
                        .iter()
                        .chain([&inner])
                        .map(|&i| format!("@{}", raw[i].name.text));
                    let message =
                        format!("presets in a loop: {}", names.collect::<Vec<_>>().join(", "));
                    self.diagnostics.fault(
                        FaultKind::Loop,
                        tree.span,
                        message,
                        "write the steps themselves in one of them",
                    );
                }
                return None;
            }
            if way.len() >= DEEPEST {
                let message = format!("presets lie more than {DEEPEST} deep in each other");
                self.too_many(tree, message, "write the steps themselves in one of them");
                return None;
            }
            way.push(inner);
            let steps = self.flat(trees, way);
            way.pop();
            let steps = steps?;
            if flat.len() + steps.len() > LONGEST_CHAIN {
                let name = &tree.name.text;
                let message =
                    format!("with `@{name}` the chain has more than {LONGEST_CHAIN} steps");
                let help = "a preset that holds others twice doubles at each level: write fewer";
                self.too_many(tree, message, help);
                return None;
            }
            if !self.has_room(tree, steps.len()) {
                return None;
            }
            let conditioned = steps.into_iter().map(|mut step| {
                step.conditions.extend(tree.conditions.iter().cloned());
                step
            });
            flat.extend(conditioned);
        }
        Some(flat)
    }

    fn maps(&mut self) -> (Table<MapId, Map>, Table<ActionId, crate::model::Action>) {
        let (mut maps, mut actions) = (Vec::new(), Vec::with_capacity(self.actions.len()));
        let mut named = Vec::with_capacity(self.actions.len());
        let mut made = Vec::with_capacity(self.actions.len());
        let mut first_start = None;
        for (index, raw) in self.raw.maps.iter().enumerate() {
            let kind = match &raw.kind {
                None => Some("solo"),
                Some(kind) => self.word(kind, table::MAP_KINDS, "a kind of map"),
            };
            let kind = match kind {
                Some("layer") => MapKind::Layer,
                Some("always") => MapKind::Always,
                _ => MapKind::Solo,
            };
            if let (MapKind::Always, Some((false, span))) = (kind, raw.start) {
                let help = "take the key out, or make the map a `layer`";
                self.diagnostics.fault(
                    FaultKind::WrongKind,
                    span,
                    "an `always` map is always open",
                    help,
                );
            }
            if let (MapKind::Solo, Some((true, span))) = (kind, raw.start) {
                match first_start {
                    Some((name, first)) => {
                        let message =
                            format!("the solo maps `{name}` and `{}` both start", raw.name.text);
                        let help =
                            "solo maps replace each other: keep `start = true` in one of them";
                        let finding = Diagnostic::fault(FaultKind::UsedTwice, span, message, help);
                        self.diagnostics.push(finding.with_place(first, "the other one"));
                    }
                    None => first_start = Some((raw.name.text.as_str(), span)),
                }
            }
            let mut ids = Vec::with_capacity(raw.actions.len());
            for raw in &raw.actions {
                let action = self.action(MapId::new(index), raw);
                made.push((raw, action.as_ref().map(|_| ActionId::new(actions.len()))));
                // What could not be made leads nowhere.
                named.push(action.as_ref().map(crate::model::Action::names).unwrap_or_default());
                if let Some(action) = action {
                    ids.push(ActionId::new(actions.len()));
                    actions.push(action);
                }
            }
            maps.push(Map {
                name: raw.name.text.clone(),
                kind,
                rank: self.rank(raw).unwrap_or(kind.rank()),
                also: self.also(MapId::new(index), raw),
                waive: self.waived(&raw.waive),
                start: kind == MapKind::Always || raw.start.is_some_and(|(start, _)| start),
                about: said(raw.about.as_ref()),
                label: said(raw.label.as_ref()),
                actions: ids,
            });
        }
        self.levels(&made, &mut actions);
        self.check_loops(&named);
        (maps.into(), actions.into())
    }

    fn scheme_id(&self, name: &str) -> Option<SchemeId> {
        self.schemes.iter().position(|scheme| scheme.name == name).map(SchemeId::new)
    }
}
