//! Words of the language, looked up in the table.

use super::Resolver;
use crate::profile::cues::CueWord;
use crate::profile::steps::StepWord;
use crate::profile::table::{self, Keyword};
use crate::profile::tried::tried;
use crate::report::{FaultKind, did_you_mean, nearest};
use crate::source::{Quoted, Span};
use crate::syntax::Word;

impl Resolver<'_> {
    /// The word that a text of the file is.
    pub(super) fn word(
        &mut self,
        text: &Quoted,
        known: &'static [Keyword],
        what: &str,
    ) -> Option<&'static str> {
        self.look_up(text.value(), text.span(), known, what)
    }

    /// The word of `known` that `text` is; if none, that is told.
    pub(super) fn look_up(
        &mut self,
        text: &str,
        span: Span,
        known: &'static [Keyword],
        what: &str,
    ) -> Option<&'static str> {
        let found = known.iter().find(|word| word.name == text);
        if found.is_none() {
            let help = self.unknown_word_help(text, known, what);
            let message = format!("`{}` is not {what}", text.escape_debug());
            self.diagnostics.fault(FaultKind::UnknownWord, span, message, help);
        }
        found.map(|word| word.name)
    }

    fn unknown_word_help(&self, text: &str, known: &'static [Keyword], what: &str) -> String {
        if let Some(meant) = tried(text, known) {
            return match meant.split_once(' ') {
                Some((word, _)) => format!("write `{word}`: `{meant}`, say"),
                None => format!("write `{meant}`"),
            };
        }
        if let Some(near) = nearest(text, known.iter().map(|w| w.name)) {
            let form = known.iter().find(|w| w.name == near).map_or(near, |w| w.form);
            return format!("did you mean `{form}`?");
        }
        let elsewhere = [
            (StepWord::WORDS, "a step, and stands behind `|`"),
            (CueWord::WORDS, "a cue, and stands in `fire`"),
            (table::COMBINATIONS, "a combination, and takes parts in parentheses"),
        ];
        for (others, is) in elsewhere {
            if others.iter().any(|w| w.name == text) {
                return format!("`{text}` is {is}");
            }
        }
        if text.contains('.') && what == "a step" {
            return format!(
                "a control begins a binding; several bindings are a list: `[\"…\", \"{text}\"]`"
            );
        }
        let names: Vec<_> = known.iter().map(|w| w.name).collect();
        format!("{what} is one of {}", names.join(", "))
    }

    /// One of a few words, for an option.
    pub(super) fn choice(&mut self, option: &str, word: &Word, known: &[Keyword]) -> Option<usize> {
        let found = known.iter().position(|known| known.name == word.text);
        if found.is_none() {
            let names: Vec<_> = known.iter().map(|known| known.name).collect();
            let message = format!("`{option}` cannot be `{}`", word.text);
            let help = did_you_mean(
                nearest(&word.text, names.iter().copied()).map(|near| format!("{option}={near}")),
                || format!("it is one of {}", names.join(", ")),
            );
            self.diagnostics.fault(FaultKind::UnknownWord, word.span, message, help);
        }
        found
    }
}
