//! The form that nearly every line of a take has, read without a JSON parser.

use super::line::Components;
use harmonym_runtime::base::Time;

/// A line as it is written: its time, its control and its value.
pub(super) struct Plain<'a> {
    pub t: Number<'a>,
    pub control: &'a str,
    pub value: Components,
    /// Whether that is what it moved by.
    pub is_by: bool,
}

/// Reads `{"t":NUMBER,"control":"NAME","value":NUMBER or [NUMBER,…]}`, or `"by"` in place of
/// `"value"`, without spaces or escapes.
/// `None` for every other line: it may be sound all the same, or have a fault.
pub(super) fn plain_report(line: &str) -> Option<Plain<'_>> {
    let (t, rest) = number(line.strip_prefix("{\"t\":")?)?;
    let rest = rest.strip_prefix(",\"control\":\"")?;
    let end = rest.bytes().position(|b| b == b'"' || b == b'\\' || b < b' ')?;
    let (control, rest) = rest.split_at(end);
    let (is_by, mut rest) = match rest.strip_prefix("\",\"value\":") {
        Some(rest) => (false, rest),
        None => (true, rest.strip_prefix("\",\"by\":")?),
    };
    let mut value = Components { numbers: [0.0; 4], len: 0, is_list: false };
    if let Some(list) = rest.strip_prefix('[') {
        value.is_list = true;
        rest = list;
    }
    loop {
        let (one, after) = number(rest)?;
        *value.numbers.get_mut(value.len)? = one.value().filter(|n| n.is_finite())?;
        value.len += 1;
        rest = after;
        match value.is_list.then(|| rest.strip_prefix(',')).flatten() {
            Some(more) => rest = more,
            None => break,
        }
    }
    let close = if value.is_list { "]}" } else { "}" };
    (rest == close).then_some(Plain { t, control, value, is_by })
}

/// A number as it is written, and what its digits are worth: `digits / 10^fraction`.
#[derive(Clone, Copy, Debug)]
pub(super) struct Number<'a> {
    pub text: &'a str,
    is_negative: bool,
    digits: u64,
    fraction: usize,
    /// Whether the digits are few enough that a double holds them exactly.
    is_short: bool,
}

/// So many digits are under 2^53.
const SHORT: usize = 15;

/// Powers of ten that doubles hold exactly, as many as a short number may have behind its point.
const POWERS: [u64; SHORT + 1] = {
    let mut powers = [1; SHORT + 1];
    let mut n = 1;
    while n < powers.len() {
        powers[n] = powers[n - 1] * 10;
        n += 1;
    }
    powers
};

impl Number<'_> {
    /// The nearest double. A quotient of two exact doubles is rounded once, so it is that.
    fn value(&self) -> Option<f64> {
        if !self.is_short {
            return self.text.parse().ok();
        }
        let size = self.digits as f64 / *POWERS.get(self.fraction)? as f64;
        Some(if self.is_negative { -size } else { size })
    }

    /// As a time in seconds, if it is one that needs no rounding.
    pub fn seconds(&self) -> Option<Time> {
        let nanos = POWERS.get(9_usize.checked_sub(self.fraction)?)?;
        let nanos = self.digits.checked_mul(*nanos).filter(|_| self.is_short && !self.is_negative);
        nanos.map(Time::from_nanos).filter(|&t| t <= Time::MAX)
    }
}

/// Splits off a number as JSON writes it (RFC 8259, section 6), without an exponent.
fn number(text: &str) -> Option<(Number<'_>, &str)> {
    let bytes = text.as_bytes();
    let is_negative = bytes.first() == Some(&b'-');
    let mut digits = 0_u64;
    let mut read = |from: usize| {
        let mut end = from;
        while let Some(digit) = bytes.get(end).map(|b| b.wrapping_sub(b'0')).filter(|d| *d < 10) {
            digits = digits.wrapping_mul(10).wrapping_add(digit.into());
            end += 1;
        }
        end
    };
    let start = usize::from(is_negative);
    let mut end = read(start);
    let whole = end - start;
    if whole == 0 || (whole > 1 && bytes.get(start) == Some(&b'0')) {
        return None;
    }
    let mut fraction = 0;
    if bytes.get(end) == Some(&b'.') {
        let point = end + 1;
        end = read(point);
        fraction = end - point;
        if fraction == 0 {
            return None;
        }
    }
    if matches!(bytes.get(end), Some(b'e' | b'E')) {
        return None;
    }
    let is_short = whole + fraction <= SHORT;
    let (text, rest) = text.split_at(end);
    Some((Number { text, is_negative, digits, fraction, is_short }, rest))
}

#[cfg(test)]
mod tests {
    use super::super::line::Line;
    use super::*;
    use serde_json::value::RawValue;

    /// Whatever the quick way reads, the JSON parser reads too, and as the same.
    #[test]
    fn it_reads_nothing_that_the_parser_would_not() {
        let mut quick = 0;
        for line in [
            r#"{"t":0.25,"control":"key.KeyA","value":1}"#,
            r#"{"t":12,"control":"pad.left-stick","value":[-0.5,0.75]}"#,
            r#"{"t":1e3,"control":"key.KeyA","value":1}"#,
            r#"{"t":01,"control":"key.KeyA","value":1}"#,
            r#"{"t":1.,"control":"key.KeyA","value":1}"#,
            r#"{"t":-,"control":"key.KeyA","value":1}"#,
            r#"{"t":1,"control":"key.\u004beyA","value":1}"#,
            r#"{"t":1,"control":"key.KeyA","value":[1,2,3,4,5]}"#,
            r#"{"t":1,"control":"key.KeyA","value":[]}"#,
            r#"{"t":1,"control":"key.KeyA","value":[1,]}"#,
            r#"{"t":1,"control":"key.KeyA","value":1}}"#,
            r#"{"t":1,"control":"key.KeyA","value":1"#,
            r#"{"t":1,"value":1,"control":"key.KeyA"}"#,
            r#"{"t":1,"control":"mouse.move","by":[3,-1]}"#,
        ] {
            let Some(plain) = plain_report(line) else { continue };
            quick += 1;
            let slow: Line<'_> = serde_json::from_str(line).expect(line);
            assert_eq!(slow.t.map(RawValue::get), Some(plain.t.text));
            assert_eq!(slow.control.as_deref(), Some(plain.control));
            assert_eq!(if plain.is_by { slow.by } else { slow.value }, Some(plain.value));
        }
        assert_eq!(quick, 3);
    }

    /// The quick way gives the double and the time that the slow ways give, to the bit.
    #[test]
    fn numbers_are_read_as_exactly_as_by_the_parsers() {
        let mut seed = 11_u64;
        let mut next = |under: u64| {
            seed = seed.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1);
            (seed >> 33) % under
        };
        let mut short = 0;
        for _ in 0..20_000 {
            let mut text = if next(4) == 0 { "-".to_owned() } else { String::new() };
            let whole = next(12) as usize;
            text.push_str(match next(3) {
                0 => "0",
                _ => "123456789012"[..=whole.min(11)].as_ref(),
            });
            let fraction = next(14);
            if fraction > 0 {
                text.push('.');
                (0..fraction).for_each(|_| text.push(char::from(b'0' + next(10) as u8)));
            }
            let (read, rest) = number(&text).expect(&text);
            assert_eq!(rest, "");
            let slow: f64 = text.parse().unwrap();
            assert_eq!(read.value().map(f64::to_bits), Some(slow.to_bits()), "{text}");
            if let Some(t) = read.seconds() {
                short += 1;
                assert_eq!(Some(t), Time::from_seconds(&text), "{text}");
            }
        }
        assert!(short > 5000, "{short}");
    }

    #[test]
    fn a_number_of_fifteen_digits_is_short_and_one_of_sixteen_is_not() {
        let read = |text| number(text).unwrap().0;
        assert!(read("123456.789012345").is_short && !read("1234567.789012345").is_short);
        assert_eq!(read("0.000000001").seconds(), Some(Time::from_nanos(1)));
        assert_eq!(read("0.0000000010").seconds(), None);
        assert_eq!(read("1000000000").seconds(), Some(Time::MAX));
        assert_eq!(read("1000000000.000001").seconds(), None);
        assert_eq!(read("1000000001").seconds(), None);
        assert_eq!(read("-1").seconds(), None);
    }
}
