//! Model to plan.
//!
//! Guarantees to every later stage: the plan passed [`Plan::new`], and its actions stand in
//! working order.

mod control_uses;
mod lower;
mod lower_step;
mod order;
pub mod uses;

use crate::model::{self, Head, Profile};
use harmonym_runtime::base::{
    ActionId, BindingId, Class, Id, IdRange, ListSlice, MapId, PlusId, SchemeId, Table, VariableId,
};
use harmonym_runtime::controls::{Layout, Reported};
use harmonym_runtime::plan::{
    Action, Alternative, Binding, Cue, Gather, Guard, Map, Names, Op, OpKind, Param, Plan, Tables,
    Variable, controls_of, inputs_of, notches_of, pluses_of,
};
use lower::{Lowered, Lowering};
use std::sync::Arc;

/// Lays a profile flat for a keyboard layout, by which `char.` finds its keys.
///
/// # Panics
/// When the plan doesn't pass its own verification: a fault of ours, never of the profile's.
pub fn compile(profile: &Profile, layout: Layout) -> Plan {
    let named: Vec<Vec<model::ActionId>> =
        profile.actions.iter().map(model::Action::names).collect();
    let working = order::working_order(&named);
    let mut order: Table<model::ActionId, ActionId> =
        Table::filled(ActionId::new(0), working.len());
    for (place, &id) in working.iter().enumerate() {
        order[id] = ActionId::new(place);
    }
    let mut also_in: Table<model::ActionId, Vec<MapId>> =
        Table::filled(Vec::new(), profile.actions.len());
    for (id, map) in profile.maps.entries() {
        map.also.iter().for_each(|&action| also_in[action].push(id));
    }
    let mut compiler = Compiler {
        profile,
        order: &order,
        also_in: &also_in,
        lowering: Lowering::new(&profile.catalogue, layout, &order),
        bindings: Vec::new(),
        alternatives: Vec::new(),
        guards: Vec::new(),
        listed: Vec::new(),
        listed_maps: Vec::new(),
        pluses: Vec::new(),
        names: NameLists::default(),
    };
    let mut actions: Vec<Action> = working.iter().map(|&id| compiler.action(id)).collect();
    let mut named_by = vec![Vec::new(); actions.len()];
    for (id, others) in profile.actions.ids().zip(&named) {
        for &other in others {
            named_by[order[other].index()].push(order[id]);
        }
    }
    for (action, mut by) in actions.iter_mut().zip(named_by) {
        by.sort();
        action.named_by = ListSlice::push(&mut compiler.listed, by);
    }
    let mut read_by = vec![Vec::new(); actions.len()];
    for (id, action) in profile.actions.entries() {
        for other in read_actions(action) {
            read_by[order[other].index()].push(order[id]);
        }
    }
    for (action, mut by) in actions.iter_mut().zip(read_by) {
        by.sort();
        by.dedup();
        action.read_by = ListSlice::push(&mut compiler.listed, by);
    }
    Plan::new(compiler.finish(actions, layout)).unwrap_or_else(|fault| panic!("{fault}"))
}

struct Compiler<'a> {
    profile: &'a Profile,
    /// Where each action of the model stands in working order.
    order: &'a Table<model::ActionId, ActionId>,
    /// The maps that each action of the model lives in besides its own.
    also_in: &'a Table<model::ActionId, Vec<MapId>>,
    lowering: Lowering<'a>,
    bindings: Vec<Binding>,
    alternatives: Vec<Alternative>,
    guards: Vec<Guard>,
    listed: Vec<ActionId>,
    listed_maps: Vec<MapId>,
    /// Every `+` of each action, as they were made.
    pluses: Vec<IdRange<PlusId>>,
    names: NameLists,
}

#[derive(Default)]
struct NameLists {
    actions: Vec<String>,
    bindings: Vec<String>,
    alternatives: Vec<String>,
    action_labels: Vec<Option<String>>,
    binding_labels: Vec<Option<String>>,
}

impl Compiler<'_> {
    fn action(&mut self, model_id: model::ActionId) -> Action {
        let profile = self.profile;
        let action = &profile.actions[model_id];
        let id = self.order[model_id];
        self.lowering.begin_action(id);
        let first_binding = self.bindings.len();
        let address = profile.address(model_id);
        for binding in &action.bindings {
            let ops = self.lowering.binding(BindingId::new(self.bindings.len()), &binding.chain);
            self.bindings.push(Binding { action: id, scheme: binding.scheme, ops });
            self.names.bindings.push(profile.binding_of(&address, binding));
            self.names.binding_labels.push(binding.label.clone());
        }
        let first_alternative = self.alternatives.len();
        for alternative in &action.fire {
            let cue = self.cue(&alternative.cue);
            let guards: Vec<_> =
                alternative.guards.iter().map(|guard| self.guard(*guard)).collect();
            let guards = ListSlice::push(&mut self.guards, guards);
            self.alternatives.push(Alternative { action: id, cue, guards });
            self.names.alternatives.push(alternative.text.clone());
        }
        self.names.actions.push(address);
        self.names.action_labels.push(action.label.clone());
        let yields: Vec<_> = action.yields_to.iter().map(|other| self.order[*other]).collect();
        let model::Levels { wake, down, up } = action.levels;
        let shape = self.lowering.shape(&action.shape, action.kind);
        let owned = self.lowering.end_action();
        let maps = std::iter::once(action.map).chain(self.also_in[model_id].iter().copied());
        self.pluses.push(owned.pluses);
        Action {
            kind: action.kind,
            map: action.map,
            maps: ListSlice::push(&mut self.listed_maps, maps),
            claim: action.claim,
            carry: action.carry,
            in_pause: action.in_pause,
            uses: owned.reads,
            pluses: ListSlice::default(),
            memories: owned.memories,
            motions: owned.motions,
            has_guards: action.fire.iter().any(|alternative| !alternative.guards.is_empty()),
            has_change: action.fire.iter().any(|one| one.cue == model::Cue::Change),
            works_at_ticks: false,
            bindings: IdRange::new(first_binding, self.bindings.len()),
            blend: action.blend,
            shape,
            alternatives: IdRange::new(first_alternative, self.alternatives.len()),
            wake,
            down,
            up,
            yields_to: ListSlice::push(&mut self.listed, yields),
            named_by: ListSlice::default(),
            read_by: ListSlice::default(),
        }
    }

    fn cue(&mut self, cue: &model::Cue) -> Cue {
        use model::Cue as Model;
        let lowering = &mut self.lowering;
        match cue {
            Model::Press => Cue::Press,
            Model::Release => Cue::Release,
            Model::While => Cue::While,
            Model::Change => Cue::Change,
            Model::Hold(time) => Cue::Hold(lowering.param(*time)),
            Model::Tap(time) => Cue::Tap(lowering.param(*time)),
            Model::Charge(time) => Cue::Charge(lowering.param(*time)),
            Model::Taps { count, gap } => Cue::Taps(lowering.param(*count), lowering.param(*gap)),
            Model::Repeat { every, after } => {
                let every = lowering.param(*every);
                Cue::Repeat(every, after.map_or(every, |after| lowering.param(after)))
            }
            Model::Sequence { steps, within } => {
                let within = lowering.param(*within);
                let steps: Vec<_> = steps.iter().map(|id| self.order[*id]).collect();
                Cue::Sequence(ListSlice::push(&mut self.listed, steps), within)
            }
        }
    }

    fn guard(&self, guard: model::Guard) -> Guard {
        match guard {
            model::Guard::With(action) => Guard::Live(self.order[action], true),
            model::Guard::Without(action) => Guard::Live(self.order[action], false),
            model::Guard::When(named) => Guard::Holds(named, true),
            model::Guard::Unless(named) => Guard::Holds(named, false),
        }
    }

    fn finish(self, mut actions: Vec<Action>, layout: Layout) -> Tables {
        let profile = self.profile;
        let reported = profile.catalogue.reported();
        let lowered = self.lowering.finish();
        let Lowered { ops, params, conditions, kept_in_pause, motions, reads, .. } = lowered;
        let mut listed_pluses = reads.listed_pluses;
        for (action, made) in actions.iter_mut().zip(&self.pluses) {
            let mut own: Vec<_> = made.iter().map(|plus| lowered.place[plus.index()]).collect();
            own.sort();
            action.pluses = ListSlice::push(&mut listed_pluses, own);
        }
        let mut plan = Tables {
            catalogue: Arc::clone(&profile.catalogue),
            layout,
            seats: profile.seats,
            controls: controls_of(&profile.catalogue),
            notches: notches_of(&profile.catalogue),
            inputs_of: inputs_of(reported.len(), &reads.inputs),
            pluses_of: pluses_of(
                reported.len(),
                (&lowered.pluses, &lowered.listed_uses),
                &reads.reads,
                &reads.inputs,
            ),
            pluses: lowered.pluses,
            uses: reads.reads,
            inputs: reads.inputs,
            use_bindings: reads.use_bindings,
            listed_uses: lowered.listed_uses,
            listed_pluses: listed_pluses.into(),
            listed_ops: lowered.listed_ops,
            schemes_of_class: schemes_of_class(profile),
            variables: Vec::new().into(),
            params,
            conditions,
            ops,
            kept_in_pause,
            motions,
            bindings: self.bindings.into(),
            alternatives: self.alternatives.into(),
            guards: self.guards.into(),
            actions: actions.into(),
            listed: self.listed.into(),
            listed_maps: self.listed_maps.into(),
            by_file: self.order.iter().copied().collect(),
            maps: maps(profile, self.order),
            names: names(self.names, profile, reported),
        };
        plan.variables = named(profile, &plan);
        for id in plan.actions.ids() {
            plan.actions[id].works_at_ticks = works_at_ticks(&plan, id);
        }
        plan
    }
}

/// The settings and facts, each with the actions that read it.
fn named(profile: &Profile, plan: &Tables) -> Table<VariableId, Variable> {
    let mut readers = vec![Vec::new(); profile.variables.len()];
    for (id, action) in plan.actions.entries() {
        let ops = action.bindings.iter().flat_map(|b| plan.bindings[b].ops.iter());
        for op in ops.chain(action.shape.iter()) {
            variables_of_op(plan, &plan.ops[op], &mut |named| readers[named.index()].push(id));
        }
        for alternative in action.alternatives.iter() {
            for guard in plan.alternatives[alternative].guards.of(&plan.guards) {
                if let Guard::Holds(named, _) = guard {
                    readers[named.index()].push(id);
                }
            }
        }
    }
    let mut params = vec![Vec::new(); profile.variables.len()];
    for (id, param) in plan.params.entries() {
        if let Param::Variable { named, .. } = param {
            params[named.index()].push(id);
        }
    }
    let all =
        profile.variables.iter().zip(params).zip(readers).map(|((named, params), mut readers)| {
            readers.dedup();
            Variable {
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

/// Whether an action reads what moves by something, or adds up over time.
fn works_at_ticks(plan: &Tables, id: ActionId) -> bool {
    let action = &plan.actions[id];
    let bound = action.bindings.iter().flat_map(|b| plan.bindings[b].ops.iter());
    let travels = |op| matches!(plan.ops[op].kind, OpKind::Travel(_));
    action.uses.iter().any(|read| plan.uses[read].gather == Gather::Sum)
        || bound.chain(action.shape.iter()).any(travels)
}

/// Calls `found` with every setting and fact that an operation reads.
fn variables_of_op(plan: &Tables, op: &Op, found: &mut dyn FnMut(VariableId)) {
    for condition in op.conditions.of(&plan.conditions) {
        found(condition.named);
    }
    for param in op.kind.params().into_iter().flat_map(IdRange::iter) {
        if let Param::Variable { named, .. } = plan.params[param] {
            found(named);
        }
    }
}

fn names(lists: NameLists, profile: &Profile, reported: &[Reported]) -> Names {
    fn all<I: Id, T>(names: impl Iterator<Item = T>) -> Table<I, T> {
        names.collect::<Vec<_>>().into()
    }
    fn labels<'a, I: Id>(
        labels: impl Iterator<Item = &'a Option<String>>,
    ) -> Table<I, Option<String>> {
        labels.cloned().collect::<Vec<_>>().into()
    }
    Names {
        actions: lists.actions.into(),
        bindings: lists.bindings.into(),
        alternatives: lists.alternatives.into(),
        maps: all(profile.maps.iter().map(|m| m.name.clone())),
        schemes: all(profile.schemes.iter().map(|s| s.name.clone())),
        controls: all(reported.iter().map(|r| r.name.clone())),
        variables: all(profile.variables.iter().map(|n| n.name.clone())),
        action_labels: lists.action_labels.into(),
        binding_labels: lists.binding_labels.into(),
        map_labels: labels(profile.maps.iter().map(|m| &m.label)),
        scheme_labels: labels(profile.schemes.iter().map(|s| &s.label)),
    }
}

/// The actions whose values an action reads.
fn read_actions(action: &model::Action) -> Vec<model::ActionId> {
    let mut read = Vec::new();
    for binding in &action.bindings {
        binding.chain.for_each_head(&mut |head| {
            if let Head::Action { action, .. } = head {
                read.push(*action);
            }
        });
    }
    read
}

fn schemes_of_class(profile: &Profile) -> Box<[Box<[SchemeId]>]> {
    let of = |class: Class| -> Box<[SchemeId]> {
        let has = profile.schemes.entries().filter(|(_, scheme)| scheme.classes.contains(&class));
        has.map(|(id, _)| id).collect()
    };
    profile.catalogue.classes().map(of).collect()
}

fn maps(profile: &Profile, order: &Table<model::ActionId, ActionId>) -> Table<MapId, Map> {
    let plan = |map: &model::Map| {
        let all = map.actions.iter().chain(&map.also);
        let mut residents: Vec<_> = all.map(|id| order[*id]).collect();
        residents.sort();
        Map { kind: map.kind, rank: map.rank, residents: residents.into(), start: map.start }
    };
    profile.maps.iter().map(plan).collect::<Vec<_>>().into()
}
