//! Why an episode ended, with the numbers behind its cause.

use super::blocked::{Blocked, blocked};
use super::mover::Mover;
use super::record::Record;
use harmonym_runtime::base::{
    ActionId, AlternativeId, BindingId, ControlId, Id, MapId, SchemeId, Time,
};
use harmonym_runtime::engine::{Cause, Event, EventKind, Inside, Notice, Stage};
use harmonym_runtime::plan::{Cue, Guard};

/// What lies behind the cause of an end.
#[derive(Clone, Debug, PartialEq)]
pub enum EndReason {
    /// It came up.
    Released {
        /// How long it had been down.
        held: Time,
        /// What brought it up.
        up: Option<Mover>,
    },
    /// Down so long, where so long was needed.
    TooShort {
        /// The alternative.
        by: AlternativeId,
        /// How long it was down.
        held: Time,
        /// How long it had to be.
        needed: Time,
        /// What brought it up.
        up: Option<Mover>,
    },
    /// Still down when the time was over in which it had to come up.
    TooLong {
        /// The alternative.
        by: AlternativeId,
        /// The time.
        limit: Time,
        /// How long it was down in the end, once that is known.
        held: Option<Time>,
        /// What brought it up then.
        up: Option<Mover>,
    },
    /// It never was down: the greatest magnitude it had, and the level.
    TooLight(f64, f64),
    /// So many presses of so many, and the next was not there in time.
    Gap {
        /// The presses that came.
        count: u32,
        /// The presses that were needed.
        needed: u32,
        /// The time for each.
        limit: Time,
        /// When the next came after all.
        late: Option<Time>,
    },
    /// So many steps of so many, and the next had not fired in time.
    StepGap {
        /// The steps that were done.
        count: usize,
        /// All steps.
        steps: usize,
        /// The step that was missing.
        next: ActionId,
        /// The time for all.
        limit: Time,
        /// When it fired after all.
        late: Option<Time>,
    },
    /// Another step fired than the one that was due.
    OutOfOrder(Option<ActionId>),
    /// These guards failed, each since then if it has ever been otherwise.
    Guard(Vec<(Guard, Option<Time>)>),
    /// That action had it, from that moment on.
    Yielded(ActionId, Time),
    /// That map closed, maybe since that other one opened.
    MapOff(MapId, Option<MapId>),
    /// A map that opened has a binding that keeps the control for its action.
    Claimed(ControlId, BindingId),
    /// The game narrowed the bindings to that scheme.
    SchemeOff(SchemeId),
    /// Its device went away, or to another seat.
    Unplugged(Mover),
    /// The run ended.
    Stopped,
}

impl EndReason {
    /// What lies behind the end of an action's last episode, right after it. Where another began in the
    /// same instant, what was known before it counts; what nobody knows any more is nothing.
    pub(super) fn of(
        inside: &Inside<'_>,
        event: &Event,
        cause: Cause,
        record: &Record,
        is_last: bool,
    ) -> Option<Self> {
        let plan = inside.plan();
        let action = event.action;
        let spec = &plan.actions()[action];
        // Of several that end in one instant, only the first was open before it.
        let is_own_end = |one: &Notice| matches!(one, Notice::Event(other) if other.action == action && other.kind.cause().is_some());
        let was_open = record.before.episode.is_some_and(|before| before.awake)
            && !record.told_before(event).any(is_own_end);
        // Of one that began in this instant as well, only that it was down for no time.
        let is_known = is_last || was_open || matches!(cause, Cause::Released | Cause::TooShort);
        if !is_known {
            return None;
        }
        let over = |id: &AlternativeId| match is_last {
            true => inside.alternative(*id).stage == Stage::Over(cause),
            false => ends_so(plan.alternatives()[*id].cue, cause),
        };
        let by = spec.alternatives.iter().find(over);
        // One that went down since has no numbers in what was before.
        let went_down = !is_last && (!was_open || record.went_down_before(event));
        let time = |id: AlternativeId| -> Option<Time> {
            let first = spec.alternatives.first()?.index();
            match (is_last, plan.alternatives()[id].cue) {
                (true, _) => Some(inside.alternative(id).time),
                (false, Cue::Hold(time) | Cue::Charge(time)) if went_down => {
                    Some(inside.time(time))
                }
                (false, _) => Some(record.before.alternatives.get(id.index() - first)?.time),
            }
        };
        let down_at = match (is_last, went_down) {
            (true, _) => inside.episode(action).down_at,
            (false, true) => event.t,
            (false, false) => record.before.episode?.down_at,
        };
        let held = event.t.since(down_at.min(event.t));
        let up = record.came_up.clone();
        Some(match cause {
            Cause::Released => {
                let until = record.up_since.unwrap_or(event.t);
                Self::Released { held: until.since(down_at.min(until)), up }
            }
            Cause::TooShort => Self::TooShort { by: by?, held, needed: time(by?)?, up },
            Cause::TooLong => Self::TooLong { by: by?, limit: time(by?)?, held: None, up: None },
            // Of what else a later episode has overwritten nothing is known.
            Cause::TooLight | Cause::Gap | Cause::Guard if !is_last => return None,
            Cause::TooLight => Self::TooLight(record.peak, spec.down),
            Cause::Gap => Self::gap(inside, by?)?,
            Cause::OutOfOrder => {
                let fired = |one: &Notice| match one {
                    Notice::Event(Event { action, kind: EventKind::Fire(..), .. }) => Some(*action),
                    _ => None,
                };
                Self::OutOfOrder(record.told_before(event).find_map(fired))
            }
            Cause::Guard => {
                let of = |id: AlternativeId| plan.alternatives()[id].guards.of(plan.guards());
                let guards = spec.alternatives.iter().filter(over).flat_map(of).copied();
                let guards: Vec<Guard> = guards.collect();
                let failing: Vec<Guard> =
                    guards.iter().filter(|guard| !inside.holds(**guard)).copied().collect();
                // What failed only within the instant holds again.
                let guards = if failing.is_empty() { guards } else { failing };
                let since = |guard| (guard, record.failing_since(guard));
                Self::Guard(guards.into_iter().map(since).collect())
            }
            Cause::Yielded => {
                let others = spec.yields_to.of(plan.listed()).iter().copied();
                let took = |other: ActionId| {
                    let episode = inside.episode(other);
                    Some((episode.live_at.max(episode.forced_at)?, other))
                };
                let (at, other) = others.filter_map(took).max()?;
                Self::Yielded(other, at)
            }
            Cause::MapOff => Self::map_off(inside, action, record),
            Cause::Claimed => Self::claimed(inside, action, record)?,
            Cause::SchemeOff => Self::SchemeOff(inside.narrowed()?),
            Cause::Unplugged => Self::Unplugged(up?),
            Cause::Stopped => Self::Stopped,
            Cause::Done | Cause::Paused | Cause::Rebound => return None,
        })
    }

    fn map_off(inside: &Inside<'_>, action: ActionId, record: &Record) -> Self {
        let spec = &inside.plan().actions()[action];
        let homes = spec.maps.of(inside.plan().listed_maps());
        let mut closed = None;
        let mut opened = None;
        for notice in record.told() {
            match notice {
                Notice::Map { map, open: false, .. } if homes.contains(map) => {
                    closed = Some(*map);
                }
                Notice::Map { map, open: true, .. } => opened = Some(*map),
                _ => {}
            }
        }
        Self::MapOff(closed.unwrap_or(spec.map), opened)
    }

    fn claimed(inside: &Inside<'_>, action: ActionId, record: &Record) -> Option<Self> {
        let plan = inside.plan();
        let spec = &plan.actions()[action];
        let reads = spec.uses.iter().flat_map(|read| plan.uses()[read].inputs.iter());
        let claimed = |input| {
            let mut devices = inside.devices(input);
            devices.find_map(|device| match blocked(inside, input, device, record)? {
                Blocked::Claimed(by, _) | Blocked::Hidden(by, _) => {
                    Some((plan.inputs()[input].control, by))
                }
                Blocked::Muted(..) => None,
            })
        };
        let (control, by) = { reads }.find_map(claimed)?;
        Some(Self::Claimed(control, by))
    }

    fn gap(inside: &Inside<'_>, by: AlternativeId) -> Option<Self> {
        let plan = inside.plan();
        let state = inside.alternative(by);
        match plan.alternatives()[by].cue {
            Cue::Taps(needed, _) => Some(Self::Gap {
                count: state.count,
                needed: inside.number(needed).round() as u32,
                limit: state.time,
                late: None,
            }),
            Cue::Sequence(steps, _) => {
                let steps = steps.of(plan.listed());
                let count = state.count as usize;
                let next = *steps.get(count)?;
                Some(Self::StepGap {
                    count,
                    steps: steps.len(),
                    next,
                    limit: state.time,
                    late: None,
                })
            }
            Cue::Press
            | Cue::Release
            | Cue::While
            | Cue::Change
            | Cue::Hold(_)
            | Cue::Tap(_)
            | Cue::Charge(_)
            | Cue::Repeat(..) => None,
        }
    }
}

/// Whether a cue gives up for that cause at coming up, or while down.
fn ends_so(cue: Cue, cause: Cause) -> bool {
    match cue {
        Cue::Hold(_) | Cue::Charge(_) => cause == Cause::TooShort,
        Cue::Tap(_) => cause == Cause::TooLong,
        Cue::Press
        | Cue::Release
        | Cue::While
        | Cue::Change
        | Cue::Taps(..)
        | Cue::Repeat(..)
        | Cue::Sequence(..) => false,
    }
}
