//! Instructions: what hands do, and what the game or the player changes.

use super::instruction::{Act, Hand, Instruction};
use super::read::{LATER_VERBS, Line, Reader, VERBS};
use super::words::Word;
use crate::base::{NamedId, Time, Vector, shortest};
use crate::controls::ControlKind;
use crate::report::{Finding, Rule, nearest};

impl Reader<'_> {
    pub fn instruction(&mut self, line: &mut Line<'_>, at: Time) -> Option<()> {
        let here = line.here();
        let verb = line.next().map_or("", |word| word.text);
        if LATER_VERBS.contains(&verb) {
            let finding = Finding::not_yet(here, &format!("`{verb}`"), "take the line out");
            self.findings.push(finding);
            line.at = line.words.len();
            return None;
        }
        if !VERBS.contains(&verb) {
            let help = match nearest(verb, VERBS.iter().copied()) {
                Some(near) => format!("did you mean `{near}`?"),
                None => format!("write one of {}", VERBS.join(", ")),
            };
            let message = match verb {
                "" => "the time has no instruction".to_owned(),
                _ => format!("`{verb}` is not an instruction"),
            };
            self.fault(Rule::UnknownWord, here, message, help);
            return None;
        }
        let act = match verb {
            "fact" | "setting" => self.number_change(line, verb == "setting")?,
            _ => self.hand(line, verb)?,
        };
        let instruction = Instruction { at, act };
        self.last_end = instruction.end();
        self.score.instructions.push(instruction);
        Some(())
    }

    /// `NAME = N`, or `on` and `off`.
    fn number_change(&mut self, line: &mut Line<'_>, is_setting: bool) -> Option<Act> {
        let here = line.here();
        let name = line.next().map_or("", |word| word.text);
        let kind = if is_setting { "setting" } else { "fact" };
        let of_kind = |id: &NamedId| self.plan.named[*id].is_setting == is_setting;
        let Some(id) = self.plan.find_named(name).filter(of_kind) else {
            let known = self.plan.names.named.entries().filter(|(id, _)| of_kind(id));
            let help = match nearest(name, known.map(|(_, name)| name.as_str())) {
                Some(near) => format!("did you mean `{near}`?"),
                None => format!("name a {kind} of the profile"),
            };
            self.fault(Rule::UnknownName, here, format!("there is no {kind} `{name}`"), help);
            return None;
        };
        if !line.take("=") {
            let help = format!("write `{kind} {name} = 1`");
            self.fault(Rule::Missing, line.here(), "the number is missing", help);
            return None;
        }
        let here = line.here();
        let value = match line.peek().map(|word| word.text) {
            Some("on") => line.next().map(|_| 1.0),
            Some("off") => line.next().map(|_| 0.0),
            _ => self.number(line),
        }?;
        if let Some((least, most)) =
            self.plan.named[id].range.filter(|(l, m)| !(*l..=*m).contains(&value))
        {
            let message = format!("`{name}` cannot be {}", shortest(value));
            self.fault(Rule::OutOfRange, here, message, format!("it is {least} to {most}"));
            return None;
        }
        Some(Act::Number(id, value))
    }

    fn hand(&mut self, line: &mut Line<'_>, verb: &str) -> Option<Act> {
        let (target, kind, name) = self.control(line)?;
        let hand = match verb {
            "down" | "up" => self.switch(verb, kind, name)?,
            "press" => self.press(line, kind, name)?,
            "push" => self.push(line, kind, name)?,
            _ => self.release(line, kind, name)?,
        };
        Some(Act::Hand(target, hand))
    }

    fn switch(&mut self, verb: &str, kind: ControlKind, name: Word<'_>) -> Option<Hand> {
        self.check_button(verb, kind, name)?;
        match verb {
            "down" => Some(Hand::Down(None)),
            _ => Some(Hand::Move { to: Vector::ZERO, over: Time::ZERO }),
        }
    }

    fn press(&mut self, line: &mut Line<'_>, kind: ControlKind, name: Word<'_>) -> Option<Hand> {
        self.check_button("press", kind, name)?;
        if !line.take("for") {
            let message = "a press says how long it lasts";
            let help = format!("write `press {} for 0.1s`, or `down {}`", name.text, name.text);
            self.fault(Rule::Missing, line.here(), message, help);
            return None;
        }
        self.time(line, "`for`").map(|time| Hand::Down(Some(time)))
    }

    /// `down`, `up` and `press` are for buttons and levers.
    fn check_button(&mut self, verb: &str, kind: ControlKind, name: Word<'_>) -> Option<()> {
        if matches!(kind, ControlKind::Button | ControlKind::Lever) {
            return Some(());
        }
        let message = format!("`{verb}` is for buttons and levers; `{}` is neither", name.text);
        let help = format!("write `push {} to …`", name.text);
        self.fault(Rule::WrongKind, name.span, message, help);
        None
    }

    fn push(&mut self, line: &mut Line<'_>, kind: ControlKind, name: Word<'_>) -> Option<Hand> {
        if kind == ControlKind::Button {
            let message = format!("`{}` is a button: it has no way in between", name.text);
            let help = format!("write `down {}`, or `press {} for 0.1s`", name.text, name.text);
            self.fault(Rule::WrongKind, name.span, message, help);
            return None;
        }
        let form = if kind == ControlKind::Stick { "(0.6, 0.8)" } else { "0.5" };
        if !line.take("to") {
            let help = format!("write `push {} to {form}`", name.text);
            self.fault(Rule::Missing, line.here(), "a push says where it goes", help);
            return None;
        }
        let here = line.here();
        let numbers = self.value(line)?;
        let to = match (kind, numbers.as_slice()) {
            (ControlKind::Stick, &[x, y]) => Vector::new(x, y),
            (ControlKind::Lever | ControlKind::Axis, &[x]) => Vector::axis(x),
            _ => {
                let count =
                    if kind == ControlKind::Stick { "two components" } else { "one number" };
                let message = format!("`{}` goes to {count}", name.text);
                let help = format!("write `to {form}`");
                self.fault(Rule::WrongKind, here, message, help);
                return None;
            }
        };
        let (least, most) = kind.range();
        if numbers.iter().any(|n| !(least..=most).contains(n)) {
            let message = format!("`{}` does not reach that", name.text);
            let help = format!("it goes from {least} to {most}");
            self.fault(Rule::OutOfRange, here, message, help);
            return None;
        }
        Some(Hand::Move { to, over: self.over(line)?.unwrap_or_default() })
    }

    fn release(&mut self, line: &mut Line<'_>, kind: ControlKind, name: Word<'_>) -> Option<Hand> {
        let here = line.here();
        let over = self.over(line)?.unwrap_or_default();
        if kind == ControlKind::Button && over > Time::ZERO {
            let message = format!("`{}` is a button: it has no way in between", name.text);
            self.fault(Rule::WrongKind, here, message, "take `over` out");
            return None;
        }
        Some(Hand::Move { to: Vector::ZERO, over })
    }

    /// `over T`, if it is there.
    fn over(&mut self, line: &mut Line<'_>) -> Option<Option<Time>> {
        match line.take("over") {
            true => self.time(line, "`over`").map(Some),
            false => Some(None),
        }
    }
}
