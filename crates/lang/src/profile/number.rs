//! Numbers with a range: the reader, range errors and the reference all read them from here.

/// What a number counts.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Counts {
    /// A plain number or a percentage.
    Plain,
    /// A time with its unit.
    Time,
    /// A turn with its unit.
    Angle,
    /// So much a second.
    Rate,
}

impl Counts {
    /// The unit that messages write behind a number.
    pub const fn unit(self) -> &'static str {
        match self {
            Self::Plain => "",
            Self::Time => " s",
            Self::Angle => " rad",
            Self::Rate => "/s",
        }
    }
}

/// One number that a step, a cue or a key takes. Both ends belong to the range, but for
/// `over`.
#[derive(Clone, Copy, Debug)]
pub struct Number {
    /// What messages call it.
    pub name: &'static str,
    /// What it counts.
    pub counts: Counts,
    /// The least, in base units.
    pub least: f64,
    /// The most, in base units.
    pub most: f64,
    /// Whether the least itself is left out.
    pub over: bool,
}

impl Number {
    /// Whether `value` lies in the range.
    pub fn holds(&self, value: f64) -> bool {
        (self.least..=self.most).contains(&value) && !(self.over && value == self.least)
    }

    /// The range in words.
    pub fn range(&self) -> String {
        let unit = self.counts.unit();
        let (least, most) = (self.least, self.most);
        match self.over {
            true => format!("more than {least}{unit}, at most {most}{unit}"),
            false => format!("{least}{unit} to {most}{unit}"),
        }
    }

    pub(super) const fn plain(name: &'static str, least: f64, most: f64) -> Self {
        Self { name, counts: Counts::Plain, least, most, over: false }
    }

    pub(super) const fn above(name: &'static str, least: f64, most: f64) -> Self {
        Self { over: true, ..Self::plain(name, least, most) }
    }

    pub(super) const fn angle(name: &'static str) -> Self {
        Self { counts: Counts::Angle, ..Self::plain(name, -1e3, 1e3) }
    }

    pub(super) const fn rate(name: &'static str) -> Self {
        Self { counts: Counts::Rate, ..Self::above(name, 0.0, 1e6) }
    }

    pub(super) const fn time(name: &'static str) -> Self {
        Self { counts: Counts::Time, ..Self::above(name, 0.0, 3600.0) }
    }
}

/// One number that a step or cue takes.
#[derive(Clone, Copy, Debug)]
pub struct Parameter {
    /// What stands for it in how the step or cue is written.
    pub letters: &'static str,
    /// What it may be.
    pub number: Number,
    /// What it is if it is left out; empty where it must be said.
    pub otherwise: &'static str,
}

impl Parameter {
    pub(super) const fn needed(letters: &'static str, number: Number) -> Self {
        Self { letters, number, otherwise: "" }
    }

    pub(super) const fn optional(
        letters: &'static str,
        number: Number,
        otherwise: &'static str,
    ) -> Self {
        Self { letters, number, otherwise }
    }

    /// What there is to say of several, in a line: each range once, with those that have it.
    pub(super) fn in_words(all: &[Self], relation: &str) -> String {
        let mut ranges: Vec<(String, Vec<&str>)> = Vec::new();
        for one in all {
            let range = one.number.range();
            match ranges.iter_mut().find(|(known, _)| *known == range) {
                Some((_, letters)) => letters.push(one.letters),
                None => ranges.push((range, vec![one.letters])),
            }
        }
        let is_one = ranges.len() == 1;
        let ranges = ranges.into_iter().map(|(range, letters)| match is_one {
            true => range,
            false => format!("{}: {range}", letters.join(", ")),
        });
        let left_out = all.iter().filter(|one| !one.otherwise.is_empty());
        let left_out =
            left_out.map(|one| format!("{} is {} if left out", one.letters, one.otherwise));
        let relation = Some(relation.to_owned()).filter(|relation| !relation.is_empty());
        let said: Vec<String> = ranges.chain(left_out).chain(relation).collect();
        said.join("; ").replace('-', "−")
    }
}
