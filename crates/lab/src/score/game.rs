//! Instructions to the game: its maps, its pause, the scheme it narrows to.

use super::instruction::Act;
use super::read::{Line, Reader};
use harmonym_lang::report::{FaultKind, did_you_mean, nearest};
use harmonym_runtime::base::{MapKind, SchemeId};

impl Reader<'_> {
    /// `open MAP` and `close MAP`.
    pub fn map_change(&mut self, line: &mut Line<'_>, open: bool) -> Option<Act> {
        let here = line.here();
        let map = self.map(line)?;
        if self.plan.maps()[map].kind == MapKind::Always {
            let message = format!("`{}` is always open", self.plan.names().maps[map]);
            self.diagnostics.fault(FaultKind::WrongKind, here, message, "take the line out");
            return None;
        }
        self.for_seat(line)?;
        Some(Act::Map(map, open))
    }

    /// `scheme NAME` and `scheme all`.
    pub fn narrowing(&mut self, line: &mut Line<'_>) -> Option<Act> {
        match line.take("all") {
            true => Some(Act::Narrow(None)),
            false => self.scheme(line).map(|scheme| Act::Narrow(Some(scheme))),
        }
    }

    /// A scheme's name.
    pub fn scheme(&mut self, line: &mut Line<'_>) -> Option<SchemeId> {
        let here = line.here();
        let name = line.next().map_or("", |word| word.text);
        let names = &self.plan.names().schemes;
        let found = names.entries().find(|(_, known)| *known == name).map(|(id, _)| id);
        if found.is_none() {
            let help = did_you_mean(nearest(name, names.iter().map(String::as_str)), || {
                "name a scheme of the profile".to_owned()
            });
            self.diagnostics.fault(
                FaultKind::UnknownName,
                here,
                format!("there is no scheme `{name}`"),
                help,
            );
        }
        found
    }

    /// `for seat K`, if it is there.
    pub fn for_seat(&mut self, line: &mut Line<'_>) -> Option<()> {
        if !line.take("for") {
            return Some(());
        }
        self.seat(line)
    }

    /// `seat K`.
    pub fn seat(&mut self, line: &mut Line<'_>) -> Option<()> {
        let here = line.here();
        let seat = line.take("seat").then(|| line.next().map_or("", |word| word.text));
        if seat != Some("1") {
            let message = "there is one seat";
            self.diagnostics.fault(
                FaultKind::OutOfRange,
                here,
                message,
                "write `seat 1`, or take it out",
            );
            return None;
        }
        Some(())
    }
}
