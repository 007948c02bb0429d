//! Episodes: where each action is between its levels, how far each alternative is, and the cues that
//! wait for their time.
//!
//! Holds of itself: an alternative that is over waits for nothing and fires at no tick; an action
//! that is not awake has no alternative that does.

use super::event::{Cause, EventKind};
use super::reader::Counts;
use super::sequence::Sequences;
use super::timers::Timers;
use crate::base::{ActionId, AlternativeId, BindingId, IdSet, Kind, Table, Time, Vector};
use crate::plan::{Cue, Kin, Tables};

/// All that is known of episodes.
#[derive(Clone, Debug)]
pub(super) struct Episodes {
    pub actions: Table<ActionId, ActionState>,
    pub alternatives: Table<AlternativeId, AlternativeState>,
    /// What few of them carry.
    pub carried: Table<AlternativeId, Carried>,
    pub sequences: Sequences,
    pub timers: Timers,
    /// The alternatives whose time has come at this instant.
    pub due: IdSet<AlternativeId>,
    /// The alternatives that fire at every tick.
    pub firing: IdSet<AlternativeId>,
}

impl Episodes {
    pub fn new(plan: &Tables) -> Self {
        let (actions, alternatives) = (plan.actions.len(), plan.alternatives.len());
        Self {
            actions: Table::filled(ActionState::NEW, actions),
            alternatives: Table::filled(AlternativeState::NEW, alternatives),
            carried: Table::filled(Carried::default(), alternatives),
            sequences: Sequences::new(plan),
            timers: Timers::new(alternatives),
            due: IdSet::new(alternatives),
            firing: IdSet::new(alternatives),
        }
    }

    pub fn reset(&mut self) {
        // Taken apart by name: a field that is added later cannot be forgotten here.
        let Self { actions, alternatives, carried, sequences, timers, due, firing } = self;
        actions.fill(ActionState::NEW);
        alternatives.fill(AlternativeState::NEW);
        carried.fill(Carried::default());
        sequences.reset();
        timers.clear();
        due.clear();
        firing.clear();
    }

    /// Where actions were, and what waits for its time; of one that is bound anew only what was counted
    /// of it.
    pub fn take_over(&mut self, plan: &Tables, before: &Self, old_plan: &Tables, kin: &Kin) {
        for (old, own) in kin.namesakes() {
            self.actions[own] = ActionState { from: None, ..before.actions[old] };
        }
        for (old, own) in kin.kept() {
            let (to, from) = (&plan.actions[own], &old_plan.actions[old]);
            let won = before.actions[old].from;
            self.actions[own].from =
                won.and_then(|binding| from.bindings.counterpart(binding, to.bindings));
            let (to, from) = (to.alternatives, from.alternatives);
            self.alternatives.take_over(to, &before.alternatives, from);
            self.carried.take_over(to, &before.carried, from);
            for (to, from) in to.iter().zip(from.iter()) {
                if let Some((due, when)) = before.timers.waits_for(from) {
                    self.timers.set(to, due, when);
                }
                if before.due.contains(from) {
                    self.due.insert(to);
                }
                if before.firing.contains(from) {
                    self.firing.insert(to);
                }
                if let Cue::Sequence(steps, _) = plan.alternatives[to].cue {
                    let count = steps.of(&plan.listed).len();
                    self.sequences.take_over(to, &before.sequences, from, count);
                }
            }
        }
    }

    /// An alternative waits for nothing any more, and fires at no tick.
    #[inline]
    pub fn quiet(&mut self, id: AlternativeId) {
        self.timers.cancel(id);
        self.firing.remove(id);
    }

    /// An alternative is over in its action's episode.
    #[inline]
    pub fn set_over(&mut self, id: AlternativeId, at: Time, cause: Cause) {
        self.quiet(id);
        let state = &mut self.alternatives[id];
        (state.stage, state.over_at, state.on) = (Stage::Over(cause), at, false);
    }

    /// The episode of an action is closed: nothing of it waits or fires. Tells whether it had fired.
    pub fn close(&mut self, plan: &Tables, action: ActionId) -> bool {
        for id in plan.actions[action].alternatives.iter() {
            self.quiet(id);
            self.due.remove(id);
        }
        let state = &mut self.actions[action];
        (state.awake, state.counts) = (false, false);
        state.first_fire.is_some()
    }
}

/// Where an action's magnitude is between its levels.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Level {
    /// Under `up` since it was so last.
    Up,
    /// It reached `wake`.
    Woken,
    /// It reached `down`.
    Down,
}

#[derive(Clone, Copy, Debug)]
pub(super) struct ActionState {
    pub level: Level,
    /// Whether an episode is open.
    pub awake: bool,
    /// Whether the action was down in this episode.
    pub was_down: bool,
    /// Whether being down now belongs to the open episode.
    pub counts: bool,
    /// Whether a `while` whose guards failed may wake it anew while it is still down.
    pub may_resume: bool,
    /// Its value after the shape, of this very moment.
    pub value: Vector,
    /// The same when it was worked out last.
    pub settled: Vector,
    /// The last value with which it was down.
    pub last_down: Vector,
    pub woke_at: Time,
    pub down_at: Time,
    pub first_fire: Option<Time>,
    /// The furthest progress of this episode, of alternatives that are over.
    pub reached: f64,
    pub from: Option<BindingId>,
    /// When it last became live, and when it was last ended by force.
    pub live_at: Option<Time>,
    pub forced_at: Option<Time>,
    /// How many episodes have fired.
    pub first_fires: u64,
    /// What happened in the last tick and since, by whether the tick that sees it is even or odd.
    pub happened: [Happened; 2],
    /// The value that game code read at the last tick.
    pub shown_value: Vector,
    /// All that ever happened.
    pub all: Counts,
}

/// What happened to an action from one tick to the next.
#[derive(Clone, Copy, Debug, Default)]
pub(super) struct Happened {
    /// The tick that sees it.
    tick: u64,
    pub fired: u32,
    pub woke: bool,
    pub ended: Option<(bool, Cause)>,
}

impl Happened {
    pub const NOTHING: Self = Self { tick: 0, fired: 0, woke: false, ended: None };
}

impl ActionState {
    pub(super) const NEW: Self = Self {
        level: Level::Up,
        awake: false,
        was_down: false,
        counts: false,
        may_resume: false,
        value: Vector::ZERO,
        settled: Vector::ZERO,
        last_down: Vector::ZERO,
        woke_at: Time::ZERO,
        down_at: Time::ZERO,
        first_fire: None,
        reached: 0.0,
        from: None,
        live_at: None,
        forced_at: None,
        first_fires: 0,
        happened: [Happened::NOTHING; 2],
        shown_value: Vector::ZERO,
        all: Counts { woke: 0, fired: 0, ended: 0, last_end: None },
    };

    /// What game code reads of a tick.
    pub fn happened_in(&self, tick: u64) -> Happened {
        let [even, odd] = self.happened;
        let happened = if tick.is_multiple_of(2) { even } else { odd };
        if happened.tick == tick { happened } else { Happened::NOTHING }
    }

    /// Counts what is told before a tick.
    pub fn count(&mut self, kind: EventKind, tick: u64) {
        let [even, odd] = &mut self.happened;
        let happened = if tick.is_multiple_of(2) { even } else { odd };
        if happened.tick != tick {
            *happened = Happened { tick, ..Happened::NOTHING };
        }
        match kind {
            EventKind::Wake => {
                happened.woke = true;
                self.all.woke += 1;
            }
            EventKind::Fire(..) => {
                happened.fired = happened.fired.saturating_add(1);
                self.all.fired += 1;
            }
            EventKind::Lapse(cause) | EventKind::Rest(cause) => {
                let end = Some((self.first_fire.is_some(), cause));
                (happened.ended, self.all.last_end) = (end, end);
                self.all.ended += 1;
            }
        }
    }

    /// The value of this moment: of a switch, whether it is down.
    #[inline]
    pub fn value_now(&self, kind: Kind) -> Vector {
        match kind {
            Kind::Switch => Vector::axis(if self.is_down() { 1.0 } else { 0.0 }),
            Kind::Axis | Kind::Plane | Kind::Space | Kind::Turn => self.value,
        }
    }

    /// Whether it is down, and that belongs to an open episode.
    pub fn is_down(&self) -> bool {
        self.awake && self.counts && self.level == Level::Down
    }
}

/// How far an alternative is in its action's episode.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Stage {
    /// Not yet down.
    Idle,
    /// Pending or live.
    Open,
    /// Over, with its cause.
    Over(Cause),
    /// Not part of this episode.
    Out,
}

/// Values that go with an alternative's state.
#[derive(Clone, Copy, Debug, Default)]
pub(super) struct Carried {
    /// With what the fire that waits would have come.
    pub kept: Vector,
    /// Of `change`: what it last fired with.
    pub seen: Vector,
}

#[derive(Clone, Copy, Debug)]
pub(super) struct AlternativeState {
    pub stage: Stage,
    pub over_at: Time,
    /// In this episode.
    pub fired: bool,
    /// Of a `while`: whether it is on, and whether it fired since.
    pub on: bool,
    pub stretch_fired: bool,
    /// Of `taps`: the presses; of a `sequence`: the steps done.
    pub count: u32,
    /// The time that it waits for, as it was when it began.
    pub time: Time,
    /// Since when a fire waits for other actions to give up.
    pub kept: Option<Time>,
    /// Of `change`: whether it fired.
    pub has_seen: bool,
}

impl AlternativeState {
    pub const NEW: Self = Self {
        stage: Stage::Idle,
        over_at: Time::ZERO,
        fired: false,
        on: false,
        stretch_fired: false,
        count: 0,
        time: Time::ZERO,
        kept: None,
        has_seen: false,
    };
}
