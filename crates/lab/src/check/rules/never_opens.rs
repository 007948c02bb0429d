//! `never-opens`: a map that nothing opens.

use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::model::ActionId;
use harmonym_lang::report::Level;
use harmonym_runtime::base::MapKind;

pub(super) const RULE: Rule = Rule {
    name: "never-opens",
    level: Level::Warning,
    finds: "A map that nothing opens.",
    why: "Its actions are dead, though each of them is right: a map that was never opened is the quietest mistake there is.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    let maps = &context.profile.maps;
    let starts = maps.iter().any(|map| map.start || map.kind == MapKind::Always);
    for (index, (id, map)) in maps.entries().enumerate() {
        if map.start || map.kind == MapKind::Always || context.opened.contains(&id) {
            continue;
        }
        // A map may be there for others, which have its actions too.
        let lives_elsewhere =
            |&action: &ActionId| context.maps_of[action].iter().any(|&other| other != id);
        if !map.actions.is_empty() && map.actions.iter().all(lives_elsewhere) {
            continue;
        }
        let place = Place::map(context.profile, id);
        let name = &map.name;
        if !starts {
            // Told once: with none open, nothing at all happens.
            if index == 0 {
                let message = "no map is open when play begins: no action can fire";
                found.push(place.tell(message, format!("in [map.{name}]: `start = true`")));
            }
            continue;
        }
        let message = format!("nothing opens the map {name}: not at the start, and no score does");
        let try_it = format!("open it in a score, as the game will: `at 1s open {name}`");
        // Of two solo maps that start, one is a fault.
        let is_taken = maps.iter().any(|other| other.kind == MapKind::Solo && other.start);
        let help = match map.kind == MapKind::Solo && is_taken {
            true => try_it,
            false => format!("in [map.{name}]: `start = true`; or {try_it}"),
        };
        found.push(place.tell(message, help));
    }
}
