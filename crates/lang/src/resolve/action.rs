//! Actions: kind, bindings, levels, fire rule.

use super::binding::Scope;
use super::fire::{self, Owner};
use super::{MOST_BINDINGS, Resolver, said};
use crate::model::{Action, Binding, Blend, Chain, Cue, Levels};
use crate::profile::{self, table};
use crate::report::{FaultKind, did_you_mean};
use crate::source::{Quoted, Span};
use crate::syntax::{self, Word};
use harmonym_runtime::base::{Id, Kind, MapId, MapKind, SchemeId};

impl Resolver<'_> {
    /// An action of `map`; all of it but its levels is looked at, and what is wrong is told. `None` where
    /// too little is known to make one.
    pub(super) fn action(&mut self, map: MapId, raw: &profile::Action) -> Option<Action> {
        let kind = self.kind(raw);
        let bindings = self.bindings(raw, kind, map);
        let shape = raw.shape.as_ref().and_then(|shape| self.shape(shape, kind));
        let owner = Owner { raw, map, kind };
        let fire = raw.fire.as_ref().and_then(|rule| self.fire(rule, owner));
        let fire = fire.unwrap_or_else(|| fire::default_rule(kind.unwrap_or(Kind::Switch)));
        let yields_to = self.yields(owner, &fire);
        let blend = self.blend(raw, kind);
        let waive = self.waived(&raw.waive);
        let kind = kind?;
        let of_map = self.raw.maps.get(map.index());
        let is_always = of_map
            .and_then(|map| map.kind.as_ref())
            .is_some_and(|kind| kind.value() == MapKind::Always.word());
        let in_pause = of_map.is_some_and(|map| map.in_pause);
        let carries = fire.iter().all(|one| matches!(one.cue, Cue::While | Cue::Change));
        Some(Action {
            name: raw.name.text.clone(),
            map,
            kind,
            bindings,
            blend: blend?,
            shape: shape.unwrap_or_default(),
            shape_text: said(raw.shape.as_ref()),
            levels: Levels::default(),
            levels_given: raw.levels.is_some(),
            fire,
            yields_to,
            claim: raw.claim.unwrap_or(!is_always),
            carry: raw.carry.unwrap_or(carries),
            in_pause: raw.in_pause.unwrap_or(in_pause),
            waive,
            fire_given: raw.fire.is_some(),
            rebind: raw.rebind.unwrap_or(true),
            about: said(raw.about.as_ref()),
            label: said(raw.label.as_ref()),
        })
    }

    fn kind(&mut self, raw: &profile::Action) -> Option<Kind> {
        let Some(value) = &raw.value else {
            if !raw.has_faults {
                let message = format!("the action `{}` does not say its `value`", raw.name.text);
                let help = "write `value = \"switch\"`, \"axis\", \"plane\", \"space\" or \"turn\"";
                self.diagnostics.fault(FaultKind::Missing, raw.name.span, message, help);
            }
            return None;
        };
        match self.word(value, table::VALUES, "a kind of value")? {
            "switch" => Some(Kind::Switch),
            "axis" => Some(Kind::Axis),
            "plane" => Some(Kind::Plane),
            "space" => Some(Kind::Space),
            _ => Some(Kind::Turn),
        }
    }

    fn blend(&mut self, raw: &profile::Action, kind: Option<Kind>) -> Option<Blend> {
        let Some(blend) = &raw.blend else { return Some(Blend::Greatest) };
        match self.word(blend, table::BLENDS, "a blend")? {
            "oldest" => Some(Blend::Oldest),
            "newest" => Some(Blend::Newest),
            "last-change" => Some(Blend::LastChange),
            "sum" if kind == Some(Kind::Turn) => {
                let help = "write `blend = \"greatest\"`, say";
                self.diagnostics.fault(
                    FaultKind::WrongKind,
                    blend.span(),
                    "turns cannot be added",
                    help,
                );
                None
            }
            "sum" => Some(Blend::Sum),
            _ => Some(Blend::Greatest),
        }
    }

    fn bindings(&mut self, raw: &profile::Action, kind: Option<Kind>, map: MapId) -> Vec<Binding> {
        let count: usize = raw.binds.iter().map(|(_, all)| all.len()).sum();
        let mut bindings = Vec::with_capacity(count.min(MOST_BINDINGS));
        let mut left = MOST_BINDINGS;
        for (scheme, all) in &raw.binds {
            let id = match scheme.text.as_str() {
                "all" => None,
                _ => match self.scheme(scheme) {
                    None => continue,
                    found => found,
                },
            };
            if all.len() > left {
                let span = all[left].from.span();
                let message = format!("the action has more than {MOST_BINDINGS} bindings");
                let help = "bind fewer controls, or part the action in several";
                self.diagnostics.fault(FaultKind::OutOfRange, span, message, help);
                break;
            }
            left -= all.len();
            for (index, one) in all.iter().enumerate() {
                let Some(tree) = syntax::parse_binding(&one.from, self.diagnostics) else {
                    continue;
                };
                let scope = Scope { scheme: id, map, action: Some(kind.unwrap_or(Kind::Space)) };
                let Some(chain) = self.chain(&tree, scope) else { continue };
                if let Some(kind) = kind {
                    self.check_kind(&chain, kind, tree.span);
                }
                bindings.push(Binding {
                    scheme: id,
                    number: index + 1,
                    text: one.from.value().trim().to_owned(),
                    chain,
                    rebind: one.rebind.unwrap_or(true),
                    label: said(one.label.as_ref()),
                });
            }
        }
        bindings
    }

    fn scheme(&mut self, name: &Word) -> Option<SchemeId> {
        let id = self.scheme_id(&name.text);
        if id.is_none() {
            let message = format!("there is no scheme `{}`", name.text);
            let help = did_you_mean(
                self.diagnostics
                    .nearest(&name.text, self.schemes.iter().map(|s| s.name.as_str()))
                    .map(|near| format!("bind.{near}")),
                || format!("add it: `[scheme.{}]` with `devices = [\"key\"]`, say", name.text),
            );
            self.diagnostics.fault(FaultKind::UnknownName, name.span, message, help);
        }
        id
    }

    /// A binding has its action's kind; whatever passes as an axis reaches a switch.
    fn check_kind(&mut self, chain: &Chain, kind: Kind, span: Span) {
        if kind.components() == chain.kind.components() {
            return;
        }
        let found = chain.kind.a_word();
        let help = match (kind, chain.kind) {
            (_, Kind::Plane | Kind::Space) if kind.components() == 1 => {
                "add `| pick x`, `| pick y` or `| pick length`"
            }
            (Kind::Plane, Kind::Axis) => {
                "add `| onto x` or `| onto y`, or join four controls: `four(UP, LEFT, DOWN, RIGHT)`"
            }
            (Kind::Space, Kind::Axis) => {
                "add `| onto x`, `| onto y` or `| onto z`, or use `join(X, Y, Z)`"
            }
            _ => "take its components with `pick` and put them together with `join`",
        };
        let message = format!("the action is {}, but this binding gives {found}", kind.a_word());
        self.diagnostics.fault(FaultKind::WrongKind, span, message, help);
    }

    fn shape(&mut self, text: &Quoted, kind: Option<Kind>) -> Option<Vec<crate::model::Step>> {
        let trees = syntax::parse_steps(text, self.diagnostics)?;
        let Some(kind) = kind else {
            self.check_steps_alone(&trees);
            return None;
        };
        let flows = if kind == Kind::Switch { Kind::Axis } else { kind };
        let (steps, gives) = self.steps(&trees, flows, Some(kind))?;
        if gives != flows {
            let message = format!("the shape of {} must give back the same", kind.a_word());
            let help = "put `pick` and `onto` into the bindings";
            self.diagnostics.fault(FaultKind::WrongKind, text.span(), message, help);
            return None;
        }
        Some(steps)
    }
}
