//! Model to plan.
//!
//! Guarantees to every later stage: the plan passed [`Plan::verify`].

mod lower;

use crate::base::{ActionId, BindingId, ControlId, Id, IdRange, Kind, SchemeId, Table};
use crate::controls::{Catalogue, Class, Reported};
use crate::model::{self, Profile};
use crate::plan::{Action, Alternative, Binding, Control, Map, Names, Plan, Trigger};
use lower::{Lowered, Lowering};

/// Lays a profile flat.
///
/// # Panics
/// When the plan doesn't pass its own verification: a fault of ours, never of the profile's.
pub fn compile(profile: &Profile) -> Plan {
    let reported = Catalogue::get().reported();
    let mut lowering = Lowering::new(reported.len());
    let (mut bindings, mut alternatives) = (Vec::new(), Vec::new());
    let mut names = NameLists::default();
    let mut actions = Vec::new();
    for (id, action) in profile.actions.entries() {
        let first_binding = bindings.len();
        for binding in &action.bindings {
            let ops = lowering.binding(BindingId::new(bindings.len()), &binding.chain);
            bindings.push(Binding { action: id, ops });
            names.bindings.push(profile.binding_address(id, binding));
        }
        let first_alternative = alternatives.len();
        for alternative in &action.fire {
            alternatives.push(Alternative { action: id, trigger: trigger(alternative.trigger) });
            names.alternatives.push(alternative.text.clone());
        }
        let model::Levels { wake, down, up } = action.levels;
        actions.push(Action {
            kind: action.kind,
            map: action.map,
            bindings: IdRange::new(first_binding, bindings.len()),
            shape: lowering.shape(&action.shape, action.kind == Kind::Plane),
            alternatives: IdRange::new(first_alternative, alternatives.len()),
            wake,
            down,
            up,
        });
        names.actions.push(profile.address(id));
    }
    let Lowered { ops, memories, readers } = lowering.finish();
    let plan = Plan {
        controls: controls(reported),
        readers,
        schemes_of_class: schemes_of_class(profile),
        ops,
        memories,
        bindings: bindings.into(),
        alternatives: alternatives.into(),
        actions: actions.into(),
        maps: maps(profile),
        names: names.finish(profile, reported),
    };
    plan.verify().unwrap_or_else(|fault| panic!("the plan is not sound: {fault}"));
    plan
}

#[derive(Default)]
struct NameLists {
    actions: Vec<String>,
    bindings: Vec<String>,
    alternatives: Vec<String>,
}

impl NameLists {
    fn finish(self, profile: &Profile, reported: &[Reported]) -> Names {
        Names {
            actions: self.actions.into(),
            bindings: self.bindings.into(),
            alternatives: self.alternatives.into(),
            maps: profile.maps.iter().map(|m| m.name.clone()).collect::<Vec<_>>().into(),
            schemes: profile.schemes.iter().map(|s| s.name.clone()).collect::<Vec<_>>().into(),
            controls: reported.iter().map(|r| r.name.clone()).collect::<Vec<_>>().into(),
        }
    }
}

fn trigger(trigger: model::Trigger) -> Trigger {
    match trigger {
        model::Trigger::Press => Trigger::Press,
        model::Trigger::Release => Trigger::Release,
        model::Trigger::While => Trigger::While,
        model::Trigger::Hold(time) => Trigger::Hold(time),
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

fn maps(profile: &Profile) -> Table<crate::base::MapId, Map> {
    let plan = |map: &model::Map| Map {
        actions: map.actions.iter().copied().collect::<Box<[ActionId]>>(),
        start: map.start,
    };
    profile.maps.iter().map(plan).collect::<Vec<_>>().into()
}
