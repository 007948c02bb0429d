//! `shared-control`: one control drives two actions that live at once.

use super::pairs::tell_pairs;
use crate::check::gesture::{both, go_on_together};
use crate::check::{Context, Remark, Rule};
use harmonym_lang::report::Level;

pub(super) const RULE: Rule = Rule {
    name: "shared-control",
    level: Level::Warning,
    finds: "One control drives two actions that live at once.",
    why: "Whoever means the one gets the other too: the same key walks and climbs.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    tell_pairs(context, found, |pair, a, b| {
        let (one, other) = ((pair.a, a), (pair.b, b));
        if both(context, one, other).is_some() || !go_on_together(one, other) {
            return None;
        }
        let (first, second) = (context.profile.address(pair.a), context.profile.address(pair.b));
        let controls = pair.controls(context);
        let drive = if controls.contains(" and ") { "drive" } else { "drives" };
        let message = format!("{controls} {drive} {first} and {second} at once");
        let help = "bind one of them elsewhere, or give them a map each, of which one is open; if both are \
                    meant, `waive = [\"shared-control\"]`";
        Some((message, help.to_owned()))
    });
}
