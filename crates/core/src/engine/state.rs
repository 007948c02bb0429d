//! All that changes while a plan runs. Made once; nothing in it grows.

use super::event::{Cause, Notice};
use super::timers::Timers;
use super::{Tell, evaluate::Sides};
use crate::base::{
    ActionId, AlternativeId, BindingId, ControlId, IdSet, MapId, MemoryId, OpId, SchemeId, Table,
    Time, Vector,
};
use crate::plan::{Class, Plan};

/// From this magnitude on, a control tells that its device is in use.
pub(super) const IN_USE: f64 = 0.5;

#[derive(Clone, Debug)]
pub(super) struct State {
    pub now: Time,
    /// Ticks that were.
    pub ticks: u64,
    /// Whether nothing happened since the last tick: the frame's counts still stand.
    frame_stands: bool,
    pub raw: Table<ControlId, Vector>,
    pub values: Table<OpId, Vector>,
    pub memories: Table<MemoryId, Sides>,
    pub actions: Table<ActionId, ActionState>,
    pub alternatives: Table<AlternativeId, AlternativeState>,
    pub timers: Timers,
    /// The alternatives that fire at every tick.
    pub firing: IdSet<AlternativeId>,
    pub open: Table<MapId, bool>,
    scheme: Option<SchemeId>,
    /// The actions with something to count in this frame.
    pub told: IdSet<ActionId>,
    /// The actions whose value may differ from that of the last tick.
    pub moved: IdSet<ActionId>,
    /// The actions whose value did differ at the last tick.
    pub changed: IdSet<ActionId>,
}

#[derive(Clone, Copy, Debug)]
pub(super) struct ActionState {
    pub awake: bool,
    pub down: bool,
    /// Its value after the shape.
    pub value: Vector,
    /// The last value with which it was down.
    pub last_down: Vector,
    pub woke_at: Time,
    pub down_at: Time,
    pub first_fire: Option<Time>,
    pub from: Option<BindingId>,
    /// In this frame.
    pub fired: u32,
    pub woke: bool,
    pub ended: Option<(bool, Cause)>,
    /// What game code read at the last tick.
    pub shown: Vector,
}

impl ActionState {
    const NEW: Self = Self {
        awake: false,
        down: false,
        value: Vector::ZERO,
        last_down: Vector::ZERO,
        woke_at: Time::ZERO,
        down_at: Time::ZERO,
        first_fire: None,
        from: None,
        fired: 0,
        woke: false,
        ended: None,
        shown: Vector::ZERO,
    };
}

/// How far an alternative is in its action's episode.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum AlternativeState {
    /// Not yet down.
    Idle,
    /// Down, and not fired.
    Pending,
    /// Fired.
    Live,
    /// Over, with its cause; `true` if it fired.
    Over(Cause, bool),
}

impl State {
    pub fn new(plan: &Plan) -> Self {
        let actions = plan.actions.len();
        Self {
            now: Time::ZERO,
            ticks: 0,
            frame_stands: false,
            raw: Table::filled(Vector::ZERO, plan.controls.len()),
            values: Table::filled(Vector::ZERO, plan.ops.len()),
            memories: Table::filled(Sides::default(), plan.memories),
            actions: Table::filled(ActionState::NEW, actions),
            alternatives: Table::filled(AlternativeState::Idle, plan.alternatives.len()),
            timers: Timers::new(plan.alternatives.len()),
            firing: IdSet::new(plan.alternatives.len()),
            open: Table::filled(false, plan.maps.len()),
            scheme: None,
            told: IdSet::new(actions),
            moved: IdSet::new(actions),
            changed: IdSet::new(actions),
        }
    }

    pub fn reset(&mut self) {
        self.now = Time::ZERO;
        self.ticks = 0;
        self.frame_stands = false;
        self.raw.fill(Vector::ZERO);
        self.values.fill(Vector::ZERO);
        self.memories.fill(Sides::default());
        self.actions.fill(ActionState::NEW);
        self.alternatives.fill(AlternativeState::Idle);
        self.timers.clear();
        self.firing.clear();
        self.open.fill(false);
        self.scheme = None;
        self.told.clear();
        self.moved.clear();
        self.changed.clear();
    }

    /// Opens `start`, or the map that the profile starts with. No step of this version turns 0
    /// into anything else, so that working out the actions at 0 would change nothing.
    pub fn open_at_start(&mut self, plan: &Plan, start: Option<MapId>) {
        let first = || plan.maps.entries().find(|(_, map)| map.start).map(|(id, _)| id);
        if let Some(map) = start.or_else(first).filter(|&map| plan.maps.get(map).is_some()) {
            self.open[map] = true;
        }
    }

    /// Goes on to `at`, through every trigger that reaches its time by then. A time before the
    /// present one counts as the present one.
    pub fn advance(&mut self, plan: &Plan, at: Time, tell: Tell<'_>) {
        self.begin_frame();
        while let Some((due, alternative)) = self.timers.first().filter(|(due, _)| *due <= at) {
            self.now = self.now.max(due);
            self.timers.cancel(alternative);
            self.fire(plan, alternative, tell);
        }
        self.now = self.now.max(at);
    }

    /// Forgets the counts of the frame that was read.
    fn begin_frame(&mut self) {
        if !std::mem::take(&mut self.frame_stands) {
            return;
        }
        while let Some(action) = self.told.pop() {
            let state = &mut self.actions[action];
            state.fired = 0;
            state.woke = false;
            state.ended = None;
        }
    }

    /// The tick at which the game sees what is told now: right after a tick still that one.
    pub fn tick_that_sees(&self) -> u64 {
        self.ticks + u64::from(!self.frame_stands)
    }

    /// Closes the frame: game code may read.
    pub fn settle_frame(&mut self, plan: &Plan) {
        self.ticks += 1;
        self.frame_stands = true;
        self.changed.clear();
        while let Some(action) = self.moved.pop() {
            let value = self.value_read(plan, action);
            let shown = &mut self.actions[action].shown;
            if *shown != value {
                *shown = value;
                self.changed.insert(action);
            }
        }
    }

    /// The scheme in use becomes that of `class`: the present one if it has it, else the first.
    pub fn use_class(&mut self, plan: &Plan, class: Class, tell: Tell<'_>) {
        let schemes = plan.schemes_of_class.get(class as usize).map_or(&[][..], |s| s);
        let stays = self.scheme.is_some_and(|present| schemes.contains(&present));
        let Some(&scheme) = schemes.first().filter(|_| !stays) else { return };
        self.scheme = Some(scheme);
        tell(Notice::Scheme { t: self.now, tick: self.tick_that_sees(), scheme });
    }
}
