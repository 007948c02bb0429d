//! Instructions to the game: its maps, its pause, the scheme it narrows to.

use super::read::{Line, Reader};
use crate::take::What;
use harmonym_lang::report::{FaultKind, did_you_mean};
use harmonym_runtime::base::{MapKind, SchemeId, Seat};

impl Reader<'_> {
    /// `open MAP` and `close MAP`.
    pub fn map_change(&mut self, line: &mut Line<'_>, open: bool) -> Option<What> {
        let here = line.here();
        let map = self.map(line)?;
        if self.plan.maps()[map].kind == MapKind::Always {
            let message = format!("`{}` is always open", self.plan.names().maps[map]);
            self.diagnostics.fault(FaultKind::WrongKind, here, message, "take the line out");
            return None;
        }
        Some(What::Map(self.for_seat(line)?, map, open))
    }

    /// `scheme NAME` and `scheme all`.
    pub fn narrowing(&mut self, line: &mut Line<'_>) -> Option<What> {
        let scheme = match line.take("all") {
            true => None,
            false => Some(self.scheme(line)?),
        };
        Some(What::Narrow(self.for_seat(line)?, scheme))
    }

    /// A scheme's name.
    pub fn scheme(&mut self, line: &mut Line<'_>) -> Option<SchemeId> {
        let here = line.here();
        let name = line.next().map_or("", |word| word.text);
        let names = &self.plan.names().schemes;
        let found = names.entries().find(|(_, known)| *known == name).map(|(id, _)| id);
        if found.is_none() {
            let help = did_you_mean(
                self.diagnostics.nearest(name, names.iter().map(String::as_str)),
                || "name a scheme of the profile".to_owned(),
            );
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
    pub fn for_seat(&mut self, line: &mut Line<'_>) -> Option<Option<Seat>> {
        match line.take("for") {
            true => self.seat(line).map(Some),
            false => Some(None),
        }
    }

    /// `seat K`.
    pub fn seat(&mut self, line: &mut Line<'_>) -> Option<Seat> {
        let here = line.here();
        if !line.take("seat") {
            let help = "write `seat 1`";
            self.diagnostics.fault(FaultKind::Missing, here, "the seat is missing", help);
            return None;
        }
        self.seat_number(line)
    }

    /// The number of a seat that plays.
    pub fn seat_number(&mut self, line: &mut Line<'_>) -> Option<Seat> {
        let here = line.here();
        let word = line.next().map_or("", |word| word.text);
        let count = self.score.seats.unwrap_or(self.plan.seats());
        let seat = word.parse().ok().and_then(Seat::new).filter(|seat| seat.number() <= count);
        if seat.is_none() {
            let message = match count {
                1 => format!("there is one seat, not a seat `{word}`"),
                _ => format!("there are {count} seats, and no seat `{word}`"),
            };
            let help = "seats are numbered from 1; `seats 4` says how many play, at most 8";
            self.diagnostics.fault(FaultKind::OutOfRange, here, message, help);
        }
        seat
    }
}
