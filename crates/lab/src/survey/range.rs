//! From where to where a number goes, and the values between.

/// How many values are tried if nothing is said, and at most.
const VALUES: usize = 11;
const MOST_VALUES: usize = 1000;

/// A value that is tried.
#[derive(Clone, Debug, PartialEq)]
pub struct RangeValue {
    /// As it is written, with its unit.
    pub text: String,
    /// The number in that unit.
    pub number: f64,
    /// Whether the profile has it now.
    pub is_present: bool,
}

/// From where to where a number goes: `quay.tie-knot.fire.hold=0.4s..1.2s:9`.
#[derive(Clone, Debug, PartialEq)]
pub struct Range {
    /// The number's address in the profile.
    pub address: String,
    /// The unit of all values.
    pub unit: String,
    from: f64,
    to: f64,
    count: usize,
}

impl Range {
    /// Reads `ADDRESS=A..B`, with `:N` behind it for so many values.
    ///
    /// # Errors
    /// What is wrong with it, a clause without a full stop.
    pub fn parse(text: &str) -> Result<Self, String> {
        let fault = |what: &str| what.to_owned();
        let (address, range) = text.split_once('=').ok_or_else(|| fault("it has no `=`"))?;
        let (ends, count) = match range.rsplit_once(':') {
            Some((ends, count)) => (ends, count.trim().parse().map_err(|_| fault("how many?"))?),
            None => (range, VALUES),
        };
        let (from, to) = ends.split_once("..").ok_or_else(|| fault("it has no `..`"))?;
        let (from, unit_from) = number(from).ok_or_else(|| fault("it begins with no number"))?;
        let (to, unit) = number(to).ok_or_else(|| fault("it ends with no number"))?;
        if !unit_from.is_empty() && unit_from != unit {
            return Err(fault("its ends have two units"));
        }
        if from >= to {
            return Err(fault("its first number is not the smaller one"));
        }
        if !(2..=MOST_VALUES).contains(&count) {
            return Err(fault(&format!("2 to {MOST_VALUES} values can be tried")));
        }
        Ok(Self { address: address.trim().to_owned(), from, to, unit, count })
    }

    /// The values from one end to the other, and the present one where that lies between them.
    pub fn values(&self, present: Option<&str>) -> Vec<RangeValue> {
        let now = present.and_then(|text| {
            let (value, unit) = number(text)?;
            // In one unit, or not at all.
            (unit == self.unit).then_some(value)
        });
        let last = (self.count - 1) as f64;
        let mut all: Vec<f64> = (0..self.count)
            .map(|i| self.from + (self.to - self.from) * i as f64 / last)
            .map(|value| (value * 1e9).round() / 1e9)
            .collect();
        let is_now = |value: f64| now.is_some_and(|now| (now - value).abs() < 1e-9);
        if let Some(now) = now.filter(|now| *now > self.from && *now < self.to)
            && !all.iter().any(|value| is_now(*value))
        {
            all.push(now);
            all.sort_by(f64::total_cmp);
        }
        let value = |number: f64| RangeValue {
            text: format!("{number}{}", self.unit),
            number,
            is_present: is_now(number),
        };
        all.into_iter().map(value).collect()
    }
}

/// A number and its unit.
fn number(text: &str) -> Option<(f64, String)> {
    let text = text.trim().trim_matches('"');
    let split = text.find(|c: char| c.is_alphabetic() || "%°/".contains(c)).unwrap_or(text.len());
    let value: f64 = text[..split].trim().parse().ok()?;
    value.is_finite().then(|| (value, text[split..].trim().to_owned()))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn texts(range: &str, present: Option<&str>) -> Vec<(String, bool)> {
        let range = Range::parse(range).unwrap();
        let all = range.values(present).into_iter();
        all.map(|value| (value.text, value.is_present)).collect()
    }

    #[test]
    fn values_go_from_end_to_end_with_the_present_one_among_them() {
        let plain = |all: &[&str]| -> Vec<(String, bool)> {
            all.iter()
                .map(|text| (text.trim_start_matches('*').to_owned(), text.starts_with('*')))
                .collect()
        };
        for (range, present, wanted) in [
            ("a.b=0..1:3", None, &["0", "0.5", "1"][..]),
            ("a.b=0.4s..0.8s:3", Some("0.6s"), &["0.4s", "*0.6s", "0.8s"]),
            ("a.b=0.4s..0.8s:2", Some("\"0.5s\""), &["0.4s", "*0.5s", "0.8s"]),
            // Not in between, or in another unit: left out.
            ("a.b=1..2:2", Some("3"), &["1", "2"]),
            ("a.b=1s..2s:2", Some("1500ms"), &["1s", "2s"]),
            ("a.b=-1..1:3", Some("0"), &["-1", "*0", "1"]),
            ("a.b=0%..10%:2", Some("10%"), &["0%", "*10%"]),
            ("a.b=0.1..0.3:3", None, &["0.1", "0.2", "0.3"]),
        ] {
            assert_eq!(texts(range, present), plain(wanted), "{range}");
        }
        assert_eq!(texts("a.b=0..10", None).len(), VALUES);
    }

    #[test]
    fn the_unit_may_be_said_once() {
        assert_eq!(texts("a.b=0.4..0.8s:2", None)[0].0, "0.4s");
        assert!(Range::parse("a.b=0.4s..0.8ms:2").is_err());
    }
}
