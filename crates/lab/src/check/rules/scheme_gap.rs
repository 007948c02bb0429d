//! `scheme-gap`: an action that a scheme leaves out, though it has the rest of the map.

use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::model::ActionId;
use harmonym_lang::report::Level;
use harmonym_runtime::base::SchemeId;

pub(super) const RULE: Rule = Rule {
    name: "scheme-gap",
    level: Level::Warning,
    finds: "An action that a scheme leaves out, though it has the rest of the map.",
    why: "Whoever plays with that device cannot do it.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    for (map_id, map) in context.profile.maps.entries() {
        let bound: Vec<ActionId> = map
            .actions
            .iter()
            .copied()
            .filter(|&id| !context.profile.actions[id].bindings.is_empty())
            .collect();
        for (scheme, of) in context.profile.schemes.entries() {
            let missing: Vec<ActionId> =
                bound.iter().copied().filter(|&id| !reaches(context, id, scheme)).collect();
            let has = bound.len() - missing.len();
            // As complete otherwise: at least three quarters of what the map has.
            if missing.is_empty() || has < 2 || has < 3 * missing.len() {
                continue;
            }
            for id in missing {
                let (name, address) = (&of.name, context.profile.address(id));
                let message = format!(
                    "{address} has no binding in {name}, which has the rest of {}",
                    context.profile.maps[map_id].name
                );
                let class = of
                    .classes
                    .first()
                    .map_or("pad", |&class| context.profile.catalogue.word(class));
                let help = format!("`harmonym bind {address} {class}.… --scheme {name}`");
                found.push(Place::action(context.profile, id).tell(message, help));
            }
        }
    }
}

/// Whether hands on a scheme's devices reach an action.
fn reaches(context: &Context<'_>, id: ActionId, scheme: SchemeId) -> bool {
    let action = &context.profile.actions[id];
    let classes = &context.profile.schemes[scheme].classes;
    let reported = context.profile.catalogue.reported();
    action.bindings.iter().enumerate().any(|(index, binding)| {
        let own = binding.scheme.is_none_or(|one| one == scheme);
        // Controls of the scheme that stand for those bound in another.
        let stands_in = context.uses_of(id, index).filter(|one| !one.holds).all(|one| {
            one.parts.iter().any(|(control, _)| {
                reported
                    .get(harmonym_runtime::base::Id::index(*control))
                    .is_some_and(|r| classes.contains(&r.class))
            })
        });
        own || (stands_in && context.uses_of(id, index).next().is_some())
    })
}
