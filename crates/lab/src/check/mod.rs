//! Proves what hands will feel: follows the range of values through every step, and tells what
//! follows from it.
//!
//! Guarantees to the caller: what cannot be proved is not told; remarks come in the order of the
//! rules, each with its place as a path into the file.

mod context;
mod flow;
mod gesture;
mod interval;
mod place;
mod review;
mod rules;
mod scores;

pub use context::Context;
pub use flow::{Flow, Hands};
pub use interval::{Interval, Range};
pub use place::Place;
pub use review::{Diagnostic, Review, mend};
pub use rules::RULES;

use harmonym_lang::model::Profile;
use harmonym_runtime::base::MapId;
use std::collections::BTreeSet;

/// How much a remark weighs.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Level {
    /// Worth knowing.
    Note,
    /// Most likely not meant.
    Warning,
    /// It cannot work.
    Error,
}

impl Level {
    /// The level's word.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Note => "note",
            Self::Warning => "warning",
            Self::Error => "error",
        }
    }
}

/// One thing that the checker looks for.
#[derive(Clone, Copy)]
pub struct Rule {
    /// Its name, as `waive` lists it.
    pub name: &'static str,
    /// How much its remarks weigh.
    pub level: Level,
    /// What it finds, in a sentence.
    pub finds: &'static str,
    /// What happens in the player's hands.
    pub why: &'static str,
    /// Looks for it.
    find: fn(&Context<'_>, &mut Vec<Remark>),
}

impl Rule {
    /// The rule called `name`.
    pub fn named(name: &str) -> Option<&'static Self> {
        RULES.iter().find(|rule| rule.name == name)
    }
}

/// What a rule found.
#[derive(Clone, Debug, PartialEq)]
pub struct Remark {
    /// The rule's name.
    pub rule: &'static str,
    /// How much it weighs.
    pub level: Level,
    /// Where.
    pub place: Place,
    /// What happens in the player's hands.
    pub message: String,
    /// What to write.
    pub help: String,
    /// The changes that mend it, where that is safe.
    pub mend: Vec<Mend>,
}

/// A change to the profile, as the commands make it.
#[derive(Clone, Debug, PartialEq)]
pub enum Mend {
    /// Sets an address to a value.
    Set(String, String),
    /// Removes what goes by an address.
    Remove(String),
}

/// Tells all that the rules find in a sound profile. `opened` are the maps that scores open.
pub fn check(profile: &Profile, opened: &BTreeSet<MapId>) -> Vec<Remark> {
    check_in(&Context::new(profile, opened))
}

/// The same for a profile that was looked through.
pub fn check_in(context: &Context<'_>) -> Vec<Remark> {
    let mut all = Vec::new();
    for rule in RULES {
        let mut found = Vec::new();
        (rule.find)(context, &mut found);
        for remark in &mut found {
            (remark.rule, remark.level) = (rule.name, rule.level);
        }
        all.append(&mut found);
    }
    rules::waive(context.profile, all)
}
