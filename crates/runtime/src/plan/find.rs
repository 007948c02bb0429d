//! Names to ids.

use super::{PhysicalInput, Plan};
use crate::base::{ActionId, BindingId, Class, ControlId, Id, MapId, SchemeId, Table, VariableId};
use std::fmt;

/// What a name was looked for as.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum What {
    /// An action.
    Action,
    /// A binding.
    Binding,
    /// A control that a device reports itself.
    Control,
    /// A map.
    Map,
    /// A scheme.
    Scheme,
    /// A setting or fact.
    Variable,
    /// A class of devices.
    Class,
}

impl What {
    /// With its article, as messages say it.
    pub const fn a_word(self) -> &'static str {
        match self {
            Self::Action => "an action",
            Self::Binding => "a binding",
            Self::Control => "a control",
            Self::Map => "a map",
            Self::Scheme => "a scheme",
            Self::Variable => "a setting or fact",
            Self::Class => "a class of devices",
        }
    }
}

/// A name that nothing in a plan goes by.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Unknown {
    /// What was looked for.
    pub what: What,
    /// The name.
    pub name: String,
}

impl fmt::Display for Unknown {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "`{}` is not {} of this profile", self.name.escape_debug(), self.what.a_word())
    }
}

impl std::error::Error for Unknown {}

fn find<I: Id>(names: &Table<I, impl AsRef<str>>, name: &str, what: What) -> Result<I, Unknown> {
    let found = names.entries().find(|(_, known)| known.as_ref() == name).map(|(id, _)| id);
    found.ok_or_else(|| Unknown { what, name: name.to_owned() })
}

impl Plan {
    /// The action at `address`, `map.action`.
    ///
    /// # Errors
    /// When there is none; so for every kind of name.
    pub fn find_action(&self, address: &str) -> Result<ActionId, Unknown> {
        find(&self.names().actions, address, What::Action)
    }

    /// The binding at `address`, `map.action@scheme#N`.
    ///
    /// # Errors
    /// When there is none.
    pub fn find_binding(&self, address: &str) -> Result<BindingId, Unknown> {
        find(&self.names().bindings, address, What::Binding)
    }

    /// The control called `name`, such as `key.KeyW` or `pad.left-stick`: one that a device reports
    /// itself, also of a device of the profile's own.
    ///
    /// # Errors
    /// When there is none.
    pub fn find_control(&self, name: &str) -> Result<ControlId, Unknown> {
        find(&self.names().controls, name, What::Control)
    }

    /// The map called `name`.
    ///
    /// # Errors
    /// When there is none.
    pub fn find_map(&self, name: &str) -> Result<MapId, Unknown> {
        find(&self.names().maps, name, What::Map)
    }

    /// The scheme called `name`.
    ///
    /// # Errors
    /// When there is none.
    pub fn find_scheme(&self, name: &str) -> Result<SchemeId, Unknown> {
        find(&self.names().schemes, name, What::Scheme)
    }

    /// The setting or fact called `name`.
    ///
    /// # Errors
    /// When there is none.
    pub fn find_variable(&self, name: &str) -> Result<VariableId, Unknown> {
        find(&self.names().variables, name, What::Variable)
    }

    /// Whether devices of a class do anything: some scheme has it, or what reads it counts in all.
    pub fn uses_class(&self, class: Class) -> bool {
        let in_scheme = self.schemes_of_class().get(class.index()).is_some_and(|s| !s.is_empty());
        let mut own = self.inputs().iter().filter(|i| self.controls()[i.control].class == class);
        in_scheme || own.any(|input| self.counts_always(input, class))
    }

    /// Whether what reads a control of a class counts whatever scheme the game narrows to: its binding
    /// is of none, or no scheme has the class.
    pub(crate) fn counts_always(&self, input: &PhysicalInput, class: Class) -> bool {
        let of_none = self.schemes_of_class().get(class.index()).is_none_or(|all| all.is_empty());
        let bindings = self.uses()[input.of].bindings.of(self.use_bindings());
        of_none || bindings.iter().any(|id| self.bindings()[*id].scheme.is_none())
    }
}
