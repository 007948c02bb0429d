//! `letters-as-places`: letters used for a cluster of directions.

use super::keys::lie_together;
use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::model::{Chain, Head};
use harmonym_lang::report::Level;
use harmonym_runtime::controls::{Layout, Reads};

pub(super) const RULE: Rule = Rule {
    name: "letters-as-places",
    level: Level::Warning,
    finds: "Letters used for a cluster of directions.",
    why: "On another layout the letters lie apart: the hand that walks with four neighbouring keys has to be spread.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    for (id, action) in context.actions() {
        for (index, binding) in action.bindings.iter().enumerate() {
            let mut letters = Vec::new();
            clusters(&binding.chain, &mut letters);
            // Letters that stand apart are meant as letters: y and n.
            let names: Vec<String> =
                letters.iter().map(|letter| format!("char.{letter}")).collect();
            if letters.len() < 2 || !lie_together(&names) {
                continue;
            }
            let mut text = binding.text.clone();
            for letter in &letters {
                if let Some(code) = letter.chars().next().and_then(|c| Layout::default().key(c)) {
                    text = text.replace(&format!("char.{letter}"), &format!("key.{code}"));
                }
            }
            let message = format!(
                "{} are letters: on another layout they don't lie together",
                letters.iter().map(|l| format!("char.{l}")).collect::<Vec<_>>().join(", ")
            );
            let help = format!("name the places: `{text}`");
            found.push(Place::binding(context.profile, id, index).tell(message, help));
        }
    }
}

/// The letters in combinations of directions.
fn clusters(chain: &Chain, letters: &mut Vec<String>) {
    match &chain.head {
        Head::Pair(_) | Head::Four(_) => chain.for_each_head(&mut |head| {
            if let Head::Control { reads: Reads::Char(c), .. } = head {
                letters.push(c.to_string());
            }
        }),
        Head::Join(parts) => parts.iter().for_each(|part| clusters(part, letters)),
        Head::Group(inner) => clusters(inner, letters),
        Head::Control { .. } | Head::Action { .. } | Head::Any(_) | Head::Sum(_) => {}
    }
}
