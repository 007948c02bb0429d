//! A profile as written: typed TOML values with their places, nothing looked up.

use crate::report::Diagnostic;
use crate::source::{Quoted, Span};
use crate::syntax::Word;

/// The whole file.
#[derive(Clone, Debug, std::default::Default)]
pub struct Profile {
    /// What the game is called.
    pub title: Option<Quoted>,
    /// A text for people.
    pub about: Option<Quoted>,
    /// How many local players there are.
    pub seats: Option<(f64, Span)>,
    /// Controls that no player may bind.
    pub reserved: Vec<Quoted>,
    /// Rules that are switched off.
    pub waive: Vec<Quoted>,
    /// `[device.NAME]` in file order.
    pub devices: Vec<Device>,
    /// `[scheme.NAME]` in file order.
    pub schemes: Vec<Scheme>,
    /// `[setting.NAME]` and `[fact.NAME]` in file order.
    pub variables: Vec<Variable>,
    /// `[preset]` in file order.
    pub presets: Vec<Preset>,
    /// `[map.NAME]` in file order.
    pub maps: Vec<Map>,
    /// Where the file is not TOML: the line, and what is wrong.
    pub broken: Vec<(Span, Diagnostic)>,
}

/// A `[scheme.NAME]`.
#[derive(Clone, Debug)]
pub struct Scheme {
    /// Its name.
    pub name: Word,
    /// Its device classes, when the key is there.
    pub devices: Option<Vec<Quoted>>,
    /// A text for people.
    pub about: Option<Quoted>,
    /// What players read.
    pub label: Option<Quoted>,
}

/// A `[device.NAME]`.
#[derive(Clone, Debug)]
pub struct Device {
    /// Its name.
    pub name: Word,
    /// Its controls, each with the word of its kind.
    pub controls: Vec<(Word, Quoted)>,
    /// Which standard control each of some of them counts as.
    pub stands_for: Vec<(Word, Quoted)>,
}

/// A `[setting.NAME]` or `[fact.NAME]`.
#[derive(Clone, Debug)]
pub struct Variable {
    /// Its name.
    pub name: Word,
    /// Whether it is a setting.
    pub is_setting: bool,
    /// Its value at first, when that is said.
    pub default: Option<Default>,
    /// The least and the most.
    pub range: Option<((f64, f64), Span)>,
    /// Its unit.
    pub unit: Option<Quoted>,
    /// A text for people.
    pub about: Option<Quoted>,
}

/// The value of a setting or fact at first.
#[derive(Clone, Copy, Debug)]
pub enum Default {
    /// A number.
    Number(f64, Span),
    /// A switch.
    Switch(bool),
}

/// One binding of an action.
#[derive(Clone, Debug)]
pub struct Binding {
    /// The expression.
    pub from: Quoted,
    /// Whether the player may rebind it, when that is said.
    pub rebind: Option<bool>,
    /// What players read.
    pub label: Option<Quoted>,
}

/// A line of `[preset]`.
#[derive(Clone, Debug)]
pub struct Preset {
    /// Its name.
    pub name: Word,
    /// Its steps.
    pub steps: Quoted,
}

/// A `[map.NAME]`.
#[derive(Clone, Debug)]
pub struct Map {
    /// Its name.
    pub name: Word,
    /// A text for people.
    pub about: Option<Quoted>,
    /// What players read.
    pub label: Option<Quoted>,
    /// `solo`, `layer` or `always`.
    pub kind: Option<Quoted>,
    /// Whether it is open when play begins, and where that is said.
    pub start: Option<(bool, Span)>,
    /// Its place among the open maps, when that is said.
    pub rank: Option<(f64, Span)>,
    /// Whether it works while the game is paused.
    pub in_pause: bool,
    /// Other maps' actions that live in it.
    pub also: Vec<Quoted>,
    /// Rules that are switched off.
    pub waive: Vec<Quoted>,
    /// Its actions in file order.
    pub actions: Vec<Action>,
}

/// A `[map.NAME.ACTION]`.
#[derive(Clone, Debug)]
pub struct Action {
    /// Its name.
    pub name: Word,
    /// Its kind of value.
    pub value: Option<Quoted>,
    /// Its bindings: schemes in file order, each with its own; `all` stands for no scheme.
    pub binds: Vec<(Word, Vec<Binding>)>,
    /// Whether the player may rebind it, when that is said.
    pub rebind: Option<bool>,
    /// How its bindings share it.
    pub blend: Option<Quoted>,
    /// Steps after the blend.
    pub shape: Option<Quoted>,
    /// Its levels.
    pub levels: Option<Levels>,
    /// Its fire rule.
    pub fire: Option<Quoted>,
    /// The actions it yields to.
    pub yields_to: Vec<Quoted>,
    /// A text for people.
    pub about: Option<Quoted>,
    /// What players read.
    pub label: Option<Quoted>,
    /// Whether it keeps its controls from lower maps, when that is said.
    pub claim: Option<bool>,
    /// Whether controls held when its map opens count at once, when that is said.
    pub carry: Option<bool>,
    /// Whether it works while the game is paused, when that is said.
    pub in_pause: Option<bool>,
    /// Rules that are switched off.
    pub waive: Vec<Quoted>,
    /// Whether something in it was refused already, so that what is missing may be a follow-up.
    pub has_faults: bool,
}

/// `levels = { wake = …, down = …, up = … }`.
#[derive(Clone, Debug, std::default::Default)]
pub struct Levels {
    /// Where it wakes.
    pub wake: Option<(f64, Span)>,
    /// Where it is down.
    pub down: Option<(f64, Span)>,
    /// Under which it is up.
    pub up: Option<(f64, Span)>,
}
