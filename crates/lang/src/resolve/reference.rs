//! Actions by name, and the loops that names may close.

use super::Resolver;
use crate::model::{ActionId, Chain, Head};
use crate::report::{Diagnostic, FaultKind, did_you_mean};
use crate::source::Span;
use crate::syntax::Word;
use harmonym_runtime::base::{Id, Kind, MapId};

/// What is known of an action before any is resolved.
pub(super) struct Known {
    pub address: String,
    pub map: MapId,
    /// Where its name is.
    pub span: Span,
    /// Its kind, if it is one.
    pub kind: Option<Kind>,
}

impl Resolver<'_> {
    /// Lists all actions in file order.
    pub(super) fn know_actions(&mut self) {
        let mut known = Vec::new();
        for (index, map) in self.raw.maps.iter().enumerate() {
            for action in &map.actions {
                let kind = action.value.as_ref().and_then(|value| match value.value() {
                    "switch" => Some(Kind::Switch),
                    "axis" => Some(Kind::Axis),
                    "plane" => Some(Kind::Plane),
                    "space" => Some(Kind::Space),
                    "turn" => Some(Kind::Turn),
                    _ => None,
                });
                let address = [map.name.text.as_str(), ".", &action.name.text].concat();
                known.push(Known { address, map: MapId::new(index), span: action.name.span, kind });
            }
        }
        let ids = known.iter().enumerate();
        self.action_ids =
            ids.map(|(index, one)| (one.address.clone(), ActionId::new(index))).collect();
        self.actions = known;
    }

    /// The action that `name` means inside of `map`. `None` after telling that there is none.
    pub(super) fn action_id(&mut self, name: &str, span: Span, map: MapId) -> Option<ActionId> {
        let own = self.raw.maps.get(map.index()).map_or("", |map| &map.name.text);
        let address = match name.contains('.') {
            true => name.to_owned(),
            false => format!("{own}.{name}"),
        };
        let found = self.action_ids.get(&address).copied();
        if found.is_none() {
            let of_map = self.actions.iter().filter(|action| action.map == map);
            let short =
                of_map.filter_map(|action| action.address.split_once('.').map(|(_, name)| name));
            let elsewhere = self.actions.iter().map(|action| action.address.as_str());
            let with_map = self
                .diagnostics
                .comparing
                .of(elsewhere.clone())
                .find(|known| known.split_once('.').is_some_and(|(_, n)| n == name));
            let help = did_you_mean(
                with_map.or_else(|| self.diagnostics.nearest(name, short.chain(elsewhere))),
                || "name an action of this map, or `map.action`".to_owned(),
            );
            self.diagnostics.fault(
                FaultKind::UnknownName,
                span,
                format!("there is no action `{name}`"),
                help,
            );
        }
        found
    }

    /// `act.NAME` as a chain.
    pub(super) fn act(&mut self, word: &Word, map: MapId) -> Option<Chain> {
        let name = word.text.strip_prefix("act.").unwrap_or_default();
        let action = self.action_id(name, word.span, map)?;
        let known = &self.actions[action.index()];
        let kind = match known.kind? {
            Kind::Switch => Kind::Axis,
            kind => kind,
        };
        let head = Head::Action { action, name: known.address.clone(), kind };
        Some(Chain { head, steps: Vec::new(), kind })
    }

    /// Tells of every loop among actions, given whom each of them names.
    pub(super) fn check_loops(&mut self, named: &[Vec<ActionId>]) {
        // 0 unseen, 1 on the way, 2 done.
        let mut marks = vec![0_u8; named.len()];
        let mut way: Vec<(usize, usize)> = Vec::new();
        for start in 0..named.len() {
            if marks[start] != 0 {
                continue;
            }
            marks[start] = 1;
            way.push((start, 0));
            while let Some((at, next)) = way.last_mut() {
                let Some(&to) = named[*at].get(*next) else {
                    marks[*at] = 2;
                    way.pop();
                    continue;
                };
                *next += 1;
                match marks[to.index()] {
                    0 => {
                        marks[to.index()] = 1;
                        way.push((to.index(), 0));
                    }
                    1 => self.tell_loop(&way, to.index()),
                    _ => {}
                }
            }
        }
    }

    fn tell_loop(&mut self, way: &[(usize, usize)], to: usize) {
        let start = way.iter().position(|(at, _)| *at == to).unwrap_or(0);
        let on_loop: Vec<usize> = way[start..].iter().map(|(at, _)| *at).chain([to]).collect();
        let names: Vec<_> = on_loop.iter().map(|&at| self.actions[at].address.as_str()).collect();
        let message = format!("actions name each other in a loop: {}", names.join(" → "));
        let help = "take one of these names out of its rule or binding";
        let mut finding = Diagnostic::fault(FaultKind::Loop, self.actions[to].span, message, help);
        for &at in &on_loop[1..on_loop.len() - 1] {
            finding = finding.with_place(self.actions[at].span, "on the loop");
        }
        self.diagnostics.push(finding);
    }
}
