//! Proves what hands will feel: follows the range of values through every step, and tells what
//! follows from it.
//!
//! Guarantees to the caller: what cannot be proved is not told; remarks come in the order of the
//! rules, each with its place as a path into the file.

mod context;
mod flow;
mod gesture;
mod interval;
mod lost;
mod place;
mod review;
mod rules;
mod scores;
mod turned;
mod worth;

pub use context::Context;
pub use flow::{Flow, Hands};
pub use interval::{Interval, Range};
pub use lost::lost;
pub use place::Place;
pub use review::Review;
pub use rules::RULES;
pub use worth::Worth;

use harmonym_lang::model::Profile;
use harmonym_lang::report::{Diagnostic, Level};
use harmonym_runtime::base::MapId;
use std::collections::BTreeSet;

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

/// What a rule found, and where it belongs in the profile.
#[derive(Clone, Debug, PartialEq)]
pub struct Remark {
    /// Where, as a path into the file.
    pub place: Place,
    /// What there is to say; its span is not yet looked up.
    pub diagnostic: Diagnostic,
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
            (remark.diagnostic.rule, remark.diagnostic.level) = (rule.name, rule.level);
        }
        all.append(&mut found);
    }
    rules::waive(context.profile, all)
}
