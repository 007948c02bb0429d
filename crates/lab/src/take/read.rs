//! Lines to reports.

use super::control::Controls;
use super::devices::Devices;
use super::fault::{LineFault, in_line, not_json};
use super::header::{Header, header, map};
use super::line::{Components, HeaderLine, Line};
use super::{Input, Step, What, limits, quick};
use harmonym_lang::report::{Diagnostic, Faults, did_you_mean, nearest};
use harmonym_lang::source::Source;
use harmonym_runtime::base::{
    ControlKind, Kind, MapKind, Rate, SchemeId, Seat, Time, VariableId, Vector, turn,
};
use harmonym_runtime::plan::Plan;
use serde::Deserialize;

/// Reads a take line by line.
pub struct Reader<'p> {
    plan: &'p Plan,
    controls: Controls<'p>,
    name: String,
    line: usize,
    last: Time,
    rate: Rate,
    /// How many seats play.
    seats: u8,
    devices: Devices,
    /// No time may be later.
    longest: Time,
}

impl<'p> Reader<'p> {
    /// Reads a take from its first line, the header; `name` is what messages call it.
    ///
    /// # Errors
    /// When the line isn't a header, or names a map that `plan` doesn't have.
    pub fn new(name: &str, first: &str, plan: &'p Plan) -> Result<(Self, Header), Faults> {
        let mut reader = Self {
            plan,
            rate: Rate::DEFAULT,
            seats: plan.seats(),
            devices: Devices::new(plan),
            longest: limits::LONGEST,
            controls: Controls::new(plan.catalogue()),
            name: name.to_owned(),
            line: 1,
            last: Time::ZERO,
        };
        let header = match object::<HeaderLine<'_>>(first) {
            Ok(line) => header(&line, plan).map_err(|fault| in_line(first, fault)),
            Err(error) => {
                let header_is_missing = object::<Line<'_>>(first).is_ok();
                let mut fault = not_json(first, error.as_ref());
                if header_is_missing || first.trim().is_empty() {
                    fault.message = "the first line of a take is its header".to_owned();
                    fault.help = "write `{\"take\":1}` before it".to_owned();
                }
                Err(fault)
            }
        };
        match header {
            Ok(header) => {
                reader.seats = header.seats.unwrap_or(reader.seats);
                reader.rate = header.rate.unwrap_or(Rate::DEFAULT);
                reader.longest = limits::longest(reader.rate);
                Ok((reader, header))
            }
            Err(fault) => Err(reader.faults(first, fault)),
        }
    }

    /// Reads the next line; `None` for an empty one.
    ///
    /// # Errors
    /// When it isn't an input, or its time goes back.
    pub fn line(&mut self, text: &str) -> Result<Option<Input>, Faults> {
        match self.step(text)? {
            None => Ok(None),
            Some(Step::Input(input)) => Ok(Some(input)),
            Some(Step::Tick(_)) => {
                let message = "a take has no ticks: it is played at a rate";
                let fault =
                    LineFault::new(message, "take the line out; `harmonym pipe` reads ticks");
                Err(self.faults(text, in_line(text, fault.about("\"tick\""))))
            }
        }
    }

    /// Reads the next line where ticks may stand too; `None` for an empty one.
    ///
    /// # Errors
    /// When it is neither an input nor a tick, or its time goes back.
    pub fn step(&mut self, text: &str) -> Result<Option<Step>, Faults> {
        self.line += 1;
        if text.trim_ascii().is_empty() {
            return Ok(None);
        }
        let step = match quick::plain_report(text) {
            Some(plain) => {
                let t = match plain.t.seconds() {
                    Some(t) => self.in_order(t, plain.t.text),
                    None => self.time(plain.t.text),
                };
                t.and_then(|t| self.read_report(t, plain.control, plain.value, plain.is_by))
                    .map(Step::Input)
            }
            None => {
                let line = object(text);
                let fault = |error: Option<_>| self.faults(text, not_json(text, error.as_ref()));
                self.one(&line.map_err(fault)?)
            }
        };
        let step = step.map_err(|fault| self.faults(text, in_line(text, fault)))?;
        self.last = match step {
            Step::Input(input) => input.t,
            Step::Tick(t) => t,
        };
        Ok(Some(step))
    }

    /// The fault in the line at hand. Nothing after it is believed.
    fn faults(&self, line: &str, fault: Diagnostic) -> Faults {
        Faults::new(Source::of_line(self.name.as_str(), self.line, line), vec![fault])
    }

    fn one(&mut self, line: &Line<'_>) -> Result<Step, LineFault> {
        let Some(t) = line.t else {
            return Err(LineFault::new("the line has no time", "write `\"t\":SECONDS` first"));
        };
        let said = [
            ("control", line.control.is_some()),
            ("fact", line.fact.is_some()),
            ("setting", line.setting.is_some()),
            ("open", line.open.is_some()),
            ("close", line.close.is_some()),
            ("pause", line.pause.is_some()),
            ("scheme", line.scheme.is_some()),
            ("plug", line.plug.is_some()),
            ("unplug", line.unplug.is_some()),
            ("give", line.give.is_some()),
            ("tick", line.tick.is_some()),
        ];
        let mut said = said.into_iter().filter(|(_, is_said)| *is_said).map(|(key, _)| key);
        let Some(key) = said.next() else {
            let help = "write `\"control\":\"key.Space\",\"value\":1`, say";
            return Err(LineFault::new("the line says nothing that happens", help));
        };
        if let Some(other) = said.next() {
            let message = format!("a line says one thing, not both `{key}` and `{other}`");
            return Err(LineFault::new(message, "write two lines").about(&format!("\"{other}\"")));
        }
        fits(line, key)?;
        match line.tick {
            Some(true) => self.time(t.get()).map(Step::Tick),
            Some(false) => {
                let message = "`tick` is true where there is one";
                Err(LineFault::new(message, "take the line out").about("\"tick\""))
            }
            None => self.said(line, t.get()).map(Step::Input),
        }
    }

    /// What a line says that says one thing.
    fn said(&mut self, line: &Line<'_>, t: &str) -> Result<Input, LineFault> {
        if let Some(name) = line.control.as_deref() {
            let is_by = line.by.is_some();
            let Some(value) = line.value.or(line.by) else {
                let help = "write `\"value\":1`, or `\"value\":[0.6,0.8]` for a stick";
                return Err(LineFault::new(format!("`{name}` has no value"), help));
            };
            let t = self.time(t)?;
            return self.read_report(t, name, value, is_by);
        }
        let t = self.time(t)?;
        let seat = line.seat.map(|seat| self.seat(seat)).transpose()?;
        let plugged = [(line.plug.as_deref(), true), (line.unplug.as_deref(), false)];
        if let Some((name, plugged)) = plugged.into_iter().find_map(|(n, p)| Some((n?, p))) {
            return Ok(Input { t, what: self.devices.plug(self.plan, name, plugged)? });
        }
        if let Some(name) = line.give.as_deref() {
            let what = self.devices.give(self.plan, name, seat)?;
            return Ok(Input { t, what });
        }
        let what = if let Some(paused) = line.pause {
            What::Pause(paused)
        } else if let Some(scheme) = &line.scheme {
            What::Narrow(seat, scheme.as_deref().map(|name| self.scheme(name)).transpose()?)
        } else if let Some(name) = line.open.as_deref() {
            self.map(seat, name, true)?
        } else if let Some(name) = line.close.as_deref() {
            self.map(seat, name, false)?
        } else {
            let is_setting = line.setting.is_some();
            let name = line.setting.as_deref().or(line.fact.as_deref()).unwrap_or_default();
            let Some(value) = line.value else {
                return Err(LineFault::new(
                    format!("`{name}` has no value"),
                    "write `\"value\":1`",
                ));
            };
            self.number(seat, name, is_setting, value)?
        };
        Ok(Input { t, what })
    }

    /// A seat that plays.
    fn seat(&self, number: u64) -> Result<Seat, LineFault> {
        let count = self.seats;
        let seat = u8::try_from(number).ok().and_then(Seat::new);
        seat.filter(|seat| seat.number() <= count).ok_or_else(|| {
            let message = match count {
                1 => format!("there is one seat, not a seat {number}"),
                _ => format!("there are {count} seats, and no seat {number}"),
            };
            let help = "the header says how many play, at most 8: `\"seats\":4`";
            LineFault::new(message, help).about("\"seat\"")
        })
    }

    fn map(&self, seat: Option<Seat>, name: &str, open: bool) -> Result<What, LineFault> {
        let id = map(name, self.plan)?;
        if self.plan.maps()[id].kind == MapKind::Always {
            let message = format!("`{name}` is always open");
            return Err(LineFault::new(message, "take the line out").about(name));
        }
        Ok(What::Map(seat, id, open))
    }

    fn scheme(&self, name: &str) -> Result<SchemeId, LineFault> {
        let names = &self.plan.names().schemes;
        let found = names.entries().find(|(_, known)| *known == name).map(|(id, _)| id);
        found.ok_or_else(|| {
            let help = did_you_mean(nearest(name, names.iter().map(String::as_str)), || {
                "name a scheme of the profile, or write null for all".to_owned()
            });
            LineFault::new(format!("there is no scheme `{name}`"), help).about(name)
        })
    }

    fn number(
        &self,
        seat: Option<Seat>,
        name: &str,
        is_setting: bool,
        value: Components,
    ) -> Result<What, LineFault> {
        let of_kind = |id: &VariableId| self.plan.variables()[*id].is_setting == is_setting;
        let kind = if is_setting { "setting" } else { "fact" };
        let Some(id) = self.plan.find_variable(name).ok().filter(of_kind) else {
            let known = self.plan.names().variables.entries().filter(|(id, _)| of_kind(id));
            let help = did_you_mean(nearest(name, known.map(|(_, name)| name.as_str())), || {
                format!("name a {kind} of the profile")
            });
            return Err(LineFault::new(format!("there is no {kind} `{name}`"), help).about(name));
        };
        if value.is_list {
            let message = format!("`{name}` is one number");
            return Err(LineFault::new(message, "write `\"value\":1`").about("\"value\""));
        }
        let number = value.numbers[0];
        if let Some((least, most)) =
            self.plan.variables()[id].range.filter(|(l, m)| !(*l..=*m).contains(&number))
        {
            let message =
                format!("`{name}` cannot be {}", harmonym_runtime::base::shortest(number));
            return Err(
                LineFault::new(message, format!("it is {least} to {most}")).about("\"value\"")
            );
        }
        Ok(What::Number(seat, id, number))
    }

    /// A time that doesn't go back.
    fn time(&self, text: &str) -> Result<Time, LineFault> {
        self.in_order(time(text)?, text)
    }

    fn in_order(&self, t: Time, text: &str) -> Result<Time, LineFault> {
        if t > self.longest {
            let longest = self.longest;
            let message = format!("the time {t} s is beyond the {longest} s that a run may last");
            return Err(LineFault::new(message, limits::shorter(self.rate)).about(text));
        }
        if t >= self.last {
            return Ok(t);
        }
        let message = format!("the time goes back, from {} s to {t} s", self.last);
        let help = "lines stand in order of time; sort them by `t`";
        Err(LineFault::new(message, help).about(&t.to_string()))
    }

    fn read_report(
        &mut self,
        t: Time,
        control: &str,
        value: Components,
        is_by: bool,
    ) -> Result<Input, LineFault> {
        let (contact, kind) = self
            .controls
            .find(control)
            .map_err(|(message, help)| LineFault::new(message, help).about(control))?;
        if is_by != (kind == ControlKind::Relative) {
            let (is, key) = match kind {
                ControlKind::Relative => ("moves by something", "by"),
                _ => ("has a value", "value"),
            };
            let help = format!("write `\"{key}\":{}`", example(kind));
            let wrong = if is_by { "\"by\"" } else { "\"value\"" };
            return Err(LineFault::new(format!("`{control}` {is}"), help).about(wrong));
        }
        let value = components(value, kind, control)?;
        self.devices.use_of(self.plan.controls()[contact.control].class, contact.device);
        Ok(Input { t, what: What::Report(contact, value) })
    }
}

/// A line's JSON object; nothing to say of what is no object at all.
fn object<'a, T: Deserialize<'a>>(line: &'a str) -> Result<T, Option<serde_json::Error>> {
    match line.trim_ascii_start().starts_with('{') {
        true => serde_json::from_str(line).map_err(Some),
        false => Err(None),
    }
}

fn time(text: &str) -> Result<Time, LineFault> {
    Time::from_seconds(text).ok_or_else(|| {
        let message = format!("`{text}` is not a time");
        LineFault::new(message, "times are seconds from 0 to 1000000000").about(text)
    })
}

/// Refuses what a line says besides its one thing.
fn fits(line: &Line<'_>, key: &str) -> Result<(), LineFault> {
    let takes_value = matches!(key, "control" | "fact" | "setting");
    let takes_seat = matches!(key, "fact" | "setting" | "open" | "close" | "scheme" | "give");
    let wrong = [
        ("value", line.value.is_some() && !takes_value),
        ("by", line.by.is_some() && key != "control"),
        ("seat", line.seat.is_some() && !takes_seat),
    ];
    if let Some((extra, _)) = wrong.into_iter().find(|(_, is_wrong)| *is_wrong) {
        let message = format!("`{extra}` does not go with `{key}`");
        return Err(LineFault::new(message, "take it out").about(&format!("\"{extra}\"")));
    }
    if line.value.is_some() && line.by.is_some() {
        let message = "a control has a value or moves by something, not both";
        return Err(LineFault::new(message, "keep one of them").about("\"by\""));
    }
    Ok(())
}

/// A report's value, in the shape of its control. Out of range is held to the range later.
fn components(value: Components, kind: ControlKind, control: &str) -> Result<Vector, LineFault> {
    let wanted = kind.yields().components();
    let key = if kind == ControlKind::Relative { "\"by\"" } else { "\"value\"" };
    if value.len != wanted || value.is_list != (wanted > 1) {
        let what = match wanted {
            1 => "one number",
            2 => "a list of two numbers",
            3 => "a list of three numbers",
            _ => "a list of four numbers",
        };
        let message = format!("`{control}` reports {what}");
        let help = format!("write `{key}:{}`", example(kind));
        return Err(LineFault::new(message, help).about(key));
    }
    let [x, y, z, w] = value.numbers;
    if kind == ControlKind::Button && x > 0.0 && x < 1.0 {
        let message = format!("`{control}` is a button: it reports 0 or 1");
        return Err(LineFault::new(message, "write `\"value\":1`").about("\"value\""));
    }
    let vector = Vector { x, y, z, w };
    if kind.yields() == Kind::Turn {
        if turn::unit(vector) == Vector::ZERO && [x, y, z, w] == [0.0; 4] {
            let message = format!("`{control}` reports a unit quaternion, not all 0");
            return Err(LineFault::new(message, "write `\"value\":[0,0,0,1]`").about(key));
        }
        return Ok(turn::unit(vector));
    }
    Ok(vector)
}

fn example(kind: ControlKind) -> &'static str {
    match kind {
        ControlKind::Stick | ControlKind::Spot => "[0.6,0.8]",
        ControlKind::Lever | ControlKind::Axis => "0.5",
        ControlKind::Button => "1",
        ControlKind::Relative => "[3,-1]",
        ControlKind::Place => "[0.2,1.6,0]",
        ControlKind::Turn => "[0,0,0,1]",
    }
}
