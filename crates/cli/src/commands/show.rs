//! `show`: the profile at a glance, one map, one action.

use crate::args::{Format, PlayerArg};
use crate::commands::load_as;
use crate::failure::Failure;
use crate::files::Loaded;
use crate::output::Output;
use crate::output::style::hung;
use crate::view::{action, profile, shown, things};
use harmonym_lab::edit::{Address, Draft, Thing};
use harmonym_lab::told::{self, Start};
use harmonym_lang::model::{ActionId, Profile};
use harmonym_lang::report::{did_you_mean, nearest};
use harmonym_runtime::base::MapId;
use std::path::Path;

pub fn run(
    (file, player): (Option<&Path>, &PlayerArg),
    address: Option<&str>,
    (all, format): (bool, Format),
    output: &mut Output,
) -> Result<(), Failure> {
    let loaded = load_as(file, player, output)?;
    output.page();
    if let Some(thing) = address.and_then(|address| thing_of(&loaded, address)) {
        let thing = thing?;
        if format == Format::Json {
            let title = loaded.profile.title.as_deref();
            return output.write(|out| {
                told::line(out, &Start::new("show", title));
                shown::one_thing(out, &loaded.profile, &thing);
            });
        }
        let users = Draft::new(&loaded.source).users(&thing);
        let text = things::one(&loaded.profile, &thing, &users, output.look);
        return output.write(|out| out.push_str(&text));
    }
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
        None => profile::glance(&loaded.profile, all, output.look),
        Some(Found::Map(map)) => profile::one_map(&loaded.profile, map, all, output.look),
        Some(Found::Action(id)) => {
            hung(&action::text(&loaded.profile, id, output.look), output.look.width)
        }
    };
    output.prose(&text)
}

/// What an address names that is neither a map nor an action, if it looks like one of those.
fn thing_of(loaded: &Loaded, address: &str) -> Option<Result<Thing, Failure>> {
    let kinds = ["setting", "fact", "scheme", "preset", "device"];
    let (kind, name) = address.split_once('.')?;
    let is_map = loaded.profile.find_map(kind).is_some();
    if is_map || !kinds.contains(&kind) || name.is_empty() {
        return None;
    }
    let draft = Draft::new(&loaded.source);
    let named = Address::parse(draft.raw(), address).map_err(Failure::from);
    named.map(|named| named.thing).transpose()
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
