//! What came of many values of one number.

use super::lines::{Seconds, Start, line};
use super::table::table;
use super::why::number;
use crate::output::style::{Ink, Look};
use harmonym_lab::survey::{Swept, Tally};
use harmonym_runtime::engine::Cause;
use harmonym_runtime::plan::Plan;
use serde::Serialize;
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
            let row =
                ValueLine { kind, value, present, action, wakes, fires, lapses, causes, fired_at };
            line(out, &row);
        }
    }
}
