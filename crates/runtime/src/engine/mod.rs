//! Runs a plan: raw reports and ticks in, events out.
//!
//! Guarantees to every later stage: times never go back, every `wake` has exactly one end, no
//! value is NaN or infinite, and after the first tick nothing is allocated. What is out of range is held
//! to the range; what is no number, and what the plan does not have, is refused and changes nothing
//! ([`Refused`]).
#![deny(clippy::unwrap_used, clippy::expect_used, clippy::panic)]
#![deny(clippy::print_stdout, clippy::print_stderr)]

mod agenda;
mod alone;
mod clock;
mod controls;
mod cue;
mod cues;
mod episode;
mod episodes;
mod evaluate;
mod event;
mod flat;
mod frame;
mod inputs;
mod inside;
mod looks;
mod maps;
mod motion;
mod pass;
mod plain;
mod plus;
mod reader;
mod rearrange;
mod refused;
mod replan;
mod reports;
mod route;
mod sequence;
mod state;
mod timers;
mod transfer;
mod unplug;
mod usage;
mod values;
mod wait;

pub(crate) use controls::held_to_range;
pub use episodes::{Level, Stage};
pub use event::{Cause, Event, EventKind, Notice};
pub use frame::{EpisodeState, Frame, Reading};
pub use inside::{Alternative, Episode, Inside, Touch};
pub use reader::{Edges, Reader};
pub use refused::Refused;

use crate::base::{
    ActionId, Class, Contact, ControlKind, Id, MOST_DEVICES, MapId, MapKind, SchemeId, Time,
    VariableId, Vector,
};
use crate::plan::{Plan, Tables};
use state::State;
use std::sync::Arc;
use timers::When;

/// One player's hands on one plan.
///
/// Feed it what devices report, in order of time, and a [`tick`](Self::tick) a frame. Events are told
/// as they come; what actions are worth is read from the [`Frame`] that a tick gives.
#[derive(Clone, Debug)]
pub struct Engine {
    plan: Arc<Plan>,
    state: State,
}

/// What is called with everything that the engine has to tell: a closure, or a `dyn FnMut(Notice)` where
/// one copy of the engine's code is to do for many callers.
pub trait Tell: FnMut(Notice) {}

impl<T: FnMut(Notice) + ?Sized> Tell for T {}

/// How play begins.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Start {
    /// The solo map that is open at first, in place of the profile's.
    pub map: Option<MapId>,
    /// The one scheme whose bindings count; all, if nothing is said.
    pub scheme: Option<SchemeId>,
}

impl Engine {
    /// An engine at time 0: the maps are open that are open at first, and their actions have been
    /// worked out once.
    pub fn start(plan: Arc<Plan>, start: Start, tell: &mut (impl Tell + ?Sized)) -> Self {
        let state = State::new(plan.tables());
        let mut engine = Self { plan, state };
        engine.begin(start, tell);
        engine
    }

    /// Back to time 0, as if new; nothing is allocated.
    pub fn restart(&mut self, start: Start, tell: &mut (impl Tell + ?Sized)) {
        self.state.reset(self.plan.tables());
        self.begin(start, tell);
    }

    fn begin(&mut self, start: Start, tell: &mut (impl Tell + ?Sized)) {
        let (tables, state) = (self.plan.tables(), &mut self.state);
        state.narrow(tables, start.scheme, tell);
        state.open_at_start(tables, start.map, tell);
    }

    /// The plan that runs.
    pub fn plan(&self) -> &Arc<Plan> {
        &self.plan
    }

    /// Takes what a control reports at `at`: first everything that falls due by then. Of what is
    /// relative, `value` is what it moved by. A time before the present one counts as the present one;
    /// so in all calls.
    ///
    /// # Errors
    /// When the plan has no such control, a class no such device, or the value is no number.
    #[inline]
    pub fn report(
        &mut self,
        at: Time,
        contact: Contact,
        value: Vector,
        tell: &mut (impl Tell + ?Sized),
    ) -> Result<(), Refused> {
        if contact.device == 0 && self.state.let_wait(at, contact.control, value) {
            return Ok(());
        }
        self.report_at_once(at, contact, value, tell)
    }

    #[inline(never)]
    fn report_at_once(
        &mut self,
        at: Time,
        contact: Contact,
        value: Vector,
        tell: &mut (impl Tell + ?Sized),
    ) -> Result<(), Refused> {
        let (tables, state) = (self.plan.tables(), &mut self.state);
        let spec = tables.controls.get(contact.control).ok_or(Refused::UnknownControl)?;
        if contact.device as usize >= MOST_DEVICES {
            return Err(Refused::UnknownDevice);
        }
        if !value.is_finite() {
            return Err(Refused::NotANumber);
        }
        state.advance(tables, at, When::Look, tell);
        if state.report_shortly(tables, (contact, *spec), value, tell) {
            return Ok(());
        }
        let value = held_to_range(value, spec.kind);
        match spec.kind {
            ControlKind::Relative => state.move_by(tables, contact, value, tell),
            _ => state.report(tables, contact, value, tell),
        }
        Ok(())
    }

    /// A device is gone at `at`: all its controls are back at 0, and the episodes that it held end
    /// with cause `unplugged`. `device` counts from 0 within its class.
    ///
    /// # Errors
    /// When the plan knows no such class, or a class no such device.
    pub fn release_device(
        &mut self,
        at: Time,
        class: Class,
        device: u8,
        tell: &mut (impl Tell + ?Sized),
    ) -> Result<(), Refused> {
        let (tables, state) = (self.plan.tables(), &mut self.state);
        let known = class.index() < tables.schemes_of_class.len();
        if !known || device as usize >= MOST_DEVICES {
            return Err(Refused::UnknownDevice);
        }
        state.be_at(tables, at, tell);
        state.unplug(tables, class, device, tell);
        Ok(())
    }

    /// The game opens a map at `at`; a solo map closes the solo map that was open. An open map
    /// stays as it is.
    ///
    /// # Errors
    /// When the plan has no such map, or it is an `always` map.
    pub fn open(
        &mut self,
        at: Time,
        map: MapId,
        tell: &mut (impl Tell + ?Sized),
    ) -> Result<(), Refused> {
        let (tables, state) = self.switching(at, map, tell)?;
        state.open_map(tables, map, tell);
        Ok(())
    }

    /// The game closes a map at `at`. A closed map stays as it is.
    ///
    /// # Errors
    /// When the plan has no such map, or it is an `always` map.
    pub fn close(
        &mut self,
        at: Time,
        map: MapId,
        tell: &mut (impl Tell + ?Sized),
    ) -> Result<(), Refused> {
        let (tables, state) = self.switching(at, map, tell)?;
        state.close_map(tables, map, tell);
        Ok(())
    }

    fn switching(
        &mut self,
        at: Time,
        map: MapId,
        tell: &mut (impl Tell + ?Sized),
    ) -> Result<(&Tables, &mut State), Refused> {
        let (tables, state) = (self.plan.tables(), &mut self.state);
        let spec = tables.maps.get(map).ok_or(Refused::UnknownMap)?;
        if spec.kind == MapKind::Always {
            return Err(Refused::AlwaysOpen);
        }
        state.be_at(tables, at, tell);
        Ok((tables, state))
    }

    /// The game is paused at `at`, or goes on.
    pub fn pause(&mut self, at: Time, paused: bool, tell: &mut (impl Tell + ?Sized)) {
        let (tables, state) = (self.plan.tables(), &mut self.state);
        state.be_at(tables, at, tell);
        state.pause(tables, paused, tell);
    }

    /// The game narrows the bindings to those of one scheme at `at`, or lets all count again.
    ///
    /// # Errors
    /// When the plan has no such scheme.
    pub fn narrow(
        &mut self,
        at: Time,
        scheme: Option<SchemeId>,
        tell: &mut (impl Tell + ?Sized),
    ) -> Result<(), Refused> {
        let (tables, state) = (self.plan.tables(), &mut self.state);
        let known = |scheme: SchemeId| scheme.index() < tables.names.schemes.len();
        if !scheme.is_none_or(known) {
            return Err(Refused::UnknownScheme);
        }
        state.be_at(tables, at, tell);
        state.narrow(tables, scheme, tell);
        Ok(())
    }

    /// The player or the game changes a setting or fact at `at`, to `value` in its own unit; a
    /// switch is 1 or 0. What is outside of a setting's range is held to it.
    ///
    /// # Errors
    /// When the plan has no such setting or fact, or the value is no number.
    pub fn set_number(
        &mut self,
        at: Time,
        variable: VariableId,
        value: f64,
        tell: &mut (impl Tell + ?Sized),
    ) -> Result<(), Refused> {
        let (tables, state) = (self.plan.tables(), &mut self.state);
        let spec = tables.variables.get(variable).ok_or(Refused::UnknownVariable)?;
        if !value.is_finite() {
            return Err(Refused::NotANumber);
        }
        state.be_at(tables, at, tell);
        state.set_variable(tables, variable, spec.held_to_range(value), tell);
        Ok(())
    }

    /// Goes on to `at` for something that happens there.
    pub(crate) fn be_at(&mut self, at: Time, tell: &mut (impl Tell + ?Sized)) {
        self.state.be_at(self.plan.tables(), at, tell);
    }

    /// The present moment.
    pub(crate) fn now(&self) -> Time {
        self.state.clock.now
    }

    /// The tick at which the game sees what is told now.
    pub(crate) fn tick_that_sees(&self) -> u64 {
        self.state.clock.tick_that_sees()
    }

    /// What a control reports on a device, as far as the engine was told.
    pub(crate) fn raw(&self, contact: Contact) -> Vector {
        self.state.inputs.controls.raw(contact.control, contact.device.into())
    }

    /// The one scheme whose bindings count, if the game narrowed them.
    pub(crate) fn narrowed(&self) -> Option<SchemeId> {
        self.state.inputs.maps.narrowed
    }

    /// The first moment at which something may be told though nothing is reported; ticks aside.
    pub(crate) fn tells_at(&self) -> Time {
        let timer = self.state.episodes.timers.first().map_or(looks::NEVER, |(due, _, _)| due);
        timer.min(self.state.agenda.next_look)
    }

    /// Goes on to `at`, through all that is due by then; no tick. The frame is that of this moment.
    pub fn advance(&mut self, at: Time, tell: &mut (impl Tell + ?Sized)) -> Frame<'_> {
        self.state.advance(self.plan.tables(), at, When::RunOut, tell);
        self.frame()
    }

    /// One frame of the game, at `at`: everything that falls due by then, then the tick itself.
    pub fn tick(&mut self, at: Time, tell: &mut (impl Tell + ?Sized)) -> Frame<'_> {
        let (tables, state) = (self.plan.tables(), &mut self.state);
        state.advance(tables, at, When::RunOut, tell);
        state.catch_up_on_values(tables);
        state.tick(tables, tell);
        Frame::new(&self.plan, &self.state)
    }

    /// Until when ticks would tell nothing and change nothing that is read at them, as long as nothing
    /// is reported; `None` where the next tick may. Only right after a tick.
    pub fn rests_until(&self) -> Option<Time> {
        self.state.rests_until()
    }

    /// Ticks that were.
    pub fn ticks(&self) -> u64 {
        self.state.clock.ticks
    }

    /// So many ticks pass without being worked through: all of them earlier than what
    /// [`rests_until`](Self::rests_until) tells.
    pub fn pass_ticks(&mut self, count: u64) {
        self.state.clock.ticks += count;
    }

    /// What there is to read at the present moment.
    pub fn frame(&mut self) -> Frame<'_> {
        self.state.show_all(self.plan.tables());
        Frame::new(&self.plan, &self.state)
    }

    /// Whether reports of an action wait to be looked at, which they are at the next frame.
    pub fn is_waiting(&self, action: ActionId) -> bool {
        self.state.agenda.lets_wait(action)
    }

    /// Ends what is still open, with cause `stopped`. Call it right after the last tick.
    pub fn stop(&mut self, tell: &mut (impl Tell + ?Sized)) {
        let (tables, state) = (self.plan.tables(), &mut self.state);
        state.catch_up(tables);
        for action in tables.actions.ids() {
            state.cues(tables, tell).end_by_force(action, Cause::Stopped);
        }
        // What is read from now on is the end, not the last tick.
        state.clock.frame_stands = false;
    }
}
