//! How to take edits back: what each changed, for as many as are kept.
//!
//! The journal is no second truth: it holds only the lines that an edit put in the place of others,
//! with a few around them. From the text that the edit left it gives the one before, byte for byte;
//! from one that changed elsewhere since, that one with the edit's own lines as they were.

use serde::{Deserialize, Serialize};
use siphasher::sip::SipHasher13;
use std::hash::Hasher;

/// As many edits are kept.
pub const KEPT: usize = 100;
/// As many lines around an edit tell its place in a text that changed since.
const AROUND: usize = 2;
/// Lines of so many bytes are kept, and always those of the last edit.
pub const KEPT_BYTES: usize = 1024 * 1024;

/// The edits of a profile that can be taken back, the last one last.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Journal {
    /// The edits.
    pub edits: Vec<Edit>,
}

/// One edit: what it was, when, and what it changed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Edit {
    /// When it was, in seconds since 1970.
    pub when: u64,
    /// What was done.
    pub done: String,
    /// What changed in each file.
    pub files: Vec<FileEdit>,
}

/// What an edit changed in a file: the lines from the first that differs to the last.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct FileEdit {
    /// Where the file is, from the profile's folder.
    pub path: String,
    /// The byte at which the lines begin.
    at: usize,
    /// The lines before.
    was: String,
    /// The lines after.
    is: String,
    /// The lines right before them, and right behind.
    around: [String; 2],
    /// What tells the whole text before from others.
    before: u64,
    /// The same for the text after.
    after: u64,
}

/// What taking an edit back from a file means.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Back {
    /// The file gets the text that it had.
    To(String),
    /// It changed elsewhere since, and gets this text: the edit's own lines as they were.
    Among(String),
    /// It is as it was before already.
    Already,
    /// It changed since, where the edit was: the edit's lines are not there any more, or are there
    /// more than once.
    Changed,
}

/// The first line of a journal.
#[derive(Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
struct Head {
    /// The version of the form.
    harmonym_edits: u32,
}

const VERSION: u32 = 1;

impl Journal {
    /// Reads a journal; nothing when the text is none.
    pub fn read(text: &str) -> Option<Self> {
        let mut lines = text.lines();
        let head: Head = serde_json::from_str(lines.next()?).ok()?;
        let edits = lines.map(|line| serde_json::from_str(line).ok()).collect::<Option<_>>()?;
        (head.harmonym_edits == VERSION).then_some(Self { edits })
    }

    /// Its text: JSON Lines.
    pub fn text(&self) -> String {
        let head = serde_json::to_string(&Head { harmonym_edits: VERSION });
        let edits = self.edits.iter().map(serde_json::to_string);
        // Numbers and texts can always be written.
        let lines = std::iter::once(head).chain(edits).filter_map(Result::ok);
        lines.map(|line| line + "\n").collect()
    }

    /// Adds an edit; the oldest go when there are too many.
    pub fn push(&mut self, edit: Edit) {
        self.edits.push(edit);
        let bytes = |edit: &Edit| -> usize {
            edit.files.iter().map(|file| file.was.len() + file.is.len()).sum()
        };
        let mut room = KEPT_BYTES;
        let fits = |edit: &&Edit| match room.checked_sub(bytes(edit)) {
            Some(left) => {
                room = left;
                true
            }
            None => false,
        };
        let kept = self.edits.iter().rev().take(KEPT).take_while(fits).count().max(1);
        self.edits.drain(..self.edits.len() - kept);
    }
}

impl FileEdit {
    /// What differs between two texts of the file at `path`.
    pub fn between(path: impl Into<String>, before: &str, after: &str) -> Self {
        let same = before.split_inclusive('\n').zip(after.split_inclusive('\n'));
        let at: usize = same.take_while(|(a, b)| a == b).map(|(a, _)| a.len()).sum();
        let (old, new) = (&before[at..], &after[at..]);
        let same = old.split_inclusive('\n').rev().zip(new.split_inclusive('\n').rev());
        let tail: usize = same.take_while(|(a, b)| a == b).map(|(a, _)| a.len()).sum();
        let (head, rest) = (&before[..at], &old[old.len() - tail..]);
        let lines_before =
            head.split_inclusive('\n').rev().take(AROUND).map(str::len).sum::<usize>();
        let lines_behind = rest.split_inclusive('\n').take(AROUND).map(str::len).sum::<usize>();
        let around = [&head[at - lines_before..], &rest[..lines_behind]].map(str::to_owned);
        Self {
            path: path.into(),
            at,
            around,
            was: old[..old.len() - tail].to_owned(),
            is: new[..new.len() - tail].to_owned(),
            before: mark(before),
            after: mark(after),
        }
    }

    /// What the file is to be, so that the edit is taken back.
    pub fn back(&self, now: &str) -> Back {
        let own = mark(now);
        if own == self.before {
            return Back::Already;
        }
        if own == self.after
            && let Some(text) = self.before_of(now)
        {
            return Back::To(text);
        }
        self.exchanged(now, &self.is, &self.was).map_or(Back::Changed, Back::Among)
    }

    /// A text that changed elsewhere since with this edit made in it; nothing when its lines are
    /// not there, or are there more than once.
    pub fn forward(&self, now: &str) -> Option<String> {
        self.exchanged(now, &self.was, &self.is)
    }

    /// The text before, from the one after.
    pub fn before_of(&self, after: &str) -> Option<String> {
        self.with_lines_back(after, self.at).filter(|text| self.is_before(text))
    }

    /// Whether this is the text before.
    pub fn is_before(&self, text: &str) -> bool {
        mark(text) == self.before
    }

    /// Whether this is the text after.
    pub fn is_after(&self, text: &str) -> bool {
        mark(text) == self.after
    }

    /// A text with lines of this edit exchanged where they stand with the same around them, if
    /// that is one place.
    fn exchanged(&self, now: &str, from: &str, to: &str) -> Option<String> {
        let [before, behind] = &self.around;
        let lines = [before, from, behind].concat();
        let is_start = |at: usize| at == 0 || now[..at].ends_with('\n');
        let is_end = |at: usize| at == now.len() || lines.ends_with('\n');
        let mut places = now
            .match_indices(&lines)
            .map(|(at, _)| at)
            .filter(|&at| is_start(at) && is_end(at + lines.len()));
        match (lines.is_empty(), places.next(), places.next()) {
            (false, Some(at), None) => {
                let at = at + before.len();
                Some([&now[..at], to, &now[at + from.len()..]].concat())
            }
            _ => None,
        }
    }

    /// A text in which the edit's lines begin at a byte, with those before in their place.
    fn with_lines_back(&self, now: &str, at: usize) -> Option<String> {
        let (head, tail) = (now.get(..at)?, now.get(at + self.is.len()..)?);
        Some([head, &self.was, tail].concat())
    }
}

/// Tells one text from another (SipHash-1-3).
fn mark(text: &str) -> u64 {
    let mut hasher = SipHasher13::new();
    hasher.write(text.as_bytes());
    hasher.finish()
}
