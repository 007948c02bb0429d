//! All that changes while a plan runs. Made once; nothing in it grows.

use super::Tell;
use super::evaluate::{BindingState, Memory};
use super::event::{Cause, EventKind};
use super::hands::Hands;
use super::maps::Maps;
use super::motion::{Mode, Motion};
use super::plus::PlusState;
use super::reader::Counts;
use super::sequence::Sequences;
use super::timers::Timers;
use super::usage::Usage;
use super::wait::{Band, bands};
use crate::base::{
    ActionId, AlternativeId, BindingId, ControlUseId, Id, IdSet, MemoryId, MotionId, OpId, ParamId,
    PlusId, Table, Time, VariableId, Vector,
};
use crate::plan::Tables;

#[derive(Clone, Debug)]
pub(super) struct State {
    pub now: Time,
    /// Ticks that were.
    pub ticks: u64,
    /// Whether nothing happened since the last tick: the frame's counts still stand.
    pub frame_stands: bool,
    /// How evaluations treat what steps keep.
    pub mode: Mode,
    pub hands: Hands,
    pub maps: Maps,
    pub usage: Usage,
    /// Settings and facts, in base units.
    pub variables: Table<VariableId, f64>,
    pub params: Table<ParamId, f64>,
    pub values: Table<OpId, Vector>,
    pub memories: Table<MemoryId, Memory>,
    pub motions: Table<MotionId, Motion>,
    pub pluses: Table<PlusId, PlusState>,
    pub bindings: Table<BindingId, BindingState>,
    /// Counts every time that a binding leaves 0 or changes, to tell which came first.
    pub moment: u64,
    pub actions: Table<ActionId, ActionState>,
    pub alternatives: Table<AlternativeId, AlternativeState>,
    pub sequences: Sequences,
    pub timers: Timers,
    /// The waiting alternatives that are due at this instant.
    pub due: IdSet<AlternativeId>,
    /// The bindings to be evaluated again.
    pub stale: IdSet<BindingId>,
    /// The actions to be worked out, and those of them whose value may be another.
    pub dirty: IdSet<ActionId>,
    pub fresh: IdSet<ActionId>,
    /// The actions of whose reads some may see something else.
    pub reread: IdSet<ActionId>,
    /// The actions some of whose guards see something else.
    pub reguarded: IdSet<ActionId>,
    /// The alternatives that fire at every tick.
    pub firing: IdSet<AlternativeId>,
    /// Every `+` to be settled, and those whose map has just opened.
    pub stale_pluses: IdSet<PlusId>,
    pub new_pluses: IdSet<PlusId>,
    /// The actions with a step that moves on its own, and when they are looked at next.
    pub moving: IdSet<ActionId>,
    pub next_look: Time,
    /// The actions whose value of this very moment is to be found.
    pub to_peek: IdSet<ActionId>,
    /// The actions whose `change` is to be looked at at the next tick.
    pub recheck: IdSet<ActionId>,
    /// The actions to be worked out at the next tick, whatever else happens.
    pub at_tick: IdSet<ActionId>,
    /// The same, while a tick goes through them.
    pub at_last_tick: IdSet<ActionId>,
    /// The action that is evaluated, and whether the value has passed a step that moves.
    pub evaluating: Option<ActionId>,
    pub passed_moving: bool,
    /// What is known of each use of a control, and the actions some of whose reports wait.
    pub bands: Table<ControlUseId, Band>,
    pub waiting: IdSet<ActionId>,
    /// The actions that something happened to since the last tick, and those of the last tick.
    pub told: IdSet<ActionId>,
    pub shown: IdSet<ActionId>,
    /// The actions whose value may differ from that of the last tick.
    pub moved: IdSet<ActionId>,
    /// The actions whose value did differ at the last tick.
    pub changed: IdSet<ActionId>,
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
    /// What happened since the last tick.
    pub since: Happened,
    /// What game code reads of the last tick.
    pub shown: Happened,
    /// The value that game code read at the last tick.
    pub shown_value: Vector,
    /// All that ever happened.
    pub all: Counts,
}

/// What happened to an action from one tick to the next.
#[derive(Clone, Copy, Debug, Default)]
pub(super) struct Happened {
    pub fired: u32,
    pub woke: bool,
    pub ended: Option<(bool, Cause)>,
}

impl Happened {
    const NOTHING: Self = Self { fired: 0, woke: false, ended: None };
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
        since: Happened::NOTHING,
        shown: Happened::NOTHING,
        shown_value: Vector::ZERO,
        all: Counts { woke: 0, fired: 0, ended: 0, last_end: None },
    };

    /// Counts what is told.
    pub fn count(&mut self, kind: EventKind) {
        match kind {
            EventKind::Wake => {
                self.since.woke = true;
                self.all.woke += 1;
            }
            EventKind::Fire(..) => {
                self.since.fired = self.since.fired.saturating_add(1);
                self.all.fired += 1;
            }
            EventKind::Lapse(cause) | EventKind::Rest(cause) => {
                let end = Some((self.first_fire.is_some(), cause));
                (self.since.ended, self.all.last_end) = (end, end);
                self.all.ended += 1;
            }
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
    /// A fire that waits for other actions to give up: when and with what it would have come.
    pub kept: Option<(Time, Vector)>,
    /// Of `change`: what it last fired with.
    pub seen: Option<Vector>,
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
        seen: None,
    };
}

impl State {
    pub fn new(plan: &Tables) -> Self {
        let actions = plan.actions.len();
        let alternatives = plan.alternatives.len();
        let mut state = Self {
            now: Time::ZERO,
            ticks: 0,
            frame_stands: false,
            mode: Mode::Event,
            hands: Hands::new(plan),
            maps: Maps::new(plan),
            usage: Usage::new(plan),
            variables: Table::filled(0.0, plan.variables.len()),
            params: Table::filled(0.0, plan.params.len()),
            values: Table::filled(Vector::ZERO, plan.ops.len()),
            memories: Table::filled(Memory::default(), plan.kept_in_pause.len()),
            motions: Table::filled(Motion::default(), plan.motions),
            pluses: Table::filled(PlusState::default(), plan.pluses.len()),
            bindings: Table::filled(BindingState::default(), plan.bindings.len()),
            moment: 0,
            actions: Table::filled(ActionState::NEW, actions),
            alternatives: Table::filled(AlternativeState::NEW, alternatives),
            sequences: Sequences::new(plan),
            timers: Timers::new(alternatives),
            due: IdSet::new(alternatives),
            stale: IdSet::new(plan.bindings.len()),
            dirty: IdSet::new(actions),
            fresh: IdSet::new(actions),
            reread: IdSet::new(actions),
            reguarded: IdSet::new(actions),
            firing: IdSet::new(alternatives),
            stale_pluses: IdSet::new(plan.pluses.len()),
            new_pluses: IdSet::new(plan.pluses.len()),
            moving: IdSet::new(actions),
            next_look: Time::ZERO,
            to_peek: IdSet::new(actions),
            recheck: IdSet::new(actions),
            at_tick: IdSet::new(actions),
            at_last_tick: IdSet::new(actions),
            evaluating: None,
            passed_moving: false,
            bands: bands(plan),
            waiting: IdSet::new(actions),
            told: IdSet::new(actions),
            shown: IdSet::new(actions),
            moved: IdSet::new(actions),
            changed: IdSet::new(actions),
        };
        state.set_numbers(plan);
        state
    }

    pub fn reset(&mut self, plan: &Tables) {
        self.now = Time::ZERO;
        self.ticks = 0;
        self.frame_stands = false;
        self.mode = Mode::Event;
        self.hands.reset();
        self.maps.reset();
        self.usage.reset();
        self.values.fill(Vector::ZERO);
        self.memories.fill(Memory::default());
        self.motions.fill(Motion::default());
        self.pluses.fill(PlusState::default());
        self.bindings.fill(BindingState::default());
        self.moment = 0;
        self.actions.fill(ActionState::NEW);
        self.alternatives.fill(AlternativeState::NEW);
        self.sequences.reset();
        self.timers.clear();
        self.next_look = Time::ZERO;
        (self.evaluating, self.passed_moving) = (None, false);
        for set in [
            &mut self.dirty,
            &mut self.fresh,
            &mut self.reread,
            &mut self.reguarded,
            &mut self.told,
            &mut self.shown,
            &mut self.waiting,
            &mut self.moved,
            &mut self.changed,
            &mut self.moving,
            &mut self.to_peek,
            &mut self.recheck,
            &mut self.at_tick,
        ] {
            set.clear();
        }
        self.forget_bands();
        self.stale_pluses.clear();
        self.new_pluses.clear();
        self.due.clear();
        self.stale.clear();
        self.firing.clear();
        self.set_numbers(plan);
    }

    /// Every number as it is at first.
    fn set_numbers(&mut self, plan: &Tables) {
        for (id, param) in plan.params.entries() {
            self.params[id] = param.value(0.0);
        }
        for (id, named) in plan.variables.entries() {
            self.set_number(plan, id, named.default);
        }
    }

    /// A setting or fact, and the numbers that it stands for.
    fn set_number(&mut self, plan: &Tables, id: VariableId, value: f64) {
        let named = &plan.variables[id];
        self.variables[id] = value * named.factor;
        for &param in &named.params {
            self.params[param] = plan.params[param].value(self.variables[id]);
        }
    }

    /// A setting or fact becomes `value`, in its own unit.
    pub fn set_variable(&mut self, plan: &Tables, id: VariableId, value: f64, tell: Tell<'_>) {
        let Some(named) = plan.variables.get(id) else { return };
        let before = self.variables[id];
        self.set_number(plan, id, value);
        if self.variables[id] == before {
            return;
        }
        self.mode = Mode::Event;
        self.forget_bands();
        for &action in &named.readers {
            self.touch(plan, action);
            for &plus in plan.actions[action].pluses.of(&plan.listed_pluses) {
                self.stale_pluses.insert(plus);
            }
        }
        self.pass(plan, tell);
    }

    /// Has an action worked out, with all its bindings.
    pub fn touch(&mut self, plan: &Tables, action: ActionId) {
        let spec = &plan.actions[action];
        if !self.lives(action) {
            return;
        }
        self.dirty.insert(action);
        self.fresh.insert(action);
        for binding in spec.bindings.iter() {
            self.stale.insert(binding);
        }
    }

    /// The tick at which the game sees what is told now: right after a tick still that one.
    pub fn tick_that_sees(&self) -> u64 {
        self.ticks + u64::from(!self.frame_stands)
    }

    /// Closes the frame: game code may read.
    pub fn settle_frame(&mut self, plan: &Tables) {
        self.ticks += 1;
        self.frame_stands = true;
        while let Some(action) = self.shown.pop() {
            self.actions[action].shown = Happened::NOTHING;
        }
        std::mem::swap(&mut self.shown, &mut self.told);
        let mut next = self.shown.next(0);
        while let Some(action) = next {
            next = self.shown.next(action.index() + 1);
            let state = &mut self.actions[action];
            state.shown = std::mem::take(&mut state.since);
        }
        self.changed.clear();
        while let Some(action) = self.moved.pop() {
            let value = self.value_read(plan, action);
            let shown = &mut self.actions[action].shown_value;
            if *shown != value {
                *shown = value;
                self.changed.insert(action);
            }
        }
    }
}
