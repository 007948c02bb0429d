//! What a profile means: types only, no TOML and no syntax.
//!
//! Guarantees to every later stage: every name is resolved, every kind fits, every number lies in
//! its range, and levels are in order. Actions and maps are in file order.

mod expression;

pub use expression::{By, Chain, Corner, Four, Head, Opposed, Pair, Pick, Step};

use crate::base::{ActionId, Kind, MapId, SchemeId, Table, Time};
use crate::controls::Class;

/// A whole profile.
#[derive(Clone, Debug)]
pub struct Profile {
    /// What the game is called.
    pub title: Option<String>,
    /// A text for people.
    pub about: Option<String>,
    /// Its schemes.
    pub schemes: Table<SchemeId, Scheme>,
    /// Its named chains of steps, as written: name and steps.
    pub presets: Vec<(String, String)>,
    /// Its maps.
    pub maps: Table<MapId, Map>,
    /// The actions of all maps.
    pub actions: Table<ActionId, Action>,
}

/// Device classes that people use together.
#[derive(Clone, Debug)]
pub struct Scheme {
    /// Its name.
    pub name: String,
    /// Its device classes.
    pub classes: Vec<Class>,
    /// A text for people.
    pub about: Option<String>,
    /// What players read.
    pub label: Option<String>,
}

/// The actions of one situation.
#[derive(Clone, Debug)]
pub struct Map {
    /// Its name.
    pub name: String,
    /// Whether it is open when play begins.
    pub start: bool,
    /// A text for people.
    pub about: Option<String>,
    /// What players read.
    pub label: Option<String>,
    /// Its actions.
    pub actions: Vec<ActionId>,
}

/// Something the player can do.
#[derive(Clone, Debug)]
pub struct Action {
    /// Its name.
    pub name: String,
    /// The map it belongs to.
    pub map: MapId,
    /// What it gives.
    pub kind: Kind,
    /// Its bindings in file order.
    pub bindings: Vec<Binding>,
    /// Steps after the blend.
    pub shape: Vec<Step>,
    /// The shape as written.
    pub shape_text: Option<String>,
    /// Where it wakes, is down and is up.
    pub levels: Levels,
    /// Whether the profile names some of its levels.
    pub levels_given: bool,
    /// When it fires.
    pub fire: Vec<Alternative>,
    /// Whether the profile names its fire rule.
    pub fire_given: bool,
    /// A text for people.
    pub about: Option<String>,
    /// What players read.
    pub label: Option<String>,
}

/// The three magnitudes of an action: 0 < up ≤ wake ≤ down.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Levels {
    /// It wakes at this or more.
    pub wake: f64,
    /// It is down at this or more.
    pub down: f64,
    /// It is up under this.
    pub up: f64,
}

/// A way from controls to an action.
#[derive(Clone, Debug)]
pub struct Binding {
    /// The scheme it belongs to.
    pub scheme: SchemeId,
    /// Which of the action's bindings in that scheme it is, from 1.
    pub number: usize,
    /// As written.
    pub text: String,
    /// What it reads and how that is changed.
    pub chain: Chain,
}

/// One alternative of a fire rule.
#[derive(Clone, Debug, PartialEq)]
pub struct Alternative {
    /// The condition.
    pub trigger: Trigger,
    /// As written, without guards.
    pub text: String,
}

/// When an action fires.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Trigger {
    /// Once, when it goes down.
    Press,
    /// Once, when it comes up.
    Release,
    /// At every tick while it is down.
    While,
    /// Once, after so long of being down.
    Hold(Time),
}

impl Profile {
    /// An action's address, `map.action`.
    pub fn address(&self, action: ActionId) -> String {
        let found = &self.actions[action];
        format!("{}.{}", self.maps[found.map].name, found.name)
    }

    /// A binding's address, `map.action@scheme#N`.
    pub fn binding_address(&self, action: ActionId, binding: &Binding) -> String {
        let scheme = &self.schemes[binding.scheme].name;
        format!("{}@{scheme}#{}", self.address(action), binding.number)
    }

    /// The map called `name`.
    pub fn find_map(&self, name: &str) -> Option<MapId> {
        self.maps.entries().find(|(_, map)| map.name == name).map(|(id, _)| id)
    }

    /// The actions that `name` may mean: `map.action`, or an action's name alone.
    pub fn find_actions(&self, name: &str) -> Vec<ActionId> {
        let is_meant = |(id, action): &(ActionId, &Action)| {
            action.name == name || (name.contains('.') && self.address(*id) == name)
        };
        self.actions.entries().filter(is_meant).map(|(id, _)| id).collect()
    }
}
