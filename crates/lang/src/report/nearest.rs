//! "Did you mean": the known word nearest to an unknown one.

use std::cell::Cell;
use std::fmt::Display;

/// A longer word is near to nothing.
const LONGEST: usize = 100;

/// How many known words are still compared with the unknown ones of one text. A text may hold a great
/// many of both, and what is told of the first few hundred helps with the others, too.
#[derive(Clone, Debug)]
pub struct Comparing(Cell<u32>);

/// So many comparisons there are for a text.
const MOST: u32 = 50_000;

impl Default for Comparing {
    fn default() -> Self {
        Self(Cell::new(MOST))
    }
}

/// Candidates that are compared, each of which counts.
#[derive(Clone, Debug)]
pub struct Compared<'c, I> {
    left: &'c Cell<u32>,
    candidates: I,
}

impl<I: Iterator> Iterator for Compared<'_, I> {
    type Item = I::Item;

    fn next(&mut self) -> Option<I::Item> {
        let left = self.left.get().checked_sub(1)?;
        self.left.set(left);
        self.candidates.next()
    }
}

impl Comparing {
    /// The candidates that are still compared: each counts.
    pub fn of<T, I: Iterator<Item = T>>(&self, candidates: I) -> Compared<'_, I> {
        Compared { left: &self.0, candidates }
    }
}

/// The candidate nearest to `word`, if any is near enough to be what was meant: a third of the
/// longer one's characters may differ (swapped neighbours count once), and case counts least.
pub fn nearest<'a>(word: &str, candidates: impl IntoIterator<Item = &'a str>) -> Option<&'a str> {
    // What is longer was never typed.
    let length = Some(word.chars().count()).filter(|length| *length <= LONGEST)?;
    let lower = word.to_lowercase();
    let letters = letters(&lower);
    candidates
        .into_iter()
        .filter_map(|candidate| {
            let allowed = length.max(candidate.len()).div_ceil(3);
            // Cheap bounds first: a text may hold a great many unknown words.
            if length.abs_diff(candidate.len()) > allowed
                || apart(&letters, candidate) > 2 * allowed
            {
                return None;
            }
            let away = strsim::damerau_levenshtein(&lower, &candidate.to_lowercase());
            let exact = || strsim::damerau_levenshtein(word, candidate);
            (away <= allowed).then(|| ((away, exact()), candidate))
        })
        .min_by_key(|(away, _)| *away)
        .map(|(_, candidate)| candidate)
}

/// The help for an unknown word: the known one that is near to it, else what `otherwise` says.
pub fn did_you_mean(near: Option<impl Display>, otherwise: impl FnOnce() -> String) -> String {
    near.map_or_else(otherwise, |near| format!("did you mean `{near}`?"))
}

/// The nearest of names with a class before the dot: with a known class, only what is behind the
/// dot is compared, so that the class doesn't make everything in it look near.
pub fn nearest_in_class<'a>(
    word: &str,
    candidates: impl Iterator<Item = &'a str> + Clone,
) -> Option<&'a str> {
    let Some((class, rest)) = word.split_once('.') else { return nearest(word, candidates) };
    let mut of_class = candidates.clone().filter_map(|candidate| {
        candidate.split_once('.').filter(|(known, _)| *known == class).map(|(_, rest)| rest)
    });
    if of_class.clone().next().is_none() {
        return nearest(word, candidates);
    }
    let rest = nearest(rest, of_class.by_ref())?;
    candidates.into_iter().find(|candidate| {
        candidate.strip_prefix(class).is_some_and(|tail| tail.strip_prefix('.') == Some(rest))
    })
}

/// How often each ASCII character comes, letters as lower case.
fn letters(word: &str) -> [u16; 128] {
    let mut counts = [0_u16; 128];
    for byte in word.bytes().filter(u8::is_ascii) {
        let count = &mut counts[usize::from(byte.to_ascii_lowercase())];
        *count = count.saturating_add(1);
    }
    counts
}

/// How many characters one word has more of than the other: each edit changes at most two.
fn apart(counts: &[u16; 128], other: &str) -> usize {
    let others = letters(other);
    counts.iter().zip(&others).map(|(a, b)| usize::from(a.abs_diff(*b))).sum()
}

#[cfg(test)]
mod tests {
    use super::{nearest, nearest_in_class};

    #[test]
    fn behind_a_known_class_only_the_rest_counts() {
        let known = ["key.F1", "key.KeyW", "pad.south", "pad.left-stick"];
        for (word, found) in [
            ("key.KeyWW", Some("key.KeyW")),
            ("key.üé", None),
            ("pad.left-stik", Some("pad.left-stick")),
            ("pda.south", Some("pad.south")),
        ] {
            assert_eq!(nearest_in_class(word, known.into_iter()), found, "{word}");
        }
    }

    #[test]
    fn the_nearest_is_found_and_the_far_is_not() {
        let known = ["walk", "hail", "tie-knot", "hurry"];
        for (word, found) in [
            ("wlak", Some("walk")),
            ("Walk", Some("walk")),
            ("tie-not", Some("tie-knot")),
            ("hury", Some("hurry")),
            ("lantern", None),
            ("", None),
        ] {
            assert_eq!(nearest(word, known), found, "{word}");
        }
    }
}
