//! `shared-control`: one control drives two actions that live at once.

use super::pairs::MOST;
use crate::base::ActionId;
use crate::check::gesture::{both, go_on_together};
use crate::check::{Context, Level, Place, Remark, Rule};
use std::collections::HashMap;

pub(super) const RULE: Rule = Rule {
    name: "shared-control",
    level: Level::Warning,
    finds: "One control drives two actions that live at once.",
    why: "Whoever means the one gets the other too: the same key walks and climbs.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    let mut told: HashMap<ActionId, usize> = HashMap::new();
    for pair in context.pairs() {
        if told.get(&pair.b).is_some_and(|&told| told == MOST) {
            continue;
        }
        let (a, b) = (&context.profile.actions[pair.a], &context.profile.actions[pair.b]);
        if both(context, a, b).is_some() || !go_on_together(a, b) {
            continue;
        }
        let name = |id| context.profile.address(id);
        let (first, second) = (name(pair.a), name(pair.b));
        let message = format!("{} drives {first} and {second} at once", pair.controls(context));
        let help = format!(
            "bind one of them elsewhere, or tell them apart: a guard such as `without {first}`, \
             another map, or `waive = [\"shared-control\"]` if both are meant"
        );
        let (binding, control) = pair.place(context);
        let place = Place::binding(context.profile, pair.b, binding).at(control);
        *told.entry(pair.b).or_default() += 1;
        found.push(place.tell(message, help));
    }
}
