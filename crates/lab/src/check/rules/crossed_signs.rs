//! `crossed-signs`: the same motion of the hand that gives opposite signs in two schemes.

use super::keys::{KeyPush, Motion, pushes};
use crate::check::context::has_directions;
use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::report::Level;

pub(super) const RULE: Rule = Rule {
    name: "crossed-signs",
    level: Level::Warning,
    finds: "The same motion of the hand that gives opposite signs in two schemes.",
    why: "Pushing up looks up on one device and down on the other.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    for (id, action) in context.actions().filter(|(_, action)| has_directions(action.kind)) {
        let mut told = false;
        let corners = context.corners(id);
        let motions = [Motion::Up, Motion::Right];
        for (worth, motion) in corners.iter().flat_map(|worth| motions.map(|way| (worth, way))) {
            let all = pushes(context, id, action, (motion, worth));
            let worth = worth.words();
            for (index, later) in all.iter().enumerate() {
                let other_scheme = |earlier: &&KeyPush| {
                    action.bindings[earlier.binding].scheme != action.bindings[later.binding].scheme
                };
                let parts = 0..action.kind.components();
                let opposite = |earlier: &&KeyPush| {
                    parts.clone().any(|part| earlier.push[part] * later.push[part] < 0.0)
                };
                // Up on the one is across on the other.
                let across = |earlier: &&KeyPush| {
                    parts.clone().all(|part| earlier.push[part] * later.push[part] == 0.0)
                };
                let crosses = |earlier: &&KeyPush| opposite(earlier) || across(earlier);
                let earlier = all[..index].iter().filter(other_scheme).find(crosses);
                let Some(earlier) = earlier.filter(|_| !told) else { continue };
                told = true;
                let way = if motion == Motion::Up { "up" } else { "to the right" };
                let name = context.profile.address(id);
                let (one, other) = (&earlier.control, &later.control);
                let (message, help) = match across(&earlier) {
                    true => (
                        format!(
                            "a push {way} moves one axis of {name} with {one} and another with {other}{worth}"
                        ),
                        format!("exchange the axes of one of them: `{} | order yx`", later.text),
                    ),
                    false => {
                        let is_up = motion == Motion::Up && action.kind.components() > 1;
                        let part = if is_up { " y" } else { "" };
                        (
                            format!(
                                "a push {way} gives {name} one sign with {one} and the other with {other}{worth}"
                            ),
                            format!("turn one of them: `{} | flip{part}`", later.text),
                        )
                    }
                };
                found.push(Place::binding(context.profile, id, later.binding).tell(message, help));
            }
        }
    }
}
