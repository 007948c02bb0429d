//! What a score names of the profile, also where it has faults.

use super::words::{Word, words};
use harmonym_lang::report::Diagnostics;
use harmonym_lang::source::{Source, Span};

/// One place of a score that names something of the profile.
#[derive(Clone, Copy, Debug)]
pub struct Mention<'t> {
    /// The word; of a text in quotes, what is between them.
    pub text: &'t str,
    /// Where it stands, with its quotes.
    pub span: Span,
    /// What it is the name of.
    pub what: Named<'t>,
}

/// What a word of a score is the name of.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Named<'t> {
    /// A map.
    Map,
    /// An action, with its map or without.
    Action,
    /// A scheme, or `all`.
    Scheme,
    /// A setting.
    Setting,
    /// A fact.
    Fact,
    /// A control.
    Control,
    /// A cue of the action that goes by this name, as it is written.
    CueOf(&'t str),
}

/// Every place of a score that names something of the profile, in order.
pub fn mentions(score: &Source) -> Vec<Mention<'_>> {
    let mut all = Vec::new();
    for (start, line) in score.lines() {
        let words = words(line, start, &mut Diagnostics::new()).unwrap_or_default();
        of_line(&words, &mut all);
    }
    all
}

fn of_line<'t>(words: &[Word<'t>], all: &mut Vec<Mention<'t>>) {
    let text = |i: usize| words.get(i).map_or("", |word| word.text);
    let mut add = |i: usize, what: Named<'t>| {
        all.extend(words.get(i).map(|word| Mention { text: word.text, span: word.span, what }));
    };
    match text(0) {
        "start" => add(1, Named::Map),
        // The instruction comes after its time.
        "at" | "after" => match text(2) {
            "open" | "close" => add(3, Named::Map),
            "scheme" => add(3, Named::Scheme),
            "setting" => add(3, Named::Setting),
            "fact" => add(3, Named::Fact),
            // `seat 2 gets pad#2`
            "seat" => add(5, Named::Control),
            "pause" | "resume" => {}
            _ => add(3, Named::Control),
        },
        "expect" if text(1) == "scheme" => add(2, Named::Scheme),
        "expect" if text(1) == "map" && matches!(text(3), "open" | "closed" | "of") => {
            add(2, Named::Map);
        }
        "expect" if text(1) == "seat" && text(3) == "has" => add(4, Named::Control),
        "expect" => {
            add(1, Named::Action);
            let by = (2..words.len()).find(|&i| text(i) == "by" && !words[i].is_quoted);
            if let Some(by) = by {
                add(by + 1, Named::CueOf(text(1)));
            }
        }
        _ => {}
    }
}

/// Whether an action can't be expected by this name alone: the word means something else there.
pub fn means_something_else(name: &str) -> bool {
    matches!(name, "scheme" | "map" | "seat")
}
