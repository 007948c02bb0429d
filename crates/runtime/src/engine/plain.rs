//! Plain actions: those that one button switches and nothing else has a say in. A report of the button
//! goes straight to them, and where one cue is all of the rule, what comes of a press and of a release is
//! written out here. What is told is what the general way tells.

use super::Tell;
use super::cues::Cues;
use super::episodes::{ActionState, AlternativeState, Level, Stage};
use super::event::{Cause, EventKind};
use super::state::State;
use super::timers::When;
use crate::base::{
    ActionId, AlternativeId, BindingId, ControlKind, ControlUseId, OpId, PhysicalInputId, Time,
    Vector,
};
use crate::plan::{Action, Cue, Tables};

/// A pressed button.
const ON: Vector = Vector::axis(1.0);

/// The one use of a button, and its action.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct Switch {
    action: ActionId,
    binding: BindingId,
    used: ControlUseId,
    /// The operation that is the binding.
    op: OpId,
    /// The one alternative of its rule, if a press and a release are all that it follows.
    alternative: Option<AlternativeId>,
}

impl Switch {
    /// The action that a button switches by itself, if it is plain:
    ///
    /// - The button is all that the use listens to, on whichever device of its class, and the one
    ///   binding has no step: it is the button as it is. There is no shape. So the value is what is
    ///   reported.
    /// - Nothing but that value decides what comes of it: it has no guards, and yields to nobody. Nobody
    ///   names it: nobody else has to be looked at.
    pub fn found(plan: &Tables, id: PhysicalInputId) -> Option<Self> {
        let input = &plan.inputs[id];
        let used = &plan.uses[input.of];
        let spec = &plan.actions[used.action];
        let is_all = plan.controls[input.control].kind == ControlKind::Button
            && input.device.is_none()
            && used.inputs.len() == 1;
        let is_plain = spec.bindings.len() == 1
            && spec.shape.len() == 1
            && !spec.has_guards
            && spec.yields_to.is_empty()
            && spec.named_by.is_empty();
        let binding = spec.bindings.first()?;
        let ops = plan.bindings[binding].ops;
        let op = ops.first()?;
        let switch = Self {
            action: used.action,
            binding,
            used: input.of,
            op,
            alternative: sole_alternative(plan, spec),
        };
        (is_all && is_plain && ops.len() == 1).then_some(switch)
    }
}

/// The one alternative of an action whose episodes last as long as its button is down. A press takes it
/// all the way down, and the cue follows nothing but that and the time.
fn sole_alternative(plan: &Tables, spec: &Action) -> Option<AlternativeId> {
    let id = spec.alternatives.first()?;
    let lasts = match plan.alternatives[id].cue {
        Cue::Press
        | Cue::Release
        | Cue::While
        | Cue::Hold(_)
        | Cue::Tap(_)
        | Cue::Charge(_)
        | Cue::Repeat(..) => true,
        Cue::Change | Cue::Taps(..) | Cue::Sequence(..) => false,
    };
    (spec.alternatives.len() == 1 && spec.down <= 1.0 && lasts).then_some(id)
}

impl State {
    /// Switches a plain action, as working it out would. All that it is made of is a number, in x.
    #[inline]
    pub fn switch_plainly(
        &mut self,
        plan: &Tables,
        switch: Switch,
        is_on: bool,
        tell: &mut (impl Tell + ?Sized),
    ) {
        let Switch { action, binding, used, op, alternative } = switch;
        let value = Vector::from(is_on);
        self.inputs.controls.visible[used].x = value.x;
        self.values.ops[op].x = value.x;
        self.values.bindings[binding].press(is_on);
        let state = &mut self.episodes.actions[action];
        if is_on {
            state.from = Some(binding);
        }
        // An end by force may have left it down with no episode.
        let is_down = state.is_down();
        let mut cues = self.cues(plan, tell);
        match alternative {
            Some(id) if is_on => cues.press_plainly(action, id),
            Some(id) if is_down => cues.release_plainly(action, id),
            _ => cues.settle(action, value),
        }
    }
}

impl<T: Tell + ?Sized> Cues<'_, T> {
    /// A plain action goes down, out of rest.
    #[inline]
    fn press_plainly(&mut self, action: ActionId, id: AlternativeId) {
        let now = self.clock.now;
        self.episodes.actions[action].press(now);
        self.episodes.alternatives[id] =
            AlternativeState { stage: Stage::Open, ..AlternativeState::NEW };
        self.agenda.moved.insert(action);
        self.tell(action, EventKind::Wake, ON, 0.0);
        match self.plan.alternatives[id].cue {
            Cue::Press => self.fire(id, ON, None),
            Cue::While => self.episodes.switch_on(self.clock, self.plan, id),
            Cue::Hold(time) => self.wait(id, time, When::Reach),
            Cue::Tap(time) => self.wait(id, time, When::RunOut),
            Cue::Charge(time) => self.episodes.alternatives[id].time = self.values.time(time),
            Cue::Repeat(every, after) => {
                self.fire(id, ON, None);
                self.repeat(id, every, after);
            }
            Cue::Release | Cue::Change | Cue::Taps(..) | Cue::Sequence(..) => {}
        }
    }

    /// A plain action that is down comes up, which ends its episode.
    #[inline]
    fn release_plainly(&mut self, action: ActionId, id: AlternativeId) {
        let (plan, now) = (self.plan, self.clock.now);
        let cue = plan.alternatives[id].cue;
        let reached = match cue {
            Cue::Hold(_) | Cue::Charge(_) => {
                self.episodes.progress(self.clock, self.values, plan, action)
            }
            _ => f64::from(u8::from(self.episodes.actions[action].first_fire.is_some())),
        };
        let state = &mut self.episodes.actions[action];
        let (has_fired, waited) = (state.first_fire.is_some(), now.since(state.down_at));
        state.release(reached);
        let own = &self.episodes.alternatives[id];
        let (fires, otherwise) = match cue {
            Cue::Release | Cue::Tap(_) => (true, Cause::Released),
            Cue::Charge(_) => (waited >= own.time, Cause::TooShort),
            Cue::Hold(_) if !has_fired => (false, Cause::TooShort),
            Cue::While => (!own.stretch_fired, Cause::Released),
            Cue::Hold(_) | Cue::Press | Cue::Repeat(..) => (false, Cause::Released),
            Cue::Change | Cue::Taps(..) | Cue::Sequence(..) => (false, Cause::Released),
        };
        let cause = if fires { Cause::Released } else { otherwise };
        if fires {
            self.fire(id, ON, None);
        }
        self.episodes.set_over(id, now, cause);
        self.agenda.moved.insert(action);
        let state = &mut self.episodes.actions[action];
        (state.awake, state.counts) = (false, false);
        match state.first_fire {
            Some(_) => self.tell(action, EventKind::Rest(cause), Vector::ZERO, 1.0),
            None => self.tell(action, EventKind::Lapse(cause), Vector::ZERO, reached),
        }
    }
}

impl ActionState {
    /// Down, in a new episode.
    #[inline]
    fn press(&mut self, now: Time) {
        (self.level, self.awake, self.was_down, self.counts) = (Level::Down, true, true, true);
        (self.may_resume, self.reached, self.first_fire) = (false, 0.0, None);
        (self.woke_at, self.down_at) = (now, now);
        (self.value, self.settled, self.last_down) = (ON, ON, ON);
    }

    /// Up, with what the episode has come to.
    #[inline]
    fn release(&mut self, reached: f64) {
        (self.level, self.counts) = (Level::Up, false);
        (self.value, self.settled) = (Vector::ZERO, Vector::ZERO);
        self.reached = self.reached.max(reached);
    }
}
