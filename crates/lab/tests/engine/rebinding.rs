//! A plan that takes over while hands are on the old one.

use crate::gate::gate;
use crate::harness::{HEAD, inputs, lines, load};
use crate::interpreter::{Interpreter, Ran};
use crate::properties::{same, told};
use crate::random::{self, Ticks};
use crate::trials::trials;
use harmonym_lab::take::Input;
use harmonym_lang::model::{ActionId, Profile};
use harmonym_runtime::base::{Id, Rate, Seat, Time, Vector};
use harmonym_runtime::engine::{EventKind, Notice, Refused, Start};
use harmonym_runtime::plan::Plan;
use harmonym_runtime::seats::{Seats, Told};
use proptest::prelude::*;
use std::cell::Cell;
use std::sync::Arc;

impl<'a> Interpreter<'a> {
    /// Another profile with the same actions: those whose bindings differ end and begin again.
    pub fn rebind(&mut self, profile: &'a Profile) {
        let texts = |of: &Profile, id: ActionId| -> Vec<_> {
            of.actions[id].bindings.iter().map(|b| (b.text.clone(), b.scheme)).collect()
        };
        let (old, order) = (self.profile, self.order.clone());
        let is_other = |id: &ActionId| texts(old, *id) != texts(profile, *id);
        for id in order.into_iter().filter(is_other) {
            if self.lives(id) {
                self.stop_living(id, "rebound");
            }
        }
        (self.profile, self.inputs.profile) = (profile, profile);
        self.inputs.world.rewire(profile);
        self.rearrange("rebound", true);
    }
}

/// What seats tell, and what their frames read, one after the other.
#[derive(Default)]
struct Log {
    notices: Vec<Notice>,
    values: Vec<(u64, usize, Vector)>,
    /// The inputs after which some episode was open.
    open_after: Vec<usize>,
}

impl Log {
    fn hear(&mut self) -> impl FnMut(Told) {
        |told| self.notices.push(told.notice)
    }

    fn has_open(&self) -> bool {
        let events = self.notices.iter().filter_map(|notice| match notice {
            Notice::Event(event) => Some(event.kind),
            _ => None,
        });
        let (woke, ended) = events.fold((0, 0), |(woke, ended), kind| {
            (woke + u32::from(kind == EventKind::Wake), ended + u32::from(kind.cause().is_some()))
        });
        woke > ended
    }
}

/// What is told when the profile `old` plays the lines of `before`, then `new` those of `after`.
fn exchanged(seats: u8, old: &str, before: &str, new: &str, after: &str) -> String {
    let (_, old) = load(&format!("{HEAD}{old}"));
    let (_, new) = load(&format!("{HEAD}{new}"));
    let mut notices = Vec::new();
    let mut tell = |told: Told| notices.push(told.notice);
    let mut hands = Seats::start(Arc::clone(&old), seats, Start::default(), &mut tell);
    for input in inputs(before, &old) {
        input.give(&mut hands, &mut tell).expect("an input");
    }
    hands.replan(Time::from_millis(500), Arc::clone(&new), &mut tell).expect("the same devices");
    for input in inputs(after, &new) {
        input.give(&mut hands, &mut tell).expect("an input");
    }
    hands.tick(Time::from_millis(2000), &mut tell);
    let taken = notices.iter().position(|one| matches!(one, Notice::Plan { .. }));
    let (of_old, of_new) = notices.split_at(taken.expect("another plan"));
    let log =
        |notices: &[Notice]| crate::harness::Log { notices: notices.into(), ..Default::default() };
    let all = [lines(&old, &log(of_old)), lines(&new, &log(of_new))].concat();
    all.into_iter().filter(|line| !line.contains(" scheme ")).collect::<Vec<_>>().join("\n")
}

fn told_is(told: &str, wanted: &str) {
    let wanted: Vec<&str> = wanted.lines().map(str::trim).collect();
    assert_eq!(told, wanted.join("\n"), "{told}");
}

const A_HELD: &str = "{\"t\":0.1,\"control\":\"key.KeyA\",\"value\":1}";
const A_UP: &str = "{\"t\":0.7,\"control\":\"key.KeyA\",\"value\":0}";

#[test]
fn a_key_that_is_held_while_it_is_bound_counts_only_when_it_is_pressed_anew() {
    let bound = |key: &str| format!("[map.quay.hail]\nvalue = \"switch\"\nbind.desk = \"{key}\"\n");
    let hands = format!("{A_HELD}\n{{\"t\":0.2,\"control\":\"key.KeyB\",\"value\":1}}");
    let after = "{\"t\":0.6,\"control\":\"key.KeyB\",\"value\":0}\n{\"t\":0.8,\"control\":\"key.KeyB\",\"value\":1}";
    told_is(
        &exchanged(1, &bound("key.KeyA"), &hands, &bound("key.KeyB"), after),
        "0.1 #1 hail wake on held 0 from desk#1
         0.1 #1 hail fire on by press held 0 live 0 from desk#1
         0.5 #1 hail rest off rebound held 0.4 live 0.4 from desk#1
         0.5 #1 another plan
         0.8 #1 hail wake on held 0 from desk#1
         0.8 #1 hail fire on by press held 0 live 0 from desk#1",
    );
}

#[test]
fn what_has_other_numbers_only_goes_on_with_them() {
    let with = |numbers: [&str; 3]| {
        let [hold, power, down] = numbers;
        format!(
            "[map.quay.haul]\nvalue = \"axis\"\nfire = \"hold {hold}\"\nlevels = {{ down = {down} }}\n\
             bind.desk = \"key.KeyA | scale {power}\"\n"
        )
    };
    let old = with(["1s", "0.8", "0.5"]);
    // The hold began under the old plan, and keeps its time.
    told_is(
        &exchanged(1, &old, A_HELD, &with(["5s", "0.9", "0.5"]), ""),
        "0.1 #1 haul wake 0.8 held 0 from desk#1
         0.5 #1 another plan
         1.1 #1 haul fire 0.9 by hold 5s held 1 live 0 from desk#1",
    );
    // Under the new level it is let go.
    told_is(
        &exchanged(1, &old, A_HELD, &with(["1s", "0.3", "0.5"]), ""),
        "0.1 #1 haul wake 0.8 held 0 from desk#1
         0.5 #1 another plan
         0.5 #1 haul lapse 0.3 too-short held 0.4 at 0.4 from desk#1",
    );
}

#[test]
fn what_is_gone_ends_and_what_is_new_begins() {
    let old = "[map.quay.hail]\nvalue = \"switch\"\nbind.desk = \"key.KeyA\"\n\
               [map.mill]\nkind = \"layer\"\nstart = true\n\
               [map.mill.grind]\nvalue = \"switch\"\nbind.desk = \"key.KeyB\"\n";
    let new = "[map.sky]\nkind = \"always\"\n\
               [map.sky.bell]\nvalue = \"switch\"\nbind.desk = \"key.KeyB\"\n";
    let hands = format!("{A_HELD}\n{{\"t\":0.2,\"control\":\"key.KeyB\",\"value\":1}}");
    let after = "{\"t\":0.6,\"control\":\"key.KeyB\",\"value\":0}\n{\"t\":0.8,\"control\":\"key.KeyB\",\"value\":1}";
    told_is(
        &exchanged(1, old, &hands, new, after),
        "0.1 #1 hail wake on held 0 from desk#1
         0.1 #1 hail fire on by press held 0 live 0 from desk#1
         0.2 #1 mill.grind wake on held 0 from desk#1
         0.2 #1 mill.grind fire on by press held 0 live 0 from desk#1
         0.5 #1 hail rest off rebound held 0.4 live 0.4 from desk#1
         0.5 #1 mill.grind rest off rebound held 0.3 live 0.3 from desk#1
         0.5 #1 mill closes
         0.5 #1 another plan
         0.8 #1 sky.bell wake on held 0 from desk#1
         0.8 #1 sky.bell fire on by press held 0 live 0 from desk#1",
    );
}

#[test]
fn what_is_bound_anew_in_a_higher_map_claims_its_control_from_lower_ones() {
    let with = |key: &str| {
        format!(
            "[map.quay.hail]\nvalue = \"switch\"\nbind.desk = \"key.KeyA\"\n\
             [map.mill]\nkind = \"layer\"\nstart = true\n\
             [map.mill.grind]\nvalue = \"switch\"\nbind.desk = \"{key}\"\n"
        )
    };
    told_is(
        &exchanged(1, &with("key.KeyB"), A_HELD, &with("key.KeyA"), A_UP),
        "0.1 #1 hail wake on held 0 from desk#1
         0.1 #1 hail fire on by press held 0 live 0 from desk#1
         0.5 #1 another plan
         0.5 #1 hail rest off claimed held 0.4 live 0.4 from desk#1",
    );
}

#[test]
fn a_setting_keeps_what_it_was_set_to_and_is_else_worth_what_the_new_plan_says() {
    let with = |push: &str| {
        format!(
            "[setting.push]\ndefault = {push}\nrange = [0.1, 0.8]\n\
             [map.quay.haul]\nvalue = \"axis\"\nfire = \"change\"\nbind.desk = \"key.KeyA | scale push\"\n"
        )
    };
    told_is(
        &exchanged(1, &with("0.7"), A_HELD, &with("0.6"), ""),
        "0.1 #1 haul wake 0.7 held 0 from desk#1
         0.1 #1 haul fire 0.7 by change held 0 live 0 from desk#1
         0.5 #1 another plan
         0.5 #1 haul fire 0.6 by change held 0.4 live 0.4 from desk#1",
    );
    let set = format!("{{\"t\":0,\"setting\":\"push\",\"value\":0.8}}\n{A_HELD}");
    told_is(
        &exchanged(1, &with("0.7"), &set, &with("0.6"), ""),
        "0.1 #1 haul wake 0.8 held 0 from desk#1
         0.1 #1 haul fire 0.8 by change held 0 live 0 from desk#1
         0.5 #1 another plan",
    );
}

#[test]
fn a_scheme_and_a_solo_map_that_are_no_more_give_way() {
    let old = "scheme.oars.devices = [\"pad\"]\n[map.quay.hail]\nvalue = \"switch\"\nbind.desk = \"key.KeyA\"\n\
               [map.mill]\nkind = \"layer\"\nstart = true\n\
               [map.mill.grind]\nvalue = \"switch\"\nbind.desk = \"key.KeyB\"\n";
    let new = old
        .replace("scheme.oars.devices = [\"pad\"]\n", "")
        .replace("\"layer\"\nstart = true", "\"solo\"");
    let narrowed =
        format!("{{\"t\":0,\"scheme\":\"oars\"}}\n{A_HELD}\n{{\"t\":0.2,\"open\":\"quay\"}}");
    // All schemes count again, so what is held does; of two solo maps the one opened later stays.
    told_is(
        &exchanged(1, old, &narrowed, &new, ""),
        "0.5 #1 hail wake on held 0 from desk#1
         0.5 #1 hail fire on by press held 0 live 0 from desk#1
         0.5 #1 another plan
         0.5 #1 quay closes
         0.5 #1 hail rest off map-off held 0 live 0 from desk#1",
    );
}

#[test]
fn seats_change_plans_together_and_keep_their_devices() {
    let bound = |key: &str| {
        format!(
            "[map.quay.hail]\nvalue = \"switch\"\nbind.desk = \"{key}\"\nbind.pad = \"pad.south\"\n"
        )
    };
    let hands = format!("{A_HELD}\n{{\"t\":0.2,\"control\":\"pad.south\",\"value\":1}}");
    let after = "{\"t\":0.6,\"control\":\"pad.south\",\"value\":0}\n{\"t\":0.7,\"control\":\"pad.south\",\"value\":1}\n{\"t\":0.8,\"control\":\"key.KeyB\",\"value\":1}";
    let told = exchanged(2, &bound("key.KeyA"), &hands, &bound("key.KeyB"), after);
    let only = told.lines().filter(|line| !line.contains(" there ") && !line.contains("given"));
    told_is(
        &only.collect::<Vec<_>>().join("\n"),
        "0.1 #1 hail wake on held 0 from desk#1
         0.1 #1 hail fire on by press held 0 live 0 from desk#1
         0.2 #1 hail wake on held 0 from pad#1
         0.2 #1 hail fire on by press held 0 live 0 from pad#1
         0.5 #1 hail rest off rebound held 0.4 live 0.4 from desk#1
         0.5 #1 hail rest off rebound held 0.3 live 0.3 from pad#1
         0.5 #1 another plan
         0.7 #1 hail wake on held 0 from pad#1
         0.7 #1 hail fire on by press held 0 live 0 from pad#1
         0.8 #1 hail wake on held 0 from desk#1
         0.8 #1 hail fire on by press held 0 live 0 from desk#1",
    );
}

#[test]
fn a_plan_for_other_controls_is_refused_and_nothing_changes() {
    let (_, plan) = load(HEAD);
    let (_, other) = load(
        &HEAD
            .replace("tap = \"button\" }\n", "tap = \"lever\" }\n")
            .replace(", tap = \"pad.south\"", ""),
    );
    let mut told = Vec::new();
    let mut seats = Seats::start(plan, 2, Start::default(), &mut |one| told.push(one));
    let done = seats.replan(Time::ZERO, other, &mut |one| told.push(one));
    assert_eq!(done, Err(Refused::OtherControls));
    assert_eq!(told, []);
}

/// Plays inputs up to the tick after the last, with another plan from right after the input of a number on.
fn play(plan: &Arc<Plan>, inputs: &[Input], rate: Rate, after: Option<(usize, &Arc<Plan>)>) -> Log {
    let mut log = Log::default();
    let mut seats = Seats::start(Arc::clone(plan), 1, Start::default(), &mut log.hear());
    let tick = |seats: &mut Seats, log: &mut Log| {
        seats.tick(rate.tick(seats.ticks() + 1), &mut log.hear());
        let frame = seats.frame(Seat::FIRST);
        let read = frame.changed().map(|id| (frame.ticks(), id.index(), frame.value(id)));
        log.values.extend(read);
    };
    for (number, input) in inputs.iter().enumerate() {
        while rate.tick(seats.ticks() + 1) < input.t {
            tick(&mut seats, &mut log);
        }
        input.give(&mut seats, &mut log.hear()).expect("an input");
        if log.has_open() {
            log.open_after.push(number);
        }
        if let Some((_, plan)) = after.filter(|(after, _)| *after == number) {
            seats.replan(input.t, Arc::clone(plan), &mut log.hear()).expect("the same devices");
        }
    }
    tick(&mut seats, &mut log);
    log
}

/// Controls that may take each other's place.
const ALIKE: [&[&str]; 3] = [
    &["key.KeyA", "key.KeyB", "key.KeyC", "key.KeyD", "pad.south", "pad.east"],
    &["pad.left-stick", "pad.right-stick"],
    &["pad.left-trigger", "pad.right-trigger"],
];

/// A profile with a control of its bindings exchanged for another, in most of them.
fn rebound(profile: &str, seed: u64) -> String {
    let binds: Vec<&str> = profile.lines().filter(|line| line.starts_with("bind")).collect();
    let all = ALIKE.iter().flat_map(|alike| alike.iter().map(move |control| (alike, control)));
    let bound = all.filter(|(_, control)| binds.iter().any(|line| line.contains(**control)));
    let bound: Vec<_> = bound.collect();
    let Some((alike, old)) = bound.get(seed as usize % bound.len().max(1)) else {
        return profile.to_owned();
    };
    let new = alike[(seed / 7) as usize % alike.len()];
    let lines = profile.lines().enumerate().map(|(number, line)| {
        let takes = line.starts_with("bind") && !(seed + number as u64).is_multiple_of(4);
        if takes { line.replace(**old, new) } else { line.to_owned() }
    });
    lines.map(|line| format!("{line}\n")).collect()
}

fn seed(text: &str) -> u64 {
    text.bytes().fold(7, |sum, byte| (sum ^ u64::from(byte)).wrapping_mul(0x100_0000_01b3))
}

/// Engine and interpreter with an exchange of bindings somewhere in the hands.
/// Counts what it ended.
fn compare(text: &str, take: &str, rate: u64, ended: &Cell<usize>) -> Result<(), String> {
    let (model, plan) = load(text);
    let inputs = inputs(take, &plan);
    let chance = seed(text) ^ seed(take);
    let other = rebound(text, chance >> 9);
    let Ok((other_model, other)) =
        harmonym_lang::load(&harmonym_lang::source::Source::new("p", other.as_str()))
    else {
        return Ok(());
    };
    let Some(last) = inputs.last() else { return Ok(()) };
    let per_second = Rate::parse(&rate.to_string()).expect("a rate");
    // Where something is under way, if anything ever is.
    let open_after = play(&plan, &inputs, per_second, None).open_after;
    let all = if open_after.is_empty() { (0..inputs.len()).collect() } else { open_after };
    let number = all[(chance >> 3) as usize % all.len()];
    let log = play(&plan, &inputs, per_second, Some((number, &Arc::new(other))));
    let Ran { told: slow, .. } =
        Interpreter::run_and_rebind(&model, &inputs, rate, Some((number, &other_model)));
    let events = log.notices.iter().filter_map(|notice| match notice {
        Notice::Event(event) => Some(told(&plan, event)),
        _ => None,
    });
    let fast: Vec<_> = events.collect();
    let rebound = fast.iter().filter(|event| event.what.ends_with("rebound")).count();
    ended.set(ended.get() + rebound);
    // What comes at and after the tick at the last input is not played here.
    let is_in = |t: u64| t < last.t.nanos();
    let fast: Vec<_> = fast.into_iter().filter(|event| is_in(event.t)).collect();
    let slow: Vec<_> = slow.into_iter().filter(|event| is_in(event.t)).collect();
    for i in 0..fast.len().max(slow.len()) {
        let (a, b) = (fast.get(i), slow.get(i));
        if !a.zip(b).is_some_and(|(a, b)| same(a, b)) {
            return Err(format!("after input {number}:\nengine      {a:?}\ninterpreter {b:?}"));
        }
    }
    Ok(())
}

#[test]
fn what_is_rebound_agrees_with_the_slow_interpreter() {
    let ended = Cell::new(0);
    trials(256, Ticks::With, |profile, take, rate| compare(profile, take, rate, &ended));
    assert!(ended.get() > 15, "{}", ended.get());
}

proptest! {
    #![proptest_config(gate(256))]

    #[test]
    fn a_plan_that_is_the_same_changes_nothing(
        profile in random::profile(Ticks::With),
        take in random::take(),
        at in any::<prop::sample::Index>(),
    ) {
        let (_, plan) = load(&profile);
        let (_, again) = load(&profile);
        let inputs = inputs(&take, &plan);
        prop_assume!(!inputs.is_empty());
        let rate = Rate::DEFAULT;
        let once = play(&plan, &inputs, rate, None);
        let mut twice = play(&plan, &inputs, rate, Some((at.index(inputs.len()), &again)));
        twice.notices.retain(|notice| !matches!(notice, Notice::Plan { .. }));
        prop_assert_eq!(once.notices, twice.notices);
        prop_assert_eq!(once.values, twice.values);
    }
}
