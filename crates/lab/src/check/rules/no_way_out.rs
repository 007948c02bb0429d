//! `no-way-out`: a pause that nothing can end.

use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::model::ActionId;
use harmonym_lang::report::Level;
use harmonym_runtime::base::{Kind, MapKind};

pub(super) const RULE: Rule = Rule {
    name: "no-way-out",
    level: Level::Warning,
    finds: "A pause that nothing can end.",
    why: "The game is paused, and no press does anything any more.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    let pausing: Vec<_> = context.actions().filter(|(_, action)| action.in_pause).collect();
    // A switch that fires by a press of some kind can tell the game to go on.
    let can_end = |id: ActionId| {
        let action = &context.profile.actions[id];
        action.kind == Kind::Switch && (!action.bindings.is_empty() || Context::is_sequence(action))
    };
    let ends = pausing.iter().any(|(id, _)| can_end(*id));
    if let (Some(&(first, _)), false) = (pausing.first(), ends) {
        let message =
            "the game can be paused, but no switch works in a pause: nothing could end it";
        let help = "an action that ends it, with `in-pause = true`: \
                    `harmonym add action MAP.go-on --value switch`";
        found.push(Place::key(context.profile, first, "in-pause").tell(message, help));
    }
    // A layer that takes the control of what opens it, and gives no switch to leave by.
    for (id, map) in context.profile.maps.entries().filter(|(_, map)| map.kind == MapKind::Layer) {
        let opener = context
            .actions()
            .find(|(_, action)| action.map != id && action.name == format!("open-{}", map.name));
        let Some((opener, _)) = opener else { continue };
        let own = |use_of: &&super::super::context::Use| {
            context.profile.actions[use_of.action].map == id && !use_of.holds
        };
        let of_opener =
            || context.uses.iter().filter(move |one| one.action == opener && !one.holds);
        let takers: Vec<_> = context
            .uses
            .iter()
            .filter(own)
            .filter(|one| {
                context.profile.actions[one.action].claim && of_opener().any(|o| o.meets(one))
            })
            .collect();
        let has_switch = map.actions.iter().any(|&one| can_end(one));
        if let (Some(taker), false) = (takers.first(), has_switch) {
            let message = format!(
                "{} takes {} from {}, which opened it, and {} has no switch to leave by",
                context.profile.address(taker.action),
                taker.name,
                context.profile.address(opener),
                map.name
            );
            let help =
                format!("`harmonym add action {}.leave --value switch`, bound to it", map.name);
            let place = Place::binding(context.profile, taker.action, taker.binding);
            found.push(place.tell(message, help));
        }
    }
}
