//! What there is to say about a text: findings, and the list they are gathered in.
//!
//! Guarantees to every later stage: a [`Finding`] is data with a span; nothing is printed here.

mod nearest;

pub use nearest::{nearest, nearest_in_class};

use crate::source::{Source, Span};
use std::fmt;

/// The kinds of fault, by the names that `check` reports.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Rule {
    /// The text isn't TOML, an expression or an instruction.
    Syntax,
    /// A key that has no meaning there.
    UnknownKey,
    /// A name that nothing defines.
    UnknownName,
    /// A control that no device has.
    UnknownControl,
    /// A step, cue, combination or option that doesn't exist.
    UnknownWord,
    /// A value of the wrong type or kind.
    WrongKind,
    /// A number with a wrong unit, or without one.
    WrongUnit,
    /// A number outside its range.
    OutOfRange,
    /// Something required is not there.
    Missing,
    /// Names that refer to each other in a circle.
    Loop,
    /// One name for two things.
    UsedTwice,
    /// A name that isn't one.
    BadName,
    /// A part of the language that this version doesn't have.
    NotYet,
    /// More, longer or deeper than can be meant.
    TooMuch,
}

impl Rule {
    /// The name in reports.
    pub const fn name(self) -> &'static str {
        match self {
            Self::Syntax => "syntax",
            Self::UnknownKey => "unknown-key",
            Self::UnknownName => "unknown-name",
            Self::UnknownControl => "unknown-control",
            Self::UnknownWord => "unknown-word",
            Self::WrongKind => "wrong-kind",
            Self::WrongUnit => "wrong-unit",
            Self::OutOfRange => "out-of-range",
            Self::Missing => "missing",
            Self::Loop => "loop",
            Self::UsedTwice => "used-twice",
            Self::BadName => "bad-name",
            Self::NotYet => "not-yet-supported",
            Self::TooMuch => "too-much",
        }
    }
}

/// One fault, at its place.
#[derive(Clone, Debug, PartialEq)]
pub struct Finding {
    /// What kind of fault it is.
    pub rule: Rule,
    /// Where it is.
    pub span: Span,
    /// One sentence without a full stop.
    pub message: String,
    /// What to write instead.
    pub help: String,
    /// Other places that belong to it, each with a word on why.
    pub also: Vec<(Span, String)>,
}

impl Finding {
    /// A fault at `span`. Without a `help`, give an empty text.
    pub fn new(
        rule: Rule,
        span: Span,
        message: impl Into<String>,
        help: impl Into<String>,
    ) -> Self {
        Self { rule, span, message: message.into(), help: help.into(), also: Vec::new() }
    }

    /// The answer to what the language has and this version doesn't.
    pub fn not_yet(span: Span, what: &str, help: impl Into<String>) -> Self {
        Self::new(Rule::NotYet, span, format!("{what} is not yet supported"), help)
    }

    /// The same with one more place that belongs to it.
    #[must_use]
    pub fn with_place(mut self, span: Span, why: impl Into<String>) -> Self {
        self.also.push((span, why.into()));
        self
    }

    /// The finding as one line, with `path:line:column` before it.
    pub fn in_source<'a>(&'a self, source: &'a Source) -> impl fmt::Display + 'a {
        InSource { finding: self, source }
    }
}

struct InSource<'a> {
    finding: &'a Finding,
    source: &'a Source,
}

impl fmt::Display for InSource<'_> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let place = self.source.place(self.finding.span.start);
        let (name, message) = (self.source.name(), &self.finding.message);
        write!(f, "{name}:{}:{}: {message}", place.line, place.column)?;
        match self.finding.help.as_str() {
            "" => Ok(()),
            help => write!(f, "; {help}"),
        }
    }
}

/// All that was found in one text. Stages go on after a fault and add to it.
#[derive(Clone, Debug, Default)]
pub struct Findings {
    list: Vec<Finding>,
}

impl Findings {
    /// Nothing found yet.
    pub fn new() -> Self {
        Self::default()
    }

    /// Adds a finding.
    pub fn push(&mut self, finding: Finding) {
        self.list.push(finding);
    }

    /// Whether nothing was found.
    pub fn is_empty(&self) -> bool {
        self.list.is_empty()
    }

    /// How many were found.
    pub fn len(&self) -> usize {
        self.list.len()
    }

    /// Takes out what was added since there were `len`.
    pub fn split_off(&mut self, len: usize) -> Vec<Finding> {
        self.list.split_off(len.min(self.list.len()))
    }

    /// Adds what is wrong with lines that could not be read, and drops what only follows from it:
    /// other findings in those lines, and what seems to be missing.
    pub fn drop_follow_ups(&mut self, broken: Vec<(Span, Finding)>) {
        if broken.is_empty() {
            return;
        }
        let mut lines: Vec<Span> = broken.iter().map(|(line, _)| *line).collect();
        lines.sort();
        let is_broken = |at: usize| {
            let after = lines.partition_point(|line| line.start <= at);
            after > 0 && at <= lines[after - 1].end
        };
        self.list.retain(|finding| finding.rule != Rule::Missing && !is_broken(finding.span.start));
        self.list.extend(broken.into_iter().map(|(_, finding)| finding));
    }

    /// The same for faults of `source`, with every place on whole characters: in what is left of
    /// a broken text, a place may be a guess.
    pub fn sorted_in(mut self, source: &Source) -> Vec<Finding> {
        for finding in &mut self.list {
            finding.span = source.whole_characters(finding.span);
            for (span, _) in &mut finding.also {
                *span = source.whole_characters(*span);
            }
        }
        self.sorted()
    }

    /// In order of place, each told once.
    pub fn sorted(mut self) -> Vec<Finding> {
        self.list.sort_by(|a, b| (a.span, &a.message).cmp(&(b.span, &b.message)));
        self.list.dedup();
        self.list
    }
}
