//! Model to plan.
//!
//! Guarantees to every later stage: the plan passed [`Plan::verify`], and its actions stand in
//! working order.

mod lower;
mod order;

use crate::base::{
    ActionId, BindingId, ControlId, Id, IdRange, MapId, NamedId, SchemeId, Stretch, Table,
};
use crate::controls::{Catalogue, Class, Reported};
use crate::model::{self, Profile};
use crate::plan::{
    Action, Alternative, Binding, Control, Guard, Map, Named, Names, Op, Param, Plan, Trigger,
};
use lower::{Lowered, Lowering};

/// Lays a profile flat.
///
/// # Panics
/// When the plan doesn't pass its own verification: a fault of ours, never of the profile's.
pub fn compile(profile: &Profile) -> Plan {
    let named: Vec<Vec<ActionId>> = profile.actions.iter().map(model::Action::names).collect();
    let working = order::working_order(&named);
    let mut order = vec![ActionId::new(0); working.len()];
    for (place, id) in working.iter().enumerate() {
        order[id.index()] = ActionId::new(place);
    }
    let reported = Catalogue::get().reported();
    let mut compiler = Compiler {
        profile,
        order: &order,
        lowering: Lowering::new(reported.len(), &order),
        bindings: Vec::new(),
        alternatives: Vec::new(),
        guards: Vec::new(),
        listed: Vec::new(),
        names: NameLists::default(),
    };
    let mut actions: Vec<Action> = working.iter().map(|&id| compiler.action(id)).collect();
    let mut named_by = vec![Vec::new(); actions.len()];
    for (id, others) in named.iter().enumerate() {
        for other in others {
            named_by[order[other.index()].index()].push(order[id]);
        }
    }
    for (action, mut by) in actions.iter_mut().zip(named_by) {
        by.sort();
        action.named_by = Stretch::push(&mut compiler.listed, by);
    }
    let plan = compiler.finish(actions.into(), reported);
    plan.verify().unwrap_or_else(|fault| panic!("the plan is not sound: {fault}"));
    plan
}

struct Compiler<'a> {
    profile: &'a Profile,
    /// Where each action of the model stands in working order.
    order: &'a [ActionId],
    lowering: Lowering<'a>,
    bindings: Vec<Binding>,
    alternatives: Vec<Alternative>,
    guards: Vec<Guard>,
    listed: Vec<ActionId>,
    names: NameLists,
}

#[derive(Default)]
struct NameLists {
    actions: Vec<String>,
    bindings: Vec<String>,
    alternatives: Vec<String>,
}

impl Compiler<'_> {
    fn action(&mut self, model_id: ActionId) -> Action {
        let profile = self.profile;
        let action = &profile.actions[model_id];
        let id = self.order[model_id.index()];
        let first_binding = self.bindings.len();
        for binding in &action.bindings {
            let ops = self.lowering.binding(BindingId::new(self.bindings.len()), &binding.chain);
            self.bindings.push(Binding { action: id, ops });
            self.names.bindings.push(profile.binding_address(model_id, binding));
        }
        let first_alternative = self.alternatives.len();
        for alternative in &action.fire {
            let trigger = self.trigger(&alternative.trigger);
            let guards: Vec<_> =
                alternative.guards.iter().map(|guard| self.guard(*guard)).collect();
            let guards = Stretch::push(&mut self.guards, guards);
            self.alternatives.push(Alternative { action: id, trigger, guards });
            self.names.alternatives.push(alternative.text.clone());
        }
        self.names.actions.push(profile.address(model_id));
        let yields: Vec<_> =
            action.yields_to.iter().map(|other| self.order[other.index()]).collect();
        let model::Levels { wake, down, up } = action.levels;
        Action {
            kind: action.kind,
            map: action.map,
            bindings: IdRange::new(first_binding, self.bindings.len()),
            blend: action.blend,
            shape: self.lowering.shape(&action.shape, action.kind),
            alternatives: IdRange::new(first_alternative, self.alternatives.len()),
            wake,
            down,
            up,
            yields_to: Stretch::push(&mut self.listed, yields),
            named_by: Stretch::default(),
        }
    }

    fn trigger(&mut self, trigger: &model::Trigger) -> Trigger {
        use model::Trigger as Model;
        let lowering = &mut self.lowering;
        match trigger {
            Model::Press => Trigger::Press,
            Model::Release => Trigger::Release,
            Model::While => Trigger::While,
            Model::Change => Trigger::Change,
            Model::Hold(time) => Trigger::Hold(lowering.param(*time)),
            Model::Tap(time) => Trigger::Tap(lowering.param(*time)),
            Model::Charge(time) => Trigger::Charge(lowering.param(*time)),
            Model::Taps { count, gap } => {
                Trigger::Taps(lowering.param(*count), lowering.param(*gap))
            }
            Model::Repeat { every, after } => {
                let every = lowering.param(*every);
                Trigger::Repeat(every, after.map_or(every, |after| lowering.param(after)))
            }
            Model::Sequence { steps, within } => {
                let within = lowering.param(*within);
                let steps: Vec<_> = steps.iter().map(|id| self.order[id.index()]).collect();
                Trigger::Sequence(Stretch::push(&mut self.listed, steps), within)
            }
        }
    }

    fn guard(&self, guard: model::Guard) -> Guard {
        match guard {
            model::Guard::With(action) => Guard::Live(self.order[action.index()], true),
            model::Guard::Without(action) => Guard::Live(self.order[action.index()], false),
            model::Guard::When(named) => Guard::Holds(named, true),
            model::Guard::Unless(named) => Guard::Holds(named, false),
        }
    }

    fn finish(self, actions: Table<ActionId, Action>, reported: &[Reported]) -> Plan {
        let profile = self.profile;
        let Lowered { ops, params, conditions, memories, readers } = self.lowering.finish();
        let mut plan = Plan {
            controls: controls(reported),
            readers,
            schemes_of_class: schemes_of_class(profile),
            named: Vec::new().into(),
            params,
            conditions,
            ops,
            memories,
            bindings: self.bindings.into(),
            alternatives: self.alternatives.into(),
            guards: self.guards.into(),
            actions,
            listed: self.listed.into(),
            by_file: self.order.into(),
            maps: maps(profile, self.order),
            names: names(self.names, profile, reported),
        };
        plan.named = named(profile, &plan);
        plan
    }
}

/// The settings and facts, each with the actions that read it.
fn named(profile: &Profile, plan: &Plan) -> Table<NamedId, Named> {
    let mut readers = vec![Vec::new(); profile.named.len()];
    for (id, action) in plan.actions.entries() {
        let ops = action.bindings.iter().flat_map(|b| plan.bindings[b].ops.iter());
        for op in ops.chain(action.shape.iter()) {
            named_of_op(plan, &plan.ops[op], &mut |named| readers[named.index()].push(id));
        }
        for alternative in action.alternatives.iter() {
            for guard in plan.alternatives[alternative].guards.of(&plan.guards) {
                if let Guard::Holds(named, _) = guard {
                    readers[named.index()].push(id);
                }
            }
        }
    }
    let mut params = vec![Vec::new(); profile.named.len()];
    for (id, param) in plan.params.entries() {
        if let Param::Named { named, .. } = param {
            params[named.index()].push(id);
        }
    }
    let all =
        profile.named.iter().zip(params).zip(readers).map(|((named, params), mut readers)| {
            readers.dedup();
            Named {
                is_setting: named.is_setting,
                range: named.range,
                default: named.default,
                factor: named.factor,
                params: params.into(),
                readers: readers.into(),
            }
        });
    all.collect::<Vec<_>>().into()
}

/// Calls `found` with every setting and fact that an operation reads.
fn named_of_op(plan: &Plan, op: &Op, found: &mut dyn FnMut(NamedId)) {
    for condition in op.conditions.of(&plan.conditions) {
        found(condition.named);
    }
    for param in op.code.params().into_iter().flat_map(IdRange::iter) {
        if let Param::Named { named, .. } = plan.params[param] {
            found(named);
        }
    }
}

fn names(lists: NameLists, profile: &Profile, reported: &[Reported]) -> Names {
    fn all<I: Id>(names: impl Iterator<Item = String>) -> Table<I, String> {
        names.collect::<Vec<_>>().into()
    }
    Names {
        actions: lists.actions.into(),
        bindings: lists.bindings.into(),
        alternatives: lists.alternatives.into(),
        maps: all(profile.maps.iter().map(|m| m.name.clone())),
        schemes: all(profile.schemes.iter().map(|s| s.name.clone())),
        controls: all(reported.iter().map(|r| r.name.clone())),
        named: all(profile.named.iter().map(|n| n.name.clone())),
    }
}

fn controls(reported: &[Reported]) -> Table<ControlId, Control> {
    let all = reported.iter().map(|r| Control { class: r.class, kind: r.kind });
    all.collect::<Vec<_>>().into()
}

fn schemes_of_class(profile: &Profile) -> Box<[Box<[SchemeId]>]> {
    let of = |class: Class| -> Box<[SchemeId]> {
        let has = profile.schemes.entries().filter(|(_, scheme)| scheme.classes.contains(&class));
        has.map(|(id, _)| id).collect()
    };
    Class::ALL.into_iter().map(of).collect()
}

fn maps(profile: &Profile, order: &[ActionId]) -> Table<MapId, Map> {
    let plan = |map: &model::Map| {
        let mut actions: Vec<_> = map.actions.iter().map(|id| order[id.index()]).collect();
        actions.sort();
        Map { actions: actions.into(), start: map.start }
    };
    profile.maps.iter().map(plan).collect::<Vec<_>>().into()
}
