//! What a run tells, as JSON Lines: the one form of it for the tool, for pipes and for games that are tested.
//!
//! Guarantees: keys come in one order, what is absent has none, and the same events give the same bytes.

pub mod letters;
mod line;

pub use line::{Seconds, Start, Value, line};

use crate::take::End;
use harmonym_runtime::base::{ActionId, Rate, Seat, Time};
use harmonym_runtime::engine::{Event, EventKind, Frame, Notice};
use harmonym_runtime::plan::Plan;
use harmonym_runtime::seats::Told;
use serde::Serialize;
use serde::ser::{SerializeMap, Serializer};

/// Lines about one run.
#[derive(Clone, Copy, Debug)]
pub struct Lines<'a> {
    /// What runs.
    pub plan: &'a Plan,
}

#[derive(Serialize)]
struct StartLine<'a> {
    kind: &'static str,
    format: u32,
    #[serde(skip_serializing_if = "Option::is_none")]
    title: Option<&'a str>,
    rate: serde_json::Number,
}

#[derive(Serialize)]
struct EventLine<'a> {
    kind: &'static str,
    t: Seconds,
    tick: u64,
    seat: u8,
    action: &'a str,
    event: &'static str,
    value: Value,
    held: Seconds,
    #[serde(skip_serializing_if = "Option::is_none")]
    fired_for: Option<Seconds>,
    progress: f64,
    #[serde(skip_serializing_if = "Option::is_none")]
    from: Option<&'a str>,
    #[serde(skip_serializing_if = "Option::is_none")]
    by: Option<&'a str>,
    #[serde(skip_serializing_if = "Option::is_none")]
    since: Option<Seconds>,
    #[serde(skip_serializing_if = "Option::is_none")]
    cause: Option<&'static str>,
}

#[derive(Serialize)]
struct SchemeLine<'a> {
    kind: &'static str,
    t: Seconds,
    tick: u64,
    seat: u8,
    scheme: &'a str,
}

#[derive(Serialize)]
struct MapLine<'a> {
    kind: &'static str,
    t: Seconds,
    tick: u64,
    seat: u8,
    map: &'a str,
    open: bool,
}

#[derive(Serialize)]
struct PauseLine {
    kind: &'static str,
    t: Seconds,
    tick: u64,
    paused: bool,
}

#[derive(Serialize)]
struct DeviceLine {
    kind: &'static str,
    t: Seconds,
    tick: u64,
    #[serde(skip_serializing_if = "Option::is_none")]
    seat: Option<u8>,
    device: String,
    #[serde(skip_serializing_if = "Option::is_none")]
    plugged: Option<bool>,
}

#[derive(Serialize)]
struct ValuesLine<'a> {
    kind: &'static str,
    t: Seconds,
    tick: u64,
    seat: u8,
    values: Changed<'a>,
}

#[derive(Serialize)]
struct EndLine {
    kind: &'static str,
    t: Seconds,
    tick: u64,
}

/// The values that differ from the tick before, by action.
struct Changed<'a>(Vec<(&'a str, Value)>);

impl Serialize for Changed<'_> {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        let mut map = serializer.serialize_map(Some(self.0.len()))?;
        self.0.iter().try_for_each(|(name, value)| map.serialize_entry(name, value))?;
        map.end()
    }
}

impl Lines<'_> {
    /// The first line: what runs, and how many ticks there are in a second.
    pub fn start(&self, out: &mut String, title: Option<&str>, rate: Rate) {
        // A rate is written as a number is.
        let Ok(rate) = rate.to_string().parse() else { return };
        line(out, &StartLine { kind: "start", format: 1, title, rate });
    }

    /// Something that was told.
    pub fn notice(&self, out: &mut String, Told { seat: whose, notice }: Told) {
        let names = self.plan.names();
        let seat = whose.unwrap_or(Seat::FIRST).number();
        let whose = whose.map(Seat::number);
        let name = |device| self.plan.catalogue().device_name(device);
        match notice {
            Notice::Device { t, tick, device, plugged } => {
                let (t, device, plugged) = (Seconds(t), name(device), Some(plugged));
                line(out, &DeviceLine { kind: "device", t, tick, seat: whose, device, plugged });
            }
            Notice::Seat { t, tick, device } => {
                let (t, device) = (Seconds(t), name(device));
                let plugged = None;
                line(out, &DeviceLine { kind: "seat", t, tick, seat: whose, device, plugged });
            }
            Notice::Event(event) => self.event(out, seat, &event),
            Notice::Scheme { t, tick, scheme } => {
                let scheme = &names.schemes[scheme];
                line(out, &SchemeLine { kind: "scheme", t: Seconds(t), tick, seat, scheme });
            }
            Notice::Map { t, tick, map, open } => {
                let map = &names.maps[map];
                line(out, &MapLine { kind: "map", t: Seconds(t), tick, seat, map, open });
            }
            Notice::Pause { t, tick, paused } => {
                line(out, &PauseLine { kind: "pause", t: Seconds(t), tick, paused });
            }
            // A run has one plan from beginning to end.
            Notice::Plan { .. } => {}
        }
    }

    fn event(&self, out: &mut String, seat: u8, event: &Event) {
        let names = self.plan.names();
        let (by, since) = match event.kind {
            EventKind::Fire(by, since) => (Some(names.alternatives[by].as_str()), since),
            EventKind::Wake | EventKind::Lapse(_) | EventKind::Rest(_) => (None, None),
        };
        let row = EventLine {
            kind: "event",
            t: Seconds(event.t),
            tick: event.tick,
            seat,
            action: &names.actions[event.action],
            event: event.kind.word(),
            value: Value(event.value, self.plan.actions()[event.action].kind),
            held: event.held.into(),
            fired_for: event.fired_for.map(Seconds::from),
            progress: event.progress,
            from: event.from.map(|binding| names.bindings[binding].as_str()),
            by,
            since: since.map(Seconds),
            cause: event.kind.cause().map(harmonym_runtime::Cause::word),
        };
        line(out, &row);
    }

    /// The values of `shown` that differ from the tick before; nothing if there are none.
    pub fn values(
        &self,
        out: &mut String,
        (seat, frame): (Seat, Frame<'_>),
        t: Time,
        shown: impl Fn(ActionId) -> bool,
    ) {
        let plan = self.plan;
        let in_order = plan.by_file().iter().copied();
        let changed = in_order.filter(|&action| frame.has_changed(action) && shown(action));
        let value = |action| Value(frame.value(action), plan.actions()[action].kind);
        let values: Vec<_> =
            changed.map(|id| (plan.names().actions[id].as_str(), value(id))).collect();
        if !values.is_empty() {
            let (t, tick, values) = (Seconds(t), frame.ticks(), Changed(values));
            let seat = seat.number();
            line(out, &ValuesLine { kind: "values", t, tick, seat, values });
        }
    }

    /// A tick is over.
    pub fn tick(&self, out: &mut String, t: Time, tick: u64) {
        line(out, &EndLine { kind: "tick", t: Seconds(t), tick });
    }

    /// The last line: the last tick.
    pub fn end(&self, out: &mut String, end: End) {
        line(out, &EndLine { kind: "end", t: Seconds(end.t), tick: end.tick });
    }
}
