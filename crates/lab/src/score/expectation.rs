//! What a score expects to come out.

use harmonym_lang::source::Span;
use harmonym_lang::syntax::print_cue;
use harmonym_runtime::base::{
    ActionId, AlternativeId, Device, MapId, SchemeId, Seat, Time, Vector,
};
use harmonym_runtime::plan::Plan;

/// One `expect` line.
#[derive(Clone, Debug, PartialEq)]
pub struct Expectation {
    /// The line's text from `expect` on.
    pub span: Span,
    /// Of which seat; of all if it is about events and nothing is said, of the first if it is about a
    /// moment.
    pub seat: Option<Seat>,
    /// What is expected.
    pub what: Expected,
}

/// What is expected.
#[derive(Clone, Debug, PartialEq)]
pub enum Expected {
    /// Events of an action.
    Events(ActionId, Events),
    /// An action's value at a moment, each component no further off than `within`.
    Value {
        /// The action.
        action: ActionId,
        /// Its value; of a switch 1 or 0 in x.
        value: Vector,
        /// How far each component may be off.
        within: f64,
        /// When.
        at: Time,
    },
    /// An action's progress at a moment.
    Progress {
        /// The action.
        action: ActionId,
        /// Its progress, 0 to 1.
        progress: f64,
        /// How far it may be off.
        within: f64,
        /// When.
        at: Time,
    },
    /// Whether a map is open, at a moment or at the end.
    Map {
        /// The map.
        map: MapId,
        /// Whether it is to be open.
        open: bool,
        /// When; at the end of the run if that is not said.
        at: Option<Time>,
    },
    /// A seat's device at a moment.
    Has {
        /// The device, by the number of the hardware.
        device: Device,
        /// When.
        at: Time,
    },
    /// The scheme in use at a moment.
    Scheme {
        /// The scheme.
        scheme: SchemeId,
        /// When.
        at: Time,
    },
}

impl Expected {
    /// The action that it is about.
    pub fn action(&self) -> Option<ActionId> {
        match self {
            Self::Events(action, _)
            | Self::Value { action, .. }
            | Self::Progress { action, .. } => Some(*action),
            Self::Scheme { .. } | Self::Map { .. } | Self::Has { .. } => None,
        }
    }

    /// The moment at which an event is expected, where one is named.
    pub fn at(&self) -> Option<Time> {
        match self {
            Self::Events(_, events) => events.at.map(|(at, _)| at),
            _ => None,
        }
    }

    /// The moment at which it is looked at, for what is.
    pub fn moment(&self) -> Option<Time> {
        match self {
            Self::Events(..) => None,
            Self::Map { at, .. } => *at,
            Self::Value { at, .. }
            | Self::Progress { at, .. }
            | Self::Scheme { at, .. }
            | Self::Has { at, .. } => Some(*at),
        }
    }
}

/// How many events there must be.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Count {
    /// So many.
    Exactly(u64),
    /// So many or more; one if nothing is said.
    AtLeast(u64),
}

impl Count {
    /// Whether so many are right.
    pub fn allows(self, count: u64) -> bool {
        match self {
            Self::Exactly(wanted) => count == wanted,
            Self::AtLeast(least) => count >= least,
        }
    }
}

/// Which events are counted, and how many there must be.
#[derive(Clone, Debug, PartialEq)]
pub struct Events {
    /// `wake`, `fire`, `lapse` or `rest`.
    pub event: &'static str,
    /// How many there must be.
    pub count: Count,
    /// Only those at this moment, no further off than the second.
    pub at: Option<(Time, Time)>,
    /// Only those before this moment.
    pub before: Option<Time>,
    /// Only those after this moment.
    pub after: Option<Time>,
    /// Only those from the first moment to the second, both included.
    pub between: Option<(Time, Time)>,
    /// Only those with this cause.
    pub because: Option<String>,
    /// Only fires by this cue.
    pub by: Option<By>,
}

/// A cue that an expectation names.
#[derive(Clone, Debug, PartialEq)]
pub struct By {
    /// As the expectation writes it.
    pub text: String,
    /// The alternatives of the action's rule that are written so, but for spaces.
    pub alternatives: Vec<AlternativeId>,
}

impl By {
    /// What a text names in the rule of an action.
    pub fn new(text: &str, action: ActionId, plan: &Plan) -> Self {
        let own = plan.actions()[action].alternatives.iter();
        let names = &plan.names().alternatives;
        let alternatives = match print_cue(text) {
            Some(printed) => {
                own.filter(|id| print_cue(&names[*id]).as_ref() == Some(&printed)).collect()
            }
            None => Vec::new(),
        };
        Self { text: text.to_owned(), alternatives }
    }
}
