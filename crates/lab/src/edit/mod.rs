//! Changes to a profile's text: what a change doesn't name stays byte for byte.
//!
//! Guarantees to the caller: comments, order, blank lines, quotes and line breaks of everything
//! else are kept. A [`Draft`] is not yet proved to be a sound profile: load its text before it is
//! written anywhere.

mod add;
mod address;
mod begun;
mod bind;
mod bulk;
mod copy;
mod journal;
mod left_out;
mod list;
mod locate;
mod names;
mod number;
mod outline;
mod player;
mod remove;
mod rows;
mod said;
mod scores;
mod set;
mod sheet;
mod takes;
mod text;
mod tidy;

pub use add::Fields;
pub use address::Address;
pub use begun::{Begun, BegunFile, Left};
pub use bind::Bound;
pub use journal::{Back, Edit, FileEdit, Journal};
pub use locate::{Locator, Stretch, stretches};
pub use names::Thing;
pub use player::player_text;
pub use rows::{COLUMNS, Done, Row, export};
pub use said::in_words;
pub use scores::Followed;
pub use sheet::{RowTaken, Sheet, read_sheet, write_sheet};
pub use text::Value;

use harmonym_lang::profile::{Profile, read};
use harmonym_lang::report::{Diagnostics, Faults};
use harmonym_lang::source::{Source, Span};
use scores::NameChange;
use text::Text;

/// A profile under change.
#[derive(Clone, Debug)]
pub struct Draft {
    text: Text,
    /// The text as read, anew after every change.
    raw: Profile,
    /// The text as it was.
    original: Source,
    /// What was renamed and removed since.
    changes: Vec<NameChange>,
}

impl Draft {
    /// Begins to change a sound profile.
    pub fn new(source: &Source) -> Self {
        let mut draft = Self {
            text: Text::new(source.text()),
            raw: Profile::default(),
            original: source.clone(),
            changes: Vec::new(),
        };
        draft.read();
        draft
    }

    /// The text as it would be.
    pub fn text(&self) -> &str {
        &self.text.text
    }

    /// The profile as written, nothing looked up.
    pub fn raw(&self) -> &Profile {
        &self.raw
    }

    /// The bindings of an action: `pad#1` and the expression of each.
    pub fn bindings_of(&self, action: &Thing) -> Vec<(String, String)> {
        let Thing::Action(map, name) = action else { return Vec::new() };
        let binds = address::find_action(&self.raw, map, name).map(|action| &action.binds);
        let all = binds.into_iter().flatten().flat_map(|(scheme, list)| {
            let numbered = list.iter().enumerate();
            numbered.map(|(at, binding)| {
                (format!("{}#{}", scheme.text, at + 1), binding.from.value().to_owned())
            })
        });
        all.collect()
    }

    /// Where a thing is named, its own name left out: in order of place.
    pub fn references(&self, thing: &Thing) -> Vec<Span> {
        let all = names::mentions(&self.raw).into_iter();
        let own = all.filter_map(|one| {
            let (_, (start, end)) = one.things.iter().find(|(named, _)| named == thing)?;
            // A word with escapes is marked as a whole.
            let is_plain = one.span.end - one.span.start == one.text.len();
            let part = Span::new(one.span.start + start, one.span.start + end);
            Some(if is_plain { part } else { one.span })
        });
        own.collect()
    }

    /// What names a thing: the actions, presets and schemes in which it stands, each once.
    pub fn users(&self, thing: &Thing) -> Vec<String> {
        let all = names::mentions(&self.raw).into_iter();
        let own = all.filter(|one| one.things.iter().any(|(named, _)| named == thing));
        let mut users: Vec<String> = own.map(|one| one.inside).collect();
        users.dedup();
        users
    }

    /// Whether something has another name, or is gone.
    pub fn changes_names(&self) -> bool {
        !self.changes.is_empty()
    }

    fn source(&self) -> Source {
        Source::new(self.original.name(), self.text())
    }

    /// Reads the text anew; faults show when the text is loaded.
    fn read(&mut self) {
        self.raw = read(&self.source(), &mut Diagnostics::new());
    }
}

/// A profile's text with some things set otherwise, each written `ADDRESS=VALUE`. It may be faulty.
///
/// # Errors
/// When a change has no `=`, or names nothing that can be set.
pub fn with_changes(source: &Source, changes: &[String]) -> Result<Source, Faults> {
    let mut draft = Draft::new(source);
    for change in changes {
        let Some((address, value)) = change.split_once('=') else {
            let help = "write --set quay.tie-knot.fire.hold=0.6s";
            return Err(Faults::refused(format!("`{change}` sets nothing"), help));
        };
        draft.set(address.trim(), &[value.trim().to_owned()])?;
    }
    Ok(draft.source())
}
