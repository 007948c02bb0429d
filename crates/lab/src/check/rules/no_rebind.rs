//! `no-rebind`: a map of which nothing may be rebound.

use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::report::Level;

pub(super) const RULE: Rule = Rule {
    name: "no-rebind",
    level: Level::Note,
    finds: "A map of which nothing may be rebound.",
    why: "Whoever cannot reach a key cannot move it either.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    for (id, map) in context.profile.maps.entries() {
        let bound = map.actions.iter().map(|&id| &context.profile.actions[id]);
        let mut bound = bound.filter(|action| !action.bindings.is_empty()).peekable();
        let fixed = bound.peek().is_some()
            && bound.all(|action| !action.rebind || action.bindings.iter().all(|one| !one.rebind));
        if fixed {
            let message = format!("nothing in the map {} may be rebound", map.name);
            let help = "take `rebind = false` out where no rule of the platform asks for it";
            found.push(Place::map(context.profile, id).tell(message, help));
        }
    }
}
