//! Handles: numbers that stand for what the library holds.

use crate::status::{Failure, HNY_BUSY, HNY_FULL, HNY_NO_HANDLE};
use std::sync::atomic::{AtomicUsize, Ordering};
use std::sync::{Mutex, MutexGuard, TryLockError};

/// So many handles of a kind there are at once.
const MOST: usize = 1024;

/// Bits of a handle that say which place it is.
const PLACE_BITS: u32 = 10;

/// Bits of a handle, above those, that say of which kind it is.
const KIND_BITS: u32 = 4;

/// What one handle stands for, and how often the place was given away.
struct Place<T> {
    held: Option<T>,
    round: u64,
}

/// All handles of one kind.
pub(crate) struct Handles<T> {
    places: [Mutex<Place<T>>; MOST],
    kind: u64,
    /// Where a free place is looked for first.
    next: AtomicUsize,
}

/// What a handle stands for, for as long as a call is at work on it.
pub(crate) struct Held<'a, T> {
    place: MutexGuard<'a, Place<T>>,
}

impl<T> Handles<T> {
    /// None yet; `kind` is one number for each kind, 1 to 15.
    pub const fn new(kind: u64) -> Self {
        let places = [const { Mutex::new(Place { held: None, round: 0 }) }; MOST];
        Self { places, kind, next: AtomicUsize::new(0) }
    }

    fn handle(&self, place: usize, round: u64) -> u64 {
        ((round << KIND_BITS | self.kind) << PLACE_BITS) | place as u64
    }

    /// Holds something, and gives its handle: never 0, and never one that was given before.
    pub fn hold(&self, thing: T) -> Result<u64, Failure> {
        let first = self.next.fetch_add(1, Ordering::Relaxed);
        for index in (0..MOST).map(|step| (first + step) % MOST) {
            let Ok(mut place) = self.places[index].try_lock() else { continue };
            if place.held.is_none() {
                place.held = Some(thing);
                place.round += 1;
                return Ok(self.handle(index, place.round));
            }
        }
        Err(Failure::new(HNY_FULL, format!("there are {MOST} handles of this kind")))
    }

    /// What a handle stands for.
    #[inline]
    pub fn get(&self, handle: u64) -> Result<Held<'_, T>, Failure> {
        let index = handle as usize & (MOST - 1);
        let place = match self.places[index].try_lock() {
            Ok(place) => place,
            Err(TryLockError::WouldBlock) => return Err(busy()),
            // A call broke down over it.
            Err(TryLockError::Poisoned(_)) => return Err(no_handle()),
        };
        match place.held.is_some() && handle == self.handle(index, place.round) {
            true => Ok(Held { place }),
            false => Err(no_handle()),
        }
    }

    /// Lets go of what a handle stands for.
    pub fn free(&self, handle: u64) -> Result<(), Failure> {
        self.get(handle)?.place.held = None;
        Ok(())
    }
}

#[cold]
fn busy() -> Failure {
    Failure::new(HNY_BUSY, "another thread is at work on it")
}

#[cold]
fn no_handle() -> Failure {
    Failure::new(
        HNY_NO_HANDLE,
        "the handle stands for nothing: it is of another kind, or was freed",
    )
}

impl<T> Held<'_, T> {
    #[inline]
    pub fn thing(&mut self) -> Result<&mut T, Failure> {
        self.place.held.as_mut().ok_or_else(no_handle)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_handle_that_was_freed_never_stands_for_another_thing() {
        static ALL: Handles<u32> = Handles::new(3);
        let mut gone = Vec::new();
        for round in 0..3 * MOST as u32 {
            let handle = ALL.hold(round).map_err(|f| f.message).expect("room");
            assert_ne!(handle, 0);
            assert!(!gone.contains(&handle));
            assert_eq!(ALL.get(handle).ok().and_then(|mut h| h.thing().ok().copied()), Some(round));
            assert!(ALL.free(handle).is_ok());
            assert_eq!(ALL.free(handle).map_err(|f| f.status), Err(HNY_NO_HANDLE));
            gone.push(handle);
        }
        for handle in gone.into_iter().chain([0, 1, u64::MAX, 1 << 63]) {
            assert_eq!(ALL.get(handle).err().map(|f| f.status), Some(HNY_NO_HANDLE));
        }
    }

    #[test]
    fn there_are_so_many_and_one_of_another_kind_is_none() {
        static ALL: Handles<()> = Handles::new(1);
        static OTHER: Handles<()> = Handles::new(2);
        let all: Vec<u64> = (0..MOST).filter_map(|_| ALL.hold(()).ok()).collect();
        assert_eq!(all.len(), MOST);
        assert_eq!(ALL.hold(()).map_err(|f| f.status), Err(HNY_FULL));
        OTHER.hold(()).map_err(|f| f.message).expect("room");
        assert!(all.iter().all(|handle| OTHER.get(*handle).is_err()));
        let held = ALL.get(all[5]);
        assert_eq!(ALL.get(all[5]).err().map(|f| f.status), Some(HNY_BUSY));
        drop(held);
        assert!(ALL.free(all[5]).is_ok());
        assert!(ALL.hold(()).is_ok());
    }
}
