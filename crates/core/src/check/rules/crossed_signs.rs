//! `crossed-signs`: the same motion of the hand that gives opposite signs in two schemes.

use super::keys::{Motion, pushes};
use crate::check::context::has_directions;
use crate::check::{Context, Level, Place, Remark, Rule};

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
        for motion in [Motion::Up, Motion::Right] {
            let all = pushes(context, id, action, motion);
            for (index, later) in all.iter().enumerate() {
                let earlier = all[..index].iter().find(|earlier| {
                    let schemes =
                        [earlier.binding, later.binding].map(|i| action.bindings[i].scheme);
                    schemes[0] != schemes[1]
                        && (0..action.kind.components())
                            .any(|part| earlier.push[part] * later.push[part] < 0.0)
                });
                let Some(earlier) = earlier.filter(|_| !told) else { continue };
                told = true;
                let way = if motion == Motion::Up { "up" } else { "to the right" };
                let message = format!(
                    "a push {way} gives {} one sign with {} and the other with {}",
                    context.profile.address(id),
                    earlier.control,
                    later.control
                );
                let part =
                    if motion == Motion::Up && action.kind.components() > 1 { " y" } else { "" };
                let help = format!("turn one of them: `{} | flip{part}`", later.text);
                found.push(Place::binding(context.profile, id, later.binding).tell(message, help));
            }
        }
    }
}
