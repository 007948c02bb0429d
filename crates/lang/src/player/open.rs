//! What a player may change at all.

use super::choice::{fits, is_open, may_change};
use super::{Owned, Player};
use crate::model::{ActionId, Head, Profile};
use harmonym_runtime::base::ControlKind;

/// What a player may change of an action in a scheme.
#[derive(Clone, Debug, PartialEq)]
pub struct Open {
    /// The action and the scheme.
    pub of: Owned,
    /// The controls, as the profile writes them, each once and with its kind.
    pub controls: Vec<(String, ControlKind)>,
}

impl Open {
    /// Everything that a player may change of a profile, or of one of its actions.
    pub fn all(profile: &Profile, only: Option<ActionId>) -> Vec<Self> {
        let mut all = Vec::new();
        for (action, spec) in profile.actions.entries() {
            if !may_change(spec) || only.is_some_and(|only| only != action) {
                continue;
            }
            for scheme in profile.schemes.ids() {
                let mut controls: Vec<(String, ControlKind)> = Vec::new();
                for binding in spec.bindings.iter().filter(|one| is_open(one, scheme)) {
                    let known = controls.len();
                    binding.chain.for_each_head(&mut |head| {
                        if let Head::Control { name, kind, .. } = head
                            && !controls.iter().any(|(known, _)| known == name)
                        {
                            controls.push((name.clone(), *kind));
                        }
                    });
                    // In the order in which the binding writes them.
                    controls[known..].sort_by_key(|(name, _)| binding.text.find(name.as_str()));
                }
                if !controls.is_empty() {
                    all.push(Self { of: Owned { action, scheme }, controls });
                }
            }
        }
        all
    }

    /// The kinds of controls that may take the place of one of a kind.
    pub fn kinds(&self, profile: &Profile, old: ControlKind) -> Vec<ControlKind> {
        let action = &profile.actions[self.of.action];
        let all = ControlKind::ALL.into_iter();
        all.filter(|kind| fits(action, old, *kind)).collect()
    }
}

impl Owned {
    /// As a player's file writes it: `quay.hail@desk`.
    pub fn text(&self, profile: &Profile) -> String {
        format!("{}@{}", profile.address(self.action), profile.schemes[self.scheme].name)
    }
}

impl Player {
    /// The control that stands in the place of one of the profile: itself if nothing else does.
    pub fn in_place_of<'a>(&'a self, of: &str, old: &'a str) -> &'a str {
        let mut own = self.replaced.iter().filter(|one| one.of.text == of && one.old.text == old);
        own.next().map_or(old, |one| one.new.text.as_str())
    }
}
