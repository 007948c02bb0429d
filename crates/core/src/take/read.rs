//! Lines to reports.

use super::control::Controls;
use super::line::{Components, HeaderLine, Line};
use super::{Fault, Input, What, quick};
use crate::base::{MapId, NamedId, Rate, Time, Vector};
use crate::controls::{Class, ControlKind};
use crate::plan::Plan;
use crate::report::nearest;

/// The format of takes that this version reads.
const FORMAT: u64 = 1;

/// What the first line of a take says.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Header {
    /// What the take is called.
    pub title: Option<String>,
    /// The map that is open at 0, in place of the profile's.
    pub start: Option<MapId>,
    /// Ticks a second.
    pub rate: Option<Rate>,
}

/// Reads a take line by line.
pub struct Reader<'p> {
    plan: &'p Plan,
    controls: Controls,
    line: usize,
    last: Time,
}

/// What is wrong in the line at hand, before its number is known.
struct LineFault {
    message: String,
    help: String,
    /// What in the line it is about; the whole line if it isn't found there.
    about: Option<String>,
}

impl LineFault {
    fn new(message: impl Into<String>, help: impl Into<String>) -> Self {
        Self { message: message.into(), help: help.into(), about: None }
    }

    fn about(mut self, text: &str) -> Self {
        self.about = Some(text.to_owned());
        self
    }
}

impl<'p> Reader<'p> {
    /// Reads a take from its first line, the header.
    ///
    /// # Errors
    /// When the line isn't a header, or names a map that `plan` doesn't have.
    pub fn new(first: &str, plan: &'p Plan) -> Result<(Self, Header), Fault> {
        let reader = Self { plan, controls: Controls::new(), line: 1, last: Time::ZERO };
        let header = match serde_json::from_str::<HeaderLine<'_>>(first) {
            Ok(line) => header(&line, plan).map_err(|fault| reader.fault(first, fault))?,
            Err(error) => {
                let header_is_missing = serde_json::from_str::<Line<'_>>(first).is_ok();
                let mut fault = reader.json_fault(first, &error);
                if header_is_missing || first.trim().is_empty() {
                    fault.message = "the first line of a take is its header".to_owned();
                    fault.help = "write `{\"take\":1}` before it".to_owned();
                }
                return Err(fault);
            }
        };
        Ok((reader, header))
    }

    /// Reads the next line; `None` for an empty one.
    ///
    /// # Errors
    /// When it isn't an input, or its time goes back.
    pub fn line(&mut self, text: &str) -> Result<Option<Input>, Fault> {
        self.line += 1;
        if text.trim_ascii().is_empty() {
            return Ok(None);
        }
        let input = match quick::plain_report(text) {
            Some((t, control, value)) => self.read_report(t, control, value),
            None => {
                let line = serde_json::from_str(text);
                self.input(&line.map_err(|error| self.json_fault(text, &error))?)
            }
        };
        let input = input.map_err(|fault| self.fault(text, fault))?;
        self.last = input.t;
        Ok(Some(input))
    }

    fn input(&self, line: &Line<'_>) -> Result<Input, LineFault> {
        let Some(t) = line.t else {
            return Err(LineFault::new("the line has no time", "write `\"t\":SECONDS` first"));
        };
        if let Some(later) = line.later() {
            let message = format!("`{later}` in a take is not yet supported");
            return Err(LineFault::new(message, "take the line out").about(&format!("\"{later}\"")));
        }
        let does = [("control", &line.control), ("fact", &line.fact), ("setting", &line.setting)];
        let mut said = does.into_iter().filter_map(|(key, name)| Some((key, name.as_deref()?)));
        let Some((key, name)) = said.next() else {
            let help = "write `\"control\":\"key.Space\",\"value\":1`, say";
            return Err(LineFault::new("the line says nothing that happens", help));
        };
        if let Some((other, _)) = said.next() {
            let message = format!("a line says one thing, not both `{key}` and `{other}`");
            return Err(LineFault::new(message, "write two lines").about(&format!("\"{other}\"")));
        }
        let Some(value) = line.value else {
            let help = "write `\"value\":1`, or `\"value\":[0.6,0.8]` for a stick";
            return Err(LineFault::new(format!("`{name}` has no value"), help));
        };
        match key {
            "control" => self.read_report(t.get(), name, value),
            _ => {
                let t = self.time(t.get())?;
                Ok(Input { t, what: self.number(name, key == "setting", value)? })
            }
        }
    }

    fn number(&self, name: &str, is_setting: bool, value: Components) -> Result<What, LineFault> {
        let of_kind = |id: &NamedId| self.plan.named[*id].is_setting == is_setting;
        let kind = if is_setting { "setting" } else { "fact" };
        let Some(id) = self.plan.find_named(name).filter(of_kind) else {
            let known = self.plan.names.named.entries().filter(|(id, _)| of_kind(id));
            let help = match nearest(name, known.map(|(_, name)| name.as_str())) {
                Some(near) => format!("did you mean `{near}`?"),
                None => format!("name a {kind} of the profile"),
            };
            return Err(LineFault::new(format!("there is no {kind} `{name}`"), help).about(name));
        };
        if value.is_list {
            let message = format!("`{name}` is one number");
            return Err(LineFault::new(message, "write `\"value\":1`").about("\"value\""));
        }
        let number = value.numbers[0];
        if let Some((least, most)) =
            self.plan.named[id].range.filter(|(l, m)| !(*l..=*m).contains(&number))
        {
            let message = format!("`{name}` cannot be {}", crate::base::shortest(number));
            return Err(
                LineFault::new(message, format!("it is {least} to {most}")).about("\"value\"")
            );
        }
        Ok(What::Number(id, number))
    }

    /// A time that doesn't go back.
    fn time(&self, text: &str) -> Result<Time, LineFault> {
        let t = time(text)?;
        if t >= self.last {
            return Ok(t);
        }
        let message = format!("the time goes back, from {} s to {t} s", self.last);
        let help = "lines stand in order of time; sort them by `t`";
        Err(LineFault::new(message, help).about(&t.to_string()))
    }

    fn read_report(&self, t: &str, control: &str, value: Components) -> Result<Input, LineFault> {
        let t = self.time(t)?;
        let (id, kind) = self
            .controls
            .find(control)
            .map_err(|(message, help)| LineFault::new(message, help).about(control))?;
        let value = components(value, kind, control)?;
        Ok(Input { t, what: What::Report(id, value) })
    }

    fn fault(&self, line: &str, fault: LineFault) -> Fault {
        let about = fault.about.as_deref().and_then(|text| Some((line.find(text)?, text)));
        let (start, text) = about.unwrap_or((0, line));
        Fault {
            line: self.line,
            column: line[..start].chars().count() + 1,
            width: text.chars().count().max(1),
            message: fault.message,
            help: fault.help,
        }
    }

    fn json_fault(&self, line: &str, error: &serde_json::Error) -> Fault {
        let text = error.to_string();
        let message = text.split(" at line ").next().unwrap_or(&text).to_owned();
        let byte = line.floor_char_boundary(error.column().saturating_sub(1));
        let (message, help) = in_words(&message);
        let column = line[..byte].chars().count() + 1;
        Fault { line: self.line, column, width: 1, message, help }
    }
}

/// The JSON reader's message in our words, and what to do.
fn in_words(message: &str) -> (String, String) {
    let quoted: Vec<&str> = message.split('`').collect();
    if let ["unknown field ", field, rest @ ..] = quoted.as_slice() {
        let known = rest.iter().copied().filter(|word| word.chars().all(char::is_alphabetic));
        let help = match nearest(field, known) {
            Some(near) => format!("did you mean `\"{near}\"`?"),
            None => "take the key out".to_owned(),
        };
        return (format!("`{field}` is not a key of this line"), help);
    }
    if let ["missing field ", field, ..] = quoted.as_slice() {
        return (format!("`{field}` is missing"), format!("write `\"{field}\":…`"));
    }
    if let ["duplicate field ", field, ..] = quoted.as_slice() {
        return (format!("`{field}` is given twice"), "keep one of them".to_owned());
    }
    let help = "every line of a take is one JSON object, with finite numbers";
    (message.to_owned(), help.to_owned())
}

fn header(line: &HeaderLine<'_>, plan: &Plan) -> Result<Header, LineFault> {
    if line.take != FORMAT {
        let message = format!("this take is in format {}; this version reads format 1", line.take);
        return Err(LineFault::new(message, "write `\"take\":1`").about(&line.take.to_string()));
    }
    if let Some(seats) = line.seats.filter(|&seats| seats != 1) {
        let (message, help) = match seats {
            2..=8 => ("more than one seat is not yet supported", "write `\"seats\":1`"),
            _ => ("there are 1 to 8 seats", "write `\"seats\":1`"),
        };
        return Err(LineFault::new(message, help).about("\"seats\""));
    }
    let layouts = ["us", "fr", "de", "dvorak"];
    if let Some(layout) = line.layout.as_deref().filter(|layout| !layouts.contains(layout)) {
        let message = format!("there is no layout `{layout}`");
        return Err(LineFault::new(message, "the layouts are us, fr, de, dvorak").about(layout));
    }
    for device in line.devices.iter().flatten() {
        known_device(device)?;
    }
    let start = match line.start.as_deref() {
        Some(name) => Some(plan.find_map(name).ok_or_else(|| no_map(name, plan))?),
        None => None,
    };
    let rate = match line.rate {
        Some(raw) => Some(Rate::parse(raw.get()).ok_or_else(|| {
            let help = format!("write {}", Rate::RANGE);
            LineFault::new(format!("`{}` is not a rate", raw.get()), help).about("\"rate\"")
        })?),
        None => None,
    };
    Ok(Header { title: line.title.as_deref().map(str::to_owned), start, rate })
}

fn no_map(name: &str, plan: &Plan) -> LineFault {
    let help = match nearest(name, plan.names.maps.iter().map(String::as_str)) {
        Some(near) => format!("did you mean `{near}`?"),
        None => "name a map of the profile".to_owned(),
    };
    LineFault::new(format!("there is no map `{name}`"), help).about(name)
}

fn known_device(device: &str) -> Result<(), LineFault> {
    let (class, number) = device.split_once('#').unwrap_or((device, "1"));
    let known = Class::from_word(class).is_some_and(Class::is_supported);
    match number.parse::<u32>() {
        Ok(1) if known => Ok(()),
        Ok(2..) if known => {
            let message = format!("a second device of a class (`{device}`) is not yet supported");
            Err(LineFault::new(message, "take it out of the list").about(device))
        }
        _ => {
            let help = "devices are named `key#1`, `mouse#1`, `pad#1`";
            Err(LineFault::new(format!("`{device}` is not a device"), help).about(device))
        }
    }
}

fn time(text: &str) -> Result<Time, LineFault> {
    Time::from_seconds(text).ok_or_else(|| {
        let message = format!("`{text}` is not a time");
        LineFault::new(message, "times are seconds from 0 to 1000000000").about(text)
    })
}

/// A report's value, in the shape of its control. Out of range is held to the range later.
fn components(value: Components, kind: ControlKind, control: &str) -> Result<Vector, LineFault> {
    let wanted = if kind == ControlKind::Stick { 2 } else { 1 };
    if value.len != wanted || value.is_list != (wanted > 1) {
        let what = if wanted == 2 { "a list of two numbers" } else { "one number" };
        let message = format!("`{control}` reports {what}");
        let help = format!("write `\"value\":{}`", example(kind));
        return Err(LineFault::new(message, help).about("\"value\""));
    }
    let [x, y, ..] = value.numbers;
    if kind == ControlKind::Button && x > 0.0 && x < 1.0 {
        let message = format!("`{control}` is a button: it reports 0 or 1");
        return Err(LineFault::new(message, "write `\"value\":1`").about("\"value\""));
    }
    Ok(Vector::new(x, y))
}

fn example(kind: ControlKind) -> &'static str {
    match kind {
        ControlKind::Stick => "[0.6,0.8]",
        ControlKind::Lever | ControlKind::Axis => "0.5",
        _ => "1",
    }
}
