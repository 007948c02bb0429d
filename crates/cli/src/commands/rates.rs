//! `play --rates`: what depends on the frame rate, and why.

use super::hands::Hands;
use super::play::{chosen, parse_rate};
use crate::args::PlayArgs;
use crate::failure::Failure;
use crate::files::Loaded;
use crate::output::Output;
use crate::view::style::Ink;
use crate::view::why::number;
use comfy_table::{ContentArrangement, Table, presets};
use harmonym_core::base::{ActionId, Id, Rate, Time};
use harmonym_core::engine::Cause;
use harmonym_core::plan::Plan;
use harmonym_core::take::Playing;
use harmonym_core::trace::{FollowsRate, Outcome, follows_rate, outcome};
use std::path::Path;

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
    let plan = loaded.plan_for(hands.about.layout);
    let start = hands.about.start;
    let runs: Vec<Outcome> = rates
        .iter()
        .map(|&rate| outcome(&plan, Playing { start, rate, scheme }, hands.inputs.iter().copied()))
        .collect();
    let names: Vec<String> = rates.iter().map(Rate::to_string).collect();
    let title = hands.about.title.as_deref().unwrap_or("Untitled");
    let title = output.look.paint(Ink::Strong, title);
    output.line(&format!("{title}, at {} ticks a second", listed(&names)))?;
    let compared = Compared { plan: &plan, rates: &names, runs: &runs };
    compared.tell(&shown, &args.hands.input, output)
}

fn listed(names: &[String]) -> String {
    match names.split_last() {
        Some((last, before)) if !before.is_empty() => format!("{} and {last}", before.join(", ")),
        _ => names.join(""),
    }
}

struct Compared<'a> {
    plan: &'a Plan,
    rates: &'a [String],
    runs: &'a [Outcome],
}

/// One event, as it must be at every rate: when, what, and why if it is an end.
type Told = (Time, &'static str, Option<Cause>);

impl Compared<'_> {
    fn events(&self, run: &Outcome, action: ActionId) -> Vec<Told> {
        let own = run.events.iter().filter(|(_, of, ..)| *of == action);
        own.map(|&(t, _, what, cause)| (t, what, cause)).collect()
    }

    fn tell(&self, shown: &[bool], file: &Path, output: &mut Output) -> Result<(), Failure> {
        let mut table = Table::new();
        table
            .load_style(presets::NOTHING)
            .set_content_arrangement(ContentArrangement::Dynamic)
            .set_width(u16::try_from(output.look.width).unwrap_or(100));
        let mut head = vec!["action".to_owned(), "what".to_owned()];
        head.extend(self.rates.iter().cloned());
        head.push("why".to_owned());
        table.set_header(head);
        let (mut same_events, mut same_actions, mut rows) = (0, 0, 0);
        let mut strange = Vec::new();
        for &action in self.plan.by_file.iter().filter(|id| shown[id.index()]) {
            let all: Vec<Vec<Told>> =
                self.runs.iter().map(|run| self.events(run, action)).collect();
            let differs = all.iter().any(|one| *one != all[0]);
            let reasons = follows_rate(self.plan, action);
            if !differs && !all[0].is_empty() {
                same_events += all[0].len();
                same_actions += 1;
            }
            if differs && reasons.is_empty() {
                strange.push(action);
            }
            if differs {
                let why: Vec<_> = reasons.iter().map(|one| self.reason(*one)).collect();
                self.rows(&mut table, action, &all, &why.join("; "));
                rows += 1;
            }
            rows += usize::from(self.sums(&mut table, action));
        }
        for column in table.column_iter_mut() {
            column.set_padding((0, 2));
        }
        if rows > 0 {
            let text = table.to_string();
            let lines = text.lines().map(|line| format!("{}\n", line.trim_end()));
            let text: String = lines.collect();
            output.write(|out| out.push_str(&text))?;
        }
        let nothing = if rows > 0 { "Nothing else differs" } else { "Nothing differs" };
        let actions = if same_actions == 1 { "action" } else { "actions" };
        output.line(&match same_events {
            0 => format!("{nothing}."),
            _ => format!(
                "{nothing}: {same_events} events of {same_actions} {actions} come at the same \
                 moments, for the same causes."
            ),
        })?;
        if self.runs.iter().any(|run| run.later != self.runs[0].later) {
            let counts: Vec<_> = self.runs.iter().map(|run| run.later.to_string()).collect();
            output.line(&format!(
                "After the last input came {} events: a run ends at a tick.",
                listed(&counts)
            ))?;
        }
        for action in strange {
            output.remark(&format!(
                "note: {} follows the rate on {}, and nothing in it should: please report it",
                self.plan.names.actions[action],
                file.display()
            ))?;
        }
        Ok(())
    }

    /// How often each thing happened that did not happen equally often, or not at the same moments.
    fn rows(&self, table: &mut Table, action: ActionId, all: &[Vec<Told>], why: &str) {
        let mut name = self.plan.names.actions[action].clone();
        let mut why = why.to_owned();
        for what in ["wake", "fire", "lapse", "rest"] {
            let of = |one: &Vec<Told>| -> Vec<Told> {
                one.iter().copied().filter(|(_, kind, _)| *kind == what).collect()
            };
            let first = of(&all[0]);
            if all.iter().all(|one| of(one) == first) {
                continue;
            }
            let counts: Vec<usize> = all.iter().map(|one| of(one).len()).collect();
            let moved = counts.iter().all(|count| *count == counts[0]);
            let what = if moved { format!("{what}, other moments") } else { format!("{what}s") };
            let mut row = vec![std::mem::take(&mut name), what];
            row.extend(counts.iter().map(usize::to_string));
            row.push(std::mem::take(&mut why));
            table.add_row(row);
        }
    }

    /// What values at ticks add up to, which is the same at every rate; tells whether there is any.
    fn sums(&self, table: &mut Table, action: ActionId) -> bool {
        let kind = self.plan.actions[action].kind;
        let sums: Vec<String> = self
            .runs
            .iter()
            .map(|run| {
                let sum = run.tallies[action].sum;
                let parts = sum.shown(kind).into_iter().take(kind.components().min(3));
                parts.map(|v| number((v * 1e3).round() / 1e3)).collect::<Vec<_>>().join(", ")
            })
            .collect();
        if self.runs.iter().all(|run| run.tallies[action].sum.magnitude() == 0.0) {
            return false;
        }
        let why = match sums.iter().all(|sum| *sum == sums[0]) {
            true => "the same in all: each tick takes its share",
            false => "what came after the last tick is missing",
        };
        let mut row = vec![self.plan.names.actions[action].clone(), "adds up to".to_owned()];
        row.extend(sums.iter().cloned());
        row.push(why.to_owned());
        table.add_row(row);
        true
    }

    fn reason(&self, reason: FollowsRate) -> String {
        match reason {
            FollowsRate::While => "`while` fires at every tick".to_owned(),
            FollowsRate::Change => "`change` compares its value at ticks".to_owned(),
            FollowsRate::Travel => "`travel` gives its share at ticks".to_owned(),
            FollowsRate::Movement => "movement is added up from tick to tick".to_owned(),
            FollowsRate::Other(other) => format!("it follows {}", self.plan.names.actions[other]),
        }
    }
}
