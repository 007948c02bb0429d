//! What a game holds: all players' hands, what they did, and what that came to.
//!
//! Guarantees: nothing that is told is lost before every reader had the time of a whole log to take it;
//! after the first tick nothing is allocated but by [`Hands::replan`].
#![deny(clippy::unwrap_used, clippy::expect_used, clippy::panic)]
#![deny(clippy::print_stdout, clippy::print_stderr)]

mod log;
mod players;

pub use log::{EventReader, Events};

use crate::base::{Contact, MapId, SchemeId, Seat, Time, VariableId, Vector};
use crate::engine::{Frame, Refused, Start};
use crate::plan::Plan;
use crate::seats::{Seats, Told};
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
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// let hands = harmonym_runtime::Hands::start(game.plan().clone(), 2, Default::default());
    /// assert_eq!(hands.all().count(), 2);
    /// ```
    pub fn start(plan: Arc<Plan>, seats: u8, start: Start) -> Self {
        Self::with_log(plan, seats, start, log::USUAL)
    }

    /// The same with a log of so many entries at least.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// let hands = harmonym_runtime::Hands::with_log(game.plan().clone(), 1, Default::default(), 64);
    /// ```
    pub fn with_log(plan: Arc<Plan>, seats: u8, start: Start, entries: usize) -> Self {
        let mut log = Log::new(entries);
        let seats = Seats::start(plan, seats, start, &mut |told| log.push(told));
        Self { seats, log }
    }

    /// Back to time 0, as if new. Readers go on: what comes now is new to them.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # use harmonym_runtime::Time;
    /// hands.tick(Time::from_millis(16));
    /// hands.restart(Default::default());
    /// assert_eq!(hands.seat(1).now(), Time::from_millis(0));
    /// ```
    pub fn restart(&mut self, start: Start) {
        self.with(|seats, tell| seats.restart(start, tell));
    }

    /// Lets something be done to the seats whose events go to the log.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # use harmonym_runtime::Time;
    /// hands.with(|seats, tell| seats.advance(Time::from_millis(5), tell));
    /// assert_eq!(hands.seat(1).now(), Time::from_millis(5));
    /// ```
    pub fn with<T>(&mut self, act: impl FnOnce(&mut Seats, &mut dyn FnMut(Told)) -> T) -> T {
        let Self { seats, log } = self;
        act(seats, &mut |told| log.push(told))
    }

    /// The seats there are.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// let numbers: Vec<u8> = hands.all().map(|seat| seat.number()).collect();
    /// assert_eq!(numbers, [1, 2]);
    /// ```
    pub fn all(&self) -> impl DoubleEndedIterator<Item = Seat> + use<> {
        self.seats.all()
    }

    /// The plan that all run.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// assert_eq!(hands.plan().actions().len(), 2);
    /// ```
    pub fn plan(&self) -> &Arc<Plan> {
        self.seats.plan()
    }

    /// Takes what a control of a device reports at `at`; of what is relative, what it moved by.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # let key = harmonym_runtime::Contact::first(game.control("key.KeyH").unwrap());
    /// # use harmonym_runtime::Time;
    /// hands.report(Time::from_millis(3), key, true)?;
    /// assert!(hands.report(Time::from_millis(4), key, f64::NAN).is_err());
    /// # Ok::<(), harmonym_runtime::Refused>(())
    /// ```
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
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # use harmonym_runtime::Time;
    /// hands.tick(Time::from_millis(16));
    /// assert_eq!(hands.seat(1).ticks(), 1);
    /// ```
    pub fn tick(&mut self, at: Time) {
        let Self { seats, log } = self;
        seats.tick(at, &mut |told| log.push(told));
    }

    /// Goes on to `at` without a frame, through all that is due by then.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # use harmonym_runtime::Time;
    /// hands.advance(Time::from_millis(16));
    /// assert_eq!((hands.seat(1).ticks(), hands.seat(1).now()), (0, Time::from_millis(16)));
    /// ```
    pub fn advance(&mut self, at: Time) {
        self.with(|seats, tell| seats.advance(at, tell));
    }

    /// What the game reads of a player, by the number of the seat from 1; of a seat that is not
    /// there, that of the first.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # let key = harmonym_runtime::Contact::first(game.control("key.KeyH").unwrap());
    /// # use harmonym_runtime::Time;
    /// let hail = game.action("quay.hail").unwrap();
    /// hands.report(Time::from_millis(3), key, true).unwrap();
    /// hands.tick(Time::from_millis(16));
    /// let seat = hands.seat(1);
    /// assert_eq!((seat.is_on(hail), seat.fired(hail)), (true, 1));
    /// ```
    pub fn seat(&mut self, number: u8) -> Frame<'_> {
        self.seats.frame(Seat::new(number).unwrap_or(Seat::FIRST))
    }

    /// The same by the seat; none of a seat that is not there.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # use harmonym_runtime::Seat;
    /// assert!(hands.frame(Seat::FIRST).is_some());
    /// assert!(hands.frame(Seat::new(3).unwrap()).is_none());
    /// ```
    #[inline]
    pub fn frame(&mut self, seat: Seat) -> Option<Frame<'_>> {
        self.seats.is_there(seat).then(|| self.seats.frame(seat))
    }

    /// What was told since a reader took it last, in order. Any number of readers look at one log.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # let key = harmonym_runtime::Contact::first(game.control("key.KeyH").unwrap());
    /// # use harmonym_runtime::Time;
    /// let mut reader = harmonym_runtime::EventReader::default();
    /// hands.report(Time::from_millis(3), key, true).unwrap();
    /// let told = hands.events(&mut reader).count();
    /// assert!(told > 0);
    /// assert_eq!(hands.events(&mut reader).count(), 0);
    /// ```
    pub fn events<'a>(&'a self, reader: &mut EventReader) -> Events<'a> {
        self.log.since(reader, usize::MAX)
    }

    /// The same, so many at most; the others are new to the reader the next time.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # let key = harmonym_runtime::Contact::first(game.control("key.KeyH").unwrap());
    /// # use harmonym_runtime::Time;
    /// let mut reader = harmonym_runtime::EventReader::default();
    /// hands.report(Time::from_millis(3), key, true).unwrap();
    /// assert_eq!(hands.events_up_to(&mut reader, 1).count(), 1);
    /// assert!(hands.events(&mut reader).count() > 0);
    /// ```
    pub fn events_up_to<'a>(&'a self, reader: &mut EventReader, most: usize) -> Events<'a> {
        self.log.since(reader, most)
    }

    /// The game opens a map, or closes it, for one seat or for all.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # use harmonym_runtime::Time;
    /// let tug = game.map("tug").unwrap();
    /// hands.set_open(Time::from_millis(1), None, tug, true)?;
    /// assert!(hands.seat(2).is_open(tug));
    /// # Ok::<(), harmonym_runtime::Refused>(())
    /// ```
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
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # use harmonym_runtime::Time;
    /// # use harmonym_runtime::Seat;
    /// let pace = game.number("pace").unwrap();
    /// hands.set_number(Time::from_millis(1), Some(Seat::FIRST), pace, 2.0)?;
    /// assert_eq!(hands.seat(1).number(pace), Some(2.0));
    /// assert_eq!(hands.seat(2).number(pace), Some(1.0));
    /// # Ok::<(), harmonym_runtime::Refused>(())
    /// ```
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
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # use harmonym_runtime::Time;
    /// let desk = game.scheme("desk").unwrap();
    /// hands.narrow(Time::from_millis(1), None, Some(desk))?;
    /// assert_eq!(hands.seat(1).narrowed_to(), Some(desk));
    /// # Ok::<(), harmonym_runtime::Refused>(())
    /// ```
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
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # use harmonym_runtime::Time;
    /// hands.pause(Time::from_millis(1), true);
    /// assert!(hands.seat(1).is_paused());
    /// ```
    pub fn pause(&mut self, at: Time, paused: bool) {
        self.with(|seats, tell| seats.pause(at, paused, tell));
    }

    /// Another plan takes over: [`Seats::replan`]. This allocates.
    ///
    /// What is told from [`Notice::Plan`](crate::Notice::Plan) on goes by the ids of the new plan; what a reader still has
    /// before it goes by those of the old one: take it first, or keep the old plan.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # use harmonym_runtime::Time;
    /// let french = game.clone().for_layout(harmonym_runtime::Layout::from_word("fr").unwrap());
    /// hands.replan(Time::from_millis(1), french.plan().clone())?;
    /// assert_eq!(hands.plan().layout().word(), "fr");
    /// # Ok::<(), harmonym_runtime::Refused>(())
    /// ```
    ///
    /// # Errors
    /// When the new plan is for devices with other controls.
    pub fn replan(&mut self, at: Time, plan: Arc<Plan>) -> Result<(), Refused> {
        self.with(|seats, tell| seats.replan(at, plan, tell))
    }

    /// Ends what is still open, with cause `stopped`. Call it right after the last tick.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # let key = harmonym_runtime::Contact::first(game.control("key.KeyH").unwrap());
    /// # use harmonym_runtime::Time;
    /// hands.report(Time::from_millis(3), key, true).unwrap();
    /// hands.stop();
    /// assert!(!hands.seat(1).is_on(game.action("quay.hail").unwrap()));
    /// ```
    pub fn stop(&mut self) {
        self.with(|seats, tell| seats.stop(tell));
    }
}
