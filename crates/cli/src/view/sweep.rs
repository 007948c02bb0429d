//! What came of many values of one number.

use super::table::table;
use super::why::number;
use crate::output::style::{Ink, Look};
use harmonym_lab::survey::{RangeValue, Swept, Tally};
use harmonym_lab::told::{Seconds, Start, line};
use harmonym_runtime::base::{Id, Time, Vector};
use harmonym_runtime::engine::Cause;
use harmonym_runtime::plan::Plan;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// How wide a bar is at most.
const BAR: usize = 20;

/// A value that was tried.
pub struct TriedValue {
    pub text: String,
    /// Whether the profile has it now.
    pub is_present: bool,
    /// Why the profile refuses it; what was swept has no tally for it.
    pub refusal: Option<String>,
}

/// A table for each action.
pub fn text(
    plan: &Plan,
    (address, files): (&str, &str),
    values: &[TriedValue],
    swept: &[Swept],
    look: Look,
) -> String {
    let (Some(first), Some(last)) = (values.first(), values.last()) else {
        return String::new();
    };
    let (first, last) = (&first.text, &last.text);
    let name = look.paint(Ink::Strong, address);
    let count = values.len();
    let mut text = format!("{name} from {first} to {last}, {count} values, on {files}\n");
    if swept.is_empty() {
        text.push_str("\nnothing depends on it\n");
        for value in values {
            if let Some(why) = &value.refusal {
                text.push_str(&format!("{} is refused: {why}\n", value.text));
            }
        }
    }
    for one in swept {
        let most = one.tallies.iter().map(|tally| tally.fires).max().unwrap_or(0).max(1);
        let moves = first_moved(&one.tallies);
        let mut tallies = one.tallies.iter();
        let rows = values.iter().map(|value| {
            let mark = if value.is_present { "▸" } else { " " };
            let name = format!("{mark} {}", value.text);
            let dash = || "–".to_owned();
            if let Some(why) = &value.refusal {
                let ends = format!("refused: {why}");
                return [name, dash(), String::new(), String::new(), dash(), ends];
            }
            let Some(tally) = tallies.next() else { return [const { String::new() }; 6] };
            let bar = "█".repeat((tally.fires * BAR).div_ceil(most));
            let causes = tally.causes.iter().map(|(cause, n)| format!("{} {n}", cause.word()));
            [
                name,
                tally.fires.to_string(),
                bar,
                moves
                    .and_then(|place| tally.fired_at.get(place))
                    .map_or(String::new(), |t| format!("{t:.4}")),
                tally.lapses.to_string(),
                format!("{}{}", causes.collect::<Vec<_>>().join(", "), sum(tally)),
            ]
        });
        let when = match moves {
            None => String::new(),
            Some(0) => "first at".to_owned(),
            Some(place) => format!("fire {} at", place + 1),
        };
        let heads = ["  value", "fires", "", when.as_str(), "lapses", "ends"];
        let rows: Vec<[String; 6]> = rows.collect();
        let rows = match moves {
            Some(_) => table(look, heads, rows),
            None => {
                let heads = ["  value", "fires", "", "lapses", "ends"];
                let four = |[a, b, c, _, d, e]: [String; 6]| [a, b, c, d, e];
                table(look, heads, rows.into_iter().map(four).collect())
            }
        };
        let name = look.paint(Ink::Strong, &plan.names().actions[one.action]);
        text.push_str(&format!("\n{name}\n{rows}"));
    }
    if values.iter().any(|value| value.is_present) && !swept.is_empty() {
        text.push_str(&look.paint(Ink::Faint, "\n▸ the present value\n"));
    }
    text
}

/// The first of the fires that does not come at one moment for all values, if there is one.
fn first_moved(tallies: &[Tally]) -> Option<usize> {
    let most = tallies.iter().map(|tally| tally.fired_at.len()).max().unwrap_or(0);
    (0..most).find(|&place| {
        let mut times = tallies.iter().filter_map(|tally| tally.fired_at.get(place));
        let first = times.next();
        times.any(|t| Some(t) != first)
    })
}

/// What values at ticks add up to, where they do.
fn sum(tally: &Tally) -> String {
    if tally.sum.magnitude() == 0.0 {
        return String::new();
    }
    let parts = tally.sum.xyz().map(|part| number((part * 1e3).round() / 1e3));
    let count = if tally.sum.z != 0.0 { 3 } else { 2 };
    format!("; adds up to {}", parts[..count].join(", "))
}

#[derive(Serialize)]
struct ValueLine<'a> {
    kind: &'static str,
    value: &'a str,
    present: bool,
    action: &'a str,
    wakes: usize,
    fires: usize,
    lapses: usize,
    causes: BTreeMap<&'static str, usize>,
    fired_at: Vec<Seconds>,
    #[serde(skip_serializing_if = "Option::is_none")]
    sum: Option<[f64; 3]>,
}

/// A line of the JSON, read again.
#[derive(Deserialize)]
#[serde(tag = "kind", rename_all = "lowercase")]
pub enum Told {
    Sweep {},
    Value {
        value: String,
        action: String,
        wakes: usize,
        fires: usize,
        lapses: usize,
        causes: BTreeMap<String, usize>,
        fired_at: Vec<f64>,
        sum: Option<[f64; 3]>,
    },
    Refused {
        value: String,
        why: String,
    },
}

/// What several parts told, added up.
pub struct Added<'a> {
    plan: &'a Plan,
    tells: Vec<TriedValue>,
    /// For each value, how often what happened to each action.
    tallies: Vec<Vec<Tally>>,
}

impl<'a> Added<'a> {
    pub fn new(plan: &'a Plan, values: &[RangeValue]) -> Self {
        let tell = |value: &RangeValue| TriedValue {
            text: value.text.clone(),
            is_present: value.is_present,
            refusal: None,
        };
        let none = vec![Tally::default(); plan.actions().len()];
        Self { plan, tells: values.iter().map(tell).collect(), tallies: vec![none; values.len()] }
    }

    /// Adds a line; says what of it the profile does not have.
    pub fn add(&mut self, told: Told) -> Result<(), String> {
        let of = |value: &str| self.tells.iter().position(|tell| tell.text == value);
        match told {
            Told::Sweep {} => {}
            Told::Refused { value, why } => {
                let place = of(&value).ok_or(format!("it tried {value}"))?;
                self.tells[place].refusal = Some(why);
            }
            Told::Value { value, action, wakes, fires, lapses, causes, fired_at, sum } => {
                let place = of(&value).ok_or(format!("it tried {value}"))?;
                let id = self.plan.find_action(&action).map_err(|error| error.to_string())?;
                let cause = |(word, count): (String, usize)| {
                    let known = Cause::ALL.into_iter().find(|cause| cause.word() == word);
                    known.map(|cause| (cause, count)).ok_or(format!("there is no cause {word}"))
                };
                let [x, y, z] = sum.unwrap_or_default();
                let mut tally = Tally { wakes, fires, lapses, ..Tally::default() };
                tally.sum = Vector::space(x, y, z);
                tally.causes = causes.into_iter().map(cause).collect::<Result<_, _>>()?;
                // Whole nanoseconds, as they were written.
                let time = |seconds: f64| Time::from_nanos((seconds * 1e9).round() as u64);
                tally.fired_at = fired_at.into_iter().map(time).collect();
                self.tallies[place][id.index()].add(&tally);
            }
        }
        Ok(())
    }

    /// The values, and for each that was tried what came of it.
    pub fn done(self) -> (Vec<TriedValue>, Vec<Vec<Tally>>) {
        let sound = self.tells.iter().zip(self.tallies);
        let sound = sound.filter(|(tell, _)| tell.refusal.is_none());
        let tallies = sound.map(|(_, tally)| tally).collect();
        (self.tells, tallies)
    }
}

#[derive(Serialize)]
struct RefusedLine<'a> {
    kind: &'static str,
    value: &'a str,
    present: bool,
    why: &'a str,
}

/// The same as JSON Lines.
pub fn json(out: &mut String, plan: &Plan, address: &str, values: &[TriedValue], swept: &[Swept]) {
    line(out, &Start::new("sweep", Some(address)));
    for value in values {
        if let Some(why) = &value.refusal {
            let (present, value) = (value.is_present, value.text.as_str());
            line(out, &RefusedLine { kind: "refused", value, present, why });
        }
    }
    for one in swept {
        let sound = values.iter().filter(|value| value.refusal.is_none());
        for (value, tally) in sound.zip(&one.tallies) {
            let (present, value) = (value.is_present, value.text.as_str());
            let word = |(cause, count): (&Cause, &usize)| (cause.word(), *count);
            let causes = tally.causes.iter().map(word).collect();
            let Tally { wakes, fires, lapses, .. } = *tally;
            let action = plan.names().actions[one.action].as_str();
            let kind = "value";
            let fired_at = tally.fired_at.iter().map(|t| Seconds(*t)).collect();
            let sum = (tally.sum.magnitude() != 0.0).then(|| tally.sum.xyz());
            line(
                out,
                &ValueLine {
                    kind,
                    value,
                    present,
                    action,
                    wakes,
                    fires,
                    lapses,
                    causes,
                    fired_at,
                    sum,
                },
            );
        }
    }
}
