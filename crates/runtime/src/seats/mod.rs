//! Several players at one screen: which device is whose, and an engine a seat.
//!
//! Guarantees to every later stage: one plan for all; what is told comes in order of time, of one
//! instant seat by seat; a device reaches at most one seat, under its number within that seat; nothing
//! that was held when a device came to a seat counts before it is let go; after the first tick
//! nothing is allocated.
#![deny(clippy::unwrap_used, clippy::expect_used, clippy::panic)]
#![deny(clippy::print_stdout, clippy::print_stderr)]

mod catch;
mod hand_over;
mod joining;
mod links;

use crate::base::ControlId;
use crate::base::limits::LET_GO;
use crate::base::{
    Contact, ControlKind, Device, MOST_DEVICES, MapId, SchemeId, Seat, Table, Time, VariableId,
    Vector,
};
use crate::engine::{Engine, Frame, Notice, Refused, Start, held_to_range};
use crate::plan::Plan;
use catch::Catching;
pub use catch::Caught;
use joining::Joining;
use links::Links;
use std::sync::Arc;

/// Something told, and to whom it happened.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Told {
    /// The seat; none where it is nobody's, or everybody's.
    pub seat: Option<Seat>,
    /// What.
    pub notice: Notice,
}

/// What is called with everything that the seats have to tell.
pub trait Hear: FnMut(Told) {}

impl<T: FnMut(Told) + ?Sized> Hear for T {}

/// All players' hands on one plan.
///
/// Devices go by the numbers that whoever reads the hardware gives them. With one seat all of them are
/// its own, under those numbers. With more, a device belongs to nobody until one of its controls is
/// pressed or it is [given](Self::give) to a seat; within the seat its number is the lowest of its class that is free
/// there.
#[derive(Clone, Debug)]
pub struct Seats {
    engines: Box<[Engine]>,
    links: Links,
    /// What controls report that no engine knows of, by device: of devices that are nobody's or not
    /// there, and of what was held when its device came.
    apart: Table<ControlId, [Vector; MOST_DEVICES]>,
    /// The devices, as bits, on which a control does not count before it is let go.
    held_back: Table<ControlId, u8>,
    joining: Joining,
    catching: Catching,
    now: Time,
    /// Whether there is one seat, and nothing stands between the devices and its engine.
    is_plain: bool,
}

impl Seats {
    /// So many seats at time 0, [`MOST_SEATS`](crate::base::MOST_SEATS) at most and one at least; all begin
    /// in the same way.
    pub fn start(
        plan: Arc<Plan>,
        count: u8,
        start: Start,
        tell: &mut (impl Hear + ?Sized),
    ) -> Self {
        let (controls, count) = (plan.controls().len(), count.max(1));
        let owner = (count == 1).then_some(Seat::FIRST);
        let (links, joining) = (Links::new(&plan, owner), Joining::new(&plan));
        let catching = Catching::new(&plan);
        let plans = std::iter::repeat_n(plan, usize::from(count));
        let all = Seat::first(count).zip(plans);
        let engines = all.map(|(seat, plan)| Engine::start(plan, start, &mut of(seat, tell)));
        let mut seats = Self {
            engines: engines.collect(),
            links,
            apart: Table::filled([Vector::ZERO; MOST_DEVICES], controls),
            held_back: Table::filled(0, controls),
            joining,
            catching,
            now: Time::ZERO,
            is_plain: false,
        };
        seats.settle();
        seats
    }

    /// Back to time 0, as if new; nothing is allocated.
    pub fn restart(&mut self, start: Start, tell: &mut (impl Hear + ?Sized)) {
        // Taken apart by name: a field that is added later cannot be forgotten.
        let Self { engines, links, apart, held_back, joining, catching, now, is_plain: _ } = self;
        for (seat, engine) in Seat::first(engines.len() as u8).zip(engines.iter_mut()) {
            engine.restart(start, &mut of(seat, tell));
        }
        links.reset();
        apart.fill([Vector::ZERO; MOST_DEVICES]);
        held_back.fill(0);
        joining.reset();
        catching.stop();
        *now = Time::ZERO;
        self.settle();
    }

    /// The plan that all run.
    pub fn plan(&self) -> &Arc<Plan> {
        // There is a first seat.
        self.engines[0].plan()
    }

    /// Whether there is such a seat.
    #[inline]
    pub fn is_there(&self, seat: Seat) -> bool {
        seat.index() < self.engines.len()
    }

    /// The seats there are.
    pub fn all(&self) -> impl DoubleEndedIterator<Item = Seat> + use<> {
        Seat::first(self.engines.len() as u8)
    }

    /// Takes what a control of a device reports at `at`, by the number of the hardware; of what is
    /// relative, `value` is what it moved by. A time before the present one counts as the present
    /// one; so in all calls.
    ///
    /// What belongs to nobody counts for nobody; a press of it may bring it to a seat.
    ///
    /// # Errors
    /// When the plan has no such control, a class no such device, or the value is no number.
    #[inline]
    pub fn report(
        &mut self,
        at: Time,
        contact: Contact,
        value: Vector,
        tell: &mut (impl Hear + ?Sized),
    ) -> Result<(), Refused> {
        match (self.is_plain, self.engines.first_mut()) {
            (true, Some(engine)) => engine.report(at, contact, value, &mut of(Seat::FIRST, tell)),
            _ => self.report_by_links(at, contact, value, tell),
        }
    }

    #[inline(never)]
    fn report_by_links(
        &mut self,
        at: Time,
        contact: Contact,
        value: Vector,
        tell: &mut (impl Hear + ?Sized),
    ) -> Result<(), Refused> {
        let spec = *self.plan().controls().get(contact.control).ok_or(Refused::UnknownControl)?;
        let device = Device { class: spec.class, number: contact.device };
        let link = *self.links.get(device).ok_or(Refused::UnknownDevice)?;
        if !value.is_finite() {
            return Err(Refused::NotANumber);
        }
        self.go_on(at, tell);
        let value = held_to_range(value, spec.kind);
        if link.seat.is_some_and(|seat| self.catches(seat)) && !link.is_gone() {
            self.links.know(device);
            let own = Contact { device: link.slot, ..contact };
            if self.withholds(device, (contact, own), spec.kind, value) {
                return Ok(());
            }
        }
        if let (Some(seat), true) = (link.seat, link.is_open()) {
            self.links.know(device);
            return self.pass_on(seat, Contact { device: link.slot, ..contact }, value, tell);
        }
        if link.is_gone() && spec.kind == ControlKind::Relative {
            return Ok(());
        }
        let before = self.apart(contact);
        // What is left of a notch waits for the rest of it, as long as nobody counts it.
        let now = if spec.kind == ControlKind::Relative { before.plus(value) } else { value };
        self.keep(contact, now);
        if link.is_gone() {
            return Ok(());
        }
        self.links.know(device);
        if self.is_held_back(contact) {
            if value.magnitude() >= LET_GO {
                return Ok(());
            }
            self.hold_back(device, contact, false);
        }
        let seat = match link.seat {
            Some(seat) => Some(seat),
            None => self.join_by(device, contact, spec.kind, before, now, tell),
        };
        let Some(seat) = seat else { return Ok(()) };
        if self.is_held_back(contact) {
            return Ok(());
        }
        let slot = self.links.get(device).map_or(0, |link| link.slot);
        let value = if link.seat.is_none() { now } else { value };
        self.pass_on(seat, Contact { device: slot, ..contact }, value, tell)
    }

    fn pass_on(
        &mut self,
        seat: Seat,
        contact: Contact,
        value: Vector,
        tell: &mut (impl Hear + ?Sized),
    ) -> Result<(), Refused> {
        let at = self.now;
        match self.engines.get_mut(seat.index()) {
            Some(engine) => engine.report(at, contact, value, &mut of(seat, tell)),
            None => Err(Refused::UnknownSeat),
        }
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
        tell: &mut (impl Hear + ?Sized),
    ) -> Result<(), Refused> {
        self.at_each(at, seat, tell, |engine, at, tell| match open {
            true => engine.open(at, map, tell),
            false => engine.close(at, map, tell),
        })
    }

    /// The game is paused, or goes on: for all, which is told once.
    pub fn pause(&mut self, at: Time, paused: bool, tell: &mut (impl Hear + ?Sized)) {
        self.go_on(at, tell);
        let at = self.now;
        for (seat, engine) in Seat::first(self.engines.len() as u8).zip(&mut self.engines) {
            engine.pause(at, paused, &mut |notice| match notice {
                Notice::Pause { .. } if seat != Seat::FIRST => {}
                Notice::Pause { .. } => tell(Told { seat: None, notice }),
                _ => tell(Told { seat: Some(seat), notice }),
            });
        }
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
        tell: &mut (impl Hear + ?Sized),
    ) -> Result<(), Refused> {
        self.at_each(at, seat, tell, |engine, at, tell| engine.narrow(at, scheme, tell))
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
        tell: &mut (impl Hear + ?Sized),
    ) -> Result<(), Refused> {
        self.at_each(at, seat, tell, |engine, at, tell| {
            engine.set_number(at, variable, value, tell)
        })
    }

    /// Another plan takes over for all seats at `at`: what [`Engine::replan`] says of one holds for each.
    /// [`Notice::Plan`] is told once, after all that goes by the ids of the old plan. Devices stay
    /// whose they are. This allocates.
    ///
    /// # Errors
    /// When the new plan is for devices with other controls.
    pub fn replan(
        &mut self,
        at: Time,
        plan: Arc<Plan>,
        tell: &mut (impl Hear + ?Sized),
    ) -> Result<(), Refused> {
        // There is a first seat, and all run one plan.
        let kin = self.engines[0].kin_of(&plan)?;
        self.go_on(at, tell);
        let at = self.now;
        for (seat, engine) in Seat::first(self.engines.len() as u8).zip(&mut self.engines) {
            engine.be_at(at, &mut of(seat, tell));
            engine.part(&kin, &mut of(seat, tell));
        }
        let (t, tick) = (self.engines[0].now(), self.engines[0].tick_that_sees());
        tell(Told { seat: None, notice: Notice::Plan { t, tick } });
        self.joining.take_up(&plan);
        let plans = std::iter::repeat_n(plan, self.engines.len());
        let seats = Seat::first(self.engines.len() as u8).zip(&mut self.engines);
        for ((seat, engine), plan) in seats.zip(plans) {
            engine.take_up(plan, &kin, &mut of(seat, tell));
        }
        Ok(())
    }

    fn at_each<T: Hear + ?Sized>(
        &mut self,
        at: Time,
        seat: Option<Seat>,
        tell: &mut T,
        mut act: impl FnMut(&mut Engine, Time, &mut dyn FnMut(Notice)) -> Result<(), Refused>,
    ) -> Result<(), Refused> {
        if seat.is_some_and(|seat| seat.index() >= self.engines.len()) {
            return Err(Refused::UnknownSeat);
        }
        self.go_on(at, tell);
        let at = self.now;
        for (own, engine) in Seat::first(self.engines.len() as u8).zip(&mut self.engines) {
            if seat.is_none_or(|one| one == own) {
                act(engine, at, &mut of(own, tell))?;
            }
        }
        Ok(())
    }

    /// Goes on to `at`, through all that is due by then; no tick.
    pub fn advance(&mut self, at: Time, tell: &mut (impl Hear + ?Sized)) {
        self.go_on(at, tell);
        let at = self.now;
        for (seat, engine) in Seat::first(self.engines.len() as u8).zip(&mut self.engines) {
            engine.advance(at, &mut of(seat, tell));
        }
    }

    /// One frame of the game, at `at`: everything that falls due by then, then the tick of each seat.
    pub fn tick(&mut self, at: Time, tell: &mut (impl Hear + ?Sized)) {
        self.go_on(at, tell);
        let at = self.now;
        for (seat, engine) in Seat::first(self.engines.len() as u8).zip(&mut self.engines) {
            engine.tick(at, &mut of(seat, tell));
        }
    }

    /// Goes through what is due before `at`, that of each moment seat by seat; what is due at `at` itself
    /// has its place among what happens there.
    #[inline]
    fn go_on(&mut self, at: Time, tell: &mut (impl Hear + ?Sized)) {
        self.now = self.now.max(at);
        if self.engines.len() > 1 {
            self.go_through(tell);
        }
    }

    fn go_through(&mut self, tell: &mut (impl Hear + ?Sized)) {
        loop {
            let seats = Seat::first(self.engines.len() as u8).zip(&mut self.engines);
            let next = seats.min_by_key(|(_, engine)| engine.tells_at());
            let Some((seat, engine)) = next else { return };
            let due = engine.tells_at();
            if due >= self.now {
                return;
            }
            engine.advance(due, &mut of(seat, tell));
        }
    }

    /// Ends what is still open, with cause `stopped`. Call it right after the last tick.
    pub fn stop(&mut self, tell: &mut (impl Hear + ?Sized)) {
        for (seat, engine) in Seat::first(self.engines.len() as u8).zip(&mut self.engines) {
            engine.stop(&mut of(seat, tell));
        }
    }

    /// What a seat's game code reads at the present moment; of a seat that is not there, that of
    /// the first.
    pub fn frame(&mut self, seat: Seat) -> Frame<'_> {
        let index = if seat.index() < self.engines.len() { seat.index() } else { 0 };
        self.engines[index].frame()
    }

    /// Until when ticks would tell nothing and change nothing that is read at them, as long as nothing
    /// is reported; `None` where the next tick may. Only right after a tick.
    pub fn rests_until(&self) -> Option<Time> {
        let mut all = self.engines.iter().map(Engine::rests_until);
        all.try_fold(None, |least: Option<Time>, own| {
            let own = own?;
            Some(Some(least.map_or(own, |least| least.min(own))))
        })?
    }

    /// Ticks that were.
    pub fn ticks(&self) -> u64 {
        self.engines.first().map_or(0, Engine::ticks)
    }

    /// So many ticks pass without being worked through: all of them earlier than what
    /// [`rests_until`](Self::rests_until) tells.
    pub fn pass_ticks(&mut self, count: u64) {
        self.engines.iter_mut().for_each(|engine| engine.pass_ticks(count));
    }

    /// The first moment at which something of any seat falls due.
    pub fn next_due(&mut self) -> Option<Time> {
        self.engines.iter_mut().filter_map(|engine| engine.frame().next_due()).min()
    }
}

/// Tells what an engine tells, as of its seat.
fn of<T: Hear + ?Sized>(seat: Seat, tell: &mut T) -> impl FnMut(Notice) + use<'_, T> {
    move |notice| tell(Told { seat: Some(seat), notice })
}
