//! Reasons as sentences, with by how much.

use harmonym_lab::explain::{
    Awaits, Blocked, EndReason, EpisodeRecord, Miss, Moment, Status, Story,
};
use harmonym_runtime::base::{ActionId, AlternativeId, BindingId, Blend, OpId, Time};
use harmonym_runtime::engine::Cause;
use harmonym_runtime::plan::{Guard, Plan};

/// What words need: the names.
#[derive(Clone, Copy)]
pub struct Words<'a> {
    pub plan: &'a Plan,
    pub action: ActionId,
}

/// A moment or a length of time, to a ten-thousandth of a second.
pub fn seconds(time: Time) -> String {
    number((time.seconds() * 1e4).round() / 1e4) + " s"
}

/// A number, to a millionth.
pub fn number(value: f64) -> String {
    // Adding 0 takes the sign from −0.
    format!("{}", (value * 1e6).round() / 1e6 + 0.0)
}

impl Words<'_> {
    fn name(&self, action: ActionId) -> &str {
        &self.plan.names().actions[action]
    }

    fn binding(&self, binding: BindingId) -> &str {
        &self.plan.names().bindings[binding]
    }

    fn rule(&self, alternative: AlternativeId) -> &str {
        &self.plan.names().alternatives[alternative]
    }

    fn guards(&self, guards: &[Guard]) -> String {
        let all: Vec<_> = guards.iter().map(|&guard| self.guard(guard)).collect();
        all.join(", ")
    }

    /// What is not as a guard wants it.
    fn guard(&self, guard: Guard) -> String {
        match guard {
            Guard::Live(other, true) => format!("{} is not live", self.name(other)),
            Guard::Live(other, false) => format!("{} is live", self.name(other)),
            Guard::Holds(named, true) => format!("{} is off", self.plan.names().variables[named]),
            Guard::Holds(named, false) => format!("{} is on", self.plan.names().variables[named]),
        }
    }

    fn actions(&self, actions: &[ActionId]) -> String {
        actions.iter().map(|&id| self.name(id)).collect::<Vec<_>>().join(" and ")
    }

    /// What keeps a control away.
    pub fn blocked(&self, blocked: Blocked) -> String {
        match blocked {
            Blocked::Claimed(by, since) => {
                let since = since.map_or(String::new(), |t| format!(" since {}", seconds(t)));
                format!("is claimed by {}{since}", self.name(by))
            }
            Blocked::Hidden(binding) => {
                format!("belongs to {} until it is let go", self.binding(binding))
            }
            Blocked::Muted(since) => format!(
                "was already held at {}, when it might have begun to count: it has to be let go first",
                seconds(since)
            ),
        }
    }

    /// What an operation is called.
    fn op(&self, op: OpId) -> String {
        super::stations::op_words(self.plan, op, self.plan.actions()[self.action].kind)
    }

    /// Where the action stands: a sentence without its full stop.
    pub fn status(&self, status: &Status) -> String {
        let plan = self.plan;
        let control = |id: &_| plan.names().controls[*id].as_str();
        match status {
            Status::Unbound => "nothing is bound to it".to_owned(),
            Status::Closed(since) => {
                let homes = plan.actions()[self.action].maps.of(plan.listed_maps());
                let names: Vec<_> =
                    homes.iter().map(|&map| plan.names().maps[map].as_str()).collect();
                let names = names.join(" and ");
                match since {
                    Some(since) => format!("its map {names} is closed since {}", seconds(*since)),
                    None => format!("its map {names} was never opened"),
                }
            }
            Status::Paused(since) => {
                format!("the game is paused since {}, and it has no in-pause", seconds(*since))
            }
            Status::Narrowed(of, to) => format!(
                "{} is pressed, but the game has narrowed the bindings to the scheme {}",
                control(of),
                plan.names().schemes[*to]
            ),
            Status::Untouched => "none of its controls is pressed".to_owned(),
            Status::Blocked(of, blocked) => format!("{} {}", control(of), self.blocked(*blocked)),
            Status::NotHeld(last, holder) => {
                format!("{} counts only while {} is held", control(last), control(holder))
            }
            Status::TooEarly(last) => format!(
                "{} was pressed before what has to be held with it: it has to be pressed anew",
                control(last)
            ),
            Status::Opposed(neg, pos) => {
                format!("{} and {} are opposite and cancel out", control(pos), control(neg))
            }
            Status::Stopped(op, gave, edge) => self.stopped(*op, *gave, *edge),
            Status::Lost((lost, gave), (winner, with)) => self.lost(*lost, *gave, *winner, *with),
            Status::CancelledOut => "its bindings add up to 0".to_owned(),
            Status::UnderWake(gives, wake) => format!(
                "it gives {}, and wakes from {} on: {} is missing",
                number(*gives),
                number(*wake),
                number(wake - gives)
            ),
            Status::StillUp(gives, up) => format!(
                "its episode is over, and it still gives {}: it has to come under {} first",
                number(*gives),
                number(*up)
            ),
            Status::Taken(other) => {
                format!("the press came as {} fired, and belongs to it", self.name(*other))
            }
            Status::UnderDown(gives, down) => format!(
                "it is awake and gives {}, and is down from {} on: {} is missing",
                number(*gives),
                number(*down),
                number(down - gives)
            ),
            Status::Pending(awaits) => {
                let all = awaits.iter().map(|(by, one)| match awaits.len() {
                    1 => self.awaits(one),
                    _ => format!("by `{}` {}", self.rule(*by), self.awaits(one)),
                });
                format!("it is pending: {}", all.collect::<Vec<_>>().join("; "))
            }
            Status::Live(by, since, next) => self.live(*by, *since, *next),
            Status::Step(0, _, next, _) => {
                format!("its sequence begins when {} fires", self.name(*next))
            }
            Status::Step(done, all, next, due) => {
                let due = due.map_or(String::new(), |t| format!(" by {}", seconds(t)));
                format!("{done} of {all} steps are done: {} has to fire{due}", self.name(*next))
            }
        }
    }

    fn live(&self, by: AlternativeId, since: Option<Time>, next: Option<Time>) -> String {
        let rule = self.rule(by);
        let next = next.map_or(String::new(), |t| format!(", next at {}", seconds(t)));
        match since {
            Some(since) => format!("it is live: it fired at {} by `{rule}`{next}", seconds(since)),
            None => format!("it is live by `{rule}`, which fires at the next tick{next}"),
        }
    }

    fn stopped(&self, op: OpId, gave: f64, edge: Option<f64>) -> String {
        let name = self.op(op);
        match edge {
            Some(edge) => format!(
                "{} reached `{name}`, which gives 0 up to {}: {} is missing",
                number(gave),
                number(edge),
                number((edge - gave).max(0.0))
            ),
            None => format!("{} reached `{name}`, which made 0 of it", number(gave)),
        }
    }

    fn lost(&self, lost: BindingId, gave: f64, winner: BindingId, with: f64) -> String {
        let why = match self.plan.actions()[self.action].blend {
            Blend::Greatest | Blend::Sum => "is greater",
            Blend::Oldest => "left 0 earlier",
            Blend::Newest => "left 0 later",
            Blend::LastChange => "changed later",
        };
        format!(
            "{} gives {}, but {} {why} and gives {}",
            self.binding(lost),
            number(gave),
            self.binding(winner),
            number(with)
        )
    }

    fn awaits(&self, awaits: &Awaits) -> String {
        match awaits {
            Awaits::Reaching(held, needed, due) => format!(
                "held {} of {}, it fires at {} if it stays down",
                seconds(*held),
                seconds(*needed),
                seconds(*due)
            ),
            Awaits::Charging(held, needed) if held < needed => format!(
                "held {} of {}, let go in {} or later it fires",
                seconds(*held),
                seconds(*needed),
                seconds(needed.since(*held))
            ),
            Awaits::Charging(held, needed) => format!(
                "held {}, longer than {}: it fires when it is let go",
                seconds(*held),
                seconds(*needed)
            ),
            Awaits::LettingGoBy(due) => {
                format!("it fires if it is let go by {}", seconds(*due))
            }
            Awaits::LettingGo => "it fires when it is let go".to_owned(),
            Awaits::Press(count, needed, due) => {
                let due = due.map_or(String::new(), |t| format!(" by {}", seconds(t)));
                format!("press {count} of {needed}, the next has to come{due}")
            }
            Awaits::Guards(guards) => self.guards(guards),
            Awaits::Others(since, others) => format!(
                "it would have fired at {}, and waits until {} has given up",
                seconds(*since),
                self.actions(others)
            ),
            Awaits::Down => "it is not down yet".to_owned(),
        }
    }

    /// What came of an episode.
    pub fn record(&self, record: &EpisodeRecord) -> String {
        let mut text = String::new();
        if let Some((t, by, since)) = record.fires.first() {
            text = match record.fires.len() {
                1 => format!("fired at {} by `{}`", seconds(*t), self.rule(*by)),
                _ => format!("fired from {} on, first by `{}`", seconds(*t), self.rule(*by)),
            };
            let held = t.since(record.woke);
            if held > Time::ZERO && since.is_none() {
                text.push_str(&format!(", {} after it woke", seconds(held)));
            }
            if let Some(since) = since {
                let others = self.plan.actions()[self.action].yields_to.of(self.plan.listed());
                let others = self.actions(others);
                text.push_str(&format!(
                    ", kept since {} until {others} had given up",
                    seconds(*since)
                ));
            }
            text.push_str("; ");
        }
        match (&record.end, &record.ending) {
            (None, _) => text.push_str("still open"),
            (Some((_, cause)), ending) => {
                let end = self.ending(*cause, ending.as_ref(), record);
                let word = cause.word();
                let is_plain = matches!(cause, Cause::Released | Cause::Done);
                text.push_str(&if is_plain { end } else { format!("{word}: {end}") });
            }
        }
        text
    }

    fn ending(&self, cause: Cause, ending: Option<&EndReason>, record: &EpisodeRecord) -> String {
        let plan = self.plan;
        let Some(ending) = ending else {
            return match cause {
                Cause::Done => "the sequence is complete".to_owned(),
                Cause::Paused => "the game was paused".to_owned(),
                Cause::Released => "let go".to_owned(),
                other => format!("it ended ({})", other.word()),
            };
        };
        match ending {
            EndReason::Released(held) => format!("let go after {}", seconds(*held)),
            EndReason::TooShort { held, needed, .. } => format!(
                "held {} of {}: let go {} too early",
                seconds(*held),
                seconds(*needed),
                seconds(needed.since(*held))
            ),
            EndReason::TooLong { limit, held: Some(held), .. } => format!(
                "held {}, where {} is the most: let go {} too late",
                seconds(*held),
                seconds(*limit),
                seconds(held.since(*limit))
            ),
            EndReason::TooLong { limit, held: None, .. } => {
                format!("held for longer than {}", seconds(*limit))
            }
            EndReason::TooLight(peak, down) => format!(
                "it gave {} at most, and is down from {} on: {} was missing",
                number(*peak),
                number(*down),
                number(down - peak)
            ),
            EndReason::Gap { count, needed, limit, late } => {
                let late = too_late(record, *late, *limit);
                format!(
                    "{count} of {needed} presses: the next was not there within {}{late}",
                    seconds(*limit)
                )
            }
            EndReason::StepGap { count, steps, next, limit, late } => {
                let late = too_late(record, *late, *limit);
                format!(
                    "{count} of {steps} steps: {} had not fired within {}{late}",
                    self.name(*next),
                    seconds(*limit)
                )
            }
            EndReason::OutOfOrder(other) => match other {
                Some(other) => format!("{} fired, and was not the next step", self.name(*other)),
                None => "another of its steps fired".to_owned(),
            },
            EndReason::Guard(guards) => self.guards(guards),
            EndReason::Yielded(other, at) => {
                format!("{} had it from {} on", self.name(*other), seconds(*at))
            }
            EndReason::MapOff(map, opened) => {
                let opened = opened.map_or(String::new(), |other| {
                    format!(" as {} opened", plan.names().maps[other])
                });
                format!("its map {} closed{opened}", plan.names().maps[*map])
            }
            EndReason::Claimed(control, by) => {
                format!("{} is claimed by {}", plan.names().controls[*control], self.name(*by))
            }
            EndReason::SchemeOff(to) => {
                format!(
                    "the game narrowed the bindings to the scheme {}",
                    plan.names().schemes[*to]
                )
            }
            EndReason::Stopped => "the run ended".to_owned(),
        }
    }

    /// Why nothing came of presses.
    pub fn miss(&self, miss: &Miss) -> String {
        let control = &self.plan.names().controls[miss.control];
        let status = self.status(&miss.status);
        if status.starts_with(control.as_str()) {
            return status;
        }
        format!("{control}: {status}")
    }

    /// What a moment comes to.
    pub fn moment(&self, story: &Story, moment_at: &Moment) -> String {
        let record = moment_at.episode.and_then(|place| story.episodes.get(place));
        let name = self.name(self.action);
        if let Some(record) = record
            && let Some((end, _)) = record.end.filter(|(t, _)| *t <= moment_at.t)
        {
            let told = self.record(record);
            if end == moment_at.t {
                return format!("{name} ends at this very moment: {told}.");
            }
            let status = self.status(&moment_at.status);
            return format!(
                "{name} is at rest: {status}. Its last episode, {} to {}: {told}.",
                seconds(record.woke),
                seconds(end)
            );
        }
        if let Some(record) = record
            && let Some((t, by, _)) = record.fires.iter().find(|(t, ..)| *t == moment_at.t)
        {
            let after = match t.since(record.woke) {
                Time::ZERO => "as it wakes".to_owned(),
                after => {
                    format!("{} after it woke at {}", seconds(after), seconds(record.woke))
                }
            };
            return format!("{name} fires at this very moment, by `{}`, {after}.", self.rule(*by));
        }
        let status = self.status(&moment_at.status);
        match record {
            Some(record) => format!("{name} woke at {}; {status}.", seconds(record.woke)),
            None => format!("{name} is at rest: {status}."),
        }
    }
}

/// By how much something came too late after an end; much later it was something else.
fn too_late(record: &EpisodeRecord, came: Option<Time>, limit: Time) -> String {
    let end = record.end.map_or(Time::ZERO, |(t, _)| t);
    let late = came.map(|t| t.since(end)).filter(|late| *late <= limit + limit);
    late.map_or(String::new(), |late| format!(", it came {} too late", seconds(late)))
}
