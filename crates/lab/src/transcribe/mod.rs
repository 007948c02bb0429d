//! A recorded take as a score that a person can read and edit: presses and movements found in the reports, and
//! what came of them as expectations.
//!
//! Guarantees: the score is sound, and playing it gives the events that the take gives: the same ones of each
//! action, in the same order, for the same causes, no further off in time than a movement takes to report.

mod expects;
mod fit;
mod hands;
mod outcome;

pub use expects::expected;

use crate::score;
use crate::take::{Header, Input, Playing};
use hands::Grain;
use harmonym_lang::source::Source;
use harmonym_runtime::base::{Rate, Time};
use harmonym_runtime::plan::Plan;
use outcome::Outcome;
use std::fmt::Write;
use std::sync::Arc;

/// How far a stick's way may be off, if nothing is said: of its whole way to one side.
pub const USUAL: f64 = 0.02;

/// A score that was made of a take.
#[derive(Clone, Debug, PartialEq)]
pub struct Transcript {
    /// Its text.
    pub text: String,
    /// How many lines say what hands do.
    pub lines: usize,
    /// How many expect something.
    pub expected: usize,
    /// How far a movement is off at most, of a control's whole way to one side; 0 if each report stands by
    /// itself.
    pub within: f64,
    /// Whether all events are the take's: else something of it can't be said in a score.
    pub is_same: bool,
}

/// What a score says before its instructions.
#[derive(Clone, Copy, Debug)]
pub struct About<'a> {
    /// What the take says.
    pub header: &'a Header,
    /// What the take is called.
    pub from: &'a str,
    /// The file of the player whose controls these are: where it is from the score.
    pub player: Option<&'a str>,
}

/// The score of a take that was read for `plan`. Movements are off by no more than `within`, and by less where
/// other events would come of it.
///
/// ```
/// use harmonym_lab::take::{Header, Input, What};
/// use harmonym_lab::transcribe::{About, USUAL, transcribe};
/// use harmonym_lang::Game;
/// use harmonym_runtime::{Contact, Time};
///
/// let text = "harmonym = 1\nscheme.desk.devices = [\"key\"]\n[map.quay]\nstart = true\n\
///             [map.quay.hail]\nvalue = \"switch\"\nbind.desk = \"key.KeyH\"\n";
/// let game = Game::parse("harmonym.toml", text).unwrap();
/// let key = Contact::first(game.control("key.KeyH").unwrap());
/// let report = |ms, value: f64| Input {
///     t: Time::from_millis(ms),
///     what: What::Report(key, value.into()),
/// };
/// let take = [report(100, 1.0), report(180, 0.0)];
/// let header = Header::default();
/// let about = About { header: &header, from: "hail.take.jsonl", player: None };
/// let score = transcribe(game.plan(), about, &take, USUAL);
/// assert!(score.text.contains("at 0.1s  press key.KeyH for 0.08s"));
/// assert!(score.text.contains("expect quay.hail fires once"));
/// ```
pub fn transcribe(plan: &Arc<Plan>, about: About<'_>, inputs: &[Input], within: f64) -> Transcript {
    let Header { start, rate, seats, .. } = *about.header;
    let playing = Playing { start, seats, ..Playing::at(rate.unwrap_or(Rate::DEFAULT)) };
    let take = Outcome::of(plan, playing, inputs.iter().copied());
    let mut last = None;
    for grain in Grain::ladder(within) {
        let lines = hands::lines(plan, inputs, grain);
        let head = head(plan, about, inputs.len(), grain);
        let text = format!("{head}\n{}", lines.concat());
        // What is written here can be read; were it not so, the finer grain would be taken.
        let Ok(score) = score::read(&Source::new(about.from, &text), plan) else { continue };
        let own = Outcome::of(plan, playing, score.perform());
        let is_same = own.is_like(&take, grain.apart());
        let done = Done { head, lines, own, grain };
        if is_same {
            return done.finish(plan, &take, true);
        }
        last = Some(done);
    }
    match last {
        Some(done) => done.finish(plan, &take, false),
        None => Transcript { text: String::new(), lines: 0, expected: 0, within, is_same: false },
    }
}

/// A score without its expectations, and what came of it.
struct Done {
    head: String,
    lines: Vec<String>,
    own: Outcome,
    grain: Grain,
}

impl Done {
    fn finish(self, plan: &Plan, take: &Outcome, is_same: bool) -> Transcript {
        let expects = expects::lines(plan, take, &self.own);
        let Self { head, lines, grain, .. } = self;
        let text = [&head, "\n", &*lines.concat(), "\n", &*expects.concat()].concat();
        let (lines, expected) = (lines.len(), expects.len());
        Transcript { text, lines, expected, within: grain.part, is_same }
    }
}

/// The lines before the first instruction.
fn head(plan: &Plan, about: About<'_>, inputs: usize, grain: Grain) -> String {
    let mut out = String::new();
    let from: String = about.from.chars().map(|c| if c.is_control() { ' ' } else { c }).collect();
    let how = match grain.part {
        0.0 => "as they are".to_owned(),
        part => format!("movements within {part}"),
    };
    // Writing to memory does not fail.
    let _ = writeln!(out, "# From {from}: {inputs} inputs, {how}.");
    let Header { title, start, rate, layout, seats } = about.header;
    if let Some(title) = title.as_deref().filter(|title| !title.contains(['"', '\n', '\r'])) {
        let _ = writeln!(out, "title \"{title}\"");
    }
    if let Some(start) = start {
        let _ = writeln!(out, "start {}", plan.names().maps[*start]);
    }
    if let Some(rate) = rate {
        let _ = writeln!(out, "rate {rate}");
    }
    if let Some(layout) = layout {
        let _ = writeln!(out, "layout {}", layout.word());
    }
    if let Some(seats) = seats {
        let _ = writeln!(out, "seats {seats}");
    }
    if let Some(player) = about.player {
        let _ = writeln!(out, "player {player}");
    }
    out
}

/// A moment as a score writes it.
fn seconds(t: Time) -> String {
    format!("{t}s")
}

/// A number without an exponent: the shortest that is read as the same; −0 is 0.
fn plain(value: f64) -> String {
    format!("{}", value + 0.0)
}
