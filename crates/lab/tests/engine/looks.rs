//! Values that move on their own: each kind of them for which looks may be left out or put off, and each
//! for which they may not, with hands that change them often.

use crate::harness::load;
use crate::properties::compare;
use crate::random::timed;
use crate::trials::trials_of;
use harmonym_runtime::{Contact, Engine, EpisodeState, Rate, Start, Time, Vector};
use proptest::prelude::*;
use std::fmt::Write as _;

const HEAD: &str = "harmonym = 1\nscheme.desk.devices = [\"key\", \"mouse\"]\n\
                    scheme.pad.devices = [\"pad\"]\nsetting.push.default = 1\nfact.calm = {}\n\
                    map.quay.start = true\nmap.book.kind = \"layer\"\n\
                    [map.book.turn]\nvalue = \"switch\"\nclaim = true\nbind.desk = \"key.KeyC\"\n\
                    [map.quay.grip]\nvalue = \"switch\"\nbind.desk = \"key.KeyB + key.KeyA\"\n\
                    [map.quay.ring]\nvalue = \"switch\"\nbind.desk = \"key.KeyB\"\nfire = \"hold 0.05s\"\n";

/// What moves; speeds reach no level on a whole millisecond, where a rounding would tell on which.
const MOVES: &[&str] = &[
    "bind.desk = \"pair(key.KeyA, key.KeyC) | ease rise=4.1/s fall=2.53/s\"",
    "bind.desk = \"pair(key.KeyA, key.KeyC)\"\nshape = \"ease rise=4.1/s fall=2.53/s\"",
    "bind.desk = \"key.KeyA | smooth 43ms\"",
    "bind.desk = \"key.KeyA\"\nbind.pad = \"pad.left-trigger\"\nshape = \"smooth 43ms\"",
    "bind.desk = \"mouse.wheel.up | ease rise=4.1/s\"",
    "bind.desk = [\"key.KeyC\", \"key.KeyA\"]\nshape = \"ease rise=9.1/s\"",
    "bind.desk = \"(key.KeyB + key.KeyA) | ease rise=2.03/s\"",
    // From one side to the other between two looks.
    "bind.desk = \"pair(key.KeyA, key.KeyC, opposed=pos) | ease rise=1700/s\"",
    // Two things move.
    "bind.desk = \"pair(key.KeyA, key.KeyC) | ease rise=6.1/s\"\nshape = \"ease rise=3.1/s fall=9.3/s\"",
    "bind.desk = \"key.KeyA | smooth 70ms\"\nshape = \"smooth 43ms\"",
    // Of several bindings one moves.
    "bind.desk = [\"key.KeyC\", \"key.KeyA | ease rise=4.1/s fall=2.53/s\"]",
    "bind.desk = [\"key.KeyA | ease rise=4.1/s\", \"key.KeyC\"]\nblend = \"sum\"",
    "bind.desk = [\"key.KeyC | scale 0.5\", \"key.KeyA | ease rise=2.03/s\"]\nblend = \"newest\"",
    // A condition passes the step by.
    "bind.desk = \"key.KeyA | ease rise=2.03/s unless calm\"",
    "bind.desk = \"key.KeyA\"\nshape = \"smooth 90ms when calm\"",
    // It jumps.
    "bind.desk = \"pair(key.KeyA, key.KeyC) | ease rise=2.03/s reverse=cut\"",
    // A step after it.
    "bind.desk = \"key.KeyA | ease rise=2.03/s | curve 2\"",
    "bind.desk = \"key.KeyA\"\nshape = \"ease rise=2.03/s | scale push\"",
    // Part of a `+`.
    "bind.desk = \"key.KeyB + (key.KeyA | ease rise=2.03/s)\"",
    "bind.desk = \"key.KeyB + key.KeyA\"\nshape = \"ease rise=2.03/s\"",
    // It reads another that moves.
    "bind.desk = \"act.other | ease rise=6.1/s\"",
    "bind.desk = \"pair(key.KeyC, act.other)\"\nshape = \"ease rise=3.1/s\"",
    "bind.desk = \"pair(key.KeyC, act.other)\"",
];

const RULES: &[&str] = &[
    "press",
    "release",
    "while",
    "change",
    "hold 0.05s",
    "tap 0.15s",
    "charge 0.07s",
    "taps 2 gap=0.2s",
    "repeat 0.04s",
    "press when calm",
    "change with ring",
    "while without ring",
    "press with other",
];

const LEVELS: &[&str] = &[
    "",
    "",
    "levels = { wake = 0.3, down = 0.85, up = 0.25 }\n",
    "levels = { wake = 0.1, down = 0.1, up = 0.05 }\n",
    // Where hands push to.
    "levels = { wake = 0.3, down = 0.6, up = 0.2 }\n",
    "claim = true\n",
    "carry = true\n",
    "yields-to = [\"ring\"]\n",
];

fn of(words: &'static [&'static str]) -> impl Strategy<Value = &'static str> {
    prop::sample::select(words)
}

fn profile() -> impl Strategy<Value = String> {
    let action = || (of(MOVES), of(RULES), of(LEVELS), of(&["axis", "switch", "axis"]));
    (action(), action()).prop_map(|(own, other)| {
        let mut text = HEAD.to_owned();
        for (name, (moves, rule, levels, kind)) in [("other", other), ("own", own)] {
            let apart = name == "own" || !(moves.contains("other") || rule.contains("other"));
            let (moves, rule) = if apart { (moves, rule) } else { (MOVES[0], RULES[0]) };
            let _ = write!(
                text,
                "[map.quay.{name}]\nvalue = \"{kind}\"\n{moves}\nfire = \"{rule}\"\n{levels}"
            );
        }
        text
    })
}

fn take() -> impl Strategy<Value = String> {
    let key = (of(&["KeyA", "KeyA", "KeyB", "KeyC"]), 0..2)
        .prop_map(|(key, on)| format!("\"control\":\"key.{key}\",\"value\":{on}"));
    let lever = of(&["0", "0.2", "0.3", "0.6", "0.85", "1"])
        .prop_map(|value| format!("\"control\":\"pad.left-trigger\",\"value\":{value}"));
    let game = of(&[
        "\"fact\":\"calm\",\"value\":1",
        "\"fact\":\"calm\",\"value\":0",
        "\"setting\":\"push\",\"value\":0.5",
        "\"setting\":\"push\",\"value\":2",
        "\"open\":\"book\"",
        "\"close\":\"book\"",
        "\"pause\":true",
        "\"pause\":false",
        "\"scheme\":\"pad\"",
        "\"scheme\":null",
        "\"control\":\"mouse.wheel\",\"by\":[0,1]",
    ]);
    let line = prop_oneof![6 => key, 1 => lever, 2 => game.prop_map(str::to_owned)];
    let steps: &[u64] =
        &[0, 1, 1_000_000, 7_000_000, 16_666_666, 33_300_000, 90_000_000, 240_000_001];
    timed(steps, line, 1..40)
}

#[test]
fn each_of_what_moves_is_sound() {
    for moves in MOVES {
        let other = format!("[map.quay.other]\nvalue = \"axis\"\n{}\n", MOVES[0]);
        load(&format!("{HEAD}{other}[map.quay.own]\nvalue = \"axis\"\n{moves}\n"));
    }
}

#[test]
fn looks_left_out_find_what_every_look_finds() {
    trials_of(192, &(profile(), take()), compare);
}

#[test]
fn what_jumps_carries_the_value_of_the_look_before() {
    let profile = format!(
        "{HEAD}[map.quay.own]\nvalue = \"axis\"\nfire = \"release\"\n\
         bind.desk = \"key.KeyA | ease rise=2.03/s unless calm\"\n\
         [map.quay.cut]\nvalue = \"axis\"\nfire = \"release\"\n\
         bind.desk = \"pair(key.KeyX, key.KeyA) | ease rise=2.03/s reverse=cut\"\n"
    );
    let key = |t: &str, key: &str, on: u8| {
        format!("{{\"t\":{t},\"control\":\"key.{key}\",\"value\":{on}}}\n")
    };
    let take = key("0.1", "KeyA", 1)
        + &key("0.9", "KeyA", 0)
        + &key("1.0334", "KeyX", 1)
        + "{\"t\":1.1007,\"fact\":\"calm\",\"value\":1}\n";
    for rate in [20, 60, 144] {
        assert_eq!(compare(&profile, &take, rate), Ok(()));
    }
}

/// Steps of a stick whose length reaches a level on a whole millisecond, to the last bit.
#[test]
fn a_length_that_is_a_level_to_the_last_bit_is_met_at_the_same_look() {
    for speed in [20, 30, 50, 100, 150] {
        for (x, y) in (1..=10).flat_map(|x| (1..=10).map(move |y| (x, y))) {
            let profile = format!(
                "{HEAD}[map.quay.own]\nvalue = \"plane\"\n\
                 levels = {{ wake = 0.3, down = 0.6, up = 0.3 }}\n\
                 bind.pad = \"pad.right-stick | ease rise={speed}/s fall={speed}/s\"\n"
            );
            let hands = |t: f64, x: i32, y: i32| {
                format!("{{\"t\":{t},\"control\":\"pad.right-stick\",\"value\":[{x}e-1,{y}e-1]}}\n")
            };
            let take = hands(0.1, x, y) + &hands(0.5, 0, 0);
            assert_eq!(compare(&profile, &take, 60), Ok(()), "{speed}/s to {x}, {y}");
        }
    }
}

#[test]
fn what_is_not_read_of_a_control_crosses_no_level() {
    for reads in ["pad.right-stick.x", "pad.right-stick.right"] {
        for more in ["", ", \"pad#2.right-stick.x\""] {
            let profile = format!(
                "{HEAD}[map.quay.own]\nvalue = \"axis\"\nfire = \"hold 0.05s\"\n\
                 bind.pad = [\"{reads} | ease rise=9.13/s\"{more}]\n"
            );
            let mut take = String::new();
            for (step, t) in (0..900).map(|step| (step, 100_000_000 + step * 370_007)) {
                let (seconds, y) = (t as f64 / 1e9, step % 7);
                let x = u8::from(step < 500);
                let _ = writeln!(
                    take,
                    "{{\"t\":{seconds},\"control\":\"pad.right-stick\",\"value\":[{x},0.{y}]}}"
                );
            }
            assert_eq!(compare(&profile, &take, 60), Ok(()), "{reads}{more}");
        }
    }
}

#[test]
fn what_reads_another_that_moves_crosses_no_level_at_a_report_of_something_else() {
    for steps in ["smooth 0.02s", "ease rise=9.13/s fall=5.03/s"] {
        let profile = format!(
            "{HEAD}[map.quay.own]\nvalue = \"plane\"\nbind.pad = \"pad.right-stick | {steps}\"\n\
             [map.quay.far]\nvalue = \"plane\"\nbind.pad = \"act.own\"\nfire = \"press\"\n\
             [map.quay.farther]\nvalue = \"axis\"\nbind.pad = \"act.far | pick x\"\nfire = \"press\"\n"
        );
        let mut take = String::new();
        for step in 0..500 {
            let t = (100_000_000 + step * 370_007) as f64 / 1e9;
            let (control, value) = match step {
                0 => ("pad.right-stick", "[0.8,0.3]"),
                260 => ("pad.right-stick", "[0.05,0.11]"),
                _ => ("key.ShiftRight", ["0", "1"][step % 2]),
            };
            let _ = writeln!(take, "{{\"t\":{t},\"control\":\"{control}\",\"value\":{value}}}");
        }
        assert_eq!(compare(&profile, &take, 60), Ok(()), "{steps}");
    }
}

#[test]
fn what_arrived_since_the_last_tick_is_told_at_the_next_one() {
    let profile = format!(
        "{HEAD}[map.quay.own]\nvalue = \"axis\"\nfire = \"change\"\n\
         bind.desk = [\"key.KeyX\", \"key.KeyA\"]\nshape = \"ease rise=9.1/s\"\n"
    );
    let down =
        |t: &str, key: &str| format!("{{\"t\":{t},\"control\":\"key.{key}\",\"value\":1}}\n");
    // It is there from 0.12 s on; the tick is at 0.15 s. The last press is hidden from it.
    let take = down("0.01", "KeyX") + &down("0.105", "KeyB") + &down("0.13", "KeyA");
    for rule in ["change", "change with own2", "change without ring"] {
        let profile = profile.replace("\"change\"", &format!("\"{rule}\""))
            + "[map.quay.own2]\nvalue = \"switch\"\nbind.desk = \"key.KeyX\"\n";
        assert_eq!(compare(&profile, &take, 20), Ok(()), "{rule}");
    }
}

#[test]
fn what_a_step_gave_can_be_seen_also_where_looks_are_left_out() {
    for moves in [&MOVES[0], &MOVES[1], &MOVES[2]] {
        let (_, plan) = load(&format!("{HEAD}[map.quay.own]\nvalue = \"axis\"\n{moves}\n"));
        let own = plan.find_action("quay.own").expect("an action");
        let spec = &plan.actions()[own];
        let ops = plan.bindings()[spec.bindings.first().expect("a binding")].ops;
        let op = if spec.shape.len() > 1 { spec.shape } else { ops }.iter().last().expect("a step");
        let key = Contact::first(plan.find_control("key.KeyA").expect("a key"));
        let mut engine = Engine::start(plan.clone(), Start::default(), &mut |_| {});
        let mut before = Vector::ZERO;
        for tick in 1..120 {
            let at = Rate::DEFAULT.tick(tick);
            let is_down = Vector::axis(f64::from(u8::from(tick < 60)));
            engine.report(at, key, is_down, &mut |_| {}).expect("taken in");
            let frame = engine.tick(at, &mut |_| {});
            let (gave, is) = (frame.inside().value(op), frame.inside().shaped(own));
            assert_eq!(gave, is, "{moves} at tick {tick}");
            let read = frame.value(own);
            let is = if frame.state(own) == EpisodeState::Rest { Vector::ZERO } else { is };
            assert_eq!(read, is, "{moves} at tick {tick}");
            assert_eq!(frame.has_changed(own), read != before, "{moves} at tick {tick}");
            before = read;
        }
    }
}

#[test]
fn what_arrived_is_settled_for_who_asks_between_ticks() {
    let (_, plan) = load(&format!("{HEAD}[map.quay.own]\nvalue = \"axis\"\n{}\n", MOVES[1]));
    let key = Contact::first(plan.find_control("key.KeyC").expect("a key"));
    let mut engine = Engine::start(plan, Start::default(), &mut |_| {});
    let ms = Time::from_millis;
    engine.report(ms(0), key, Vector::axis(1.0), &mut |_| {}).expect("taken in");
    // It takes 1/4.1 s: 243.9 ms, and is found there on the next whole millisecond.
    for (at, is_settled) in [(10, false), (243, false), (244, true)] {
        let frame = engine.advance(ms(at), &mut |_| {});
        assert_eq!(
            (frame.is_settled(), frame.next_due().is_none()),
            (is_settled, is_settled),
            "{at}"
        );
    }
}
