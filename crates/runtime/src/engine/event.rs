//! What the engine tells.

use crate::base::{ActionId, AlternativeId, BindingId, Device, MapId, SchemeId, Time, Vector};
use std::time::Duration;

/// One thing told, in order of time.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Notice {
    /// Something happened in an action.
    Event(Event),
    /// The hands went over to another scheme.
    Scheme {
        /// When.
        t: Time,
        /// The tick that sees it.
        tick: u64,
        /// The scheme.
        scheme: SchemeId,
    },
    /// A map opened or closed.
    Map {
        /// When.
        t: Time,
        /// The tick that sees it.
        tick: u64,
        /// The map.
        map: MapId,
        /// Whether it is open now.
        open: bool,
    },
    /// The game was paused, or goes on.
    Pause {
        /// When.
        t: Time,
        /// The tick that sees it.
        tick: u64,
        /// Whether it is paused now.
        paused: bool,
    },
    /// Another plan took over: what is told from here on goes by its ids.
    Plan {
        /// When.
        t: Time,
        /// The tick that sees it.
        tick: u64,
    },
    /// A device came, or went away.
    Device {
        /// When.
        t: Time,
        /// The tick that sees it.
        tick: u64,
        /// Which, by the numbers of the hardware.
        device: Device,
        /// Whether it is there now.
        plugged: bool,
    },
    /// A device was given to a seat, or taken from its seat.
    Seat {
        /// When.
        t: Time,
        /// The tick that sees it.
        tick: u64,
        /// Which, by the numbers of the hardware.
        device: Device,
    },
}

/// Something that happened in an action.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Event {
    /// The exact moment.
    pub t: Time,
    /// The tick at which the game sees it, from 1.
    pub tick: u64,
    /// The action.
    pub action: ActionId,
    /// What happened.
    pub kind: EventKind,
    /// The action's value at that moment; of a switch 1 or 0 in x.
    pub value: Vector,
    /// The time since `wake`.
    pub held: Duration,
    /// The time since the first fire, once there was one.
    pub fired_for: Option<Duration>,
    /// The share of the way to firing, 0 to 1.
    pub progress: f64,
    /// The binding that won last while away from 0.
    pub from: Option<BindingId>,
}

/// The four kinds of event.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum EventKind {
    /// The action left rest.
    Wake,
    /// It fired, by an alternative; if the fire was kept, since when.
    Fire(AlternativeId, Option<Time>),
    /// Its episode ended and it never fired.
    Lapse(Cause),
    /// Its episode ended after it fired.
    Rest(Cause),
}

impl EventKind {
    /// The kind's word.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Wake => "wake",
            Self::Fire(..) => "fire",
            Self::Lapse(_) => "lapse",
            Self::Rest(_) => "rest",
        }
    }

    /// Whether the episode was ended by force: nothing that hands did.
    pub const fn is_forced(self) -> bool {
        use Cause::{Claimed, MapOff, Paused, Rebound, SchemeOff, Stopped, Unplugged};
        let cause = self.cause();
        matches!(cause, Some(MapOff | Paused | Claimed | Unplugged | SchemeOff | Rebound | Stopped))
    }

    /// Why the episode ended, if it did.
    pub const fn cause(self) -> Option<Cause> {
        match self {
            Self::Lapse(cause) | Self::Rest(cause) => Some(cause),
            Self::Wake | Self::Fire(..) => None,
        }
    }
}

/// Why an episode ended.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Cause {
    /// The control came up.
    Released,
    /// The sequence is complete.
    Done,
    /// The control came up before `hold` or `charge` had its time.
    TooShort,
    /// The control was down for longer than `tap` allows.
    TooLong,
    /// The control never reached the down level.
    TooLight,
    /// The next press, or the rest of a sequence, did not come in time.
    Gap,
    /// Another step of a sequence fired.
    OutOfOrder,
    /// A guard failed.
    Guard,
    /// An action that it yields to had it.
    Yielded,
    /// The map closed.
    MapOff,
    /// The game was paused.
    Paused,
    /// A map that opened keeps the control for itself.
    Claimed,
    /// The device is gone.
    Unplugged,
    /// The game narrowed the bindings to another scheme.
    SchemeOff,
    /// The player rebound it.
    Rebound,
    /// The run ended.
    Stopped,
}

impl Cause {
    /// All of them.
    pub const ALL: [Self; 16] = [
        Self::Released,
        Self::Done,
        Self::TooShort,
        Self::TooLong,
        Self::TooLight,
        Self::Gap,
        Self::OutOfOrder,
        Self::Guard,
        Self::Yielded,
        Self::MapOff,
        Self::Paused,
        Self::Claimed,
        Self::Unplugged,
        Self::SchemeOff,
        Self::Rebound,
        Self::Stopped,
    ];

    /// The cause's word.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Released => "released",
            Self::Done => "done",
            Self::TooShort => "too-short",
            Self::TooLong => "too-long",
            Self::TooLight => "too-light",
            Self::Gap => "gap",
            Self::OutOfOrder => "out-of-order",
            Self::Guard => "guard",
            Self::Yielded => "yielded",
            Self::MapOff => "map-off",
            Self::Paused => "paused",
            Self::Claimed => "claimed",
            Self::Unplugged => "unplugged",
            Self::SchemeOff => "scheme-off",
            Self::Rebound => "rebound",
            Self::Stopped => "stopped",
        }
    }
}
