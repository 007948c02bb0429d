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
    /// What there is to say of several, in a line.
    pub(super) fn in_words(all: &[Self], relation: &str) -> String {
        let ranges = |range: &str| all.iter().filter(|one| one.number.range() == range).count();
        let mut said: Vec<String> = Vec::new();
        for (at, one) in all.iter().enumerate() {
            let range = one.number.range();
            let first = all.iter().position(|other| other.number.range() == range);
            let alike = all.iter().filter(|other| other.number.range() == range);
            let letters: Vec<_> = alike.map(|other| other.letters).collect();
            if first == Some(at) {
                let whose = if ranges(&range) == all.len() {
                    String::new()
                } else {
                    letters.join(", ") + ": "
                };
                said.push(format!("{whose}{range}"));
            }
        }
        let left_out = all.iter().filter(|one| !one.otherwise.is_empty());
        said.extend(
            left_out.map(|one| format!("{} is {} if left out", one.letters, one.otherwise)),
        );
        said.extend((!relation.is_empty()).then(|| relation.to_owned()));
        said.join("; ").replace('-', "−")
    }
}
