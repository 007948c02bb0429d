//! `shadowed-keys`: a control that is bound by itself and as the last of a `+` in the same map.

use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::model::ActionId;
use harmonym_lang::report::Level;
use std::collections::HashSet;

pub(super) const RULE: Rule = Rule {
    name: "shadowed-keys",
    level: Level::Warning,
    finds: "A control that is bound by itself and as the last of a `+` in the same map.",
    why: "With the other key held, the plain action stays silent, and goes on doing so until the key is let go.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    let mut told: HashSet<(ActionId, ActionId)> = HashSet::new();
    for (index, one) in context.uses.iter().enumerate().filter(|(_, one)| !one.holds) {
        for other in context.later_meeting(index) {
            let other = &context.uses[other];
            let (plain, plus) = match one.holders.len() < other.holders.len() {
                true => (one, other),
                false => (other, one),
            };
            let maps = &context.maps_of[plus.action];
            let same_map = context.maps_of[plain.action].iter().any(|map| maps.contains(map));
            let pair = (plain.action, plus.action);
            if other.holds
                || plain.holders.len() == plus.holders.len()
                || !same_map
                || plain.action == plus.action
                || told.contains(&pair)
            {
                continue;
            }
            told.insert(pair);
            let name = |id| context.profile.address(id);
            let message = format!(
                "{} alone is {}; while {} is held it is {}, and stays so until it is let go",
                plain.name,
                name(plain.action),
                plus.holders.join(" and "),
                name(plus.action)
            );
            let help =
                "if that is meant, `waive = [\"shadowed-keys\"]`; else bind one of them elsewhere";
            let place = Place::binding(context.profile, plain.action, plain.binding);
            found.push(place.at(plain.name.as_str()).tell(message, help));
        }
    }
}
