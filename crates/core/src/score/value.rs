//! Numbers, times and controls of a score.

use super::instruction::{Part, Target};
use super::read::{Line, Reader};
use super::words::Word;
use crate::base::{Decimal, Time};
use crate::controls::{Catalogue, ControlKind, Entry, Reads};
use crate::report::{Finding, Rule, nearest_in_class};

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
            self.fault(Rule::Syntax, line.here(), "the parenthesis is not closed", "write `)`");
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
            self.fault(Rule::Syntax, here, message, "write a plain number such as 0.6");
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
            self.fault(Rule::Syntax, here, message, "write a time such as 0.5s");
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
            self.fault(Rule::WrongUnit, here, message, help);
            return None;
        };
        let time = Time::from_decimal(number, power);
        if time.is_none() {
            let help = "a time is 0 s to 1000000000 s";
            self.fault(Rule::OutOfRange, here, format!("the time `{word}` is out of range"), help);
        }
        time
    }

    pub fn control<'t>(&mut self, line: &mut Line<'t>) -> Option<(Target, ControlKind, Word<'t>)> {
        let end = line.end;
        let Some(word) = line.next() else {
            self.fault(Rule::Missing, end, "the control is missing", "write `key.Space`, say");
            return None;
        };
        let (class, rest) = word.text.split_once('.').unwrap_or((word.text, ""));
        let plain = match class.split_once('#') {
            Some((class, "1")) => format!("{class}.{rest}"),
            _ => word.text.to_owned(),
        };
        let Some(entry) = Catalogue::get().find(&plain) else {
            self.unknown_control(word, class);
            return None;
        };
        match target(entry) {
            Some(target) => Some((target, entry.kind, word)),
            None if entry.reads.is_some() => {
                let message = format!("`{plain}` is four buttons, not one thing that moves");
                let help = format!("write one of them: `press {plain}.up for 0.1s`");
                self.fault(Rule::WrongKind, word.span, message, help);
                None
            }
            None => {
                let finding =
                    Finding::not_yet(word.span, &format!("`{plain}`"), "take the line out");
                self.findings.push(finding);
                None
            }
        }
    }

    fn unknown_control(&mut self, word: Word<'_>, class: &str) {
        let text = word.text;
        if class == "char" || class.contains('#') {
            let what = match class {
                "char" => "a key by its character",
                _ => "a second device of a class",
            };
            let help = "name a control of the first device, such as `key.KeyZ`";
            return self.findings.push(Finding::not_yet(word.span, what, help));
        }
        let names = Catalogue::get().entries().iter().map(|e| e.name.as_str());
        let help = match nearest_in_class(text, names) {
            Some(near) => format!("did you mean `{near}`?"),
            None => "`harmonym controls` lists them all".to_owned(),
        };
        let message = format!("there is no control `{text}`");
        self.fault(Rule::UnknownControl, word.span, message, help);
    }
}

/// What a hand moves when a score names `entry`: of either key, the left one.
fn target(entry: &Entry) -> Option<Target> {
    match entry.reads? {
        Reads::Whole(control) | Reads::Either(control, _) => {
            Some(Target { control, part: Part::Whole })
        }
        Reads::Component(control, component) => {
            Some(Target { control, part: Part::One(component) })
        }
        Reads::Half(control, component, positive) => {
            Some(Target { control, part: Part::Half(component, positive) })
        }
        Reads::Four(_) => None,
    }
}
