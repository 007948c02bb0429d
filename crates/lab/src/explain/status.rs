//! What an action waits for at a moment, or what keeps it from waking.

use super::blocked::{Blocked, blocked};
use super::mover::{control_of, reads};
use super::record::Record;
use harmonym_runtime::base::{
    AT_REST, ActionId, AlternativeId, BindingId, Blend, ControlId, Device, Id, OpId, SchemeId, Time,
};
use harmonym_runtime::engine::{Inside, Level, Stage};
use harmonym_runtime::plan::{Cue, Guard, OpKind, Operands};

/// Where an action stands. Magnitudes are those of its kind; an angle is in radians.
#[derive(Clone, Debug, PartialEq)]
pub enum Status {
    /// It has no bindings, and follows no other actions.
    Unbound,
    /// No map that it lives in is open.
    Closed {
        /// Since when; nothing if none was open yet.
        since: Option<Time>,
        /// When one opens, as shows afterwards; nothing if none does.
        opens: Option<Time>,
    },
    /// The game is paused since then.
    Paused(Time),
    /// What is pressed is bound to it in schemes that the game has narrowed away.
    Narrowed(ControlId, SchemeId),
    /// All of its controls are at 0.
    Untouched,
    /// All of its controls are at 0, and that device of theirs is gone since then.
    Unplugged(Device, Time),
    /// That control is held since before its device came at that moment, and has not been let go since.
    HeldBack(ControlId, Time),
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
    Pending(Vec<Waiting>),
    /// It has fired, or fires: by that alternative, first at that moment; when the next comes on
    /// its own, and what would keep that from firing.
    Live(AlternativeId, Option<Time>, Option<Time>, Vec<Obstacle>),
    /// A sequence of which so many steps are done waits for that action, until then.
    Step(usize, usize, ActionId, Option<Time>),
}

/// An alternative that waits.
#[derive(Clone, Debug, PartialEq)]
pub struct Waiting {
    /// The alternative.
    pub by: AlternativeId,
    /// What it waits for.
    pub awaits: Awaits,
    /// What would keep it from firing then, as things stand.
    pub against: Vec<Obstacle>,
}

/// What keeps an alternative from firing.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Obstacle {
    /// A guard fails, since then if it has ever been otherwise.
    Guard(Guard, Option<Time>),
    /// An action that it yields to went live at that moment, and has it.
    Took(ActionId, Time),
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
    /// Its guards.
    Guards,
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
            let since = record.closed_since(plan, action);
            let closed = Self::Closed { since, opens: None };
            return if open { Self::Paused(record.changed) } else { closed };
        }
        if let Some((id, Cue::Sequence(steps, _))) = sequence {
            let steps = steps.of(plan.listed());
            let done = if inside.episode(action).awake { inside.alternative(id).count } else { 0 };
            let due = inside.alternative(id).due;
            let next = steps.get(done as usize).copied().unwrap_or(action);
            return Self::Step(done as usize, steps.len(), next, due);
        }
        if inside.episode(action).awake {
            awake(inside, action, record)
        } else {
            let farthest = record.farthest(inside);
            let kept = farthest.and_then(|control| kept(inside, action, record, control));
            match kept.filter(|_| inside.episode(action).level == Level::Up) {
                Some(kept) => kept,
                None => asleep(inside, action, record, None),
            }
        }
    }

    /// The same for one of its controls, while it is not awake.
    pub(super) fn of_control(
        inside: &Inside<'_>,
        action: ActionId,
        record: &Record,
        control: ControlId,
    ) -> Self {
        match inside.is_active(action) {
            true => asleep(inside, action, record, Some(control)),
            false => Self::of(inside, action, record),
        }
    }

    /// Whether it is a matter of how far something is pressed, which differs along one press.
    pub(super) fn is_short(&self) -> bool {
        matches!(
            self,
            Self::Untouched
                | Self::Unplugged(..)
                | Self::Stopped(..)
                | Self::UnderWake(..)
                | Self::Lost(..)
                | Self::CancelledOut
                | Self::Opposed(..)
        )
    }

    /// How far a press came that was not far enough.
    pub(super) fn reach(&self) -> (u8, f64) {
        match self {
            Self::UnderWake(gives, _) => (3, *gives),
            Self::Lost((_, gives), _) => (2, *gives),
            Self::Opposed(..) | Self::CancelledOut => (2, 0.0),
            Self::Stopped(_, gave, _) => (1, *gave),
            _ => (0, 0.0),
        }
    }

    /// Whether two come from the same: only their numbers differ.
    pub(super) fn is_like(&self, other: &Self) -> bool {
        match (self, other) {
            (Self::Blocked(a, b), Self::Blocked(c, d)) => a == c && b.is_like(*d),
            (Self::Stopped(a, ..), Self::Stopped(b, ..)) => a == b,
            (Self::Lost((a, _), (b, _)), Self::Lost((c, _), (d, _))) => a == c && b == d,
            (Self::NotHeld(..), _) | (Self::Taken(_), _) => self == other,
            _ => std::mem::discriminant(self) == std::mem::discriminant(other),
        }
    }
}

fn untouched(inside: &Inside<'_>, record: &Record) -> Status {
    if let Some((control, since)) = record.held_back(inside) {
        return Status::HeldBack(control, since);
    }
    match record.gone(inside.plan()) {
        Some((device, since)) => Status::Unplugged(device, since),
        None => Status::Untouched,
    }
}

fn awake(inside: &Inside<'_>, action: ActionId, record: &Record) -> Status {
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
            let next = next(by);
            let against = match next {
                Some(_) => against(inside, action, record, by),
                None => Vec::new(),
            };
            return Status::Live(by, episode.first_fire, next, against);
        }
    }
    let waiting = |by| {
        let awaits = awaits(inside, action, by)?;
        Some(Waiting { by, awaits, against: against(inside, action, record, by) })
    };
    let all: Vec<Waiting> = spec.alternatives.iter().filter_map(waiting).collect();
    let gives = inside.shaped(action).magnitude_of(spec.kind);
    if all.iter().all(|one| one.awaits == Awaits::Down) {
        return Status::UnderDown(gives, spec.down);
    }
    Status::Pending(all)
}

/// What keeps an alternative of an open episode from firing, as things stand.
fn against(
    inside: &Inside<'_>,
    action: ActionId,
    record: &Record,
    id: AlternativeId,
) -> Vec<Obstacle> {
    let plan = inside.plan();
    let guards = plan.alternatives()[id].guards.of(plan.guards()).iter();
    let failing = guards.filter(|guard| !inside.holds(**guard));
    let guards = failing.map(|&guard| Obstacle::Guard(guard, record.failing_since(guard)));
    let woke_at = inside.episode(action).woke_at;
    let others = plan.actions()[action].yields_to.of(plan.listed()).iter();
    let took = others.filter_map(|&other| {
        let at = inside.episode(other).live_at.filter(|at| *at >= woke_at)?;
        Some(Obstacle::Took(other, at))
    });
    guards.chain(took).collect()
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
    let mut guards = plan.alternatives()[id].guards.of(plan.guards()).iter();
    let fails = guards.any(|guard| !inside.holds(*guard));
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
        Cue::While | Cue::Change | Cue::Repeat(..) if fails => Awaits::Guards,
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

/// What keeps an action from waking; `control` is the one that is looked at.
fn asleep(
    inside: &Inside<'_>,
    action: ActionId,
    record: &Record,
    control: Option<ControlId>,
) -> Status {
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
    if let Some(kept) = control.and_then(|control| kept(inside, action, record, control)) {
        return kept;
    }
    let concerns = |id: &BindingId| {
        let last = plan.bindings()[*id].ops.iter().last();
        control.is_none_or(|control| last.is_some_and(|op| reads(plan, op, control)))
    };
    let counts = || spec.bindings.iter().filter(|id| inside.is_enabled(*id));
    for id in counts().filter(concerns) {
        let ops = plan.bindings()[id].ops.iter();
        let own = ops.filter(|&op| control.is_none_or(|control| reads(plan, op, control)));
        if let Some(stopped) = first_stop(inside, own) {
            return stopped;
        }
    }
    let magnitude = |id: BindingId| inside.bound(id).magnitude_of(spec.kind);
    let (blended, won) = inside.blended(action);
    let with = won.map_or(0.0, magnitude);
    let adds_up = spec.blend == Blend::Sum;
    if adds_up && blended.magnitude_of(spec.kind) <= AT_REST && with > AT_REST {
        return Status::CancelledOut;
    }
    let own = counts().filter(|id| !adds_up && concerns(id));
    let greatest = own.max_by(|a, b| magnitude(*a).total_cmp(&magnitude(*b)));
    if let Some(lost) = greatest.filter(|&id| Some(id) != won && magnitude(id) > with + AT_REST) {
        let winner = won.or_else(|| counts().find(|id| *id != lost));
        if let Some(winner) = winner {
            return Status::Lost((lost, magnitude(lost)), (winner, with));
        }
    }
    if blended.magnitude_of(spec.kind) > AT_REST && gives <= AT_REST {
        // Somewhere in the shape it became 0; the first operation is what the bindings gave.
        if let Some(stopped) = first_stop(inside, spec.shape.iter().skip(1)) {
            return stopped;
        }
    }
    match gives > AT_REST {
        true => Status::UnderWake(gives, spec.wake),
        false if control.is_none() => untouched(inside, record),
        false => Status::Untouched,
    }
}

/// What keeps a control that is pressed away from its action.
fn kept(
    inside: &Inside<'_>,
    action: ActionId,
    record: &Record,
    control: ControlId,
) -> Option<Status> {
    let plan = inside.plan();
    let (mut found, mut narrowed) = (None, None);
    for read in plan.actions()[action].uses.iter().filter(|&read| !plan.uses()[read].holds) {
        let bindings = plan.uses()[read].bindings.of(plan.use_bindings());
        let counts = bindings.iter().any(|&id| inside.is_enabled(id));
        let own = |input: &_| plan.inputs()[*input].control == control;
        for input in plan.uses()[read].inputs.iter().filter(own) {
            // A notch is let go as soon as it is pressed.
            let is_notch = plan.inputs()[input].key != control;
            for device in inside.devices(input) {
                let is_at_rest = inside.touch(input, device).bound.magnitude() <= AT_REST;
                if is_at_rest && !is_notch {
                    continue;
                }
                match (counts, blocked(inside, input, device, record)) {
                    (false, _) => narrowed = narrowed.or(inside.narrowed()),
                    (true, Some(by)) => found = found.or(Some(by)),
                    // This one reaches the action.
                    (true, None) => return None,
                }
            }
        }
    }
    let blocked = found.map(|by| Status::Blocked(control, by));
    blocked.or_else(|| narrowed.map(|to| Status::Narrowed(control, to)))
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
