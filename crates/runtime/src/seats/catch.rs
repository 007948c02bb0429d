//! Which control a player means: for a screen on which controls are bound.

use super::Seats;
use crate::base::limits::{HELD, LET_GO, MOVED, MOVED_WITHIN, PRESSED, TIE};
use crate::base::{
    Component, Contact, ControlId, ControlKind, Device, Seat, Table, Time, Vector, turn,
};
use crate::controls::Reads;
use crate::engine::Refused;
use crate::plan::Plan;
use std::sync::Arc;

/// So many buttons that are held are told.
const MOST_HELD: usize = 4;

/// A control that was clearly meant.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Caught {
    /// Which, by the number of the hardware; of a turn of the wheel that was caught as a button, its
    /// notch.
    pub contact: Contact,
    /// How far it went from where it had been, at its farthest; of what moves, by how much.
    pub way: Vector,
    held: [Option<Contact>; MOST_HELD],
}

impl Caught {
    /// The buttons that went down before it and were still held, in that order; four at most.
    pub fn held(&self) -> impl Iterator<Item = Contact> {
        self.held.into_iter().flatten()
    }

    /// The name of the control, or of its part that was meant where a part is wanted: of a stick that
    /// went up `pad.left-stick.up` in place of a button or lever, `pad.left-stick.y` in place of an axis.
    pub fn name(&self, plan: &Plan, wanted: ControlKind) -> String {
        let control = self.contact.control;
        let component = match self.way.x.abs() >= self.way.y.abs() {
            true => Component::X,
            false => Component::Y,
        };
        let positive = self.way.components()[component as usize] > 0.0;
        let kind = plan.controls().get(control).map(|spec| spec.kind);
        let part = match (kind, wanted) {
            (
                Some(ControlKind::Stick | ControlKind::Relative | ControlKind::Spot),
                ControlKind::Axis,
            ) => Reads::Component(control, component),
            (Some(ControlKind::Stick), ControlKind::Button | ControlKind::Lever) => {
                Reads::Half(control, component, positive)
            }
            _ => Reads::Whole(control),
        };
        let part = plan.catalogue().entries().find(|entry| entry.reads == part);
        let whole = || plan.names().controls.get(control).map_or("", |name| &**name);
        part.map_or_else(whole, |entry| &*entry.name).to_owned()
    }
}

/// How far something has moved.
#[derive(Clone, Copy, Debug)]
struct Movement {
    contact: Contact,
    since: Time,
    /// In counts or notches, whichever way.
    counts: f64,
    way: Vector,
}

/// What goes on while a control is caught.
#[derive(Clone, Debug)]
pub(super) struct Catching {
    seat: Option<Seat>,
    /// The kinds of controls that may be caught, as bits.
    kinds: u16,
    /// The devices, as bits, on which a control is kept from the actions.
    withheld: Table<ControlId, u8>,
    /// The buttons that went down, in that order.
    down: [Option<Contact>; MOST_HELD],
    /// What went farthest past half of its range, and how far.
    farthest: Option<(Contact, Vector)>,
    /// What moved last.
    moved: Option<Movement>,
    caught: Option<Caught>,
}

impl Catching {
    pub fn new(plan: &Plan) -> Self {
        Self {
            seat: None,
            kinds: 0,
            withheld: Table::filled(0, plan.controls().len()),
            down: [None; MOST_HELD],
            farthest: None,
            moved: None,
            caught: None,
        }
    }

    /// Nothing is caught any more.
    pub fn stop(&mut self) {
        self.withheld.fill(0);
        (self.seat, self.kinds, self.down) = (None, 0, [None; MOST_HELD]);
        (self.farthest, self.moved, self.caught) = (None, None, None);
    }

    /// Whether a control is to be caught and none was yet.
    pub fn goes_on(&self) -> bool {
        self.seat.is_some() && self.caught.is_none()
    }

    fn takes(&self, kind: ControlKind) -> bool {
        self.kinds & (1 << kind as u16) != 0
    }

    fn is_withheld(&self, contact: Contact) -> bool {
        self.withheld.get(contact.control).is_some_and(|own| own & (1 << contact.device) != 0)
    }

    fn withhold(&mut self, contact: Contact, withheld: bool) {
        if let Some(own) = self.withheld.get_mut(contact.control) {
            let bit = 1 << contact.device;
            *own = if withheld { *own | bit } else { *own & !bit };
        }
    }

    fn catch(&mut self, contact: Contact, way: Vector) {
        let mut held = [None; MOST_HELD];
        let before = self.down.into_iter().flatten().take_while(|one| *one != contact);
        held.iter_mut().zip(before).for_each(|(slot, one)| *slot = Some(one));
        self.caught = Some(Caught { contact, way, held });
    }

    /// A control is so far from where it was.
    fn note(&mut self, contact: Contact, kind: ControlKind, way: Vector) {
        if kind == ControlKind::Button {
            let is_down = self.down.contains(&Some(contact));
            if let Some(slot) = self.down.iter_mut().find(|slot| slot.is_none() && !is_down) {
                *slot = Some(contact);
            }
        } else if way.magnitude() >= PRESSED
            && self.farthest.is_none_or(|(_, most)| way.magnitude() > most.magnitude())
        {
            self.farthest = Some((contact, way));
        }
    }

    /// A control is back where it was.
    fn comes_back(&mut self, contact: Contact) {
        if self.down.contains(&Some(contact)) {
            return self.catch(contact, Vector::axis(1.0));
        }
        if let Some((_, way)) = self.farthest.filter(|(one, _)| *one == contact) {
            self.catch(contact, way);
        }
    }

    /// How many counts something has moved by within the last quarter of a second, and which way, with
    /// this movement.
    fn moves(&mut self, at: Time, contact: Contact, by: Vector) -> (f64, Vector) {
        let goes_on =
            |moved: &Movement| moved.contact == contact && at.since(moved.since) <= MOVED_WITHIN;
        let new = Movement { contact, since: at, counts: 0.0, way: Vector::ZERO };
        let before = self.moved.filter(goes_on).unwrap_or(new);
        let counts = before.counts + by.magnitude();
        let moved = Movement { counts, way: before.way.plus(by), ..before };
        self.moved = Some(moved);
        (moved.counts, moved.way)
    }

    fn forget(&mut self, is_meant: impl Fn(Contact) -> bool) {
        for slot in &mut self.down {
            *slot = slot.filter(|one| !is_meant(*one));
        }
        // What is left stands without gaps.
        self.down.sort_by_key(Option::is_none);
        self.farthest = self.farthest.filter(|(one, _)| !is_meant(*one));
        self.moved = self.moved.filter(|moved| !is_meant(moved.contact));
    }
}

impl Seats {
    /// From now on a control of one of some kinds is caught on the devices of a seat, for a screen on which
    /// controls are bound: [`caught`](Self::caught) gives it once it has clearly been meant.
    ///
    /// That is the first button to go down and come up again; or the stick, lever or axis that went
    /// farthest past half of its range from where it was, once it is back there; or what has moved by 12
    /// counts within a quarter of a second, a notch of a wheel, half the width of a screen, or 0.5
    /// radians. What was held already counts for the actions until it is let go, and can be caught only
    /// after that; what drifts is where it is. What may be caught, and what is on its way while something
    /// else is, does nothing else before it is let go. Controls of other kinds go on as ever.
    ///
    /// The notches of wheels are buttons here too. Places have no range, so none is caught.
    ///
    /// # Errors
    /// When there is no such seat.
    pub fn catch(&mut self, seat: Seat, kinds: &[ControlKind]) -> Result<(), Refused> {
        if seat.index() >= self.engines.len() {
            return Err(Refused::UnknownSeat);
        }
        self.catching.stop();
        self.catching.seat = Some(seat);
        self.catching.kinds = kinds.iter().fold(0, |bits, kind| bits | 1 << *kind as u16);
        self.settle();
        Ok(())
    }

    /// The control that was meant, once there is one; then nothing is caught any more.
    pub fn caught(&mut self) -> Option<Caught> {
        let caught = self.catching.caught?;
        self.stop_catching();
        Some(caught)
    }

    /// Nothing is caught any more.
    pub fn stop_catching(&mut self) {
        self.catching.stop();
        self.settle();
    }

    /// Whether a control of a seat's devices is to be caught.
    pub(super) fn catches(&self, seat: Seat) -> bool {
        self.catching.goes_on() && self.catching.seat == Some(seat)
    }

    /// A device is not where it was: nothing that it began is gone on with.
    pub(super) fn catch_nothing_of(&mut self, device: Device) {
        let plan = Arc::clone(self.plan());
        let is_meant = |contact: Contact| {
            let spec = plan.controls().get(contact.control);
            contact.device == device.number && spec.is_some_and(|spec| spec.class == device.class)
        };
        self.catching.forget(is_meant);
    }

    /// Takes what a control of a seat's device reports, if it is to be caught; tells whether it is kept
    /// from the actions. `own` is the control as its seat knows it.
    pub(super) fn withholds(
        &mut self,
        device: Device,
        (contact, own): (Contact, Contact),
        kind: ControlKind,
        value: Vector,
    ) -> bool {
        let Some(seat) = self.catching.seat.filter(|_| self.catching.goes_on()) else {
            return false;
        };
        let was = self.engines.get(seat.index()).map_or(Vector::ZERO, |engine| engine.raw(own));
        match kind {
            ControlKind::Relative => self.withholds_movement(contact, value),
            ControlKind::Spot | ControlKind::Turn if self.catching.takes(kind) => {
                let (way, far) = match kind {
                    ControlKind::Spot => (value.minus(was), value.minus(was).magnitude()),
                    _ => (value, turn::between(was, value)),
                };
                if far >= PRESSED {
                    self.catching.catch(contact, way);
                }
                true
            }
            kind if kind.is_held() && self.catching.takes(kind) => {
                self.withholds_held(device, contact, kind, value, was)
            }
            _ => false,
        }
    }

    fn withholds_held(
        &mut self,
        device: Device,
        contact: Contact,
        kind: ControlKind,
        value: Vector,
        was: Vector,
    ) -> bool {
        let is_own = self.catching.is_withheld(contact) && self.is_held_back(contact);
        if !is_own && (was.magnitude() >= HELD || self.is_held_back(contact)) {
            return false;
        }
        let way = value.minus(was);
        if way.magnitude() >= LET_GO {
            self.catching.withhold(contact, true);
            self.hold_back(device, contact, true);
            self.keep(contact, value);
            self.catching.note(contact, kind, way);
            return true;
        }
        if is_own {
            self.catching.withhold(contact, false);
            self.hold_back(device, contact, false);
            self.catching.comes_back(contact);
        }
        // Where it rests is where it was, or nearer to 0.
        value.magnitude() > was.magnitude()
    }

    fn withholds_movement(&mut self, contact: Contact, by: Vector) -> bool {
        let plan = Arc::clone(self.plan());
        let mut notches = plan.notches().iter().filter(|notch| notch.wheel == contact.control);
        let is_wheel = notches.clone().next().is_some();
        let is_button = is_wheel && self.catching.takes(ControlKind::Button);
        if !is_button && !self.catching.takes(ControlKind::Relative) {
            return false;
        }
        let (counts, way) = self.catching.moves(self.now, contact, by);
        let is_meant = match is_wheel {
            true => way.x.abs().max(way.y.abs()) >= 1.0 - TIE,
            false => counts >= MOVED - TIE,
        };
        let notch = notches.find(|notch| {
            let way = way.components()[notch.component as usize];
            if notch.positive { way >= 1.0 - TIE } else { way <= TIE - 1.0 }
        });
        match notch.filter(|_| is_button) {
            Some(notch) => {
                let button = Contact { control: notch.button, ..contact };
                self.catching.catch(button, Vector::axis(1.0));
            }
            None if is_meant => self.catching.catch(contact, way),
            None => {}
        }
        true
    }
}
