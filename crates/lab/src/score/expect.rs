//! `expect` lines to expectations.

use super::expectation::{By, Count, Events, Expectation, Expected};
use super::read::{Line, Reader};
use harmonym_lang::report::{FaultKind, did_you_mean, nearest};
use harmonym_lang::source::Span;
use harmonym_runtime::base::{ActionId, Kind, Seat, Time, Vector};
use harmonym_runtime::engine::Cause;

/// Verbs, and the events they mean.
const EVENTS: &[(&str, &str)] =
    &[("wakes", "wake"), ("fires", "fire"), ("lapses", "lapse"), ("rests", "rest")];
/// How exact `at` is if nothing is said.
const WITHIN: Time = Time::from_millis(1);
/// How exact a value is if nothing is said.
const NEAR: f64 = 1e-6;

impl Reader<'_> {
    /// Reads what follows `expect`, which stands at `start`.
    pub fn expect(&mut self, line: &mut Line<'_>, start: Span) -> Option<()> {
        // An action may be called `map` or `seat`, too.
        let says = line.after(2).map_or("", |word| word.text);
        let mut seat = None;
        let what = if line.take("scheme") {
            self.expect_scheme(line, &mut seat)?
        } else if matches!(says, "open" | "closed" | "of") && line.take("map") {
            self.expect_map(line, &mut seat)?
        } else if says == "has" && line.take("seat") {
            self.expect_device(line, &mut seat)?
        } else {
            self.expect_action(line, &mut seat)?
        };
        let span = start.to(line.end);
        self.score.expectations.push(Expectation { span, seat, what });
        Some(())
    }

    /// `of seat K`, if it is there.
    fn of_seat(&mut self, line: &mut Line<'_>, seat: &mut Option<Seat>) -> Option<()> {
        if line.take("of") {
            *seat = Some(self.seat(line)?);
        }
        Some(())
    }

    fn expect_scheme(&mut self, line: &mut Line<'_>, seat: &mut Option<Seat>) -> Option<Expected> {
        let scheme = self.scheme(line)?;
        self.of_seat(line, seat)?;
        let at = self.moment(line)?;
        Some(Expected::Scheme { scheme, at })
    }

    /// `K has DEVICE at T`.
    fn expect_device(&mut self, line: &mut Line<'_>, seat: &mut Option<Seat>) -> Option<Expected> {
        *seat = Some(self.seat_number(line)?);
        line.take("has");
        let device = self.whole_device(line)?;
        let at = self.moment(line)?;
        Some(Expected::Has { device, at })
    }

    fn expect_map(&mut self, line: &mut Line<'_>, seat: &mut Option<Seat>) -> Option<Expected> {
        let map = self.map(line)?;
        self.of_seat(line, seat)?;
        let open = line.take("open");
        line.at += usize::from(!open);
        let at = match line.take("at") {
            true => Some(self.time(line, "`at`")?),
            false => None,
        };
        Some(Expected::Map { map, open, at })
    }

    fn expect_action(&mut self, line: &mut Line<'_>, seat: &mut Option<Seat>) -> Option<Expected> {
        let action = self.action(line)?;
        self.of_seat(line, seat)?;
        if line.take("=") {
            let value = self.expected_value(line, action)?;
            let (within, at) = (self.within(line)?, self.moment(line)?);
            return Some(Expected::Value { action, value, within, at });
        }
        if line.take("progress") {
            if !line.take("=") {
                self.diagnostics.fault(
                    FaultKind::Missing,
                    line.here(),
                    "the number is missing",
                    "write `progress = 0.5`",
                );
                return None;
            }
            let progress = self.number(line)?;
            let (within, at) = (self.within(line)?, self.moment(line)?);
            return Some(Expected::Progress { action, progress, within, at });
        }
        let never = line.take("never");
        let here = line.here();
        let verb = line.next().map_or("", |word| word.text);
        let Some((_, event)) = EVENTS.iter().find(|(known, _)| *known == verb) else {
            let known = EVENTS.iter().map(|(known, _)| *known);
            let help = did_you_mean(nearest(verb, known.chain(["never", "progress"])), || {
                "write wakes, fires, lapses or rests, or `= VALUE at T`".to_owned()
            });
            self.diagnostics.fault(
                FaultKind::UnknownWord,
                here,
                format!("`{verb}` is not something to expect"),
                help,
            );
            return None;
        };
        let mut events = Events {
            event,
            count: if never { Count::Exactly(0) } else { Count::AtLeast(1) },
            at: None,
            before: None,
            after: None,
            between: None,
            because: None,
            by: None,
        };
        while let Some(word) = line.peek() {
            self.condition(line, (word.text, word.span), action, &mut events)?;
        }
        Some(Expected::Events(action, events))
    }

    /// One of `once`, `N times`, `at T`, `because CAUSE`, …
    fn condition(
        &mut self,
        line: &mut Line<'_>,
        (word, span): (&str, Span),
        action: ActionId,
        events: &mut Events,
    ) -> Option<()> {
        line.next();
        match word {
            "once" => events.count = Count::Exactly(1),
            "twice" => events.count = Count::Exactly(2),
            "at" if line.take("least") => {
                let here = line.here();
                let count = line.next().and_then(|word| match word.text {
                    "once" => Some(1),
                    "twice" => Some(2),
                    count => count.parse().ok().filter(|_| line.take("times")),
                });
                let Some(count) = count else {
                    let message = "how many times is missing";
                    let help = "write `at least 3 times`";
                    self.diagnostics.fault(FaultKind::Missing, here, message, help);
                    return None;
                };
                events.count = Count::AtLeast(count);
            }
            "between" => {
                let from = self.time(line, "`between`")?;
                let here = line.here();
                if !line.take("and") {
                    let message = "the second moment is missing";
                    let help = "write `between 0.5s and 0.9s`";
                    self.diagnostics.fault(FaultKind::Missing, here, message, help);
                    return None;
                }
                let to = self.time(line, "`and`")?;
                if to < from {
                    let message = "nothing lies between a moment and an earlier one";
                    let help = "write the earlier moment first: `between 0.5s and 0.9s`";
                    self.diagnostics.fault(FaultKind::OutOfRange, here, message, help);
                    return None;
                }
                events.between = Some((from, to));
            }
            "at" => {
                let at = self.time(line, "`at`")?;
                let within = match line.take("within") {
                    true => self.time(line, "`within`")?,
                    false => WITHIN,
                };
                events.at = Some((at, within));
            }
            "before" => events.before = Some(self.time(line, "`before`")?),
            "after" => events.after = Some(self.time(line, "`after`")?),
            "because" => {
                let here = line.here();
                let cause = line.next().map_or("", |word| word.text);
                if !Cause::ALL.iter().any(|known| known.word() == cause) {
                    let help = did_you_mean(
                        nearest(cause, Cause::ALL.iter().map(|known| known.word())),
                        || "causes are released, too-short, too-long, gap, …".to_owned(),
                    );
                    self.diagnostics.fault(
                        FaultKind::UnknownWord,
                        here,
                        format!("`{cause}` is not a cause"),
                        help,
                    );
                    return None;
                }
                events.because = Some(cause.to_owned());
            }
            "by" => {
                let here = line.here();
                let Some(text) = line.next().filter(|word| word.is_quoted) else {
                    let help = "write it as in the profile: `by \"hold 0.8s\"`";
                    self.diagnostics.fault(FaultKind::Syntax, here, "the cue is a text", help);
                    return None;
                };
                events.by = Some(By::new(text.text, action, self.plan));
            }
            "of" => {
                let message = "of which seat stands behind the action";
                let help = "write `expect quay.hail of seat 2 fires`, say";
                self.diagnostics.fault(FaultKind::Syntax, span, message, help);
                return None;
            }
            count => {
                let Some(count) = count.parse().ok().filter(|_| line.take("times")) else {
                    let message = format!("`{word}` is no condition of an event");
                    let help = "write once, twice, 3 times, at least 3 times, at T, before T, after T, between T and T, because CAUSE or by \"CUE\"";
                    self.diagnostics.fault(FaultKind::UnknownWord, span, message, help);
                    return None;
                };
                events.count = Count::Exactly(count);
            }
        }
        Some(())
    }

    /// The action of that name, with its map where it isn't clear.
    fn action(&mut self, line: &mut Line<'_>) -> Option<ActionId> {
        let here = line.here();
        let name = line.next().map_or("", |word| word.text);
        let all = || self.plan.names().actions.entries();
        let found = self.actions.get(name).map_or(&[][..], Vec::as_slice);
        if let [one] = *found {
            return Some(one);
        }
        let names =
            all().flat_map(|(_, known)| [Some(known.as_str()), known.split_once('.').map(|x| x.1)]);
        let (message, help) = match found.first() {
            Some(first) => (
                format!("`{name}` is an action of several maps"),
                format!("write its map too: `{}`", self.plan.names().actions[*first]),
            ),
            None => (
                format!("there is no action `{name}`"),
                did_you_mean(self.diagnostics.nearest(name, names.flatten()), || {
                    "name an action of the profile".to_owned()
                }),
            ),
        };
        self.diagnostics.fault(FaultKind::UnknownName, here, message, help);
        None
    }

    /// A value of an action's kind.
    fn expected_value(&mut self, line: &mut Line<'_>, action: ActionId) -> Option<Vector> {
        let kind = self.plan.actions()[action].kind;
        let here = line.here();
        let numbers = match line.peek().map(|word| word.text) {
            Some("on" | "off") if kind == Kind::Switch => {
                let on = line.take("on");
                line.at += usize::from(!on);
                return Some(Vector::axis(if on { 1.0 } else { 0.0 }));
            }
            _ => self.value(line)?,
        };
        match (kind, numbers.as_slice()) {
            (Kind::Axis, &[x]) => Some(Vector::axis(x)),
            (Kind::Plane, &[x, y]) => Some(Vector::new(x, y)),
            (Kind::Space, &[x, y, z]) => Some(Vector::space(x, y, z)),
            (Kind::Turn, &[x, y, z, w]) => Some(Vector { x, y, z, w }),
            _ => {
                let help = match kind {
                    Kind::Switch => "write `= on` or `= off`",
                    Kind::Axis => "write one number: `= 0.5`",
                    Kind::Plane => "write two numbers: `= (0.6, 0.8)`",
                    Kind::Turn => "write four numbers: `= (0, 0, 0, 1)`",
                    Kind::Space => "write three numbers: `= (0, 0, 1)`",
                };
                let message = format!("the action is {}", kind.a_word());
                self.diagnostics.fault(FaultKind::WrongKind, here, message, help);
                None
            }
        }
    }

    fn within(&mut self, line: &mut Line<'_>) -> Option<f64> {
        match line.take("within") {
            true => self.number(line),
            false => Some(NEAR),
        }
    }

    /// `at T`, which must be there.
    fn moment(&mut self, line: &mut Line<'_>) -> Option<Time> {
        if !line.take("at") {
            self.diagnostics.fault(
                FaultKind::Missing,
                line.here(),
                "the moment is missing",
                "write `at 0.5s`",
            );
            return None;
        }
        self.time(line, "`at`")
    }
}
