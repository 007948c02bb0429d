//! The lines of a pack. What they say of the plan's own parts is those parts as they are; controls,
//! layouts and classes are named, so that a newer catalogue finds them again.

use crate::base::{
    ALL_HALVES, ActionId, BindingId, ControlKind, ControlUseId, ListSlice, MapId, OpId, PlusId,
    is_default,
};
use crate::plan::{
    Action, Alternative, Binding, Condition, Gather, Guard, Map, Op, Param, Plus, Variable,
};
use serde::{Deserialize, Serialize};
use std::borrow::Cow;

/// One line of a pack: an object with one key, which says what the line is.
///
/// Numbers that stand for something are its place among the lines or entries of its kind, from 0: `action` 3
/// is the fourth `action` line. Two numbers in a list are a stretch: from the first up to the second, which is not
/// in it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[non_exhaustive]
pub enum Line<'a> {
    /// The first line.
    Pack(Head),
    /// A class of devices of the profile's own, in file order.
    Device(Device),
    /// A scheme, in file order.
    Scheme(Scheme),
    /// A setting or fact, in file order.
    Number(Named<Variable>),
    /// A map, in file order.
    Map(Named<Map>),
    /// An action, in working order: after all actions that it names.
    Action(Named<Action>),
    /// A binding, in the order of their actions.
    Binding(Named<Binding>),
    /// An alternative of a fire rule, in the order of their actions, with its cue as written.
    Fire(Named<Alternative>),
    /// The numbers of operations and cues: of angles in radians, of times in seconds, of speeds in one per second.
    Params(Run<Param>),
    /// One action's use of one control, with what it listens to.
    #[serde(borrow)]
    Use(Use<'a>),
    /// A `+`, those with the most holders first.
    Plus(Plus),
    /// Conditions that operations list.
    Conditions(Run<Condition>),
    /// What fire rules list behind `while`, `with` and the like.
    Guards(Run<Guard>),
    /// For each cell that steps keep something in, whether a pause leaves it as it is.
    KeptInPause(Run<bool>),
    /// The bindings that uses list.
    UseBindings(Run<BindingId>),
    /// The uses that a `+` lists.
    ListedUses(Run<ControlUseId>),
    /// The `+` that uses and actions list.
    ListedPluses(Run<PlusId>),
    /// The operations that a `+` lists.
    ListedOps(Run<OpId>),
    /// The actions that actions list.
    ListedActions(Run<ActionId>),
    /// The maps that actions list.
    ListedMaps(Run<MapId>),
    /// The actions in file order.
    ByFile(Run<ActionId>),
    /// The last line.
    End(End),
}

/// What holds for the whole pack.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct Head {
    /// The version of the format: 1.
    pub version: u32,
    /// The keyboard layout that it is for: `us`.
    pub layout: String,
    /// How many local players there are, 1 to 8.
    pub seats: u8,
    /// How many steps move on their own or add up over time.
    pub motions: u32,
    /// The digest of its names, as in what `harmonym generate` writes.
    pub names: String,
}

/// A class of devices of the profile's own.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct Device {
    /// Its name.
    pub name: String,
    /// What it reports.
    pub controls: Vec<DeviceControl>,
}

/// A control of such a class.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct DeviceControl {
    /// Its name, without its class.
    pub name: String,
    /// What kind of thing it is.
    pub kind: ControlKind,
    /// The standard control that it counts as too.
    #[serde(rename = "as", skip_serializing_if = "Option::is_none", default)]
    pub stands_for: Option<String>,
}

/// A scheme.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct Scheme {
    /// Its name.
    pub name: String,
    /// What players read of it.
    #[serde(skip_serializing_if = "Option::is_none", default)]
    pub label: Option<String>,
    /// Its classes of devices.
    pub devices: Vec<String>,
}

/// What has an address.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct Named<T> {
    /// Its address or name; of a cue, how it is written.
    pub name: String,
    /// What players read of it.
    #[serde(skip_serializing_if = "Option::is_none", default)]
    pub label: Option<String>,
    /// What it is made of.
    pub parts: T,
    /// Of a binding its operations, of an action those of its shape.
    #[serde(skip_serializing_if = "Vec::is_empty", default)]
    pub ops: Vec<Op>,
}

/// A piece of a list.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct Run<T> {
    /// The place of its first entry in the whole list.
    pub at: u32,
    /// Its entries.
    pub all: Vec<T>,
}

/// One action's use of one control.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct Use<'a> {
    /// The action.
    pub action: ActionId,
    /// How several devices share it.
    #[serde(default, skip_serializing_if = "is_default")]
    pub gather: Gather,
    /// How many controls must be held for it to count: those before it in a `+`.
    #[serde(default, skip_serializing_if = "is_default")]
    pub holders: u8,
    /// Whether it only holds.
    #[serde(default, skip_serializing_if = "is_default")]
    pub holds: bool,
    /// The bindings that use it, of the listed ones.
    #[serde(default, skip_serializing_if = "is_default")]
    pub bindings: ListSlice,
    /// Every `+` that it is in, of the listed ones.
    #[serde(default, skip_serializing_if = "is_default")]
    pub pluses: ListSlice,
    /// The physical controls that it listens to.
    #[serde(borrow)]
    pub inputs: Vec<Input<'a>>,
}

/// A control that a use listens to.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct Input<'a> {
    /// The control, as a device reports it: `pad.left-stick`.
    #[serde(borrow)]
    pub control: Cow<'a, str>,
    /// On which device of its class only, from 0.
    #[serde(skip_serializing_if = "Option::is_none", default)]
    pub device: Option<u8>,
    /// What is claimed by it, where that is not the control: the wheel of a notch.
    #[serde(borrow, skip_serializing_if = "Option::is_none", default)]
    pub key: Option<Cow<'a, str>>,
    /// Which half-axes of that, unless all: bits 1 and 2 for x above and below 0, then y, then z.
    #[serde(skip_serializing_if = "is_all", default = "all_halves")]
    pub halves: u8,
}

fn all_halves() -> u8 {
    ALL_HALVES
}

fn is_all(halves: &u8) -> bool {
    *halves == ALL_HALVES
}

/// The last line, by which a pack that was cut or changed is told from a whole one.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct End {
    /// How many lines there are before it.
    pub lines: u64,
    /// The 64-bit FNV-1a hash of those lines, each with a line feed behind it, in 16 letters.
    pub digest: String,
}
