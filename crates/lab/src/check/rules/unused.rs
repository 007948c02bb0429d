//! `unused`: a setting, fact, preset, device or scheme that nothing uses; a map without actions; an action without bindings.

use crate::check::context::all_steps;
use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::model::{Guard, Number, Profile};
use harmonym_lang::report::{Level, Mend};
use harmonym_runtime::base::{Class, VariableId};
use std::collections::BTreeSet;

pub(super) const RULE: Rule = Rule {
    name: "unused",
    level: Level::Note,
    finds: "A setting, fact, preset, device or scheme that nothing uses; a map without actions; an action without bindings.",
    why: "It is left over, or something else was meant to use it.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    let profile = context.profile;
    let used = used_numbers(profile);
    let mut left = |kind: &str, name: &str| {
        let place = Place::thing(kind, name);
        let address = place.address.clone();
        let mut remark = place.tell(
            format!("nothing uses the {kind} {name}"),
            format!("`harmonym remove {address}`"),
        );
        // What the owner or the game names is theirs; a preset is only text.
        if kind == "preset" {
            remark.diagnostic.mends = vec![Mend::Remove(address)];
        }
        found.push(remark);
    };
    for (_, named) in profile.variables.entries().filter(|(id, _)| !used.contains(id)) {
        left(if named.is_setting { "setting" } else { "fact" }, &named.name);
    }
    let texts = texts(profile);
    for (name, _) in &profile.presets {
        if !texts.iter().any(|(of, text)| of != name && names_preset(text, name)) {
            left("preset", name);
        }
    }
    let touched: BTreeSet<usize> = context
        .uses
        .iter()
        .flat_map(|one| &one.parts)
        .map(|(control, _)| {
            class_place(
                profile.catalogue.reported()[harmonym_runtime::base::Id::index(*control)].class,
            )
        })
        .collect();
    for class in profile.catalogue.classes() {
        if matches!(class, Class::Own(_)) && !touched.contains(&class_place(class)) {
            left("device", profile.catalogue.word(class));
        }
    }
    // Where nothing is begun, nothing is left over.
    let is_begun = profile.actions.ids().next().is_some();
    for (id, scheme) in profile.schemes.entries().filter(|_| is_begun) {
        let bound = profile.actions.iter().flat_map(|a| &a.bindings).any(|b| b.scheme == Some(id));
        let stands_in = scheme
            .classes
            .iter()
            .any(|class| matches!(class, Class::Own(_)) && touched.contains(&class_place(*class)));
        if !bound && !stands_in {
            left("scheme", &scheme.name);
        }
    }
    for (id, map) in profile.maps.entries() {
        if map.actions.is_empty() && map.also.is_empty() {
            let help = format!("`harmonym add action {}.NAME --value switch`", map.name);
            let message = format!("the map {} has no actions", map.name);
            found.push(Place::map(profile, id).tell(message, help));
        }
    }
    for (id, action) in context.actions() {
        if action.bindings.is_empty() && !Context::is_sequence(action) {
            let address = profile.address(id);
            let help = format!("`harmonym bind {address} …`");
            found.push(
                Place::action(profile, id).tell(format!("nothing is bound to {address}"), help),
            );
        }
    }
}

fn class_place(class: Class) -> usize {
    match class {
        Class::Own(index) => 100 + usize::from(index),
        other => Class::BUILT_IN.iter().position(|one| *one == other).unwrap_or(99),
    }
}

/// The settings and facts that some step, guard or cue names.
fn used_numbers(profile: &Profile) -> BTreeSet<VariableId> {
    let mut used = BTreeSet::new();
    let mut number = |n: &Number| {
        if let Number::Variable { named, .. } = n {
            used.insert(*named);
        }
    };
    let mut conditions = Vec::new();
    for action in profile.actions.iter() {
        let steps = action.bindings.iter().flat_map(|b| all_steps(&b.chain)).chain(&action.shape);
        for step in steps {
            step.kind.numbers().into_iter().for_each(&mut number);
            conditions.extend(step.conditions.iter().map(|condition| condition.named));
        }
        for one in &action.fire {
            one.cue.numbers().into_iter().for_each(&mut number);
            conditions.extend(one.guards.iter().filter_map(|guard| match guard {
                Guard::When(named) | Guard::Unless(named) => Some(*named),
                Guard::With(_) | Guard::Without(_) => None,
            }));
        }
    }
    used.extend(conditions);
    used
}

/// Every text that may name a preset, with the preset it belongs to.
fn texts(profile: &Profile) -> Vec<(&str, &str)> {
    let presets = profile.presets.iter().map(|(name, steps)| (name.as_str(), steps.as_str()));
    let bindings = profile.actions.iter().flat_map(|a| &a.bindings).map(|b| ("", b.text.as_str()));
    let shapes = profile.actions.iter().filter_map(|a| a.shape_text.as_deref()).map(|t| ("", t));
    presets.chain(bindings).chain(shapes).collect()
}

fn names_preset(text: &str, name: &str) -> bool {
    let ends = |rest: &str| !rest.starts_with(|c: char| c.is_ascii_alphanumeric() || c == '-');
    text.split('@').skip(1).any(|rest| rest.trim_start().strip_prefix(name).is_some_and(ends))
}
