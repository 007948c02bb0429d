//! Reports that change nothing but a value wait until somebody looks at it.
//!
//! Most reports of a stick move a value while its action stays where it is between its levels:
//! nothing is told of them, and game code reads the value at the next tick. Of a control whose
//! steps give more for more, whatever the direction, three magnitudes are remembered from values that
//! were worked out: up to which the action does not wake, up to which it does not go down, and from
//! which on it does not come up. A report within them is only put down; the value is worked out at the
//! tick, or before anything else happens to the action. What the engine tells is the same.

use super::agenda::Agenda;
use super::episodes::{Episodes, Level};
use super::inputs::Inputs;
use super::state::State;
use crate::base::limits::TIE;
use crate::base::{
    ActionId, BindingId, Blend, Contact, ControlId, ControlKind, ControlUseId, Id, IdRange, Kind,
    OpId, Table, Vector,
};
use crate::plan::{Action, Binding, Cue, Gather, OpKind, Tables};

/// How much nearer to a level than this would be too near: rounding must not decide.
const MARGIN: f64 = 1e-9;

/// What is known of one use of a control.
#[derive(Clone, Copy, Debug)]
pub(super) struct Band {
    /// Whether its reports may wait at all.
    may_wait: bool,
    binding: BindingId,
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
    One(ControlUseId),
    Several,
}

/// The quiet uses of every action.
pub(super) fn quiet(plan: &Tables, bands: &Table<ControlUseId, Band>) -> Table<ActionId, Quiet> {
    let of = |spec: &Action| {
        let mut quiet = spec.uses.iter().filter(|&used| bands[used].may_wait);
        match (quiet.next(), quiet.next()) {
            (None, _) => Quiet::None,
            (Some(one), None) => Quiet::One(one),
            (Some(_), Some(_)) => Quiet::Several,
        }
    };
    plan.actions.iter().map(of).collect::<Vec<_>>().into()
}

/// The one binding that a use belongs to, if its reports may wait.
fn sole_binding(plan: &Tables, id: ControlUseId) -> Option<BindingId> {
    let used = &plan.uses[id];
    let action = &plan.actions[used.action];
    let mut cues = action.alternatives.iter().map(|id| plan.alternatives[id].cue);
    let is_plain = matches!(action.kind, Kind::Switch | Kind::Plane | Kind::Space)
        && action.blend == Blend::Greatest
        && is_alone(action)
        && !action.has_change
        && !cues.any(|cue| matches!(cue, Cue::Sequence(..)));
    let bindings = used.bindings.of(&plan.use_bindings);
    let &[binding] = bindings else { return None };
    // Of several controls the one that is furthest counts: also that is more for more.
    let is_own = used.inputs.iter().map(|id| &plan.inputs[id]).all(|input| {
        let kind = plan.controls[input.control].kind;
        let is_graded = matches!(kind, ControlKind::Stick | ControlKind::Lever);
        input.key == input.control && input.device.is_none() && is_graded
    });
    let ops = plan.bindings[binding].ops;
    let is_whole = ops.first().is_some_and(|op| plan.ops[op].kind == OpKind::Whole(id));
    let grows = grows(plan, ops) && grows(plan, action.shape);
    let is_plain = is_plain && !used.holds && used.gather == Gather::Greatest;
    (is_plain && is_own && is_whole && grows).then_some(binding)
}

/// Whether nothing but its own bindings, now, decides what comes of an action: no guards, nobody it
/// yields to, nobody who reads its value, nothing that counts ticks, moves on its own, remembers or is
/// part of a `+`.
pub(super) fn is_alone(action: &Action) -> bool {
    !(action.has_guards || action.works_at_ticks)
        && action.memories.is_empty()
        && action.motions.is_empty()
        && action.pluses.is_empty()
        && action.read_by.is_empty()
        && action.yields_to.is_empty()
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
    /// Works out what waits of all actions.
    pub fn catch_up(&mut self, plan: &Tables) {
        while let Some(action) = self.agenda.waiting.pop() {
            self.take_up(plan, action);
        }
    }

    /// Works out what waits of one action.
    pub fn catch_up_with(&mut self, plan: &Tables, action: ActionId) {
        self.agenda.waiting.remove(action);
        self.take_up(plan, action);
    }

    fn take_up(&mut self, plan: &Tables, action: ActionId) {
        let is_new = match self.inputs.quiet[action] {
            Quiet::None => return,
            Quiet::One(used) => self.take_use(plan, used),
            Quiet::Several => plan.actions[action].uses.iter().fold(false, |is_new, used| {
                let takes = self.inputs.bands[used].may_wait && self.take_use(plan, used);
                is_new || takes
            }),
        };
        if is_new {
            self.take_quietly(plan, action);
        }
    }

    /// Takes what a quiet use sees now through its binding; tells whether that is something else.
    #[inline]
    fn take_use(&mut self, plan: &Tables, used: ControlUseId) -> bool {
        let value = self.inputs.controls.gathered(plan, used);
        if self.inputs.controls.visible[used] == value {
            return false;
        }
        self.inputs.controls.visible[used] = value;
        let binding = self.inputs.bands[used].binding;
        let Binding { action, ops, .. } = plan.bindings[binding];
        let bound = self.evaluate(plan, ops, Vector::ZERO);
        self.values.note(binding, bound, plan.actions[action].kind);
        true
    }

    /// Takes the new value of an action that stays where it is between its levels. Its uses are
    /// quiet: nothing but the value can change, and nobody has to be told.
    fn take_quietly(&mut self, plan: &Tables, action: ActionId) {
        let (blended, won) = self.values.blend(&self.inputs, plan, action);
        let value = self.shaped(plan, action, blended);
        self.inputs.learn(plan, action, value, won);
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
            let action = plan.uses[plan.inputs[id].of].action;
            if self.agenda.waiting.contains(action) {
                self.catch_up_with(plan, action);
            }
        }
    }
}

impl Inputs {
    /// Whether the action of a quiet use stays where it is between its levels when the control
    /// reports a magnitude.
    #[inline]
    pub fn stays(
        &self,
        episodes: &Episodes,
        used: ControlUseId,
        action: ActionId,
        magnitude: f64,
    ) -> bool {
        let band = &self.bands[used];
        let state = &episodes.actions[action];
        match state.level {
            // Of two that are as far, the other may count.
            Level::Down => magnitude >= band.high + 2.0 * TIE,
            Level::Woken => magnitude >= band.high + 2.0 * TIE && magnitude <= band.light,
            Level::Up => magnitude <= band.low && !state.awake,
        }
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
            agenda.waiting.insert(plan.uses[plan.inputs[id].of].action);
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
            Quiet::One(used) => self.learn_of(plan, used, value, won),
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
        if band.may_wait {
            let spec = &plan.actions[plan.uses[used].action];
            let raw = self.controls.visible[used].magnitude();
            band.learn(spec, raw, value.magnitude_of(spec.kind), won == Some(band.binding));
        }
    }
}
