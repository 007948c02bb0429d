//! What holds of every profile and all hands.

use crate::gate::gate;
use crate::harness::{Log, inputs, load, run};
use crate::interpreter::{Interpreter, Ran, Told};
use crate::random::{self, Ticks};
use crate::readings::same_readings;
use crate::trials::trials;
use harmonym_lab::score;
use harmonym_lab::take::{Input, What};
use harmonym_lang::source::Source;
use harmonym_runtime::base::{Contact, Id, Time, Vector};
use harmonym_runtime::engine::{Cause, Event, EventKind, Notice, Start};
use harmonym_runtime::plan::{Cue, Plan};
use harmonym_runtime::seats::Seats;
use proptest::prelude::*;
use std::collections::BTreeMap;

fn events(log: &Log) -> Vec<Event> {
    let only = log.notices.iter().filter_map(|notice| match notice {
        Notice::Event(event) => Some(*event),
        _ => None,
    });
    only.collect()
}

pub fn told(plan: &Plan, event: &Event) -> Told {
    let what = match event.kind {
        EventKind::Fire(by, since) => {
            let kept = since.map_or(String::new(), |since| format!(" since {}", since.nanos()));
            format!("fire by {}{kept}", plan.names().alternatives[by])
        }
        EventKind::Wake => "wake".to_owned(),
        EventKind::Lapse(cause) => format!("lapse {}", cause.word()),
        EventKind::Rest(cause) => format!("rest {}", cause.word()),
    };
    Told {
        t: event.t.nanos(),
        tick: event.tick,
        action: plan.names().actions[event.action].clone(),
        what,
        value: event.value.xyz(),
        held: Time::from(event.held).nanos(),
        fired_for: event.fired_for.map(|d| Time::from(d).nanos()),
        progress: event.progress,
        from: event.from.map(|b| plan.names().bindings[b].clone()),
    }
}

pub fn same(a: &Told, b: &Told) -> bool {
    // A root makes a rounding of 1e-16 one of 1e-8.
    let near = |a: f64, b: f64| (a - b).abs() <= 1e-7;
    let rounded = Told { value: b.value, progress: b.progress, ..a.clone() };
    (0..3).all(|i| near(a.value[i], b.value[i])) && near(a.progress, b.progress) && rounded == *b
}

/// Whether an expectation of this event is one that can be met.
fn is_possible(plan: &Plan, event: &Event) -> bool {
    let name = &plan.names().actions[event.action];
    let expected = match event.kind {
        EventKind::Fire(by, _) => format!("fires by \"{}\"", plan.names().alternatives[by]),
        EventKind::Lapse(cause) => format!("lapses because {}", cause.word()),
        EventKind::Rest(cause) => format!("rests because {}", cause.word()),
        EventKind::Wake => return true,
    };
    let score = score::read(&Source::new("a", format!("expect {name} {expected}\n")), plan);
    score.is_ok_and(|score| score::impossible(plan, &score.expectations[0]).is_none())
}

/// What the engine and the interpreter tell, side by side where it is not the same.
pub fn compare(profile: &str, take: &str, rate: u64) -> Result<(), String> {
    let (model, plan) = load(profile);
    let inputs = inputs(take, &plan);
    let (log, last) = run(&plan, &inputs, &rate.to_string());
    let Ran { told: slow, last: slow_last, read } = Interpreter::run(&model, &inputs, rate);
    // A sum of ticks whose lengths differ by a nanosecond sets what follows it moving, or not, by
    // its last bit: such a run may be found at rest some ticks earlier or later.
    let flickers =
        profile.contains("travel") && (profile.contains("ease") || profile.contains("smooth"));
    let (mut fast, mut slow): (Vec<_>, Vec<_>) =
        (events(&log).iter().map(|e| told(&plan, e)).collect(), slow);
    if flickers && last != slow_last {
        let end = last.min(slow_last);
        fast.retain(|event| event.tick < end);
        slow.retain(|event| event.tick < end);
    }
    let told = log.notices.iter().filter_map(|notice| match notice {
        Notice::Scheme { t, scheme, .. } => Some((*t, *scheme)),
        _ => None,
    });
    let (told, found) = (told.collect::<Vec<_>>(), crate::in_use::schemes(&model, &inputs));
    if told != found {
        return Err(format!("the engine uses the schemes {told:?}, it should be {found:?}"));
    }
    if let Some(event) = events(&log).iter().find(|event| !is_possible(&plan, event)) {
        return Err(format!("it happened, and is said never to: {event:?}"));
    }
    let longest = fast.len().max(slow.len());
    let pair = |i: usize| (fast.get(i), slow.get(i));
    for (a, b) in (0..longest).map(pair) {
        if !a.zip(b).is_some_and(|(a, b)| same(a, b)) {
            return Err(format!("engine      {a:?}\ninterpreter {b:?}"));
        }
    }
    match last == slow_last {
        true => same_readings(&plan, &model, &log, &read),
        false if flickers => Ok(()),
        false => Err(format!("the engine ends at tick {last}, the interpreter at {slow_last}")),
    }
}

#[test]
fn the_engine_agrees_with_the_slow_interpreter() {
    trials(256, Ticks::With, compare);
}

proptest! {
    #![proptest_config(gate(256))]

    #[test]
    fn every_wake_has_one_end_and_time_never_goes_back(
        profile in random::profile(Ticks::With),
        take in random::take(),
    ) {
        let (_, plan) = load(&profile);
        let (log, _) = run(&plan, &inputs(&take, &plan), "60");
        let mut open: BTreeMap<usize, bool> = BTreeMap::new();
        let mut last = (0, 0);
        for event in events(&log) {
            prop_assert!((event.t.nanos(), event.tick) >= last, "time goes back");
            last = (event.t.nanos(), event.tick);
            prop_assert!(event.value.components().iter().all(|c| c.is_finite()));
            let action = event.action.index();
            let fired = open.get(&action).copied();
            match event.kind {
                EventKind::Wake => prop_assert!(open.insert(action, false).is_none()),
                EventKind::Fire(..) => prop_assert!(open.insert(action, true).is_some()),
                EventKind::Lapse(_) => prop_assert_eq!(fired, Some(false)),
                EventKind::Rest(_) => prop_assert_eq!(fired, Some(true)),
            }
            if event.kind.cause().is_some() {
                open.remove(&action);
            }
        }
        prop_assert!(open.is_empty(), "an episode has no end");
    }

    #[test]
    fn episodes_do_not_depend_on_the_tick_rate(
        profile in random::profile(Ticks::Without),
        take in random::take(),
    ) {
        // What tells values at ticks, or follows what does, may follow the rate.
        prop_assume!(!profile.contains("change") && !profile.contains("sequence"));
        let (_, plan) = load(&profile);
        let inputs = inputs(&take, &plan);
        let end = inputs.last().map_or(0, |r| r.t.nanos());
        // Fires and forced ends of `while`, and what comes after the last input, follow the rate.
        let stays = |event: &Event| {
            let has_while = plan.actions()[event.action]
                .alternatives
                .iter()
                .any(|id| plan.alternatives()[id].cue == Cue::While);
            let by_while = matches!(event.kind, EventKind::Fire(by, _)
                if plan.alternatives()[by].cue == Cue::While);
            let is_last = event.kind.cause() == Some(Cause::Stopped);
            let follows_ticks = by_while || is_last || (has_while && event.kind.is_forced());
            !follows_ticks && event.t.nanos() <= end
        };
        let at = |rate: &str| -> Vec<_> {
            let (log, _) = run(&plan, &inputs, rate);
            let kept = events(&log).into_iter().filter(|e| stays(e));
            kept.map(|e| (e.t, e.action, told(&plan, &e).what)).collect()
        };
        let sixty = at("60");
        prop_assert_eq!(&at("20"), &sixty);
        prop_assert_eq!(&at("144"), &sixty);
        prop_assert_eq!(&at("1000"), &sixty);
    }

    #[test]
    fn everything_let_go_is_at_rest(profile in random::profile(Ticks::With), take in random::take()) {
        // These turn 0 into something else.
        prop_assume!(!["not", "toggle", "remap"].iter().any(|step| profile.contains(step)));
        let (_, plan) = load(&profile);
        let mut inputs = inputs(&take, &plan);
        let last = inputs.last().map_or_else(Default::default, |r| r.t);
        for control in plan.controls().ids() {
            for device in 0..2 {
                let contact = Contact { control, device };
                inputs.push(Input { t: last, what: What::Report(contact, Vector::ZERO) });
            }
        }
        // Time enough.
        let quiet = What::Report(Contact::first(plan.controls().ids().next().unwrap()), Vector::ZERO);
        inputs.push(Input { t: last + Time::from_millis(2000), what: quiet });
        let (log, _) = run(&plan, &inputs, "60");
        let stopped = events(&log).iter().any(|e| e.kind.cause().map(Cause::word) == Some("stopped"));
        prop_assert!(!stopped, "\n{profile}\n{take}");
        let mut shown: BTreeMap<usize, Vector> = BTreeMap::new();
        shown.extend(log.values.iter().flat_map(|(_, _, values)| values.iter().copied()));
        prop_assert!(shown.values().all(|v| *v == Vector::ZERO), "{shown:?}");
    }
}

#[test]
fn the_same_hands_give_the_same_bits_run_after_run_and_after_a_reset() {
    use proptest::strategy::{Strategy, ValueTree};
    use proptest::test_runner::TestRunner;
    let mut runner = TestRunner::deterministic();
    for _ in 0..50 {
        let text = random::profile(Ticks::With).new_tree(&mut runner).unwrap().current();
        let take = random::take().new_tree(&mut runner).unwrap().current();
        let (_, plan) = load(&text);
        let inputs = inputs(&take, &plan);
        let mut seats = Seats::start(plan, 1, Start::default(), &mut |_| {});
        let mut play = || {
            let mut bits = Vec::new();
            let mut tell = |told: harmonym_runtime::Told| bits.push(format!("{told:?}"));
            seats.restart(Start::default(), &mut tell);
            for input in &inputs {
                input.give(&mut seats, &mut tell).unwrap();
            }
            seats.tick(Time::from_millis(20_000), &mut tell);
            seats.stop(&mut tell);
            bits
        };
        assert_eq!(play(), play(), "{text}\n{take}");
    }
}
