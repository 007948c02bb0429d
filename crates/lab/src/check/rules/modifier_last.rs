//! `modifier-last`: a `+` whose last control is Shift, Control, Alt or Meta.

use super::many_keys::is_modifier;
use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::report::Level;

pub(super) const RULE: Rule = Rule {
    name: "modifier-last",
    level: Level::Warning,
    finds: "A `+` whose last control is Shift, Control, Alt or Meta.",
    why: "The last one has to be pressed while the others are held: people hold the modifier first, and nothing happens.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    for one in context.uses.iter().filter(|one| !one.holds && !one.holders.is_empty()) {
        let letters: Vec<&str> =
            one.holders.iter().map(String::as_str).filter(|name| !is_modifier(name)).collect();
        if !is_modifier(&one.name) || letters.is_empty() {
            continue;
        }
        let binding = &context.profile.actions[one.action].bindings[one.binding];
        let message = format!(
            "{} comes only if {} is pressed while {} is held already",
            context.profile.address(one.action),
            one.name,
            letters.join(" and ")
        );
        let turned: Vec<&str> = binding.text.rsplit(" + ").collect();
        let help = format!("put the modifier first: `{}`", turned.join(" + "));
        let place = Place::binding(context.profile, one.action, one.binding);
        found.push(place.at(one.name.as_str()).tell(message, help));
    }
}
