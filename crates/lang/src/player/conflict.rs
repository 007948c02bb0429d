//! Other actions that a control would reach as well.

use super::Owned;
use crate::model::{ActionId, Head, Profile};
use harmonym_runtime::base::{ControlId, MapId, MapKind};
use harmonym_runtime::controls::Layout;
use std::collections::HashMap;

/// Another action that reads a control, and may be live at the same time.
#[derive(Clone, Debug, PartialEq)]
pub struct Conflict {
    /// The action.
    pub action: ActionId,
    /// The control as that action's binding writes it.
    pub control: String,
    /// Whether its player may change it.
    pub is_open: bool,
}

/// What a control touches, and on which device only.
pub(super) type Touched = (Vec<(ControlId, u8)>, Option<u8>);

/// What the head of a chain touches, if it is a control.
pub(super) fn touched(profile: &Profile, head: &Head) -> Touched {
    match head {
        Head::Control { reads, device, .. } => {
            (profile.catalogue.touched(*reads, Layout::default()), *device)
        }
        _ => (Vec::new(), None),
    }
}

/// Whether both touch a half-axis of one control of one device.
pub(super) fn meet((a, on_a): &Touched, (b, on_b): &Touched) -> bool {
    let same_device = on_a.is_none() || on_b.is_none() || on_a == on_b;
    same_device && a.iter().any(|(one, x)| b.iter().any(|(other, y)| one == other && x & y != 0))
}

/// The other actions of a player's `profile` that read `control` in a scheme and can be live together with an
/// action; not those that share a control with it in the profile as it is `shipped`: that is meant so.
pub fn conflicts(
    shipped: &Profile,
    profile: &Profile,
    of: Owned,
    control: &super::Choice,
) -> Vec<Conflict> {
    let ids = profile.actions.ids();
    ids.flat_map(|id| conflicts_with(shipped, profile, (of, control), id)).collect()
}

/// Those with one other action.
pub(super) fn conflicts_with(
    shipped: &Profile,
    profile: &Profile,
    (of, control): (Owned, &super::Choice),
    id: ActionId,
) -> Vec<Conflict> {
    let mut all = Vec::new();
    let is_other = id != of.action && can_meet(profile, id, of.action);
    if !is_other || share(shipped, id, of) {
        return all;
    }
    let wanted = touched(profile, &control.head);
    let action = &profile.actions[id];
    for binding in &action.bindings {
        if binding.scheme.is_some_and(|scheme| scheme != of.scheme) {
            continue;
        }
        let is_open = action.rebind && binding.rebind && binding.scheme.is_some();
        binding.chain.for_each_head(&mut |head| {
            if let Head::Control { name, .. } = head
                && meet(&wanted, &touched(profile, head))
            {
                all.push(Conflict { action: id, control: name.clone(), is_open });
            }
        });
    }
    all
}

/// Which actions read which control.
pub(super) struct Readers(HashMap<ControlId, Vec<ActionId>>);

impl Readers {
    pub fn of(profile: &Profile) -> Self {
        let mut all: HashMap<ControlId, Vec<ActionId>> = HashMap::new();
        for (id, action) in profile.actions.entries() {
            for binding in &action.bindings {
                binding.chain.for_each_head(&mut |head| {
                    for (control, _) in touched(profile, head).0 {
                        let own = all.entry(control).or_default();
                        if own.last() != Some(&id) {
                            own.push(id);
                        }
                    }
                });
            }
        }
        Self(all)
    }

    /// Those that read something of what a choice touches, each once for each control of it.
    pub fn of_control(
        &self,
        profile: &Profile,
        choice: &super::Choice,
    ) -> impl Iterator<Item = ActionId> {
        let controls = touched(profile, &choice.head).0.into_iter();
        controls.flat_map(|(control, _)| self.0.get(&control).into_iter().flatten().copied())
    }
}

/// What the bindings of an action that count in a scheme touch.
fn reads(profile: &Profile, id: ActionId, of: Owned) -> Vec<Touched> {
    let mut all = Vec::new();
    let counts = |scheme: Option<_>| scheme.is_none_or(|scheme| scheme == of.scheme);
    for binding in profile.actions[id].bindings.iter().filter(|one| counts(one.scheme)) {
        binding.chain.for_each_head(&mut |head| all.push(touched(profile, head)));
    }
    all
}

/// Whether two actions read a control both.
fn share(profile: &Profile, id: ActionId, of: Owned) -> bool {
    let own = reads(profile, of.action, of);
    reads(profile, id, of).iter().any(|one| own.iter().any(|other| meet(one, other)))
}

/// The maps that an action lives in: its own, and those that list it.
fn homes(profile: &Profile, id: ActionId) -> impl Iterator<Item = MapId> {
    let own = profile.actions[id].map;
    let lists = profile.maps.entries().filter(move |(_, map)| map.also.contains(&id));
    std::iter::once(own).chain(lists.map(|(map, _)| map))
}

/// Whether two actions can be live at the same time: in one map, or in two of which not both are solo.
fn can_meet(profile: &Profile, a: ActionId, b: ActionId) -> bool {
    let kind = |map: MapId| profile.maps[map].kind;
    let others: Vec<MapId> = homes(profile, b).collect();
    homes(profile, a).any(|one| {
        others
            .iter()
            .copied()
            .any(|other| one == other || kind(one) != MapKind::Solo || kind(other) != MapKind::Solo)
    })
}
