//! Every station of an action at a moment, a line each.

use super::sentence::{Words, number, seconds, turn_text};
use crate::output::style::{Ink, Look, fit};
use harmonym_lab::explain::{Blocked, OpTrace, StationsAt};
use harmonym_runtime::base::{BindingId, Blend, Component, ControlUseId, Kind, OpId, Vector};
use harmonym_runtime::engine::{Level, Stage};
use harmonym_runtime::plan::{Action, Guard, Operands, Plan, Portion};
use serde::Serialize;

/// The column of values begins here.
const VALUES: usize = 64;

/// One station: what it is, what happens there, and the value after it.
#[derive(Serialize)]
pub struct Station {
    kind: &'static str,
    name: String,
    says: String,
    #[serde(skip_serializing_if = "String::is_empty")]
    value: String,
    #[serde(skip)]
    begins: bool,
    /// Whether it belongs to a binding in which everything is at 0.
    #[serde(skip)]
    is_idle: bool,
}

impl Station {
    /// As a line of text; the first of a binding stands apart, and the others of one in which
    /// nothing happens are left out.
    pub fn text(&self, look: Look) -> String {
        if self.is_idle {
            return String::new();
        }
        let ink = if self.begins { Ink::Strong } else { Ink::Faint };
        let name = look.paint(ink, format!("{:>10}", self.name));
        let value = self.value.chars().count();
        let width = VALUES.min(look.width.saturating_sub(14 + value.max(16)));
        let says = match self.value.as_str() {
            "" => self.says.clone(),
            _ => format!("{:width$}", fit(&self.says, width)),
        };
        let row = format!("{name}  {says}  {}", self.value);
        let gap = if self.begins || self.name == "blend" { "\n" } else { "" };
        format!("{gap}{}\n", row.trim_end())
    }
}

/// All stations; `written` gives a binding's expression.
pub fn stations(
    words: Words<'_>,
    at: &StationsAt,
    written: impl Fn(BindingId) -> String,
) -> Vec<Station> {
    let plan = words.plan;
    let spec = &plan.actions()[words.action];
    let mut lines = Lines(Vec::new());
    for control in &at.controls {
        let mut says = plan.names().controls[control.control].to_string();
        if control.device > 0 {
            says.push_str(&format!(" (device {})", control.device + 1));
        }
        if let Some(blocked) = control.blocked {
            let words = match blocked {
                Blocked::Muted(since, _) => format!("held since before {}", seconds(since)),
                other => words.blocked(other),
            };
            says.push_str(&format!(": {words}"));
        }
        lines.add("control", &says, &value(control.raw, control.kind));
    }
    if at.controls.is_empty() {
        lines.add("controls", "all of them read 0", "");
    }
    if !at.lives {
        lines.add("map", "it is not open, or the game is paused", "");
        return lines.0;
    }
    for (binding, counts, steps) in &at.bindings {
        let name = plan.names().bindings[*binding].split_once('@').map_or("", |(_, name)| name);
        let says = if *counts { "" } else { " (the game has narrowed it away)" };
        let last = steps.last().map_or(String::new(), |last| value(last.value, last.kind));
        lines.head(name, &format!("{}{says}", written(*binding)), &last);
        if steps.len() > 1 {
            let own = lines.0.len();
            steps.iter().for_each(|step| lines.step(plan, step));
            let is_idle = steps.iter().all(|step| step.value.magnitude_of(step.kind) == 0.0);
            lines.0[own..].iter_mut().for_each(|station| station.is_idle = is_idle);
        }
    }
    if !at.bindings.is_empty() {
        let (blended, won) = at.blended;
        lines.add("blend", &blend(plan, spec.blend, at, won), &value(blended, spec.kind));
    }
    for (place, step) in at.shape.iter().enumerate() {
        lines.step(plan, step);
        if let Some(first) = lines.0.last_mut().filter(|_| place == 0) {
            first.name = "shape".to_owned();
            first.says = first.says.trim_start().to_owned();
        }
    }
    if !at.bindings.is_empty() {
        lines.add("levels", &levels(spec, at), &number(at.value.1));
    }
    fire_stations(&mut lines, plan, spec, at);
    lines.0
}

/// The stations of the fire rule: alternatives, guards, what it yields to, how far it is.
fn fire_stations(lines: &mut Lines, plan: &Plan, spec: &Action, at: &StationsAt) {
    let fire = spec.alternatives.iter().zip(&at.alternatives);
    for (id, (alternative, guards)) in fire {
        let state = match alternative.stage {
            Stage::Idle => "waits to be down".to_owned(),
            Stage::Open if alternative.fired => "has fired".to_owned(),
            Stage::Open => match alternative.due {
                Some(due) => format!("open, until {}", seconds(due)),
                None => "open".to_owned(),
            },
            Stage::Over(cause) => format!("over: {}", cause.word()),
            Stage::Out => "not part of this episode".to_owned(),
        };
        let state = if at.episode.awake { state } else { "at rest".to_owned() };
        lines.add("fire rule", &format!("{}: {state}", plan.names().alternatives[id]), "");
        for (guard, holds) in guards {
            let holds = if *holds { "holds" } else { "fails" };
            lines.add("guard", &guard_words(plan, *guard), holds);
        }
    }
    for (other, pending, live_at) in &at.yields_to {
        let name = &plan.names().actions[*other];
        let state = match (pending, live_at) {
            (true, _) => "is pending: it goes first".to_owned(),
            (false, Some(at)) => format!("fired last at {}", seconds(*at)),
            (false, None) => "has not fired".to_owned(),
        };
        lines.add("yields to", &format!("{name} {state}"), "");
    }
    if at.episode.awake {
        lines.add("progress", "the share of the way to firing", &number(at.progress));
    }
}

struct Lines(Vec<Station>);

impl Lines {
    fn add(&mut self, name: &str, says: &str, value: &str) {
        self.0.push(Station {
            kind: "station",
            name: name.to_owned(),
            says: says.to_owned(),
            value: value.to_owned(),
            begins: false,
            is_idle: false,
        });
    }

    fn head(&mut self, name: &str, says: &str, value: &str) {
        self.add(name, says, value);
        self.0.iter_mut().rev().take(1).for_each(|station| station.begins = true);
    }

    fn step(&mut self, plan: &Plan, step: &OpTrace) {
        let words = op_words(plan, step.op, step.kind);
        let named = step.named.iter().map(|(named, now)| {
            format!(" ({} = {})", plan.names().variables[*named], number(*now))
        });
        let skipped = if step.applies { "" } else { " (its condition does not hold)" };
        let says = format!("  {words}{}{skipped}", named.collect::<String>());
        self.add("", &says, &value(step.value, step.kind));
    }
}

/// A value with as many components as its kind has; a turn as its angle and its axis.
fn value(value: Vector, kind: Kind) -> String {
    if kind == Kind::Turn {
        return turn_text(value);
    }
    let shown = value.shown(kind);
    let all: Vec<_> = shown.iter().take(kind.components().max(1)).map(|v| number(*v)).collect();
    all.join(", ")
}

fn blend(plan: &Plan, blend: Blend, at: &StationsAt, won: Option<BindingId>) -> String {
    let short = |id: BindingId| {
        plan.names().bindings[id].split_once('@').map_or("", |(_, name)| name).to_owned()
    };
    match (blend, won) {
        (Blend::Sum, _) => "sum of all bindings".to_owned(),
        (_, None) => "no binding is away from 0".to_owned(),
        (_, Some(id)) if at.bindings.len() == 1 => format!("{}, the only one", short(id)),
        (Blend::Greatest, Some(id)) => format!("{} is the greatest", short(id)),
        (Blend::Oldest, Some(id)) => format!("{} left 0 first", short(id)),
        (Blend::Newest, Some(id)) => format!("{} left 0 last", short(id)),
        (Blend::LastChange, Some(id)) => format!("{} changed last", short(id)),
    }
}

fn levels(spec: &Action, at: &StationsAt) -> String {
    let (wake, down, up) = (number(spec.wake), number(spec.down), number(spec.up));
    let levels = match wake == down {
        true => format!("down from {down}, let go under {up}"),
        false => format!("wakes from {wake}, down from {down}, let go under {up}"),
    };
    let now = match at.episode.level {
        Level::Up => "up",
        Level::Woken => "awake, not down",
        Level::Down => "down",
    };
    format!("{now} ({levels})")
}

/// A guard as a profile writes it.
pub fn guard_words(plan: &Plan, guard: Guard) -> String {
    match guard {
        Guard::Live(other, wanted) => {
            let word = if wanted { "with" } else { "without" };
            format!("{word} {}", plan.names().actions[other])
        }
        Guard::Holds(named, wanted) => {
            let word = if wanted { "when" } else { "unless" };
            format!("{word} {}", plan.names().variables[named])
        }
    }
}

/// What an operation on a value of `kind` is called: a step as a profile writes it.
pub fn op_words(plan: &Plan, op: OpId, kind: Kind) -> String {
    let part = |component: Component| component.letter();
    match plan.ops()[op].kind.operands() {
        Operands::Control(read, Portion::Whole) => control(plan, read),
        Operands::Control(read, Portion::Component(component)) => {
            format!("{}, {}", control(plan, read), part(component))
        }
        Operands::Control(read, Portion::Half(component, positive)) => {
            let way = if positive { '+' } else { '−' };
            format!("{}, {way}{}", control(plan, read), part(component))
        }
        Operands::Action(action) => plan.names().actions[action].clone(),
        Operands::Sides(..) => "pair".to_owned(),
        Operands::Components { .. } => "join".to_owned(),
        Operands::Either(..) => "any".to_owned(),
        Operands::Plus(_) => "+".to_owned(),
        Operands::Blended => "blended".to_owned(),
        Operands::Before => plan.step_text(op, kind).unwrap_or_default(),
    }
}

/// The control that a read is of.
fn control(plan: &Plan, read: ControlUseId) -> String {
    let mut names: Vec<&str> = Vec::new();
    for input in plan.uses()[read].inputs.iter() {
        let name = &*plan.names().controls[plan.inputs()[input].control];
        if !names.contains(&name) {
            names.push(name);
        }
    }
    names.join(" or ")
}
