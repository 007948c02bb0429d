//! `double-step`: a step of a binding that its action has once more.

use crate::check::context::step_word;
use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::model::{Number, Step, StepKind};
use harmonym_lang::report::Level;

pub(super) const RULE: Rule = Rule {
    name: "double-step",
    level: Level::Note,
    finds: "A step of a binding that its action has once more.",
    why: "The dead zone swallows twice, the curve bends twice, the speed is scaled by its square.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    for (id, action) in context.actions() {
        for (index, binding) in action.bindings.iter().enumerate() {
            let steps: Vec<(&Step, bool)> = binding
                .chain
                .steps
                .iter()
                .map(|step| (step, false))
                .chain(action.shape.iter().map(|step| (step, true)))
                .collect();
            let twice = steps.iter().enumerate().find_map(|(i, (later, in_shape))| {
                let mut before = steps[..i].iter();
                before.any(|(earlier, _)| is_again(earlier, later)).then_some((*later, *in_shape))
            });
            let Some((step, in_shape)) = twice else { continue };
            let word = step_word(&step.kind);
            let address = context.profile.address(id);
            let message =
                format!("`{word}` is done twice on the way to {address}, by {}", binding.text);
            let place = match in_shape {
                true => Place::key(context.profile, id, "shape"),
                false => Place::binding(context.profile, id, index),
            };
            found.push(place.at(word).tell(message, format!("take one `{word}` out")));
            break;
        }
    }
}

/// Whether a step does once more what an earlier one did.
fn is_again(earlier: &Step, later: &Step) -> bool {
    if earlier.conditions != later.conditions {
        return false;
    }
    match (&earlier.kind, &later.kind) {
        (StepKind::Deadzone { .. }, StepKind::Deadzone { .. })
        | (StepKind::Curve(_), StepKind::Curve(_))
        | (StepKind::Smooth(_), StepKind::Smooth(_))
        | (StepKind::Travel, StepKind::Travel)
        | (StepKind::Toggle, StepKind::Toggle) => true,
        // By the same setting: its square.
        (StepKind::Scale(a), StepKind::Scale(b)) => {
            a.iter().any(|one| matches!(one, Number::Variable { .. }) && b.contains(one))
        }
        _ => false,
    }
}
