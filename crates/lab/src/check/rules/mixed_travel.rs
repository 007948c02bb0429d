//! `mixed-travel`: a distance and a speed on one action that are not told apart.

use crate::check::context::all_steps;
use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::model::{Binding, Cue, StepKind};
use harmonym_lang::report::Level;
use harmonym_runtime::base::ControlKind;

pub(super) const RULE: Rule = Rule {
    name: "mixed-travel",
    level: Level::Warning,
    finds: "A distance and a speed on one action that are not told apart.",
    why: "The view turns as far as the mouse goes, and as fast as frames are drawn with the stick.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    // Who only fires now and then reads no speed.
    let goes_on = |action: &harmonym_lang::model::Action| {
        let mut fire = action.fire.iter();
        fire.any(|one| matches!(one.cue, Cue::While | Cue::Change))
    };
    for (id, action) in context.actions().filter(|(_, action)| goes_on(action)) {
        let travels = |binding: &Binding| {
            all_steps(&binding.chain).iter().any(|step| step.kind == StepKind::Travel)
        };
        let is_distance =
            |index: usize| context.uses_of(id, index).any(|one| one.kind == ControlKind::Relative);
        let is_speed = |index: usize| {
            let mut uses = context.uses_of(id, index).peekable();
            uses.peek().is_some()
                && uses.all(|one| {
                    !matches!(
                        one.kind,
                        ControlKind::Relative
                            | ControlKind::Spot
                            | ControlKind::Place
                            | ControlKind::Turn
                    )
                })
        };
        let all_travel = action.shape.iter().any(|step| step.kind == StepKind::Travel);
        let has_distance = (0..action.bindings.len()).any(is_distance);
        for (index, binding) in action.bindings.iter().enumerate() {
            let travels = travels(binding) || all_travel;
            let address = context.profile.address(id);
            if is_distance(index) && travels {
                let message = format!(
                    "{} gives a distance already: `travel` makes {address} depend on how fast frames are drawn",
                    binding.text
                );
                let help = "take `travel` out here; it belongs on what gives a speed";
                found.push(
                    Place::binding(context.profile, id, index).at("travel").tell(message, help),
                );
            } else if is_speed(index) && !travels && has_distance {
                let message = format!(
                    "{} gives a speed and another binding of {address} a distance: at 144 frames a second it is more than twice as fast as at 60",
                    binding.text
                );
                let help = format!(
                    "sum the speed up over the frame: `{} | scale 100 | travel`",
                    binding.text
                );
                found.push(Place::binding(context.profile, id, index).tell(message, help));
            }
        }
    }
}
