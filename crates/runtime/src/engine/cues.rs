//! What cues and levels work on: episodes, with the numbers they read, and what there is to do and to
//! tell of them. Inputs they never see.

use super::Tell;
use super::agenda::Agenda;
use super::clock::Clock;
use super::episodes::Episodes;
use super::state::State;
use super::values::Values;
use crate::plan::Tables;

/// The part of the state that episodes go on in.
pub(super) struct Cues<'a, T: ?Sized> {
    pub plan: &'a Tables,
    pub clock: Clock,
    pub values: &'a Values,
    pub episodes: &'a mut Episodes,
    pub agenda: &'a mut Agenda,
    pub tell: &'a mut T,
}

impl State {
    #[inline]
    pub fn cues<'a, T: Tell + ?Sized>(
        &'a mut self,
        plan: &'a Tables,
        tell: &'a mut T,
    ) -> Cues<'a, T> {
        let Self { clock, values, episodes, agenda, inputs: _ } = self;
        Cues { plan, clock: *clock, values, episodes, agenda, tell }
    }
}
