//! Intervals, and what values they may be: components and length together.

use harmonym_runtime::base::Kind;

/// All numbers from one to another, both included; either end may be infinite.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Interval {
    /// The least.
    pub least: f64,
    /// The most.
    pub most: f64,
}

impl Interval {
    /// Only 0.
    pub const ZERO: Self = Self::new(0.0, 0.0);
    /// Every number.
    pub const ALL: Self = Self::new(f64::NEG_INFINITY, f64::INFINITY);

    /// From `least` to `most`.
    pub const fn new(least: f64, most: f64) -> Self {
        Self { least, most }
    }

    /// Only `value`.
    pub const fn only(value: f64) -> Self {
        Self::new(value, value)
    }

    /// What either may be.
    pub fn or(self, other: Self) -> Self {
        Self::new(self.least.min(other.least), self.most.max(other.most))
    }

    /// What both may be; where they don't meet, the nearest of this one's ends.
    pub fn within(self, least: f64, most: f64) -> Self {
        Self::new(self.least.clamp(least, most), self.most.clamp(least, most))
    }

    /// Sums of one and the other.
    pub fn plus(self, other: Self) -> Self {
        Self::new(self.least + other.least, self.most + other.most)
    }

    /// The numbers with the other sign.
    pub fn negated(self) -> Self {
        Self::new(-self.most, -self.least)
    }

    /// Products of one and the other; nothing times the infinite is nothing.
    pub fn times(self, other: Self) -> Self {
        let product = |a: f64, b: f64| if a == 0.0 || b == 0.0 { 0.0 } else { a * b };
        let all = [
            product(self.least, other.least),
            product(self.least, other.most),
            product(self.most, other.least),
            product(self.most, other.most),
        ];
        Self::new(
            all.into_iter().fold(f64::INFINITY, f64::min),
            all.into_iter().fold(f64::NEG_INFINITY, f64::max),
        )
    }

    /// The magnitudes.
    pub fn abs(self) -> Self {
        let most = self.least.abs().max(self.most.abs());
        let least = if self.holds(0.0) { 0.0 } else { self.least.abs().min(self.most.abs()) };
        Self::new(least, most)
    }

    /// What a function gives that never falls.
    pub fn map(self, rising: impl Fn(f64) -> f64) -> Self {
        Self::new(rising(self.least), rising(self.most))
    }

    /// Whether `value` is one of them.
    pub fn holds(self, value: f64) -> bool {
        self.least <= value && value <= self.most
    }
}

/// What a value may be.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Range {
    /// x, y and z; those that a kind doesn't have are 0. A turn has none.
    pub parts: [Interval; 3],
    /// Magnitude: of a turn, its angle in radians.
    pub length: Interval,
}

impl Range {
    /// Only 0.
    pub const ZERO: Self = Self { parts: [Interval::ZERO; 3], length: Interval::ZERO };

    /// An axis.
    pub fn axis(x: Interval) -> Self {
        Self { parts: [x, Interval::ZERO, Interval::ZERO], length: x.abs() }
    }

    /// Components, with the lengths that they allow.
    pub fn of(parts: [Interval; 3]) -> Self {
        let squares = |end: fn(Interval) -> f64| {
            let sum: f64 = parts.iter().map(|part| end(part.abs()).powi(2)).sum();
            sum.sqrt()
        };
        let length = Interval::new(squares(|i| i.least), squares(|i| i.most));
        Self { parts, length }
    }

    /// The same with a length that is known better.
    #[must_use]
    pub fn no_longer_than(self, most: f64) -> Self {
        if let Some(exact) = self.exact().filter(|_| self.length.most > most) {
            return Self::point(exact.map(|part| part / self.length.most * most));
        }
        // Where the length is cut, each component shrinks with it.
        let share = if self.length.most > most { most / self.length.most } else { 1.0 };
        let cut = Interval::new(share, 1.0);
        let parts = self.parts.map(|part| part.times(cut).within(-most, most));
        let length = Interval::new(self.length.least.min(most), self.length.most.min(most));
        Self { parts, length }
    }

    /// The one value that it is, if it is only one.
    pub fn exact(self) -> Option<[f64; 3]> {
        let only = self.parts.iter().all(|part| part.least == part.most);
        only.then(|| self.parts.map(|part| part.most))
    }

    /// Only one value.
    pub fn point(parts: [f64; 3]) -> Self {
        Self::of(parts.map(Interval::only))
    }

    /// All turns.
    pub fn turns() -> Self {
        let length = Interval::new(0.0, std::f64::consts::PI);
        Self { parts: [Interval::ZERO; 3], length }
    }

    /// What either may be.
    #[must_use]
    pub fn or(self, other: Self) -> Self {
        let parts = std::array::from_fn(|i| self.parts[i].or(other.parts[i]));
        Self { parts, length: self.length.or(other.length) }
    }

    /// Sums of one and the other.
    #[must_use]
    pub fn plus(self, other: Self) -> Self {
        let sum = Self::of(std::array::from_fn(|i| self.parts[i].plus(other.parts[i])));
        sum.no_longer_than(self.length.most + other.length.most)
    }

    /// Magnitudes mapped by a function of them that may fall too, given by what it makes of an
    /// interval; direction kept, or turned where that is negative.
    #[must_use]
    pub fn resized(self, kind: Kind, by: impl Fn(Interval) -> Interval) -> Self {
        let new = by(self.length);
        let most = new.abs().most;
        if kind.components() == 1 {
            // A number is its own length: each sign by itself.
            let x = self.parts[0];
            let positive = (x.most > 0.0).then(|| by(Interval::new(x.least.max(0.0), x.most)));
            let negative =
                (x.least < 0.0).then(|| by(Interval::new((-x.most).max(0.0), -x.least)).negated());
            let none = x.holds(0.0).then_some(Interval::ZERO);
            let all = [positive, negative, none].into_iter().flatten().reduce(Interval::or);
            return Self::axis(all.unwrap_or(Interval::ZERO));
        }
        if let Some(exact) = self.exact().filter(|_| new.least == new.most) {
            let m = self.length.most;
            return if m == 0.0 {
                self
            } else {
                Self::point(exact.map(|part| part / m * new.most))
            };
        }
        let keeps_sign = new.least >= 0.0;
        let parts = self.parts.map(|part| {
            if part == Interval::ZERO {
                return Interval::ZERO;
            }
            let least = if keeps_sign && part.least >= 0.0 { 0.0 } else { -most };
            let top = if keeps_sign && part.most <= 0.0 { 0.0 } else { most };
            Interval::new(least, top)
        });
        let mut length = new.abs();
        if self.length.least == 0.0 {
            length.least = 0.0;
        }
        Self { parts, length }
    }

    /// Whether a value of magnitude at least `level` may come.
    pub fn reaches(self, level: f64) -> bool {
        self.length.most >= level - 1e-9
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn intervals_hold_what_their_operations_give() {
        let (a, b) = (Interval::new(-2.0, 3.0), Interval::new(-1.0, 0.5));
        assert_eq!(a.times(b), Interval::new(-3.0, 2.0));
        assert_eq!(a.abs(), Interval::new(0.0, 3.0));
        assert_eq!(Interval::new(-4.0, -1.0).abs(), Interval::new(1.0, 4.0));
        assert_eq!(Interval::ALL.times(Interval::ZERO), Interval::ZERO);
        let square = Range::of([Interval::new(-1.0, 1.0), Interval::new(0.5, 1.0), Interval::ZERO]);
        assert_eq!(square.length, Interval::new(0.5, 2.0_f64.sqrt()));
        assert_eq!(square.no_longer_than(1.0).length.most, 1.0);
        let dead = |i: Interval| i.map(|m| (m - 0.2).max(0.0));
        let axis = Range::axis(Interval::new(-1.0, 0.5)).resized(Kind::Axis, dead);
        assert!(
            (axis.parts[0].least + 0.8).abs() < 1e-12 && (axis.parts[0].most - 0.3).abs() < 1e-12
        );
    }
}
