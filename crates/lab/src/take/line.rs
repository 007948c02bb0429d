//! The JSON of a line.

use serde::de::{self, Deserialize, Deserializer, SeqAccess, Visitor};
use serde_json::value::RawValue;
use std::borrow::Cow;
use std::fmt;

/// The first line.
#[derive(serde::Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct HeaderLine<'a> {
    pub take: u64,
    #[serde(borrow)]
    pub title: Option<Cow<'a, str>>,
    #[serde(borrow)]
    pub start: Option<Cow<'a, str>>,
    #[serde(borrow)]
    pub rate: Option<&'a RawValue>,
    #[serde(borrow)]
    pub layout: Option<Cow<'a, str>>,
    pub seats: Option<u64>,
    #[serde(borrow)]
    pub devices: Option<Vec<Cow<'a, str>>>,
}

/// Every other line. Numbers that become times stay as written until they are read exactly.
#[derive(serde::Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct Line<'a> {
    #[serde(borrow)]
    pub t: Option<&'a RawValue>,
    #[serde(borrow)]
    pub control: Option<Cow<'a, str>>,
    pub value: Option<Components>,
    pub by: Option<Components>,
    #[serde(borrow)]
    pub open: Option<Cow<'a, str>>,
    #[serde(borrow)]
    pub close: Option<Cow<'a, str>>,
    #[serde(borrow)]
    pub fact: Option<Cow<'a, str>>,
    #[serde(borrow)]
    pub setting: Option<Cow<'a, str>>,
    #[serde(borrow)]
    pub plug: Option<Cow<'a, str>>,
    #[serde(borrow)]
    pub unplug: Option<Cow<'a, str>>,
    #[serde(borrow)]
    pub give: Option<Cow<'a, str>>,
    pub seat: Option<u64>,
    pub pause: Option<bool>,
    pub tick: Option<bool>,
    /// Present also when it is null.
    #[serde(borrow, default, deserialize_with = "present")]
    pub scheme: Option<Option<Cow<'a, str>>>,
}

fn present<'de: 'a, 'a, D: Deserializer<'de>>(
    deserializer: D,
) -> Result<Option<Option<Cow<'a, str>>>, D::Error> {
    Option::<Cow<'a, str>>::deserialize(deserializer).map(Some)
}

/// A number, or a list of numbers.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Components {
    pub numbers: [f64; 4],
    pub len: usize,
    pub is_list: bool,
}

impl<'de> Deserialize<'de> for Components {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        struct Either;
        impl<'de> Visitor<'de> for Either {
            type Value = Components;

            fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
                f.write_str("a number or a list of numbers")
            }

            fn visit_f64<E: de::Error>(self, number: f64) -> Result<Components, E> {
                Ok(Components { numbers: [number, 0.0, 0.0, 0.0], len: 1, is_list: false })
            }

            fn visit_u64<E: de::Error>(self, number: u64) -> Result<Components, E> {
                self.visit_f64(number as f64)
            }

            fn visit_i64<E: de::Error>(self, number: i64) -> Result<Components, E> {
                self.visit_f64(number as f64)
            }

            fn visit_seq<A: SeqAccess<'de>>(self, mut list: A) -> Result<Components, A::Error> {
                let mut all = Components { numbers: [0.0; 4], len: 0, is_list: true };
                while let Some(number) = list.next_element()? {
                    let Some(slot) = all.numbers.get_mut(all.len) else {
                        return Err(de::Error::invalid_length(5, &"at most four numbers"));
                    };
                    *slot = number;
                    all.len += 1;
                }
                Ok(all)
            }
        }
        deserializer.deserialize_any(Either)
    }
}
