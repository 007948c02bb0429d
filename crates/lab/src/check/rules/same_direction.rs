//! `same-direction`: keys bound one by one to an axis or plane that all push the same way.

use super::keys::{KeyPush, lie_as_opposites, lone_keys};
use crate::check::context::has_directions;
use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::report::Level;
use harmonym_runtime::base::Id;
use std::collections::BTreeMap;

pub(super) const RULE: Rule = Rule {
    name: "same-direction",
    level: Level::Warning,
    finds: "Keys bound one by one to an axis or plane that all push the same way.",
    why: "Both keys go right, and nothing goes left.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    for (id, action) in context.actions().filter(|(_, action)| has_directions(action.kind)) {
        let mut by_scheme: BTreeMap<Option<usize>, Vec<KeyPush>> = BTreeMap::new();
        for push in lone_keys(context, id, action) {
            let scheme = action.bindings[push.binding].scheme.map(Id::index);
            by_scheme.entry(scheme).or_default().push(push);
        }
        for (scheme, pushes) in by_scheme {
            let own = |b: &harmonym_lang::model::Binding| {
                b.scheme.is_none() || scheme.is_none() || b.scheme.map(Id::index) == scheme
            };
            let range = crate::check::Flow::any(context.profile).action(id, &own);
            for part in 0..action.kind.components() {
                let along: Vec<&KeyPush> = pushes.iter().filter(|p| p.push[part] != 0.0).collect();
                // Two keys for one side are two ways to say the same, unless they lie as two sides do.
                let opposites = along.iter().enumerate().find_map(|(i, one)| {
                    let mut later = along[i + 1..].iter();
                    let other =
                        later.find(|other| lie_as_opposites(&one.control, &other.control))?;
                    Some((*one, *other))
                });
                let Some((first, last)) = opposites else { continue };
                let reach = range.parts[part];
                let ways = (reach.most > 0.0, reach.least < 0.0);
                if ways == (true, true) {
                    continue;
                }
                let names: Vec<&str> = along.iter().map(|push| push.control.as_str()).collect();
                let side = if ways.0 { "positive" } else { "negative" };
                let of = match action.kind.components() {
                    1 => "",
                    _ => [" of x", " of y", " of z"].get(part).copied().unwrap_or_default(),
                };
                let all = if names.len() == 2 { "both" } else { "all" };
                let message = format!(
                    "{} {all} push {} to the {side} side{of}: nothing goes the other way",
                    names.join(" and "),
                    context.profile.address(id)
                );
                let help =
                    format!("bind them as a pair: `pair({}, {})`", last.control, first.control);
                let place = Place::binding(context.profile, id, last.binding);
                found.push(place.tell(message, help));
            }
        }
    }
}
