//! Profiles as text, and players' files.

use crate::game::{GAMES, Game, game};
use crate::pointers::{Out, name, text};
use crate::status::{Failure, HNY_FAULTY, HNY_REFUSED, call, hny_place, hny_status, remember};
use crate::types::hny_game;
use harmonym_lang::report::{Diagnostic, Faults};
use harmonym_lang::source::Source;
use std::ffi::c_char;
use std::sync::Arc;

pub(crate) fn faulty(faults: &Faults) -> Failure {
    let places = faults.list().iter().map(|one| {
        let place = faults.source().map(|source| {
            let (start, end) = (source.place(one.span.start), source.place(one.span.end));
            let of = |number: usize| u32::try_from(number).unwrap_or(u32::MAX);
            hny_place {
                line: of(start.line),
                column: of(start.column),
                end_line: of(end.line),
                end_column: of(end.column),
            }
        });
        (place.unwrap_or_default(), said(one))
    });
    Failure { faults: places.collect(), ..Failure::new(HNY_FAULTY, faults.to_string()) }
}

fn note(notes: &Faults) {
    let Failure { message, faults, .. } = faulty(notes);
    remember(message, faults);
}

/// What messages call a player's file.
const PLAYER: &str = "player.toml";

fn said(one: &Diagnostic) -> String {
    match one.help.is_empty() {
        true => one.message.clone(),
        false => format!("{}; {}", one.message, one.help),
    }
}

/// Reads a profile of `length` bytes; `file` is what messages call it. The game is a new handle, to be freed.
///
/// # Safety
/// `file` is a text that ends with a 0, `profile` leads to `length` bytes, `out` to a handle.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_game_read(
    file: *const c_char,
    profile: *const c_char,
    length: usize,
    out: *mut hny_game,
) -> hny_status {
    call(|| {
        let out = Out::new(out)?;
        // SAFETY: as the caller promises.
        let (file, profile) = unsafe { (name(file)?, text(profile, length)?) };
        let game = harmonym_lang::Game::parse(file, profile).map_err(|faults| faulty(&faults))?;
        out.set(GAMES.hold(of_profile(game))?);
        Ok(())
    })
}

/// A profile that was read, for another keyboard layout (`us`, `fr`), which bindings of characters follow. A new handle.
///
/// # Safety
/// `layout` is a text that ends with a 0, `out` leads to a handle.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_game_for_layout(
    of: hny_game,
    layout: *const c_char,
    out: *mut hny_game,
) -> hny_status {
    call(|| {
        let out = Out::new(out)?;
        // SAFETY: as the caller promises.
        let word = unsafe { name(layout)? };
        let layout = harmonym_runtime::Layout::from_word(word);
        let none = || Failure::unknown(format!("there is no layout `{word}`"));
        let game = profile(of)?.for_layout(layout.ok_or_else(none)?);
        out.set(GAMES.hold(of_profile(game))?);
        Ok(())
    })
}

/// A profile that was read as a player has it, whose file has `length` bytes. What of that does not fit is left out, and
/// told by `hny_message` and `hny_fault`, though the call is `HNY_OK`; if nothing of it fits, it is refused. A new handle.
///
/// # Safety
/// `player` leads to `length` bytes, `out` to a handle.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_game_for_player(
    of: hny_game,
    player: *const c_char,
    length: usize,
    out: *mut hny_game,
) -> hny_status {
    call(|| {
        let out = Out::new(out)?;
        // SAFETY: as the caller promises.
        let text = unsafe { text(player, length)? };
        let (game, notes) =
            profile(of)?.for_player(PLAYER, text).map_err(|faults| faulty(&faults))?;
        out.set(GAMES.hold(of_profile(game))?);
        note(&Faults::new(Source::new(PLAYER, text), notes));
        Ok(())
    })
}

fn of_profile(game: harmonym_lang::Game) -> Game {
    Game { plan: Arc::clone(game.plan()), profile: Some(Arc::new(game)) }
}

fn profile(handle: hny_game) -> Result<harmonym_lang::Game, Failure> {
    let profile = game(handle)?.profile.map(Arc::unwrap_or_clone);
    profile.ok_or_else(|| {
        let message = "it is a pack, for one layout and player: pack the profile for others";
        Failure::new(HNY_REFUSED, message)
    })
}
