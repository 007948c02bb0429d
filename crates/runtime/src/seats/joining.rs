//! How a device finds its player.

use super::{Hear, Seats};
use crate::base::limits::{PRESSED, TIE};
use crate::base::{Class, Contact, ControlKind, Device, Seat, Time, Vector};
use crate::plan::Plan;

/// Who gets a device that is nobody's.
#[derive(Clone, Debug)]
pub(super) struct Joining {
    /// Up to when the game invites players; it never did if nothing is said.
    invited: Option<Time>,
    /// By class: whether a binding of no scheme reads it, or it is in none.
    always: Box<[bool]>,
    /// By class: whether a profile does anything with it.
    used: Box<[bool]>,
}

impl Joining {
    pub fn new(plan: &Plan) -> Self {
        let mut always = vec![false; plan.schemes_of_class().len()];
        for input in plan.inputs().iter() {
            let class = plan.controls()[input.control].class;
            if let Some(always) = always.get_mut(class.index()) {
                *always |= plan.counts_always(input, class);
            }
        }
        let in_scheme = plan.schemes_of_class().iter().map(|all| !all.is_empty());
        let used = in_scheme.zip(&always).map(|(in_scheme, always)| in_scheme || *always);
        Self { invited: None, used: used.collect(), always: always.into() }
    }

    /// Whether a profile does anything with devices of a class.
    pub fn uses(&self, class: Class) -> bool {
        self.used.get(class.index()).copied().unwrap_or_default()
    }

    /// Goes on with another plan: an invitation stands.
    pub fn take_up(&mut self, plan: &Plan) {
        *self = Self { invited: self.invited, ..Self::new(plan) };
    }

    pub fn reset(&mut self) {
        self.invited = None;
    }
}

impl Seats {
    /// From now on devices join only by invitation, and up to `until` the next device of nobody that
    /// is pressed goes to the next seat without a device; that press does nothing else. One
    /// invitation brings one player.
    pub fn invite(&mut self, until: Time) {
        self.joining.invited = Some(until);
    }

    /// From now on devices join by being pressed, as at first: the press counts already.
    pub fn join_freely(&mut self) {
        self.joining.invited = None;
    }

    /// The seat that a device of nobody comes to by a report that took a control from one value to
    /// another, if it is a press.
    pub(super) fn join_by(
        &mut self,
        device: Device,
        contact: Contact,
        kind: ControlKind,
        before: Vector,
        now: Vector,
        tell: &mut (impl Hear + ?Sized),
    ) -> Option<Seat> {
        if !self.is_press(contact, kind, before, now) {
            return None;
        }
        let is_invited = match self.joining.invited {
            None => false,
            Some(until) if self.now <= until => true,
            Some(_) => return None,
        };
        let seat = match is_invited {
            true => self.empty_seat(device.class)?,
            false => self.empty_seat(device.class).or_else(|| self.seat_without(device.class))?,
        };
        // What is told is refused only where the plan has no such device.
        if kind != ControlKind::Relative {
            self.keep(contact, Vector::ZERO);
        }
        self.hand_over(device, Some(seat), is_invited, tell).ok()?;
        self.keep(contact, now);
        if is_invited {
            self.joining.invited = Some(Time::ZERO);
            match kind {
                ControlKind::Relative => self.keep(contact, Vector::ZERO),
                _ => self.hold_back(device, contact, true),
            }
            self.settle();
            return None;
        }
        Some(seat)
    }

    /// Whether a control that went from one value to another was pressed: it reached half of its way, or
    /// turned a whole notch. Spots and places are always somewhere.
    fn is_press(&self, contact: Contact, kind: ControlKind, before: Vector, now: Vector) -> bool {
        match kind {
            ControlKind::Spot | ControlKind::Place => false,
            ControlKind::Relative => {
                let is_wheel = self.plan().notches().iter().any(|n| n.wheel == contact.control);
                is_wheel && now.x.abs().max(now.y.abs()) >= 1.0 - TIE
            }
            kind => {
                let of = |v: Vector| v.magnitude_of(kind.yields());
                of(now) >= PRESSED && of(before) < PRESSED
            }
        }
    }

    /// The lowest seat without a device that can use one of a class.
    fn empty_seat(&self, class: Class) -> Option<Seat> {
        self.all().find(|seat| self.can_use(*seat, class) && !self.links.has_any(*seat))
    }

    /// The lowest seat that has none of a class and can use one.
    fn seat_without(&self, class: Class) -> Option<Seat> {
        self.all().find(|seat| self.can_use(*seat, class) && !self.links.has_class(*seat, class))
    }

    /// Whether the bindings that count for a seat read devices of a class.
    fn can_use(&self, seat: Seat, class: Class) -> bool {
        let narrowed = self.engines.get(seat.index()).and_then(crate::engine::Engine::narrowed);
        let schemes = self.plan().schemes_of_class().get(class.index());
        let in_scheme = schemes.is_some_and(|all| match narrowed {
            Some(scheme) => all.contains(&scheme),
            None => !all.is_empty(),
        });
        in_scheme || self.joining.always.get(class.index()).copied().unwrap_or_default()
    }
}
