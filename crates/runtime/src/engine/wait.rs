//! Reports that change nothing but a value wait until somebody looks at it.
//!
//! Most reports of a stick move a value while its action stays where it is between its levels:
//! nothing is told of them, and game code reads the value at the next tick. Of a control whose
//! steps give more for more, whatever the direction, three magnitudes are remembered from values that
//! were worked out: up to which the action does not wake, up to which it does not go down, and from
//! which on it does not come up. A report within them is only put down; the value is worked out at the
//! tick, or before anything else happens to the action. What the engine tells is the same.

use super::agenda::Agenda;
use super::alone::Lone;
use super::episodes::{Episodes, Level};
use super::inputs::Inputs;
use super::route::Lane;
use super::state::State;
use crate::base::limits::{PRESSED, TIE};
use crate::base::{
    ActionId, BindingId, Blend, Contact, ControlId, ControlKind, ControlUseId, Id, IdRange, Kind,
    OpId, Table, Time, Vector,
};
use crate::plan::{Action, Control, OpKind, Tables};

/// How much nearer to a level than this would be too near: rounding must not decide.
const MARGIN: f64 = 1e-9;

/// What is known of one use of a control.
#[derive(Clone, Copy, Debug)]
pub(super) struct Band {
    /// Whether its reports may wait at all.
    may_wait: bool,
    binding: BindingId,
    /// The control it listens to; of several, the first.
    control: ControlId,
    /// Up to this raw magnitude the action does not wake.
    low: f64,
    /// Up to this raw magnitude it does not go down.
    light: f64,
    /// From this raw magnitude on it does not come up.
    high: f64,
}

impl Band {
    pub fn may_wait(&self) -> bool {
        self.may_wait
    }

    /// Learns that a raw magnitude gives one of the action, by this use's binding or not.
    fn learn(&mut self, spec: &Action, raw: f64, magnitude: f64, is_won: bool) {
        // All bindings together give no more than this, so this one doesn't.
        if raw > self.low && magnitude < spec.wake * (1.0 - MARGIN) {
            self.low = raw;
        }
        if raw > self.light && magnitude < spec.down * (1.0 - MARGIN) {
            self.light = raw;
        }
        if raw < self.high && is_won && magnitude >= spec.up * (1.0 + MARGIN) {
            self.high = raw;
        }
    }

    pub fn forget(&mut self) {
        (self.low, self.light, self.high) = (-1.0, -1.0, f64::INFINITY);
    }
}

/// What is known of every use of a control: nothing yet.
pub(super) fn bands(plan: &Tables) -> Table<ControlUseId, Band> {
    let band = |id| {
        let binding = sole_binding(plan, id);
        let mut band = Band {
            may_wait: binding.is_some(),
            binding: binding.unwrap_or(BindingId::new(0)),
            control: plan.uses[id]
                .inputs
                .first()
                .map_or(ControlId::new(0), |input| plan.inputs[input].control),
            low: 0.0,
            light: 0.0,
            high: 0.0,
        };
        band.forget();
        band
    };
    let all: Vec<Band> = plan.uses.ids().map(band).collect();
    all.into()
}

/// Which uses of an action are quiet.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Quiet {
    None,
    One(Sole),
    Several,
}

/// The one quiet use of an action.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct Sole {
    used: ControlUseId,
    binding: BindingId,
    /// Whether the binding is the only one, and the action has no shape: its value is the action's.
    is_all: bool,
}

/// The quiet uses of every action.
pub(super) fn quiet(plan: &Tables, bands: &Table<ControlUseId, Band>) -> Table<ActionId, Quiet> {
    let of = |spec: &Action| {
        let mut quiet = spec.uses.iter().filter(|&used| bands[used].may_wait);
        match (quiet.next(), quiet.next()) {
            (None, _) => Quiet::None,
            (Some(used), None) => Quiet::One(Sole {
                used,
                binding: bands[used].binding,
                is_all: spec.bindings.len() == 1 && spec.shape.len() == 1,
            }),
            (Some(_), Some(_)) => Quiet::Several,
        }
    };
    plan.actions.iter().map(of).collect::<Vec<_>>().into()
}

/// The one binding that a use belongs to, if its reports may wait:
///
/// - It is a stick or lever, or the furthest of several, as it is; what follows gives more for more. The
///   furthest binding counts. So from the magnitude that is reported follows how far the action's is.
/// - The action is no axis, which goes from one side to the other through 0, and has no `change`.
/// - Nobody reads its value. What others see besides, and what it sees of others, changes by no report
///   that leaves it between the same two levels.
fn sole_binding(plan: &Tables, id: ControlUseId) -> Option<BindingId> {
    let used = &plan.uses[id];
    let action = &plan.actions[used.action];
    let is_plain = matches!(action.kind, Kind::Switch | Kind::Plane | Kind::Space)
        && action.blend == Blend::Greatest
        && action.read_by.is_empty()
        && !action.has_change;
    let bindings = used.bindings.of(&plan.use_bindings);
    let &[binding] = bindings else { return None };
    // Of several controls the one that is furthest counts: also that is more for more.
    let is_own = used.inputs.iter().map(|id| &plan.inputs[id]).all(|input| {
        let kind = plan.controls[input.control].kind;
        let is_graded = matches!(kind, ControlKind::Stick | ControlKind::Lever);
        input.device.is_none() && is_graded
    });
    let ops = plan.bindings[binding].ops;
    let is_whole = ops.first().is_some_and(|op| plan.ops[op].kind == OpKind::Whole(id));
    let grows = grows(plan, ops) && grows(plan, action.shape);
    (is_plain && is_own && is_whole && grows).then_some(binding)
}

/// Whether more is told of an action than whether it is down: its value, or which of its bindings won.
/// What waits of it has to be known at ticks. Of any other it is enough to know it before something else
/// happens to the action, and for a look inside.
pub(super) fn is_read(action: &Action) -> bool {
    action.kind != Kind::Switch || action.bindings.len() > 1
}

/// Whether operations after the first give more for more, whatever the direction.
fn grows(plan: &Tables, ops: IdRange<OpId>) -> bool {
    ops.iter().skip(1).all(|op| {
        matches!(
            plan.ops[op].kind,
            OpKind::Deadzone { .. }
                | OpKind::Curve(_)
                | OpKind::Scale(_)
                | OpKind::Cap(_)
                | OpKind::Flip(_)
                | OpKind::Rotate(..)
        )
    })
}

impl State {
    /// Lets the report of a first device wait, where a lane is known for it and nothing is due by `at`;
    /// tells whether it does.
    #[inline(always)]
    pub fn let_wait(&mut self, at: Time, control: ControlId, value: Vector) -> bool {
        let Some(lane) = self.inputs.routes.lane(control) else { return false };
        let (action, is_read) = (lane.action, lane.is_read);
        let is_there = self.episodes.actions[action].level == lane.level;
        let waits = is_there && lane.takes(value) && self.is_still_until(at);
        if waits {
            self.agenda.let_wait(action, is_read);
            self.clock.go_on(at);
            // Adding 0 makes 0 of −0.
            self.inputs.controls.put_first(control, value.x + 0.0, value.y + 0.0);
        }
        waits
    }

    /// Works out what waits of all actions, but for those whose value nobody reads.
    pub fn catch_up_on_values(&mut self, plan: &Tables) {
        while let Some(action) = self.agenda.waiting.pop() {
            self.take_up(plan, action);
        }
    }

    /// Works out what waits of all actions.
    pub fn catch_up(&mut self, plan: &Tables) {
        self.catch_up_on_values(plan);
        while let Some(action) = self.agenda.put_off.pop() {
            self.take_up(plan, action);
        }
    }

    /// Works out what waits of one action, if anything does, before something else happens to it.
    #[inline]
    pub fn catch_up_before(&mut self, plan: &Tables, action: ActionId) {
        if self.agenda.lets_wait(action) {
            self.agenda.waiting.remove(action);
            self.agenda.put_off.remove(action);
            self.take_up(plan, action);
        }
    }

    fn take_up(&mut self, plan: &Tables, action: ActionId) {
        match self.inputs.quiet[action] {
            Quiet::None => {}
            Quiet::One(Sole { used, binding, is_all }) => {
                if self.take_use(plan, action, used, binding) {
                    let bound = self.values.bindings[binding].given();
                    let (value, won) = match is_all {
                        true => (bound.0, bound.1.then_some(binding)),
                        false => self.blended_and_shaped(plan, action),
                    };
                    self.take_quietly(action, value, won);
                }
            }
            Quiet::Several => {
                let is_new = plan.actions[action].uses.iter().fold(false, |is_new, used| {
                    let Band { may_wait, binding, .. } = self.inputs.bands[used];
                    (may_wait && self.take_use(plan, action, used, binding)) || is_new
                });
                if is_new {
                    let (value, won) = self.blended_and_shaped(plan, action);
                    self.take_quietly(action, value, won);
                }
            }
        }
    }

    /// Takes what a quiet use sees now through its binding; tells whether that is something else. Of
    /// sticks and levers only x and y are anything but 0.
    #[inline(always)]
    fn take_use(
        &mut self,
        plan: &Tables,
        action: ActionId,
        used: ControlUseId,
        binding: BindingId,
    ) -> bool {
        let control = self.inputs.bands[used].control;
        let value = match self.inputs.routes.lets_see(control) {
            true => self.inputs.controls.raw(control, 0),
            false => self.inputs.controls.gathered(plan, used),
        };
        let visible = &mut self.inputs.controls.visible[used];
        if visible.x == value.x && visible.y == value.y {
            return false;
        }
        (visible.x, visible.y) = (value.x, value.y);
        let bound = self.evaluate_binding(plan, binding);
        self.values.bindings[binding].put(bound, plan.actions[action].kind);
        true
    }

    /// Takes the new value of an action that stays where it is between its levels. Its uses are
    /// quiet: nothing but the value can change, and nobody has to be told. Nothing is to be learned: what
    /// waited lies in what is known.
    #[inline(always)]
    fn take_quietly(&mut self, action: ActionId, value: Vector, won: Option<BindingId>) {
        self.agenda.moved.insert(action);
        let state = &mut self.episodes.actions[action];
        if won.is_some() {
            state.from = won;
        }
        (state.value, state.settled) = (value, value);
        if state.level == Level::Down {
            state.last_down = value;
        }
    }

    /// Works out what waits of every action that listens to a control, before it reports.
    pub fn catch_up_on(&mut self, plan: &Tables, contact: Contact) {
        if self.agenda.waiting.is_empty() {
            return;
        }
        let mut nth = 0;
        while let Some(id) = self.inputs.controls.listener(contact.control, nth) {
            nth += 1;
            self.catch_up_before(plan, plan.uses[plan.inputs[id].of].action);
        }
    }
}

impl Inputs {
    /// From which to which magnitude a quiet use may report while its action stays where it is between
    /// its levels.
    fn span(&self, used: ControlUseId, level: Level) -> (f64, f64) {
        let Band { low, light, high, .. } = self.bands[used];
        // Of two that are as far, the other may count.
        let high = high + 2.0 * TIE;
        match level {
            Level::Down => (high, f64::INFINITY),
            Level::Woken => (high, light),
            Level::Up => (0.0, low),
        }
    }

    /// Whether the action of a quiet use stays where it is between its levels when the control
    /// reports a magnitude.
    pub fn stays(
        &self,
        episodes: &Episodes,
        used: ControlUseId,
        action: ActionId,
        magnitude: f64,
    ) -> bool {
        let (from, to) = self.span(used, episodes.actions[action].level);
        from <= magnitude && magnitude <= to
    }

    /// The lane of a control whose report has just waited.
    pub fn find_lane(&mut self, plan: &Tables, episodes: &Episodes, control: ControlId, of: Lone) {
        let level = episodes.actions[of.action].level;
        let (mut from, mut to) = self.span(of.used, level);
        let Control { kind, class } = plan.controls[control];
        if !self.usage.covers(class) {
            // A lane does not lead across the magnitude that tells which scheme is in use.
            match self.controls.raw(control, 0).magnitude() >= PRESSED {
                true => from = from.max(PRESSED),
                false => to = to.min(PRESSED.next_down()),
            }
        }
        self.routes.open_lane(control, Lane::new(kind, of, level, (from, to)));
    }

    /// The same for all uses that listen to a control, all of them quiet.
    pub fn all_stay(
        &self,
        episodes: &Episodes,
        plan: &Tables,
        control: ControlId,
        magnitude: f64,
    ) -> bool {
        (0..).map_while(|nth| self.controls.listener(control, nth)).all(|id| {
            let used = plan.inputs[id].of;
            self.stays(episodes, used, plan.uses[used].action, magnitude)
        })
    }

    /// Has every action wait that listens to a control.
    pub fn let_all_wait(&mut self, agenda: &mut Agenda, plan: &Tables, control: ControlId) {
        for nth in 0.. {
            let Some(id) = self.controls.listener(control, nth) else { return };
            let action = plan.uses[plan.inputs[id].of].action;
            agenda.let_wait(action, is_read(&plan.actions[action]));
        }
    }

    /// Learns from a value that was worked out.
    pub fn learn(
        &mut self,
        plan: &Tables,
        action: ActionId,
        value: Vector,
        won: Option<BindingId>,
    ) {
        match self.quiet[action] {
            Quiet::None => {}
            Quiet::One(Sole { used, .. }) => self.learn_of(plan, used, value, won),
            Quiet::Several => {
                for used in plan.actions[action].uses.iter() {
                    self.learn_of(plan, used, value, won);
                }
            }
        }
    }

    #[inline]
    fn learn_of(
        &mut self,
        plan: &Tables,
        used: ControlUseId,
        value: Vector,
        won: Option<BindingId>,
    ) {
        let band = &mut self.bands[used];
        let spec = &plan.actions[plan.uses[used].action];
        let raw = self.controls.visible[used].magnitude();
        band.learn(spec, raw, value.magnitude_of(spec.kind), won == Some(band.binding));
    }
}
