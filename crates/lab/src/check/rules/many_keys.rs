//! `many-keys`: more than two ordinary keys that have to be held at once.

use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::report::Level;

pub(super) const RULE: Rule = Rule {
    name: "many-keys",
    level: Level::Note,
    finds: "More than two ordinary keys that have to be held at once.",
    why: "Many keyboards do not report a third key beside two others: the press is lost.",
    find,
};

/// Keys that every keyboard reports beside others.
pub fn is_modifier(name: &str) -> bool {
    ["key.Shift", "key.Control", "key.Alt", "key.Meta"].iter().any(|known| name.starts_with(known))
}

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    for one in context.uses.iter().filter(|one| !one.holds) {
        let all = one.holders.iter().map(String::as_str).chain([one.name.as_str()]);
        let keys: Vec<&str> = all
            .filter(|name| name.starts_with("key.") || name.starts_with("char."))
            .filter(|n| !is_modifier(n))
            .collect();
        if keys.len() <= 2 {
            continue;
        }
        let message = format!(
            "{} needs {} held at once: many keyboards don't report that",
            context.profile.address(one.action),
            keys.join(", ")
        );
        let help = "use Shift, Control or Alt for one of them, or fewer keys";
        found.push(Place::binding(context.profile, one.action, one.binding).tell(message, help));
    }
}
