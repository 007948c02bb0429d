//! Controls as they are written, the number of their device with them.

use super::MOST_DEVICES;
use std::borrow::Cow;

/// A control's name taken apart: `pad#2.south` is the control `south` of the second `pad`.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct ControlName<'a> {
    whole: &'a str,
    /// The class of devices.
    pub class: &'a str,
    /// What is written behind `#`.
    pub number: Option<&'a str>,
    /// What is written behind the dot; none for a device alone.
    pub rest: Option<&'a str>,
}

/// A number that no device of a class has: they go from 1 to [`MOST_DEVICES`].
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct NoDevice;

impl<'a> ControlName<'a> {
    /// Takes a name apart. Behind the dot, `#` is a character like others: `char.#`.
    pub fn new(name: &'a str) -> Self {
        let (device, rest) = match name.split_once('.') {
            Some((device, rest)) => (device, Some(rest)),
            None => (name, None),
        };
        match device.split_once('#') {
            Some((class, number)) => Self { whole: name, class, number: Some(number), rest },
            None => Self { whole: name, class: device, number: None, rest },
        }
    }

    /// The device, from 0; none for any of its class.
    ///
    /// # Errors
    /// When the number is none from 1 to [`MOST_DEVICES`].
    pub fn device(&self) -> Result<Option<u8>, NoDevice> {
        let Some(number) = self.number else { return Ok(None) };
        match number.parse::<usize>() {
            Ok(number @ 1..=MOST_DEVICES) => Ok(Some(number as u8 - 1)),
            _ => Err(NoDevice),
        }
    }

    /// The name without the number.
    pub fn plain(&self) -> Cow<'a, str> {
        match (self.number, self.rest) {
            (None, _) => Cow::Borrowed(self.whole),
            (Some(_), None) => Cow::Borrowed(self.class),
            (Some(_), Some(rest)) => Cow::Owned([self.class, ".", rest].concat()),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_come_apart_at_the_first_dot_and_the_sign_before_it() {
        for (name, class, rest, device) in [
            ("pad.south", "pad", Some("south"), Ok(None)),
            ("pad#1.south", "pad", Some("south"), Ok(Some(0))),
            ("pad#8.left-stick.x", "pad", Some("left-stick.x"), Ok(Some(7))),
            ("pad#9.south", "pad", Some("south"), Err(NoDevice)),
            ("pad#0.south", "pad", Some("south"), Err(NoDevice)),
            ("pad#.south", "pad", Some("south"), Err(NoDevice)),
            ("pad#-1.south", "pad", Some("south"), Err(NoDevice)),
            ("pad#2", "pad", None, Ok(Some(1))),
            ("char.#", "char", Some("#"), Ok(None)),
            ("", "", None, Ok(None)),
        ] {
            let parts = ControlName::new(name);
            assert_eq!((parts.class, parts.rest, parts.device()), (class, rest, device), "{name}");
            let plain = [class, rest.unwrap_or_default()].join(".");
            assert_eq!(parts.plain(), plain.trim_end_matches('.'), "{name}");
        }
    }
}
