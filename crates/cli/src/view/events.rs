//! Events as rows for a person.

use super::lanes::shorter;
use crate::output::style::{Ink, Look, wrapped};
use harmonym_runtime::base::{ActionId, Id, Kind, Seat, Time, Vector};
use harmonym_runtime::engine::{Cause, Event, EventKind, Notice};
use harmonym_runtime::plan::{Cue, Plan};
use harmonym_runtime::seats::Told;

/// Rows about one run; fires of `while` at successive ticks become one row.
pub struct Rows<'a> {
    plan: &'a Plan,
    look: Look,
    names: usize,
    values: usize,
    /// Whether more than one plays.
    many: bool,
    /// For each seat and action, the fires of `while` that have no row yet.
    folded: Vec<Option<Folded>>,
}

/// Fires at successive ticks, either all of one value or each of another than the one before.
#[derive(Clone, Copy)]
struct Folded {
    seat: Seat,
    first: Event,
    last: Event,
    count: u64,
    moving: bool,
}

impl Folded {
    /// Takes the next fire in, if it goes on in the same way.
    fn goes_on(&mut self, next: &Event) -> bool {
        let moves = next.value != self.last.value;
        if self.last.kind != next.kind || (self.count > 1 && moves != self.moving) {
            return false;
        }
        (self.last, self.count, self.moving) = (*next, self.count + 1, moves);
        true
    }
}

/// The widest that the column of actions grows.
const WIDEST_NAME: usize = 30;
/// The column of values, and where there are turns.
const VALUES: usize = 16;
const WIDE_VALUES: usize = 24;
/// Time, event and what parts the columns, where there is no room for more.
const BESIDE_NARROW: usize = 24;
/// Time, tick, event and what parts the columns.
const BESIDE: usize = 34;
/// The least that the last column needs.
const SHORTEST_HOW: usize = 20;

impl<'a> Rows<'a> {
    pub fn new(plan: &'a Plan, seats: u8, look: Look, shown: impl Fn(ActionId) -> bool) -> Self {
        let lengths =
            plan.actions().ids().filter(|&id| shown(id)).map(|id| plan.names().actions[id].len());
        let widest = WIDEST_NAME.min(look.width.saturating_sub(BESIDE_NARROW + 3)).max(6);
        let many = seats > 1;
        let of_seat = if many { "seat 1 ".len() } else { 0 };
        let names = (lengths.max().unwrap_or(6) + of_seat).clamp(6, widest + of_seat);
        let folded = vec![None; plan.actions().len() * usize::from(seats)];
        let mut kinds = plan.actions().entries().filter(|(id, _)| shown(*id));
        let values = match kinds.any(|(_, spec)| spec.kind == Kind::Turn) {
            true => WIDE_VALUES,
            false => VALUES,
        };
        Self { plan, look, names, values, many, folded }
    }

    /// The line over the rows.
    pub fn heading(&self) -> String {
        let (names, values) = (self.names, self.values);
        let text = match self.is_narrow() {
            true => format!("{:>10}  {:names$}  {:8}  value", "time", "action", "event"),
            false => format!(
                "{:>10} {:>7}  {:names$}  {:8}  {:values$}  how",
                "time", "tick", "action", "event", "value"
            ),
        };
        self.look.paint(Ink::Faint, text)
    }

    /// Whether there is no room for all columns beside each other.
    fn is_narrow(&self) -> bool {
        self.look.width < self.names + self.values + BESIDE + SHORTEST_HOW
    }

    /// The row of a notice by itself, with nothing folded.
    pub fn told(&mut self, told: Told) -> Option<String> {
        let rows = self.notice(told);
        let row = rows.into_iter().next_back();
        let folded = self.folded.iter_mut().find_map(Option::take);
        row.or_else(|| folded.map(|folded| self.folded_row(&folded)))
    }

    /// The rows that a notice gives, if any.
    pub fn notice(&mut self, Told { seat: whose, notice }: Told) -> Vec<String> {
        let seat = whose.unwrap_or(Seat::FIRST);
        let of = |seat: Option<Seat>| match seat.filter(|_| self.many) {
            Some(seat) => format!("seat {seat}"),
            None => String::new(),
        };
        let event = match notice {
            Notice::Scheme { t, tick, scheme } => {
                let text = format!("in use: {}", self.plan.names().schemes[scheme]);
                return vec![self.row(t, tick, &of(whose), Ink::Faint, "  scheme", "", &text)];
            }
            Notice::Map { t, tick, map, open } => {
                let how = if open { "opens" } else { "closes" };
                let text = format!("{how}: {}", self.plan.names().maps[map]);
                let row = self.row(t, tick, &of(whose), Ink::Faint, "  map", "", &text);
                return self.unfolded(row);
            }
            Notice::Pause { t, tick, paused } => {
                let how = if paused { "the game is paused" } else { "the game goes on" };
                let row = self.row(t, tick, "", Ink::Faint, "  pause", "", how);
                return self.unfolded(row);
            }
            Notice::Device { t, tick, device, plugged } => {
                let how = if plugged { "plugged in" } else { "unplugged" };
                let text = format!("{how}: {}", self.plan.catalogue().device_name(device));
                let row = self.row(t, tick, &of(whose), Ink::Faint, "  device", "", &text);
                return self.unfolded(row);
            }
            Notice::Seat { t, tick, device } => {
                let name = self.plan.catalogue().device_name(device);
                let text = match whose {
                    Some(_) => format!("gets {name}"),
                    None => format!("{name} is nobody's"),
                };
                let row = self.row(t, tick, &of(whose), Ink::Faint, "  seat", "", &text);
                return self.unfolded(row);
            }
            // A run has one plan from beginning to end.
            Notice::Plan { .. } => return Vec::new(),
            Notice::Event(event) => event,
        };
        let at = self.place(seat, event.action);
        if let EventKind::Fire(by, _) = event.kind
            && self.plan.alternatives()[by].cue == Cue::While
        {
            let waiting = &mut self.folded[at];
            if waiting.as_mut().is_some_and(|folded| folded.goes_on(&event)) {
                return Vec::new();
            }
            let one = Folded { seat, first: event, last: event, count: 1, moving: false };
            let before = waiting.replace(one);
            return before.map(|folded| self.folded_row(&folded)).into_iter().collect();
        }
        let before = self.folded[at].take();
        let mut rows: Vec<_> = before.map(|folded| self.folded_row(&folded)).into_iter().collect();
        rows.push(self.event_row(seat, &event, ""));
        rows
    }

    fn place(&self, seat: Seat, action: ActionId) -> usize {
        seat.index() * self.plan.actions().len() + action.index()
    }

    fn name(&self, seat: Seat, action: ActionId) -> String {
        let name = &self.plan.names().actions[action];
        super::of_seat(Some(seat).filter(|_| self.many), name).into_owned()
    }

    /// All rows that were held back, in order of time, and one more.
    fn unfolded(&mut self, row: String) -> Vec<String> {
        let mut folded: Vec<Folded> = self.folded.iter_mut().filter_map(Option::take).collect();
        folded.sort_by_key(|folded| folded.last.t);
        let rows = folded.iter().map(|folded| self.folded_row(folded));
        rows.chain([row]).collect()
    }

    /// A value at a tick.
    pub fn value(
        &mut self,
        (t, tick): (Time, u64),
        (seat, action): (Seat, ActionId),
        value: Vector,
    ) -> Vec<String> {
        let place = self.place(seat, action);
        let before = self.folded[place].take();
        let mut rows: Vec<_> = before.map(|folded| self.folded_row(&folded)).into_iter().collect();
        let name = self.name(seat, action);
        let value = shown(value, self.plan.actions()[action].kind);
        rows.push(self.row(t, tick, &name, Ink::Faint, "  value", &value, ""));
        rows
    }

    fn folded_row(&self, folded: &Folded) -> String {
        let Folded { seat, first, last, count, moving } = folded;
        let moving = if *moving { ", moving" } else { "" };
        let more = match count {
            1 => String::new(),
            count => format!(", {count} ticks from {:.4}{moving}", first.t),
        };
        self.event_row(*seat, last, &more)
    }

    /// A row about an event, and what `more` there is to say of how it came.
    fn event_row(&self, seat: Seat, event: &Event, more: &str) -> String {
        let names = self.plan.names();
        let from = event.from.map_or("", |binding| {
            names.bindings[binding].split_once('@').map_or("", |(_, short)| short)
        });
        let (ink, word, how) = match event.kind {
            EventKind::Wake => (Ink::Faint, "○ wake", from.to_owned()),
            EventKind::Fire(by, since) => {
                let kept = since.map_or(String::new(), |t| format!(", kept since {t:.4}"));
                (Ink::Strong, "● fire", format!("{}{kept}", names.alternatives[by]))
            }
            EventKind::Lapse(cause) => (Ink::Missed, "× lapse", self.lapse(event, cause)),
            EventKind::Rest(cause) => (
                Ink::Faint,
                "· rest",
                format!("{} after {:.4} s", cause.word(), Time::from(event.held)),
            ),
        };
        let value = shown(event.value, self.plan.actions()[event.action].kind);
        let name = self.name(seat, event.action);
        self.row(event.t, event.tick, &name, ink, word, &value, &(how + more))
    }

    fn lapse(&self, event: &Event, cause: Cause) -> String {
        let mut text = format!("{} after {:.4} s", cause.word(), Time::from(event.held));
        if event.progress > 0.0 {
            text.push_str(&format!(", at {:.0} %", (event.progress * 100.0).floor()));
        }
        text
    }

    #[allow(clippy::too_many_arguments, reason = "one argument a column")]
    fn row(
        &self,
        t: Time,
        tick: u64,
        name: &str,
        ink: Ink,
        word: &str,
        value: &str,
        how: &str,
    ) -> String {
        let names = self.names;
        let name = shorter(name, names);
        let event = self.look.paint(ink, format!("{word:8}"));
        let time = self.look.paint(Ink::Faint, format!("{:>10}", format!("{t:.4}")));
        let tick = self.look.paint(Ink::Faint, format!("{tick:>7}"));
        if self.is_narrow() {
            // What there is no room for stands below.
            let has_room = names + value.chars().count() + BESIDE_NARROW <= self.look.width;
            let (value, below) = if has_room { (value, "") } else { ("", value) };
            let row = format!("{time}  {name:names$}  {event}  {value}").trim_end().to_owned();
            let below = [below, how].into_iter().filter(|text| !text.is_empty());
            return below
                .fold(row, |row, text| format!("{row}\n{}", indented(text, 12, self.look)));
        }
        let values = self.values;
        let wide = values.max(value.chars().count());
        let how = indented(how, names + wide + BESIDE, self.look);
        format!("{time} {tick}  {name:names$}  {event}  {value:values$}  {}", how.trim_start())
    }
}

/// A text that begins at a column, and goes on there in the next lines.
fn indented(text: &str, column: usize, look: Look) -> String {
    let lines = wrapped(text, look.width.saturating_sub(column));
    lines.lines().map(|line| format!("{:column$}{line}", "")).collect::<Vec<_>>().join("\n")
}

/// A value to three digits.
fn shown(value: Vector, kind: Kind) -> String {
    format!("{:.3}", value.display(kind))
}
