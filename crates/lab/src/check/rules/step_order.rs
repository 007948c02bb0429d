//! `step-order`: steps in an order that defeats them.

use crate::check::context::step_word;
use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::model::{ActionId, Step, StepKind};
use harmonym_lang::report::Level;

pub(super) const RULE: Rule = Rule {
    name: "step-order",
    level: Level::Warning,
    finds: "Steps in an order that defeats them.",
    why: "The dead zone comes after the curve, and the drift it should swallow is bent out of it first.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    for (id, action) in context.actions() {
        for (index, binding) in action.bindings.iter().enumerate() {
            let steps: Vec<&Step> = binding.chain.steps.iter().collect();
            tell(context, id, &steps, &Place::binding(context.profile, id, index), found);
        }
        let shape: Vec<&Step> = action.shape.iter().collect();
        let place = Place::key(context.profile, id, "shape");
        tell(context, id, &shape, &place, found);
        // A shape goes on where each binding ends.
        let ends = action.bindings.iter().flat_map(|binding| binding.chain.steps.last());
        for end in ends {
            if let Some(first) = action.shape.first() {
                let before = found.len();
                tell(context, id, &[end, first], &place, found);
                if found.len() > before {
                    break;
                }
            }
        }
    }
}

fn tell(
    context: &Context<'_>,
    id: ActionId,
    steps: &[&Step],
    place: &Place,
    found: &mut Vec<Remark>,
) {
    for (i, later) in steps.iter().enumerate() {
        for earlier in &steps[..i] {
            let Some(why) = defeats(&earlier.kind, &later.kind) else { continue };
            let (first, second) = (step_word(&earlier.kind), step_word(&later.kind));
            let message = format!(
                "in {}, `{first}` comes before `{second}`: {why}",
                context.profile.address(id)
            );
            let help = format!("put `{second}` before `{first}`");
            found.push(place.clone().at(second).tell(message, help));
            return;
        }
    }
}

/// Why one step before another defeats it.
fn defeats(earlier: &StepKind, later: &StepKind) -> Option<&'static str> {
    // The sum over a frame of sums over a frame is none.
    let is_linear = later.is_linear() && !matches!(later, StepKind::Travel);
    let is_deadzone = matches!(later, StepKind::Deadzone { .. });
    match earlier {
        StepKind::Scale(_) | StepKind::Curve(_) | StepKind::Points(_) => {
            is_deadzone.then_some("the dead zone no longer measures the control's own travel")
        }
        StepKind::Ease { .. } => {
            is_deadzone.then_some("what eases back passes slowly through the dead zone")
        }
        StepKind::Unit => is_deadzone
            .then_some("the least drift has length 1 already, so the dead zone lets it through"),
        StepKind::Cap(_) => {
            matches!(later, StepKind::Scale(_)).then_some("what is scaled is no longer limited")
        }
        StepKind::Travel => (!is_linear).then_some(
            "a sum over a frame depends on the frame rate in any step that is not linear",
        ),
        StepKind::Flip(_)
        | StepKind::Not
        | StepKind::Toggle
        | StepKind::SwitchAt { .. }
        | StepKind::Deadzone { .. }
        | StepKind::Clamp(..)
        | StepKind::Remap(_)
        | StepKind::Onto(..)
        | StepKind::Pick(_)
        | StepKind::Order(_)
        | StepKind::Rotate(..)
        | StepKind::Ways { .. }
        | StepKind::Notch(_)
        | StepKind::Smooth(_) => None,
    }
}
