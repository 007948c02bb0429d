//! `scheme-gap`: an action that a scheme leaves out, though it has the rest of the map.

use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::model::ActionId;
use harmonym_lang::report::Level;

pub(super) const RULE: Rule = Rule {
    name: "scheme-gap",
    level: Level::Warning,
    finds: "An action that a scheme leaves out, though it has others of the map.",
    why: "Whoever plays with that device cannot do it.",
    find,
};

/// Of a map with no more actions than this, one that a scheme binds is enough.
const SMALL: usize = 3;

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
                bound.iter().copied().filter(|&id| !context.reaches(id, scheme)).collect();
            let own = |id: &&ActionId| {
                context.profile.actions[**id].bindings.iter().any(|one| one.scheme == Some(scheme))
            };
            let has = bound.iter().filter(own).count();
            // A scheme that binds little of a large map is there for that little.
            let is_for_it = has > 0 && (2 * has >= bound.len() || bound.len() <= SMALL);
            if missing.is_empty() || !is_for_it {
                continue;
            }
            for id in missing {
                let (name, address) = (&of.name, context.profile.address(id));
                let message = format!(
                    "{address} has no binding in {name}, which has others of {}",
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
