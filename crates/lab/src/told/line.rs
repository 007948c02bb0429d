//! JSON Lines: the one way in which all of them are written. Numbers are in the shortest form that
//! reads back the same (`2`, `0.6`), −0 is `0`; times are in seconds, exact to the nanosecond.

use super::letters::shown_json;
use harmonym_runtime::base::{Kind, Time, Vector, shortest};
use serde::ser::{Serialize, SerializeSeq, Serializer};
use serde_json::ser::Formatter;
use std::io;
use std::time::Duration;

/// Room for nearly every line.
const USUAL: usize = 320;

/// Writes one thing as a line.
pub fn line(out: &mut String, thing: &impl Serialize) {
    let mut own = Vec::with_capacity(USUAL);
    // Writing to memory does not fail, and what is written is text.
    let _ = thing.serialize(&mut serde_json::Serializer::with_formatter(&mut own, Exact));
    out.push_str(&shown_json(std::str::from_utf8(&own).unwrap_or_default()));
    out.push('\n');
}

/// The first line of each output.
#[derive(serde::Serialize)]
pub struct Start<'a> {
    kind: &'static str,
    format: u32,
    #[serde(skip_serializing_if = "Option::is_none")]
    title: Option<&'a str>,
}

impl<'a> Start<'a> {
    /// That of an output of a kind; its title is what it is about.
    pub fn new(kind: &'static str, title: Option<&'a str>) -> Self {
        Self { kind, format: 1, title }
    }
}

/// A moment or a length of time, in seconds.
#[derive(Clone, Copy, Debug)]
pub struct Seconds(pub Time);

impl From<Duration> for Seconds {
    fn from(length: Duration) -> Self {
        Self(length.into())
    }
}

impl Serialize for Seconds {
    /// As nanoseconds in 128 bits, which nothing else is: `Exact` knows them by that.
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_u128(self.0.nanos().into())
    }
}

/// An action's value: true or false, a number, or a list of numbers.
#[derive(Clone, Copy, Debug)]
pub struct Value(pub Vector, pub Kind);

impl Serialize for Value {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        let Self(value, kind) = *self;
        match kind {
            Kind::Switch => serializer.serialize_bool(value.x != 0.0),
            Kind::Axis => serializer.serialize_f64(value.x),
            Kind::Plane | Kind::Space | Kind::Turn => {
                let count = kind.components();
                let mut list = serializer.serialize_seq(Some(count))?;
                let shown = value.shown(kind);
                shown.iter().take(count).try_for_each(|part| list.serialize_element(part))?;
                list.end()
            }
        }
    }
}

/// How numbers and times are written.
#[derive(Clone, Copy, Debug)]
struct Exact;

impl Formatter for Exact {
    fn write_f64<W: ?Sized + io::Write>(&mut self, writer: &mut W, value: f64) -> io::Result<()> {
        write!(writer, "{}", shortest(value))
    }

    fn write_u128<W: ?Sized + io::Write>(&mut self, writer: &mut W, nanos: u128) -> io::Result<()> {
        write!(writer, "{}", Time::from_nanos(u64::try_from(nanos).unwrap_or(u64::MAX)))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn written(thing: &impl Serialize) -> String {
        let mut out = "before\n".to_owned();
        line(&mut out, thing);
        out.strip_prefix("before\n").unwrap().trim_end().to_owned()
    }

    #[test]
    fn numbers_and_times_are_short_and_exact() {
        for (value, wanted) in [
            (2.0, "2"),
            (-0.0, "0"),
            (0.1 + 0.2, "0.30000000000000004"),
            (1e-7, "1e-7"),
            (-0.5, "-0.5"),
        ] {
            assert_eq!(written(&value), wanted);
        }
        for (nanos, wanted) in [
            (0, "0"),
            (1, "0.000000001"),
            (2_000_000_000, "2"),
            (u64::MAX, "18446744073.709551615"),
        ] {
            assert_eq!(written(&Seconds(Time::from_nanos(nanos))), wanted);
        }
        let value = Vector { x: 1.0, y: -0.0, z: 0.25, w: 0.0 };
        for (kind, wanted) in [
            (Kind::Switch, "true"),
            (Kind::Axis, "1"),
            (Kind::Plane, "[1,0]"),
            (Kind::Space, "[1,0,0.25]"),
        ] {
            assert_eq!(written(&Value(value, kind)), wanted);
        }
        assert_eq!(written(&Value(Vector::ZERO, Kind::Turn)), "[0,0,0,1]");
        assert_eq!(
            written(&Start::new("show", Some("a \"b\""))),
            r#"{"kind":"show","format":1,"title":"a \"b\""}"#
        );
    }
}
