//! The plain structs that cross: fixed layout, no pointers, no padding that is read.

use crate::status::{Failure, HNY_UNKNOWN};
use harmonym_runtime::base::{Id, MOST_DEVICES};
use harmonym_runtime::{
    Caught, Cause, Contact, ControlId, Device, EpisodeState, Event, EventKind, Notice, Plan,
    Reading, Seat, Time, Told, Vector,
};

/// A profile that was read, with its plan.
pub type hny_game = u64;
/// All players' hands on one plan.
pub type hny_hands = u64;

/// No id: nothing is meant, or nothing is there.
pub const HNY_NONE: u32 = u32::MAX;
/// No time: it did not come to that.
pub const HNY_NEVER: u64 = u64::MAX;
/// All seats, where a seat is asked for; seats are numbered from 1.
pub const HNY_ALL_SEATS: u32 = 0;

/// An action: `hny_find`, `hny_name`.
pub const HNY_ACTION: i32 = 0;
/// A map.
pub const HNY_MAP: i32 = 1;
/// A scheme.
pub const HNY_SCHEME: i32 = 2;
/// A setting or fact.
pub const HNY_NUMBER: i32 = 3;
/// A control that a device reports.
pub const HNY_CONTROL: i32 = 4;
/// A binding.
pub const HNY_BINDING: i32 = 5;
/// A cue of a fire rule, as it is written: `hny_name` only.
pub const HNY_CUE: i32 = 6;
/// A class of devices: `key`, `pad`.
pub const HNY_CLASS: i32 = 7;

/// On or off: `x` is 1 or 0.
pub const HNY_SWITCH: i32 = 0;
/// One number: `x`.
pub const HNY_AXIS: i32 = 1;
/// Two numbers: `x` and `y`.
pub const HNY_PLANE: i32 = 2;
/// Three numbers: `x`, `y` and `z`.
pub const HNY_SPACE: i32 = 3;
/// A rotation: the unit quaternion `x`, `y`, `z`, `w`.
pub const HNY_TURN: i32 = 4;

/// The action is at rest.
pub const HNY_AT_REST: i32 = 0;
/// It is awake and has not fired.
pub const HNY_PENDING: i32 = 1;
/// It has fired and is not over.
pub const HNY_LIVE: i32 = 2;

/// The kind of something told: an action left rest.
pub const HNY_WAKE: i32 = 0;
/// It fired.
pub const HNY_FIRE: i32 = 1;
/// Its episode ended and it never fired.
pub const HNY_LAPSE: i32 = 2;
/// Its episode ended after it fired.
pub const HNY_REST: i32 = 3;
/// The hands went over to another scheme.
pub const HNY_SCHEME_IN_USE: i32 = 4;
/// A map opened (`on`) or closed.
pub const HNY_MAP_OPEN: i32 = 5;
/// The game was paused (`on`), or goes on.
pub const HNY_PAUSE: i32 = 6;
/// Another plan took over: what is told from here on goes by its ids.
pub const HNY_PLAN: i32 = 7;
/// A device came (`on`), or went away.
pub const HNY_DEVICE: i32 = 8;
/// A device was given to a seat, or taken from its seat (`seat` is 0).
pub const HNY_SEAT: i32 = 9;

/// A value: `x` of a switch (0 or 1) or axis, `x` and `y` of a plane, `x`, `y`, `z` of a space, all four of a
/// turn (a unit quaternion; no rotation may be all 0).
#[repr(C)]
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct hny_vector {
    /// The first component.
    pub x: f64,
    /// The second component.
    pub y: f64,
    /// The third component.
    pub z: f64,
    /// The fourth component.
    pub w: f64,
}

/// What a control of a device reports.
#[repr(C)]
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct hny_reported {
    /// When, in nanoseconds.
    pub at: u64,
    /// The control.
    pub control: u32,
    /// Which device of its class, from 0 to 7, by the numbers of the hardware.
    pub device: u32,
    /// Its value; of what is relative, what it moved by.
    pub value: hny_vector,
}

/// Everything about an action at a tick.
#[repr(C)]
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct hny_reading {
    /// Its value, 0 at rest.
    pub value: hny_vector,
    /// The time since it woke, in nanoseconds; 0 at rest.
    pub held: u64,
    /// The time since its first fire, or `HNY_NEVER`.
    pub fired_for: u64,
    /// The share of the way to firing, 0 to 1.
    pub progress: f64,
    /// How many times it fired in the last tick.
    pub fired: u32,
    /// `HNY_AT_REST`, `HNY_PENDING` or `HNY_LIVE`.
    pub state: i32,
    /// Whether it woke in the last tick: 0 or 1.
    pub woke: i32,
    /// Whether an episode ended in the last tick: `HNY_LAPSE`, `HNY_REST`, or −1.
    pub ended: i32,
    /// Why it ended, for `hny_cause_word`, or −1.
    pub cause: i32,
    /// 0.
    pub reserved: i32,
}

/// Something told. What a kind does not have is `HNY_NONE`, `HNY_NEVER`, −1 or 0.
#[repr(C)]
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct hny_told {
    /// The exact moment, in nanoseconds.
    pub at: u64,
    /// The tick at which the game sees it, from 1.
    pub tick: u64,
    /// What happened: `HNY_WAKE` to `HNY_SEAT`.
    pub kind: i32,
    /// To which seat, from 1; 0 where it is nobody's, or everybody's.
    pub seat: u32,
    /// The action.
    pub action: u32,
    /// The cue that fired.
    pub cue: u32,
    /// The binding that won last while away from 0.
    pub from: u32,
    /// Why an episode ended, for `hny_cause_word`.
    pub cause: i32,
    /// The action's value at that moment.
    pub value: hny_vector,
    /// The time since the action woke.
    pub held: u64,
    /// The time since its first fire.
    pub fired_for: u64,
    /// Of a fire that was kept, since when.
    pub since: u64,
    /// The share of the way to firing, 0 to 1.
    pub progress: f64,
    /// The map.
    pub map: u32,
    /// The scheme.
    pub scheme: u32,
    /// The class of the device.
    pub device_class: u32,
    /// The number of the device within its class, from 0, by the numbers of the hardware.
    pub device: u32,
    /// Whether it opened, was paused, came: 0 or 1.
    pub on: i32,
    /// 0.
    pub reserved: i32,
}

/// A place of one's own in the stream of what is told: begin with all 0.
#[repr(C)]
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct hny_reader {
    /// How many were taken.
    pub seen: u64,
    /// How many were pushed out of the log, of 4,096, before they were taken.
    pub missed: u64,
}

/// A control that was clearly meant.
#[repr(C)]
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct hny_caught {
    /// The control, or `HNY_NONE` where nothing was meant yet.
    pub control: u32,
    /// The number of its device, from 0.
    pub device: u32,
    /// How far it went from where it had been.
    pub way: hny_vector,
    /// The buttons that went down before it and were still held, in that order, then `HNY_NONE`.
    pub held: [u32; 4],
}

impl From<Vector> for hny_vector {
    fn from(Vector { x, y, z, w }: Vector) -> Self {
        Self { x, y, z, w }
    }
}

impl From<hny_vector> for Vector {
    fn from(hny_vector { x, y, z, w }: hny_vector) -> Self {
        Self { x, y, z, w }
    }
}

/// No struct has a gap whose bytes say nothing, and none changes its layout unnoticed.
const _: () = {
    assert!(size_of::<hny_vector>() == 32);
    assert!(size_of::<hny_reported>() == 48);
    assert!(size_of::<hny_reading>() == 80);
    assert!(size_of::<hny_told>() == 128);
    assert!(size_of::<hny_reader>() == 16);
    assert!(size_of::<hny_caught>() == 56);
};

pub(crate) fn number(id: impl Id) -> u32 {
    id.index() as u32
}

fn cause_number(cause: Cause) -> i32 {
    Cause::ALL.iter().position(|one| *one == cause).map_or(-1, |at| at as i32)
}

fn nanos(length: std::time::Duration) -> u64 {
    Time::from(length).nanos()
}

pub(crate) fn contact(control: u32, device: u32) -> Result<Contact, Failure> {
    let device = u8::try_from(device).map_err(|_| Failure::unknown("there is no such device"))?;
    Ok(Contact { control: ControlId::new(control as usize), device })
}

/// A seat, or all of them.
pub(crate) fn seats(seat: u32) -> Result<Option<Seat>, Failure> {
    if seat == HNY_ALL_SEATS { Ok(None) } else { one_seat(seat).map(Some) }
}

pub(crate) fn one_seat(seat: u32) -> Result<Seat, Failure> {
    let seat = u8::try_from(seat).ok().and_then(Seat::new);
    seat.ok_or_else(|| Failure::new(HNY_UNKNOWN, "there is no such seat"))
}

pub(crate) fn device(plan: &Plan, class: u32, device: u32) -> Result<Device, Failure> {
    let unknown = || Failure::unknown("there is no such device: a class has at most eight");
    let class = plan.catalogue().classes().find(|one| one.index() == class as usize);
    let number = u8::try_from(device).ok().filter(|number| usize::from(*number) < MOST_DEVICES);
    let number = number.ok_or_else(unknown)?;
    Ok(Device { class: class.ok_or_else(unknown)?, number })
}

impl hny_caught {
    pub(crate) fn new(caught: Option<Caught>) -> Self {
        let Some(caught) = caught else {
            let (control, device) = (HNY_NONE, HNY_NONE);
            return Self { control, device, way: hny_vector::default(), held: [HNY_NONE; 4] };
        };
        let mut held = [HNY_NONE; 4];
        for (slot, contact) in held.iter_mut().zip(caught.held()) {
            *slot = number(contact.control);
        }
        let Contact { control, device } = caught.contact;
        Self { control: number(control), device: device.into(), way: caught.way.into(), held }
    }
}

impl From<Reading> for hny_reading {
    fn from(reading: Reading) -> Self {
        let Reading { value, state, fired, woke, ended, held, fired_for, progress } = reading;
        Self {
            value: value.into(),
            held: nanos(held),
            fired_for: fired_for.map_or(HNY_NEVER, nanos),
            progress,
            fired,
            state: match state {
                EpisodeState::Rest => HNY_AT_REST,
                EpisodeState::Pending => HNY_PENDING,
                EpisodeState::Live => HNY_LIVE,
            },
            woke: woke.into(),
            ended: ended.map_or(-1, |(fired, _)| if fired { HNY_REST } else { HNY_LAPSE }),
            cause: ended.map_or(-1, |(_, cause)| cause_number(cause)),
            reserved: 0,
        }
    }
}

impl hny_told {
    /// Nothing, at a moment.
    fn at(kind: i32, t: Time, tick: u64, seat: Option<Seat>) -> Self {
        Self {
            at: t.nanos(),
            tick,
            kind,
            seat: seat.map_or(0, |seat| seat.number().into()),
            action: HNY_NONE,
            cue: HNY_NONE,
            from: HNY_NONE,
            cause: -1,
            value: hny_vector::default(),
            held: 0,
            fired_for: HNY_NEVER,
            since: HNY_NEVER,
            progress: 0.0,
            map: HNY_NONE,
            scheme: HNY_NONE,
            device_class: HNY_NONE,
            device: HNY_NONE,
            on: 0,
            reserved: 0,
        }
    }

    pub(crate) fn new(Told { seat, notice }: Told, plan: &Plan) -> Self {
        match notice {
            Notice::Event(event) => Self::event(&event, seat, plan),
            Notice::Scheme { t, tick, scheme } => {
                let scheme = number(scheme);
                Self { scheme, ..Self::at(HNY_SCHEME_IN_USE, t, tick, seat) }
            }
            Notice::Map { t, tick, map, open } => {
                let (map, on) = (number(map), open.into());
                Self { map, on, ..Self::at(HNY_MAP_OPEN, t, tick, seat) }
            }
            Notice::Pause { t, tick, paused } => {
                Self { on: paused.into(), ..Self::at(HNY_PAUSE, t, tick, seat) }
            }
            Notice::Plan { t, tick } => Self::at(HNY_PLAN, t, tick, seat),
            Notice::Device { t, tick, device, plugged } => Self {
                device_class: device.class.index() as u32,
                device: device.number.into(),
                on: plugged.into(),
                ..Self::at(HNY_DEVICE, t, tick, seat)
            },
            Notice::Seat { t, tick, device } => Self {
                device_class: device.class.index() as u32,
                device: device.number.into(),
                ..Self::at(HNY_SEAT, t, tick, seat)
            },
        }
    }

    fn event(event: &Event, seat: Option<Seat>, plan: &Plan) -> Self {
        let (kind, cue, since) = match event.kind {
            EventKind::Wake => (HNY_WAKE, None, None),
            EventKind::Fire(cue, since) => (HNY_FIRE, Some(cue), since),
            EventKind::Lapse(_) => (HNY_LAPSE, None, None),
            EventKind::Rest(_) => (HNY_REST, None, None),
        };
        Self {
            action: plan.place_in_file(event.action) as u32,
            cue: cue.map_or(HNY_NONE, number),
            from: event.from.map_or(HNY_NONE, number),
            cause: event.kind.cause().map_or(-1, cause_number),
            value: event.value.into(),
            held: nanos(event.held),
            fired_for: event.fired_for.map_or(HNY_NEVER, nanos),
            since: since.map_or(HNY_NEVER, Time::nanos),
            progress: event.progress,
            ..Self::at(kind, event.t, event.tick, seat)
        }
    }
}
