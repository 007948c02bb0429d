//! Devices of the profile's own, and what it says of controls and rules as a whole.

use super::Resolver;
use crate::model::ActionId;
use crate::profile::controls::unknown_control;
use crate::profile::{self, table};
use crate::report::{FaultKind, did_you_mean, nearest, nearest_in_class};
use crate::source::{Quoted, Span};
use harmonym_runtime::base::{ControlId, ControlKind, Id, MOST_OWN_CLASSES, MapId, Seat};
use harmonym_runtime::controls::{Catalogue, OwnDevice};

impl Resolver<'_> {
    /// Adds the profile's own devices to the catalogue.
    pub(super) fn devices(&mut self) {
        let raw = self.raw;
        if let Some(extra) = raw.devices.get(MOST_OWN_CLASSES) {
            let message = format!("there are more than {MOST_OWN_CLASSES} devices");
            self.diagnostics.fault(
                FaultKind::TooMuch,
                extra.name.span,
                message,
                "put their controls together",
            );
        }
        let own: Vec<OwnDevice> =
            raw.devices.iter().take(MOST_OWN_CLASSES).map(|device| self.device(device)).collect();
        self.catalogue = Catalogue::with(&own);
    }

    fn device(&mut self, raw: &profile::Device) -> OwnDevice {
        let mut controls = Vec::new();
        for (name, kind) in &raw.controls {
            match ControlKind::from_word(kind.value()) {
                Some(kind) => controls.push((name.text.clone(), kind)),
                None => {
                    let words = ControlKind::ALL.map(ControlKind::word);
                    let help = did_you_mean(nearest(kind.value(), words), || {
                        format!("the kinds are {}", words.join(", "))
                    });
                    let message = format!("`{}` is not a kind of control", kind.value());
                    self.diagnostics.fault(FaultKind::UnknownWord, kind.span(), message, help);
                }
            }
        }
        if raw.controls.is_empty() {
            let message = format!("the device `{}` has no controls", raw.name.text);
            let help = "write `controls = { thumb = \"stick\", grab = \"button\" }`, say";
            self.diagnostics.fault(FaultKind::Missing, raw.name.span, message, help);
        }
        let mut stands_for = Vec::new();
        for (name, standard) in &raw.stands_for {
            let Some(index) = controls.iter().position(|(known, _)| *known == name.text) else {
                let names = controls.iter().map(|(known, _)| known.as_str());
                let near = self.diagnostics.nearest(&name.text, names);
                let help = did_you_mean(near, || "name one of its `controls`".to_owned());
                let message = format!("the device has no control `{}`", name.text);
                self.diagnostics.fault(FaultKind::UnknownName, name.span, message, help);
                continue;
            };
            stands_for.extend(self.standard(standard, controls[index].1).map(|id| (index, id)));
        }
        OwnDevice { name: raw.name.text.clone(), controls, stands_for }
    }

    /// The standard control that one of `kind` counts as.
    fn standard(&mut self, text: &Quoted, kind: ControlKind) -> Option<ControlId> {
        let name = text.value();
        let found = Catalogue::built_in().reported_id(name);
        let Some(id) = found else {
            let reported = Catalogue::built_in().reported();
            let names = reported.iter().filter(|r| r.kind == kind).map(|r| &*r.name);
            let help =
                did_you_mean(nearest_in_class(name, self.diagnostics.comparing.of(names)), || {
                    "name a control that a device reports, such as `pad.left-stick`".to_owned()
                });
            let message = format!("no device reports a control `{name}`");
            self.diagnostics.fault(FaultKind::UnknownControl, text.span(), message, help);
            return None;
        };
        let standard = Catalogue::built_in().reported()[id.index()].kind;
        let pulled = |kind| matches!(kind, ControlKind::Button | ControlKind::Lever);
        if standard == kind || (pulled(standard) && pulled(kind)) {
            return Some(id);
        }
        let message =
            format!("a {} cannot count as `{name}`, which is a {}", kind.word(), standard.word());
        let help = format!("make the control a `{}`", standard.word());
        self.diagnostics.fault(FaultKind::WrongKind, text.span(), message, help);
        None
    }

    /// How many local players there are.
    pub(super) fn seats(&mut self) -> u8 {
        let Some((seats, span)) = self.raw.seats else { return 1 };
        let count = (seats.fract() == 0.0).then_some(seats as u8).and_then(Seat::new);
        if count.is_none() {
            self.diagnostics.fault(
                FaultKind::OutOfRange,
                span,
                "there are 1 to 8 seats",
                "write `seats = 2`, say",
            );
        }
        count.map_or(1, Seat::number)
    }

    /// The controls that no player may bind.
    pub(super) fn reserved(&mut self) -> Vec<String> {
        let mut reserved = Vec::new();
        for control in &self.raw.reserved {
            let name = control.value();
            if self.catalogue.find(name).is_some() {
                reserved.push(name.to_owned());
                continue;
            }
            let help = unknown_control(name, &self.catalogue, &self.diagnostics.comparing);
            let message = format!("there is no control `{name}`");
            self.diagnostics.fault(FaultKind::UnknownControl, control.span(), message, help);
        }
        reserved
    }

    /// Rules of the checker, by name.
    pub(super) fn waived(&mut self, rules: &[Quoted]) -> Vec<String> {
        let mut waived = Vec::new();
        for rule in rules {
            let name = rule.value();
            if table::RULES.contains(&name) {
                waived.push(name.to_owned());
                continue;
            }
            let help = did_you_mean(nearest(name, table::RULES.iter().copied()), || {
                "name a rule of the checker, such as `fast-diagonal`".to_owned()
            });
            self.diagnostics.fault(
                FaultKind::UnknownName,
                rule.span(),
                format!("there is no rule `{name}`"),
                help,
            );
        }
        waived
    }

    /// The rank that a map names.
    pub(super) fn rank(&mut self, map: &profile::Map) -> Option<i64> {
        let (rank, span): (f64, Span) = map.rank?;
        if rank.fract() != 0.0 || !table::RANK.holds(rank) {
            let help = format!("write a whole number, {}", table::RANK.range());
            self.diagnostics.fault(FaultKind::OutOfRange, span, "this is not a rank", help);
            return None;
        }
        Some(rank as i64)
    }

    /// The other maps' actions that live in a map.
    pub(super) fn also(&mut self, id: MapId, map: &profile::Map) -> Vec<ActionId> {
        let mut also = Vec::new();
        for name in &map.also {
            let Some(action) = self.action_id(name.value(), name.span(), id) else { continue };
            if self.actions[action.index()].map == id {
                let message = format!("`{}` lives in this map already", name.value());
                self.diagnostics.fault(FaultKind::UsedTwice, name.span(), message, "take it out");
            } else if also.contains(&action) {
                let message = format!("`{}` is named twice", name.value());
                self.diagnostics.fault(
                    FaultKind::UsedTwice,
                    name.span(),
                    message,
                    "keep one of them",
                );
            } else {
                also.push(action);
            }
        }
        also
    }
}
