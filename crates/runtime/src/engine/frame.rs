//! What game code reads at each tick.

use super::event::Cause;
use super::state::State;
use crate::base::{ActionId, Time, Vector};
use crate::plan::Plan;

/// Where an action is between rest and rest.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum EpisodeState {
    /// No episode is open.
    Rest,
    /// Awake, and not fired in this episode.
    Pending,
    /// Fired, and not yet over.
    Live,
}

/// An action at a tick.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Reading {
    /// Its value, 0 at rest; of a switch 1 or 0 in x.
    pub value: Vector,
    /// Where it is.
    pub state: EpisodeState,
    /// How many times it fired in this tick.
    pub fired: u32,
    /// Whether it woke in this tick.
    pub woke: bool,
    /// Whether an episode ended in this tick: whether it had fired, and why it ended.
    pub ended: Option<(bool, Cause)>,
    /// The time since it woke, 0 at rest.
    pub held: Time,
    /// The time since its first fire, once there was one.
    pub fired_for: Option<Time>,
    /// The share of the way to firing, 0 to 1.
    pub progress: f64,
}

impl State {
    /// The value that game code reads: 0 at rest.
    pub fn value_read(&self, plan: &Plan, action: ActionId) -> Vector {
        if self.actions[action].awake { self.value_now(plan, action) } else { Vector::ZERO }
    }

    pub fn read(&self, plan: &Plan, action: ActionId) -> Reading {
        let state = &self.actions[action];
        let first_fire = state.first_fire.filter(|_| state.awake);
        let where_it_is = match (state.awake, first_fire) {
            (false, _) => EpisodeState::Rest,
            (true, None) => EpisodeState::Pending,
            (true, Some(_)) => EpisodeState::Live,
        };
        Reading {
            value: self.value_read(plan, action),
            state: where_it_is,
            fired: state.fired,
            woke: state.woke,
            ended: state.ended,
            held: if state.awake { self.now.since(state.woke_at) } else { Time::ZERO },
            fired_for: first_fire.map(|at| self.now.since(at)),
            progress: if state.awake { self.progress(plan, action) } else { 0.0 },
        }
    }
}
