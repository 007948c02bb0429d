//! Reports to instructions.

use super::fit::{Movement, movements};
use super::{plain, seconds};
use crate::take::{Input, What};
use harmonym_runtime::base::limits::PRESSED;
use harmonym_runtime::base::{Contact, ControlKind, Seat, Time, Vector};
use harmonym_runtime::plan::Plan;
use std::collections::BTreeMap;
use std::time::Duration;

/// How finely a take is written down.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Grain {
    /// Times are rounded to this.
    time: Time,
    /// How far a movement may be off, of a control's whole way to one side; 0 for each report by itself.
    pub part: f64,
}

impl Grain {
    /// From coarse to fine; the last one writes every report as it is.
    pub fn ladder(within: f64) -> [Self; 4] {
        let grain = |nanos, part| Self { time: Time::from_nanos(nanos), part };
        [
            grain(1_000_000, within),
            grain(100_000, within / 4.0),
            grain(1_000, within / 16.0),
            grain(1, 0.0),
        ]
    }

    /// How far an event may be off in time: what a movement takes to report, and its rounding.
    pub fn apart(self) -> Time {
        if self.part == 0.0 { Time::ZERO } else { Time::from_millis(5) }
    }

    fn round(self, t: Time) -> Time {
        let step = self.time.nanos();
        Time::from_nanos((t.nanos() + step / 2) / step * step)
    }
}

/// A line, when it begins, and the input that it begins with.
type Line = (Time, usize, String);

/// The instructions of a take, each with its break, in order of time.
pub(super) fn lines(plan: &Plan, inputs: &[Input], grain: Grain) -> Vec<String> {
    let mut all: Vec<Line> = Vec::new();
    let mut reports: BTreeMap<Contact, Vec<(usize, Time, Vector)>> = BTreeMap::new();
    for (index, input) in inputs.iter().enumerate() {
        match input.what {
            What::Report(contact, value) => {
                reports.entry(contact).or_default().push((index, input.t, value));
            }
            what => all.push((grain.round(input.t), index, other(plan, what))),
        }
    }
    for (contact, own) in reports {
        let control = Control { plan, contact, kind: plan.controls()[contact.control].kind };
        match (grain.part == 0.0, control.kind) {
            (true, _) => {
                all.extend(own.iter().map(|&(i, t, value)| (t, i, control.report(value))));
            }
            (false, ControlKind::Button) => control.presses(&own, grain, &mut all),
            (false, ControlKind::Relative) => control.drags(&own, grain, &mut all),
            (false, _) => control.pushes(&own, grain, &mut all),
        }
    }
    all.sort_by_key(|(at, index, _)| (*at, *index));
    all.into_iter().map(|(at, _, text)| format!("at {}  {text}\n", seconds(at))).collect()
}

/// What is no report.
fn other(plan: &Plan, what: What) -> String {
    let names = plan.names();
    let for_seat = |seat: Option<Seat>| seat.map_or(String::new(), |k| format!(" for seat {k}"));
    let device = |device| plan.catalogue().device_name(device);
    match what {
        What::Report(..) => String::new(),
        What::Number(seat, id, value) => {
            let variable = &plan.variables()[id];
            let word = if variable.is_setting { "setting" } else { "fact" };
            let value = plain(value);
            format!("{word} {} = {value}{}", names.variables[id], for_seat(seat))
        }
        What::Map(seat, map, open) => {
            let word = if open { "open" } else { "close" };
            format!("{word} {}{}", names.maps[map], for_seat(seat))
        }
        What::Pause(paused) => if paused { "pause" } else { "resume" }.to_owned(),
        What::Narrow(seat, scheme) => {
            let name = scheme.map_or("all", |id| &names.schemes[id]);
            format!("scheme {name}{}", for_seat(seat))
        }
        What::Plug(one, plugged) => {
            format!("{} {}", if plugged { "plug" } else { "unplug" }, device(one))
        }
        What::Give(one, seat) => format!("seat {seat} gets {}", device(one)),
    }
}

/// A control whose reports are written down.
struct Control<'p> {
    plan: &'p Plan,
    contact: Contact,
    kind: ControlKind,
}

impl Control<'_> {
    /// As a score names it.
    fn name(&self) -> String {
        let name = &self.plan.names().controls[self.contact.control];
        match (self.contact.device, name.split_once('.')) {
            (1.., Some((class, rest))) => format!("{class}#{}.{rest}", self.contact.device + 1),
            _ => name.to_string(),
        }
    }

    /// A value in so many digits behind the point.
    fn value(&self, value: Vector, digits: Option<usize>) -> String {
        let kind = self.kind.yields();
        let text = |v: f64| match digits {
            Some(digits) => plain(rounded(v, digits)),
            None => plain(v),
        };
        let numbers = value.shown(kind).into_iter().take(kind.components());
        let numbers: Vec<String> = numbers.map(text).collect();
        match numbers.as_slice() {
            [one] => one.clone(),
            all => format!("({})", all.join(", ")),
        }
    }

    /// One report by itself.
    fn report(&self, value: Vector) -> String {
        let name = self.name();
        match self.kind {
            ControlKind::Button if value.magnitude() >= PRESSED => format!("down {name}"),
            ControlKind::Button => format!("up {name}"),
            ControlKind::Relative => format!("drag {name} by {}", self.value(value, None)),
            _ => format!("push {name} to {}", self.value(self.within_range(value), None)),
        }
    }

    /// No further than a score may say.
    fn within_range(&self, value: Vector) -> Vector {
        let (least, most) = self.kind.range();
        let held = |v: f64| v.clamp(least, most);
        Vector { x: held(value.x), y: held(value.y), z: held(value.z), w: held(value.w) }
    }

    fn presses(&self, own: &[(usize, Time, Vector)], grain: Grain, all: &mut Vec<Line>) {
        let name = self.name();
        let mut down: Option<(usize, Time)> = None;
        for &(index, t, value) in own {
            match (value.magnitude() >= PRESSED, down) {
                (true, None) => down = Some((index, t)),
                (false, Some((first, since))) => {
                    let at = grain.round(since);
                    // A press that is shorter than what times are rounded to keeps its length.
                    let held = match grain.round(t).since(at) {
                        Time::ZERO => t.since(since),
                        held => held,
                    };
                    all.push((at, first, format!("press {name} for {}", seconds(held))));
                    down = None;
                }
                _ => {}
            }
        }
        all.extend(down.map(|(i, since)| (grain.round(since), i, format!("down {name}"))));
    }

    fn pushes(&self, own: &[(usize, Time, Vector)], grain: Grain, all: &mut Vec<Line>) {
        let name = self.name();
        let digits = digits(grain.part);
        let points: Vec<_> =
            own.iter().map(|&(_, t, value)| (t, self.within_range(value))).collect();
        let settle = |value: Vector| each(value, |v| rounded(v, digits));
        for movement in movements(&points, grain.part, settle) {
            let (from, over) = times(movement, grain);
            let (value, over) = (movement.value, Over(over));
            let text = match value == Vector::ZERO {
                true => format!("release {name}{over}"),
                false => format!("push {name} to {}{over}", self.value(value, Some(digits))),
            };
            all.push((from, first(own, movement), text));
        }
    }

    fn drags(&self, own: &[(usize, Time, Vector)], grain: Grain, all: &mut Vec<Line>) {
        let name = self.name();
        if name.ends_with(".wheel") {
            let lines = own.iter().map(|&(i, t, by)| {
                (grain.round(t), i, format!("drag {name} by {}", self.value(by, None)))
            });
            all.extend(lines);
            return;
        }
        // Where it would be, had it begun at 0; what one report moves tells how fine it is.
        let mut sum = Vector::ZERO;
        let points: Vec<(Time, Vector)> = own
            .iter()
            .map(|&(_, t, by)| {
                sum = sum.plus(by);
                (t, sum)
            })
            .collect();
        let ways = own.iter().map(|(_, _, by)| by.magnitude());
        let step = ways.sum::<f64>() / own.len().max(1) as f64;
        let within = (grain.part * 20.0 * step).max(f64::MIN_POSITIVE);
        let digits = digits(within);
        let settle = |value: Vector| each(value, |v| rounded(v, digits));
        let mut hand = Vector::ZERO;
        for movement in movements(&points, within, settle) {
            let (from, over) = times(movement, grain);
            let by = movement.value.minus(hand);
            hand = movement.value;
            let text = format!("drag {name} by {}{}", self.value(by, Some(digits)), Over(over));
            all.push((from, first(own, movement), text));
        }
    }
}

/// Each component by itself.
fn each(value: Vector, change: impl Fn(f64) -> f64) -> Vector {
    Vector { x: change(value.x), y: change(value.y), z: change(value.z), w: change(value.w) }
}

/// The first report that a movement is about.
fn first(own: &[(usize, Time, Vector)], movement: Movement) -> usize {
    let place = own.partition_point(|(_, t, _)| *t < movement.from);
    own.get(place).map_or(usize::MAX, |(index, ..)| *index)
}

/// When a movement begins, and how long it takes.
fn times(movement: Movement, grain: Grain) -> (Time, Time) {
    let from = grain.round(movement.from);
    (from, grain.round(movement.to).since(from))
}

/// So many digits that a rounded value is off by a quarter of `within` at most.
fn digits(within: f64) -> usize {
    (-(within / 2.0).log10()).ceil().clamp(0.0, 12.0) as usize
}

fn rounded(value: f64, digits: usize) -> f64 {
    let power = 10_f64.powi(digits as i32);
    // −0 is 0.
    (value * power).round() / power + 0.0
}

/// ` over 0.06s`, if it takes any time.
struct Over(Time);

impl std::fmt::Display for Over {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        match Duration::from(self.0) {
            Duration::ZERO => Ok(()),
            _ => write!(f, " over {}", seconds(self.0)),
        }
    }
}
