//! Hands: what devices report, ticks, readings, and what was told.

use crate::game::{action, game, no_action};
use crate::handles::Handles;
use crate::pointers::{Buffer, Out, list};
use crate::status::{Failure, HNY_UNKNOWN, call, hny_status};
use crate::types::*;
use harmonym_runtime::base::{Id, MOST_SEATS};
use harmonym_runtime::{
    ActionId, Cause, EventReader, Frame, Hands, MapId, Notice, Plan, SchemeId, Start, Time, Told,
    VariableId, Vector,
};
use std::ffi::{CStr, CString, c_char};
use std::sync::{Arc, OnceLock};

static HANDS: Handles<Box<Played>> = Handles::new(2);

/// Hands, and the plans that ran before: what was told under one is still to be taken.
pub(crate) struct Played {
    hands: Hands,
    /// Each earlier plan, with how many things had been told when it was over.
    earlier: Vec<(u64, Arc<Plan>)>,
}

impl Played {
    fn new(hands: Hands) -> Box<Self> {
        Box::new(Self { hands, earlier: Vec::new() })
    }

    /// The plan by whose ids the thing goes that was told at a place of the stream, from 0.
    fn plan_at(&self, place: u64) -> &Arc<Plan> {
        let earlier = self.earlier.iter().find(|(until, _)| place < *until);
        earlier.map_or(self.hands.plan(), |(_, plan)| plan)
    }

    /// Lets a reader take so many things at most, each with the plan that it goes by.
    pub fn take(&self, reader: &mut EventReader, most: usize, mut take: impl FnMut(Told, &Plan)) {
        let told = self.hands.events_up_to(reader, most);
        let first = reader.seen() - told.len() as u64;
        for (place, one) in (first..).zip(told) {
            take(one, self.plan_at(place));
        }
    }

    pub fn replan(&mut self, at: Time, plan: Arc<Plan>) -> Result<(), Failure> {
        let old = Arc::clone(self.hands.plan());
        // A reader that is ahead of all stands at the end; one that took nothing, at the oldest that is left.
        let (mut end, mut oldest) = (EventReader::at(u64::MAX, 0), EventReader::default());
        self.hands.events_up_to(&mut end, 0);
        self.hands.replan(at, plan)?;
        self.hands.events_up_to(&mut oldest, 0);
        let told = self.hands.events(&mut end);
        let first = end.seen() - told.len() as u64;
        let plan = (first..).zip(told).find(|(_, one)| matches!(one.notice, Notice::Plan { .. }));
        self.earlier.extend(plan.map(|(place, _)| (place, old)));
        self.earlier.retain(|(until, _)| *until > oldest.seen());
        Ok(())
    }
}

/// Lets something be done with hands and what was told of them.
pub(crate) fn with_played<T>(
    handle: hny_hands,
    act: impl FnOnce(&mut Played) -> Result<T, Failure>,
) -> Result<T, Failure> {
    HANDS.with(handle, |played| act(played))
}

/// Holds hands that were made somewhere else.
#[cfg(feature = "tools")]
pub(crate) fn hold(hands: Hands) -> Result<hny_hands, Failure> {
    HANDS.hold(Played::new(hands))
}

/// Lets something be done with hands.
#[inline]
pub(crate) fn with<T>(
    handle: hny_hands,
    act: impl FnOnce(&mut Hands) -> Result<T, Failure>,
) -> Result<T, Failure> {
    HANDS.with(handle, |played| act(&mut played.hands))
}

/// Lets something be read of a seat.
fn look<T>(
    handle: hny_hands,
    seat: u32,
    read: impl FnOnce(Frame<'_>) -> Result<T, Failure>,
) -> Result<T, Failure> {
    let seat = one_seat(seat)?;
    with(handle, |hands| match hands.frame(seat) {
        Some(frame) => read(frame),
        None => Err(Failure::unknown("there is no such seat")),
    })
}

pub(crate) fn moment(nanos: u64) -> Time {
    Time::from_nanos(nanos)
}

/// So many players' hands, 1 to 8, at time 0, on what the profile opens at first. A new handle, to be freed.
///
/// # Safety
/// `out` leads to a handle.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_hands_start(
    of: hny_game,
    seats: u32,
    out: *mut hny_hands,
) -> hny_status {
    call(|| {
        let (out, game) = (Out::new(out)?, game(of)?);
        let count = u8::try_from(seats).ok().filter(|count| (1..=MOST_SEATS as u8).contains(count));
        let count = count.ok_or_else(|| Failure::new(HNY_UNKNOWN, "there are 1 to 8 seats"))?;
        let hands = Hands::start(Arc::clone(&game.plan), count, Start::default());
        out.set(HANDS.hold(Played::new(hands))?);
        Ok(())
    })
}

/// Back to time 0, as if new. Readers go on.
#[unsafe(no_mangle)]
pub extern "C" fn hny_restart(of: hny_hands) -> hny_status {
    call(|| {
        with(of, |hands| {
            hands.restart(Start::default());
            Ok(())
        })
    })
}

/// Lets go of hands.
#[unsafe(no_mangle)]
pub extern "C" fn hny_hands_free(of: hny_hands) -> hny_status {
    call(|| HANDS.free(of))
}

/// Takes what a control of a device reports at `at`, in nanoseconds; `device` is its number within its class, from 0. A
/// time before the present one counts as the present one; so in all calls.
///
/// # Safety
/// `value` leads to a value.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_report(
    of: hny_hands,
    at: u64,
    control: u32,
    device: u32,
    value: *const hny_vector,
) -> hny_status {
    call(|| {
        // SAFETY: as the caller promises.
        let value = unsafe { list(value, 1)? };
        let value = value.first().copied().unwrap_or_default();
        let contact = contact(control, device)?;
        with(of, |hands| Ok(hands.report(moment(at), contact, Vector::from(value))?))
    })
}

/// Takes so many reports, in order. At the first that is refused it stops; `done` tells how many were taken.
///
/// # Safety
/// `reports` leads to `count` reports, or is null if that is 0; `done` to a number, or is null.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_report_all(
    of: hny_hands,
    reports: *const hny_reported,
    count: usize,
    done: *mut usize,
) -> hny_status {
    call(|| {
        let done = Out::maybe(done)?;
        // SAFETY: as the caller promises.
        let reports = unsafe { list(reports, count)? };
        with(of, |hands| {
            let mut taken = 0;
            let mut each = reports.iter().map(|one| {
                let contact = contact(one.control, one.device)?;
                hands.report(moment(one.at), contact, Vector::from(one.value))?;
                taken += 1;
                Ok(())
            });
            let all = each.try_for_each(|result| result);
            if let Some(done) = done {
                done.set(taken);
            }
            all
        })
    })
}

/// One frame of the game, at `at`.
#[unsafe(no_mangle)]
pub extern "C" fn hny_tick(of: hny_hands, at: u64) -> hny_status {
    call(|| {
        with(of, |hands| {
            hands.tick(moment(at));
            Ok(())
        })
    })
}

/// Goes on to `at` without a frame, through all that is due by then.
#[unsafe(no_mangle)]
pub extern "C" fn hny_advance(of: hny_hands, at: u64) -> hny_status {
    call(|| {
        with(of, |hands| {
            hands.advance(moment(at));
            Ok(())
        })
    })
}

/// Ends what is still open, with cause `stopped`. Call it right after the last tick.
#[unsafe(no_mangle)]
pub extern "C" fn hny_stop(of: hny_hands) -> hny_status {
    call(|| {
        with(of, |hands| {
            hands.stop();
            Ok(())
        })
    })
}

/// Reads something of an action of a seat.
#[inline]
fn read_one<T: Copy>(
    of: hny_hands,
    (seat, id): (u32, u32),
    out: *mut T,
    read: impl FnOnce(&Frame<'_>, ActionId) -> T,
) -> hny_status {
    call(|| {
        let out = Out::new(out)?;
        look(of, seat, |frame| {
            let id = action(frame.plan(), id).ok_or_else(no_action)?;
            out.set(read(&frame, id));
            Ok(())
        })
    })
}

/// An action's value at a seat, from 1: 0 at rest.
///
/// # Safety
/// `out` leads to a value.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_value(
    of: hny_hands,
    seat: u32,
    action: u32,
    out: *mut hny_vector,
) -> hny_status {
    read_one(of, (seat, action), out, |frame, id| frame.value(id).into())
}

/// How many times an action fired in the last tick.
///
/// # Safety
/// `out` leads to a number.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_fired(
    of: hny_hands,
    seat: u32,
    action: u32,
    out: *mut u32,
) -> hny_status {
    read_one(of, (seat, action), out, |frame, id| frame.fired(id))
}

/// Everything about an action.
///
/// # Safety
/// `out` leads to a reading.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_read(
    of: hny_hands,
    seat: u32,
    action: u32,
    out: *mut hny_reading,
) -> hny_status {
    read_one(of, (seat, action), out, |frame, id| frame.read(id).into())
}

/// Everything about all actions of a seat, in the order of their ids: as many as there is room for, and `count` of
/// all of them. Quicker than a call for each.
///
/// # Safety
/// `readings` leads to `capacity` readings, or is null if that is 0; `count` to a number.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_read_all(
    of: hny_hands,
    seat: u32,
    readings: *mut hny_reading,
    capacity: usize,
    count: *mut usize,
) -> hny_status {
    call(|| {
        let (count, mut to) = (Out::new(count)?, Buffer::new(readings, capacity)?);
        look(of, seat, |frame| {
            let all = frame.plan().by_file();
            all.iter().take(capacity).for_each(|id| to.push(frame.read(*id).into()));
            count.set(all.len());
            Ok(())
        })
    })
}

/// The actions of a seat whose value at the last tick differs from that at the tick before, as many as there
/// is room for, and `count` of all of them.
///
/// # Safety
/// `actions` leads to `capacity` ids, or is null if that is 0; `count` to a number.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_changed(
    of: hny_hands,
    seat: u32,
    actions: *mut u32,
    capacity: usize,
    count: *mut usize,
) -> hny_status {
    call(|| {
        let (count, mut to) = (Out::new(count)?, Buffer::new(actions, capacity)?);
        look(of, seat, |frame| {
            let mut all = 0;
            for id in frame.changed() {
                to.push(frame.plan().place_in_file(id) as u32);
                all += 1;
            }
            count.set(all);
            Ok(())
        })
    })
}

/// Takes what was told since a reader took it last, in order, as much as there is room for; `count` tells how much. Call it
/// again while the buffer comes back full.
///
/// # Safety
/// `reader` leads to a reader, `told` to `capacity` entries (or is null if that is 0), `count` to a number.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_events(
    of: hny_hands,
    reader: *mut hny_reader,
    told: *mut hny_told,
    capacity: usize,
    count: *mut usize,
) -> hny_status {
    call(|| {
        let count = Out::new(count)?;
        // SAFETY: as the caller promises.
        let from = unsafe { list(reader.cast_const(), 1)? }.first().copied().unwrap_or_default();
        let (reader, mut to) = (Out::new(reader)?, Buffer::new(told, capacity)?);
        with_played(of, |played| {
            let mut own = EventReader::at(from.seen, from.missed);
            played.take(&mut own, capacity, |one, plan| to.push(hny_told::new(one, plan)));
            reader.set(hny_reader { seen: own.seen(), missed: own.missed() });
            count.set(to.len());
            Ok(())
        })
    })
}

/// The game opens a map (`open` other than 0), or closes it, for one seat or for `HNY_ALL_SEATS`.
#[unsafe(no_mangle)]
pub extern "C" fn hny_set_open(
    of: hny_hands,
    at: u64,
    seat: u32,
    map: u32,
    open: i32,
) -> hny_status {
    call(|| {
        let (seat, map) = (seats(seat)?, MapId::new(map as usize));
        with(of, |hands| Ok(hands.set_open(moment(at), seat, map, open != 0)?))
    })
}

/// A setting or fact becomes `value` in its own unit, for one seat or for `HNY_ALL_SEATS`.
#[unsafe(no_mangle)]
pub extern "C" fn hny_set_number(
    of: hny_hands,
    at: u64,
    seat: u32,
    number: u32,
    value: f64,
) -> hny_status {
    call(|| {
        let (seat, number) = (seats(seat)?, VariableId::new(number as usize));
        with(of, |hands| Ok(hands.set_number(moment(at), seat, number, value)?))
    })
}

/// The game narrows the bindings of one seat or of `HNY_ALL_SEATS` to those of one scheme, or with `HNY_NONE` lets
/// all count.
#[unsafe(no_mangle)]
pub extern "C" fn hny_narrow(of: hny_hands, at: u64, seat: u32, scheme: u32) -> hny_status {
    call(|| {
        let scheme = (scheme != HNY_NONE).then(|| SchemeId::new(scheme as usize));
        with(of, |hands| Ok(hands.narrow(moment(at), seats(seat)?, scheme)?))
    })
}

/// The game is paused (`paused` other than 0), or goes on.
#[unsafe(no_mangle)]
pub extern "C" fn hny_pause(of: hny_hands, at: u64, paused: i32) -> hny_status {
    call(|| {
        with(of, |hands| {
            hands.pause(moment(at), paused != 0);
            Ok(())
        })
    })
}

/// Whether a map is open at a seat: 0 or 1.
///
/// # Safety
/// `out` leads to a number.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_is_open(
    of: hny_hands,
    seat: u32,
    map: u32,
    out: *mut i32,
) -> hny_status {
    call(|| {
        let (out, map) = (Out::new(out)?, MapId::new(map as usize));
        look(of, seat, |frame| {
            if frame.plan().maps().get(map).is_none() {
                return Err(Failure::unknown("the plan has no such map"));
            }
            out.set(frame.is_open(map).into());
            Ok(())
        })
    })
}

/// The scheme in use at a seat, by the device that was used last, or `HNY_NONE`.
///
/// # Safety
/// `out` leads to an id.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_scheme_in_use(of: hny_hands, seat: u32, out: *mut u32) -> hny_status {
    call(|| {
        let out = Out::new(out)?;
        look(of, seat, |frame| {
            out.set(frame.scheme_in_use().map_or(HNY_NONE, number));
            Ok(())
        })
    })
}

/// What a setting or fact is worth at a seat, in its own unit; a switch is 1 or 0.
///
/// # Safety
/// `out` leads to a number.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_number(
    of: hny_hands,
    seat: u32,
    number: u32,
    out: *mut f64,
) -> hny_status {
    call(|| {
        let (out, number) = (Out::new(out)?, VariableId::new(number as usize));
        look(of, seat, |frame| {
            let worth = frame.number(number);
            out.set(worth.ok_or_else(|| Failure::unknown("the plan has no such setting or fact"))?);
            Ok(())
        })
    })
}

/// The word of a cause: `released`; null for what is none. It stays for as long as the library.
#[unsafe(no_mangle)]
pub extern "C" fn hny_cause_word(cause: i32) -> *const c_char {
    let word = usize::try_from(cause).ok().and_then(cause_text);
    word.map_or(std::ptr::null(), CStr::as_ptr)
}

/// The words of causes, in order, each with its 0.
fn cause_text(at: usize) -> Option<&'static CStr> {
    static WORDS: OnceLock<Vec<CString>> = OnceLock::new();
    let words = WORDS.get_or_init(|| {
        Cause::ALL.into_iter().map(|one| CString::new(one.word()).unwrap_or_default()).collect()
    });
    words.get(at).map(CString::as_c_str)
}
