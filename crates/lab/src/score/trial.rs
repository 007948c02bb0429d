//! A score run as a test: what came of each expectation.

use super::Score;
use super::expectation::{Count, Events, Expectation, Expected};
use crate::take::limits::MOST_EVENTS;
use crate::take::{Run, Watcher};
use harmonym_runtime::base::{
    ActionId, AlternativeId, Device, MOST_SEATS, MapId, Rate, SchemeId, Seat, Table, Time, shortest,
};
use harmonym_runtime::engine::{Cause, Event, EventKind, Frame, Notice};
use harmonym_runtime::plan::Plan;
use harmonym_runtime::seats::{Seats, Told};
use std::collections::HashMap;
use std::ops::Range;
use std::rc::Rc;
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
        events: Happened::of(&expected),
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
    let mut counted =
        Counted { plan, happened: &log.events, many: log.many, lists: HashMap::new() };
    let later = expected.iter().map(|expected| match &expected.what {
        Expected::Events(action, events) => {
            Some(counted.seen(*action, events, expected.seat).outcome(events))
        }
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
    /// Where none did, the few that are nearest to what was expected, in their order.
    near: Vec<String>,
    /// Whether there were more of those.
    more: bool,
}

/// So many events are told with a failing expectation.
const TOLD: usize = 3;

impl Seen {
    fn outcome(&self, events: &Events) -> Outcome {
        let pass = events.count.allows(self.count);
        let near = self.near.join("; ");
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
}

/// An event of an action that something is expected of.
#[derive(Clone, Copy, Debug)]
struct Happening {
    t: Time,
    kind: EventKind,
    seat: Option<Seat>,
}

/// The events of each action that events are expected of, in their order.
struct Happened(HashMap<ActionId, Vec<Happening>>);

impl Happened {
    fn of(expected: &[&Expectation]) -> Self {
        let actions = expected.iter().filter_map(|one| match &one.what {
            Expected::Events(action, _) => Some((*action, Vec::new())),
            _ => None,
        });
        Self(actions.collect())
    }

    fn take_in(&mut self, event: &Event, seat: Option<Seat>) {
        if let Some(all) = self.0.get_mut(&event.action) {
            all.push(Happening { t: event.t, kind: event.kind, seat });
        }
    }
}

/// What tells some events of an action from others, whenever they come.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
enum Sort {
    /// Those that an expectation asks for: by their word, cause and cue.
    Asked(&'static str, Option<String>, Option<Vec<AlternativeId>>),
    /// Those that are told where none of them came: of that word, or ends of an episode.
    Near(&'static str),
}

impl Sort {
    fn has(&self, kind: EventKind) -> bool {
        match self {
            Self::Asked(word, because, by) => {
                let is_by = |by: &Vec<AlternativeId>| match kind {
                    EventKind::Fire(alternative, _) => by.contains(&alternative),
                    _ => false,
                };
                let cause = kind.cause().map(Cause::word);
                kind.word() == *word
                    && because.as_deref().is_none_or(|because| cause == Some(because))
                    && by.as_ref().is_none_or(is_by)
            }
            Self::Near(word) => kind.word() == *word || matches!(kind.word(), "lapse" | "rest"),
        }
    }
}

/// Counts events: each sort of them is looked up once, and found by its time from then on.
struct Counted<'a> {
    plan: &'a Plan,
    happened: &'a Happened,
    /// Whether there is more than one seat.
    many: bool,
    lists: HashMap<(ActionId, Option<Seat>, Sort), Rc<[Happening]>>,
}

impl Counted<'_> {
    fn list(&mut self, action: ActionId, seat: Option<Seat>, sort: Sort) -> Rc<[Happening]> {
        let all = self.happened.0.get(&action).map_or(&[][..], Vec::as_slice);
        let list = self.lists.entry((action, seat, sort)).or_insert_with_key(|(_, seat, sort)| {
            let is_meant = |one: &&Happening| seat.is_none() || one.seat == *seat;
            all.iter().filter(is_meant).filter(|one| sort.has(one.kind)).copied().collect()
        });
        Rc::clone(list)
    }

    fn seen(&mut self, action: ActionId, events: &Events, seat: Option<Seat>) -> Seen {
        let by = events.by.as_ref().map(|by| by.alternatives.clone());
        let asked = Sort::Asked(events.event, events.because.clone(), by);
        let list = self.list(action, seat, asked);
        let found = &list[within(&list, events)];
        let (plan, shown) = (self.plan, seat.is_none() && self.many);
        let told = |one: &Happening| words(plan, events, one, one.seat.filter(|_| shown));
        if !found.is_empty() {
            let matched = found.iter().take(TOLD).map(told).collect();
            return Seen { count: found.len() as u64, matched, ..Seen::default() };
        }
        let list = self.list(action, seat, Sort::Near(events.event));
        let from = events.at.map_or(Time::ZERO, |(at, _)| at);
        let mut near = nearest(&list, from);
        near.sort_by_key(|one| one.t);
        let (near, more) = (near.iter().map(told).collect(), list.len() > TOLD);
        Seen { near, more, ..Seen::default() }
    }
}

/// Which events of a list, in the order of their times, come when they are expected.
fn within(list: &[Happening], events: &Events) -> Range<usize> {
    let from = |is_early: &dyn Fn(Time) -> bool| list.partition_point(|one| is_early(one.t));
    let (mut first, mut end) = (0, list.len());
    if let Some((at, within)) = events.at {
        first = first.max(from(&|t| t < at && at.since(t) > within));
        end = end.min(from(&|t| t <= at || t.since(at) <= within));
    }
    if let Some(before) = events.before {
        end = end.min(from(&|t| t < before));
    }
    if let Some(after) = events.after {
        first = first.max(from(&|t| t <= after));
    }
    if let Some((least, most)) = events.between {
        first = first.max(from(&|t| t < least));
        end = end.min(from(&|t| t <= most));
    }
    first..end.max(first)
}

/// The few events of a list, in the order of their times, that are nearest to a moment; of equals those that came
/// first.
fn nearest(list: &[Happening], to: Time) -> Vec<Happening> {
    let middle = list.partition_point(|one| one.t < to);
    let mut first = middle.saturating_sub(TOLD);
    // All of one moment are as near.
    while first > 0 && list[first - 1].t == list[first].t {
        first -= 1;
    }
    let far = |one: &Happening| one.t.since(to).max(to.since(one.t));
    let mut near: Vec<Happening> =
        list[first..].iter().take(middle - first + TOLD).copied().collect();
    near.sort_by_key(far);
    near.truncate(TOLD);
    near
}

/// An event as an expectation would say it, with its seat where that is to be told.
fn words(plan: &Plan, events: &Events, event: &Happening, seat: Option<Seat>) -> String {
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
    events: Happened,
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
            Notice::Event(event) => self.events.take_in(&event, seat),
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
