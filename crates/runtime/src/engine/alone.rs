//! Actions that nobody else sees: what a control of theirs reports is worked out on the spot, without the
//! lists of what is to be worked out that actions which see each other need.

use super::Tell;
use super::inputs::Inputs;
use super::state::State;
use super::wait::is_read;
use crate::base::{ActionId, Class, Contact, ControlId, ControlUseId, PhysicalInputId, Vector};
use crate::plan::{Action, ControlUse, Tables};

/// The one use that listens to a control, and its action.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct Lone {
    pub action: ActionId,
    pub used: ControlUseId,
    /// Whether what the first device reports is what the use sees.
    pub is_direct: bool,
    /// Whether its value is read beyond whether it is down.
    pub is_read: bool,
    /// Whether nobody else sees what comes of the action ([`is_unseen`]), and nothing of it moves on its own.
    pub is_still: bool,
}

impl Lone {
    pub fn of(plan: &Tables, id: PhysicalInputId) -> Self {
        let input = &plan.inputs[id];
        let used = &plan.uses[input.of];
        // Of half-axes that are not its own an operation takes nothing.
        let is_direct = used.inputs.len() == 1 && input.device.is_none();
        let action = &plan.actions[used.action];
        Self {
            action: used.action,
            used: input.of,
            is_direct,
            is_read: is_read(action),
            is_still: is_unseen(action) && used.pluses.is_empty() && action.motions.is_empty(),
        }
    }
}

/// Whether nobody else sees what comes of an action, so that nobody else has to be worked out after it:
/// who reads it names it too. What itself waits for others was settled when they did something.
fn is_unseen(action: &Action) -> bool {
    action.named_by.is_empty()
}

impl Inputs {
    /// The one action that listens to a control, on whichever devices, if nobody else sees what comes of it.
    /// No use of it is part of a `+`, and nothing is muted that the report might free.
    pub fn sole_unseen(&self, plan: &Tables, control: ControlId) -> Option<ActionId> {
        let all = || (0..).map_while(|nth| self.controls.listener(control, nth));
        let used = |id: PhysicalInputId| &plan.uses[plan.inputs[id].of];
        let action = used(all().next()?).action;
        let is_own = |id| {
            let ControlUse { action: own, pluses, .. } = used(id);
            *own == action && pluses.is_empty() && self.controls.inputs[id].muted == 0
        };
        (all().all(is_own) && is_unseen(&plan.actions[action])).then_some(action)
    }
}

impl State {
    /// Works an unseen action out whose one use of a control sees something else, as the general way does:
    /// the control's report is put down.
    #[inline(never)]
    pub fn work_alone(
        &mut self,
        plan: &Tables,
        of: Lone,
        seen: Vector,
        tell: &mut (impl Tell + ?Sized),
    ) {
        let Lone { action, used, is_direct, .. } = of;
        let value = if is_direct { seen } else { self.inputs.controls.gathered(plan, used) };
        if self.inputs.controls.visible[used] == value {
            return;
        }
        self.inputs.controls.visible[used] = value;
        self.inputs.controls.remember(plan, action);
        let kind = plan.actions[action].kind;
        for &binding in plan.uses[used].bindings.of(&plan.use_bindings) {
            let value = self.evaluate_binding(plan, binding);
            self.values.note(binding, value, kind);
        }
        let (value, won) = self.blended_and_shaped(plan, action);
        self.inputs.learn(plan, action, value, won);
        let state = &mut self.episodes.actions[action];
        if won.is_some() {
            state.from = won;
        }
        state.value = value;
        self.cues(plan, tell).settle(action, value);
    }

    /// Takes a report to the one action that listens, which nobody else sees.
    pub fn report_to_one(
        &mut self,
        plan: &Tables,
        (contact, class): (Contact, Class),
        action: ActionId,
        value: Vector,
        tell: &mut (impl Tell + ?Sized),
    ) {
        let Contact { control, device } = contact;
        let before = self.inputs.controls.raw(control, device.into());
        if value.x == before.x && value.y == before.y {
            return;
        }
        let is_news = self.inputs.tells_scheme(class, before, value.magnitude());
        // What waits was reported before this.
        self.catch_up_before(plan, action);
        self.inputs.controls.put(contact, value);
        if is_news {
            self.inputs.use_class(self.clock, plan, class, tell);
        }
        let mut sees_new = false;
        let mut nth = 0;
        while let Some(id) = self.inputs.controls.listener(control, nth) {
            nth += 1;
            sees_new |= self.inputs.see_anew(&mut self.agenda, plan, plan.inputs[id].of);
        }
        if sees_new {
            let value = self.take_value(plan, action);
            self.cues(plan, tell).settle(action, value);
        }
    }
}
