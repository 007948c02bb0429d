//! Numbers, times and controls of a score.

use super::instruction::{Part, Target};
use super::read::{Line, Reader};
use super::words::Word;
use harmonym_lang::profile::controls::unknown_control;
use harmonym_lang::report::FaultKind;
use harmonym_runtime::base::{Contact, ControlKind, ControlName, Decimal, Id, MOST_DEVICES, Time};
use harmonym_runtime::controls::{Catalogue, Reads};

impl Reader<'_> {
    /// A number, or numbers in parentheses.
    pub fn value(&mut self, line: &mut Line<'_>) -> Option<Vec<f64>> {
        if !line.take("(") {
            return self.number(line).map(|number| vec![number]);
        }
        let mut numbers = vec![self.number(line)?];
        while line.take(",") {
            numbers.push(self.number(line)?);
        }
        if !line.take(")") {
            self.diagnostics.fault(
                FaultKind::Syntax,
                line.here(),
                "the parenthesis is not closed",
                "write `)`",
            );
            return None;
        }
        Some(numbers)
    }

    pub fn number(&mut self, line: &mut Line<'_>) -> Option<f64> {
        let here = line.here();
        let word = line.next().map_or("", |word| word.text);
        let percent = word.strip_suffix('%');
        let digits = percent.unwrap_or(word);
        let scale = if percent.is_some() { "e-2" } else { "" };
        let number = Decimal::parse(digits)
            .filter(|_| !digits.contains(['e', 'E']))
            .and_then(|_| format!("{digits}{scale}").parse().ok());
        if number.is_none() {
            let message = format!("`{word}` is not a number");
            let help = match word {
                "true" | "yes" => "write `on`",
                "false" | "no" => "write `off`",
                _ => "write a plain number such as 0.6",
            };
            self.diagnostics.fault(FaultKind::Syntax, here, message, help);
        }
        number
    }

    pub fn time(&mut self, line: &mut Line<'_>, of: &str) -> Option<Time> {
        let here = line.here();
        let word = line.next().map_or("", |word| word.text);
        let split = word.find(|c: char| !c.is_ascii_digit() && c != '.').unwrap_or(word.len());
        let (digits, unit) = word.split_at(split);
        let power = Time::power_of_unit(unit);
        let Some(number) = Decimal::parse(digits) else {
            let message = format!("{of} needs a time, not `{word}`");
            self.diagnostics.fault(FaultKind::Syntax, here, message, "write a time such as 0.5s");
            return None;
        };
        let Some(power) = power else {
            let (message, help) = match unit {
                "" => (
                    format!("the time `{word}` has no unit"),
                    format!("write `{word}s` or `{word}ms`"),
                ),
                _ => (format!("`{unit}` is not a unit of time"), "write s, ms or us".to_owned()),
            };
            self.diagnostics.fault(FaultKind::WrongUnit, here, message, help);
            return None;
        };
        let time = Time::from_decimal(number, power);
        if time.is_none() {
            let help = "a time is 0 s to 1000000000 s";
            self.diagnostics.fault(
                FaultKind::OutOfRange,
                here,
                format!("the time `{word}` is out of range"),
                help,
            );
        }
        time
    }

    /// A control, the kind of what is named, and its word.
    pub fn control<'t>(&mut self, line: &mut Line<'t>) -> Option<(Target, ControlKind, Word<'t>)> {
        let end = line.end;
        let Some(word) = line.next() else {
            self.diagnostics.fault(
                FaultKind::Missing,
                end,
                "the control is missing",
                "write `key.Space`, say",
            );
            return None;
        };
        let (plain, device) = self.device(word)?;
        if let Some(typed) = plain.strip_prefix("char.") {
            let target = self.key_of(word, typed, device)?;
            return Some((target, ControlKind::Button, word));
        }
        let catalogue = self.plan.catalogue();
        let Some(entry) = catalogue.find(&plain) else {
            self.unknown_control(word);
            return None;
        };
        let (kind, reads) = (entry.kind, entry.reads);
        match target(reads, device, catalogue) {
            Some(target) => Some((target, kind, word)),
            None => {
                self.untouchable(word, &plain, reads);
                None
            }
        }
    }

    /// A control's name without its device's number, and the device.
    fn device(&mut self, word: Word<'_>) -> Option<(String, u8)> {
        let name = ControlName::new(word.text);
        let Ok(device) = name.device() else {
            let device = word.text.split('.').next().unwrap_or_default();
            let message = format!("`{device}` does not number a device");
            let help = format!("devices are numbered from 1 to {MOST_DEVICES}");
            self.diagnostics.fault(FaultKind::OutOfRange, word.span, message, help);
            return None;
        };
        Some((name.plain().into_owned(), device.unwrap_or(0)))
    }

    /// The key that types a character on the score's layout.
    fn key_of(&mut self, word: Word<'_>, typed: &str, device: u8) -> Option<Target> {
        let layout = self.score.layout.unwrap_or_default();
        let mut chars = typed.chars();
        let one = chars.next().filter(|_| chars.next().is_none());
        let Some(control) = one.and_then(|c| self.plan.catalogue().key_of(c, layout)) else {
            let message = format!("no key types `{typed}` on the layout `{}`", layout.word());
            let help = "name a key by its place, or write another `layout`";
            self.diagnostics.fault(FaultKind::UnknownControl, word.span, message, help);
            return None;
        };
        let contact = Contact { control, device };
        Some(Target { contact, kind: ControlKind::Button, part: Part::Whole })
    }

    /// Tells why a hand can't move what a score names.
    fn untouchable(&mut self, word: Word<'_>, plain: &str, reads: Reads) {
        let (message, help) = match reads {
            Reads::Four(_) => (
                format!("`{plain}` is four buttons, not one thing that moves"),
                format!("write one of them: `press {plain}.up for 0.1s`"),
            ),
            _ => (
                format!("`{plain}` is a notch of a wheel, which cannot be held"),
                "write `drag mouse.wheel by (0, 1)`: right and away from the hand are positive"
                    .to_owned(),
            ),
        };
        self.diagnostics.fault(FaultKind::WrongKind, word.span, message, help);
    }

    fn unknown_control(&mut self, word: Word<'_>) {
        let text = word.text;
        let help = unknown_control(text, self.plan.catalogue(), &self.diagnostics.comparing);
        let message = format!("there is no control `{text}`");
        self.diagnostics.fault(FaultKind::UnknownControl, word.span, message, help);
    }
}

/// What a hand moves: of either key, the left one.
fn target(reads: Reads, device: u8, catalogue: &Catalogue) -> Option<Target> {
    let (control, part) = match reads {
        Reads::Whole(control) | Reads::Either(control, _) => (control, Part::Whole),
        Reads::Component(control, component) => (control, Part::One(component)),
        Reads::Half(control, component, positive) => (control, Part::Half(component, positive)),
        Reads::Four(_) | Reads::Char(_) | Reads::Nothing => return None,
    };
    let reported = &catalogue.reported()[control.index()];
    let contact = Contact { control, device };
    reported.notch.is_none().then_some(Target { contact, kind: reported.kind, part })
}
