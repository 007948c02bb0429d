//! `double-fire`: two actions on one control that both fire in one gesture.

use super::pairs::MOST;
use crate::base::ActionId;
use crate::check::gesture::{both, lateness};
use crate::check::{Context, Level, Place, Remark, Rule};
use crate::model::Trigger;
use std::collections::HashMap;

pub(super) const RULE: Rule = Rule {
    name: "double-fire",
    level: Level::Warning,
    finds: "Two actions on one control that both fire in one gesture.",
    why: "A press and a hold on one button both fire: the player opens the hatch and falls through it.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    let mut told: HashMap<ActionId, usize> = HashMap::new();
    for pair in context.pairs() {
        if told.get(&pair.b).is_some_and(|&told| told == MOST) {
            continue;
        }
        let (a, b) = (&context.profile.actions[pair.a], &context.profile.actions[pair.b]);
        let Some((one, other)) = both(context, a, b) else { continue };
        let name = |id| context.profile.address(id);
        let message = format!(
            "one gesture on {} fires both {} (`{}`) and {} (`{}`)",
            pair.controls(context),
            name(pair.a),
            one.text,
            name(pair.b),
            other.text
        );
        // The one that fires earlier waits until the other has given up.
        let a_first = lateness(&one.trigger) <= lateness(&other.trigger);
        let (early, late, rule) = match a_first {
            true => (pair.a, pair.b, one),
            false => (pair.b, pair.a, other),
        };
        let waits = format!("in {}: `yields-to = [\"{}\"]`", name(early), name(late));
        let help = match (one.text == other.text, &rule.trigger) {
            (true, _) => "give one of them another control, or another rule".to_owned(),
            (false, Trigger::Press) => format!("{waits}, or `fire = \"tap 0.25s\"`"),
            (false, Trigger::Repeat { .. }) => {
                format!("give {} another control: `repeat` cannot wait", name(early))
            }
            (false, _) => waits,
        };
        let (binding, control) = pair.place(context);
        let place = Place::binding(context.profile, pair.b, binding).at(control);
        *told.entry(pair.b).or_default() += 1;
        found.push(place.tell(message, help));
    }
}
