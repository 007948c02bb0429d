//! The flat form of a profile that the engine runs: tables of numbers, made once, never changed.
//!
//! Guarantees to every later stage: every id in it is in bounds and every operation reads only
//! operations before it; [`Plan::verify`] says so, and a plan is only handed out verified.
#![deny(clippy::unwrap_used, clippy::expect_used, clippy::panic)]
#![deny(clippy::print_stdout, clippy::print_stderr)]

mod dump;
mod op;
mod verify;

pub use crate::base::Blend;
pub use op::{Code, Condition, Op, Opposed, Param};

use crate::base::{
    ActionId, AlternativeId, BindingId, ControlId, IdRange, Kind, MapId, NamedId, OpId, ParamId,
    SchemeId, Stretch, Table,
};
pub use crate::controls::{Class, ControlKind};

/// Everything the engine needs to know of a profile.
#[derive(Clone, Debug)]
pub struct Plan {
    /// What each control reports.
    pub controls: Table<ControlId, Control>,
    /// For each control, the bindings that read it, in working order.
    pub readers: Table<ControlId, Box<[BindingId]>>,
    /// For each of [`Class::ALL`], the schemes that have it, in file order.
    pub schemes_of_class: Box<[Box<[SchemeId]>]>,
    /// The settings and facts.
    pub named: Table<NamedId, Named>,
    /// The numbers of operations and triggers.
    pub params: Table<ParamId, Param>,
    /// The conditions that operations share.
    pub conditions: Box<[Condition]>,
    /// The operations of all bindings and shapes.
    pub ops: Table<OpId, Op>,
    /// How many cells of memory the operations share.
    pub memories: usize,
    /// The bindings, grouped by action.
    pub bindings: Table<BindingId, Binding>,
    /// The alternatives of all fire rules, grouped by action.
    pub alternatives: Table<AlternativeId, Alternative>,
    /// The guards that alternatives share.
    pub guards: Box<[Guard]>,
    /// The actions in working order: again and again the earliest in the file of those whose named
    /// actions are done.
    pub actions: Table<ActionId, Action>,
    /// The actions that other actions list: those they yield to, those of sequences, and those
    /// that name them.
    pub listed: Box<[ActionId]>,
    /// The actions in file order.
    pub by_file: Box<[ActionId]>,
    /// The maps, in file order.
    pub maps: Table<MapId, Map>,
    /// What everything is called. Not read while hands move.
    pub names: Names,
}

/// A setting or fact.
#[derive(Clone, Debug)]
pub struct Named {
    /// Whether it is the player's.
    pub is_setting: bool,
    /// The least and the most, in its own unit, where that is said.
    pub range: Option<(f64, f64)>,
    /// Its value at first, in its own unit.
    pub default: f64,
    /// How many base units one of its own is.
    pub factor: f64,
    /// The numbers of steps and triggers that it stands for.
    pub params: Box<[ParamId]>,
    /// The actions that read it.
    pub readers: Box<[ActionId]>,
}

/// What must be so for an alternative to fire.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Guard {
    /// An action is live; `false`: it is not.
    Live(ActionId, bool),
    /// A setting or fact is other than 0; `false`: it is 0.
    Holds(NamedId, bool),
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
    /// How they share it.
    pub blend: Blend,
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
    /// The actions it yields to.
    pub yields_to: Stretch,
    /// The actions that name it.
    pub named_by: Stretch,
}

/// One alternative of a fire rule.
#[derive(Clone, Copy, Debug)]
pub struct Alternative {
    /// The action it belongs to.
    pub action: ActionId,
    /// The condition.
    pub trigger: Trigger,
    /// What else must be so.
    pub guards: Stretch,
}

/// When an alternative fires. Times are in seconds.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Trigger {
    /// Once, at going down.
    Press,
    /// Once, at coming up.
    Release,
    /// At every tick while down.
    While,
    /// Whenever the value changes while down, and at coming up.
    Change,
    /// Once, after so long of being down.
    Hold(ParamId),
    /// At coming up, if that was within so long.
    Tap(ParamId),
    /// At coming up, after so long at least.
    Charge(ParamId),
    /// At so many presses, each at most so long after the one before.
    Taps(ParamId, ParamId),
    /// At the press, after the second time, and then every so often.
    Repeat(ParamId, ParamId),
    /// When the listed actions have fired in order, the last at most so long after the first.
    Sequence(Stretch, ParamId),
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
    /// Settings and facts.
    pub named: Table<NamedId, String>,
}

impl Plan {
    /// The setting or fact called `name`.
    pub fn find_named(&self, name: &str) -> Option<NamedId> {
        self.names.named.entries().find(|(_, known)| *known == name).map(|(id, _)| id)
    }

    /// The action at `address`, `map.action`.
    pub fn find_action(&self, address: &str) -> Option<ActionId> {
        self.names.actions.entries().find(|(_, known)| *known == address).map(|(id, _)| id)
    }

    /// The map called `name`.
    pub fn find_map(&self, name: &str) -> Option<MapId> {
        self.names.maps.entries().find(|(_, known)| *known == name).map(|(id, _)| id)
    }
}
