//! A part of many runs, for machines that share them.

/// One of so many parts: `2/4`.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Shard {
    /// Which, from 1.
    pub number: usize,
    /// Of how many.
    pub of: usize,
}

/// The most parts.
const MOST: usize = 10_000;

impl Shard {
    /// Reads `K/N`.
    ///
    /// # Errors
    /// What is wrong with it.
    pub fn parse(text: &str) -> Result<Self, String> {
        let (number, of) = text.split_once('/').ok_or("write K/N: 2/4")?;
        let whole = |text: &str| text.trim().parse::<usize>().map_err(|_| "write K/N: 2/4");
        let (number, of) = (whole(number)?, whole(of)?);
        match (1..=MOST).contains(&of) && (1..=of).contains(&number) {
            true => Ok(Self { number, of }),
            false => Err(format!("K is 1 to N, and N at most {MOST}")),
        }
    }

    /// Its part of all: what follows each other, so that the parts in order are the whole; of lengths
    /// that differ by one at most.
    pub fn part<T>(self, all: &[T]) -> &[T] {
        let at = |number: usize| all.len() * number / self.of;
        all.get(at(self.number - 1)..at(self.number)).unwrap_or_default()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_parts_in_order_are_the_whole_and_of_like_lengths() {
        for len in 0..30 {
            let all: Vec<usize> = (0..len).collect();
            for of in 1..12 {
                let parts = (1..=of).map(|number| Shard { number, of }.part(&all));
                let parts: Vec<&[usize]> = parts.collect();
                assert_eq!(parts.concat(), all, "{len} in {of}");
                let lengths = parts.iter().map(|part| part.len());
                let (least, most) = (lengths.clone().min(), lengths.max());
                assert!(most.zip(least).is_some_and(|(most, least)| most - least <= 1));
            }
        }
    }

    #[test]
    fn a_part_is_one_of_as_many_as_there_are() {
        assert_eq!(Shard::parse("2/4"), Ok(Shard { number: 2, of: 4 }));
        assert_eq!(Shard::parse("1/1"), Ok(Shard { number: 1, of: 1 }));
        for wrong in ["0/4", "5/4", "1/0", "2", "a/4", "1/b", "-1/4", "1/10001", ""] {
            assert!(Shard::parse(wrong).is_err(), "{wrong}");
        }
        assert!(Shard::parse("1/10000").is_ok());
    }
}
