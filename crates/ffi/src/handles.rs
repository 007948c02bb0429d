//! Handles: numbers that stand for what the library holds.

use crate::status::{Failure, HNY_BUSY, HNY_FULL, HNY_NO_HANDLE};
use std::cell::UnsafeCell;
use std::sync::atomic::{AtomicU64, AtomicUsize, Ordering};

/// So many handles of a kind there are at once.
const MOST: usize = 1024;

/// Bits of a handle that say which place it is.
const PLACE_BITS: u32 = 10;

/// Bits of a handle, above those, that say of which kind it is.
const KIND_BITS: u32 = 4;

/// What one handle stands for.
struct Place<T> {
    /// What is above the place in the handle that leads here, shifted by one; 0 while it is free. The lowest bit is
    /// set while a call is at work on it.
    word: AtomicU64,
    held: UnsafeCell<Option<T>>,
    /// How often the place was given away.
    round: AtomicU64,
}

const FREE: u64 = 0;
const AT_WORK: u64 = 1;
/// A call broke down over it: it is never used again.
const BROKEN: u64 = u64::MAX;

/// All handles of one kind.
pub(crate) struct Handles<T> {
    places: [Place<T>; MOST],
    kind: u64,
    /// Where a free place is looked for first.
    next: AtomicUsize,
}

// SAFETY: what a place holds is only touched by the one call that set `AT_WORK` in its word, from any thread; it is handed
// from one to the next by a store that releases and an exchange that acquires.
unsafe impl<T: Send> Sync for Handles<T> {}

/// What a handle stands for, for as long as a call is at work on it.
struct Held<'a, T> {
    place: &'a Place<T>,
}

impl<T> Held<'_, T> {
    fn thing(&mut self) -> &mut Option<T> {
        // SAFETY: this is the one call that is at work on the place, and it borrows itself for as long.
        unsafe { &mut *self.place.held.get() }
    }

    /// The work is done; the place is what `word` says.
    fn done(self, word: u64) {
        self.place.word.store(word, Ordering::Release);
        std::mem::forget(self);
    }
}

impl<T> Drop for Held<'_, T> {
    /// A panic came before the work was done.
    fn drop(&mut self) {
        self.place.word.store(BROKEN, Ordering::Release);
    }
}

impl<T> Handles<T> {
    /// None yet; `kind` is one number for each kind, 1 to 15.
    pub const fn new(kind: u64) -> Self {
        let places = [const {
            Place {
                word: AtomicU64::new(FREE),
                held: UnsafeCell::new(None),
                round: AtomicU64::new(0),
            }
        }; MOST];
        Self { places, kind, next: AtomicUsize::new(0) }
    }

    /// Holds something, and gives its handle: never 0, and never one that was given before.
    pub fn hold(&self, thing: T) -> Result<u64, Failure> {
        let first = self.next.fetch_add(1, Ordering::Relaxed);
        for index in (0..MOST).map(|step| first.wrapping_add(step) % MOST) {
            let Ok(mut held) = self.at_work(index, FREE) else { continue };
            *held.thing() = Some(thing);
            let round = held.place.round.fetch_add(1, Ordering::Relaxed) + 1;
            let above = round << KIND_BITS | self.kind;
            held.done(above << 1);
            return Ok(above << PLACE_BITS | index as u64);
        }
        Err(Failure::new(HNY_FULL, format!("there are {MOST} handles of this kind")))
    }

    /// The place at `index`, if its word is this one, for one call.
    #[inline]
    fn at_work(&self, index: usize, word: u64) -> Result<Held<'_, T>, u64> {
        let place = &self.places[index];
        let (from, to) = (word, word | AT_WORK);
        let got = place.word.compare_exchange(from, to, Ordering::Acquire, Ordering::Relaxed);
        got.map(|_| Held { place })
    }

    #[inline]
    fn get(&self, handle: u64) -> Result<(Held<'_, T>, u64), Failure> {
        let (index, word) = (handle as usize & (MOST - 1), (handle >> PLACE_BITS) << 1);
        if word == FREE {
            return Err(no_handle());
        }
        match self.at_work(index, word) {
            Ok(held) => Ok((held, word)),
            Err(now) if now == word | AT_WORK => Err(busy()),
            Err(_) => Err(no_handle()),
        }
    }

    /// Lets something be done with what a handle stands for.
    #[inline]
    pub fn with<R>(
        &self,
        handle: u64,
        act: impl FnOnce(&mut T) -> Result<R, Failure>,
    ) -> Result<R, Failure> {
        let (mut held, word) = self.get(handle)?;
        let done = match held.thing() {
            Some(thing) => act(thing),
            None => Err(no_handle()),
        };
        held.done(word);
        done
    }

    /// Lets go of what a handle stands for.
    pub fn free(&self, handle: u64) -> Result<(), Failure> {
        let (mut held, _) = self.get(handle)?;
        *held.thing() = None;
        held.done(FREE);
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
            assert_eq!(ALL.with(handle, |thing| Ok(*thing)).ok(), Some(round));
            assert!(ALL.free(handle).is_ok());
            assert_eq!(ALL.free(handle).map_err(|f| f.status), Err(HNY_NO_HANDLE));
            gone.push(handle);
        }
        for handle in gone.into_iter().chain([0, 1, u64::MAX, 1 << 63]) {
            let gone = ALL.with(handle, |_| Ok(())).err();
            assert_eq!(gone.map(|f| f.status), Some(HNY_NO_HANDLE), "{handle}");
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
        assert!(all.iter().all(|handle| OTHER.with(*handle, |()| Ok(())).is_err()));
        let inside = ALL.with(all[5], |()| {
            assert_eq!(ALL.free(all[5]).map_err(|f| f.status), Err(HNY_BUSY));
            Ok(ALL.with(all[5], |()| Ok(())).map_err(|f| f.status))
        });
        assert_eq!(inside.ok(), Some(Err(HNY_BUSY)));
        assert!(ALL.free(all[5]).is_ok());
        assert!(ALL.hold(()).is_ok());
    }

    #[test]
    fn what_a_call_broke_down_over_is_gone() {
        static ALL: Handles<u8> = Handles::new(1);
        let handle = ALL.hold(1).map_err(|f| f.message).expect("room");
        let other = ALL.hold(2).map_err(|f| f.message).expect("room");
        let broken =
            std::panic::catch_unwind(|| ALL.with(handle, |_| -> Result<(), _> { panic!() }));
        assert!(broken.is_err());
        for _ in 0..2 {
            assert_eq!(ALL.with(handle, |_| Ok(())).map_err(|f| f.status), Err(HNY_NO_HANDLE));
            assert_eq!(ALL.free(handle).map_err(|f| f.status), Err(HNY_NO_HANDLE));
        }
        assert_eq!(ALL.with(other, |thing| Ok(*thing)).ok(), Some(2));
        assert!((0..MOST).filter_map(|_| ALL.hold(3).ok()).count() == MOST - 2);
    }
}
