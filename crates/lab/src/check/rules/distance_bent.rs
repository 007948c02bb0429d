//! `distance-bent`: a step that is not linear, or a level of its own, on a distance.

use crate::check::context::{all_steps, step_word};
use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::model::{Alternative, Chain, Cue, Head, Step};
use harmonym_lang::profile::table;
use harmonym_lang::report::Level;
use harmonym_runtime::base::{ControlKind, shortest};

pub(super) const RULE: Rule = Rule {
    name: "distance-bent",
    level: Level::Warning,
    finds: "A step that is not linear, or a level of its own, on a distance.",
    why: "A frame gets its share of the way: the more frames are drawn, the smaller the shares, and the less of them comes through.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    // Who fires by a gesture asks for a level.
    let goes_on = |one: &Alternative| matches!(one.cue, Cue::While | Cue::Change);
    for (id, action) in context.actions() {
        if !action.fire.iter().all(goes_on) {
            continue;
        }
        let shape: Vec<&Step> = action.shape.iter().collect();
        for (index, binding) in action.bindings.iter().enumerate() {
            let Some((control, step)) = bent(&binding.chain, &shape) else { continue };
            let word = step_word(&step.kind);
            let is_shape = !all_steps(&binding.chain).iter().any(|one| std::ptr::eq(*one, step));
            let place = match is_shape {
                true => Place::key(context.profile, id, "shape"),
                false => Place::binding(context.profile, id, index),
            };
            let message = format!(
                "`{word}` works on the share of {control} that a frame gets: {} follows the frame rate",
                context.profile.address(id)
            );
            let help =
                format!("take `{word}` out of the way of {control}: `scale` keeps a distance one");
            found.push(place.at(word).tell(message, help));
        }
        let moves = |index: usize| {
            let mut uses = context.uses_of(id, index);
            uses.any(|one| one.kind == ControlKind::Relative && !one.holds)
        };
        let first = (0..action.bindings.len()).find(|&index| moves(index));
        let level = action.levels.down;
        if let Some(index) = first.filter(|_| action.levels_given && level > table::SHARE_DOWN) {
            let message = format!(
                "a share of a frame has to reach {} before {} takes it: at a higher frame rate less comes through",
                shortest(level),
                context.profile.address(id)
            );
            let help = "take `levels` out: without them no share is too small".to_owned();
            let place = match context.profile.actions[id].levels_given {
                true => Place::key(context.profile, id, "levels"),
                false => Place::binding(context.profile, id, index),
            };
            found.push(place.tell(message, help));
        }
    }
}

/// A relative control, and a step on its way to the end of `after` that is not linear.
fn bent<'c>(chain: &'c Chain, after: &[&'c Step]) -> Option<(&'c str, &'c Step)> {
    let steps: Vec<&Step> = chain.steps.iter().chain(after.iter().copied()).collect();
    match &chain.head {
        Head::Control { name, kind: ControlKind::Relative, .. } => {
            let step = steps.into_iter().find(|step| !step.kind.is_linear())?;
            Some((name, step))
        }
        Head::Control { .. } | Head::Action { .. } => None,
        Head::Pair(pair) => pair.parts().find_map(|part| bent(part, &steps)),
        Head::Four(four) => {
            let mut parts = four.y.parts().chain(four.x.parts());
            parts.find_map(|part| bent(part, &steps))
        }
        Head::Join(parts) | Head::Any(parts) => parts.iter().find_map(|part| bent(part, &steps)),
        Head::Sum(parts) => parts.last().and_then(|part| bent(part, &steps)),
        Head::Group(inner) => bent(inner, &steps),
    }
}
