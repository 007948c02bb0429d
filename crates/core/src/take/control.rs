//! Controls as takes name them.

use crate::base::{ControlId, Id};
use crate::controls::{Catalogue, ControlKind, Reads};
use crate::report::nearest_in_class;
use std::collections::HashMap;

/// Every control that devices report, by name.
pub(super) struct Controls {
    by_name: HashMap<&'static str, (ControlId, ControlKind)>,
}

impl Controls {
    pub fn new() -> Self {
        let reported = Catalogue::get().reported().iter().enumerate();
        let by_name =
            reported.map(|(i, r)| (r.name.as_str(), (ControlId::new(i), r.kind))).collect();
        Self { by_name }
    }

    /// The control called `name`, with or without the number 1 of its device.
    ///
    /// # Errors
    /// A message and a help.
    pub fn find(&self, name: &str) -> Result<(ControlId, ControlKind), (String, String)> {
        match self.by_name.get(name) {
            Some(found) => Ok(*found),
            None => self.find_numbered(name),
        }
    }

    fn find_numbered(&self, name: &str) -> Result<(ControlId, ControlKind), (String, String)> {
        let Some((device, rest)) = name.split_once('.') else {
            return Err(self.unknown(name));
        };
        let Some((class, number)) = device.split_once('#') else {
            return Err(self.unknown(name));
        };
        let plain = format!("{class}.{rest}");
        let found = self.by_name.get(plain.as_str());
        match (found, number.parse::<u32>()) {
            (Some(found), Ok(1)) => Ok(*found),
            (Some(_), Ok(2..)) => Err((
                format!("a second device of a class (`{device}`) is not yet supported"),
                format!("write `{plain}` for the first one"),
            )),
            (Some(_), _) => Err((
                format!("`{device}` does not number a device"),
                format!("write `{plain}`; devices are numbered from 1"),
            )),
            (None, _) => Err(self.unknown(&plain)),
        }
    }

    fn unknown(&self, name: &str) -> (String, String) {
        let Some(entry) = Catalogue::get().find(name) else {
            let near = nearest_in_class(name, self.by_name.keys().copied());
            let help = match near {
                Some(near) => format!("did you mean `{near}`?"),
                None => "`harmonym controls` lists them all".to_owned(),
            };
            return (format!("there is no control `{name}`"), help);
        };
        let whole = |id: ControlId| Catalogue::get().reported()[id.index()].name.as_str();
        match entry.reads {
            None => (format!("`{name}` is not yet supported"), "take the line out".to_owned()),
            Some(Reads::Component(id, _) | Reads::Half(id, _, _)) => (
                format!("no device reports `{name}` by itself"),
                format!("write the whole stick: `{}` with `[x, y]`", whole(id)),
            ),
            Some(Reads::Either(id, _) | Reads::Four([id, ..]) | Reads::Whole(id)) => (
                format!("no device reports `{name}` by itself"),
                format!("write what it reports, such as `{}`", whole(id)),
            ),
        }
    }
}
