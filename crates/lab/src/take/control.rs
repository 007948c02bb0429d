//! Controls as takes name them.

use harmonym_lang::profile::controls::unknown_control;
use harmonym_lang::report::Comparing;
use harmonym_runtime::base::{Contact, ControlId, ControlKind, ControlName, Id, MOST_DEVICES};
use harmonym_runtime::controls::{Catalogue, Reads};
use rustc_hash::FxHashMap;

/// Every control that devices report, by name.
pub(super) struct Controls<'p> {
    catalogue: &'p Catalogue,
    by_name: FxHashMap<&'p str, (ControlId, ControlKind)>,
}

/// A control of a device, and its kind; or a message and a help.
type Found = Result<(Contact, ControlKind), (String, String)>;

impl<'p> Controls<'p> {
    pub fn new(catalogue: &'p Catalogue) -> Self {
        let reported = catalogue.reported().iter().enumerate().filter(|(_, r)| r.notch.is_none());
        let by_name = reported.map(|(i, r)| (&*r.name, (ControlId::new(i), r.kind))).collect();
        Self { catalogue, by_name }
    }

    /// The control called `name`, with or without the number of its device.
    ///
    /// # Errors
    /// A message and a help.
    pub fn find(&self, name: &str) -> Found {
        match self.by_name.get(name) {
            Some((control, kind)) => Ok((Contact::first(*control), *kind)),
            None => self.find_numbered(name),
        }
    }

    fn find_numbered(&self, name: &str) -> Found {
        let parts = ControlName::new(name);
        let plain = parts.plain();
        match (self.by_name.get(&*plain), parts.device()) {
            (Some((control, kind)), Ok(device)) => {
                Ok((Contact { control: *control, device: device.unwrap_or(0) }, *kind))
            }
            (Some(_), Err(_)) => Err((
                format!("`{}` does not number a device", name.split('.').next().unwrap_or(name)),
                format!("devices are numbered from 1 to {MOST_DEVICES}"),
            )),
            (None, _) => Err(self.unknown(&plain)),
        }
    }

    fn unknown(&self, name: &str) -> (String, String) {
        let Some(entry) = self.catalogue.find(name) else {
            if name.starts_with("char.") {
                let help = "write the key's place, such as `key.KeyZ`; a score knows `char.`";
                return (format!("no device reports `{name}` by itself"), help.to_owned());
            }
            let help = unknown_control(name, self.catalogue, &Comparing::default());
            return (format!("there is no control `{name}`"), help);
        };
        let reported = |id: ControlId| &self.catalogue.reported()[id.index()];
        let none = format!("no device reports `{name}` by itself");
        match entry.reads {
            Reads::Component(id, _) | Reads::Half(id, _, _) => {
                let key = if reported(id).kind == ControlKind::Relative { "by" } else { "value" };
                let whole = &reported(id).name;
                (none, format!("write the whole control: `{whole}` with `\"{key}\":[x, y]`"))
            }
            Reads::Whole(id) if reported(id).notch.is_some() => {
                (none, "write the wheel: `\"control\":\"mouse.wheel\",\"by\":[0,1]`".to_owned())
            }
            Reads::Either(id, _) | Reads::Four([id, ..]) | Reads::Whole(id) => {
                (none, format!("write what it reports, such as `{}`", reported(id).name))
            }
            Reads::Char(_) | Reads::Nothing => (none, "write the key's place".to_owned()),
        }
    }
}
