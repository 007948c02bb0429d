//! `claim-in-vain`: a control kept from the maps below by an action that may not fire.

use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::model::{ActionId, Guard};
use harmonym_lang::report::Level;
use harmonym_runtime::base::VariableId;
use std::collections::HashSet;

pub(super) const RULE: Rule = Rule {
    name: "claim-in-vain",
    level: Level::Warning,
    finds: "A control kept from the maps below by an action that may not fire.",
    why: "With the guard against it the press does nothing at all: the map above keeps it, and does not use it.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    let guarded = |id: ActionId| {
        let action = &context.profile.actions[id];
        action.claim && action.fire.iter().all(|one| !one.guards.is_empty())
    };
    let mut told: HashSet<ActionId> = HashSet::new();
    for upper in context.uses.iter().filter(|one| !one.holds && one.holders.is_empty()) {
        if !guarded(upper.action) || told.contains(&upper.action) {
            continue;
        }
        let lower = context.sharing(upper).find(|lower| {
            !lower.holds
                && lower.action != upper.action
                && lower.meets(upper)
                && context.maps_of[upper.action]
                    .iter()
                    .all(|&above| !context.maps_of[lower.action].contains(&above))
                && context.maps_of[upper.action].iter().any(|&above| {
                    context.maps_of[lower.action].iter().any(|&below| {
                        context.can_lie_above(above, below) && !context.can_lie_above(below, above)
                    })
                })
        });
        let Some(lower) = lower else { continue };
        told.insert(upper.action);
        let guard = context.profile.actions[upper.action].fire.first();
        let guard = guard.and_then(|one| one.guards.first());
        let guard = guard.map_or(String::new(), |guard| words(context, *guard));
        let (name, below) =
            (context.profile.address(upper.action), context.profile.address(lower.action));
        let message = format!(
            "{name} keeps {} from {below} also where a guard keeps it from firing (`{guard}`)",
            upper.name
        );
        let help = format!(
            "open its map only while the guard holds, and take the guard out; or guard both: {name} without \
             `claim`, {below} with the opposite guard"
        );
        let place = Place::binding(context.profile, upper.action, upper.binding);
        found.push(place.at(upper.name.as_str()).tell(message, help));
    }
}

/// A guard as it is written.
fn words(context: &Context<'_>, guard: Guard) -> String {
    let action = |id: ActionId| context.profile.address(id);
    let named = |id: VariableId| context.profile.variables[id].name.as_str();
    match guard {
        Guard::With(id) => format!("with {}", action(id)),
        Guard::Without(id) => format!("without {}", action(id)),
        Guard::When(id) => format!("when {}", named(id)),
        Guard::Unless(id) => format!("unless {}", named(id)),
    }
}
