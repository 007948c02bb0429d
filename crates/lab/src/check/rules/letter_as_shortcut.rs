//! `letter-as-shortcut`: a shortcut with Control by the place of a letter.

use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::report::Level;
use harmonym_runtime::controls::Layout;

pub(super) const RULE: Rule = Rule {
    name: "letter-as-shortcut",
    level: Level::Note,
    finds: "A shortcut with Control by the place of a letter.",
    why: "On another layout another letter lies there: Control and Z undoes, but Control and W is what the hand finds.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    for one in context.uses.iter().filter(|one| !one.holds) {
        let is_shortcut = one
            .holders
            .iter()
            .any(|name| name.starts_with("key.Control") || name.starts_with("key.Meta"));
        let letter = one.name.strip_prefix("key.Key").filter(|_| is_shortcut);
        let Some(letter) = letter.and_then(|letter| letter.chars().next()) else { continue };
        let letter = letter.to_ascii_lowercase();
        let here = Layout::default().key(letter);
        let elsewhere = ["fr", "de"].iter().filter_map(|word| Layout::from_word(word));
        let elsewhere: Vec<&str> =
            elsewhere.filter(|layout| layout.key(letter) != here).map(Layout::word).collect();
        if elsewhere.is_empty() {
            continue;
        }
        let message = format!(
            "{} is a shortcut by {}, and on the layout {} the letter {} lies elsewhere",
            context.profile.address(one.action),
            one.name,
            elsewhere.join(" and "),
            letter.to_ascii_uppercase()
        );
        let binding = &context.profile.actions[one.action].bindings[one.binding];
        let text = binding.text.replace(&one.name, &format!("char.{letter}"));
        let help = format!("name the letter: `{text}`");
        let place = Place::binding(context.profile, one.action, one.binding);
        found.push(place.at(one.name.as_str()).tell(message, help));
    }
}
