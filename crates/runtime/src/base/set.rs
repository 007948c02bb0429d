//! A set of ids that walks them in order and never allocates once made.

use super::id::Id;
use std::marker::PhantomData;

const BITS: usize = u64::BITS as usize;

/// Ids as bits, with a second layer of bits that tells which words hold any: a walk over few ids
/// of many costs little.
#[derive(Clone, Debug)]
pub struct IdSet<I> {
    words: Box<[u64]>,
    summary: Box<[u64]>,
    count: usize,
    of: PhantomData<fn(I)>,
}

impl<I: Id> IdSet<I> {
    /// An empty set for ids under `len`.
    pub fn new(len: usize) -> Self {
        let words = len.div_ceil(BITS);
        Self {
            words: vec![0; words].into(),
            summary: vec![0; words.div_ceil(BITS)].into(),
            count: 0,
            of: PhantomData,
        }
    }

    /// Adds an id; one past the set's length is left out.
    #[inline]
    pub fn insert(&mut self, id: I) {
        let word = id.index() / BITS;
        if let (Some(bits), Some(summary)) =
            (self.words.get_mut(word), self.summary.get_mut(word / BITS))
        {
            let bit = 1 << (id.index() % BITS);
            self.count += usize::from(*bits & bit == 0);
            *bits |= bit;
            *summary |= 1 << (word % BITS);
        }
    }

    /// Takes an id out.
    #[inline]
    pub fn remove(&mut self, id: I) {
        let word = id.index() / BITS;
        if self.count > 0
            && let (Some(bits), Some(summary)) =
                (self.words.get_mut(word), self.summary.get_mut(word / BITS))
        {
            let bit = 1 << (id.index() % BITS);
            self.count -= usize::from(*bits & bit != 0);
            *bits &= !bit;
            if *bits == 0 {
                *summary &= !(1 << (word % BITS));
            }
        }
    }

    /// Whether `id` is in it.
    #[inline]
    pub fn contains(&self, id: I) -> bool {
        let bits = self.words.get(id.index() / BITS).copied().unwrap_or_default();
        bits & (1 << (id.index() % BITS)) != 0
    }

    /// The first id at or after `from`.
    #[inline]
    pub fn next(&self, from: usize) -> Option<I> {
        if self.count == 0 {
            return None;
        }
        let word = from / BITS;
        let bits = self.words.get(word)? & (u64::MAX << (from % BITS));
        if bits != 0 {
            return Some(I::new(word * BITS + bits.trailing_zeros() as usize));
        }
        let word = self.next_word(word + 1)?;
        let bits = self.words.get(word)?;
        Some(I::new(word * BITS + bits.trailing_zeros() as usize))
    }

    fn next_word(&self, from: usize) -> Option<usize> {
        let first = from / BITS;
        let masked = self.summary.get(first)? & (u64::MAX << (from % BITS));
        if masked != 0 {
            return Some(first * BITS + masked.trailing_zeros() as usize);
        }
        let rest = self.summary.iter().enumerate().skip(first + 1);
        rest.filter(|(_, bits)| **bits != 0)
            .map(|(i, bits)| i * BITS + bits.trailing_zeros() as usize)
            .next()
    }

    /// Takes the first id out and gives it.
    #[inline]
    pub fn pop(&mut self) -> Option<I> {
        let id = self.next(0)?;
        self.remove(id);
        Some(id)
    }

    /// Whether nothing is in it.
    #[inline]
    pub fn is_empty(&self) -> bool {
        self.count == 0
    }

    /// Takes all ids out.
    pub fn clear(&mut self) {
        if std::mem::take(&mut self.count) == 0 {
            return;
        }
        // Only words that hold any: their number counts, and not how many there could be.
        for (words, summary) in self.words.chunks_mut(BITS).zip(&mut self.summary) {
            let mut left = std::mem::take(summary);
            while left != 0 {
                if let Some(word) = words.get_mut(left.trailing_zeros() as usize) {
                    *word = 0;
                }
                left &= left - 1;
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::super::id::ActionId;
    use super::*;
    use std::collections::BTreeSet;

    #[test]
    fn it_agrees_with_an_ordered_set() {
        let len = 20_000;
        let mut set = IdSet::<ActionId>::new(len);
        let mut slow = BTreeSet::new();
        let mut seed = 7_u64;
        for _ in 0..3000 {
            seed = seed.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1);
            let index = (seed >> 33) as usize % len;
            if seed & (1 << 20) == 0 {
                set.insert(ActionId::new(index));
                slow.insert(index);
            } else if let Some(&one) = slow.range(index..).next() {
                assert_eq!(set.next(index), Some(ActionId::new(one)));
                set.remove(ActionId::new(one));
                slow.remove(&one);
            }
            assert_eq!(set.is_empty(), slow.is_empty());
        }
        let mut cleared = set.clone();
        cleared.clear();
        assert!(!set.is_empty() && cleared.is_empty());
        assert!(cleared.words.iter().chain(&cleared.summary).all(|&bits| bits == 0));
        let mut walked = Vec::new();
        while let Some(id) = set.pop() {
            walked.push(id.index());
        }
        assert_eq!(walked, slow.into_iter().collect::<Vec<_>>());
    }
}
