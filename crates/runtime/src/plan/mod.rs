//! The flat form of a profile that the engine runs: tables of numbers, made once, never changed.
//!
//! Guarantees to every later stage: every id in a [`Plan`] is in bounds, every list is as long as what
//! it belongs to, and every operation reads only operations before it, so that no plan can make the
//! engine index out of bounds. [`Plan::new`] looks at all of that, and there is no other way to one.
#![deny(clippy::unwrap_used, clippy::expect_used, clippy::panic)]
#![deny(clippy::print_stdout, clippy::print_stderr)]

mod derived;
pub(crate) mod digest;
mod dump;
mod find;
mod kin;
mod op;
mod prompt;
mod sealed;
#[cfg(feature = "pack")]
mod usual;
mod verify;
mod written;

pub use derived::{controls_of, inputs_of, notches_of, pluses_of};
pub use find::{Unknown, What};
pub(crate) use kin::Kin;
pub use op::{Condition, Glide, Op, OpKind, Operands, Opposed, Param, Portion};
pub use prompt::Prompt;
pub use sealed::{Plan, Unsound};

use crate::base::{
    ActionId, AlternativeId, BindingId, Blend, Class, Component, ControlId, ControlKind,
    ControlUseId, IdRange, Kind, ListSlice, MapId, MapKind, MemoryId, MotionId, OpId, ParamId,
    PhysicalInputId, PlusId, SchemeId, Table, VariableId,
};
use crate::controls::{Catalogue, Layout};
use std::sync::Arc;

/// What a plan is made of. Whoever has these tables may fill them with anything; only
/// [`Plan::new`] makes a plan of them, and looks at every entry.
#[derive(Clone, Debug, PartialEq)]
pub struct Tables {
    /// The catalogue that its controls are of.
    pub catalogue: Arc<Catalogue>,
    /// The keyboard layout that it is for.
    pub layout: Layout,
    /// How many local players there are, 1 to 8.
    pub seats: u8,
    /// What each control reports.
    pub controls: Table<ControlId, Control>,
    /// The notches of wheels.
    pub notches: Box<[Notch]>,
    /// For each control, the inputs that listen to it, in working order.
    pub inputs_of: Table<ControlId, Box<[PhysicalInputId]>>,
    /// The uses that actions make of controls, grouped by action.
    pub uses: Table<ControlUseId, ControlUse>,
    /// The physical controls that they listen to, grouped by use.
    pub inputs: Table<PhysicalInputId, PhysicalInput>,
    /// Every `+`, those with the most holders first.
    pub pluses: Table<PlusId, Plus>,
    /// For each control, every `+` that has it as its last.
    pub pluses_of: Table<ControlId, Box<[PlusId]>>,
    /// The bindings that uses share.
    pub use_bindings: Box<[BindingId]>,
    /// The uses that a `+` lists.
    pub listed_uses: Box<[ControlUseId]>,
    /// The `+` that uses and actions list.
    pub listed_pluses: Box<[PlusId]>,
    /// The operations that a `+` lists.
    pub listed_ops: Box<[OpId]>,
    /// For each class, by its index, the schemes that have it, in file order.
    pub schemes_of_class: Box<[Box<[SchemeId]>]>,
    /// The settings and facts.
    pub variables: Table<VariableId, Variable>,
    /// The numbers of operations and cues.
    pub params: Table<ParamId, Param>,
    /// The conditions that operations share.
    pub conditions: Box<[Condition]>,
    /// The operations of all bindings and shapes.
    pub ops: Table<OpId, Op>,
    /// The cells of memory that the operations share: which of them a pause leaves as they are.
    pub kept_in_pause: Table<MemoryId, bool>,
    /// How many steps move on their own or add up over time.
    pub motions: usize,
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
    /// The maps that actions live in.
    pub listed_maps: Box<[MapId]>,
    /// The actions in file order.
    pub by_file: Box<[ActionId]>,
    /// The maps, in file order.
    pub maps: Table<MapId, Map>,
    /// What everything is called. Not read while hands move.
    pub names: Names,
}

/// A setting or fact.
#[derive(Clone, Debug, PartialEq)]
#[cfg_attr(feature = "pack", derive(serde::Serialize, serde::Deserialize))]
#[cfg_attr(feature = "pack", serde(rename_all = "kebab-case"))]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct Variable {
    /// Whether it is the player's.
    #[cfg_attr(feature = "pack", serde(default, skip_serializing_if = "crate::base::is_default"))]
    pub is_setting: bool,
    /// The least and the most, in its own unit, where that is said.
    #[cfg_attr(feature = "pack", serde(default, skip_serializing_if = "crate::base::is_default"))]
    pub range: Option<(f64, f64)>,
    /// Its value at first, in its own unit.
    #[cfg_attr(feature = "pack", serde(default, skip_serializing_if = "crate::base::is_default"))]
    pub default: f64,
    /// How many base units one of its own is.
    #[cfg_attr(
        feature = "pack",
        serde(default = "usual::factor", skip_serializing_if = "usual::is_factor")
    )]
    pub factor: f64,
    /// The numbers of steps and cues that it stands for.
    #[cfg_attr(feature = "pack", serde(default, skip_serializing_if = "crate::base::is_default"))]
    pub params: Box<[ParamId]>,
    /// The actions that read it.
    #[cfg_attr(feature = "pack", serde(default, skip_serializing_if = "crate::base::is_default"))]
    pub readers: Box<[ActionId]>,
}

impl Variable {
    /// A value in its own unit as it can be: within the range, where one is said.
    pub fn held_to_range(&self, value: f64) -> f64 {
        self.range.map_or(value, |(least, most)| value.clamp(least, most))
    }
}

/// What must be so for an alternative to fire.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[cfg_attr(feature = "pack", derive(serde::Serialize, serde::Deserialize))]
#[cfg_attr(feature = "pack", serde(rename_all = "kebab-case"))]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub enum Guard {
    /// An action is live; `false`: it is not.
    Live(ActionId, bool),
    /// A setting or fact is other than 0; `false`: it is 0.
    Holds(VariableId, bool),
}

/// A control that a device reports.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Control {
    /// The class of its device.
    pub class: Class,
    /// What kind of thing it is.
    pub kind: ControlKind,
}

/// One notch of a wheel.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Notch {
    /// The wheel.
    pub wheel: ControlId,
    /// The component of the wheel that it is on.
    pub component: Component,
    /// Whether it is the positive way.
    pub positive: bool,
    /// The button that it presses.
    pub button: ControlId,
}

/// One action's use of one control: of either of two keys, of what counts as a standard control
/// too, of all devices of a class or of one.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct ControlUse {
    /// The action.
    pub action: ActionId,
    /// What it listens to.
    pub inputs: IdRange<PhysicalInputId>,
    /// How the devices share it.
    pub gather: Gather,
    /// How many controls must be held for it to count: those before it in a `+`.
    pub holders: u8,
    /// Whether it only holds: such a use is never hidden, muted or claimed, and claims nothing.
    pub holds: bool,
    /// The bindings that use it.
    pub bindings: ListSlice,
    /// Every `+` that it is in.
    pub pluses: ListSlice,
}

/// How several devices of a class share one control.
#[derive(Default, Clone, Copy, Debug, PartialEq, Eq)]
#[cfg_attr(feature = "pack", derive(serde::Serialize, serde::Deserialize))]
#[cfg_attr(feature = "pack", serde(rename_all = "kebab-case"))]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub enum Gather {
    /// The whole control of greatest magnitude; of a tie the first device.
    #[default]
    Greatest,
    /// Their movements add up between ticks.
    Sum,
    /// The latest report.
    Latest,
}

/// A physical control that a use listens to.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct PhysicalInput {
    /// The use.
    pub of: ControlUseId,
    /// The control.
    pub control: ControlId,
    /// On which device of its class only.
    pub device: Option<u8>,
    /// What is claimed by it: the control itself, or a notch's wheel.
    pub key: ControlId,
    /// Which half-axes of that: bits 1 and 2 for x above and below 0, then y, then z.
    pub halves: u8,
}

/// A `+`: its last part counts only while the others are held.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "pack", derive(serde::Serialize, serde::Deserialize))]
#[cfg_attr(feature = "pack", serde(rename_all = "kebab-case"))]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct Plus {
    /// The action.
    pub action: ActionId,
    /// The binding.
    pub binding: BindingId,
    /// The operations of all its parts.
    pub ops: IdRange<OpId>,
    /// What each of the holders gives, of the listed operations.
    pub holders: ListSlice,
    /// What the last part gives.
    pub last: OpId,
    /// The kind of that.
    pub kind: Kind,
    /// The uses of controls of the last part, of the listed ones.
    pub uses: ListSlice,
    /// How many controls must be held, those of a `+` around it included.
    pub count: u8,
    /// Whether the last part is a button or lever: it has to be pressed while the others are held.
    #[cfg_attr(feature = "pack", serde(default, skip_serializing_if = "crate::base::is_default"))]
    pub is_pressed: bool,
}

/// A binding's operations; the last one gives its value.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "pack", derive(serde::Serialize, serde::Deserialize))]
#[cfg_attr(feature = "pack", serde(rename_all = "kebab-case"))]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct Binding {
    /// The action it reaches.
    pub action: ActionId,
    /// The scheme it belongs to; without one it always counts.
    #[cfg_attr(feature = "pack", serde(default, skip_serializing_if = "crate::base::is_default"))]
    pub scheme: Option<SchemeId>,
    /// Its operations.
    pub ops: IdRange<OpId>,
}

/// An action's parts.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "pack", derive(serde::Serialize, serde::Deserialize))]
#[cfg_attr(feature = "pack", serde(rename_all = "kebab-case"))]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct Action {
    /// What it gives.
    pub kind: Kind,
    /// The map it belongs to.
    pub map: MapId,
    /// The maps it lives in: its own, and those that list it.
    pub maps: ListSlice,
    /// Whether it keeps its controls from lower maps.
    #[cfg_attr(feature = "pack", serde(default, skip_serializing_if = "crate::base::is_default"))]
    pub claim: bool,
    /// Whether controls that are held when its map opens count at once.
    #[cfg_attr(feature = "pack", serde(default, skip_serializing_if = "crate::base::is_default"))]
    pub carry: bool,
    /// Whether it works while the game is paused.
    #[cfg_attr(feature = "pack", serde(default, skip_serializing_if = "crate::base::is_default"))]
    pub in_pause: bool,
    /// Its uses of controls.
    #[cfg_attr(feature = "pack", serde(default, skip_serializing_if = "crate::base::is_default"))]
    pub uses: IdRange<ControlUseId>,
    /// Every `+` of its bindings.
    #[cfg_attr(feature = "pack", serde(default, skip_serializing_if = "crate::base::is_default"))]
    pub pluses: ListSlice,
    /// The memory of its steps.
    #[cfg_attr(feature = "pack", serde(default, skip_serializing_if = "crate::base::is_default"))]
    pub memories: IdRange<MemoryId>,
    /// Its steps that move on their own or add up over time.
    #[cfg_attr(feature = "pack", serde(default, skip_serializing_if = "crate::base::is_default"))]
    pub motions: IdRange<MotionId>,
    /// Whether some alternative has guards.
    #[cfg_attr(feature = "pack", serde(default, skip_serializing_if = "crate::base::is_default"))]
    pub has_guards: bool,
    /// Whether some alternative is `change`.
    #[cfg_attr(feature = "pack", serde(default, skip_serializing_if = "crate::base::is_default"))]
    pub has_change: bool,
    /// Whether it has a `travel` or something relative: it is worked out at ticks too.
    #[cfg_attr(feature = "pack", serde(default, skip_serializing_if = "crate::base::is_default"))]
    pub works_at_ticks: bool,
    /// Its bindings.
    #[cfg_attr(feature = "pack", serde(default, skip_serializing_if = "crate::base::is_default"))]
    pub bindings: IdRange<BindingId>,
    /// How they share it.
    #[cfg_attr(feature = "pack", serde(default, skip_serializing_if = "crate::base::is_default"))]
    pub blend: Blend,
    /// The operations after the blend; the last one gives its value.
    pub shape: IdRange<OpId>,
    /// Its alternatives.
    pub alternatives: IdRange<AlternativeId>,
    /// It wakes at this magnitude or more.
    #[cfg_attr(
        feature = "pack",
        serde(default = "usual::wake", skip_serializing_if = "usual::is_wake")
    )]
    pub wake: f64,
    /// It is down at this magnitude or more.
    #[cfg_attr(
        feature = "pack",
        serde(default = "usual::down", skip_serializing_if = "usual::is_down")
    )]
    pub down: f64,
    /// It is up under this magnitude.
    #[cfg_attr(
        feature = "pack",
        serde(default = "usual::up", skip_serializing_if = "usual::is_up")
    )]
    pub up: f64,
    /// The actions it yields to.
    #[cfg_attr(feature = "pack", serde(default, skip_serializing_if = "crate::base::is_default"))]
    pub yields_to: ListSlice,
    /// The actions that name it.
    #[cfg_attr(feature = "pack", serde(default, skip_serializing_if = "crate::base::is_default"))]
    pub named_by: ListSlice,
    /// Those of them that read its value.
    #[cfg_attr(feature = "pack", serde(default, skip_serializing_if = "crate::base::is_default"))]
    pub read_by: ListSlice,
}

/// One alternative of a fire rule.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "pack", derive(serde::Serialize, serde::Deserialize))]
#[cfg_attr(feature = "pack", serde(rename_all = "kebab-case"))]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct Alternative {
    /// The action it belongs to.
    pub action: ActionId,
    /// The condition.
    pub cue: Cue,
    /// What else must be so.
    #[cfg_attr(feature = "pack", serde(default, skip_serializing_if = "crate::base::is_default"))]
    pub guards: ListSlice,
}

/// When an alternative fires. Times are in seconds.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[cfg_attr(feature = "pack", derive(serde::Serialize, serde::Deserialize))]
#[cfg_attr(feature = "pack", serde(rename_all = "kebab-case"))]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub enum Cue {
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
    Sequence(ListSlice, ParamId),
}

impl Cue {
    /// What it counts up to, one after the other: the time from one to the next, or for all.
    pub const fn gap(self) -> Option<ParamId> {
        match self {
            Self::Taps(_, gap) | Self::Sequence(_, gap) => Some(gap),
            Self::Press
            | Self::Release
            | Self::While
            | Self::Change
            | Self::Hold(_)
            | Self::Tap(_)
            | Self::Charge(_)
            | Self::Repeat(..) => None,
        }
    }
}

/// A map's actions.
#[derive(Clone, Debug, PartialEq)]
#[cfg_attr(feature = "pack", derive(serde::Serialize, serde::Deserialize))]
#[cfg_attr(feature = "pack", serde(rename_all = "kebab-case"))]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct Map {
    /// How it lies with other maps.
    pub kind: MapKind,
    /// Its place among the open maps: the higher comes first.
    pub rank: i64,
    /// The actions that live in it, in working order.
    pub residents: Box<[ActionId]>,
    /// Whether it is open when play begins.
    pub start: bool,
}

/// Addresses and texts, for what is told to people.
#[derive(Clone, Debug, PartialEq)]
pub struct Names {
    /// `map.action`.
    pub actions: Table<ActionId, String>,
    /// `map.action@scheme#N`.
    pub bindings: Table<BindingId, String>,
    /// Cues as written.
    pub alternatives: Table<AlternativeId, String>,
    /// Maps.
    pub maps: Table<MapId, String>,
    /// Schemes.
    pub schemes: Table<SchemeId, String>,
    /// Controls, by the catalogue.
    pub controls: Table<ControlId, Arc<str>>,
    /// Settings and facts.
    pub variables: Table<VariableId, String>,
    /// What players read in place of an action's name, where the profile says it.
    pub action_labels: Table<ActionId, Option<String>>,
    /// The same of bindings.
    pub binding_labels: Table<BindingId, Option<String>>,
    /// The same of maps.
    pub map_labels: Table<MapId, Option<String>>,
    /// The same of schemes.
    pub scheme_labels: Table<SchemeId, Option<String>>,
}
