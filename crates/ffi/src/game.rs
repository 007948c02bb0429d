//! Profiles and packs, and what is called how in them.

use crate::handles::Handles;
use crate::pointers::{Out, name, text, write_text};
use crate::status::{
    Failure, HNY_BUSY, HNY_FAULTY, HNY_REFUSED, HNY_UNKNOWN, call, hny_place, hny_status,
};
use crate::types::*;
use harmonym_runtime::base::{ActionId, Id, Kind, Table};
use harmonym_runtime::plan::{Unknown, What};
use harmonym_runtime::{Plan, pack};
use std::ffi::c_char;
use std::sync::Arc;

/// What a game plays by.
#[derive(Clone)]
pub(crate) struct Game {
    pub plan: Arc<Plan>,
    /// The profile that it is of, unless it came as a pack.
    #[cfg(feature = "profiles")]
    pub profile: Option<Arc<harmonym_lang::Game>>,
}

pub(crate) static GAMES: Handles<Game> = Handles::new(1);

impl Game {
    fn packed(plan: Plan) -> Self {
        Self {
            plan: Arc::new(plan),
            #[cfg(feature = "profiles")]
            profile: None,
        }
    }
}

/// What a game's handle stands for. It is only looked up: any number of threads may use one at a time.
pub(crate) fn game(handle: hny_game) -> Result<Game, Failure> {
    loop {
        match GAMES.with(handle, |game| Ok(game.clone())) {
            Ok(game) => return Ok(game),
            // Somebody else looks it up, which is over at once.
            Err(failure) if failure.status == HNY_BUSY => std::thread::yield_now(),
            Err(failure) => return Err(failure),
        }
    }
}

/// Reads a pack of `length` bytes: what `harmonym pack` writes. The game is a new handle, to be freed.
///
/// # Safety
/// `pack` leads to `length` bytes, `out` to a handle.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_game_unpack(
    pack: *const c_char,
    length: usize,
    out: *mut hny_game,
) -> hny_status {
    call(|| {
        let out = Out::new(out)?;
        // SAFETY: as the caller promises.
        let text = unsafe { text(pack, length)? };
        let plan = pack::read(text).map_err(|torn| {
            let line = u32::try_from(torn.line).unwrap_or(u32::MAX);
            let place = hny_place { line, column: 1, end_line: line, end_column: 1 };
            let faults = vec![(place, torn.message.clone())];
            Failure { faults, ..Failure::new(HNY_FAULTY, torn.to_string()) }
        })?;
        out.set(GAMES.hold(Game::packed(plan))?);
        Ok(())
    })
}

/// Lets go of a game. Hands that were made of it stay.
#[unsafe(no_mangle)]
pub extern "C" fn hny_game_free(of: hny_game) -> hny_status {
    call(|| GAMES.free(of))
}

/// How many there are of something (`HNY_ACTION` …): ids go from 0 up to it.
///
/// # Safety
/// `out` leads to a number.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_count(of: hny_game, what: i32, out: *mut u32) -> hny_status {
    call(|| {
        let (out, game) = (Out::new(out)?, game(of)?);
        out.set(count(&game.plan, what)? as u32);
        Ok(())
    })
}

fn count(plan: &Plan, what: i32) -> Result<usize, Failure> {
    let names = plan.names();
    Ok(match what {
        HNY_ACTION => names.actions.len(),
        HNY_MAP => names.maps.len(),
        HNY_SCHEME => names.schemes.len(),
        HNY_NUMBER => names.variables.len(),
        HNY_CONTROL => names.controls.len(),
        HNY_BINDING => names.bindings.len(),
        HNY_CUE => names.alternatives.len(),
        HNY_CLASS => plan.catalogue().classes().count(),
        _ => return Err(no_such_thing()),
    })
}

fn no_such_thing() -> Failure {
    Failure::unknown("there is nothing of that kind: name HNY_ACTION, HNY_MAP …")
}

/// The id of what is called so: `quay.walk`, `pad.left-stick`. Find ids once, before the game runs.
///
/// The ids of actions, maps, schemes and numbers are those that `harmonym generate` writes: their place in the profile.
///
/// # Safety
/// `called` is a text that ends with a 0, `out` leads to an id.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_find(
    of: hny_game,
    what: i32,
    called: *const c_char,
    out: *mut u32,
) -> hny_status {
    call(|| {
        let (out, game) = (Out::new(out)?, game(of)?);
        // SAFETY: as the caller promises.
        let called = unsafe { name(called)? };
        let id = find(&game.plan, what, called)?;
        out.set(id.map_err(Failure::unknown)? as u32);
        Ok(())
    })
}

fn find(plan: &Plan, what: i32, called: &str) -> Result<Result<usize, Unknown>, Failure> {
    Ok(match what {
        HNY_ACTION => plan.find_action(called).map(|id| plan.place_in_file(id)),
        HNY_MAP => plan.find_map(called).map(Id::index),
        HNY_SCHEME => plan.find_scheme(called).map(Id::index),
        HNY_NUMBER => plan.find_variable(called).map(Id::index),
        HNY_CONTROL => plan.find_control(called).map(Id::index),
        HNY_BINDING => plan.find_binding(called).map(Id::index),
        HNY_CLASS => {
            let class = plan.catalogue().class(called);
            let unknown = Unknown { what: What::Class, name: called.to_owned() };
            class.map(harmonym_runtime::Class::index).ok_or(unknown)
        }
        _ => return Err(no_such_thing()),
    })
}

/// What something is called, with a 0 behind it; `length` is that without the 0.
///
/// # Safety
/// `buffer` leads to `capacity` bytes, or is null if that is 0; `length` to a number, or is null.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_name(
    of: hny_game,
    what: i32,
    id: u32,
    buffer: *mut c_char,
    capacity: usize,
    length: *mut usize,
) -> hny_status {
    call(|| {
        let game = game(of)?;
        let name = called(&game.plan, what, id)?;
        let name = name.ok_or_else(|| Failure::new(HNY_UNKNOWN, "there is no such id"))?;
        // SAFETY: as the caller promises.
        unsafe { write_text(name, buffer, capacity, length) }
    })
}

fn called(plan: &Plan, what: i32, id: u32) -> Result<Option<&str>, Failure> {
    fn of<I: Id>(table: &Table<I, impl AsRef<str>>, id: u32) -> Option<&str> {
        table.get(I::new(id as usize)).map(AsRef::as_ref)
    }
    let names = plan.names();
    Ok(match what {
        HNY_ACTION => action(plan, id).and_then(|id| names.actions.get(id)).map(String::as_str),
        HNY_MAP => of(&names.maps, id),
        HNY_SCHEME => of(&names.schemes, id),
        HNY_NUMBER => of(&names.variables, id),
        HNY_CONTROL => of(&names.controls, id),
        HNY_BINDING => of(&names.bindings, id),
        HNY_CUE => of(&names.alternatives, id),
        HNY_CLASS => {
            let class = plan.catalogue().classes().find(|class| class.index() == id as usize);
            class.map(|class| plan.catalogue().word(class))
        }
        _ => return Err(no_such_thing()),
    })
}

/// The action at a place of the profile.
#[inline]
pub(crate) fn action(plan: &Plan, place: u32) -> Option<ActionId> {
    plan.by_file().get(place as usize).copied()
}

/// What an action gives: `HNY_SWITCH` to `HNY_TURN`.
///
/// # Safety
/// `out` leads to a number.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_kind(of: hny_game, id: u32, out: *mut i32) -> hny_status {
    call(|| {
        let (out, game) = (Out::new(out)?, game(of)?);
        let action = action(&game.plan, id).ok_or_else(no_action)?;
        out.set(match game.plan.actions()[action].kind {
            Kind::Switch => HNY_SWITCH,
            Kind::Axis => HNY_AXIS,
            Kind::Plane => HNY_PLANE,
            Kind::Space => HNY_SPACE,
            Kind::Turn => HNY_TURN,
        });
        Ok(())
    })
}

pub(crate) fn no_action() -> Failure {
    Failure::unknown("there is no such action")
}

/// Whether names that `harmonym generate` wrote are those of this game: `digest` is their `NAMES`. `HNY_REFUSED` if they
/// are stale.
///
/// # Safety
/// `digest` is a text that ends with a 0.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn hny_expect_names(of: hny_game, digest: *const c_char) -> hny_status {
    call(|| {
        let game = game(of)?;
        // SAFETY: as the caller promises.
        let digest = unsafe { name(digest)? };
        let own = game.plan.names_digest();
        if digest == own {
            return Ok(());
        }
        let message = format!("the names are of {digest}, and the profile's are {own}");
        Err(Failure::new(HNY_REFUSED, format!("{message}: `harmonym generate` makes them anew")))
    })
}
