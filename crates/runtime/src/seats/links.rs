//! Which device is whose.

use crate::base::{Class, Device, Id, MOST_DEVICES, Seat};
use crate::plan::Plan;

/// What is known of a device.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Presence {
    /// Nobody said anything of it: it is there if it reports.
    Unknown,
    There,
    Gone,
}

/// A device's way to its seat.
#[derive(Clone, Copy, Debug)]
pub(super) struct Link {
    /// Whose it is, also while it is not there.
    pub seat: Option<Seat>,
    /// Its number within its class and seat, from 0.
    pub slot: u8,
    presence: Presence,
    /// How many of its controls do not count before they are let go.
    pub held_back: u16,
}

impl Link {
    /// Whether all that it reports goes to its seat.
    pub fn is_open(&self) -> bool {
        self.presence != Presence::Gone && self.held_back == 0
    }

    /// Whether it went away.
    pub fn is_gone(&self) -> bool {
        self.presence == Presence::Gone
    }

    /// Whether it is known to be there.
    pub fn is_there(&self) -> bool {
        self.presence == Presence::There
    }
}

/// Every device there may be.
#[derive(Clone, Debug)]
pub(super) struct Links {
    /// By class, then by number.
    all: Box<[Link]>,
    /// Whose a device is at first.
    owner: Option<Seat>,
}

impl Links {
    /// All devices are `owner`'s at first, under their own numbers, if there is one.
    pub fn new(plan: &Plan, owner: Option<Seat>) -> Self {
        let link = Link { seat: None, slot: 0, presence: Presence::Unknown, held_back: 0 };
        let all = vec![link; plan.schemes_of_class().len() * MOST_DEVICES];
        let mut links = Self { all: all.into(), owner };
        links.reset();
        links
    }

    pub fn reset(&mut self) {
        for (place, link) in self.all.iter_mut().enumerate() {
            let slot = (place % MOST_DEVICES) as u8;
            *link = Link { seat: self.owner, slot, presence: Presence::Unknown, held_back: 0 };
        }
    }

    fn place(device: Device) -> Option<usize> {
        let number = usize::from(device.number);
        (number < MOST_DEVICES).then(|| device.class.index() * MOST_DEVICES + number)
    }

    pub fn get(&self, device: Device) -> Option<&Link> {
        self.all.get(Self::place(device)?)
    }

    pub fn get_mut(&mut self, device: Device) -> Option<&mut Link> {
        self.all.get_mut(Self::place(device)?)
    }

    /// It reports, so it is there.
    pub fn know(&mut self, device: Device) {
        self.set_there(device, true);
    }

    pub fn set_there(&mut self, device: Device, there: bool) {
        if let Some(link) = self.get_mut(device) {
            link.presence = if there { Presence::There } else { Presence::Gone };
        }
    }

    /// The lowest number within a class and seat that no device has, nor one that comes back.
    pub fn free_slot(&self, class: Class, seat: Seat) -> u8 {
        let taken =
            |slot: &u8| self.of_class(class).any(|l| l.seat == Some(seat) && l.slot == *slot);
        (0..MOST_DEVICES as u8).find(|slot| !taken(slot)).unwrap_or(0)
    }

    fn of_class(&self, class: Class) -> impl Iterator<Item = &Link> {
        let start = class.index() * MOST_DEVICES;
        self.all.get(start..start + MOST_DEVICES).unwrap_or_default().iter()
    }

    /// Whether a seat has a device that is there.
    pub fn has_any(&self, seat: Seat) -> bool {
        self.all.iter().any(|link| link.seat == Some(seat) && link.is_there())
    }

    /// Whether a seat has a device of a class that is there.
    pub fn has_class(&self, seat: Seat, class: Class) -> bool {
        self.of_class(class).any(|link| link.seat == Some(seat) && link.is_there())
    }

    /// Whether all devices go their way to a seat.
    pub fn are_open(&self) -> bool {
        self.all.iter().all(Link::is_open)
    }
}

/// The devices of every class, in order.
pub(super) fn devices(plan: &Plan) -> impl Iterator<Item = Device> + use<> {
    let classes: usize = plan.schemes_of_class().len();
    let class = |index: usize| {
        let own = |index: usize| Class::Own((index - Class::BUILT_IN.len()) as u8);
        Class::BUILT_IN.get(index).copied().unwrap_or_else(|| own(index))
    };
    (0..classes).flat_map(move |index| {
        (0..MOST_DEVICES as u8).map(move |number| Device { class: class(index), number })
    })
}

/// The controls of a class, each by its place.
pub(super) fn controls_of(
    plan: &Plan,
    class: Class,
) -> impl Iterator<Item = (crate::base::ControlId, crate::base::ControlKind)> {
    let of_class = plan.controls().iter().enumerate().filter(move |(_, spec)| spec.class == class);
    of_class.map(|(index, spec)| (crate::base::ControlId::new(index), spec.kind))
}
