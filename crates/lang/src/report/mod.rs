//! What there is to say: the one type for it, the list it is gathered in, and the error made of it.
//!
//! Guarantees to every later stage: a [`Diagnostic`] is data with a span; nothing is printed here.

mod diagnostic;
mod faults;
mod kind;
mod nearest;

pub use diagnostic::{Diagnostic, Level, Mend};
pub use faults::Faults;
pub use kind::FaultKind;
pub use nearest::{Comparing, did_you_mean, nearest, nearest_in_class};

use crate::source::{Source, Span};

/// All that was found in one text. Stages go on after a fault and add to it.
#[derive(Clone, Debug, Default)]
pub struct Diagnostics {
    list: Vec<Diagnostic>,
    /// What unknown names of the text may still be compared with.
    pub comparing: Comparing,
}

impl Diagnostics {
    /// Nothing found yet.
    pub fn new() -> Self {
        Self::default()
    }

    /// Adds one.
    pub fn push(&mut self, diagnostic: Diagnostic) {
        self.list.push(diagnostic);
    }

    /// Adds a fault at `span`. Without a `help`, give an empty text.
    pub fn fault(
        &mut self,
        kind: FaultKind,
        span: Span,
        message: impl Into<String>,
        help: impl Into<String>,
    ) {
        self.list.push(Diagnostic::fault(kind, span, message, help));
    }

    /// The known name nearest to an unknown one of the text, as long as there are comparisons left for it.
    pub fn nearest<'a>(
        &self,
        word: &str,
        candidates: impl Iterator<Item = &'a str>,
    ) -> Option<&'a str> {
        nearest(word, self.comparing.of(candidates))
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
    pub fn split_off(&mut self, len: usize) -> Vec<Diagnostic> {
        self.list.split_off(len.min(self.list.len()))
    }

    /// Adds what is wrong with lines that could not be read, and drops what only follows from it:
    /// other diagnostics in those lines, and what seems to be missing.
    pub fn drop_follow_ups(&mut self, broken: Vec<(Span, Diagnostic)>) {
        if broken.is_empty() {
            return;
        }
        let mut lines: Vec<Span> = broken.iter().map(|(line, _)| *line).collect();
        lines.sort();
        let is_broken = |at: usize| {
            let after = lines.partition_point(|line| line.start <= at);
            after > 0 && at <= lines[after - 1].end
        };
        self.list.retain(|one| one.rule != FaultKind::Missing.name() && !is_broken(one.span.start));
        self.list.extend(broken.into_iter().map(|(_, one)| one));
    }

    /// As the error that a text is refused for, in order of place, each told once, with every place
    /// on whole characters: in what is left of a broken text, a place may be a guess.
    pub fn of(mut self, source: &Source) -> Faults {
        for one in &mut self.list {
            one.span = source.whole_characters(one.span);
            for (span, _) in &mut one.also {
                *span = source.whole_characters(*span);
            }
        }
        self.list.sort_by(|a, b| (a.span, &a.message).cmp(&(b.span, &b.message)));
        self.list.dedup();
        Faults::new(source.clone(), self.list)
    }
}
