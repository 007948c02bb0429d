//! Text to a score, line by line.

use super::Score;
use super::forms::{HEADERS, VERBS, meant, words_of};
use super::words::{Word, words};
use crate::take::limits::{self, MOST_REPORTS, longest};
use harmonym_lang::report::{Diagnostic, Diagnostics, FaultKind, Faults, did_you_mean, nearest};
use harmonym_lang::source::{Source, Span};
use harmonym_runtime::base::{ActionId, MapId, MapKind, Rate, Seat, Time};
use harmonym_runtime::controls::Layout;
use harmonym_runtime::plan::Plan;
use std::collections::HashMap;

/// How often movements report if nothing is said.
const SAMPLE: Time = Time::from_millis(4);

/// Reads a score for the maps of `plan`.
///
/// # Errors
/// Everything that is wrong with it, in order of place.
pub fn read(source: &Source, plan: &Plan) -> Result<Score, Faults> {
    let mut reader = Reader {
        plan,
        diagnostics: Diagnostics::new(),
        score: Score {
            title: None,
            start: None,
            rate: None,
            layout: said(source, "layout").and_then(Layout::from_word),
            seats: said(source, "seats").and_then(|seats| seats.parse().ok()),
            player: None,
            wheels: plan.notches().iter().map(|notch| notch.wheel).collect(),
            sample: SAMPLE,
            instructions: Vec::new(),
            expectations: Vec::new(),
        },
        seen: Vec::new(),
        actions: by_name(plan),
        last_end: Time::ZERO,
        spans: Vec::new(),
    };
    for (start, text) in source.lines() {
        let Some(words) = words(text, start, &mut reader.diagnostics) else { continue };
        if !words.is_empty() {
            let end = words.last().map_or(start, |word| word.span.end);
            let end = Span::new(end, end);
            reader.line(&mut Line { words: &words, at: 0, end });
        }
    }
    reader.expect_bounded();
    reader.expect_devices();
    match reader.diagnostics.is_empty() {
        true => Ok(reader.score),
        false => Err(reader.diagnostics.of(source)),
    }
}

/// Of each action its name with its map, and without.
fn by_name(plan: &Plan) -> HashMap<&str, Vec<ActionId>> {
    let mut all: HashMap<&str, Vec<ActionId>> = HashMap::new();
    for (id, address) in plan.names().actions.entries() {
        let short = address.split_once('.').map(|(_, short)| short);
        for name in std::iter::once(address.as_str()).chain(short) {
            all.entry(name).or_default().push(id);
        }
    }
    all
}

/// The player's file that a score names, also where it has faults.
pub fn player(source: &Source) -> Option<&str> {
    said(source, "player")
}

/// The word that a header line says, wherever that stands.
fn said<'t>(source: &'t Source, header: &str) -> Option<&'t str> {
    source.lines().find_map(|(start, line)| {
        let words = words(line, start, &mut Diagnostics::new())?;
        (words.first()?.text == header).then(|| words.get(1).map(|word| word.text))?
    })
}

pub(super) struct Reader<'a> {
    pub plan: &'a Plan,
    pub diagnostics: Diagnostics,
    pub score: Score,
    /// The header lines that were.
    seen: Vec<(&'static str, Span)>,
    pub last_end: Time,
    /// The actions by their names, with and without their maps.
    pub actions: HashMap<&'a str, Vec<ActionId>>,
    /// Where each instruction stands.
    pub spans: Vec<Span>,
}

/// A line, and the word in it that is next.
pub(super) struct Line<'t> {
    pub words: &'t [Word<'t>],
    pub at: usize,
    pub end: Span,
}

impl<'t> Line<'t> {
    pub fn peek(&self) -> Option<Word<'t>> {
        self.words.get(self.at).copied()
    }

    /// The word so many behind the next one.
    pub fn after(&self, places: usize) -> Option<Word<'t>> {
        self.words.get(self.at + places).copied()
    }

    pub fn next(&mut self) -> Option<Word<'t>> {
        let word = self.peek();
        self.at += usize::from(word.is_some());
        word
    }

    pub fn take(&mut self, text: &str) -> bool {
        let is_next = self.peek().is_some_and(|w| w.text == text && !w.is_quoted);
        self.at += usize::from(is_next);
        is_next
    }

    pub fn here(&self) -> Span {
        self.peek().map_or(self.end, |word| word.span)
    }
}

impl Reader<'_> {
    /// Tells the first instruction that goes on for too long, and the first movement that is one
    /// report too many.
    fn expect_bounded(&mut self) {
        let Score { rate, sample, instructions, .. } = &self.score;
        let rate = rate.unwrap_or(Rate::DEFAULT);
        let longest = longest(rate);
        let all = || instructions.iter().zip(&self.spans);
        let late = all().find(|(one, _)| one.end() > longest).map(|(_, span)| {
            let message = format!("a run at {rate} ticks a second lasts {longest} s at most");
            (*span, message, limits::shorter(rate))
        });
        let mut left = MOST_REPORTS;
        let busy = all().find(|(one, _)| {
            left.checked_sub(one.reports(*sample)).map(|rest| left = rest).is_none()
        });
        let busy = busy.map(|(one, span)| {
            let reports = one.reports(*sample);
            let message = format!(
                "this movement reports {reports} times; all of a score report {MOST_REPORTS} \
                 times at most"
            );
            (*span, message, "let movements report less often: `sample 100ms`".to_owned())
        });
        for (span, message, help) in late.into_iter().chain(busy) {
            self.diagnostics.fault(FaultKind::OutOfRange, span, message, help);
        }
    }

    fn line(&mut self, line: &mut Line<'_>) -> Option<()> {
        let first = line.next()?;
        match first.text {
            "at" => {
                let at = self.time(line, "`at`")?;
                self.instruction(line, at)?;
            }
            "expect" => self.expect(line, first.span)?,
            "after" => {
                let at = self.last_end + self.time(line, "`after`")?;
                self.instruction(line, at)?;
            }
            header => match words_of(HEADERS).find(|&known| known == header) {
                Some(known) => self.header(known, first.span, line)?,
                None => {
                    self.unknown_line(first);
                    return None;
                }
            },
        }
        if let Some(extra) = line.peek() {
            let message = format!("`{}` is too much here", extra.text);
            self.diagnostics.fault(
                FaultKind::Syntax,
                extra.span,
                message,
                "write one instruction a line",
            );
        }
        Some(())
    }

    fn unknown_line(&mut self, word: Word<'_>) {
        let text = word.text;
        let help = match words_of(VERBS).find(|&verb| verb == meant(text)) {
            Some(verb) => format!("an instruction has its time before it: `at 0.5s {verb} …`"),
            None => did_you_mean(
                nearest(text, words_of(HEADERS).chain(["at", "after", "expect"])),
                || {
                    let headers: Vec<_> = words_of(HEADERS).collect();
                    format!("lines begin with at, after, expect, {}", headers.join(", "))
                },
            ),
        };
        let message = format!("`{text}` does not begin a line of a score");
        self.diagnostics.fault(FaultKind::UnknownWord, word.span, message, help);
    }

    fn header(&mut self, name: &'static str, span: Span, line: &mut Line<'_>) -> Option<()> {
        if let Some(&(_, first)) = self.seen.iter().find(|(seen, _)| *seen == name) {
            let message = format!("`{name}` is said twice");
            let finding =
                Diagnostic::fault(FaultKind::UsedTwice, span, message, "keep one of them");
            self.diagnostics.push(finding.with_place(first, "the first one"));
        }
        self.seen.push((name, span));
        match name {
            "title" => {
                let Some(word) = line.next().filter(|word| word.is_quoted) else {
                    self.diagnostics.fault(
                        FaultKind::Syntax,
                        span,
                        "the title is a text",
                        "write `title \"…\"`",
                    );
                    return None;
                };
                self.score.title = Some(word.text.to_owned());
            }
            "start" => self.score.start = Some(self.solo_map(line)?),
            "layout" => self.layout(line)?,
            "seats" => self.seats(line)?,
            "player" => {
                let Some(word) = line.next() else {
                    let message = "the player's file is missing";
                    let help = "write `player left-hand.toml`";
                    self.diagnostics.fault(FaultKind::Missing, line.end, message, help);
                    return None;
                };
                self.score.player = Some(word.text.to_owned());
            }
            "rate" => {
                let here = line.here();
                let rate = line.next().and_then(|word| Rate::parse(word.text));
                if rate.is_none() {
                    let help = format!("write {}, such as `rate 60`", Rate::RANGE);
                    self.diagnostics.fault(FaultKind::OutOfRange, here, "this is not a rate", help);
                }
                self.score.rate = Some(rate?);
            }
            _ => {
                let here = line.here();
                let sample = self.time(line, "`sample`")?;
                if sample < Time::from_nanos(1000) {
                    let message = "movements cannot report that often";
                    self.diagnostics.fault(
                        FaultKind::OutOfRange,
                        here,
                        message,
                        "write `sample 1us` or more",
                    );
                }
                self.score.sample = sample;
            }
        }
        Some(())
    }

    fn solo_map(&mut self, line: &mut Line<'_>) -> Option<MapId> {
        let here = line.here();
        let map = self.map(line)?;
        if self.plan.maps()[map].kind != MapKind::Solo {
            let name = &self.plan.names().maps[map];
            let message = format!("`{name}` is no solo map: it does not replace the first one");
            let help = format!("name a solo map, and write `at 0s open {name}`");
            self.diagnostics.fault(FaultKind::WrongKind, here, message, help);
            return None;
        }
        Some(map)
    }

    /// The layout itself was read before the first line.
    fn layout(&mut self, line: &mut Line<'_>) -> Option<()> {
        let here = line.here();
        let word = line.next().map_or("", |word| word.text);
        if Layout::from_word(word).is_none() {
            let message = format!("there is no layout `{word}`");
            self.diagnostics.fault(
                FaultKind::UnknownName,
                here,
                message,
                format!("the layouts are {}", Layout::words()),
            );
            return None;
        }
        Some(())
    }

    /// The number itself was read before the first line.
    fn seats(&mut self, line: &mut Line<'_>) -> Option<()> {
        let here = line.here();
        let number = line.next().and_then(|word| word.text.parse().ok());
        if number.and_then(Seat::new).is_none() {
            let message = "there are 1 to 8 seats";
            self.diagnostics.fault(FaultKind::OutOfRange, here, message, "write `seats 2`, say");
            return None;
        }
        Some(())
    }

    pub fn map(&mut self, line: &mut Line<'_>) -> Option<MapId> {
        let here = line.here();
        let name = line.next().map_or("", |word| word.text);
        let map = self.plan.find_map(name).ok();
        if map.is_none() {
            let help = did_you_mean(
                self.diagnostics.nearest(name, self.plan.names().maps.iter().map(String::as_str)),
                || "name a map of the profile".to_owned(),
            );
            self.diagnostics.fault(
                FaultKind::UnknownName,
                here,
                format!("there is no map `{name}`"),
                help,
            );
        }
        map
    }
}
