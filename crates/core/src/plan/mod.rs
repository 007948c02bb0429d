//! The flat form of a profile that the engine runs: tables of numbers, made once, never changed.
//!
//! Guarantees to every later stage: every id in it is in bounds and every operation reads only
//! operations before it; [`Plan::verify`] says so, and a plan is only handed out verified.
#![deny(clippy::unwrap_used, clippy::expect_used, clippy::panic)]
#![deny(clippy::print_stdout, clippy::print_stderr)]

mod dump;
mod op;
mod verify;

pub use op::{Op, Opposed};

use crate::base::{
    ActionId, AlternativeId, BindingId, ControlId, IdRange, Kind, MapId, OpId, SchemeId, Table,
    Time,
};
pub use crate::controls::{Class, ControlKind};

/// Everything the engine needs to know of a profile.
#[derive(Clone, Debug)]
pub struct Plan {
    /// What each control reports.
    pub controls: Table<ControlId, Control>,
    /// For each control, the bindings that read it, in file order.
    pub readers: Table<ControlId, Box<[BindingId]>>,
    /// For each of [`Class::ALL`], the schemes that have it, in file order.
    pub schemes_of_class: Box<[Box<[SchemeId]>]>,
    /// The operations of all bindings and shapes.
    pub ops: Table<OpId, Op>,
    /// How many cells of memory the operations share.
    pub memories: usize,
    /// The bindings, grouped by action.
    pub bindings: Table<BindingId, Binding>,
    /// The alternatives of all fire rules, grouped by action.
    pub alternatives: Table<AlternativeId, Alternative>,
    /// The actions, in file order.
    pub actions: Table<ActionId, Action>,
    /// The maps, in file order.
    pub maps: Table<MapId, Map>,
    /// What everything is called. Not read while hands move.
    pub names: Names,
}

/// A control that a device reports.
#[derive(Clone, Copy, Debug)]
pub struct Control {
    /// The class of its device.
    pub class: Class,
    /// What kind of thing it is.
    pub kind: ControlKind,
}

/// A binding's operations; the last one gives its value.
#[derive(Clone, Copy, Debug)]
pub struct Binding {
    /// The action it reaches.
    pub action: ActionId,
    /// Its operations.
    pub ops: IdRange<OpId>,
}

/// An action's parts.
#[derive(Clone, Copy, Debug)]
pub struct Action {
    /// What it gives.
    pub kind: Kind,
    /// The map it belongs to.
    pub map: MapId,
    /// Its bindings.
    pub bindings: IdRange<BindingId>,
    /// The operations after the blend; the last one gives its value.
    pub shape: IdRange<OpId>,
    /// Its alternatives.
    pub alternatives: IdRange<AlternativeId>,
    /// It wakes at this magnitude or more.
    pub wake: f64,
    /// It is down at this magnitude or more.
    pub down: f64,
    /// It is up under this magnitude.
    pub up: f64,
}

/// One alternative of a fire rule.
#[derive(Clone, Copy, Debug)]
pub struct Alternative {
    /// The action it belongs to.
    pub action: ActionId,
    /// The condition.
    pub trigger: Trigger,
}

/// When an alternative fires.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Trigger {
    /// Once, at going down.
    Press,
    /// Once, at coming up.
    Release,
    /// At every tick while down.
    While,
    /// Once, after so long of being down.
    Hold(Time),
}

/// A map's actions.
#[derive(Clone, Debug)]
pub struct Map {
    /// Its actions in file order.
    pub actions: Box<[ActionId]>,
    /// Whether it is open when play begins.
    pub start: bool,
}

/// Addresses and texts, for what is told to people.
#[derive(Clone, Debug)]
pub struct Names {
    /// `map.action`.
    pub actions: Table<ActionId, String>,
    /// `map.action@scheme#N`.
    pub bindings: Table<BindingId, String>,
    /// Triggers as written.
    pub alternatives: Table<AlternativeId, String>,
    /// Maps.
    pub maps: Table<MapId, String>,
    /// Schemes.
    pub schemes: Table<SchemeId, String>,
    /// Controls.
    pub controls: Table<ControlId, String>,
}

impl Plan {
    /// The map called `name`.
    pub fn find_map(&self, name: &str) -> Option<MapId> {
        self.names.maps.entries().find(|(_, known)| *known == name).map(|(id, _)| id)
    }
}
