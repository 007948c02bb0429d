//! What may come next in an expression that is being written.

use harmonym_lang::profile::cues::CueWord;
use harmonym_lang::profile::steps::{BY, REVERSE, StepWord};
use harmonym_lang::profile::table::{CORNERS, Keyword, OPPOSED};

/// What an expression is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Expression {
    Binding,
    Steps,
    Fire,
}

/// What is written at a place, or may be.
#[derive(Clone, Debug, PartialEq)]
pub(super) enum Wanted {
    /// A control, a combination or another action's value, looked for by some words; with the name of
    /// the combination in whose parentheses it stands.
    Control(Option<&'static str>),
    Step,
    Preset,
    /// What a step takes: numbers, options, a condition.
    OfStep(StepWord),
    Cue,
    /// What a cue takes: numbers, options, guards, another cue.
    OfCue(CueWord),
    Action,
    /// A setting or fact.
    Number,
    /// One of some words.
    Choice(&'static [Keyword]),
    Nothing,
}

/// What is wanted behind `before`, the text of an expression up to a place; and where in it the word
/// begins that is being written.
pub(super) fn wanted(of: Expression, before: &str) -> (Wanted, usize) {
    let is_word =
        |c: char| c.is_alphanumeric() || matches!(c, '-' | '_' | '.' | '#' | '@' | '%' | '/');
    let start = before
        .rfind(|c| !is_word(c))
        .map_or(0, |at| at + before[at..].chars().next().map_or(1, char::len_utf8));
    let rest = before[..start].trim_end();
    if let Some(option) = rest.strip_suffix('=') {
        let name = option.rsplit(|c: char| !is_word(c)).next().unwrap_or_default();
        return (choice(name), start);
    }
    match of {
        Expression::Fire => (of_fire(rest), start),
        Expression::Steps => (of_step(rest, &before[start..]), start),
        Expression::Binding => of_binding(before, rest, start),
    }
}

fn choice(option: &str) -> Wanted {
    match option {
        "opposed" => Wanted::Choice(OPPOSED),
        "corner" => Wanted::Choice(CORNERS),
        "by" => Wanted::Choice(BY),
        "reverse" => Wanted::Choice(REVERSE),
        _ => Wanted::Number,
    }
}

fn of_binding(before: &str, rest: &str, start: usize) -> (Wanted, usize) {
    // A parenthesis behind a step is that of a point: `curve (0.5 0.2)`.
    let delimiter = rest.rfind(['|', '(', ',', '+']);
    let behind_bar = delimiter.and_then(|at| {
        let bar = rest[..=at].rfind('|')?;
        let open = rest[bar..].matches('(').count() > rest[bar..].matches(')').count();
        let parts = rest[bar..].contains(',') && !open;
        (!parts).then_some(bar)
    });
    if let Some(bar) = behind_bar.filter(|bar| !leaves_steps(&rest[*bar..])) {
        return (of_step(&rest[bar + 1..], &before[start..]), start);
    }
    // A control may be looked for by several words: `left bumper`.
    let at = delimiter.map_or(0, |at| at + 1);
    let begun = at + before[at..].len() - before[at..].trim_start().len();
    (Wanted::Control(combination(rest)), begun.min(start))
}

/// Whether a text that begins with `|` has left the steps for another part: `| flip, key.Key`.
fn leaves_steps(text: &str) -> bool {
    let mut depth = 0_i32;
    for c in text.chars() {
        match c {
            '(' => depth += 1,
            ')' => depth -= 1,
            ',' if depth <= 0 => return true,
            _ => {}
        }
    }
    false
}

/// The combination in whose parentheses the end of a text stands.
fn combination(text: &str) -> Option<&'static str> {
    let mut depth = 0;
    for (at, c) in text.char_indices().rev() {
        match c {
            ')' => depth += 1,
            '(' if depth > 0 => depth -= 1,
            '(' => {
                let name = text[..at].trim_end();
                return ["pair", "four", "join", "any"].into_iter().find(|one| name.ends_with(one));
            }
            _ => {}
        }
    }
    None
}

/// Behind the steps of a chain up to `rest`, all of them or those behind the last `|`.
fn of_step(rest: &str, word: &str) -> Wanted {
    let own = rest.rsplit('|').next().unwrap_or_default().trim();
    let mut words = own.split_whitespace();
    let Some(first) = words.next() else {
        return if word.starts_with('@') { Wanted::Preset } else { Wanted::Step };
    };
    if matches!(own.split_whitespace().next_back(), Some("when" | "unless")) {
        return Wanted::Number;
    }
    StepWord::named(first).map_or(Wanted::Nothing, Wanted::OfStep)
}

fn of_fire(rest: &str) -> Wanted {
    let words: Vec<&str> = rest.split_whitespace().collect();
    let own = words.rsplit(|word| *word == "or").next().unwrap_or_default();
    let Some(first) = own.first() else { return Wanted::Cue };
    let open = own.iter().map(|word| word.matches('(').count()).sum::<usize>();
    let closed = own.iter().map(|word| word.matches(')').count()).sum::<usize>();
    if open > closed {
        return Wanted::Action;
    }
    match own.last() {
        Some(&("with" | "without")) => Wanted::Action,
        Some(&("when" | "unless")) => Wanted::Number,
        _ => {
            let cue = first.split('(').next().and_then(CueWord::named);
            cue.map_or(Wanted::Nothing, Wanted::OfCue)
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use Expression::{Binding, Fire, Steps};

    #[test]
    fn what_comes_next_is_known_at_every_place() {
        let control = Wanted::Control(None);
        for (of, before, next, begun) in [
            (Binding, "", control.clone(), 0),
            (Binding, "pad.le", control.clone(), 0),
            (Binding, "left bum", control.clone(), 0),
            (Binding, "key.Shift + key.K", control.clone(), 12),
            (Binding, "pair(key.KeyA, key", Wanted::Control(Some("pair")), 15),
            (Binding, "pair(key.KeyA, key.KeyD, opposed=n", Wanted::Choice(OPPOSED), 33),
            (Binding, "four(a, b, c, d, corner=", Wanted::Choice(CORNERS), 24),
            (Binding, "pad.left-stick | ", Wanted::Step, 17),
            (Binding, "pad.left-stick | dead", Wanted::Step, 17),
            (Binding, "pad.left-stick | @st", Wanted::Preset, 17),
            (Binding, "pad.left-stick | deadzone 0.1 fu", Wanted::OfStep(StepWord::Deadzone), 30),
            (Binding, "pad.left-stick | deadzone 0.1 by=", Wanted::Choice(BY), 33),
            (Binding, "x | curve (0.5 0.2) (", Wanted::OfStep(StepWord::Curve), 21),
            (Binding, "x | scale 2 when ", Wanted::Number, 17),
            (Binding, "join(pad.left-trigger | flip, key", Wanted::Control(Some("join")), 30),
            (Binding, "join(pad.left-trigger | fl", Wanted::Step, 24),
            (Steps, "", Wanted::Step, 0),
            (Steps, "deadzone 0.1 | cu", Wanted::Step, 15),
            (Steps, "ease rise=", Wanted::Number, 10),
            (Fire, "", Wanted::Cue, 0),
            (Fire, "press or ho", Wanted::Cue, 9),
            (Fire, "hold 0.8s wi", Wanted::OfCue(CueWord::Hold), 10),
            (Fire, "hold 0.8s with ", Wanted::Action, 15),
            (Fire, "press unless on-", Wanted::Number, 13),
            (Fire, "sequence(a, b", Wanted::Action, 12),
            (Fire, "sequence(a, b) wi", Wanted::OfCue(CueWord::Sequence), 15),
        ] {
            assert_eq!(wanted(of, before), (next, begun), "{before}");
        }
    }
}
