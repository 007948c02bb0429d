//! A score run as a test: what came of each expectation.

use super::Score;
use super::expectation::{Events, Expected};
use crate::take::{Playing, Run, Watcher};
use harmonym_runtime::base::{Rate, SchemeId, Time, shortest};
use harmonym_runtime::engine::{Event, EventKind, Frame, Notice};
use harmonym_runtime::plan::Plan;
use std::sync::Arc;

/// What came of one expectation.
#[derive(Clone, Debug, PartialEq)]
pub struct Outcome {
    /// Whether it holds.
    pub pass: bool,
    /// What came, in words.
    pub got: String,
}

/// Runs a score, and gives an outcome for each of its expectations, in their order. The plan is
/// for the score's layout.
pub fn try_score(plan: &Arc<Plan>, score: &Score, rate: Option<Rate>) -> Vec<Outcome> {
    let rate = rate.or(score.rate).unwrap_or(Rate::DEFAULT);
    let expected: Vec<&Expected> = score.expectations.iter().map(|e| &e.what).collect();
    let mut moments: Vec<(Time, usize)> =
        expected.iter().enumerate().filter_map(|(i, e)| Some((e.moment()?, i))).collect();
    moments.sort();
    let mut log = Log {
        plan,
        expected: &expected,
        seen: vec![Seen::default(); expected.len()],
        scheme: None,
    };
    let mut outcomes: Vec<Option<Outcome>> = vec![None; expected.len()];
    let playing = Playing { start: score.start, rate, scheme: None };
    let mut run = Run::new(Arc::clone(plan), playing, None, &mut log);
    let mut moments = moments.into_iter().peekable();
    for input in score.perform() {
        while let Some((at, index)) = moments.next_if(|(at, _)| *at < input.t) {
            let frame = run.look(at, &mut log);
            outcomes[index] = Some(look(frame, expected[index], log.scheme));
        }
        // Without an end that was asked for, a run takes every input.
        let _ = run.input(input, &mut log);
    }
    for (at, index) in moments {
        let frame = run.look(at, &mut log);
        outcomes[index] = Some(look(frame, expected[index], log.scheme));
    }
    run.finish(&mut log);
    let events = log.seen.iter().zip(&expected);
    let of_events = events.map(|(seen, expected)| match expected {
        Expected::Events(_, events) => Some(seen.outcome(events)),
        _ => None,
    });
    let both = of_events.zip(outcomes).filter_map(|(events, moment)| events.or(moment));
    both.collect()
}

/// What an action or the scheme in use is at the moment at hand.
fn look(frame: Frame<'_>, expected: &Expected, scheme: Option<SchemeId>) -> Outcome {
    match expected {
        Expected::Value { action, value, within, .. } => {
            let read = frame.value(*action);
            let kind = frame.plan().actions()[*action].kind;
            let pairs = read.shown(kind).into_iter().zip(value.components());
            let pass = pairs.into_iter().all(|(a, b)| (a - b).abs() <= *within);
            Outcome { pass, got: format!("{:.6}", read.display(kind)) }
        }
        Expected::Progress { action, progress, within, .. } => {
            let read = frame.read(*action).progress;
            Outcome { pass: (read - progress).abs() <= *within, got: shortest(read).to_string() }
        }
        Expected::Scheme { scheme: wanted, .. } => {
            let got = scheme
                .map_or("no scheme yet".to_owned(), |s| frame.plan().names().schemes[s].clone());
            Outcome { pass: scheme == Some(*wanted), got }
        }
        Expected::Events(..) => Outcome { pass: false, got: String::new() },
    }
}

/// The events that an expectation has counted.
#[derive(Clone, Default)]
struct Seen {
    count: u64,
    /// The last few of the action's events that didn't match, or did.
    near: Vec<String>,
}

/// So many events are told with a failing expectation.
const TOLD: usize = 3;

impl Seen {
    fn outcome(&self, events: &Events) -> Outcome {
        let pass = events.count.map_or(self.count > 0, |wanted| wanted == self.count);
        let of = match self.near.is_empty() {
            true => "no such event".to_owned(),
            false => self.near.join("; "),
        };
        let got = match (self.count, events.count) {
            (0, _) => of,
            (1, _) => format!("once: {of}"),
            (many, _) => format!("{many} times, first {of}"),
        };
        Outcome { pass, got }
    }
}

struct Log<'a> {
    plan: &'a Plan,
    expected: &'a [&'a Expected],
    seen: Vec<Seen>,
    scheme: Option<SchemeId>,
}

impl Watcher for Log<'_> {
    fn notice(&mut self, notice: Notice) {
        let event = match notice {
            Notice::Scheme { scheme, .. } => {
                self.scheme = Some(scheme);
                return;
            }
            Notice::Map { .. } | Notice::Pause { .. } => return,
            Notice::Event(event) => event,
        };
        for (seen, expected) in self.seen.iter_mut().zip(self.expected) {
            if let Expected::Events(action, events) = expected
                && *action == event.action
            {
                take_in(self.plan, seen, events, &event);
            }
        }
    }
}

/// Counts an event if it matches; keeps it for telling if it is of the kind that was expected, or
/// ends an episode in the other way.
fn take_in(plan: &Plan, seen: &mut Seen, events: &Events, event: &Event) {
    let matches = matches(plan, events, event);
    seen.count += u64::from(matches);
    let word = event.kind.word();
    let is_end = |word: &str| matches!(word, "lapse" | "rest");
    let is_near = word == events.event || is_end(word);
    if seen.near.len() == TOLD && (matches || (seen.count == 0 && is_near)) {
        seen.near.push("…".to_owned());
    } else if seen.near.len() < TOLD && (matches || (seen.count == 0 && is_near)) {
        if matches && seen.count == 1 {
            seen.near.clear();
        }
        let cause =
            event.kind.cause().map_or(String::new(), |cause| format!(" ({})", cause.word()));
        seen.near.push(format!("{word} at {} s{cause}", event.t));
    }
}

fn matches(plan: &Plan, events: &Events, event: &Event) -> bool {
    let t = event.t;
    let near = |(at, within): (Time, Time)| t.since(at).max(at.since(t)) <= within;
    let by = match event.kind {
        EventKind::Fire(by, _) => plan.names().alternatives[by].as_str(),
        _ => "",
    };
    event.kind.word() == events.event
        && events.at.is_none_or(near)
        && events.before.is_none_or(|before| t < before)
        && events.after.is_none_or(|after| t > after)
        && events
            .because
            .as_deref()
            .is_none_or(|w| event.kind.cause().is_some_and(|c| c.word() == w))
        && events.by.as_deref().is_none_or(|wanted| by == wanted)
}
