//! Instructions: what hands do, and what the game or the player changes.

use super::forms::{VERBS, meant, words_of};
use super::instruction::{Act, Hand, Instruction, Target};
use super::read::{Line, Reader};
use super::words::Word;
use crate::take::What;
use harmonym_lang::report::{FaultKind, did_you_mean, nearest};
use harmonym_runtime::base::{ControlKind, Time, VariableId, Vector, shortest, turn};

impl Reader<'_> {
    pub fn instruction(&mut self, line: &mut Line<'_>, at: Time) -> Option<()> {
        let here = line.here();
        let verb = line.next().map_or("", |word| word.text);
        if !words_of(VERBS).any(|known| known == verb) {
            let known = VERBS.iter().find(|line| line.word == meant(verb));
            let help = match known {
                Some(line) => format!("write `{}`: {}", line.word, line.example),
                None => did_you_mean(nearest(verb, words_of(VERBS)), || {
                    format!("write one of {}", words_of(VERBS).collect::<Vec<_>>().join(", "))
                }),
            };
            let message = match verb {
                "" => "the time has no instruction".to_owned(),
                _ => format!("`{verb}` is not an instruction"),
            };
            self.diagnostics.fault(FaultKind::UnknownWord, here, message, help);
            return None;
        }
        let act = match verb {
            "fact" | "setting" => {
                let (named, value) = self.number_change(line, verb == "setting")?;
                Act::Other(What::Number(self.for_seat(line)?, named, value))
            }
            "open" | "close" => Act::Other(self.map_change(line, verb == "open")?),
            "pause" | "resume" => Act::Other(What::Pause(verb == "pause")),
            "scheme" => Act::Other(self.narrowing(line)?),
            "plug" | "unplug" => Act::Other(What::Plug(self.whole_device(line)?, verb == "plug")),
            "seat" => Act::Other(self.handing_over(line)?),
            _ => self.hand(line, verb)?,
        };
        let instruction = Instruction { at, act };
        self.spans.push(here.to(line.words[line.at - 1].span));
        self.last_end = instruction.end();
        self.score.instructions.push(instruction);
        Some(())
    }

    /// `NAME = N`, or `on` and `off`.
    fn number_change(
        &mut self,
        line: &mut Line<'_>,
        is_setting: bool,
    ) -> Option<(VariableId, f64)> {
        let here = line.here();
        let name = line.next().map_or("", |word| word.text);
        let kind = if is_setting { "setting" } else { "fact" };
        let of_kind = |id: &VariableId| self.plan.variables()[*id].is_setting == is_setting;
        let Some(id) = self.plan.find_variable(name).ok().filter(of_kind) else {
            let known = self.plan.names().variables.entries().filter(|(id, _)| of_kind(id));
            let help = did_you_mean(
                self.diagnostics.nearest(name, known.map(|(_, name)| name.as_str())),
                || format!("name a {kind} of the profile"),
            );
            self.diagnostics.fault(
                FaultKind::UnknownName,
                here,
                format!("there is no {kind} `{name}`"),
                help,
            );
            return None;
        };
        if !line.take("=") {
            let help = format!("write `{kind} {name} = 1`");
            self.diagnostics.fault(FaultKind::Missing, line.here(), "the number is missing", help);
            return None;
        }
        let here = line.here();
        let value = match line.peek().map(|word| word.text) {
            Some("on") => line.next().map(|_| 1.0),
            Some("off") => line.next().map(|_| 0.0),
            _ => self.number(line),
        }?;
        if let Some((least, most)) =
            self.plan.variables()[id].range.filter(|(l, m)| !(*l..=*m).contains(&value))
        {
            let message = format!("`{name}` cannot be {}", shortest(value));
            self.diagnostics.fault(
                FaultKind::OutOfRange,
                here,
                message,
                format!("it is {least} to {most}"),
            );
            return None;
        }
        Some((id, value))
    }

    fn hand(&mut self, line: &mut Line<'_>, verb: &str) -> Option<Act> {
        let (target, kind, name) = self.control(line)?;
        if (target.kind == ControlKind::Relative) != (verb == "drag") {
            let (message, help) = match verb {
                "drag" => (
                    format!(
                        "`drag` is for relative controls; `{}` is a {}",
                        name.text,
                        kind.word()
                    ),
                    format!("write `push {} to …`", name.text),
                ),
                _ => (
                    format!("`{verb}` is not for relative controls such as `{}`", name.text),
                    format!("write `drag {} by …`", name.text),
                ),
            };
            self.diagnostics.fault(FaultKind::WrongKind, name.span, message, help);
            return None;
        }
        let hand = match verb {
            "down" | "up" => self.switch(verb, kind, name)?,
            "press" => self.press(line, kind, name)?,
            "push" => self.push(line, target, kind, name)?,
            "drag" => self.drag(line, target, name)?,
            "drift" => self.drift(line, target, name)?,
            "noise" => self.noise(line, target, name)?,
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
            self.diagnostics.fault(FaultKind::Missing, line.here(), message, help);
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
        self.diagnostics.fault(FaultKind::WrongKind, name.span, message, help);
        None
    }

    fn push(
        &mut self,
        line: &mut Line<'_>,
        target: Target,
        kind: ControlKind,
        name: Word<'_>,
    ) -> Option<Hand> {
        if kind == ControlKind::Button {
            let message = format!("`{}` is a button: it has no way in between", name.text);
            let help = format!("write `down {}`, or `press {} for 0.1s`", name.text, name.text);
            self.diagnostics.fault(FaultKind::WrongKind, name.span, message, help);
            return None;
        }
        let form = form(target);
        if !line.take("to") {
            let help = format!("write `push {} to {form}`", name.text);
            self.diagnostics.fault(
                FaultKind::Missing,
                line.here(),
                "a push says where it goes",
                help,
            );
            return None;
        }
        let here = line.here();
        let to = self.components(line, target, name, "to")?;
        let (least, most) = kind.range();
        let fits = |n: &f64| (least..=most).contains(n);
        if !to.components().iter().take(target.components()).all(fits) {
            let message = format!("`{}` does not reach that", name.text);
            let help = format!("it goes from {least} to {most}");
            self.diagnostics.fault(FaultKind::OutOfRange, here, message, help);
            return None;
        }
        let to = if kind == ControlKind::Turn { turn::unit(to) } else { to };
        Some(Hand::Move { to, over: self.over(line)?.unwrap_or_default() })
    }

    /// As many numbers as the target has components.
    fn components(
        &mut self,
        line: &mut Line<'_>,
        target: Target,
        name: Word<'_>,
        before: &str,
    ) -> Option<Vector> {
        let here = line.here();
        let numbers = self.value(line)?;
        if numbers.len() != target.components() {
            let count = match target.components() {
                1 => "one number",
                2 => "two components",
                3 => "three components",
                _ => "four components",
            };
            let message = format!("`{}` has {count}", name.text);
            self.diagnostics.fault(
                FaultKind::WrongKind,
                here,
                message,
                format!("write `{before} {}`", form(target)),
            );
            return None;
        }
        let at = |i: usize| numbers.get(i).copied().unwrap_or_default();
        Some(Vector { x: at(0), y: at(1), z: at(2), w: at(3) })
    }

    fn drag(&mut self, line: &mut Line<'_>, target: Target, name: Word<'_>) -> Option<Hand> {
        if !line.take("by") {
            let help = format!("write `drag {} by {}`", name.text, form(target));
            self.diagnostics.fault(
                FaultKind::Missing,
                line.here(),
                "a drag says by how much",
                help,
            );
            return None;
        }
        let here = line.here();
        let by = self.components(line, target, name, "by")?;
        if by.magnitude() > 1e6 {
            let message = format!("`{}` does not move that far", name.text);
            self.diagnostics.fault(FaultKind::OutOfRange, here, message, "write at most 1000000");
            return None;
        }
        Some(Hand::Drag { by, over: self.over(line)?.unwrap_or_default() })
    }

    fn drift(&mut self, line: &mut Line<'_>, target: Target, name: Word<'_>) -> Option<Hand> {
        self.check_unsteady("drift", target, name)?;
        if !line.take("at") {
            let help = format!("write `drift {} at {}`", name.text, form(target));
            self.diagnostics.fault(
                FaultKind::Missing,
                line.here(),
                "a drift says what it adds",
                help,
            );
            return None;
        }
        self.components(line, target, name, "at").map(Hand::Drift)
    }

    /// `noise C of A for T seed N`.
    fn noise(&mut self, line: &mut Line<'_>, target: Target, name: Word<'_>) -> Option<Hand> {
        self.check_unsteady("noise", target, name)?;
        let help = format!("write `noise {} of 0.02 for 1s seed 1`", name.text);
        let word = |this: &mut Self, line: &mut Line<'_>, wanted: &str| {
            if line.take(wanted) {
                return Some(());
            }
            let message = format!("`{wanted}` is missing");
            this.diagnostics.fault(FaultKind::Missing, line.here(), message, help.clone());
            None
        };
        word(self, line, "of")?;
        let here = line.here();
        let of = self.number(line)?;
        if of < 0.0 {
            self.diagnostics.fault(
                FaultKind::OutOfRange,
                here,
                "noise is not negative",
                help.clone(),
            );
            return None;
        }
        word(self, line, "for")?;
        let time = self.time(line, "`for`")?;
        word(self, line, "seed")?;
        let here = line.here();
        let seed = line.next().and_then(|word| word.text.parse().ok());
        if seed.is_none() {
            self.diagnostics.fault(
                FaultKind::Syntax,
                here,
                "a seed is a whole number",
                help.clone(),
            );
        }
        Some(Hand::Noise { of, time, seed: seed? })
    }

    /// Buttons and turns neither drift nor have noise.
    fn check_unsteady(&mut self, verb: &str, target: Target, name: Word<'_>) -> Option<()> {
        if !matches!(target.kind, ControlKind::Button | ControlKind::Turn) {
            return Some(());
        }
        let message = format!("`{verb}` is for levers, axes, sticks, spots and places");
        let help = format!("`{}` is a {}", name.text, target.kind.word());
        self.diagnostics.fault(FaultKind::WrongKind, name.span, message, help);
        None
    }

    fn release(&mut self, line: &mut Line<'_>, kind: ControlKind, name: Word<'_>) -> Option<Hand> {
        let here = line.here();
        let over = self.over(line)?.unwrap_or_default();
        if kind == ControlKind::Button && over > Time::ZERO {
            let message = format!("`{}` is a button: it has no way in between", name.text);
            self.diagnostics.fault(FaultKind::WrongKind, here, message, "take `over` out");
            return None;
        }
        Some(Hand::Move { to: Vector::ZERO, over })
    }

    /// `over T`, if it is there.
    fn over(&mut self, line: &mut Line<'_>) -> Option<Option<Time>> {
        match line.take("over") {
            true => self.time(line, "`over`").map(Some),
            false if line.peek().is_some_and(|word| word.text == "for") => {
                let time = line.after(1).map_or("0.1s", |word| word.text);
                let help = format!("write `over {time}`; `for` is how long a `press` stays down");
                let message = "a movement says `over` how long it goes";
                self.diagnostics.fault(FaultKind::UnknownWord, line.here(), message, help);
                None
            }
            false => Some(None),
        }
    }
}

/// A value of a target as it is written.
fn form(target: Target) -> &'static str {
    match (target.components(), target.kind) {
        (1, _) => "0.5",
        (2, ControlKind::Relative) => "(30, -10)",
        (2, _) => "(0.6, 0.8)",
        (3, _) => "(0.2, 1.6, 0)",
        _ => "(0, 0, 0, 1)",
    }
}
