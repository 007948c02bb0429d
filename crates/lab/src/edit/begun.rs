//! A change of several files that has begun: what is needed to finish it, whenever it stopped.
//!
//! Before the first file changes, each has its new text complete in a file beside it, and this
//! record says which belong together. A file that is replaced and the one beside it change places;
//! so at any moment the two tell how far it came.

use super::FileEdit;
use serde::{Deserialize, Serialize};

/// A change that has begun.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Begun {
    /// The version of the form.
    harmonym_begun: u32,
    /// What is being done.
    pub done: String,
    /// The files that change.
    pub files: Vec<BegunFile>,
}

/// A file that changes.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct BegunFile {
    /// The name of the file beside it that holds its new text.
    pub staged: String,
    /// Whether it is written in place, so that the two don't change places.
    pub in_place: bool,
    /// Where it is, and what changes in it.
    pub edit: FileEdit,
}

/// What is left to do for a file.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Left {
    /// Nothing.
    Nothing,
    /// It gets its new text.
    Place,
    /// It changed since, elsewhere than the change: it gets this text.
    Merge(String),
    /// It changed since where the change is: it stays. What somebody wrote while the change was
    /// going on is in the file beside it.
    Clash,
}

const VERSION: u32 = 1;

impl Begun {
    /// The record of a change.
    pub fn new(done: impl Into<String>, files: Vec<BegunFile>) -> Self {
        Self { harmonym_begun: VERSION, done: done.into(), files }
    }

    /// Reads a record; nothing when the text is none.
    pub fn read(text: &str) -> Option<Self> {
        let begun: Self = serde_json::from_str(text).ok()?;
        (begun.harmonym_begun == VERSION).then_some(begun)
    }

    /// Its text.
    pub fn text(&self) -> String {
        // Numbers and texts can always be written.
        serde_json::to_string(self).unwrap_or_default()
    }
}

impl BegunFile {
    /// What is left to do, from what the file holds and what the one beside it does, where there
    /// are such.
    pub fn left(&self, now: Option<&[u8]>, staged: Option<&[u8]>) -> Left {
        let edit = &self.edit;
        let Some(staged) = staged else { return Left::Nothing };
        let Ok(staged) = str::from_utf8(staged) else { return Left::Clash };
        let Some(now) = now else {
            // A file that is new, or one that somebody took away.
            let is_new = edit.is_before("") && edit.is_after(staged);
            return if is_new { Left::Place } else { Left::Clash };
        };
        if self.in_place && edit.is_after(staged) && is_torn(edit, now, staged) {
            return Left::Place;
        }
        let Ok(now) = str::from_utf8(now) else { return Left::Clash };
        let merged = |text: &str| edit.forward(text).map_or(Left::Clash, Left::Merge);
        let is_known = edit.is_before(staged) || edit.is_after(staged);
        match (edit.is_after(now), edit.is_after(staged)) {
            (true, _) if is_known => Left::Nothing,
            // What is beside it was there before, as somebody wrote it since.
            (true, _) => merged(staged),
            (false, true) if edit.is_before(now) => Left::Place,
            (false, true) => merged(now),
            // They changed places already, and somebody wrote since.
            (false, false) if is_known => Left::Nothing,
            (false, false) => Left::Clash,
        }
    }
}

/// Whether a text is on its way from the one before to the one after: each byte is that of either,
/// and some are not yet there.
fn is_torn(edit: &FileEdit, now: &[u8], after: &str) -> bool {
    let Some(before) = edit.before_of(after) else { return false };
    let (before, after) = (before.as_bytes(), after.as_bytes());
    let is_of = |text: &[u8], at: usize, byte: u8| text.get(at) == Some(&byte);
    let mut bytes = now.iter().enumerate();
    now != after
        && now.len() >= before.len().min(after.len())
        && bytes.all(|(at, byte)| is_of(before, at, *byte) || is_of(after, at, *byte))
}

#[cfg(test)]
mod tests {
    use super::*;

    const BEFORE: &str = "a\nb\nc\nd\n";
    const AFTER: &str = "a\nbb\nc\nd\n";

    fn file(in_place: bool) -> BegunFile {
        let edit = FileEdit::between("scores/a.score", BEFORE, AFTER);
        BegunFile { staged: ".a".to_owned(), in_place, edit }
    }

    #[test]
    fn what_is_left_follows_from_the_two_texts() {
        let merge = |text: &str| Left::Merge(text.to_owned());
        for (now, staged, left) in [
            // Not yet, just now, and done with.
            (BEFORE, Some(AFTER), Left::Place),
            (AFTER, Some(BEFORE), Left::Nothing),
            (AFTER, None, Left::Nothing),
            // Somebody wrote before it was placed, while it was, and afterwards.
            ("a\nb\nc\nd\ne\n", Some(AFTER), merge("a\nbb\nc\nd\ne\n")),
            (AFTER, Some("a\nb\nc\nd\ne\n"), merge("a\nbb\nc\nd\ne\n")),
            ("a\nbb\nc\nd\ne\n", Some(BEFORE), Left::Nothing),
            // Where the change is.
            ("a\nB\nc\nd\n", Some(AFTER), Left::Clash),
            (AFTER, Some("a\nB\nc\nd\n"), Left::Clash),
        ] {
            assert_eq!(
                file(false).left(Some(now.as_bytes()), staged.map(str::as_bytes)),
                left,
                "{now:?} {staged:?}"
            );
        }
        assert_eq!(file(false).left(None, Some(AFTER.as_bytes())), Left::Clash);
        assert_eq!(file(false).left(None, None), Left::Nothing);
        let begun = Begun::new("renamed", vec![file(true)]);
        assert_eq!(Begun::read(&begun.text()), Some(begun.clone()));
        assert_eq!(Begun::read(&begun.text().replace(":1", ":2")), None);
        assert_eq!(Begun::read(&begun.text()[1..]), None);
    }

    #[test]
    fn a_file_written_in_place_is_known_at_every_byte() {
        // What is behind the old end is written first, then the rest from the start.
        for tail in 0..=AFTER.len() - BEFORE.len() {
            let now = [BEFORE, &AFTER[BEFORE.len()..BEFORE.len() + tail]].concat();
            let left = file(true).left(Some(now.as_bytes()), Some(AFTER.as_bytes()));
            assert_eq!(left, Left::Place, "{now:?}");
        }
        // Also in the middle of a letter.
        let edit = FileEdit::between("a", "\u{e9}\n", "\u{20ac}\n");
        let file_of_letters = BegunFile { staged: ".a".to_owned(), in_place: true, edit };
        let left = file_of_letters.left(Some(b"\xe2\xa9\n\n"), Some("\u{20ac}\n".as_bytes()));
        assert_eq!(left, Left::Place);
        for head in 0..AFTER.len() {
            let now = [&AFTER[..head], &[BEFORE, &AFTER[BEFORE.len()..]].concat()[head..]].concat();
            let left = file(true).left(Some(now.as_bytes()), Some(AFTER.as_bytes()));
            assert_eq!(left, if now == AFTER { Left::Nothing } else { Left::Place }, "{now:?}");
        }
        assert_eq!(file(false).left(Some(b"a\nbbc\nd\n\n"), Some(AFTER.as_bytes())), Left::Clash);
    }
}
