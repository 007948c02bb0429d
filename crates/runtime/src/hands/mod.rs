//! What a game holds: all players' hands, what they did, and what that came to.
//!
//! Guarantees: nothing that is told is lost before every reader had the time of a whole log to take it;
//! after the first tick nothing is allocated but by [`Hands::replan`].
#![deny(clippy::unwrap_used, clippy::expect_used, clippy::panic)]
#![deny(clippy::print_stdout, clippy::print_stderr)]

mod log;

pub use log::{EventReader, Events};

use crate::base::{Contact, ControlKind, Device, MapId, SchemeId, Seat, Time, VariableId, Vector};
use crate::engine::{Frame, Refused, Start};
use crate::plan::Plan;
use crate::seats::{Caught, Seats, Told};
use log::Log;
use std::sync::Arc;

/// All players' hands on one plan, with a log of what was told: [`Seats`] for a game that pulls events in
/// its own time rather than being called with each.
///
/// Whatever happens at a time before the present one happens at the present one.
///
/// ```
/// use harmonym_lang::{load, source::Source};
/// use harmonym_runtime::{Contact, EventReader, Hands, Notice, Start, Time};
/// use std::sync::Arc;
///
/// let text = r#"
/// harmonym = 1
/// scheme.desk.devices = ["key"]
/// [map.quay]
/// start = true
/// [map.quay.hail]
/// value = "switch"
/// bind.desk = "key.KeyH"
/// "#;
/// let (_, plan) = load(&Source::new("harmonym.toml", text)).expect("a sound profile");
/// let plan = Arc::new(plan);
/// let hail = plan.find_action("quay.hail").unwrap();
/// let key = Contact::first(plan.find_control("key.KeyH").unwrap());
///
/// let mut hands = Hands::start(plan, 1, Start::default());
/// let mut reader = EventReader::default();
/// hands.report(Time::from_millis(3), key, 1.0).unwrap();
/// hands.tick(Time::from_millis(16));
/// if hands.seat(1).fired(hail) > 0 {
///     // Hail the boat.
/// }
/// let events = hands.events(&mut reader).filter(|told| matches!(told.notice, Notice::Event(_)));
/// assert_eq!(events.count(), 2, "it woke, and it fired");
/// ```
#[derive(Clone, Debug)]
pub struct Hands {
    seats: Seats,
    log: Log,
}

impl Hands {
    /// So many seats at time 0, 8 at most and one at least, with a log of 4,096 entries.
    pub fn start(plan: Arc<Plan>, seats: u8, start: Start) -> Self {
        Self::with_log(plan, seats, start, log::USUAL)
    }

    /// The same with a log of so many entries at least.
    pub fn with_log(plan: Arc<Plan>, seats: u8, start: Start, entries: usize) -> Self {
        let mut log = Log::new(entries);
        let seats = Seats::start(plan, seats, start, &mut |told| log.push(told));
        Self { seats, log }
    }

    /// Back to time 0, as if new. Readers go on: what comes now is new to them.
    pub fn restart(&mut self, start: Start) {
        self.with(|seats, tell| seats.restart(start, tell));
    }

    /// Lets something be done to the seats whose events go to the log.
    pub fn with<T>(&mut self, act: impl FnOnce(&mut Seats, &mut dyn FnMut(Told)) -> T) -> T {
        let Self { seats, log } = self;
        act(seats, &mut |told| log.push(told))
    }

    /// The seats there are.
    pub fn all(&self) -> impl DoubleEndedIterator<Item = Seat> + use<> {
        self.seats.all()
    }

    /// The plan that all run.
    pub fn plan(&self) -> &Arc<Plan> {
        self.seats.plan()
    }

    /// Takes what a control of a device reports at `at`; of what is relative, what it moved by.
    ///
    /// # Errors
    /// When the plan has no such control, a class no such device, or the value is no number.
    pub fn report(
        &mut self,
        at: Time,
        contact: Contact,
        value: impl Into<Vector>,
    ) -> Result<(), Refused> {
        let Self { seats, log } = self;
        seats.report(at, contact, value.into(), &mut |told| log.push(told))
    }

    /// One frame of the game, at `at`.
    pub fn tick(&mut self, at: Time) {
        let Self { seats, log } = self;
        seats.tick(at, &mut |told| log.push(told));
    }

    /// Goes on to `at` without a frame, through all that is due by then.
    pub fn advance(&mut self, at: Time) {
        self.with(|seats, tell| seats.advance(at, tell));
    }

    /// What the game reads of a player, by the number of the seat from 1; of a seat that is not
    /// there, that of the first.
    pub fn seat(&mut self, number: u8) -> Frame<'_> {
        self.seats.frame(Seat::new(number).unwrap_or(Seat::FIRST))
    }

    /// The same by the seat; none of a seat that is not there.
    #[inline]
    pub fn frame(&mut self, seat: Seat) -> Option<Frame<'_>> {
        self.seats.is_there(seat).then(|| self.seats.frame(seat))
    }

    /// What was told since a reader took it last, in order. Any number of readers look at one log.
    pub fn events<'a>(&'a self, reader: &mut EventReader) -> Events<'a> {
        self.log.since(reader, usize::MAX)
    }

    /// The same, so many at most; the others are new to the reader the next time.
    pub fn events_up_to<'a>(&'a self, reader: &mut EventReader, most: usize) -> Events<'a> {
        self.log.since(reader, most)
    }

    /// The game opens a map, or closes it, for one seat or for all.
    ///
    /// # Errors
    /// When the plan has no such map, it is an `always` map, or there is no such seat.
    pub fn set_open(
        &mut self,
        at: Time,
        seat: Option<Seat>,
        map: MapId,
        open: bool,
    ) -> Result<(), Refused> {
        self.with(|seats, tell| seats.set_open(at, seat, map, open, tell))
    }

    /// A setting or fact becomes `value` in its own unit, for one seat or for all.
    ///
    /// # Errors
    /// When the plan has no such setting or fact, the value is no number, or there is no such seat.
    pub fn set_number(
        &mut self,
        at: Time,
        seat: Option<Seat>,
        variable: VariableId,
        value: f64,
    ) -> Result<(), Refused> {
        self.with(|seats, tell| seats.set_number(at, seat, variable, value, tell))
    }

    /// The game narrows the bindings of one seat or of all to those of one scheme, or lets all count.
    ///
    /// # Errors
    /// When the plan has no such scheme, or there is no such seat.
    pub fn narrow(
        &mut self,
        at: Time,
        seat: Option<Seat>,
        scheme: Option<SchemeId>,
    ) -> Result<(), Refused> {
        self.with(|seats, tell| seats.narrow(at, seat, scheme, tell))
    }

    /// The game is paused, or goes on.
    pub fn pause(&mut self, at: Time, paused: bool) {
        self.with(|seats, tell| seats.pause(at, paused, tell));
    }

    /// A device is there from now on, or goes away: [`Seats::plug`], [`Seats::unplug`].
    ///
    /// # Errors
    /// When the plan knows no such class, or a class no such device.
    pub fn plug(&mut self, at: Time, device: Device, plugged: bool) -> Result<(), Refused> {
        self.with(|seats, tell| match plugged {
            true => seats.plug(at, device, tell),
            false => seats.unplug(at, device, tell),
        })
    }

    /// A device is handed to a seat: [`Seats::give`].
    ///
    /// # Errors
    /// When there is no such device, or no such seat.
    pub fn give(&mut self, at: Time, device: Device, seat: Seat) -> Result<(), Refused> {
        self.with(|seats, tell| seats.give(at, device, seat, tell))
    }

    /// A player leaves: [`Seats::leave`].
    ///
    /// # Errors
    /// When there is no such seat, or it is the only one.
    pub fn leave(&mut self, at: Time, seat: Seat) -> Result<(), Refused> {
        self.with(|seats, tell| seats.leave(at, seat, tell))
    }

    /// Devices join by invitation up to a moment: [`Seats::invite`].
    pub fn invite(&mut self, until: Time) {
        self.seats.invite(until);
    }

    /// Devices join by being pressed: [`Seats::join_freely`].
    pub fn join_freely(&mut self) {
        self.seats.join_freely();
    }

    /// Whose a device is, also while it is not there.
    pub fn owner(&self, device: Device) -> Option<Seat> {
        self.seats.owner(device)
    }

    /// A control is caught for a rebinding screen: [`Seats::catch`].
    ///
    /// # Errors
    /// When there is no such seat.
    pub fn catch(&mut self, seat: Seat, kinds: &[ControlKind]) -> Result<(), Refused> {
        self.seats.catch(seat, kinds)
    }

    /// The control that was meant, once there is one.
    pub fn caught(&mut self) -> Option<Caught> {
        self.seats.caught()
    }

    /// Nothing is caught any more.
    pub fn stop_catching(&mut self) {
        self.seats.stop_catching();
    }

    /// Another plan takes over: [`Seats::replan`]. This allocates.
    ///
    /// # Errors
    /// When the new plan is for devices with other controls.
    pub fn replan(&mut self, at: Time, plan: Arc<Plan>) -> Result<(), Refused> {
        self.with(|seats, tell| seats.replan(at, plan, tell))
    }

    /// Ends what is still open, with cause `stopped`. Call it right after the last tick.
    pub fn stop(&mut self) {
        self.with(|seats, tell| seats.stop(tell));
    }
}
