//! What there is to say of a call that did nothing.

use crate::pointers::{Out, write_text};
use crate::status::{HNY_OK, HNY_UNKNOWN, hny_place, hny_status, last};
use std::ffi::c_char;

/// The version of this interface: it changes when a call or struct does.
#[unsafe(no_mangle)]
pub extern "C" fn hny_version() -> u32 {
    1
}

/// Writes what the last call of this thread that returned something else than `HNY_OK` has to say, as UTF-8 with a 0
/// behind it, and its length without that. A call of this one or of `hny_fault` changes nothing of it.
///
/// # Safety
/// `buffer` leads to `capacity` bytes, or is null if that is 0; `length` to a number, or is null.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_message(
    buffer: *mut c_char,
    capacity: usize,
    length: *mut usize,
) -> hny_status {
    let message = last(|message, _| message.to_owned());
    // SAFETY: as the caller promises.
    let told = unsafe { write_text(&message, buffer, capacity, length) };
    told.map_or_else(|failure| failure.status, |()| HNY_OK)
}

/// The place of one fault of the text that the last such call of this thread was given, from 0 in order of place, and
/// what is wrong there with what to write instead. `HNY_UNKNOWN` behind the last one.
///
/// # Safety
/// As with `hny_message`; `place` leads to a place, or is null.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_fault(
    number: usize,
    place: *mut hny_place,
    buffer: *mut c_char,
    capacity: usize,
    length: *mut usize,
) -> hny_status {
    let fault = last(|_, faults| faults.get(number).cloned());
    let Some((at, message)) = fault else { return HNY_UNKNOWN };
    let told = Out::maybe(place).map(|place| place.map(|place| place.set(at)));
    // SAFETY: as the caller promises.
    let told = told.and_then(|_| unsafe { write_text(&message, buffer, capacity, length) });
    told.map_or_else(|failure| failure.status, |()| HNY_OK)
}
