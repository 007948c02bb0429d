//! What came of many values of one number.

use super::lines::{Start, line};
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

/// A table for each action; each value with whether it is the present one.
pub fn text(
    plan: &Plan,
    (address, files): (&str, &str),
    values: &[(String, bool)],
    swept: &[Swept],
    look: Look,
) -> String {
    let (Some((first, _)), Some((last, _))) = (values.first(), values.last()) else {
        return String::new();
    };
    let name = look.paint(Ink::Strong, address);
    let count = values.len();
    let mut text = format!("{name} from {first} to {last}, {count} values, on {files}\n");
    if swept.is_empty() {
        text.push_str("\nnothing depends on it\n");
    }
    for one in swept {
        let most = one.tallies.iter().map(|tally| tally.fires).max().unwrap_or(0).max(1);
        let rows = values.iter().zip(&one.tallies).map(|((value, is_present), tally)| {
            let mark = if *is_present { "▸" } else { " " };
            let bar = "█".repeat((tally.fires * BAR).div_ceil(most));
            let causes = tally.causes.iter().map(|(cause, n)| format!("{} {n}", cause.word()));
            [
                format!("{mark} {value}"),
                tally.fires.to_string(),
                bar,
                tally.lapses.to_string(),
                format!("{}{}", causes.collect::<Vec<_>>().join(", "), sum(tally)),
            ]
        });
        let heads = ["  value", "fires", "", "lapses", "ends"];
        let rows = table(look, heads, rows.collect());
        let name = look.paint(Ink::Strong, &plan.names().actions[one.action]);
        text.push_str(&format!("\n{name}\n{rows}"));
    }
    if values.iter().any(|(_, is_present)| *is_present) && !swept.is_empty() {
        text.push_str(&look.paint(Ink::Faint, "\n▸ the present value\n"));
    }
    text
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
}

/// The same as JSON Lines.
pub fn json(
    out: &mut String,
    plan: &Plan,
    address: &str,
    values: &[(String, bool)],
    swept: &[Swept],
) {
    line(out, &Start::new("sweep", Some(address)));
    for one in swept {
        for ((value, present), tally) in values.iter().zip(&one.tallies) {
            let word = |(cause, count): (&Cause, &usize)| (cause.word(), *count);
            let causes = tally.causes.iter().map(word).collect();
            let Tally { wakes, fires, lapses, .. } = *tally;
            let (action, present) = (plan.names().actions[one.action].as_str(), *present);
            let kind = "value";
            let row = ValueLine { kind, value, present, action, wakes, fires, lapses, causes };
            line(out, &row);
        }
    }
}
