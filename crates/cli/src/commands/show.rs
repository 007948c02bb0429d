//! `show`: the profile at a glance, one map, one action.

use crate::args::{Format, PlayerArg};
use crate::commands::load_as;
use crate::failure::Failure;
use crate::output::Output;
use crate::view::{action, profile, shown};
use harmonym_lab::told::{self, Start};
use harmonym_lang::model::{ActionId, Profile};
use harmonym_lang::report::{did_you_mean, nearest};
use harmonym_runtime::base::MapId;
use std::path::Path;

pub fn run(
    (file, player): (Option<&Path>, &PlayerArg),
    address: Option<&str>,
    format: Format,
    output: &mut Output,
) -> Result<(), Failure> {
    let loaded = load_as(file, player, output)?;
    let found = address.map(|address| find(&loaded.profile, address)).transpose()?;
    if format == Format::Json {
        let profile = &loaded.profile;
        return output.write(|out| {
            told::line(out, &Start::new("show", profile.title.as_deref()));
            match found {
                None => shown::whole(out, profile),
                Some(Found::Map(map)) => shown::one_map(out, profile, map),
                Some(Found::Action(id)) => shown::one_action(out, profile, id, true),
            }
        });
    }
    let text = match found {
        None => profile::glance(&loaded.profile, output.look),
        Some(Found::Map(map)) => profile::one_map(&loaded.profile, map, output.look),
        Some(Found::Action(id)) => action::text(&loaded.profile, id, output.look),
    };
    output.prose(&text)
}

/// What an address leads to.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Found {
    Map(MapId),
    Action(ActionId),
}

impl Found {
    /// Whether `action` is it or belongs to it.
    pub fn holds(self, profile: &Profile, action: ActionId) -> bool {
        match self {
            Self::Map(map) => profile.actions[action].map == map,
            Self::Action(id) => id == action,
        }
    }
}

/// The map or action that `address` names: `quay`, `map.quay`, `quay.walk`, or `walk` where only
/// one map has it.
pub fn find(profile: &Profile, address: &str) -> Result<Found, Failure> {
    let map = address.strip_prefix("map.").unwrap_or(address);
    if let Some(map) = profile.find_map(map) {
        return Ok(Found::Map(map));
    }
    let actions = profile.find_actions(address.strip_prefix("map.").unwrap_or(address));
    match actions.as_slice() {
        [one] => return Ok(Found::Action(*one)),
        [] => {}
        several => {
            let all: Vec<_> = several.iter().map(|&id| profile.address(id)).collect();
            let message = format!("`{address}` is an action of several maps");
            return Err(Failure::new(message, format!("write one of {}", all.join(", "))));
        }
    }
    let addresses: Vec<_> = profile.actions.ids().map(|id| profile.address(id)).collect();
    let maps = profile.maps.iter().map(|map| map.name.as_str());
    let names = profile.actions.iter().map(|action| action.name.as_str());
    let known = addresses.iter().map(String::as_str).chain(maps).chain(names);
    let help = did_you_mean(nearest(address, known), || {
        "`harmonym show` lists all maps and actions".to_owned()
    });
    Err(Failure::new(format!("there is no map or action `{address}`"), help))
}
