//! The rules, one file each.

mod alike_names;
mod brief_guard;
mod busy_holder;
mod claim_in_vain;
mod crossed_signs;
mod dead_yield;
mod distance_bent;
mod double_fire;
mod double_step;
mod drifting_blend;
mod every_tick;
mod fast_diagonal;
mod half_reach;
mod hold_only;
mod human_times;
mod idle_step;
mod idle_waiver;
mod keys;
mod late_press;
mod letter_as_shortcut;
mod letters_as_places;
mod lone_keys;
mod many_keys;
mod mixed_travel;
mod modifier_last;
mod never_fires;
mod never_opens;
mod no_hysteresis;
mod no_rebind;
mod no_way_out;
mod pairs;
mod rare_keys;
mod sequence_time;
mod setting_kills;
mod turning_press;
mod void_plus;

pub use pairs::{Pair, each_pair};
mod raw_stick;
mod same_direction;
mod scheme_gap;
mod shadowed_keys;
mod shared_control;
mod step_order;
mod system_key;
mod unreachable;
mod unused;

use super::{Place, Remark, Rule};
use harmonym_lang::model::Profile;
use harmonym_lang::report::{Level, Mend};

/// Every rule.
pub const RULES: &[Rule] = &[
    shared_control::RULE,
    double_fire::RULE,
    never_fires::RULE,
    never_opens::RULE,
    same_direction::RULE,
    lone_keys::RULE,
    half_reach::RULE,
    crossed_signs::RULE,
    fast_diagonal::RULE,
    raw_stick::RULE,
    no_hysteresis::RULE,
    mixed_travel::RULE,
    step_order::RULE,
    idle_step::RULE,
    every_tick::RULE,
    scheme_gap::RULE,
    unreachable::RULE,
    shadowed_keys::RULE,
    letters_as_places::RULE,
    system_key::RULE,
    many_keys::RULE,
    hold_only::RULE,
    no_rebind::RULE,
    unused::RULE,
    no_way_out::RULE,
    alike_names::RULE,
    distance_bent::RULE,
    dead_yield::RULE,
    brief_guard::RULE,
    void_plus::RULE,
    late_press::RULE,
    busy_holder::RULE,
    claim_in_vain::RULE,
    drifting_blend::RULE,
    human_times::RULE,
    setting_kills::RULE,
    double_step::RULE,
    modifier_last::RULE,
    letter_as_shortcut::RULE,
    rare_keys::RULE,
    turning_press::RULE,
    sequence_time::RULE,
    idle_waiver::RULE,
];

/// Leaves out what is waived, and tells of waivers that hide nothing.
pub(super) fn waive(profile: &Profile, all: Vec<Remark>) -> Vec<Remark> {
    let mut waivers: Vec<(Place, &str, bool)> = Vec::new();
    for rule in &profile.waive {
        waivers.push((Place::top("waive"), rule, false));
    }
    for (id, map) in profile.maps.entries() {
        for rule in &map.waive {
            waivers.push((Place::map(profile, id), rule, false));
        }
    }
    for (id, action) in profile.actions.entries() {
        for rule in &action.waive {
            waivers.push((Place::action(profile, id), rule, false));
        }
    }
    let mut kept = Vec::new();
    for remark in all {
        let mut hidden = false;
        for (place, rule, used) in &mut waivers {
            let covers = place.map.is_none()
                || (place.action.is_none() && place.map == remark.place.map)
                || (place.action.is_some() && place.action == remark.place.action);
            if *rule == remark.diagnostic.rule && covers {
                (*used, hidden) = (true, true);
            }
        }
        if !hidden {
            kept.push(remark);
        }
    }
    let all_idle = waivers.iter().any(|(_, rule, _)| *rule == "idle-waiver");
    for (mut place, rule, _) in
        waivers.into_iter().filter(|(_, rule, used)| !used && *rule != "idle-waiver")
    {
        if all_idle {
            continue;
        }
        let list = match place.path.as_slice() {
            [top] if top == "waive" => "waive".to_owned(),
            _ => {
                place.path.push("waive".to_owned());
                format!("{}.waive", place.address)
            }
        };
        place.address.clone_from(&list);
        let rest = rest_of(profile, &place, rule);
        let mut remark = place.at(rule).tell(
            format!("waiving `{rule}` hides nothing here"),
            format!("take `{rule}` out of `waive`"),
        );
        (remark.diagnostic.rule, remark.diagnostic.level) = ("idle-waiver", Level::Note);
        remark.diagnostic.mends = vec![match rest.is_empty() {
            true => Mend::Remove(list),
            false => Mend::Set(list, rest.join(" ")),
        }];
        kept.push(remark);
    }
    kept
}

/// The other rules of a list of waivers.
fn rest_of(profile: &Profile, place: &Place, rule: &str) -> Vec<String> {
    let list = match (place.action, place.map) {
        (Some(id), _) => &profile.actions[id].waive,
        (None, Some(id)) => &profile.maps[id].waive,
        (None, None) => &profile.waive,
    };
    list.iter().filter(|one| *one != rule).cloned().collect()
}
