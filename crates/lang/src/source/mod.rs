//! Texts that the caller gives, and places in them.
//!
//! Guarantees to every later stage: a [`Span`] counts bytes of the whole text, so that any stage
//! can point at it, also from inside of a TOML string ([`StringMap`]).

mod string;

pub use string::StringMap;

use std::sync::OnceLock;

/// A stretch of a text, in bytes, the end excluded.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Span {
    /// The first byte.
    pub start: usize,
    /// The byte after the last.
    pub end: usize,
}

impl Span {
    /// From `start` up to `end`.
    pub const fn new(start: usize, end: usize) -> Self {
        Self { start, end }
    }

    /// From the start of this one to the end of `other`.
    pub fn to(self, other: Self) -> Self {
        Self { start: self.start, end: other.end.max(self.start) }
    }

    /// From the start of this one to the start of `other`.
    pub fn up_to(self, other: Self) -> Self {
        Self { start: self.start, end: other.start.max(self.start) }
    }

    /// From the end of this one to the end of `other`.
    pub fn after_to(self, other: Self) -> Self {
        Self { start: self.end, end: other.end.max(self.end) }
    }
}

impl From<std::ops::Range<usize>> for Span {
    fn from(range: std::ops::Range<usize>) -> Self {
        Self { start: range.start, end: range.end }
    }
}

/// What a string of a TOML file says, with the place of each of its bytes in the file.
#[derive(Clone, Debug)]
pub struct Quoted {
    value: String,
    span: Span,
    map: StringMap,
}

impl Quoted {
    /// The string written at `span` of `file`, quotes included, that says `value`.
    pub fn new(file: &str, span: Span, value: impl Into<String>) -> Self {
        Self { value: value.into(), span, map: StringMap::new(file, span) }
    }

    /// A text that stands by itself, without quotes.
    pub fn bare(text: &str) -> Self {
        let span = Span::new(0, text.len());
        Self { value: text.to_owned(), span, map: StringMap::bare() }
    }

    /// What it says.
    pub fn value(&self) -> &str {
        &self.value
    }

    /// Where it is written, quotes included.
    pub fn span(&self) -> Span {
        self.span
    }

    /// Where a stretch of what it says is written.
    pub fn file_span(&self, start: usize, end: usize) -> Span {
        self.map.file_span(Span::new(start, end))
    }
}

/// A line and column, both from 1; columns count characters.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub struct Place {
    /// The line, from 1.
    pub line: usize,
    /// The character in the line, from 1.
    pub column: usize,
}

/// A text with the name people know it by.
#[derive(Clone, Debug)]
pub struct Source {
    name: String,
    text: String,
    /// The byte that each line starts at, found when it is first asked for: a text without faults never is.
    starts: OnceLock<Vec<usize>>,
    /// How many lines are before it, in a text that it is a part of.
    before: usize,
    is_part: bool,
}

impl PartialEq for Source {
    fn eq(&self, other: &Self) -> bool {
        // Where lines start follows from the text, and may not have been asked for yet.
        let Self { name, text, starts: _, before, is_part } = self;
        (name, text, before, is_part) == (&other.name, &other.text, &other.before, &other.is_part)
    }
}

impl Source {
    /// A text called `name` in messages (a path, as a rule).
    pub fn new(name: impl Into<String>, text: impl Into<String>) -> Self {
        let starts = OnceLock::new();
        Self { name: name.into(), text: text.into(), starts, before: 0, is_part: false }
    }

    /// Line `number` (from 1) of a text that is not held whole.
    pub fn of_line(name: impl Into<String>, number: usize, line: impl Into<String>) -> Self {
        Self { before: number.saturating_sub(1), is_part: true, ..Self::new(name, line) }
    }

    /// Whether it is only a part of a text, which may go on.
    pub fn is_part(&self) -> bool {
        self.is_part
    }

    /// What messages call it.
    pub fn name(&self) -> &str {
        &self.name
    }

    /// The whole text.
    pub fn text(&self) -> &str {
        &self.text
    }

    /// The text of a span; what lies outside is left out.
    pub fn slice(&self, span: Span) -> &str {
        self.text.get(span.start..span.end).unwrap_or_default()
    }

    /// The span widened to whole characters, within the text.
    pub fn whole_characters(&self, span: Span) -> Span {
        let start = self.text.floor_char_boundary(span.start.min(self.text.len()));
        let end = self.text.ceil_char_boundary(span.end.clamp(start, self.text.len()));
        Span { start, end }
    }

    fn starts(&self) -> &[usize] {
        self.starts.get_or_init(|| {
            let breaks = self.text.match_indices('\n').map(|(i, _)| i + 1);
            // A byte order mark is no part of the first line.
            let first = if self.text.starts_with('\u{feff}') { '\u{feff}'.len_utf8() } else { 0 };
            std::iter::once(first).chain(breaks).collect()
        })
    }

    /// The line and column of a byte.
    pub fn place(&self, offset: usize) -> Place {
        let offset = self.text.floor_char_boundary(offset);
        let line = self.starts().partition_point(|&start| start <= offset).max(1);
        let start = self.starts()[line - 1];
        let column = self.text[start..offset.max(start)].chars().count() + 1;
        Place { line: line + self.before, column }
    }

    /// Where line `number` (from 1) lies, its line break left out.
    pub fn line(&self, number: usize) -> Span {
        let number = number.wrapping_sub(self.before);
        let Some(&start) = self.starts().get(number.wrapping_sub(1)) else {
            return Span::new(self.text.len(), self.text.len());
        };
        let end = self.starts().get(number).copied().unwrap_or(self.text.len());
        Span::new(start, start + self.text[start..end].trim_end_matches(['\n', '\r']).len())
    }

    /// The lines in order, each with the byte it starts at.
    pub fn lines(&self) -> impl Iterator<Item = (usize, &str)> {
        (1..=self.starts().len()).map(|number| {
            let number = number + self.before;
            let span = self.line(number);
            (span.start, self.slice(span))
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn places_count_characters_and_lines_end_where_they_end() {
        let source = Source::new("t", "ä = 1\r\nbéta = \"x\"\n");
        assert_eq!(source.place(0), Place { line: 1, column: 1 });
        assert_eq!(source.place("ä = ".len()), Place { line: 1, column: 5 });
        let x = source.text().find('x').unwrap();
        assert_eq!(source.place(x), Place { line: 2, column: 9 });
        assert_eq!(source.place(usize::MAX), Place { line: 3, column: 1 });
        assert_eq!(source.slice(source.line(1)), "ä = 1");
        assert_eq!(source.slice(source.line(2)), "béta = \"x\"");
        assert_eq!(source.slice(source.line(9)), "");
        assert_eq!(source.lines().count(), 3);
    }
}
