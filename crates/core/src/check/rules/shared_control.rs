//! `shared-control`: one control drives two actions that live at once.

use super::pairs::each_pair;
use crate::check::gesture::{both, go_on_together};
use crate::check::{Context, Level, Place, Remark, Rule};

pub(super) const RULE: Rule = Rule {
    name: "shared-control",
    level: Level::Warning,
    finds: "One control drives two actions that live at once.",
    why: "Whoever means the one gets the other too: the same key walks and climbs.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    for pair in each_pair(context) {
        let (a, b) = (&context.profile.actions[pair.a], &context.profile.actions[pair.b]);
        if both(context, a, b).is_some() || !go_on_together(a, b) {
            continue;
        }
        let name = |id| context.profile.address(id);
        let (first, second) = (name(pair.a), name(pair.b));
        let message = format!("{} drives {first} and {second} at once", pair.controls());
        let help = format!(
            "bind one of them elsewhere, or tell them apart: a guard such as `without {first}`, \
             another map, or `waive = [\"shared-control\"]` if both are meant"
        );
        let place =
            Place::binding(context.profile, pair.b, pair.binding_b).at(pair.name_b.as_str());
        found.push(place.tell(message, help));
    }
}
