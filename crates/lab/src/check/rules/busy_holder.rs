//! `busy-holder`: a control that is held for a `+` and does something by itself.

use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::model::{ActionId, Cue};
use harmonym_lang::report::Level;

pub(super) const RULE: Rule = Rule {
    name: "busy-holder",
    level: Level::Note,
    finds: "A control that is held for a `+` and does something by itself.",
    why: "Whoever reaches for the combination sets off the other action first.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    let mut told: Vec<(ActionId, ActionId)> = Vec::new();
    for holder in context.uses.iter().filter(|one| one.holds) {
        for plain in context.uses.iter().filter(|one| !one.holds && one.holders.is_empty()) {
            let pair = (holder.action, plain.action);
            let own = &context.profile.actions[plain.action];
            let maps = &context.maps_of[holder.action];
            let same_map = context.maps_of[plain.action].iter().any(|map| maps.contains(map));
            let acts = own
                .fire
                .iter()
                .any(|one| !matches!(one.cue, Cue::While | Cue::Change | Cue::Sequence { .. }));
            if pair.0 == pair.1
                || !same_map
                || !acts
                || told.contains(&pair)
                || !holder.meets(plain)
            {
                continue;
            }
            told.push(pair);
            let rule = own.fire.first().map_or("press", |one| one.text.as_str());
            let message = format!(
                "holding {} for {} sets off {} too (`{rule}`)",
                holder.name,
                context.profile.address(holder.action),
                context.profile.address(plain.action)
            );
            let help = "hold another control, or give the other action one of its own";
            let place = Place::binding(context.profile, holder.action, holder.binding);
            found.push(place.at(holder.name.as_str()).tell(message, help));
        }
    }
}
