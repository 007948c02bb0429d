//! What an action waits for at a moment, or what keeps it from waking.

use super::record::Record;
use super::stations::{Blocked, blocked};
use harmonym_runtime::base::{
    AT_REST, ActionId, AlternativeId, BindingId, Blend, ControlId, Id, OpId, SchemeId, Time,
};
use harmonym_runtime::engine::{Inside, Level, Stage};
use harmonym_runtime::plan::{Cue, Guard, OpKind, Operands, Plan};

/// Where an action stands. Magnitudes are those of its kind; an angle is in radians.
#[derive(Clone, Debug, PartialEq)]
pub enum Status {
    /// It has no bindings, and follows no other actions.
    Unbound,
    /// No map that it lives in is open: since then, or never yet.
    Closed(Option<Time>),
    /// The game is paused since then.
    Paused(Time),
    /// What is pressed is bound to it in schemes that the game has narrowed away.
    Narrowed(ControlId, SchemeId),
    /// All of its controls are at 0.
    Untouched,
    /// A pressed control is kept from it.
    Blocked(ControlId, Blocked),
    /// The last part of a `+` is pressed, and a control that must be held with it is not.
    NotHeld(ControlId, ControlId),
    /// The last part of a `+` was pressed before those that must be held, or with its map closed.
    TooEarly(ControlId),
    /// Both sides of a pair are pressed and cancel out.
    Opposed(ControlId, ControlId),
    /// An operation made 0 of that magnitude; up to the second number it does.
    Stopped(OpId, f64, Option<f64>),
    /// A binding gives the first magnitude, and another one counts, with the second.
    Lost((BindingId, f64), (BindingId, f64)),
    /// The bindings add up to 0.
    CancelledOut,
    /// The value's magnitude is under the level at which it wakes.
    UnderWake(f64, f64),
    /// Its episode is over, and it is still at or above its up level.
    StillUp(f64, f64),
    /// The press came at the instant at which that action fired, and belongs to it.
    Taken(ActionId),
    /// It is awake: what it gives is under the level at which it is down.
    UnderDown(f64, f64),
    /// It is awake, and each alternative waits for something.
    Pending(Vec<(AlternativeId, Awaits)>),
    /// It has fired, or fires: by that alternative, first at that moment; when the next comes on
    /// its own.
    Live(AlternativeId, Option<Time>, Option<Time>),
    /// A sequence of which so many steps are done waits for that action, until then.
    Step(usize, usize, ActionId, Option<Time>),
}

/// What an alternative waits for.
#[derive(Clone, Debug, PartialEq)]
pub enum Awaits {
    /// To be down so long, so much of which is over; it fires by itself then.
    Reaching(Time, Time, Time),
    /// To be let go, after so long at least, so much of which is over.
    Charging(Time, Time),
    /// To be let go until then.
    LettingGoBy(Time),
    /// To be let go.
    LettingGo,
    /// Another press, so many of so many having come, until then.
    Press(u32, u32, Option<Time>),
    /// These guards.
    Guards(Vec<Guard>),
    /// Would have fired at that moment, and waits for these actions to give up.
    Others(Time, Vec<ActionId>),
    /// To be pressed far enough.
    Down,
}

impl Status {
    pub(super) fn of(inside: &Inside<'_>, action: ActionId, record: &Record) -> Self {
        let plan = inside.plan();
        let spec = &plan.actions()[action];
        let sequence = spec.alternatives.iter().next().map(|id| (id, plan.alternatives()[id].cue));
        if !inside.is_active(action) {
            let open = spec.maps.of(plan.listed_maps()).iter().any(|&map| inside.is_open(map));
            let closed = || Self::Closed(record.closed_since(plan, action));
            return if open { Self::Paused(record.changed) } else { closed() };
        }
        if let Some((id, Cue::Sequence(steps, _))) = sequence {
            let steps = steps.of(plan.listed());
            let done = if inside.episode(action).awake { inside.alternative(id).count } else { 0 };
            let due = inside.alternative(id).due;
            let next = steps.get(done as usize).copied().unwrap_or(action);
            return Self::Step(done as usize, steps.len(), next, due);
        }
        if inside.episode(action).awake {
            awake(inside, action)
        } else {
            asleep(inside, action, record)
        }
    }

    /// Whether two come from the same: only their numbers differ.
    pub(super) fn is_like(&self, other: &Self) -> bool {
        match (self, other) {
            (Self::Blocked(a, b), Self::Blocked(c, d)) => a == c && b == d,
            (Self::Stopped(a, ..), Self::Stopped(b, ..)) => a == b,
            (Self::Lost((a, _), (b, _)), Self::Lost((c, _), (d, _))) => a == c && b == d,
            (Self::NotHeld(..), _) | (Self::Taken(_), _) => self == other,
            _ => std::mem::discriminant(self) == std::mem::discriminant(other),
        }
    }
}

fn awake(inside: &Inside<'_>, action: ActionId) -> Status {
    let plan = inside.plan();
    let spec = &plan.actions()[action];
    let episode = inside.episode(action);
    let fired = |id: &AlternativeId| inside.alternative(*id).fired;
    let next = |id: AlternativeId| match plan.alternatives()[id].cue {
        Cue::Repeat(..) => inside.alternative(id).due,
        Cue::Press
        | Cue::Release
        | Cue::While
        | Cue::Change
        | Cue::Hold(_)
        | Cue::Tap(_)
        | Cue::Charge(_)
        | Cue::Taps(..)
        | Cue::Sequence(..) => None,
    };
    if episode.live {
        let open = |id: &AlternativeId| inside.alternative(*id).stage == Stage::Open;
        let all = || spec.alternatives.iter();
        let by = all().find(|id| fired(id) && open(id)).or_else(|| all().find(fired));
        if let Some(by) = by.or_else(|| all().find(open)) {
            return Status::Live(by, episode.first_fire, next(by));
        }
    }
    let awaits: Vec<(AlternativeId, Awaits)> =
        spec.alternatives.iter().filter_map(|id| Some((id, awaits(inside, action, id)?))).collect();
    let gives = inside.shaped(action).magnitude_of(spec.kind);
    if awaits.iter().all(|(_, one)| *one == Awaits::Down) {
        return Status::UnderDown(gives, spec.down);
    }
    Status::Pending(awaits)
}

/// What an alternative of an open episode waits for; nothing when it is over.
fn awaits(inside: &Inside<'_>, action: ActionId, id: AlternativeId) -> Option<Awaits> {
    let plan = inside.plan();
    let state = inside.alternative(id);
    match state.stage {
        Stage::Idle => return Some(Awaits::Down),
        Stage::Over(harmonym_runtime::engine::Cause::Guard) | Stage::Open => {}
        Stage::Over(_) | Stage::Out => return None,
    }
    let guards = plan.alternatives()[id].guards.of(plan.guards()).iter().copied();
    let failing: Vec<Guard> = guards.filter(|guard| !inside.holds(*guard)).collect();
    if let Some(since) = state.kept {
        let others = plan.actions()[action].yields_to.of(plan.listed()).iter().copied();
        let is_pending = |other: &ActionId| {
            let episode = inside.episode(*other);
            episode.awake && !episode.live
        };
        return Some(Awaits::Others(since, others.filter(is_pending).collect()));
    }
    let is_down = inside.episode(action).level == Level::Down;
    let held = inside.now().since(inside.episode(action).down_at);
    Some(match plan.alternatives()[id].cue {
        Cue::While | Cue::Change | Cue::Repeat(..) if !failing.is_empty() => {
            Awaits::Guards(failing)
        }
        _ if state.stage != Stage::Open => return None,
        Cue::Hold(_) => Awaits::Reaching(held, state.time, state.due?),
        Cue::Charge(_) => Awaits::Charging(held, state.time),
        Cue::Tap(_) => Awaits::LettingGoBy(state.due?),
        Cue::Taps(count, _) => {
            Awaits::Press(state.count, inside.number(count).round() as u32, state.due)
        }
        Cue::Press
        | Cue::Release
        | Cue::While
        | Cue::Change
        | Cue::Repeat(..)
        | Cue::Sequence(..) => match is_down {
            true => Awaits::LettingGo,
            false => return None,
        },
    })
}

fn asleep(inside: &Inside<'_>, action: ActionId, record: &Record) -> Status {
    let plan = inside.plan();
    let spec = &plan.actions()[action];
    if spec.bindings.is_empty() {
        return Status::Unbound;
    }
    let gives = inside.shaped(action).magnitude_of(spec.kind);
    if inside.episode(action).level != Level::Up {
        let down_at = inside.episode(action).down_at;
        let others = spec.yields_to.of(plan.listed()).iter().copied();
        let mut took = others.filter(|other| inside.episode(*other).live_at == Some(down_at));
        let is_new = record.episodes.last().is_none_or(|last| last.woke < down_at);
        if let Some(other) = took.next().filter(|_| is_new) {
            return Status::Taken(other);
        }
        return Status::StillUp(gives, spec.up);
    }
    let magnitude = |id: BindingId| inside.bound(id).magnitude_of(spec.kind);
    let (blended, won) = inside.blended(action);
    let counts = || spec.bindings.iter().filter(|id| inside.is_enabled(*id));
    let with = won.map_or(0.0, magnitude);
    let adds_up = spec.blend == Blend::Sum;
    if adds_up && blended.magnitude_of(spec.kind) <= AT_REST && with > AT_REST {
        return Status::CancelledOut;
    }
    let greatest =
        counts().filter(|_| !adds_up).max_by(|a, b| magnitude(*a).total_cmp(&magnitude(*b)));
    if let Some(lost) = greatest.filter(|&id| Some(id) != won && magnitude(id) > with + AT_REST) {
        let winner = won.or_else(|| counts().find(|id| *id != lost));
        if let Some(winner) = winner {
            return Status::Lost((lost, magnitude(lost)), (winner, with));
        }
    }
    if gives > AT_REST {
        return Status::UnderWake(gives, spec.wake);
    }
    if blended.magnitude_of(spec.kind) > AT_REST {
        // Somewhere in the shape it became 0; the first operation is what the bindings gave.
        if let Some(stopped) = first_stop(inside, spec.shape.iter().skip(1)) {
            return stopped;
        }
    }
    for id in counts() {
        if let Some(stopped) = first_stop(inside, plan.bindings()[id].ops.iter()) {
            return stopped;
        }
    }
    without_a_read(inside, action, record)
}

/// Every read is 0: what keeps the pressed controls away.
fn without_a_read(inside: &Inside<'_>, action: ActionId, record: &Record) -> Status {
    let plan = inside.plan();
    let mut narrowed = None;
    for read in plan.actions()[action].uses.iter().filter(|&read| !plan.uses()[read].holds) {
        for input in plan.uses()[read].inputs.iter() {
            for device in inside.devices(input) {
                let touch = inside.touch(input, device);
                if touch.bound.magnitude() <= AT_REST {
                    continue;
                }
                let control = plan.inputs()[input].control;
                if let Some(blocked) = blocked(inside, input, device, record) {
                    return Status::Blocked(control, blocked);
                }
                let bindings = plan.uses()[read].bindings.of(plan.use_bindings());
                if !bindings.iter().any(|&id| inside.is_enabled(id)) {
                    narrowed = narrowed.or(inside.narrowed().map(|to| (control, to)));
                }
            }
        }
    }
    narrowed.map_or(Status::Untouched, |(control, to)| Status::Narrowed(control, to))
}

/// The first of some operations that made 0 of something.
fn first_stop(inside: &Inside<'_>, ops: impl Iterator<Item = OpId>) -> Option<Status> {
    let plan = inside.plan();
    let magnitude = |op: OpId| inside.value(op).magnitude();
    for id in ops {
        if magnitude(id) > AT_REST {
            continue;
        }
        let kind = plan.ops()[id].kind;
        match kind.operands() {
            Operands::Sides(neg, pos) => {
                if magnitude(neg) > AT_REST && magnitude(pos) > AT_REST {
                    return Some(Status::Opposed(control_of(plan, neg)?, control_of(plan, pos)?));
                }
            }
            Operands::Plus(plus) => {
                let spec = &plan.pluses()[plus];
                if magnitude(spec.last) <= AT_REST {
                    continue;
                }
                let last = control_of(plan, spec.last)?;
                let holders = spec.holders.of(plan.listed_ops());
                return Some(match holders.iter().find(|&&op| !inside.is_held(op)) {
                    Some(&holder) => Status::NotHeld(last, control_of(plan, holder)?),
                    None => Status::TooEarly(last),
                });
            }
            Operands::Control(..)
            | Operands::Action(_)
            | Operands::Components { .. }
            | Operands::Either(..)
            | Operands::Blended => {}
            Operands::Before => {
                let before = OpId::new(id.index() - 1);
                if magnitude(before) > AT_REST && inside.applies(id) {
                    return Some(Status::Stopped(id, magnitude(before), edge(inside, kind)));
                }
            }
        }
    }
    None
}

/// Up to where an operation makes 0.
fn edge(inside: &Inside<'_>, op: OpKind) -> Option<f64> {
    op.dead().map(|(number, share)| inside.number(number) * share)
}

/// The control that an operation reads, itself or through steps.
fn control_of(plan: &Plan, op: OpId) -> Option<ControlId> {
    let mut at = op;
    loop {
        let read = match plan.ops()[at].kind.operands() {
            Operands::Control(read, _) => read,
            Operands::Sides(_, one)
            | Operands::Components { x: one, .. }
            | Operands::Either(one, _) => return control_of(plan, one),
            Operands::Plus(plus) => return control_of(plan, plan.pluses()[plus].last),
            Operands::Action(_) | Operands::Blended => return None,
            Operands::Before => {
                at = OpId::new(at.index().checked_sub(1)?);
                continue;
            }
        };
        return plan.uses()[read].inputs.iter().next().map(|input| plan.inputs()[input].control);
    }
}
