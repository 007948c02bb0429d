//! Which control may take which place.

use super::near;
use crate::model::{Action, ActionId, Binding, Head, Profile};
use crate::profile::controls::unknown_control;
use crate::report::Comparing;
use harmonym_runtime::base::{Class, ControlKind, ControlName, Kind, SchemeId};
use harmonym_runtime::controls::Reads;
use std::collections::HashMap;

/// What stands in a player's file for no control.
pub const NONE: &str = "none";

/// Why something cannot be: a message, and what to do.
pub(super) type Not = (String, String);

/// An action of a profile in one of its schemes.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct Owned {
    /// The action.
    pub action: ActionId,
    /// The scheme.
    pub scheme: SchemeId,
}

/// A control that a player may choose.
#[derive(Clone, Debug, PartialEq)]
pub struct Choice {
    /// Its name as written.
    pub name: String,
    /// The class of its device.
    pub class: Class,
    /// What kind of thing it is.
    pub kind: ControlKind,
    pub(super) head: Head,
}

impl Choice {
    /// The control called `name`: also on one device only, also the key that types a character.
    ///
    /// # Errors
    /// When there is none: a message, and what to write instead.
    pub fn named(profile: &Profile, name: &str) -> Result<Self, Not> {
        Self::of(profile, name, &Comparing::default())
    }

    pub(super) fn of(profile: &Profile, name: &str, comparing: &Comparing) -> Result<Self, Not> {
        let parts = ControlName::new(name);
        let plain = parts.plain();
        let Ok(device) = parts.device() else {
            let message = format!("`{name}` does not number a device");
            return Err((message, format!("write `{plain}` for any")));
        };
        let (class, kind, reads, gives) = match plain.strip_prefix("char.") {
            Some(typed) => match (typed.chars().next(), typed.chars().nth(1)) {
                (Some(c), None) => (Class::Key, ControlKind::Button, Reads::Char(c), Kind::Axis),
                _ => {
                    let message = format!("`{name}` does not name one character");
                    return Err((
                        message,
                        "write one character after the dot: `char.z`".to_owned(),
                    ));
                }
            },
            None => {
                let Some(entry) = profile.catalogue.find(&plain) else {
                    let help = unknown_control(&plain, &profile.catalogue, comparing);
                    return Err((format!("there is no control `{name}`"), help));
                };
                (entry.class, entry.kind, entry.reads, entry.gives)
            }
        };
        let head = Head::Control { name: name.to_owned(), kind, reads, gives, device };
        Ok(Self { name: name.to_owned(), class, kind, head })
    }

    /// Why a player may not choose it in a scheme: another device's, or reserved.
    pub(super) fn expect_free(&self, profile: &Profile, scheme: SchemeId) -> Result<(), Not> {
        let of = &profile.schemes[scheme];
        if !of.classes.contains(&self.class) {
            let class = profile.catalogue.word(self.class);
            let message = format!("the scheme `{}` has no `{class}` device", of.name);
            let classes: Vec<&str> =
                of.classes.iter().map(|class| profile.catalogue.word(*class)).collect();
            return Err((message, format!("choose a control of {}", classes.join(" or "))));
        }
        let touched = super::conflict::touched(profile, &self.head);
        let is_reserved = profile.reserved.iter().any(|name| {
            let own =
                Self::named(profile, name).map(|one| super::conflict::touched(profile, &one.head));
            own.is_ok_and(|own| super::conflict::meet(&own, &touched))
        });
        if is_reserved {
            let message = format!("`{}` is reserved: no player may bind it", self.name);
            return Err((message, "choose another control".to_owned()));
        }
        Ok(())
    }
}

/// A profile with what its actions are found by, for the many entries of a file.
pub(super) struct Found<'p> {
    pub profile: &'p Profile,
    /// In file order.
    addresses: Vec<String>,
    actions: HashMap<String, ActionId>,
    pub comparing: Comparing,
}

impl<'p> Found<'p> {
    pub fn new(profile: &'p Profile) -> Self {
        let addresses: Vec<String> = profile.actions.ids().map(|id| profile.address(id)).collect();
        let actions = addresses.iter().cloned().zip(profile.actions.ids()).collect();
        Self { profile, addresses, actions, comparing: Comparing::default() }
    }

    /// The action and scheme that an address of a player's file names.
    pub fn owned(&self, of: &str) -> Result<Owned, Not> {
        let (address, scheme) = of.split_once('@').unwrap_or((of, ""));
        let Some(action) = self.actions.get(address).copied() else {
            let names = self.comparing.of(self.addresses.iter().map(String::as_str));
            let help = near(address, names, "it may have been in an earlier version");
            return Err((format!("there is no action `{address}`"), help));
        };
        let found = self.profile.schemes.entries().find(|(_, one)| one.name == scheme);
        let Some((scheme, _)) = found else {
            let names = self.profile.schemes.iter().map(|one| one.name.as_str());
            let help = near(scheme, self.comparing.of(names), "");
            return Err((format!("there is no scheme `{scheme}`"), help));
        };
        Ok(Owned { action, scheme })
    }
}

/// Whether a player may change an action at all.
pub(super) fn may_change(action: &Action) -> bool {
    action.rebind
}

/// Whether a binding is the player's to change in a scheme.
pub(super) fn is_open(binding: &Binding, scheme: SchemeId) -> bool {
    binding.rebind && binding.scheme == Some(scheme)
}

/// Whether a control of one kind may take the place of another: one of its own kind; a lever for a button
/// of an action that says its levels, or that is only on or off.
pub(super) fn fits(action: &Action, old: ControlKind, new: ControlKind) -> bool {
    let is_graded = action.kind == Kind::Switch || action.levels_given;
    old == new || (old == ControlKind::Button && new == ControlKind::Lever && is_graded)
}

/// Whether one control alone can drive an action.
pub(super) fn drives(action: &Action, kind: ControlKind) -> bool {
    match action.kind {
        Kind::Switch => fits(action, ControlKind::Button, kind),
        Kind::Axis => kind == ControlKind::Button || fits(action, ControlKind::Button, kind),
        Kind::Plane | Kind::Space | Kind::Turn => false,
    }
}
