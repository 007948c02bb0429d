//! Devices that come and go, players who join and leave, and controls of their own.

use crate::game::game;
use crate::hands::{moment, with, with_played};
use crate::pointers::Out;
use crate::status::{call, hny_status};
use crate::types::*;
use harmonym_runtime::ControlKind;
use std::sync::Arc;

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
        with(of, |hands| {
            let device = device(hands.plan(), class, number)?;
            Ok(hands.plug(moment(at), device, plugged != 0)?)
        })
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
        with(of, |hands| {
            let device = device(hands.plan(), class, number)?;
            Ok(hands.give(moment(at), device, one_seat(seat)?)?)
        })
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
        with(of, |hands| {
            let owner = hands.owner(device(hands.plan(), class, number)?);
            out.set(owner.map_or(0, |seat| seat.number().into()));
            Ok(())
        })
    })
}

/// A player leaves: what is held ends, and the devices are nobody's.
#[unsafe(no_mangle)]
pub extern "C" fn hny_leave(of: hny_hands, at: u64, seat: u32) -> hny_status {
    call(|| with(of, |hands| Ok(hands.leave(moment(at), one_seat(seat)?)?)))
}

/// From now up to `until`, one device of nobody's joins by being pressed, and that press does nothing else.
#[unsafe(no_mangle)]
pub extern "C" fn hny_invite(of: hny_hands, until: u64) -> hny_status {
    call(|| {
        with(of, |hands| {
            hands.invite(moment(until));
            Ok(())
        })
    })
}

/// Devices of nobody's join by being pressed, as at first.
#[unsafe(no_mangle)]
pub extern "C" fn hny_join_freely(of: hny_hands) -> hny_status {
    call(|| {
        with(of, |hands| {
            hands.join_freely();
            Ok(())
        })
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
        with(of, |hands| Ok(hands.catch(one_seat(seat)?, &kinds)?))
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
        with(of, |hands| {
            out.set(hny_caught::new(hands.caught()));
            Ok(())
        })
    })
}

/// Nothing is caught any more.
#[unsafe(no_mangle)]
pub extern "C" fn hny_stop_catching(of: hny_hands) -> hny_status {
    call(|| {
        with(of, |hands| {
            hands.stop_catching();
            Ok(())
        })
    })
}

/// Another game's plan takes over: as another player has it, on another layout, of a newer version. What is the same
/// in both goes on; other actions end with cause `rebound`.
#[unsafe(no_mangle)]
pub extern "C" fn hny_replan(of: hny_hands, at: u64, to: hny_game) -> hny_status {
    call(|| {
        let game = game(to)?;
        with_played(of, |played| played.replan(moment(at), Arc::clone(&game.plan)))
    })
}
