//! `play --rates`: what depends on the frame rate, and why.

use super::hands::{Hands, asked_seat, expect_whole};
use super::play::{chosen, parse_rate};
use crate::args::PlayArgs;
use crate::escape::named;
use crate::failure::Failure;
use crate::files::Loaded;
use crate::output::Output;
use crate::output::style::Ink;
use crate::view::why::number;
use comfy_table::{ContentArrangement, Table, presets};
use harmonym_lab::survey::{AcrossRates, ByRate, FollowsRate, Outcome, RateRow, outcome};
use harmonym_runtime::base::{Id, Kind, Rate, Vector};
use harmonym_runtime::plan::Plan;

/// Rates as asked for: `20,60,144`.
pub fn parse(text: &str) -> Result<Vec<Rate>, Failure> {
    let rates: Vec<Rate> =
        text.split(',').map(|one| parse_rate(one.trim())).collect::<Result<_, _>>()?;
    if rates.len() < 2 {
        let message = format!("`--rates` cannot be `{text}`");
        return Err(Failure::new(message, "write two or more: --rates 20,60,144"));
    }
    Ok(rates)
}

pub fn run(
    loaded: &Loaded,
    args: &PlayArgs,
    rates: &str,
    output: &mut Output,
) -> Result<(), Failure> {
    let rates = parse(rates)?;
    let (_, scheme) = args.hands.asked(loaded)?;
    let shown = chosen(&args.only, loaded)?;
    let hands = Hands::read(&args.hands.input, loaded)?;
    let plan = hands.about.plan(loaded)?;
    let seat = asked_seat(args.hands.seat, hands.about.seats.unwrap_or(plan.seats()))?;
    let runs: Vec<Outcome> = rates
        .iter()
        .map(|&rate| {
            let playing = hands.playing((Some(rate), scheme))?;
            let run = outcome(&plan, (playing, seat), hands.inputs.iter().copied());
            expect_whole(run.is_cut)?;
            Ok(run)
        })
        .collect::<Result<_, Failure>>()?;
    let names: Vec<String> = rates.iter().map(Rate::to_string).collect();
    let title = output.look.paint(Ink::Strong, hands.about.shown_title());
    output.line(&format!("{title}, at {} ticks a second", listed(&names)))?;
    let across = AcrossRates::new(&plan, &runs, |id| shown[id.index()]);
    if !across.rows.is_empty() {
        let text = table(&plan, &names, &across.rows, output.look.width);
        output.prose(&text)?;
    }
    let rest = if across.rows.is_empty() { "Nothing differs" } else { "Nothing else differs" };
    output.line(&match across.same {
        (0, _) => format!("{rest}."),
        (events, actions) => {
            let word = if actions == 1 { "action" } else { "actions" };
            format!(
                "{rest}: {events} events of {actions} {word} come at the same moments, for the \
                 same causes."
            )
        }
    })?;
    if let Some(later) = &across.later {
        let counts: Vec<String> = later.iter().map(usize::to_string).collect();
        output.line(&format!(
            "After the last input came {} events: a run ends at a tick.",
            listed(&counts)
        ))?;
    }
    for action in across.unexplained {
        output.remark(&format!(
            "note: {} follows the rate on {}, and nothing in it should: please report it",
            plan.names().actions[action],
            named(&args.hands.input)
        ))?;
    }
    Ok(())
}

fn listed(names: &[String]) -> String {
    match names.split_last() {
        Some((last, before)) if !before.is_empty() => format!("{} and {last}", before.join(", ")),
        _ => names.join(""),
    }
}

/// The table of what depends on the rate, or nothing.
fn table(plan: &Plan, rates: &[String], rows: &[RateRow], width: usize) -> String {
    let mut table = Table::new();
    table
        .load_style(presets::NOTHING)
        .set_content_arrangement(ContentArrangement::Dynamic)
        .set_width(u16::try_from(width).unwrap_or(100));
    let mut head = vec!["action".to_owned(), "what".to_owned()];
    head.extend(rates.iter().cloned());
    head.push("why".to_owned());
    table.set_header(head);
    let mut before = None;
    for row in rows {
        let name = plan.names().actions[row.action].clone();
        let is_next = before.replace((row.action, matches!(row.what, ByRate::Events(..))))
            == Some((row.action, true));
        let mut cells = Vec::new();
        match &row.what {
            ByRate::Events(what, counts, moved) => {
                let reasons = row.reasons.iter().map(|one| reason(plan, *one));
                let why = reasons.collect::<Vec<_>>().join("; ");
                // What is one action's stands together under its name.
                cells.push(if is_next { String::new() } else { name });
                cells.push(match moved {
                    true => format!("{what}s, at other times"),
                    false => format!("{what}s"),
                });
                cells.extend(counts.iter().map(usize::to_string));
                cells.push(if is_next { String::new() } else { why });
            }
            ByRate::Sums(sums, same) => {
                cells.extend([name, "adds up to".to_owned()]);
                cells
                    .extend(sums.iter().map(|sum| sum_text(*sum, plan.actions()[row.action].kind)));
                cells.push(match (same, &row.reasons[..]) {
                    (true, _) => "the same in all: each tick takes its share".to_owned(),
                    (false, []) => {
                        "a run ends at a tick: what is still under way adds up until there"
                            .to_owned()
                    }
                    (false, reasons) => {
                        let reasons = reasons.iter().map(|one| reason(plan, *one));
                        reasons.collect::<Vec<_>>().join("; ")
                    }
                });
            }
        }
        table.add_row(cells);
    }
    for column in table.column_iter_mut() {
        column.set_padding((0, 2));
    }
    let text = table.to_string();
    text.lines().map(|line| format!("{}\n", line.trim_end())).collect()
}

fn sum_text(sum: Vector, kind: Kind) -> String {
    let parts = sum.shown(kind).into_iter().take(kind.components().min(3));
    parts.map(|v| number((v * 1e3).round() / 1e3)).collect::<Vec<_>>().join(", ")
}

fn reason(plan: &Plan, reason: FollowsRate) -> String {
    match reason {
        FollowsRate::While => "`while` fires at every tick".to_owned(),
        FollowsRate::Change => "`change` compares its value at ticks".to_owned(),
        FollowsRate::Travel => "`travel` gives its share at ticks".to_owned(),
        FollowsRate::Movement => "movement is added up from tick to tick".to_owned(),
        FollowsRate::Level(down) => {
            format!(
                "a share of a tick has to reach {}, and is smaller at a higher rate",
                number(down)
            )
        }
        FollowsRate::Bent(op) => {
            let step = plan.step_text(op, Kind::Plane).unwrap_or_default();
            format!("`{step}` isn't linear, and works on the share of a tick")
        }
        FollowsRate::Speed(binding) => format!(
            "{} gives a speed, taken as a distance at every tick: `travel` makes one of it",
            plan.names().bindings[binding]
        ),
        FollowsRate::Chosen => "which of several counts is decided at every tick anew".to_owned(),
        FollowsRate::Other(other) => format!("it follows {}", plan.names().actions[other]),
    }
}
