//! `double-fire`: two actions on one control that both fire in one gesture.

use super::pairs::tell_pairs;
use crate::check::gesture::{both, lateness};
use crate::check::{Context, Remark, Rule};
use harmonym_lang::model::Cue;
use harmonym_lang::report::Level;

pub(super) const RULE: Rule = Rule {
    name: "double-fire",
    level: Level::Warning,
    finds: "Two actions on one control that both fire in one gesture.",
    why: "A press and a hold on one button both fire: the player opens the hatch and falls through it.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    tell_pairs(context, found, |pair, a, b| {
        let (one, other) = both(context, (pair.a, a), (pair.b, b))?;
        let name = |id| context.profile.address(id);
        let message = format!(
            "one gesture on {} fires both {} (`{}`) and {} (`{}`)",
            pair.controls(context),
            name(pair.a),
            one.text,
            name(pair.b),
            other.text
        );
        // The one that fires earlier waits until the other has given up.
        let a_first = lateness(&one.cue) <= lateness(&other.cue);
        let (early, late, rule) = match a_first {
            true => (pair.a, pair.b, one),
            false => (pair.b, pair.a, other),
        };
        let waits = format!("in {}: `yields-to = [\"{}\"]`", name(early), name(late));
        let help = match (one.text == other.text, &rule.cue) {
            (true, _) => "give one of them another control, or another rule".to_owned(),
            (false, Cue::Press) => format!("{waits}, or `fire = \"tap 0.25s\"`"),
            (false, Cue::Repeat { .. }) => {
                format!("give {} another control: `repeat` cannot wait", name(early))
            }
            (false, _) => waits,
        };
        Some((message, help))
    });
}
