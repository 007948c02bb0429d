//! What a player cannot do any more.

use harmonym_lang::model::{ActionId, Profile};
use harmonym_runtime::base::{Id, Kind, MapKind, SchemeId};

/// What was bound before a player's change and is not after it, in a sentence each: maps on top of others
/// that nothing leaves any more first, then each action that a scheme has lost.
pub fn lost(before: &Profile, after: &Profile) -> Vec<String> {
    let reaches = |profile: &Profile, id: ActionId, scheme: SchemeId| {
        let bindings = &profile.actions[id].bindings;
        bindings.iter().any(|one| one.scheme.is_none_or(|own| own == scheme))
    };
    let mut all = Vec::new();
    for (scheme, of) in after.schemes.entries() {
        for map in after.maps.iter().filter(|map| map.kind == MapKind::Layer) {
            // A switch can tell the game to close it.
            let leaves = |profile: &Profile| {
                let is_switch = |id: &&ActionId| profile.actions[**id].kind == Kind::Switch;
                let mut own = map.actions.iter().filter(is_switch);
                own.any(|id| reaches(profile, *id, scheme))
            };
            if leaves(before) && !leaves(after) {
                all.push(format!("nothing in {} leaves {} now", of.name, map.name));
            }
        }
    }
    for id in (0..after.actions.len()).map(ActionId::new) {
        let gone = |scheme: &SchemeId| reaches(before, id, *scheme) && !reaches(after, id, *scheme);
        for scheme in after.schemes.ids().filter(gone) {
            let (address, name) = (after.address(id), &after.schemes[scheme].name);
            all.push(format!("nothing in {name} does {address} now"));
        }
    }
    all
}
