//! A log of what was told: a ring, and readers that each have a place of their own in its stream.

use crate::seats::Told;

/// So many entries are kept if nothing else is said.
pub(super) const USUAL: usize = 4096;

/// The last so many things told.
#[derive(Clone, Debug)]
pub(super) struct Log {
    /// The nth thing told stands at n, the length taken away as often as it goes.
    entries: Box<[Option<Told>]>,
    /// How many there were.
    count: u64,
}

/// A place of one's own in the stream of what is told.
#[derive(Clone, Debug, Default)]
pub struct EventReader {
    seen: u64,
    missed: u64,
}

impl EventReader {
    /// A reader that took so many and missed so many: what one was, kept elsewhere.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// use harmonym_runtime::EventReader;
    /// assert_eq!(EventReader::at(7, 0).seen(), 7);
    /// ```
    pub fn at(seen: u64, missed: u64) -> Self {
        Self { seen, missed }
    }

    /// How many it took or missed.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # let key = harmonym_runtime::Contact::first(game.control("key.KeyH").unwrap());
    /// # use harmonym_runtime::Time;
    /// let mut reader = harmonym_runtime::EventReader::default();
    /// hands.report(Time::from_millis(3), key, true).unwrap();
    /// let told = hands.events(&mut reader).count();
    /// assert_eq!(reader.seen(), told as u64);
    /// ```
    pub fn seen(&self) -> u64 {
        self.seen
    }

    /// How many it was too late for: what came, and was pushed out of the log, between two looks.
    /// Look more often, or begin with a longer log.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let key = harmonym_runtime::Contact::first(game.control("key.KeyH").unwrap());
    /// # use harmonym_runtime::Time;
    /// let mut reader = harmonym_runtime::EventReader::default();
    /// let mut hands = harmonym_runtime::Hands::with_log(game.plan().clone(), 1, Default::default(), 1);
    /// hands.report(Time::from_millis(3), key, true).unwrap();
    /// assert_eq!(hands.events(&mut reader).count(), 1);
    /// assert!(reader.missed() > 0);
    /// ```
    pub fn missed(&self) -> u64 {
        self.missed
    }
}

impl Log {
    pub fn new(entries: usize) -> Self {
        Self { entries: vec![None; entries.max(1).next_power_of_two()].into(), count: 0 }
    }

    fn place(&self, number: u64) -> usize {
        // The length is a power of two, so that this is the remainder.
        number as usize & (self.entries.len() - 1)
    }

    pub fn push(&mut self, told: Told) {
        let place = self.place(self.count);
        if let Some(slot) = self.entries.get_mut(place) {
            *slot = Some(told);
        }
        self.count += 1;
    }

    /// What a reader has not seen, so many at most, which it has then.
    pub fn since(&self, reader: &mut EventReader, most: usize) -> Events<'_> {
        let oldest = self.count.saturating_sub(self.entries.len() as u64);
        // A reader of another log may be ahead of this one.
        let from = reader.seen.min(self.count).max(oldest);
        reader.missed += from - reader.seen.min(from);
        reader.seen = self.count.min(from.saturating_add(most as u64));
        Events { log: self, next: from, end: reader.seen }
    }
}

/// What was told and not yet seen.
#[derive(Clone, Debug)]
pub struct Events<'a> {
    log: &'a Log,
    next: u64,
    end: u64,
}

impl Iterator for Events<'_> {
    type Item = Told;

    fn next(&mut self) -> Option<Told> {
        if self.next == self.end {
            return None;
        }
        let place = self.log.place(self.next);
        self.next += 1;
        self.log.entries.get(place).copied().flatten()
    }

    fn size_hint(&self) -> (usize, Option<usize>) {
        let left = (self.end - self.next) as usize;
        (left, Some(left))
    }
}

impl ExactSizeIterator for Events<'_> {}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::base::Time;
    use crate::engine::Notice;

    fn told(tick: u64) -> Told {
        Told { seat: None, notice: Notice::Plan { t: Time::ZERO, tick } }
    }

    fn ticks(events: Events<'_>) -> Vec<u64> {
        let tick = |told: Told| match told.notice {
            Notice::Plan { tick, .. } => tick,
            _ => u64::MAX,
        };
        events.map(tick).collect()
    }

    #[test]
    fn readers_agree_with_a_list_and_know_what_they_missed() {
        let mut seed = 9_u64;
        for entries in 1..9 {
            let (mut log, mut all) = (Log::new(entries), Vec::new());
            let mut readers = [EventReader::default(), EventReader::default()];
            let (mut seen, mut missed) = ([0, 0], [0, 0]);
            for step in 0..2000 {
                seed = seed.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1);
                if seed >> 60 > 3 {
                    log.push(told(step));
                    all.push(step);
                    continue;
                }
                let which = (seed >> 40) as usize % 2;
                let kept: usize = usize::next_power_of_two(entries);
                let oldest = all.len().saturating_sub(kept).max(seen[which]);
                missed[which] += oldest - seen[which];
                // One takes all there is, the other at most three at a time.
                let end = if which == 0 { all.len() } else { all.len().min(oldest + 3) };
                let events =
                    log.since(&mut readers[which], if which == 0 { usize::MAX } else { 3 });
                assert_eq!(events.len(), end - oldest);
                assert_eq!(ticks(events), all[oldest..end], "{entries} entries");
                assert_eq!(readers[which].missed(), missed[which] as u64);
                seen[which] = end;
            }
            assert!(missed[0] > 0 || entries > 4, "{entries}");
        }
    }

    #[test]
    fn a_log_of_no_entries_has_one_and_a_strange_reader_sees_nothing_twice() {
        let mut log = Log::new(0);
        let mut reader = EventReader { seen: 40, missed: 0 };
        assert!(ticks(log.since(&mut reader, usize::MAX)).is_empty());
        log.push(told(7));
        assert_eq!(ticks(log.since(&mut reader, usize::MAX)), [7]);
        assert!(ticks(log.since(&mut reader, usize::MAX)).is_empty());
        assert_eq!(reader.missed(), 0);
    }
}
