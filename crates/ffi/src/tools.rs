//! For tests of a game: takes, and the lines that `harmonym play --format json` prints.

use crate::game::game;
use crate::handles::Handles;
use crate::hands;
use crate::pointers::{Buffer, Out, list, name, text, write_text};
use crate::profiles::faulty;
use crate::status::{Failure, HNY_TOO_SMALL, call, hny_status};
use crate::types::{hny_game, hny_hands, hny_reader};
use harmonym_lab::take::{Replay, Step};
use harmonym_lab::told::Lines;
use harmonym_runtime::{EventReader, Hands};
use std::ffi::c_char;

/// A take, step by step.
pub type hny_replay = u64;

/// The next step of a take was something that hands do; it was given to them.
pub const HNY_STEP_INPUT: i32 = 0;
/// It is a frame of the game: `hny_tick` at the time that was told.
pub const HNY_STEP_TICK: i32 = 1;
/// The take is over: `hny_stop`.
pub const HNY_STEP_END: i32 = 2;

static REPLAYS: Handles<Box<Replay>> = Handles::new(3);

/// Reads a take of `length` bytes; `file` is what messages call it. A new handle, to be freed.
///
/// # Safety
/// `file` is a text that ends with a 0, `take` leads to `length` bytes, `out` to a handle.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_replay_read(
    of: hny_game,
    file: *const c_char,
    take: *const c_char,
    length: usize,
    out: *mut hny_replay,
) -> hny_status {
    call(|| {
        let out = Out::new(out)?;
        // SAFETY: as the caller promises.
        let (file, take) = unsafe { (name(file)?, text(take, length)?) };
        let game = game(of)?;
        let replay = match &game.profile {
            Some(profile) => Replay::of_game(file, take, profile),
            None => Replay::read(file, take, &game.plan),
        };
        let replay = replay.map_err(|faults| faulty(&faults))?;
        out.set(REPLAYS.hold(Box::new(replay))?);
        Ok(())
    })
}

/// Lets go of a take.
#[unsafe(no_mangle)]
pub extern "C" fn hny_replay_free(of: hny_replay) -> hny_status {
    call(|| REPLAYS.free(of))
}

/// Hands that begin as the take says. A new handle, to be freed.
///
/// # Safety
/// `out` leads to a handle.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_replay_hands(of: hny_replay, out: *mut hny_hands) -> hny_status {
    call(|| {
        let out = Out::new(out)?;
        out.set(hands::hold(REPLAYS.with(of, |replay| Ok(replay.hands()))?)?);
        Ok(())
    })
}

/// The next step of a take: `HNY_STEP_INPUT`, which is given to the hands, `HNY_STEP_TICK` with the time for
/// `hny_tick`, or `HNY_STEP_END`. Ticks come at the take's rate, and after its end until nothing is due any more.
///
/// # Safety
/// `step` and `tick` each lead to a number.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_replay_step(
    of: hny_replay,
    to: hny_hands,
    step: *mut i32,
    tick: *mut u64,
) -> hny_status {
    call(|| {
        let (step, tick) = (Out::new(step)?, Out::new(tick)?);
        let next = |replay: &mut Replay, hands: &mut Hands| match replay.step(hands) {
            None => Ok((HNY_STEP_END, replay.end().t)),
            Some(Step::Tick(at)) => Ok((HNY_STEP_TICK, at)),
            Some(Step::Input(input)) => {
                input.give_to(hands)?;
                Ok((HNY_STEP_INPUT, input.t))
            }
        };
        let (what, at) = REPLAYS.with(of, |replay| hands::with(to, |hands| next(replay, hands)))?;
        step.set(what);
        tick.set(at.nanos());
        Ok(())
    })
}

/// Writes a line about a take.
///
/// # Safety
/// As with [`write_text`].
unsafe fn write_line(
    of: hny_replay,
    write: impl FnOnce(Lines<'_>, &Replay, &mut String),
    (buffer, capacity, length): (*mut c_char, usize, *mut usize),
) -> hny_status {
    call(|| {
        let mut line = String::new();
        REPLAYS.with(of, |replay| {
            write(Lines { plan: replay.plan() }, replay, &mut line);
            Ok(())
        })?;
        // SAFETY: as the caller promises.
        unsafe { write_text(&line, buffer, capacity, length) }
    })
}

/// The first line that `harmonym play --format json` prints of a take, with a 0 behind it.
///
/// # Safety
/// `buffer` leads to `capacity` bytes, or is null if that is 0; `length` to a number, or is null.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_replay_start_line(
    of: hny_replay,
    buffer: *mut c_char,
    capacity: usize,
    length: *mut usize,
) -> hny_status {
    let write = |lines: Lines<'_>, replay: &Replay, line: &mut String| {
        lines.start(line, replay.header().title.as_deref(), replay.rate());
    };
    // SAFETY: as the caller promises.
    unsafe { write_line(of, write, (buffer, capacity, length)) }
}

/// The last line of a take that is over.
///
/// # Safety
/// As with `hny_replay_start_line`.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_replay_end_line(
    of: hny_replay,
    buffer: *mut c_char,
    capacity: usize,
    length: *mut usize,
) -> hny_status {
    let write =
        |lines: Lines<'_>, replay: &Replay, line: &mut String| lines.end(line, replay.end());
    // SAFETY: as the caller promises.
    unsafe { write_line(of, write, (buffer, capacity, length)) }
}

/// Takes what was told since a reader took it last, as the lines that `harmonym play --format json` prints: whole ones,
/// as many as there is room for. Call it again while `length` is not 0.
///
/// # Safety
/// `reader` leads to a reader, `buffer` to `capacity` bytes (or is null if that is 0), `length` to a number.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_event_lines(
    of: hny_hands,
    reader: *mut hny_reader,
    buffer: *mut c_char,
    capacity: usize,
    length: *mut usize,
) -> hny_status {
    call(|| {
        let length = Out::new(length)?;
        // SAFETY: as the caller promises.
        let from = unsafe { list(reader.cast_const(), 1)? }.first().copied().unwrap_or_default();
        let (reader, mut to) = (Out::new(reader)?, Buffer::new(buffer.cast::<u8>(), capacity)?);
        let (own, text) = hands::with_played(of, |played| {
            let mut own = EventReader::at(from.seen, from.missed);
            let mut text = String::new();
            loop {
                let (before, mut next) = (text.len(), own.clone());
                played.take(&mut next, 1, |told, plan| Lines { plan }.notice(&mut text, told));
                if next.seen() == own.seen() {
                    break;
                }
                if text.len() >= capacity {
                    let needed = text.len() + 1;
                    text.truncate(before);
                    if before == 0 {
                        length.set(needed);
                        let message = format!("the next line needs {needed} bytes");
                        return Err(Failure::new(HNY_TOO_SMALL, message));
                    }
                    break;
                }
                own = next;
            }
            length.set(text.len());
            Ok((own, text))
        })?;
        text.bytes().chain([0]).for_each(|byte| to.push(byte));
        reader.set(hny_reader { seen: own.seen(), missed: own.missed() });
        Ok(())
    })
}
