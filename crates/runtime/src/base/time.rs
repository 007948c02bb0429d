//! Time in whole nanoseconds, and the ticks of a frame rate.

use super::number::Decimal;
use std::fmt;
use std::ops::{Add, Sub};
use std::time::Duration;

/// A moment since the start, or a length of time, in whole nanoseconds.
///
/// ```
/// use harmonym_runtime::base::Time;
/// assert_eq!(Time::from_seconds("0.8").unwrap().nanos(), 800_000_000);
/// assert_eq!(Time::from_nanos(2_650_000_000).to_string(), "2.65");
/// ```
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Time(u64);

impl Time {
    /// The start.
    pub const ZERO: Self = Self(0);
    /// The latest moment that a text may name: 10⁹ seconds, over 31 years.
    pub const MAX: Self = Self(1_000_000_000_000_000_000);

    /// `nanos` nanoseconds.
    pub const fn from_nanos(nanos: u64) -> Self {
        Self(nanos)
    }

    /// `millis` milliseconds.
    pub const fn from_millis(millis: u64) -> Self {
        Self(millis * 1_000_000)
    }

    /// The nanoseconds.
    pub const fn nanos(self) -> u64 {
        self.0
    }

    /// In seconds, as near as a number of 64 bits has it.
    pub fn as_secs_f64(self) -> f64 {
        Duration::from(self).as_secs_f64()
    }

    /// Reads decimal seconds, rounded to the nearest nanosecond. `None` for what is no number, is
    /// negative or lies after [`Time::MAX`].
    pub fn from_seconds(text: &str) -> Option<Self> {
        Self::from_decimal(Decimal::parse(text)?, 9)
    }

    /// What [`from_decimal`](Self::from_decimal) takes for a unit of time: `s`, `ms` or `us`.
    pub fn power_of_unit(unit: &str) -> Option<i32> {
        match unit {
            "s" => Some(9),
            "ms" => Some(6),
            "us" | "µs" => Some(3),
            _ => None,
        }
    }

    /// A decimal number of units of `10^(power − 9)` seconds: 9 for s, 6 for ms, 3 for µs.
    /// `None` when it is negative or lies after [`Time::MAX`].
    pub fn from_decimal(number: Decimal, power: i32) -> Option<Self> {
        if number.is_negative() {
            return None;
        }
        number.scaled(power).map(Self).filter(|&t| t <= Self::MAX)
    }

    /// The nearest double in seconds, for shares and pictures, never for comparing.
    pub fn seconds(self) -> f64 {
        self.0 as f64 / 1e9
    }

    /// The time from `earlier` to this one, 0 when `earlier` is later.
    pub const fn since(self, earlier: Self) -> Self {
        Self(self.0.saturating_sub(earlier.0))
    }
}

impl Add for Time {
    type Output = Self;
    fn add(self, other: Self) -> Self {
        Self(self.0.saturating_add(other.0))
    }
}

impl Sub for Time {
    type Output = Self;
    fn sub(self, other: Self) -> Self {
        self.since(other)
    }
}

impl From<Time> for Duration {
    fn from(time: Time) -> Self {
        Self::from_nanos(time.0)
    }
}

impl From<Duration> for Time {
    /// A duration of more than 584 years counts as that long.
    fn from(duration: Duration) -> Self {
        Self(u64::try_from(duration.as_nanos()).unwrap_or(u64::MAX))
    }
}

/// Seconds, exact to the nanosecond, without trailing zeros. With a precision (`{:.4}`), rounded
/// to that many digits.
impl fmt::Display for Time {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        const SECOND: u64 = 1_000_000_000;
        if let Some(digits) = f.precision().filter(|&d| d < 9) {
            let unit = 10u64.pow(9 - digits as u32);
            let rounded = Self((self.0 + unit / 2) / unit * unit);
            let fraction = (rounded.0 % SECOND) / unit;
            return match digits {
                0 => write!(f, "{}", rounded.0 / SECOND),
                _ => write!(f, "{}.{fraction:0digits$}", rounded.0 / SECOND),
            };
        }
        let (whole, mut fraction) = (self.0 / SECOND, self.0 % SECOND);
        if fraction == 0 {
            return write!(f, "{whole}");
        }
        let mut digits = 9;
        while fraction % 10 == 0 {
            fraction /= 10;
            digits -= 1;
        }
        write!(f, "{whole}.{fraction:0digits$}")
    }
}

/// Ticks a second, kept in whole millionths of a hertz.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Rate {
    micro: u64,
}

impl Rate {
    /// 60 ticks a second.
    pub const DEFAULT: Self = Self { micro: 60_000_000 };
    /// What may be asked for, in words.
    pub const RANGE: &str = "1 to 100000 ticks a second";

    /// Reads a decimal rate; `None` outside of [`Rate::RANGE`].
    pub fn parse(text: &str) -> Option<Self> {
        let number = Decimal::parse(text).filter(|n| !n.is_negative())?;
        let micro = number.scaled(6)?;
        (1_000_000..=100_000_000_000).contains(&micro).then_some(Self { micro })
    }

    /// The moment of tick `k`: floor(k · 10⁹ / R) nanoseconds.
    pub fn tick(self, k: u64) -> Time {
        let nanos = u128::from(k) * 1_000_000_000_000_000 / u128::from(self.micro);
        Time(u64::try_from(nanos).unwrap_or(u64::MAX))
    }
}

impl fmt::Display for Rate {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        // Millionths of a hertz print like nanoseconds of a second: shift them by three digits.
        Time(self.micro * 1000).fmt(f)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn times_print_exactly_and_read_back() {
        for (nanos, text) in [
            (0, "0"),
            (2_000_000_000, "2"),
            (2_650_000_000, "2.65"),
            (1, "0.000000001"),
            (16_666_666, "0.016666666"),
            (1_000_000_000_000_000_000, "1000000000"),
        ] {
            assert_eq!(Time(nanos).to_string(), text);
            assert_eq!(Time::from_seconds(text), Some(Time(nanos)));
        }
        assert_eq!(format!("{:.3}", Time(16_666_666)), "0.017");
        assert_eq!(format!("{:.0}", Time(1_500_000_000)), "2");
        assert_eq!(Time::from_seconds("-0.5"), None);
        assert_eq!(Time::from_seconds("1000000000.000000001"), None);
    }

    #[test]
    fn ticks_are_floored_to_whole_nanoseconds() {
        assert_eq!(Rate::DEFAULT.tick(1), Time(16_666_666));
        assert_eq!(Rate::DEFAULT.tick(60), Time(1_000_000_000));
        let odd = Rate::parse("59.94").unwrap();
        assert_eq!(odd.tick(5994), Time(100_000_000_000));
        assert_eq!(odd.to_string(), "59.94");
        for bad in ["0", "-60", "0.5", "1e6", "x"] {
            assert_eq!(Rate::parse(bad), None, "{bad}");
        }
    }
}
