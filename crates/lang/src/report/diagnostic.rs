//! One thing that there is to say.

use super::FaultKind;
use crate::source::{Source, Span};
use std::fmt;

/// How much a thing weighs that there is to say.
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

/// A change to the profile, as the commands make it.
#[derive(Clone, Debug, PartialEq)]
pub enum Mend {
    /// Sets an address to a value.
    Set(String, String),
    /// Removes what goes by an address.
    Remove(String),
}

/// One thing that there is to say: a fault in a text, why something can't be done, or what the
/// checker proves of a sound profile.
#[derive(Clone, Debug, PartialEq)]
pub struct Diagnostic {
    /// The name of the kind of fault, or of the checker's rule.
    pub rule: &'static str,
    /// How much it weighs.
    pub level: Level,
    /// What in the profile it is about, where that is known by its address.
    pub address: Option<String>,
    /// Where in the text it is.
    pub span: Span,
    /// One sentence without a full stop.
    pub message: String,
    /// What to write instead; empty where there is nothing to say.
    pub help: String,
    /// Other places that belong to it, each with a word on why.
    pub also: Vec<(Span, String)>,
    /// The changes that mend it, where that is safe.
    pub mends: Vec<Mend>,
}

impl Diagnostic {
    /// A fault at `span`. Without a `help`, give an empty text.
    pub fn fault(
        kind: FaultKind,
        span: Span,
        message: impl Into<String>,
        help: impl Into<String>,
    ) -> Self {
        Self {
            rule: kind.name(),
            level: Level::Error,
            address: None,
            span,
            message: brief(message.into(), 200),
            help: brief(help.into(), 1000),
            also: Vec::new(),
            mends: Vec::new(),
        }
    }

    /// Why something can't be done, whatever text it is about.
    pub fn refused(message: impl Into<String>, help: impl Into<String>) -> Self {
        let fault = Self::fault(FaultKind::Syntax, Span::default(), message, help);
        Self { rule: "refused", ..fault }
    }

    /// The same with one more place that belongs to it.
    #[must_use]
    pub fn with_place(mut self, span: Span, why: impl Into<String>) -> Self {
        self.also.push((span, why.into()));
        self
    }

    /// The same as one line, with `path:line:column` before it.
    pub fn in_source<'a>(&'a self, source: &'a Source) -> impl fmt::Display + 'a {
        InSource { diagnostic: self, source }
    }
}

/// The message, and the help after it.
impl fmt::Display for Diagnostic {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.message)?;
        match self.help.as_str() {
            "" => Ok(()),
            help => write!(f, "; {help}"),
        }
    }
}

/// A sentence in which no word and nothing that is quoted is longer than `most` characters; of
/// longer ones the begin and the end stay.
fn brief(sentence: String, most: usize) -> String {
    if sentence.len() <= most {
        return sentence;
    }
    let mut is_quoted = false;
    let parts = sentence.split_inclusive(|letter| {
        is_quoted ^= letter == '`';
        letter == '`' || (letter == ' ' && !is_quoted)
    });
    let mut out = String::new();
    for part in parts {
        let count = part.chars().count();
        if count <= most {
            out.push_str(part);
            continue;
        }
        out.extend(part.chars().take(most / 2));
        out.push('…');
        out.extend(part.chars().skip(count - most / 4));
    }
    out
}

struct InSource<'a> {
    diagnostic: &'a Diagnostic,
    source: &'a Source,
}

impl fmt::Display for InSource<'_> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let place = self.source.place(self.diagnostic.span.start);
        let name = self.source.name();
        write!(f, "{name}:{}:{}: {}", place.line, place.column, self.diagnostic)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn no_word_of_a_file_fills_the_screen() {
        let quoted = |count: usize| format!("there is no control `{}é` here", "key ".repeat(count));
        for (text, is_cut) in [
            ("a few words ".repeat(500), false),
            (quoted(49), false),
            (quoted(50), true),
            (quoted(3_000_000), true),
            (format!("no {}: nothing", "w".repeat(300)), true),
        ] {
            let told = Diagnostic::refused(text.clone(), "").message;
            assert_eq!(told != text, is_cut, "{told}");
            assert!(!is_cut || told.len() < 300, "{told}");
            assert_eq!(told[told.len() - 4..], text[text.len() - 4..]);
        }
        assert!(Diagnostic::refused(quoted(60), "").message.contains("key …key key"));
    }
}
