//! How often what happened in a run: for trying many values of a number, or many rates.

use crate::take::{Input, Playing, Run, Watcher};
use harmonym_runtime::base::{
    AT_REST, ActionId, BindingId, Blend, Id, MOST_SEATS, OpId, Seat, Table, Time, Vector,
};
use harmonym_runtime::engine::{Cause, EventKind, Frame, Notice};
use harmonym_runtime::plan::{Cue, Gather, Guard, OpKind, Operands, Plan};
use harmonym_runtime::seats::Told;
use std::collections::BTreeMap;
use std::sync::Arc;

/// How often what happened to an action.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Tally {
    /// Its episodes.
    pub wakes: usize,
    /// Its fires.
    pub fires: usize,
    /// Its episodes that never fired.
    pub lapses: usize,
    /// Why its episodes ended.
    pub causes: BTreeMap<Cause, usize>,
    /// What its values at ticks add up to.
    pub sum: Vector,
    /// When each of its episodes fired first, in order; of several runs one after the other.
    pub fired_at: Vec<Time>,
}

impl Tally {
    /// Adds another run's.
    pub fn add(&mut self, other: &Self) {
        self.wakes += other.wakes;
        self.fires += other.fires;
        self.lapses += other.lapses;
        for (cause, count) in &other.causes {
            *self.causes.entry(*cause).or_default() += count;
        }
        self.sum = self.sum.plus(other.sum);
        self.fired_at.extend(&other.fired_at);
    }
}

/// What a run came to.
#[derive(Clone, Debug)]
pub struct Outcome {
    /// For each action, how often what happened.
    pub tallies: Table<ActionId, Tally>,
    /// Every event up to the last input: when, of which action, what, and why if it is an end.
    pub events: Vec<(Time, ActionId, &'static str, Option<Cause>)>,
    /// How many events came after it, or as the run ended.
    pub later: usize,
    /// Whether the run was cut short, since it told too much.
    pub is_cut: bool,
}

/// Plays inputs and counts what happens to a seat, or to all; keeps every event too.
pub fn outcome(
    plan: &Arc<Plan>,
    (playing, seat): (Playing, Option<Seat>),
    inputs: impl IntoIterator<Item = Input>,
) -> Outcome {
    count(plan, (playing, seat), inputs, true)
}

/// Plays inputs and counts what happens to a seat, or to all; keeps no events.
pub fn tallied(
    plan: &Arc<Plan>,
    (playing, seat): (Playing, Option<Seat>),
    inputs: impl IntoIterator<Item = Input>,
) -> Outcome {
    count(plan, (playing, seat), inputs, false)
}

fn count(
    plan: &Arc<Plan>,
    (playing, seat): (Playing, Option<Seat>),
    inputs: impl IntoIterator<Item = Input>,
    keeps_events: bool,
) -> Outcome {
    let tallies = Table::filled(Tally::default(), plan.actions().len());
    let outcome = Outcome { tallies, events: Vec::new(), later: 0, is_cut: false };
    let at_ticks = plan.actions().ids().filter(|&id| plan.actions()[id].works_at_ticks).collect();
    let has_fired = Table::filled([false; MOST_SEATS], plan.actions().len());
    let mut counting = Counting { outcome, seat, at_ticks, has_fired, keeps_events };
    let mut run = Run::new(Arc::clone(plan), playing, None, &mut counting);
    let mut last = Time::ZERO;
    for input in inputs {
        last = input.t;
        if run.input(input, &mut counting).is_break() {
            break;
        }
    }
    let is_cut = run.finish(&mut counting).is_cut;
    // The end of a run is a tick, and so are the ends that it brings.
    let mut outcome = counting.outcome;
    let all = outcome.events.len();
    let stopped = Some(Cause::Stopped);
    outcome.events.retain(|(t, _, _, cause)| *t <= last && *cause != stopped);
    outcome.later = all - outcome.events.len();
    outcome.is_cut = is_cut;
    outcome
}

/// One action, with a tally for each value that was tried.
#[derive(Clone, Debug)]
pub struct Swept {
    /// The action.
    pub action: ActionId,
    /// For each value, how often what happened.
    pub tallies: Vec<Tally>,
}

/// Of the tallies of many values of one number (`tallies[value][action]`), those of the actions that
/// are `asked` for, or else of all whose tallies differ and of the one that the number belongs to.
pub fn swept(
    plan: &Plan,
    address: &str,
    tallies: &[Vec<Tally>],
    asked: Option<&[bool]>,
) -> Vec<Swept> {
    let of = |action: ActionId| -> Vec<Tally> {
        tallies.iter().map(|all| all[action.index()].clone()).collect()
    };
    let is_of = |action: ActionId| {
        let rest = address.strip_prefix(plan.names().actions[action].as_str());
        rest.is_some_and(|rest| rest.starts_with(['.', '@']))
    };
    let all = plan.by_file().iter().map(|&action| Swept { action, tallies: of(action) });
    all.filter(|one| match asked {
        Some(asked) => asked[one.action.index()],
        None => one.tallies.iter().any(|t| *t != one.tallies[0]) || is_of(one.action),
    })
    .collect()
}

/// Counts while a run goes on.
struct Counting {
    outcome: Outcome,
    /// The one that counts, if not all do.
    seat: Option<Seat>,
    /// The actions whose values at ticks are added up.
    at_ticks: Vec<ActionId>,
    /// Whether the open episode of each action and seat has fired.
    has_fired: Table<ActionId, [bool; MOST_SEATS]>,
    keeps_events: bool,
}

impl Counting {
    /// Adds what is read at so many ticks.
    fn sum_up(&mut self, seat: Seat, frame: Frame<'_>, ticks: u64) {
        if self.seat.is_some_and(|one| one != seat) {
            return;
        }
        for &action in &self.at_ticks {
            let tally = &mut self.outcome.tallies[action];
            let value = frame.value(action);
            tally.sum = tally.sum.plus(value.map(|v| v * ticks as f64));
        }
    }
}

impl Watcher for Counting {
    fn notice(&mut self, Told { seat, notice }: Told) {
        let Notice::Event(event) = notice else { return };
        if self.seat.is_some() && self.seat != seat {
            return;
        }
        let tally = &mut self.outcome.tallies[event.action];
        let whose = seat.unwrap_or(Seat::FIRST).index();
        let has_fired = &mut self.has_fired[event.action][whose];
        match event.kind {
            EventKind::Wake => {
                tally.wakes += 1;
                *has_fired = false;
            }
            EventKind::Fire(..) => {
                tally.fires += 1;
                if !std::mem::replace(has_fired, true) {
                    tally.fired_at.push(event.t);
                }
            }
            EventKind::Lapse(_) => tally.lapses += 1,
            EventKind::Rest(_) => {}
        }
        if let Some(cause) = event.kind.cause() {
            *tally.causes.entry(cause).or_default() += 1;
        }
        if self.keeps_events {
            let (word, cause) = (event.kind.word(), event.kind.cause());
            self.outcome.events.push((event.t, event.action, word, cause));
        }
    }

    fn idle(&mut self, seat: Seat, frame: Frame<'_>, ticks: u64) {
        self.sum_up(seat, frame, ticks);
    }

    fn tick(&mut self, seat: Seat, frame: Frame<'_>, _t: Time) {
        self.sum_up(seat, frame, 1);
    }
}

/// Why what an action does may follow the frame rate.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum FollowsRate {
    /// `while` fires at every tick.
    While,
    /// `change` compares values at ticks.
    Change,
    /// `travel` gives at each tick what its input added up to since the last.
    Travel,
    /// Movement is added up from tick to tick.
    Movement,
    /// A share of a tick has to reach this level.
    Level(f64),
    /// This step isn't linear, and works on shares of a tick.
    Bent(OpId),
    /// What this binding gives is no distance, and is taken as one at every tick.
    Speed(BindingId),
    /// Which of several counts is decided at every tick anew.
    Chosen,
    /// It follows an action that does.
    Other(ActionId),
}

/// Why what the values of an action at ticks add up to may follow the frame rate; nothing where each
/// tick takes its share.
pub fn bends_sum(plan: &Plan, action: ActionId) -> Vec<FollowsRate> {
    let spec = &plan.actions()[action];
    let mut all = Vec::new();
    let is_relative = |op: OpId| match plan.ops()[op].kind.operands() {
        Operands::Control(read, _) => plan.uses()[read].gather == Gather::Sum,
        _ => false,
    };
    let is_travel = |op: OpId| matches!(plan.ops()[op].kind, OpKind::Travel(_));
    let shape_travels = spec.shape.iter().any(is_travel);
    let mut some_comes_in_shares = shape_travels;
    let mut speeds = Vec::new();
    let others = |op: OpId| match plan.ops()[op].kind {
        OpKind::Action(other) => Some(other),
        _ => None,
    };
    for binding in spec.bindings.iter() {
        let ops = plan.bindings()[binding].ops;
        let mut in_shares = false;
        for op in ops.iter() {
            in_shares |= is_relative(op) || is_travel(op);
            if let Some(other) = others(op).filter(|other| plan.actions()[*other].works_at_ticks) {
                in_shares = true;
                all.extend(bends_sum(plan, other).first().map(|_| FollowsRate::Other(other)));
            }
            if in_shares && !is_travel(op) && !plan.ops()[op].kind.is_linear() {
                all.push(FollowsRate::Bent(op));
            }
            if in_shares && matches!(plan.ops()[op].kind, OpKind::Greater(..)) {
                all.push(FollowsRate::Chosen);
            }
        }
        some_comes_in_shares |= in_shares;
        if !in_shares && !shape_travels {
            speeds.push(FollowsRate::Speed(binding));
        }
    }
    if !some_comes_in_shares {
        return all;
    }
    all.extend(speeds);
    let mut in_shares = !shape_travels;
    for op in spec.shape.iter() {
        in_shares |= is_travel(op);
        if in_shares && !is_travel(op) && !plan.ops()[op].kind.is_linear() {
            all.push(FollowsRate::Bent(op));
        }
    }
    if spec.wake > AT_REST.next_up() {
        all.push(FollowsRate::Level(spec.down));
    }
    if spec.bindings.len() > 1 && spec.blend != Blend::Sum {
        all.push(FollowsRate::Chosen);
    }
    all.dedup();
    all
}

/// Why what an action does may follow the frame rate; nothing, if it must not.
pub fn follows_rate(plan: &Plan, action: ActionId) -> Vec<FollowsRate> {
    let mut all = Vec::new();
    let spec = &plan.actions()[action];
    let cues = || spec.alternatives.iter().map(|id| plan.alternatives()[id].cue);
    if cues().any(|cue| cue == Cue::While) {
        all.push(FollowsRate::While);
    }
    if cues().any(|cue| cue == Cue::Change) {
        all.push(FollowsRate::Change);
    }
    let ops = spec.bindings.iter().flat_map(|id| plan.bindings()[id].ops.iter());
    let codes = ops.chain(spec.shape.iter()).map(|op| plan.ops()[op].kind);
    let codes: Vec<OpKind> = codes.collect();
    if codes.iter().any(|code| matches!(code, OpKind::Travel(_))) {
        all.push(FollowsRate::Travel);
    }
    if spec.uses.iter().any(|read| plan.uses()[read].gather == Gather::Sum) {
        all.push(FollowsRate::Movement);
    }
    // What is told of a gesture, and not at every tick, follows the rate only by its level.
    let is_told_at_ticks = cues().all(|cue| matches!(cue, Cue::While | Cue::Change));
    if spec.works_at_ticks && !is_told_at_ticks {
        all.push(FollowsRate::Level(spec.down));
    }
    // Actions name only such as stand before them: this ends.
    let mut others: Vec<ActionId> = Vec::new();
    for code in codes {
        if let OpKind::Action(other) = code {
            others.push(other);
        }
    }
    for id in spec.alternatives.iter() {
        if let Cue::Sequence(steps, _) = plan.alternatives()[id].cue {
            others.extend(steps.of(plan.listed()));
        }
        for guard in plan.alternatives()[id].guards.of(plan.guards()) {
            if let Guard::Live(other, _) = guard {
                others.push(*other);
            }
        }
    }
    others.extend(spec.yields_to.of(plan.listed()));
    others.sort_by_key(|other| other.index());
    others.dedup();
    let follows = |other: &ActionId| !follows_rate(plan, *other).is_empty();
    all.extend(others.into_iter().filter(follows).map(FollowsRate::Other));
    all
}
