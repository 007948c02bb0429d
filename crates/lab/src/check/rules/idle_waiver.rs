//! `idle-waiver`: a waiver that hides nothing.

use crate::check::{Context, Remark, Rule};
use harmonym_lang::report::Level;

pub(super) const RULE: Rule = Rule {
    name: "idle-waiver",
    level: Level::Note,
    finds: "A waiver that hides nothing.",
    why: "It looks as if something were wrong there on purpose, and hides the next mistake of its kind.",
    find,
};

/// Told by who waives, after all rules.
fn find(_: &Context<'_>, _: &mut Vec<Remark>) {}
