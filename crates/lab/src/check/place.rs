//! Where a remark belongs, as a path into the profile's file.

use super::Remark;
use harmonym_lang::model::{ActionId, Profile};
use harmonym_lang::report::Diagnostic;
use harmonym_runtime::base::MapId;

/// A key of the profile's file, an item of its list, a word in that.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Place {
    /// The address that commands take.
    pub address: String,
    /// The keys from the top.
    pub path: Vec<String>,
    /// Which item of the list there, from 0.
    pub item: Option<usize>,
    /// A word of the text there.
    pub word: Option<String>,
    /// The map, for what is waived there.
    pub map: Option<MapId>,
    /// The action, for what is waived there.
    pub action: Option<ActionId>,
}

fn keys(all: &[&str]) -> Vec<String> {
    all.iter().map(|&key| key.to_owned()).collect()
}

impl Place {
    /// A key at the top.
    pub fn top(key: &str) -> Self {
        Self { address: key.to_owned(), path: keys(&[key]), ..Self::default() }
    }

    /// A scheme, setting, fact, preset or device.
    pub fn thing(kind: &str, name: &str) -> Self {
        Self { address: format!("{kind}.{name}"), path: keys(&[kind, name]), ..Self::default() }
    }

    /// A map.
    pub fn map(profile: &Profile, id: MapId) -> Self {
        let name = &profile.maps[id].name;
        Self { address: name.clone(), path: keys(&["map", name]), map: Some(id), ..Self::default() }
    }

    /// An action.
    pub fn action(profile: &Profile, id: ActionId) -> Self {
        let action = &profile.actions[id];
        let path = keys(&["map", &profile.maps[action.map].name, &action.name]);
        let address = profile.address(id);
        Self { address, path, map: Some(action.map), action: Some(id), ..Self::default() }
    }

    /// A key of an action; the action itself, where the file doesn't have the key.
    pub fn key(profile: &Profile, id: ActionId, key: &str) -> Self {
        let mut place = Self::action(profile, id);
        place.path.push(key.to_owned());
        place.address = format!("{}.{key}", place.address);
        place
    }

    /// One of an action's bindings, by its place among them.
    pub fn binding(profile: &Profile, id: ActionId, index: usize) -> Self {
        let mut place = Self::action(profile, id);
        if let Some(binding) = profile.actions[id].bindings.get(index) {
            place.path.extend(keys(&["bind", profile.scheme_name(binding)]));
            place.item = Some(binding.number - 1);
            place.address = profile.binding_address(id, binding);
        }
        place
    }

    /// The same, at a word.
    #[must_use]
    pub fn at(mut self, word: impl Into<String>) -> Self {
        self.word = Some(word.into());
        self
    }

    /// A remark about it; the rule is filled in by who runs it.
    pub fn tell(self, message: impl Into<String>, help: impl Into<String>) -> Remark {
        let told = Diagnostic::refused(message, help);
        let diagnostic = Diagnostic { address: Some(self.address.clone()), ..told };
        Remark { place: self, diagnostic }
    }
}
