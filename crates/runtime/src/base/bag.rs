//! Ids put aside, each once, in no order; it never allocates once made.

use super::id::{Id, Table};

/// Ids in no order, for what is looked at all together: putting one in and taking one out costs a
/// store or two, whatever their number.
#[derive(Clone, Debug)]
pub struct IdBag<I> {
    /// Where in `items` each id stands, from 1; 0 for those that aren't in it.
    places: Table<I, u32>,
    items: Box<[I]>,
    len: usize,
}

impl<I: Id> IdBag<I> {
    /// An empty bag for ids under `len`.
    pub fn new(len: usize) -> Self {
        Self { places: Table::filled(0, len), items: vec![I::new(0); len].into(), len: 0 }
    }

    /// Puts an id in.
    #[inline]
    pub fn insert(&mut self, id: I) {
        // Where all ids are in it, so is this one.
        if let (Some(place), Some(item)) = (self.places.get_mut(id), self.items.get_mut(self.len)) {
            // Without a branch: nobody can foresee it. Past the end the item is nothing's.
            let is_new = *place == 0;
            *item = id;
            self.len += usize::from(is_new);
            *place = if is_new { self.len as u32 } else { *place };
        }
    }

    /// Takes an id out.
    pub fn remove(&mut self, id: I) {
        let Some(place) = self.places.get_mut(id) else { return };
        let at = std::mem::take(place);
        if at == 0 {
            return;
        }
        // The last one takes the place that is free.
        self.len -= 1;
        let Some(&last) = self.items.get(self.len) else { return };
        if last != id
            && let Some(item) = self.items.get_mut(at as usize - 1)
        {
            *item = last;
            self.places[last] = at;
        }
    }

    /// Whether `id` is in it.
    #[inline]
    pub fn contains(&self, id: I) -> bool {
        self.places.get(id).is_some_and(|&place| place > 0)
    }

    /// Takes some id out and gives it.
    #[inline]
    pub fn pop(&mut self) -> Option<I> {
        self.len = self.len.checked_sub(1)?;
        let &id = self.items.get(self.len)?;
        self.places[id] = 0;
        Some(id)
    }

    /// Whether nothing is in it.
    #[inline]
    pub fn is_empty(&self) -> bool {
        self.len == 0
    }

    /// Takes all ids out.
    pub fn clear(&mut self) {
        while self.pop().is_some() {}
    }
}

#[cfg(test)]
mod tests {
    use super::super::id::ActionId;
    use super::*;
    use std::collections::BTreeSet;

    #[test]
    fn it_agrees_with_a_set() {
        let mut bag = IdBag::<ActionId>::new(40);
        let mut slow = BTreeSet::new();
        let mut seed = 5_u64;
        for _ in 0..5000 {
            seed = seed.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1);
            let id = ActionId::new((seed >> 33) as usize % 42);
            match seed >> 60 {
                0..9 if id.index() < 40 => {
                    bag.insert(id);
                    slow.insert(id);
                }
                // One past the end is left out.
                0..9 => bag.insert(id),
                9..15 => {
                    bag.remove(id);
                    slow.remove(&id);
                }
                _ => {
                    let popped = bag.pop();
                    assert!(popped.map_or(slow.is_empty(), |id| slow.remove(&id)));
                }
            }
            assert_eq!(bag.contains(id), slow.contains(&id));
            assert_eq!(bag.is_empty(), slow.is_empty());
        }
        bag.clear();
        assert!(bag.is_empty() && (0..40).all(|i| !bag.contains(ActionId::new(i))));
    }
}
