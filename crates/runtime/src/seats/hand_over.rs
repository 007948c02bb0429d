//! Devices that come and go, and change hands.

use super::links::{controls_of, devices};
use super::{Hear, Seats, Told, of};
use crate::base::limits::HELD;
use crate::base::{Contact, ControlKind, Device, Seat, Time, Vector};
use crate::engine::{Notice, Refused};
use std::sync::Arc;

impl Seats {
    /// A device is there from `at` on, and back at its seat if it had one. What is held on it does not count
    /// before it is let go: what it reported since it went away, or before, is what it is held at.
    /// A device that is known to be there stays as it is.
    ///
    /// # Errors
    /// When the plan knows no such class, or a class no such device.
    pub fn plug(
        &mut self,
        at: Time,
        device: Device,
        tell: &mut (impl Hear + ?Sized),
    ) -> Result<(), Refused> {
        let link = *self.links.get(device).ok_or(Refused::UnknownDevice)?;
        if link.is_there() {
            return Ok(());
        }
        self.go_on(at, tell);
        self.links.set_there(device, true);
        self.tell_of(link.seat, tell, |t, tick| Notice::Device { t, tick, device, plugged: true });
        // Of what nobody said anything, the engine knows all.
        if link.is_gone() {
            self.bring(device, true, tell)?;
        }
        self.settle();
        Ok(())
    }

    /// A device goes away at `at`: what it held ends, with cause `unplugged`. It stays its seat's, for when
    /// it comes back. A device that is not there stays so.
    ///
    /// # Errors
    /// When the plan knows no such class, or a class no such device.
    pub fn unplug(
        &mut self,
        at: Time,
        device: Device,
        tell: &mut (impl Hear + ?Sized),
    ) -> Result<(), Refused> {
        let link = *self.links.get(device).ok_or(Refused::UnknownDevice)?;
        if link.is_gone() {
            return Ok(());
        }
        self.go_on(at, tell);
        self.tell_of(link.seat, tell, |t, tick| Notice::Device { t, tick, device, plugged: false });
        self.take_from_engine(device, tell)?;
        self.links.set_there(device, false);
        self.catch_nothing_of(device);
        self.free(device);
        self.settle();
        Ok(())
    }

    /// A device is handed to a seat at `at`, and with a keyboard its mouse: it is unplugged from the one
    /// that had it, and what is held on it does not count before it is let go.
    ///
    /// # Errors
    /// When the plan knows no such class, a class no such device, or there is no such seat.
    pub fn give(
        &mut self,
        at: Time,
        device: Device,
        seat: Seat,
        tell: &mut (impl Hear + ?Sized),
    ) -> Result<(), Refused> {
        if seat.index() >= self.engines.len() {
            return Err(Refused::UnknownSeat);
        }
        self.links.get(device).ok_or(Refused::UnknownDevice)?;
        self.go_on(at, tell);
        if self.links.get(device).is_some_and(|link| !link.is_gone()) {
            self.links.know(device);
        }
        self.hand_over(device, Some(seat), true, tell)
    }

    /// A player leaves at `at`: the devices of the seat are nobody's again.
    ///
    /// # Errors
    /// When there is no such seat, or it is the only one, which has all devices.
    pub fn leave(
        &mut self,
        at: Time,
        seat: Seat,
        tell: &mut (impl Hear + ?Sized),
    ) -> Result<(), Refused> {
        if seat.index() >= self.engines.len() || self.engines.len() == 1 {
            return Err(Refused::UnknownSeat);
        }
        self.go_on(at, tell);
        let plan = Arc::clone(self.plan());
        for device in devices(&plan) {
            if self.owner(device) == Some(seat) {
                self.hand_over(device, None, true, tell)?;
            }
        }
        Ok(())
    }

    /// Whose a device is, also while it is not there.
    pub fn owner(&self, device: Device) -> Option<Seat> {
        self.links.get(device)?.seat
    }

    /// Where a control of a device leads: to which seat, and as what there.
    pub fn way_of(&self, contact: Contact) -> Option<(Seat, Contact)> {
        let class = self.plan().controls().get(contact.control)?.class;
        let link = self.links.get(Device { class, number: contact.device })?;
        Some((link.seat?, Contact { device: link.slot, ..contact }))
    }

    /// Whether a seat has a device, and that did not go away.
    pub fn has(&self, seat: Seat, device: Device) -> bool {
        self.links.get(device).is_some_and(|link| link.seat == Some(seat) && !link.is_gone())
    }

    /// A device and what goes along with it become `seat`'s, and are told so; `hold_back`: what is held on
    /// them does not count before it is let go.
    pub(super) fn hand_over(
        &mut self,
        device: Device,
        seat: Option<Seat>,
        hold_back: bool,
        tell: &mut (impl Hear + ?Sized),
    ) -> Result<(), Refused> {
        for device in [Some(device), device.companion()].into_iter().flatten() {
            let Some(link) = self.links.get(device).copied() else { continue };
            if link.seat == seat {
                continue;
            }
            if self.joining.uses(device.class) {
                self.tell_of(seat, tell, |t, tick| Notice::Seat { t, tick, device });
            }
            self.take_from_engine(device, tell)?;
            self.catch_nothing_of(device);
            let slot = seat.map(|seat| self.links.free_slot(device.class, seat));
            if let Some(link) = self.links.get_mut(device) {
                (link.seat, link.slot) = (seat, slot.unwrap_or_default());
            }
            if !link.is_gone() {
                self.bring(device, hold_back, tell)?;
            }
        }
        self.settle();
        Ok(())
    }

    /// Keeps what a device reports, and releases all of it at its seat.
    fn take_from_engine(
        &mut self,
        device: Device,
        tell: &mut (impl Hear + ?Sized),
    ) -> Result<(), Refused> {
        let Some(link) = self.links.get(device).copied().filter(|link| !link.is_gone()) else {
            return Ok(());
        };
        let Some(seat) = link.seat else { return Ok(()) };
        let (plan, at) = (Arc::clone(self.plan()), self.now);
        for (control, kind) in controls_of(&plan, device.class) {
            let contact = Contact { control, device: device.number };
            if kind == ControlKind::Relative {
                self.keep(contact, Vector::ZERO);
            } else if !self.is_held_back(contact) {
                let own = Contact { control, device: link.slot };
                let raw = self.engines.get(seat.index()).map_or(Vector::ZERO, |e| e.raw(own));
                self.keep(contact, raw);
            }
        }
        match self.engines.get_mut(seat.index()) {
            Some(engine) => engine.release_device(at, device.class, link.slot, &mut of(seat, tell)),
            None => Ok(()),
        }
    }

    /// What a device reports reaches its seat, if it has one; what is held on it only once it was let go,
    /// where that is wanted or was so already.
    fn bring(
        &mut self,
        device: Device,
        hold_back: bool,
        tell: &mut (impl Hear + ?Sized),
    ) -> Result<(), Refused> {
        let plan = Arc::clone(self.plan());
        let Some(link) = self.links.get(device).copied() else { return Ok(()) };
        for (control, kind) in controls_of(&plan, device.class) {
            let contact = Contact { control, device: device.number };
            let value = self.apart(contact);
            if hold_back && kind.is_held() && value.magnitude() >= HELD {
                self.hold_back(device, contact, true);
            }
            if self.is_held_back(contact) || kind == ControlKind::Relative || value == Vector::ZERO
            {
                continue;
            }
            if let Some(seat) = link.seat {
                self.pass_on(seat, Contact { control, device: link.slot }, value, tell)?;
            }
        }
        Ok(())
    }

    /// Nothing of a device waits to be let go.
    fn free(&mut self, device: Device) {
        let plan = Arc::clone(self.plan());
        for (control, _) in controls_of(&plan, device.class) {
            self.hold_back(device, Contact { control, device: device.number }, false);
        }
    }

    /// Whether a control does not count before it is let go.
    pub(super) fn is_held_back(&self, contact: Contact) -> bool {
        let devices = self.held_back.get(contact.control).copied().unwrap_or_default();
        devices & (1 << contact.device) != 0
    }

    pub(super) fn hold_back(&mut self, device: Device, contact: Contact, back: bool) {
        let bit = 1 << contact.device;
        let Some(devices) = self.held_back.get_mut(contact.control) else { return };
        let was = *devices & bit != 0;
        *devices = if back { *devices | bit } else { *devices & !bit };
        if let Some(link) = self.links.get_mut(device).filter(|_| was != back) {
            link.held_back =
                if back { link.held_back + 1 } else { link.held_back.saturating_sub(1) };
        }
        if was && !back {
            self.settle();
        }
    }

    /// What a control reports, of what no engine knows.
    pub(super) fn apart(&self, contact: Contact) -> Vector {
        let all = self.apart.get(contact.control);
        all.and_then(|all| all.get(usize::from(contact.device))).copied().unwrap_or_default()
    }

    pub(super) fn keep(&mut self, contact: Contact, value: Vector) {
        let all = self.apart.get_mut(contact.control);
        if let Some(slot) = all.and_then(|all| all.get_mut(usize::from(contact.device))) {
            *slot = value;
        }
    }

    /// Finds anew whether everything goes straight to one engine.
    pub(super) fn settle(&mut self) {
        self.is_plain =
            self.engines.len() == 1 && self.links.are_open() && !self.catching.goes_on();
    }

    /// Tells of a device at the present moment.
    pub(super) fn tell_of(
        &mut self,
        seat: Option<Seat>,
        tell: &mut (impl Hear + ?Sized),
        notice: impl FnOnce(Time, u64) -> Notice,
    ) {
        let (now, of_seat) = (self.now, seat.unwrap_or(Seat::FIRST));
        let Some(engine) = self.engines.get_mut(of_seat.index()) else { return };
        engine.be_at(now, &mut of(of_seat, tell));
        let (t, tick) = (engine.now(), engine.tick_that_sees());
        tell(Told { seat, notice: notice(t, tick) });
    }
}
