//! What a score expects to come out.

use harmonym_lang::source::Span;
use harmonym_runtime::base::{ActionId, SchemeId, Time, Vector};

/// One `expect` line.
#[derive(Clone, Debug, PartialEq)]
pub struct Expectation {
    /// The line's text from `expect` on.
    pub span: Span,
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
            Self::Scheme { .. } => None,
        }
    }

    /// The moment at which it is looked at, for what is.
    pub fn moment(&self) -> Option<Time> {
        match self {
            Self::Events(..) => None,
            Self::Value { at, .. } | Self::Progress { at, .. } | Self::Scheme { at, .. } => {
                Some(*at)
            }
        }
    }
}

/// Which events are counted, and how many there must be.
#[derive(Clone, Debug, PartialEq)]
pub struct Events {
    /// `wake`, `fire`, `lapse` or `rest`.
    pub event: &'static str,
    /// How many there must be; at least one if that is not said.
    pub count: Option<u64>,
    /// Only those at this moment, no further off than the second.
    pub at: Option<(Time, Time)>,
    /// Only those before this moment.
    pub before: Option<Time>,
    /// Only those after this moment.
    pub after: Option<Time>,
    /// Only those with this cause.
    pub because: Option<String>,
    /// Only fires by this cue, as written in the profile.
    pub by: Option<String>,
}
