//! What an editor asks about a text: what may be written at a place, what stands there, where a name
//! comes from and goes to, what is in the text.
//!
//! Guarantees to who asks: any text and any place has an answer, also while it is being written and can
//! be read no more; nothing is changed.

mod complete;
mod expression;
mod keys;
mod look;
mod outline;
mod place;
mod players;
mod scores;
mod writer;

pub use complete::{complete, complete_binding};
pub use look::{Subject, look, look_in_score, mentioned};
pub use outline::{Symbol, left_out, symbols};
pub use players::{complete_in_player, look_in_player};
pub use scores::complete_in_score;

use harmonym_lang::source::Span;

/// A word of the language that there is more to say of.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Entry {
    /// The topic of the reference in which it stands.
    pub topic: &'static str,
    /// The word.
    pub word: &'static str,
}

/// Something that may be written at a place.
#[derive(Clone, Debug, PartialEq)]
pub struct Item {
    /// What it is.
    pub kind: ItemKind,
    /// What is shown of it.
    pub label: String,
    /// What is written.
    pub insert: String,
    /// What it is about, in a few words.
    pub detail: String,
    /// Where more is said of it.
    pub entry: Option<Entry>,
    /// What it is written in the place of.
    pub span: Span,
    /// The words by which it was looked for, where its label does not begin so.
    pub query: Option<String>,
}

/// What kind of thing may be written.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum ItemKind {
    /// A control.
    Control,
    /// A step.
    Step,
    /// A cue.
    Cue,
    /// A key of a table.
    Key,
    /// A word of the language.
    Word,
    /// A map of the profile.
    Map,
    /// An action of the profile.
    Action,
    /// A scheme of the profile.
    Scheme,
    /// A preset of the profile.
    Preset,
    /// A setting or fact of the profile.
    Number,
}
