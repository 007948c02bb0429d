//! Text to instructions.

use super::Score;
use super::instruction::{Act, Instruction, Part, Target};
use super::words::{Word, words};
use crate::base::{Decimal, Rate, Time, Vector};
use crate::controls::{Catalogue, ControlKind, Entry, Reads};
use crate::plan::Plan;
use crate::report::{Finding, Findings, Rule, nearest, nearest_in_class};
use crate::source::{Source, Span};

/// How often movements report if nothing is said.
const SAMPLE: Time = Time::from_millis(4);
const HEADERS: &[&str] = &["title", "start", "rate", "sample"];
const LATER_HEADERS: &[&str] = &["layout", "seats", "expect"];
const VERBS: &[&str] = &["down", "up", "press", "push", "release"];
const LATER_VERBS: &[&str] = &[
    "drag", "drift", "noise", "open", "close", "fact", "setting", "plug", "unplug", "seat",
    "pause", "resume", "scheme",
];

/// Reads a score for the maps of `plan`. `None` when something is wrong with it; all of that is
/// added to `findings`.
pub fn read(source: &Source, plan: &Plan, findings: &mut Findings) -> Option<Score> {
    let before = findings.len();
    let mut reader = Reader {
        plan,
        findings,
        score: Score {
            title: None,
            start: None,
            rate: None,
            sample: SAMPLE,
            instructions: Vec::new(),
        },
        seen: Vec::new(),
        last_end: Time::ZERO,
    };
    for (start, text) in source.lines() {
        let Some(words) = words(text, start, reader.findings) else { continue };
        if !words.is_empty() {
            let end = Span::new(start + text.trim_end().len(), start + text.trim_end().len());
            reader.line(&mut Line { words: &words, at: 0, end });
        }
    }
    let score = reader.score;
    (findings.len() == before).then_some(score)
}

struct Reader<'a> {
    plan: &'a Plan,
    findings: &'a mut Findings,
    score: Score,
    /// The header lines that were.
    seen: Vec<(&'static str, Span)>,
    last_end: Time,
}

/// A line, and the word in it that is next.
struct Line<'t> {
    words: &'t [Word<'t>],
    at: usize,
    end: Span,
}

impl<'t> Line<'t> {
    fn peek(&self) -> Option<Word<'t>> {
        self.words.get(self.at).copied()
    }

    fn next(&mut self) -> Option<Word<'t>> {
        let word = self.peek();
        self.at += usize::from(word.is_some());
        word
    }

    fn take(&mut self, text: &str) -> bool {
        let is_next = self.peek().is_some_and(|w| w.text == text && !w.is_quoted);
        self.at += usize::from(is_next);
        is_next
    }

    fn here(&self) -> Span {
        self.peek().map_or(self.end, |word| word.span)
    }
}

impl Reader<'_> {
    fn fault(
        &mut self,
        rule: Rule,
        span: Span,
        message: impl Into<String>,
        help: impl Into<String>,
    ) {
        self.findings.push(Finding::new(rule, span, message, help));
    }

    fn line(&mut self, line: &mut Line<'_>) -> Option<()> {
        let first = line.next()?;
        match first.text {
            "at" => {
                let at = self.time(line, "`at`")?;
                self.instruction(line, at)?;
            }
            "after" => {
                let at = self.last_end + self.time(line, "`after`")?;
                self.instruction(line, at)?;
            }
            header => match HEADERS.iter().find(|&&known| known == header) {
                Some(known) => self.header(known, first.span, line)?,
                None => {
                    self.unknown_line(first);
                    return None;
                }
            },
        }
        if let Some(extra) = line.peek() {
            let message = format!("`{}` is too much here", extra.text);
            self.fault(Rule::Syntax, extra.span, message, "write one instruction a line");
        }
        Some(())
    }

    fn unknown_line(&mut self, word: Word<'_>) {
        let text = word.text;
        if LATER_HEADERS.contains(&text) {
            let finding = Finding::not_yet(word.span, &format!("`{text}`"), "take the line out");
            return self.findings.push(finding);
        }
        let verbs = VERBS.iter().chain(LATER_VERBS);
        let help = match verbs.clone().find(|&&verb| verb == text) {
            Some(verb) => format!("an instruction has its time before it: `at 0.5s {verb} …`"),
            None => match nearest(text, HEADERS.iter().chain(&["at", "after"]).copied()) {
                Some(near) => format!("did you mean `{near}`?"),
                None => "lines begin with `at`, `after`, `title`, `start`, `rate` or `sample`"
                    .to_owned(),
            },
        };
        let message = format!("`{text}` does not begin a line of a score");
        self.fault(Rule::UnknownWord, word.span, message, help);
    }

    fn header(&mut self, name: &'static str, span: Span, line: &mut Line<'_>) -> Option<()> {
        if let Some(&(_, first)) = self.seen.iter().find(|(seen, _)| *seen == name) {
            let message = format!("`{name}` is said twice");
            let finding = Finding::new(Rule::UsedTwice, span, message, "keep one of them");
            self.findings.push(finding.with_place(first, "the first one"));
        }
        self.seen.push((name, span));
        match name {
            "title" => {
                let Some(word) = line.next().filter(|word| word.is_quoted) else {
                    self.fault(Rule::Syntax, span, "the title is a text", "write `title \"…\"`");
                    return None;
                };
                self.score.title = Some(word.text.to_owned());
            }
            "start" => self.score.start = Some(self.map(line)?),
            "rate" => {
                let here = line.here();
                let rate = line.next().and_then(|word| Rate::parse(word.text));
                if rate.is_none() {
                    let help = format!("write {}, such as `rate 60`", Rate::RANGE);
                    self.fault(Rule::OutOfRange, here, "this is not a rate", help);
                }
                self.score.rate = Some(rate?);
            }
            _ => {
                let here = line.here();
                let sample = self.time(line, "`sample`")?;
                if sample < Time::from_nanos(1000) {
                    let message = "movements cannot report that often";
                    self.fault(Rule::OutOfRange, here, message, "write `sample 1us` or more");
                }
                self.score.sample = sample;
            }
        }
        Some(())
    }

    fn map(&mut self, line: &mut Line<'_>) -> Option<crate::base::MapId> {
        let here = line.here();
        let name = line.next().map_or("", |word| word.text);
        let map = self.plan.find_map(name);
        if map.is_none() {
            let help = match nearest(name, self.plan.names.maps.iter().map(String::as_str)) {
                Some(near) => format!("did you mean `{near}`?"),
                None => "name a map of the profile".to_owned(),
            };
            self.fault(Rule::UnknownName, here, format!("there is no map `{name}`"), help);
        }
        map
    }

    fn instruction(&mut self, line: &mut Line<'_>, at: Time) -> Option<()> {
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
        let (target, kind, name) = self.control(line)?;
        let act = match verb {
            "down" | "up" => self.switch(verb, kind, name)?,
            "press" => self.press(line, kind, name)?,
            "push" => self.push(line, kind, name)?,
            _ => self.release(line, kind, name)?,
        };
        let instruction = Instruction { at, target, act };
        self.last_end = instruction.end();
        self.score.instructions.push(instruction);
        Some(())
    }

    fn switch(&mut self, verb: &str, kind: ControlKind, name: Word<'_>) -> Option<Act> {
        self.check_button(verb, kind, name)?;
        match verb {
            "down" => Some(Act::Down(None)),
            _ => Some(Act::Move { to: Vector::ZERO, over: Time::ZERO }),
        }
    }

    fn press(&mut self, line: &mut Line<'_>, kind: ControlKind, name: Word<'_>) -> Option<Act> {
        self.check_button("press", kind, name)?;
        if !line.take("for") {
            let message = "a press says how long it lasts";
            let help = format!("write `press {} for 0.1s`, or `down {}`", name.text, name.text);
            self.fault(Rule::Missing, line.here(), message, help);
            return None;
        }
        self.time(line, "`for`").map(|time| Act::Down(Some(time)))
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

    fn push(&mut self, line: &mut Line<'_>, kind: ControlKind, name: Word<'_>) -> Option<Act> {
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
        Some(Act::Move { to, over: self.over(line)?.unwrap_or_default() })
    }

    fn release(&mut self, line: &mut Line<'_>, kind: ControlKind, name: Word<'_>) -> Option<Act> {
        let here = line.here();
        let over = self.over(line)?.unwrap_or_default();
        if kind == ControlKind::Button && over > Time::ZERO {
            let message = format!("`{}` is a button: it has no way in between", name.text);
            self.fault(Rule::WrongKind, here, message, "take `over` out");
            return None;
        }
        Some(Act::Move { to: Vector::ZERO, over })
    }

    /// `over T`, if it is there.
    fn over(&mut self, line: &mut Line<'_>) -> Option<Option<Time>> {
        match line.take("over") {
            true => self.time(line, "`over`").map(Some),
            false => Some(None),
        }
    }

    /// A number, or numbers in parentheses.
    fn value(&mut self, line: &mut Line<'_>) -> Option<Vec<f64>> {
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

    fn number(&mut self, line: &mut Line<'_>) -> Option<f64> {
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

    fn time(&mut self, line: &mut Line<'_>, of: &str) -> Option<Time> {
        let here = line.here();
        let word = line.next().map_or("", |word| word.text);
        let split = word.find(|c: char| !c.is_ascii_digit() && c != '.').unwrap_or(word.len());
        let (digits, unit) = word.split_at(split);
        let power = match unit {
            "s" => Some(9),
            "ms" => Some(6),
            "us" | "µs" => Some(3),
            _ => None,
        };
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

    fn control<'t>(&mut self, line: &mut Line<'t>) -> Option<(Target, ControlKind, Word<'t>)> {
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
