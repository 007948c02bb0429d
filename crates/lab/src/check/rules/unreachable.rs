//! `unreachable`: an action whose controls are always claimed by maps that are always open.

use crate::check::context::Use;
use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::report::Level;
use harmonym_runtime::base::{ControlId, MapKind};
use std::collections::HashMap;

/// Of those that claim a control, so many are looked at.
const MOST_CLAIMING: usize = 256;

pub(super) const RULE: Rule = Rule {
    name: "unreachable",
    level: Level::Warning,
    finds: "An action whose controls are always claimed by maps that are always open.",
    why: "The map above takes every one of its controls, whenever it is open.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    let claiming: Vec<&Use> = context
        .uses
        .iter()
        .filter(|upper| {
            let maps = &context.maps_of[upper.action];
            let always = maps.iter().any(|&map| context.profile.maps[map].kind == MapKind::Always);
            always && context.profile.actions[upper.action].claim
        })
        .collect();
    if claiming.is_empty() {
        return;
    }
    let mut of_control: HashMap<ControlId, Vec<&Use>> = HashMap::new();
    for upper in &claiming {
        for (control, _) in &upper.parts {
            of_control.entry(*control).or_default().push(upper);
        }
    }
    let claiming_of = |control: &ControlId| {
        let all = of_control.get(control).into_iter().flatten().copied();
        all.take(MOST_CLAIMING)
    };
    for (id, action) in context.actions().filter(|(_, action)| !action.bindings.is_empty()) {
        let always_above = |upper: &Use| {
            let claims = context.profile.actions[upper.action].claim;
            let maps = &context.maps_of[upper.action];
            claims
                && !upper.holds
                && upper.holders.is_empty()
                && context.maps_of[id].iter().all(|&own| {
                    maps.iter().any(|&map| {
                        context.profile.maps[map].kind == MapKind::Always
                            && context.can_lie_above(map, own)
                            && !context.can_lie_above(own, map)
                    })
                })
        };
        let covered = |one: &Use| {
            one.parts.iter().all(|(control, halves)| {
                let claimed =
                    claiming_of(control).filter(|upper| upper.action != id && always_above(upper));
                let bits = claimed
                    .filter(|upper| upper.device.is_none() || upper.device == one.device)
                    .flat_map(|upper| &upper.parts)
                    .filter(|(c, _)| c == control)
                    .fold(0, |bits, (_, halves)| bits | halves);
                halves & !bits == 0
            })
        };
        let each = |index: usize| {
            let mut uses = context.uses_of(id, index).filter(|one| !one.holds).peekable();
            uses.peek().is_some() && uses.all(covered)
        };
        if !(0..action.bindings.len()).all(each) {
            continue;
        }
        let own = (0..action.bindings.len()).flat_map(|index| context.uses_of(id, index));
        let first = own
            .flat_map(|one| one.parts.iter().map(move |(control, _)| (one, control)))
            .flat_map(|(one, control)| claiming_of(control).map(move |upper| (one, upper)))
            .filter(|(one, upper)| always_above(upper) && one.meets(upper))
            .map(|(_, upper)| upper.action)
            .min();
        let taker = first.map(|upper| context.profile.address(upper));
        let message = format!(
            "{} is never reached: {} keeps its controls whenever it is open",
            context.profile.address(id),
            taker.as_deref().unwrap_or("a map above")
        );
        let help = "give one of the two another control, or a map of its own";
        found.push(Place::binding(context.profile, id, 0).tell(message, help));
    }
}
