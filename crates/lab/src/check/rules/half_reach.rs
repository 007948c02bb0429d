//! `half-reach`: part of an action that a scheme cannot reach.

use crate::check::context::has_directions;
use crate::check::{Context, Place, Range, Remark, Rule};
use harmonym_lang::report::Level;
use harmonym_runtime::base::{ControlKind, Kind, SchemeId};

pub(super) const RULE: Rule = Rule {
    name: "half-reach",
    level: Level::Warning,
    finds: "Part of an action that a scheme cannot reach.",
    why: "With one device in hand there is up but no down, or x but no y.",
    find,
};

/// What a range has of each half-axis.
fn halves(range: Range, count: usize) -> Vec<bool> {
    let parts = range.parts.iter().take(count);
    parts.flat_map(|part| [part.most > 1e-9, part.least < -1e-9]).collect()
}

const WAYS: [&str; 6] = [
    "the positive side of x",
    "the negative side of x",
    "the positive side of y",
    "the negative side of y",
    "the positive side of z",
    "the negative side of z",
];

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    for (id, action) in context.actions().filter(|(_, action)| has_directions(action.kind)) {
        let count = action.kind.components();
        let of = |scheme: SchemeId| halves(context.in_scheme(id, scheme), count);
        let bound =
            |scheme: SchemeId| action.bindings.iter().position(|b| b.scheme == Some(scheme));
        let all = halves(context.ranges[id], count);
        for scheme in context.profile.schemes.ids() {
            let Some(first) = bound(scheme) else { continue };
            let own = of(scheme);
            let mut missing: Vec<usize> = (0..own.len()).filter(|&i| all[i] && !own[i]).collect();
            // A plane that hands reach all around but for a side, though no other scheme shows it.
            let is_spot = context.uses_of(id, first).any(|one| one.kind == ControlKind::Spot);
            if missing.is_empty() && action.kind != Kind::Axis && !is_spot {
                let has = own.iter().filter(|&&has| has).count();
                let is_lone = |i: usize| !own[i] && own[i ^ 1];
                missing.extend((0..own.len()).filter(|&i| has > 1 && is_lone(i)));
                let dead = |part: usize| !own[2 * part] && !own[2 * part + 1];
                if missing.is_empty() && has > 0 && action.kind == Kind::Plane {
                    missing.extend((0..count).filter(|&part| dead(part)).map(|part| 2 * part));
                }
            }
            if missing.is_empty() {
                continue;
            }
            let ways = missing.iter().filter_map(|&i| WAYS.get(i).copied());
            let ways = ways.map(|way| match action.kind {
                Kind::Axis => way.trim_end_matches(" of x"),
                _ => way,
            });
            let ways: Vec<&str> = ways.collect();
            let name = &context.profile.schemes[scheme].name;
            let address = context.profile.address(id);
            let message = format!("in {name}, {address} can't get to {}", ways.join(" and "));
            let help = "bind what is missing there: a `pair` for an axis, a `four` for a plane";
            found.push(Place::binding(context.profile, id, first).tell(message, help));
        }
    }
}
