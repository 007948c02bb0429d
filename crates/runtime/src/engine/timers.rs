//! Cues that wait for their time: a heap with one place for each alternative, so that it never
//! grows.

use crate::base::{AlternativeId, Id, Table, Time};

/// When within an instant something is due.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(super) enum When {
    /// Cues that reach their time: before raw events.
    Reach,
    /// The look at moving steps.
    Look,
    /// Cues that run out of time: after raw events.
    RunOut,
}

/// Not in the heap.
const ABSENT: u32 = u32::MAX;

/// The alternatives that wait, the one due first on top; of several at one instant, the earliest
/// in the file.
#[derive(Clone, Debug)]
pub(super) struct Timers {
    heap: Box<[AlternativeId]>,
    len: usize,
    /// Where in the heap each alternative is.
    places: Table<AlternativeId, u32>,
    due: Table<AlternativeId, (Time, When)>,
    /// When the first is due; past every moment while none waits.
    next: Time,
}

/// Past every moment.
const NEVER: Time = Time::from_nanos(u64::MAX);

impl Timers {
    pub fn new(alternatives: usize) -> Self {
        Self {
            heap: vec![AlternativeId::new(0); alternatives].into(),
            len: 0,
            places: Table::filled(ABSENT, alternatives),
            due: Table::filled((Time::ZERO, When::Reach), alternatives),
            next: NEVER,
        }
    }

    pub fn clear(&mut self) {
        (self.len, self.next) = (0, NEVER);
        self.places.fill(ABSENT);
    }

    /// Whether nothing is due by `at`.
    #[inline]
    pub fn is_quiet_until(&self, at: Time) -> bool {
        at < self.next
    }

    fn find_next(&mut self) {
        self.next = self.first().map_or(NEVER, |(due, ..)| due);
    }

    /// The alternative that is due first, and when.
    pub fn first(&self) -> Option<(Time, When, AlternativeId)> {
        let id = self.at(0)?;
        let (due, when) = self.due[id];
        Some((due, when, id))
    }

    /// When `id` is due, if it waits.
    pub fn due(&self, id: AlternativeId) -> Option<Time> {
        self.waits_for(id).map(|(due, _)| due)
    }

    /// When `id` is due and when within that instant, if it waits.
    pub fn waits_for(&self, id: AlternativeId) -> Option<(Time, When)> {
        (self.places[id] != ABSENT).then(|| self.due[id])
    }

    /// The alternatives that wait, in no order.
    pub fn waiting(&self) -> impl Iterator<Item = AlternativeId> {
        self.heap.iter().take(self.len).copied()
    }

    /// Lets `id` wait until `due`, in place of what it waited for.
    pub fn set(&mut self, id: AlternativeId, due: Time, when: When) {
        self.cancel(id);
        self.due[id] = (due, when);
        let end = self.len;
        self.len += 1;
        self.put(end, id);
        self.rise(end);
        self.find_next();
    }

    /// Lets `id` wait no more.
    #[inline]
    pub fn cancel(&mut self, id: AlternativeId) {
        let place = self.places[id];
        if place != ABSENT {
            self.take_out(id, place as usize);
        }
    }

    fn take_out(&mut self, id: AlternativeId, place: usize) {
        self.places[id] = ABSENT;
        self.len -= 1;
        if let Some(&last) = self.heap.get(self.len).filter(|_| place < self.len) {
            self.put(place, last);
            self.sink(place);
            self.rise(place);
        }
        self.find_next();
    }

    fn at(&self, place: usize) -> Option<AlternativeId> {
        self.heap.get(place).copied().filter(|_| place < self.len)
    }

    fn put(&mut self, place: usize, id: AlternativeId) {
        if let Some(slot) = self.heap.get_mut(place) {
            *slot = id;
            self.places[id] = place as u32;
        }
    }

    /// Whether `a` comes before `b`.
    fn before(&self, a: AlternativeId, b: AlternativeId) -> bool {
        (self.due[a], a) < (self.due[b], b)
    }

    fn rise(&mut self, mut place: usize) {
        while place > 0 {
            let parent = (place - 1) / 2;
            let (Some(own), Some(above)) = (self.at(place), self.at(parent)) else { return };
            if !self.before(own, above) {
                return;
            }
            self.put(parent, own);
            self.put(place, above);
            place = parent;
        }
    }

    fn sink(&mut self, mut place: usize) {
        while let (Some(own), Some(left)) = (self.at(place), self.at(2 * place + 1)) {
            let (mut child, mut least) = (2 * place + 1, left);
            if let Some(right) = self.at(child + 1).filter(|&right| self.before(right, left)) {
                (child, least) = (child + 1, right);
            }
            if !self.before(least, own) {
                return;
            }
            self.put(place, least);
            self.put(child, own);
            place = child;
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::collections::BTreeMap;

    #[test]
    fn it_agrees_with_a_sorted_map() {
        let mut timers = Timers::new(50);
        let mut slow: BTreeMap<AlternativeId, (Time, When)> = BTreeMap::new();
        let mut seed = 3_u64;
        for _ in 0..20_000 {
            seed = seed.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1);
            let id = AlternativeId::new((seed >> 40) as usize % 50);
            if seed & (1 << 30) == 0 {
                let due = Time::from_nanos((seed >> 33) % 20);
                let when = if seed & 1 == 0 { When::Reach } else { When::RunOut };
                timers.set(id, due, when);
                slow.insert(id, (due, when));
            } else {
                timers.cancel(id);
                slow.remove(&id);
            }
            let first = slow.iter().map(|(id, due)| (due.0, due.1, *id)).min();
            assert_eq!(timers.first(), first);
            let due = first.map_or(u64::MAX, |(due, ..)| due.nanos());
            assert!(!timers.is_quiet_until(Time::from_nanos(due)));
            assert!(due == 0 || timers.is_quiet_until(Time::from_nanos(due - 1)));
            assert_eq!(timers.waiting().count(), slow.len());
        }
        while let Some((_, _, id)) = timers.first() {
            timers.cancel(id);
            slow.remove(&id);
            assert_eq!(timers.first(), slow.iter().map(|(id, due)| (due.0, due.1, *id)).min());
        }
        assert!(slow.is_empty());
    }
}
