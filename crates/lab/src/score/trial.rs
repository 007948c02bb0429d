//! A score run as a test: what came of each expectation.

use super::Score;
use super::expectation::{By, Count, Events, Expectation, Expected};
use crate::take::limits::MOST_EVENTS;
use crate::take::{Run, Watcher};
use harmonym_runtime::base::{
    Device, MOST_SEATS, MapId, Rate, SchemeId, Seat, Table, Time, shortest,
};
use harmonym_runtime::engine::{Event, EventKind, Frame, Notice};
use harmonym_runtime::plan::Plan;
use harmonym_runtime::seats::{Seats, Told};
use std::sync::Arc;

/// What came of one expectation.
#[derive(Clone, Debug, PartialEq)]
pub struct Outcome {
    /// Whether it holds.
    pub pass: bool,
    /// What came, in words.
    pub got: String,
    /// Whether nothing came at all of what might have been meant.
    pub is_silent: bool,
}

/// Runs a score, and gives an outcome for each of its expectations, in their order. The plan is
/// for the score's layout.
pub fn try_score(plan: &Arc<Plan>, score: &Score, rate: Option<Rate>) -> Vec<Outcome> {
    let rate = rate.or(score.rate).unwrap_or(Rate::DEFAULT);
    let expected: Vec<&Expectation> = score.expectations.iter().collect();
    let mut moments: Vec<(Time, usize)> =
        expected.iter().enumerate().filter_map(|(i, e)| Some((e.what.moment()?, i))).collect();
    moments.sort();
    let mut log = Log {
        plan,
        expected: &expected,
        seen: vec![Seen::default(); expected.len()],
        schemes: [None; MOST_SEATS],
        switched: Table::filled([None; MOST_SEATS], plan.maps().len()),
        open_at_end: Table::filled([false; MOST_SEATS], plan.maps().len()),
        many: score.seats.unwrap_or(plan.seats()) > 1,
    };
    let mut outcomes: Vec<Option<Outcome>> = vec![None; expected.len()];
    let mut run = Run::new(Arc::clone(plan), score.playing(rate), None, &mut log);
    let mut moments = moments.into_iter().peekable();
    for input in score.perform() {
        while let Some((at, index)) = moments.next_if(|(at, _)| *at < input.t) {
            let seats = run.look(at, &mut log);
            outcomes[index] = log.look(seats, expected[index]);
        }
        // Without an end that was asked for, a run takes every input.
        let _ = run.input(input, &mut log);
    }
    for (at, index) in moments {
        let seats = run.look(at, &mut log);
        outcomes[index] = log.look(seats, expected[index]);
    }
    if run.finish(&mut log).is_cut {
        let got = format!("the run was cut short: it tells more than {MOST_EVENTS} events");
        return vec![Outcome { pass: false, got, is_silent: false }; expected.len()];
    }
    let later = log.seen.iter().zip(&expected).map(|(seen, expected)| match &expected.what {
        Expected::Events(_, events) => Some(seen.outcome(events)),
        Expected::Map { map, open, at: None } => {
            let seat = expected.seat.unwrap_or(Seat::FIRST);
            let is_open = log.open_at_end[*map][seat.index()];
            Some(log.map(seat, *map, is_open, *open))
        }
        _ => None,
    });
    let both = later.zip(outcomes).filter_map(|(later, moment)| later.or(moment));
    both.collect()
}

/// The events that an expectation has counted.
#[derive(Clone, Debug, Default)]
struct Seen {
    count: u64,
    /// The first few that matched.
    matched: Vec<String>,
    /// Of what didn't, the few that are nearest to what was expected: how far, and when.
    near: Vec<(Time, Time, String)>,
    /// Whether there were more of those.
    more: bool,
}

/// So many events are told with a failing expectation.
const TOLD: usize = 3;

impl Seen {
    fn outcome(&self, events: &Events) -> Outcome {
        let pass = events.count.allows(self.count);
        let mut near = self.near.clone();
        near.sort_by_key(|(_, t, _)| *t);
        let near = near.iter().map(|(_, _, text)| text.as_str()).collect::<Vec<_>>().join("; ");
        let more = if self.more { "; …" } else { "" };
        let matched = self.matched.join("; ");
        let rest = if self.count > TOLD as u64 { "; …" } else { "" };
        let got = match (self.count, events.count) {
            (0, _) if self.near.is_empty() => "nothing of the kind happened".to_owned(),
            (0, _) => format!("{near}{more}"),
            (1, Count::Exactly(0)) => format!("it did, once: {matched}"),
            (many, Count::Exactly(0)) => format!("it did, {many} times: {matched}{rest}"),
            (1, _) => format!("once: {matched}"),
            (many, _) => format!("{many} times: {matched}{rest}"),
        };
        Outcome { pass, got, is_silent: self.count == 0 && self.near.is_empty() }
    }

    /// Counts an event if it matches; keeps it for telling if it is of the kind that was expected, or
    /// ends an episode in the other way.
    fn take_in(&mut self, plan: &Plan, events: &Events, event: &Event, seat: Option<Seat>) {
        let word = event.kind.word();
        let is_end = |word: &str| matches!(word, "lapse" | "rest");
        if matches(events, event) {
            self.count += 1;
            if self.matched.len() < TOLD {
                self.matched.push(words(plan, events, event, seat));
            }
        } else if word == events.event || is_end(word) {
            let from = events.at.map_or(Time::ZERO, |(at, _)| at);
            let far = event.t.since(from).max(from.since(event.t));
            let place = self.near.partition_point(|(other, ..)| *other <= far);
            if place < TOLD {
                self.near.insert(place, (far, event.t, words(plan, events, event, seat)));
            }
            self.more |= self.near.len() > TOLD || place >= TOLD;
            self.near.truncate(TOLD);
        }
    }
}

/// An event as an expectation would say it, with its seat where that is to be told.
fn words(plan: &Plan, events: &Events, event: &Event, seat: Option<Seat>) -> String {
    let of = seat.map_or(String::new(), |seat| format!(" of seat {seat}"));
    let by = match event.kind {
        EventKind::Fire(by, _) if events.by.is_some() => {
            format!(" by \"{}\"", plan.names().alternatives[by])
        }
        _ => String::new(),
    };
    let cause = event.kind.cause().map_or(String::new(), |cause| format!(" ({})", cause.word()));
    format!("{}{of} at {}{by}{cause}", event.kind.word(), seconds(event.t))
}

/// A moment, to the nearest ten-thousandth of a second.
fn seconds(t: Time) -> String {
    format!("{} s", shortest((t.seconds() * 1e4).round() / 1e4))
}

struct Log<'a> {
    plan: &'a Plan,
    expected: &'a [&'a Expectation],
    seen: Vec<Seen>,
    /// The scheme in use, by seat.
    schemes: [Option<SchemeId>; MOST_SEATS],
    /// When each map was last opened or closed, by seat.
    switched: Table<MapId, [Option<Time>; MOST_SEATS]>,
    open_at_end: Table<MapId, [bool; MOST_SEATS]>,
    /// Whether there is more than one seat.
    many: bool,
}

impl Log<'_> {
    /// What is expected of the moment at hand, and what it is.
    fn look(&self, seats: &mut Seats, expected: &Expectation) -> Option<Outcome> {
        let outcome = |pass: bool, got: String| Some(Outcome { pass, got, is_silent: false });
        let seat = expected.seat.unwrap_or(Seat::FIRST);
        if let Expected::Has { device, .. } = expected.what {
            return outcome(seats.has(seat, device), whose(seats, device));
        }
        let frame = seats.frame(seat);
        match &expected.what {
            Expected::Value { action, value, within, .. } => {
                let read = frame.value(*action);
                let kind = frame.plan().actions()[*action].kind;
                let pairs = read.shown(kind).into_iter().zip(value.components());
                let pass = pairs.into_iter().all(|(a, b)| (a - b).abs() <= *within);
                outcome(pass, format!("{:.6}", read.display(kind)))
            }
            Expected::Progress { action, progress, within, .. } => {
                let read = frame.read(*action).progress;
                outcome(
                    (read - progress).abs() <= *within,
                    shortest((read * 1e6).round() / 1e6).to_string(),
                )
            }
            Expected::Scheme { scheme: wanted, .. } => {
                let names = &frame.plan().names().schemes;
                let in_use = self.schemes[seat.index()];
                let got = in_use.map_or("no scheme yet".to_owned(), |s| names[s].clone());
                outcome(in_use == Some(*wanted), got)
            }
            Expected::Map { map, open, .. } => {
                Some(self.map(seat, *map, frame.inside().is_open(*map), *open))
            }
            Expected::Events(..) | Expected::Has { .. } => None,
        }
    }

    /// What comes of a map that is open or not, where one of both is expected.
    fn map(&self, seat: Seat, map: MapId, is_open: bool, wanted: bool) -> Outcome {
        let got = match (is_open, self.switched[map][seat.index()]) {
            (true, Some(t)) => format!("it is open since {}", seconds(t)),
            (true, None) => "it is open from the start".to_owned(),
            (false, Some(t)) => format!("it is closed since {}", seconds(t)),
            (false, None) => "it was never opened".to_owned(),
        };
        Outcome { pass: is_open == wanted, got, is_silent: false }
    }
}

impl Watcher for Log<'_> {
    fn notice(&mut self, Told { seat, notice }: Told) {
        let place = seat.unwrap_or(Seat::FIRST).index();
        match notice {
            Notice::Scheme { scheme, .. } => self.schemes[place] = Some(scheme),
            Notice::Map { t, map, .. } => self.switched[map][place] = Some(t),
            Notice::Pause { .. }
            | Notice::Plan { .. }
            | Notice::Device { .. }
            | Notice::Seat { .. } => {}
            Notice::Event(event) => {
                for (seen, expected) in self.seen.iter_mut().zip(self.expected) {
                    let is_meant = expected.seat.is_none() || expected.seat == seat;
                    if let Expected::Events(action, events) = &expected.what
                        && *action == event.action
                        && is_meant
                    {
                        let told = seat.filter(|_| self.many && expected.seat.is_none());
                        seen.take_in(self.plan, events, &event, told);
                    }
                }
            }
        }
    }

    fn over(&mut self, seat: Seat, frame: Frame<'_>) {
        for map in self.plan.maps().ids() {
            self.open_at_end[map][seat.index()] = frame.inside().is_open(map);
        }
    }
}

/// Whose a device is, in words.
fn whose(seats: &Seats, device: Device) -> String {
    let name = seats.plan().catalogue().device_name(device);
    match seats.owner(device) {
        Some(seat) if seats.has(seat, device) => format!("seat {seat} has {name}"),
        Some(seat) => format!("{name} is seat {seat}'s, and unplugged"),
        None => format!("nobody has {name}"),
    }
}

fn matches(events: &Events, event: &Event) -> bool {
    let t = event.t;
    let near = |(at, within): (Time, Time)| t.since(at).max(at.since(t)) <= within;
    let is_by = |by: &By| match event.kind {
        EventKind::Fire(alternative, _) => by.alternatives.contains(&alternative),
        _ => false,
    };
    event.kind.word() == events.event
        && events.at.is_none_or(near)
        && events.before.is_none_or(|before| t < before)
        && events.after.is_none_or(|after| t > after)
        && events.between.is_none_or(|(from, to)| from <= t && t <= to)
        && events
            .because
            .as_deref()
            .is_none_or(|w| event.kind.cause().is_some_and(|c| c.word() == w))
        && events.by.as_ref().is_none_or(is_by)
}
