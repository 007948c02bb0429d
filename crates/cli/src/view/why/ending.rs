//! What came of episodes, presses and moments, as sentences.

use super::sentence::{Words, number, seconds};
use harmonym_lab::explain::{
    Blocked, EndReason, EpisodeRecord, Miss, Moment, Mover, Status, Story,
};
use harmonym_runtime::base::Time;
use harmonym_runtime::engine::Cause;

impl Words<'_> {
    /// What came of an episode.
    pub fn record(&self, record: &EpisodeRecord) -> String {
        let mut text = self.began(record);
        if let Some((t, by, since)) = record.fires.first() {
            text.push_str(&match record.fires.len() {
                1 => format!("fired at {} by `{}`", seconds(*t), self.rule(*by)),
                _ => format!("fired from {} on, first by `{}`", seconds(*t), self.rule(*by)),
            });
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
        if let Some((held, needed)) = record.short_of {
            let (held, needed) = (seconds(held), seconds(needed));
            text.push_str(&format!("; it had been down {held} of the {needed} that it takes"));
        }
        if let Some((control, far)) = record.drift {
            text.push_str(&format!(
                "; {} reported {} at most, which may be nobody's hand: a `deadzone` over that leaves it out",
                self.plan.names().controls[control],
                number(far)
            ));
        }
        text
    }

    /// What woke it, where that was no press.
    fn began(&self, record: &EpisodeRecord) -> String {
        let Some(by) = &record.began else { return String::new() };
        let carries = self.plan.actions()[self.action].carry;
        let held = match by {
            Mover::Map(_, _, Some(control)) if carries => format!(
                ": {} was held and counts at once (carry)",
                self.plan.names().controls[*control]
            ),
            Mover::Map(_, _, Some(control)) => {
                format!(", with {} held", self.plan.names().controls[*control])
            }
            Mover::LetGo(_)
            | Mover::HolderLetGo(_)
            | Mover::Map(..)
            | Mover::Paused(_)
            | Mover::Narrowed(_)
            | Mover::Number(..) => String::new(),
            _ => return String::new(),
        };
        format!("woke as {}{held}; ", self.mover(by))
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
            EndReason::Released { held, up } => match up {
                Some(Mover::LetGo(_)) => format!("let go after {}", seconds(*held)),
                Some(up) => format!("came up after {}: {}", seconds(*held), self.mover(up)),
                None => format!("came up after {}", seconds(*held)),
            },
            EndReason::TooShort { held, needed, up, .. } => {
                let short = seconds(needed.since(*held));
                let (held, needed) = (seconds(*held), seconds(*needed));
                match up {
                    Some(Mover::LetGo(_)) => {
                        format!("held {held} of {needed}: let go {short} too early")
                    }
                    Some(up) => {
                        format!("held {held} of {needed}, {short} too short: {}", self.mover(up))
                    }
                    None => format!("held {held} of {needed}, {short} too short"),
                }
            }
            EndReason::TooLong { limit, held: Some(held), up, .. } => {
                let late = seconds(held.since(*limit));
                let (held, limit) = (seconds(*held), seconds(*limit));
                let how = match up {
                    Some(Mover::LetGo(_)) | None => "let go".to_owned(),
                    Some(up) => self.mover(up),
                };
                format!("held {held}, where {limit} is the most: {how} {late} too late")
            }
            EndReason::TooLong { limit, held: None, .. } => {
                format!("held for longer than {}", seconds(*limit))
            }
            EndReason::Unplugged(by) => self.mover(by),
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
            EndReason::Guard(guards) => {
                let all = guards.iter().map(|(guard, since)| self.guard(*guard, *since));
                all.collect::<Vec<_>>().join(", ")
            }
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
                let by = self.name(plan.bindings()[*by].action);
                format!("{} is claimed by {by}", plan.names().controls[*control])
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

    /// Why nothing came of presses: one reason, or one after the other.
    pub fn miss(&self, miss: &Miss) -> String {
        let control = &self.plan.names().controls[miss.control];
        let last = miss.phases.len().saturating_sub(1);
        let phases = miss.phases.iter().enumerate().map(|(place, phase)| {
            let until = (place < last).then_some(phase.to);
            self.phase(&phase.status, until)
        });
        let text = phases.collect::<Vec<_>>().join("; then ");
        match text.contains(&**control) {
            true => text,
            false => format!("{control}: {text}"),
        }
    }

    /// A reason, until something else became one.
    fn phase(&self, status: &Status, until: Option<Time>) -> String {
        let Some(until) = until.map(seconds) else { return self.status(status) };
        let names = self.plan.names();
        match status {
            Status::Closed { .. } => {
                let homes = self.plan.actions()[self.action].maps.of(self.plan.listed_maps());
                let homes: Vec<_> = homes.iter().map(|&map| names.maps[map].as_str()).collect();
                format!("its map {} was closed until {until}", homes.join(" and "))
            }
            Status::Paused(_) => {
                format!("the game was paused until {until}, and it has no in-pause")
            }
            Status::Blocked(control, Blocked::Claimed(by, since)) => {
                let by = self.name(self.plan.bindings()[*by].action);
                let since = since.map_or(String::new(), |t| format!("from {} ", seconds(t)));
                format!("{} was claimed by {by} {since}until {until}", names.controls[*control])
            }
            other => format!("until {until} {}", self.status(other)),
        }
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
