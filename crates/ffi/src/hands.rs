//! Hands: what devices report, ticks, readings, and what was told.

use crate::game::{action, game, no_action};
use crate::handles::{Handles, Held};
use crate::pointers::{Buffer, Out, list};
use crate::status::{Failure, HNY_UNKNOWN, call, hny_status};
use crate::types::*;
use harmonym_runtime::base::{Id, MOST_SEATS};
use harmonym_runtime::{
    Cause, ControlKind, EventReader, Hands, MapId, SchemeId, Start, Time, VariableId, Vector,
};
use std::ffi::{CStr, CString, c_char};
use std::sync::{Arc, OnceLock};

static HANDS: Handles<Box<Hands>> = Handles::new(2);

#[inline]
fn hands(handle: hny_hands) -> Result<Held<'static, Box<Hands>>, Failure> {
    HANDS.get(handle)
}

/// Holds hands that were made somewhere else.
#[cfg(feature = "tools")]
pub(crate) fn hold(hands: Hands) -> Result<hny_hands, Failure> {
    HANDS.hold(Box::new(hands))
}

/// Lets something be done with hands.
pub(crate) fn with<T>(
    handle: hny_hands,
    act: impl FnOnce(&mut Hands) -> Result<T, Failure>,
) -> Result<T, Failure> {
    act(hands(handle)?.thing()?)
}

fn moment(nanos: u64) -> Time {
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
        out.set(HANDS.hold(Box::new(hands))?);
        Ok(())
    })
}

/// Back to time 0, as if new. Readers go on.
#[unsafe(no_mangle)]
pub extern "C" fn hny_restart(of: hny_hands) -> hny_status {
    call(|| {
        hands(of)?.thing()?.restart(Start::default());
        Ok(())
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
        Ok(hands(of)?.thing()?.report(moment(at), contact, Vector::from(value))?)
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
        let mut held = hands(of)?;
        let hands = held.thing()?;
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
}

/// One frame of the game, at `at`.
#[unsafe(no_mangle)]
pub extern "C" fn hny_tick(of: hny_hands, at: u64) -> hny_status {
    call(|| {
        hands(of)?.thing()?.tick(moment(at));
        Ok(())
    })
}

/// Goes on to `at` without a frame, through all that is due by then.
#[unsafe(no_mangle)]
pub extern "C" fn hny_advance(of: hny_hands, at: u64) -> hny_status {
    call(|| {
        hands(of)?.thing()?.advance(moment(at));
        Ok(())
    })
}

/// Ends what is still open, with cause `stopped`. Call it right after the last tick.
#[unsafe(no_mangle)]
pub extern "C" fn hny_stop(of: hny_hands) -> hny_status {
    call(|| {
        hands(of)?.thing()?.stop();
        Ok(())
    })
}

/// Reads something of an action of a seat.
fn look<T: Copy>(
    of: hny_hands,
    (seat, id): (u32, u32),
    out: *mut T,
    read: impl FnOnce(harmonym_runtime::Frame<'_>, harmonym_runtime::ActionId) -> T,
) -> hny_status {
    call(|| {
        let out = Out::new(out)?;
        let mut held = hands(of)?;
        let hands = held.thing()?;
        let seat = one_seat(seat)?;
        let frame = hands.frame(seat).ok_or_else(|| Failure::unknown("there is no such seat"))?;
        let id = action(frame.plan(), id).ok_or_else(no_action)?;
        out.set(read(frame, id));
        Ok(())
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
    look(of, (seat, action), out, |frame, id| frame.value(id).into())
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
    look(of, (seat, action), out, |frame, id| frame.fired(id))
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
    look(of, (seat, action), out, |frame, id| frame.read(id).into())
}

/// The actions of a seat whose value at the last tick differs from that at the tick before, in the order of the
/// profile's working; as many as there is room for, and `count` of all of them.
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
        let count = Out::new(count)?;
        let mut to = Buffer::new(actions, capacity)?;
        let mut held = hands(of)?;
        let frame = held.thing()?.frame(one_seat(seat)?);
        let frame = frame.ok_or_else(|| Failure::unknown("there is no such seat"))?;
        let mut all = 0;
        for id in frame.changed() {
            to.push(frame.plan().place_in_file(id) as u32);
            all += 1;
        }
        count.set(all);
        Ok(())
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
        let mut held = hands(of)?;
        let hands = held.thing()?;
        let mut own = EventReader::at(from.seen, from.missed);
        for one in hands.events_up_to(&mut own, capacity) {
            to.push(hny_told::new(one, hands.plan()));
        }
        reader.set(hny_reader { seen: own.seen(), missed: own.missed() });
        count.set(to.len());
        Ok(())
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
        Ok(hands(of)?.thing()?.set_open(moment(at), seat, map, open != 0)?)
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
        Ok(hands(of)?.thing()?.set_number(moment(at), seat, number, value)?)
    })
}

/// The game narrows the bindings of one seat or of `HNY_ALL_SEATS` to those of one scheme, or with `HNY_NONE` lets
/// all count.
#[unsafe(no_mangle)]
pub extern "C" fn hny_narrow(of: hny_hands, at: u64, seat: u32, scheme: u32) -> hny_status {
    call(|| {
        let scheme = (scheme != HNY_NONE).then(|| SchemeId::new(scheme as usize));
        Ok(hands(of)?.thing()?.narrow(moment(at), seats(seat)?, scheme)?)
    })
}

/// The game is paused (`paused` other than 0), or goes on.
#[unsafe(no_mangle)]
pub extern "C" fn hny_pause(of: hny_hands, at: u64, paused: i32) -> hny_status {
    call(|| {
        hands(of)?.thing()?.pause(moment(at), paused != 0);
        Ok(())
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
        let out = Out::new(out)?;
        let mut held = hands(of)?;
        let frame = held.thing()?.frame(one_seat(seat)?);
        let frame = frame.ok_or_else(|| Failure::unknown("there is no such seat"))?;
        let map = MapId::new(map as usize);
        let known = frame.plan().maps().get(map).is_some();
        if !known {
            return Err(Failure::unknown("the plan has no such map"));
        }
        out.set(frame.is_open(map).into());
        Ok(())
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
        let mut held = hands(of)?;
        let frame = held.thing()?.frame(one_seat(seat)?);
        let frame = frame.ok_or_else(|| Failure::unknown("there is no such seat"))?;
        out.set(frame.scheme_in_use().map_or(HNY_NONE, number));
        Ok(())
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
        let out = Out::new(out)?;
        let mut held = hands(of)?;
        let frame = held.thing()?.frame(one_seat(seat)?);
        let frame = frame.ok_or_else(|| Failure::unknown("there is no such seat"))?;
        let worth = frame.number(VariableId::new(number as usize));
        out.set(worth.ok_or_else(|| Failure::unknown("the plan has no such setting or fact"))?);
        Ok(())
    })
}

/// A device is there from now on (`plugged` other than 0), or goes away: by its class (`HNY_CLASS`) and its number from 0.
#[unsafe(no_mangle)]
pub extern "C" fn hny_plug(
    of: hny_hands,
    at: u64,
    class: u32,
    number: u32,
    plugged: i32,
) -> hny_status {
    call(|| {
        let mut held = hands(of)?;
        let hands = held.thing()?;
        let device = device(hands.plan(), class, number)?;
        Ok(hands.plug(moment(at), device, plugged != 0)?)
    })
}

/// A device is handed to a seat.
#[unsafe(no_mangle)]
pub extern "C" fn hny_give(
    of: hny_hands,
    at: u64,
    class: u32,
    number: u32,
    seat: u32,
) -> hny_status {
    call(|| {
        let mut held = hands(of)?;
        let hands = held.thing()?;
        let device = device(hands.plan(), class, number)?;
        Ok(hands.give(moment(at), device, one_seat(seat)?)?)
    })
}

/// Whose a device is, also while it is not there; 0 if nobody's.
///
/// # Safety
/// `out` leads to a number.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_owner(
    of: hny_hands,
    class: u32,
    number: u32,
    out: *mut u32,
) -> hny_status {
    call(|| {
        let out = Out::new(out)?;
        let mut held = hands(of)?;
        let hands = held.thing()?;
        let owner = hands.owner(device(hands.plan(), class, number)?);
        out.set(owner.map_or(0, |seat| seat.number().into()));
        Ok(())
    })
}

/// A player leaves: what is held ends, and the devices are nobody's.
#[unsafe(no_mangle)]
pub extern "C" fn hny_leave(of: hny_hands, at: u64, seat: u32) -> hny_status {
    call(|| Ok(hands(of)?.thing()?.leave(moment(at), one_seat(seat)?)?))
}

/// From now up to `until`, one device of nobody's joins by being pressed, and that press does nothing else.
#[unsafe(no_mangle)]
pub extern "C" fn hny_invite(of: hny_hands, until: u64) -> hny_status {
    call(|| {
        hands(of)?.thing()?.invite(moment(until));
        Ok(())
    })
}

/// Devices of nobody's join by being pressed, as at first.
#[unsafe(no_mangle)]
pub extern "C" fn hny_join_freely(of: hny_hands) -> hny_status {
    call(|| {
        hands(of)?.thing()?.join_freely();
        Ok(())
    })
}

/// From now on a control of a seat is caught for a screen on which controls are bound, of the kinds whose bits are set in
/// `kinds`: 1 button, 2 lever, 4 axis, 8 stick, 16 relative, 32 spot, 64 place, 128 turn. What is caught does nothing else.
#[unsafe(no_mangle)]
pub extern "C" fn hny_catch(of: hny_hands, seat: u32, kinds: u32) -> hny_status {
    call(|| {
        let asked = |(bit, _): &(usize, ControlKind)| kinds & (1 << bit) != 0;
        let all = ControlKind::ALL.into_iter().enumerate();
        let kinds: Vec<ControlKind> = all.filter(asked).map(|(_, kind)| kind).collect();
        Ok(hands(of)?.thing()?.catch(one_seat(seat)?, &kinds)?)
    })
}

/// The control that was meant, once there is one; catching ends with it.
///
/// # Safety
/// `out` leads to one.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_caught_one(of: hny_hands, out: *mut hny_caught) -> hny_status {
    call(|| {
        let out = Out::new(out)?;
        out.set(hny_caught::new(hands(of)?.thing()?.caught()));
        Ok(())
    })
}

/// Nothing is caught any more.
#[unsafe(no_mangle)]
pub extern "C" fn hny_stop_catching(of: hny_hands) -> hny_status {
    call(|| {
        hands(of)?.thing()?.stop_catching();
        Ok(())
    })
}

/// Another game's plan takes over: as another player has it, on another layout, of a newer version. What is the same
/// in both goes on; other actions end with cause `rebound`.
#[unsafe(no_mangle)]
pub extern "C" fn hny_replan(of: hny_hands, at: u64, to: hny_game) -> hny_status {
    call(|| {
        let game = game(to)?;
        Ok(hands(of)?.thing()?.replan(moment(at), Arc::clone(&game.plan))?)
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
