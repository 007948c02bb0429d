//! Values: numbers, what operations gave, and what steps keep between events.
//!
//! Holds of itself: each number is what its setting or fact is worth, held to the number's range.

use super::evaluate::{BindingState, Memory};
use super::flat::flat_bindings;
use super::looks::LastStep;
use super::motion::Motion;
use crate::base::{
    ActionId, BindingId, Id, MemoryId, MotionId, OpId, ParamId, Table, Time, VariableId, Vector,
};
use crate::plan::{Condition, Kin, Operands, Tables};

/// All that values come from.
#[derive(Clone, Debug)]
pub(super) struct Values {
    /// Settings and facts, in base units.
    variables: Table<VariableId, f64>,
    params: Table<ParamId, f64>,
    /// What each operation gave last.
    pub ops: Table<OpId, Vector>,
    pub memories: Table<MemoryId, Memory>,
    pub motions: Table<MotionId, Motion>,
    pub bindings: Table<BindingId, BindingState>,
    /// Which bindings may give something else though nothing they read was reported: steps of theirs
    /// move, or they read an action.
    pub follows_time: Table<BindingId, bool>,
    /// Which bindings are worked out as two numbers.
    pub is_flat: Table<BindingId, bool>,
    /// By action: the step that moves its value, where it is the last one.
    pub last_steps: Table<ActionId, Option<LastStep>>,
    /// Counts every time that a binding leaves 0 or changes, to tell which came first.
    pub moment: u64,
    /// The action that is evaluated, and whether the value has passed a step that moves.
    pub evaluating: Option<ActionId>,
    pub passed_moving: bool,
}

impl Values {
    pub fn new(plan: &Tables) -> Self {
        let mut values = Self {
            variables: Table::filled(0.0, plan.variables.len()),
            params: Table::filled(0.0, plan.params.len()),
            ops: Table::filled(Vector::ZERO, plan.ops.len()),
            memories: Table::filled(Memory::default(), plan.kept_in_pause.len()),
            motions: Table::filled(Motion::default(), plan.motions),
            bindings: Table::filled(BindingState::default(), plan.bindings.len()),
            follows_time: follows_time(plan),
            is_flat: flat_bindings(plan),
            last_steps: plan
                .actions
                .ids()
                .map(|id| LastStep::of(plan, id))
                .collect::<Vec<_>>()
                .into(),
            moment: 0,
            evaluating: None,
            passed_moving: false,
        };
        values.reset(plan);
        values
    }

    pub fn reset(&mut self, plan: &Tables) {
        let Self {
            variables,
            params,
            ops,
            memories,
            motions,
            bindings,
            follows_time: _,
            is_flat: _,
            last_steps: _,
            moment,
            evaluating,
            passed_moving,
        } = self;
        variables.fill(0.0);
        for (id, param) in plan.params.entries() {
            params[id] = param.value(0.0);
        }
        ops.fill(Vector::ZERO);
        memories.fill(Memory::default());
        motions.fill(Motion::default());
        bindings.fill(BindingState::default());
        (*moment, *evaluating, *passed_moving) = (0, None, false);
        for (id, variable) in plan.variables.entries() {
            self.set_variable(plan, id, variable.default);
        }
    }

    /// What an action's steps keep, and what they gave last, is what it was as `old`.
    pub fn take_action_over(
        &mut self,
        (plan, own): (&Tables, ActionId),
        before: &Self,
        (old_plan, old): (&Tables, ActionId),
    ) {
        let (to, from) = (&plan.actions[own], &old_plan.actions[old]);
        self.memories.take_over(to.memories, &before.memories, from.memories);
        self.motions.take_over(to.motions, &before.motions, from.motions);
        self.bindings.take_over(to.bindings, &before.bindings, from.bindings);
        self.ops.take_over(to.shape, &before.ops, from.shape);
        for (to, from) in to.bindings.iter().zip(from.bindings.iter()) {
            let (to, from) = (plan.bindings[to].ops, old_plan.bindings[from].ops);
            self.ops.take_over(to, &before.ops, from);
        }
    }

    /// What the settings and facts of an old plan were worth: one that nobody changed is worth what the
    /// new plan says. Tells which are worth something else than before.
    pub fn take_variables_over(
        &mut self,
        plan: &Tables,
        before: &Self,
        old_plan: &Tables,
        kin: &Kin,
    ) -> Vec<VariableId> {
        let mut changed = Vec::new();
        for (id, of) in kin.variables.entries() {
            let Some(of) = *of else { continue };
            let (spec, old) = (&plan.variables[id], &old_plan.variables[of]);
            let was = before.variables[of];
            let is_like = (spec.is_setting, spec.factor) == (old.is_setting, old.factor);
            if is_like && was != old.default * old.factor {
                self.set_variable(plan, id, spec.held_to_range(was / spec.factor));
            }
            if self.variables[id] != was {
                changed.push(id);
            }
        }
        changed
    }

    /// A setting or fact becomes `value`, in its own unit, and so do the numbers that it stands for.
    /// Tells whether that is another value.
    pub fn set_variable(&mut self, plan: &Tables, id: VariableId, value: f64) -> bool {
        let spec = &plan.variables[id];
        let before = std::mem::replace(&mut self.variables[id], value * spec.factor);
        for &param in &spec.params {
            self.params[param] = plan.params[param].value(self.variables[id]);
        }
        self.variables[id] != before
    }

    /// What a setting or fact is worth, in its own unit.
    pub fn worth(&self, plan: &Tables, id: VariableId) -> Option<f64> {
        Some(self.variables.get(id)? / plan.variables.get(id)?.factor)
    }

    /// Whether a setting or fact is other than 0.
    pub fn is_set(&self, id: VariableId) -> bool {
        self.variables[id] != 0.0
    }

    /// Whether a condition holds.
    pub fn holds(&self, condition: &Condition) -> bool {
        self.is_set(condition.named) != condition.unless
    }

    /// A number of an operation or cue.
    pub fn number(&self, id: ParamId) -> f64 {
        self.params[id]
    }

    /// The number so many places after another.
    pub fn nth(&self, id: ParamId, n: u32) -> f64 {
        self.params[ParamId::new(id.index() + n as usize)]
    }

    /// A time in seconds as nanoseconds, at least one.
    pub fn time(&self, id: ParamId) -> Time {
        Time::from_nanos(((self.params[id] * 1e9).round() as u64).max(1))
    }

    /// Sets all that the steps of an action keep back to its start; `keeps` says what stays.
    pub fn forget(&mut self, plan: &Tables, action: ActionId, keeps: impl Fn(MemoryId) -> bool) {
        let spec = &plan.actions[action];
        for memory in spec.memories.iter().filter(|id| !keeps(*id)) {
            self.memories[memory] = Memory::default();
        }
        for motion in spec.motions.iter() {
            self.motions[motion] = Motion::default();
        }
    }
}

fn follows_time(plan: &Tables) -> Table<BindingId, bool> {
    let follows = |op: OpId| {
        let kind = plan.ops[op].kind;
        kind.motion().is_some() || matches!(kind.operands(), Operands::Action(_))
    };
    let all = plan.bindings.iter().map(|binding| binding.ops.iter().any(follows));
    all.collect::<Vec<_>>().into()
}
