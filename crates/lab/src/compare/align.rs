//! Two lists put side by side so that as little as possible differs.

/// What stands beside what; nothing where only one list has it.
pub(super) type Pair = (Option<usize>, Option<usize>);

/// Longer lists than this, multiplied, are not aligned at their best but as they come.
const MOST: usize = 4_000_000;

/// Aligns two lists whose entries are in order. Entries that are the `same` stand together first; between
/// them, what costs least: an entry alone costs `alone`, two side by side cost `both`, or cannot stand so.
pub(super) fn align<T>(
    a: &[T],
    b: &[T],
    same: impl Fn(&T, &T) -> std::cmp::Ordering,
    alone: impl Fn(&T) -> u64,
    both: impl Fn(&T, &T) -> Option<u64>,
) -> Vec<Pair> {
    let mut pairs = Vec::new();
    let (mut from_a, mut from_b) = (0, 0);
    let (mut i, mut j) = (0, 0);
    let between = |pairs: &mut Vec<Pair>, (from_a, to_a): (usize, usize), (from_b, to_b)| {
        let costs = Costs::of(&a[from_a..to_a], &b[from_b..to_b], &alone, &both);
        let own = costs.way().into_iter();
        pairs.extend(own.map(|(i, j)| (i.map(|i| i + from_a), j.map(|j: usize| j + from_b))));
    };
    while i < a.len() && j < b.len() {
        match same(&a[i], &b[j]) {
            std::cmp::Ordering::Less => i += 1,
            std::cmp::Ordering::Greater => j += 1,
            std::cmp::Ordering::Equal => {
                between(&mut pairs, (from_a, i), (from_b, j));
                pairs.push((Some(i), Some(j)));
                (i, j) = (i + 1, j + 1);
                (from_a, from_b) = (i, j);
            }
        }
    }
    between(&mut pairs, (from_a, a.len()), (from_b, b.len()));
    pairs
}

/// What it costs at least to align the ends of two lists, from each place on.
struct Costs {
    /// So many entries of the first and of the second list.
    size: (usize, usize),
    /// `least[i · (m + 1) + j]`: from i and j on.
    least: Vec<u64>,
    alone: (Vec<u64>, Vec<u64>),
    /// What two cost side by side; nothing where they cannot stand so.
    both: Vec<Option<u64>>,
}

impl Costs {
    fn of<T>(
        a: &[T],
        b: &[T],
        alone: impl Fn(&T) -> u64,
        both: impl Fn(&T, &T) -> Option<u64>,
    ) -> Self {
        let (n, m) = (a.len(), b.len());
        let is_long = n.saturating_mul(m) > MOST;
        let alone: (Vec<u64>, Vec<u64>) =
            (a.iter().map(&alone).collect(), b.iter().map(&alone).collect());
        if is_long {
            return Self { size: (n, m), least: Vec::new(), alone, both: Vec::new() };
        }
        let pairs = a.iter().flat_map(|x| b.iter().map(|y| both(x, y)));
        let both: Vec<Option<u64>> = pairs.collect();
        let mut costs = Self { size: (n, m), least: vec![0; (n + 1) * (m + 1)], alone, both };
        for i in (0..=n).rev() {
            for j in (0..=m).rev() {
                costs.least[i * (m + 1) + j] = costs.best(i, j).0;
            }
        }
        costs
    }

    fn least(&self, i: usize, j: usize) -> u64 {
        self.least[i * (self.size.1 + 1) + j]
    }

    /// What it costs from there on, and what comes first.
    fn best(&self, i: usize, j: usize) -> (u64, Pair) {
        let (n, m) = self.size;
        let mut best: Option<(u64, Pair)> = None;
        let mut take = |cost: u64, pair: Pair| {
            if best.is_none_or(|(least, _)| cost < least) {
                best = Some((cost, pair));
            }
        };
        if i < n
            && j < m
            && let Some(cost) = self.both[i * m + j]
        {
            take(cost + self.least(i + 1, j + 1), (Some(i), Some(j)));
        }
        if i < n {
            take(self.alone.0[i] + self.least(i + 1, j), (Some(i), None));
        }
        if j < m {
            take(self.alone.1[j] + self.least(i, j + 1), (None, Some(j)));
        }
        best.unwrap_or((0, (None, None)))
    }

    /// The pairs of the cheapest way.
    fn way(&self) -> Vec<Pair> {
        let (n, m) = self.size;
        if self.least.is_empty() {
            let common = (0..n.min(m)).map(|i| (Some(i), Some(i)));
            let rest_a = (n.min(m)..n).map(|i| (Some(i), None));
            let rest_b = (n.min(m)..m).map(|j| (None, Some(j)));
            return common.chain(rest_a).chain(rest_b).collect();
        }
        let (mut i, mut j) = (0, 0);
        let mut pairs = Vec::new();
        while i < n || j < m {
            let (_, pair) = self.best(i, j);
            (i, j) = (i + usize::from(pair.0.is_some()), j + usize::from(pair.1.is_some()));
            pairs.push(pair);
        }
        pairs
    }
}

#[cfg(test)]
mod tests {
    use super::{Pair, align};

    /// What numbers cost side by side: how far apart they are, up to 3.
    fn both(x: &u64, y: &u64) -> Option<u64> {
        let apart = x.abs_diff(*y);
        (apart <= 3).then_some(apart)
    }

    fn cost(a: &[u64], b: &[u64], pairs: &[Pair]) -> u64 {
        let one = |(i, j): &Pair| match (i, j) {
            (Some(i), Some(j)) => both(&a[*i], &b[*j]).expect("they may stand side by side"),
            _ => 2,
        };
        pairs.iter().map(one).sum()
    }

    /// The least that any alignment costs in which what is the same stands together, found by trying all.
    fn least(a: &[u64], b: &[u64], same: &[u64]) -> u64 {
        let alone = |x: &u64| if same.contains(x) { 1000 } else { 2 };
        match (a, b) {
            ([], rest) | (rest, []) => rest.iter().map(alone).sum(),
            ([x, a1 @ ..], [y, b1 @ ..]) => {
                let one = (alone(x) + least(a1, b, same)).min(alone(y) + least(a, b1, same));
                let may = x == y || !(same.contains(x) || same.contains(y));
                let two = both(x, y).filter(|_| may);
                two.map_or(one, |cost| one.min(cost + least(a1, b1, same)))
            }
        }
    }

    #[test]
    fn every_pair_of_short_lists_is_aligned_at_its_best() {
        // All rising lists of up to four numbers under 7.
        let mut lists = vec![Vec::new()];
        for bits in 1_u32..1 << 7 {
            if bits.count_ones() <= 4 {
                lists.push((0..7).filter(|bit| bits & (1 << bit) != 0).collect::<Vec<u64>>());
            }
        }
        for a in &lists {
            for b in &lists {
                let same: Vec<u64> = a.iter().filter(|x| b.contains(x)).copied().collect();
                let pairs = align(a, b, u64::cmp, |_| 2, both);
                assert_eq!(cost(a, b, &pairs), least(a, b, &same), "{a:?} {b:?} {pairs:?}");
                let ours: Vec<usize> = pairs.iter().filter_map(|(i, _)| *i).collect();
                let theirs: Vec<usize> = pairs.iter().filter_map(|(_, j)| *j).collect();
                assert!(
                    ours.iter().copied().eq(0..a.len()) && theirs.iter().copied().eq(0..b.len())
                );
            }
        }
    }
}
