//! Typed indices into dense tables, so that an action's number can't be used for a binding.

use std::marker::PhantomData;
use std::ops::{Index, IndexMut};

/// An index into one kind of [`Table`].
pub trait Id: Copy + Eq + Ord {
    /// The id of the entry at `index`.
    fn new(index: usize) -> Self;
    /// The entry's index, from 0.
    fn index(self) -> usize;
}

macro_rules! ids {
    ($($(#[$doc:meta])* $name:ident;)*) => {$(
        $(#[$doc])*
        #[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
        #[cfg_attr(feature = "pack", derive(serde::Serialize, serde::Deserialize))]
        #[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
        pub struct $name(u32);

        impl Id for $name {
            fn new(index: usize) -> Self {
                Self(u32::try_from(index).unwrap_or(u32::MAX))
            }
            fn index(self) -> usize {
                self.0 as usize
            }
        }
    )*};
}

ids! {
    /// An action, counted through the whole profile in file order.
    ActionId;
    /// One alternative of a fire rule.
    AlternativeId;
    /// A binding, counted through the whole profile, grouped by action.
    BindingId;
    /// A control that a device reports itself: a key, a button, a lever, a whole stick.
    ControlId;
    /// A map, in file order.
    MapId;
    /// A setting or fact, in file order.
    VariableId;
    /// A number that an operation or cue takes.
    ParamId;
    /// A cell of memory that an operation keeps between events.
    MemoryId;
    /// One operation of a binding or shape.
    OpId;
    /// A scheme, in file order.
    SchemeId;
    /// One action's use of one control of its bindings.
    ControlUseId;
    /// One physical control that a [`ControlUseId`] listens to.
    PhysicalInputId;
    /// A `+`.
    PlusId;
    /// What a step keeps that moves on its own, or adds up over time.
    MotionId;
}

/// A fixed list that only ids of its own kind can read.
#[derive(Clone, Debug, PartialEq)]
pub struct Table<I, T> {
    items: Box<[T]>,
    of: PhantomData<fn(I)>,
}

impl<I: Id, T> Table<I, T> {
    /// A table of `len` copies of `item`.
    pub fn filled(item: T, len: usize) -> Self
    where
        T: Clone,
    {
        vec![item; len].into()
    }

    /// How many entries there are.
    pub fn len(&self) -> usize {
        self.items.len()
    }

    /// Whether there are no entries.
    pub fn is_empty(&self) -> bool {
        self.items.is_empty()
    }

    /// The entry of `id`, if there is one.
    pub fn get(&self, id: I) -> Option<&T> {
        self.items.get(id.index())
    }

    /// The entry of `id`, to be changed.
    pub fn get_mut(&mut self, id: I) -> Option<&mut T> {
        self.items.get_mut(id.index())
    }

    /// The entries in order.
    pub fn as_slice(&self) -> &[T] {
        &self.items
    }

    /// The entries in order.
    pub fn iter(&self) -> std::slice::Iter<'_, T> {
        self.items.iter()
    }

    /// The entries in order, each with its id.
    pub fn entries(&self) -> impl Iterator<Item = (I, &T)> {
        self.items.iter().enumerate().map(|(i, t)| (I::new(i), t))
    }

    /// The entries of a run that there are, each with its id.
    #[inline]
    pub fn run(&self, ids: IdRange<I>) -> impl Iterator<Item = (I, &T)> {
        let (start, end) = (ids.start as usize, ids.end as usize);
        let items = self.items.get(start..end).unwrap_or_default();
        items.iter().enumerate().map(move |(nth, item)| (I::new(start + nth), item))
    }

    /// The ids in order.
    pub fn ids(&self) -> impl DoubleEndedIterator<Item = I> + use<I, T> {
        (0..self.items.len()).map(I::new)
    }

    /// Takes the entries of a run of another table over, into a run of this one.
    pub fn take_over(&mut self, own: IdRange<I>, other: &Self, of_other: IdRange<I>)
    where
        T: Clone,
    {
        for (own, other_id) in own.iter().zip(of_other.iter()) {
            if let (Some(slot), Some(item)) = (self.get_mut(own), other.get(other_id)) {
                *slot = item.clone();
            }
        }
    }

    /// Sets every entry to `item`, without allocating.
    pub fn fill(&mut self, item: T)
    where
        T: Clone,
    {
        self.items.fill(item);
    }
}

impl<I: Id, T> From<Vec<T>> for Table<I, T> {
    fn from(items: Vec<T>) -> Self {
        Self { items: items.into_boxed_slice(), of: PhantomData }
    }
}

impl<I: Id, T> Index<I> for Table<I, T> {
    type Output = T;
    fn index(&self, id: I) -> &T {
        &self.items[id.index()]
    }
}

impl<I: Id, T> IndexMut<I> for Table<I, T> {
    fn index_mut(&mut self, id: I) -> &mut T {
        &mut self.items[id.index()]
    }
}

/// A run of ids that follow each other.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[cfg_attr(feature = "pack", derive(serde::Serialize, serde::Deserialize))]
#[cfg_attr(feature = "pack", serde(from = "[u32; 2]", into = "[u32; 2]", bound = "I: Id"))]
pub struct IdRange<I> {
    start: u32,
    end: u32,
    of: PhantomData<fn(I)>,
}

impl<I> Default for IdRange<I> {
    /// No ids.
    fn default() -> Self {
        Self { start: 0, end: 0, of: PhantomData }
    }
}

impl<I: Id> IdRange<I> {
    /// From index `start` up to `end`, the end excluded. There is one range without ids.
    pub fn new(start: usize, end: usize) -> Self {
        let (start, end) = (I::new(start).index() as u32, I::new(end).index() as u32);
        // Where indices end, a range that cannot be would look like one without ids.
        match start == end && end < u32::MAX {
            true => Self::default(),
            false => Self { start, end, of: PhantomData },
        }
    }

    /// The ids in order.
    pub fn iter(self) -> impl DoubleEndedIterator<Item = I> + use<I> {
        (self.start..self.end).map(|index| I::new(index as usize))
    }

    /// The first id, if there is any.
    pub fn first(self) -> Option<I> {
        self.iter().next()
    }

    /// The id that stands where `id` does, in a run as long as this one.
    pub fn counterpart(self, id: I, other: Self) -> Option<I> {
        let place = id.index().checked_sub(self.start as usize)?;
        (place < self.len() && self.len() == other.len())
            .then(|| I::new(other.start as usize + place))
    }

    /// How many ids there are.
    pub fn len(self) -> usize {
        self.end.saturating_sub(self.start) as usize
    }

    /// Whether there are none.
    pub fn is_empty(self) -> bool {
        self.start == self.end
    }

    /// Whether an id is one of them.
    pub fn contains(self, id: I) -> bool {
        (self.start as usize..self.end as usize).contains(&id.index())
    }

    /// The last id, if there is any.
    pub fn last(self) -> Option<I> {
        self.iter().next_back()
    }

    /// Whether all ids lie under `len`.
    pub fn fits(self, len: usize) -> bool {
        self.start <= self.end && self.end as usize <= len
    }
}

/// A stretch of a list that several owners share.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
#[cfg_attr(feature = "pack", derive(serde::Serialize, serde::Deserialize))]
#[cfg_attr(feature = "pack", serde(from = "[u32; 2]", into = "[u32; 2]"))]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct ListSlice {
    start: u32,
    end: u32,
}

impl ListSlice {
    /// Adds `items` to the list that is shared, and gives where they are; there is one slice of no items.
    pub fn push<T>(list: &mut Vec<T>, items: impl IntoIterator<Item = T>) -> Self {
        let start = list.len() as u32;
        list.extend(items);
        let end = list.len() as u32;
        if start == end { Self::default() } else { Self { start, end } }
    }

    /// Whether a list of `len` items has them all.
    pub fn fits(self, len: usize) -> bool {
        self.start <= self.end && self.end as usize <= len
    }

    /// The items.
    pub fn of<T>(self, list: &[T]) -> &[T] {
        list.get(self.start as usize..self.end as usize).unwrap_or_default()
    }

    /// Whether there are none.
    pub fn is_empty(self) -> bool {
        self.start == self.end
    }
}

/// Whether a part is left out where it is written: what a reader takes it for without that.
#[cfg(feature = "pack")]
pub fn is_default<T: Default + PartialEq>(part: &T) -> bool {
    *part == T::default()
}

/// From the first index up to the second, which is excluded.
#[cfg(feature = "pack")]
mod packed {
    use super::{Id, IdRange, ListSlice};
    use std::marker::PhantomData;

    impl<I: Id> From<[u32; 2]> for IdRange<I> {
        fn from([start, end]: [u32; 2]) -> Self {
            Self { start, end, of: PhantomData }
        }
    }

    impl<I: Id> From<IdRange<I>> for [u32; 2] {
        fn from(range: IdRange<I>) -> Self {
            [range.start, range.end]
        }
    }

    impl From<[u32; 2]> for ListSlice {
        fn from([start, end]: [u32; 2]) -> Self {
            Self { start, end }
        }
    }

    impl From<ListSlice> for [u32; 2] {
        fn from(slice: ListSlice) -> Self {
            [slice.start, slice.end]
        }
    }

    #[cfg(feature = "schema")]
    impl<I: Id> schemars::JsonSchema for IdRange<I> {
        fn inline_schema() -> bool {
            true
        }

        fn schema_name() -> std::borrow::Cow<'static, str> {
            "Range".into()
        }

        fn json_schema(generator: &mut schemars::SchemaGenerator) -> schemars::Schema {
            generator.subschema_for::<[u32; 2]>()
        }
    }
}
