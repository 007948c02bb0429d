//! Decimal numbers as people write them, and as we write them back.

use std::fmt::{self, Write as _};

/// A decimal number kept exactly: `digits · 10^exponent`.
///
/// Times are read through this, so that `0.1s` is 100,000,000 ns and not the nearest double.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Decimal {
    negative: bool,
    digits: u128,
    exponent: i32,
}

/// More significant digits than this change nothing that we compute.
const MOST_DIGITS: u32 = 30;

impl Decimal {
    /// Reads `-12.5`, `.5`, `3e-4`: an optional minus, digits with at most one point, an optional
    /// exponent. `None` for anything else.
    pub fn parse(text: &str) -> Option<Self> {
        let (negative, rest) = match text.strip_prefix('-') {
            Some(rest) => (true, rest),
            None => (false, text),
        };
        let (mantissa, exponent) = match rest.find(['e', 'E']) {
            Some(at) => (&rest[..at], rest[at + 1..].parse::<i32>().ok()?.clamp(-9999, 9999)),
            None => (rest, 0),
        };
        let mut number = Self { negative, digits: 0, exponent };
        let mut significant = 0;
        let mut any = false;
        let mut after_point = false;
        for byte in mantissa.bytes() {
            match byte {
                b'0'..=b'9' => {
                    any = true;
                    if significant < MOST_DIGITS {
                        number.digits = number.digits * 10 + u128::from(byte - b'0');
                        significant += u32::from(number.digits > 0);
                        number.exponent -= i32::from(after_point);
                    } else {
                        number.exponent += i32::from(!after_point);
                    }
                }
                b'.' if !after_point => after_point = true,
                _ => return None,
            }
        }
        any.then_some(number)
    }

    /// Whether it is below 0.
    pub fn is_negative(self) -> bool {
        self.negative && self.digits > 0
    }

    /// The number times `10^power`, rounded to the nearest whole (half up), its sign left out.
    /// `None` when that is `2^64` or more.
    pub fn scaled(self, power: i32) -> Option<u64> {
        let shift = self.exponent + power;
        if self.digits == 0 {
            return Some(0);
        }
        if shift >= 0 {
            let factor = 10u128.checked_pow(shift.unsigned_abs())?;
            return u64::try_from(self.digits.checked_mul(factor)?).ok();
        }
        let Some(divisor) = 10u128.checked_pow(shift.unsigned_abs()) else {
            return Some(0);
        };
        u64::try_from(self.digits / divisor + u128::from(self.digits % divisor >= divisor / 2)).ok()
    }
}

/// A double in the shortest form that reads back the same: `2`, `0.6`, `1e-7`. −0 is `0`.
pub fn shortest(value: f64) -> impl fmt::Display {
    Shortest(value)
}

struct Shortest(f64);

impl fmt::Display for Shortest {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let value = self.0 + 0.0;
        let size = value.abs();
        if size == 0.0 || (1e-3..1e6).contains(&size) {
            return write!(f, "{value}");
        }
        let mut plain = String::new();
        let mut exponent = String::new();
        write!(plain, "{value}")?;
        write!(exponent, "{value:e}")?;
        f.write_str(if exponent.len() < plain.len() { &exponent } else { &plain })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn decimals_scale_exactly_and_round_to_the_nearest() {
        for (text, power, whole) in [
            ("0.1", 9, Some(100_000_000)),
            ("2.0520000004", 9, Some(2_052_000_000)),
            ("2.0520000005", 9, Some(2_052_000_001)),
            (".5", 0, Some(1)),
            ("1e-3", 9, Some(1_000_000)),
            ("123456789.123456789", 9, Some(123_456_789_123_456_789)),
            ("0.0000000000000000000000000000000000001", 9, Some(0)),
            ("1e400", 9, None),
            ("99999999999999999999999999999999999999999999", 0, None),
            ("0e999", 9, Some(0)),
        ] {
            let number = Decimal::parse(text).expect(text);
            assert_eq!(number.scaled(power), whole, "{text}");
        }
    }

    #[test]
    fn what_is_no_decimal_is_refused() {
        for text in ["", "-", ".", "1.2.3", "1e", "0x10", "NaN", "inf", "1_000", "--1"] {
            assert_eq!(Decimal::parse(text), None, "{text}");
        }
    }

    #[test]
    fn doubles_print_in_their_shortest_form_that_reads_back() {
        for (value, text) in [
            (0.0, "0"),
            (-0.0, "0"),
            (2.0, "2"),
            (-0.6, "-0.6"),
            (0.1 + 0.2, "0.30000000000000004"),
            (1e-7, "1e-7"),
            (1e21, "1e21"),
            (1_234_567.0, "1234567"),
        ] {
            assert_eq!(shortest(value).to_string(), text);
            assert_eq!(text.parse::<f64>().unwrap(), value);
        }
    }
}
