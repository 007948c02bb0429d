//! `no-way-out`: a pause that nothing can end.

use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::model::ActionId;
use harmonym_lang::report::Level;
use harmonym_runtime::base::{Kind, MapKind, SchemeId};
use std::collections::HashMap;

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
        let help = "give a map that works in a pause a switch to end it by: \
                    `harmonym add action ….go-on --value switch`";
        found.push(Place::key(context.profile, first, "in-pause").tell(message, help));
    }
    let mut opening: HashMap<&str, Vec<ActionId>> = HashMap::new();
    for (id, action) in context.actions() {
        if let Some(map) = action.name.strip_prefix("open-") {
            opening.entry(map).or_default().push(id);
        }
    }
    // A layer that takes the control of what opens it, and gives no switch to leave by.
    for (id, map) in context.profile.maps.entries().filter(|(_, map)| map.kind == MapKind::Layer) {
        // As scores show it, or by its name.
        let by_name = opening.get(map.name.as_str()).into_iter().flatten().copied();
        let shown = context.openers.iter().filter(|(of, _)| *of == id).map(|(_, opener)| *opener);
        let is_elsewhere = |opener: &ActionId| context.profile.actions[*opener].map != id;
        let Some(opener) = by_name.chain(shown).filter(is_elsewhere).min() else { continue };
        // One scheme that opens it and has no switch of it, where another has.
        let leaves = |scheme: SchemeId| {
            let mut own = map.actions.iter().filter(|&&one| can_end(one));
            own.any(|&one| context.reaches(one, scheme))
        };
        let schemes: Vec<SchemeId> = context.profile.schemes.ids().collect();
        if schemes.iter().any(|&scheme| leaves(scheme)) {
            for &scheme in &schemes {
                if leaves(scheme) || !context.reaches(opener, scheme) {
                    continue;
                }
                let name = &context.profile.schemes[scheme].name;
                let message = format!(
                    "in {name}, {} opens {}, and no switch of that is bound there to leave it by",
                    context.profile.address(opener),
                    map.name
                );
                let switch = map.actions.iter().copied().find(|&one| can_end(one));
                let switch = switch.map_or(String::new(), |one| context.profile.address(one));
                let help = format!("`harmonym bind {switch} … --scheme {name}`");
                found.push(Place::map(context.profile, id).tell(message, help));
            }
        }
        let uses_of = |id: ActionId| {
            let bindings = 0..context.profile.actions[id].bindings.len();
            let all = bindings.flat_map(move |index| context.uses_of(id, index));
            all.filter(|one| !one.holds)
        };
        let of_opener = || uses_of(opener);
        let own = map.actions.iter().filter(|&&one| context.profile.actions[one].map == id);
        let takers: Vec<_> = own
            .flat_map(|&one| uses_of(one))
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
