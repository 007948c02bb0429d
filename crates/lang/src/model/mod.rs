//! What a profile means: types only, no TOML and no syntax.
//!
//! Guarantees to every later stage: every name is resolved, every kind fits, every number lies in
//! its range, and levels are in order. Actions and maps are in file order.

mod expression;
mod id;

pub use expression::{
    By, Chain, Condition, Corner, Four, Head, Number, Opposed, Pair, Pick, Step, StepKind,
};
pub use id::ActionId;

pub use harmonym_runtime::base::{Blend, MapKind};
use harmonym_runtime::base::{Class, Kind, MapId, SchemeId, Table, VariableId};
use harmonym_runtime::controls::Catalogue;
use std::sync::Arc;

/// A whole profile.
#[derive(Clone, Debug)]
pub struct Profile {
    /// What the game is called.
    pub title: Option<String>,
    /// A text for people.
    pub about: Option<String>,
    /// Every control that it may bind, its own devices' among them.
    pub catalogue: Arc<Catalogue>,
    /// How many local players there are, 1 to 8.
    pub seats: u8,
    /// Controls that no player may bind.
    pub reserved: Vec<String>,
    /// Rules of the checker that are switched off.
    pub waive: Vec<String>,
    /// Its schemes.
    pub schemes: Table<SchemeId, Scheme>,
    /// Its settings and facts.
    pub variables: Table<VariableId, Variable>,
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

/// A number that the player or the game supplies.
#[derive(Clone, Debug)]
pub struct Variable {
    /// Its name.
    pub name: String,
    /// Whether it is the player's.
    pub is_setting: bool,
    /// Whether it is on or off.
    pub is_switch: bool,
    /// Its value at first, in its own unit; of a switch 1 or 0.
    pub default: f64,
    /// The least and the most, in its own unit, where that is said.
    pub range: Option<(f64, f64)>,
    /// Its unit, where that is said.
    pub unit: Option<String>,
    /// How many base units (seconds, radians) one of its own is.
    pub factor: f64,
    /// A text for people.
    pub about: Option<String>,
}

/// The actions of one situation.
#[derive(Clone, Debug)]
pub struct Map {
    /// Its name.
    pub name: String,
    /// How it lies with other maps.
    pub kind: MapKind,
    /// Its place among the open maps: the higher comes first.
    pub rank: i64,
    /// Whether it is open when play begins.
    pub start: bool,
    /// Other maps' actions that live in it too.
    pub also: Vec<ActionId>,
    /// Rules of the checker that are switched off in it.
    pub waive: Vec<String>,
    /// A text for people.
    pub about: Option<String>,
    /// What players read.
    pub label: Option<String>,
    /// Its actions.
    pub actions: Vec<ActionId>,
}

/// One deed of the game, named for what is meant by it.
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
    /// How they share it.
    pub blend: Blend,
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
    /// The actions that must have given up before it fires.
    pub yields_to: Vec<ActionId>,
    /// Whether it keeps its controls from lower maps.
    pub claim: bool,
    /// Whether controls that are held when its map opens count at once.
    pub carry: bool,
    /// Whether it works while the game is paused.
    pub in_pause: bool,
    /// Rules of the checker that are switched off for it.
    pub waive: Vec<String>,
    /// Whether the profile names its fire rule.
    pub fire_given: bool,
    /// Whether the player may rebind it.
    pub rebind: bool,
    /// A text for people.
    pub about: Option<String>,
    /// What players read.
    pub label: Option<String>,
}

/// The three magnitudes of an action: 0 < up ≤ wake ≤ down.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
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
    /// The scheme it belongs to; `bind.all` belongs to none and always counts.
    pub scheme: Option<SchemeId>,
    /// Which of the action's bindings in that scheme it is, from 1.
    pub number: usize,
    /// As written.
    pub text: String,
    /// What it reads and how that is changed.
    pub chain: Chain,
    /// Whether the player may rebind it.
    pub rebind: bool,
    /// What players read.
    pub label: Option<String>,
}

/// One alternative of a fire rule.
#[derive(Clone, Debug, PartialEq)]
pub struct Alternative {
    /// The condition.
    pub cue: Cue,
    /// What else must be so.
    pub guards: Vec<Guard>,
    /// As written, without guards.
    pub text: String,
}

/// What must be so for an alternative to fire.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Guard {
    /// An action is live.
    With(ActionId),
    /// An action is not live.
    Without(ActionId),
    /// A setting or fact is other than 0.
    When(VariableId),
    /// A setting or fact is 0.
    Unless(VariableId),
}

/// When an action fires.
#[derive(Clone, Debug, PartialEq)]
pub enum Cue {
    /// Once, when it goes down.
    Press,
    /// Once, when it comes up.
    Release,
    /// At every tick while it is down.
    While,
    /// Whenever the value changes while it is down, and when it comes up.
    Change,
    /// Once, after so long of being down.
    Hold(Number),
    /// At coming up, if that was within so long.
    Tap(Number),
    /// At coming up, if it was down for at least so long.
    Charge(Number),
    /// At so many presses, each soon after the one before.
    Taps {
        /// How many.
        count: Number,
        /// How soon.
        gap: Number,
    },
    /// At the press, then again and again.
    Repeat {
        /// The time between fires.
        every: Number,
        /// The time to the second fire; the same if left out.
        after: Option<Number>,
    },
    /// When other actions have fired in this order, none of them out of order.
    Sequence {
        /// The actions.
        steps: Vec<ActionId>,
        /// The time from the first fire to the last.
        within: Number,
    },
}

impl Cue {
    /// Its times and counts, in the order in which they are written.
    pub fn numbers(&self) -> Vec<&Number> {
        match self {
            Self::Press | Self::Release | Self::While | Self::Change => Vec::new(),
            Self::Hold(time) | Self::Tap(time) | Self::Charge(time) => vec![time],
            Self::Taps { count, gap } => vec![count, gap],
            Self::Repeat { every, after } => [every].into_iter().chain(after).collect(),
            Self::Sequence { steps: _, within } => vec![within],
        }
    }
}

impl Action {
    /// The actions that it names: `act.`, `with`, `without`, `yields-to`, `sequence`.
    pub fn names(&self) -> Vec<ActionId> {
        let mut named = self.yields_to.clone();
        for alternative in &self.fire {
            if let Cue::Sequence { steps, .. } = &alternative.cue {
                named.extend(steps);
            }
            for guard in &alternative.guards {
                if let Guard::With(other) | Guard::Without(other) = guard {
                    named.push(*other);
                }
            }
        }
        for binding in &self.bindings {
            binding.chain.for_each_head(&mut |head| {
                if let Head::Action { action, .. } = head {
                    named.push(*action);
                }
            });
        }
        named.sort();
        named.dedup();
        named
    }
}

impl Profile {
    /// An action's address, `map.action`.
    pub fn address(&self, action: ActionId) -> String {
        let found = &self.actions[action];
        [&self.maps[found.map].name, ".", &found.name].concat()
    }

    /// A binding's address, `map.action@scheme#N`.
    pub fn binding_address(&self, action: ActionId, binding: &Binding) -> String {
        self.binding_of(&self.address(action), binding)
    }

    /// The same for an action whose address is known.
    pub(crate) fn binding_of(&self, address: &str, binding: &Binding) -> String {
        [address, "@", self.scheme_name(binding), "#", &binding.number.to_string()].concat()
    }

    /// The name of a binding's scheme, `all` without one.
    pub fn scheme_name(&self, binding: &Binding) -> &str {
        binding.scheme.map_or("all", |scheme| &self.schemes[scheme].name)
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
