//! `setting-kills`: a setting at whose end an action can no longer fire.

use crate::check::context::all_steps;
use crate::check::{Context, Flow, Place, Remark, Rule};
use harmonym_lang::model::{ActionId, Number};
use harmonym_lang::report::Level;
use harmonym_runtime::base::{Id, VariableId, shortest};

pub(super) const RULE: Rule = Rule {
    name: "setting-kills",
    level: Level::Warning,
    finds: "A setting at whose end an action can no longer fire.",
    why: "A player moves a slider to its end, and from then on the action is dead, with no word of why.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    for (id, action) in context.actions() {
        let down = action.levels.down;
        if !context.ranges[id].reaches(down) {
            continue;
        }
        // One after the other: which one it is shows by itself.
        let alone = context.corners(id).into_iter().filter(|worth| worth.other.len() == 1);
        for worth in alone {
            let mut flow = Flow::any(context.profile).with(Some(&worth.all));
            if flow.action(id, &|_| true).reaches(down) {
                continue;
            }
            let changed = context.profile.variables.entries().find(|(named, one)| {
                worth.all.get(named.index()).is_some_and(|now| *now != one.default * one.factor)
            });
            let Some((named, one)) = changed else { continue };
            // What a switch switches off is meant to be off.
            let is_condition = one.is_switch || one.range.is_none();
            if is_condition || !followed_by_a_number(context, id, named) {
                continue;
            }
            let message = format!(
                "{} cannot fire{}: nothing of it comes to its down level {}",
                context.profile.address(id),
                worth.words(),
                shortest((down * 1e6).round() / 1e6)
            );
            let kind = if one.is_setting { "setting" } else { "fact" };
            let help = format!("end the range of {kind}.{} where the action still works", one.name);
            let mut place = Place::thing(kind, &one.name);
            place.path.push("range".to_owned());
            (place.action, place.map) = (Some(id), Some(action.map));
            found.push(place.tell(message, help));
        }
    }
}

/// Whether some number of an action follows a setting or fact.
fn followed_by_a_number(context: &Context<'_>, id: ActionId, named: VariableId) -> bool {
    let action = &context.profile.actions[id];
    let bound = action.bindings.iter().flat_map(|binding| all_steps(&binding.chain));
    let mut numbers = bound.chain(&action.shape).flat_map(|step| step.kind.numbers());
    numbers.any(|number| matches!(number, Number::Variable { named: one, .. } if *one == named))
}
