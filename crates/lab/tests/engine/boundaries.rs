//! Every time, level and limit exactly at its number, and as little as can be to each side of it.

use crate::harness::{HEAD, inputs, load, run};
use harmonym_runtime::engine::Notice;

/// What happens, in order: words of events with the causes of ends, and schemes.
fn outcome(actions: &str, take: &str) -> String {
    let (_, plan) = load(&format!("{HEAD}{actions}"));
    let (log, _) = run(&plan, &inputs(take, &plan), "10");
    let words = log.notices.iter().filter_map(|notice| match notice {
        Notice::Event(event) if plan.names().actions[event.action] == "quay.a" => {
            let cause = event.kind.cause().map_or("", |cause| cause.word());
            Some(format!("{} {cause}", event.kind.word()).trim().to_owned())
        }
        Notice::Scheme { .. } if actions.contains("mouse") => Some("scheme".to_owned()),
        _ => None,
    });
    words.collect::<Vec<_>>().join(", ")
}

/// A moment in nanoseconds as a take writes it.
fn at(nanos: u64) -> String {
    format!("{}.{:09}", nanos / 1_000_000_000, nanos % 1_000_000_000)
}

fn line(nanos: u64, control: &str, value: f64) -> String {
    format!("{{\"t\":{},\"control\":\"{control}\",\"value\":{value}}}\n", at(nanos))
}

/// A take with its last moment at so many nanoseconds.
type Hands<'a> = &'a dyn Fn(u64) -> String;

/// Values that come first.
type Before<'a> = &'a [f64];

const PRESSED_AT: u64 = 100_000_000;
const TIME: u64 = 500_000_000;

#[test]
fn every_cue_with_a_time_one_nanosecond_before_at_and_after_it() {
    let press = line(PRESSED_AT, "key.KeyA", 1.0);
    let once = |later: u64| press.clone() + &line(later, "key.KeyA", 0.0);
    let twice = |later: u64| {
        let first = press.clone() + &line(PRESSED_AT + 1000, "key.KeyA", 0.0);
        first + &line(later, "key.KeyA", 1.0) + &line(later + 1000, "key.KeyA", 0.0)
    };
    let fired = "wake, fire, rest released";
    let cues: [(&str, Hands<'_>, [&str; 3]); 5] = [
        ("hold 0.5s", &once, ["wake, lapse too-short", fired, fired]),
        ("tap 0.5s", &once, [fired, fired, "wake, lapse too-long"]),
        ("charge 0.5s", &once, ["wake, lapse too-short", fired, fired]),
        ("taps 2 gap=0.5s", &twice, [fired, fired, "wake, lapse gap, wake, lapse gap"]),
        (
            "repeat 1s after=0.5s",
            &once,
            [fired, "wake, fire, fire, rest released", "wake, fire, fire, rest released"],
        ),
    ];
    for (fire, take, expected) in cues {
        let action = format!(
            "[map.quay.a]\nvalue = \"switch\"\nbind.desk = \"key.KeyA\"\nfire = \"{fire}\"\n"
        );
        for (later, expected) in [TIME - 1, TIME, TIME + 1].into_iter().zip(expected) {
            let told = outcome(&action, &take(PRESSED_AT + later));
            assert_eq!(told, expected, "{fire}, after {later} ns");
        }
    }
}

#[test]
fn a_sequence_one_nanosecond_before_at_and_after_its_time() {
    let actions = "[map.quay.b]\nvalue = \"switch\"\nbind.desk = \"key.KeyB\"\n\
                   [map.quay.c]\nvalue = \"switch\"\nbind.desk = \"key.KeyC\"\n\
                   [map.quay.a]\nvalue = \"switch\"\nfire = \"sequence(b, c) within=0.5s\"\n";
    let expected = ["wake, fire, rest done", "wake, fire, rest done", "wake, lapse gap"];
    for (later, expected) in [TIME - 1, TIME, TIME + 1].into_iter().zip(expected) {
        let take = line(PRESSED_AT, "key.KeyB", 1.0) + &line(PRESSED_AT + later, "key.KeyC", 1.0);
        assert_eq!(outcome(actions, &take), expected, "after {later} ns");
    }
}

#[test]
fn a_press_is_taken_by_what_fires_at_its_very_instant_only() {
    let actions = "[map.quay.b]\nvalue = \"switch\"\nbind.desk = \"key.KeyB\"\n\
                   [map.quay.a]\nvalue = \"switch\"\nbind.desk = \"key.KeyA\"\nyields-to = [\"b\"]\n";
    let fired = "wake, fire, rest stopped";
    for (instant, expected) in
        [PRESSED_AT - 1, PRESSED_AT, PRESSED_AT + 1].into_iter().zip([fired, "", fired])
    {
        let mut lines = [(PRESSED_AT, "key.KeyB"), (instant, "key.KeyA")];
        lines.sort_by_key(|(t, _)| *t);
        let take: String = lines.iter().map(|(t, key)| line(*t, key, 1.0)).collect();
        assert_eq!(outcome(actions, &take), expected, "at {instant} ns");
    }
}

#[test]
fn every_level_and_switch_one_bit_under_at_and_over_it() {
    let levels = "levels = { wake = 0.2, down = 0.6, up = 0.1 }";
    // What comes first, a step, and the outcome one bit under, at and over the number.
    let cases: [(Before<'_>, f64, &str, &str, [&str; 3]); 7] = [
        (&[], 0.2, "", levels, ["", "wake, lapse stopped", "wake, lapse stopped"]),
        (
            &[],
            0.6,
            "",
            levels,
            ["wake, lapse stopped", "wake, fire, rest stopped", "wake, fire, rest stopped"],
        ),
        (
            &[1.0],
            0.1,
            "",
            levels,
            ["wake, fire, rest released", "wake, fire, rest stopped", "wake, fire, rest stopped"],
        ),
        (
            &[0.3],
            0.1,
            "",
            levels,
            ["wake, lapse too-light", "wake, lapse stopped", "wake, lapse stopped"],
        ),
        (
            &[],
            0.7,
            " | switch-at 0.7",
            "",
            ["", "wake, fire, rest stopped", "wake, fire, rest stopped"],
        ),
        (
            &[1.0],
            0.3,
            " | switch-at 0.7 off=0.3",
            "",
            ["wake, fire, rest released", "wake, fire, rest stopped", "wake, fire, rest stopped"],
        ),
        (&[], 0.5, " | toggle", "", ["", "wake, fire, rest stopped", "wake, fire, rest stopped"]),
    ];
    for (before, number, step, levels, expected) in cases {
        let action = format!(
            "[map.quay.a]\nvalue = \"axis\"\nfire = \"press\"\n{levels}\n\
             bind.pad = \"pad.right-trigger{step}\"\n"
        );
        let first: String = before.iter().map(|v| line(1, "pad.right-trigger", *v)).collect();
        let values = [number.next_down(), number, number.next_up()];
        for (value, expected) in values.into_iter().zip(expected) {
            let take = first.clone() + &line(PRESSED_AT, "pad.right-trigger", value);
            assert_eq!(outcome(&action, &take), expected, "{step} {levels}, at {value:?}");
        }
    }
}

#[test]
fn twelve_counts_of_movement_within_a_quarter_of_a_second_put_a_scheme_in_use() {
    let action = "[map.quay.a]\nvalue = \"plane\"\nbind.desk = \"mouse.move\"\nfire = \"while\"\n";
    let moved = |t: u64, by: f64| {
        format!("{{\"t\":{},\"control\":\"mouse.move\",\"by\":[{by},0]}}\n", at(t))
    };
    let quarter = 250_000_000;
    let tells = |take: &str| outcome(action, take).contains("scheme");
    // Up to 10⁻⁹ is a tie, so that it doesn't matter in what parts the counts come.
    assert!(!tells(&moved(1, 12.0 - 2e-9)));
    assert!(tells(&moved(1, 12.0 - 0.5e-9)));
    assert!(tells(&moved(1, 12.0)));
    let both = |later: u64| moved(PRESSED_AT, 6.0) + &moved(PRESSED_AT + later, 6.0);
    assert!(tells(&both(quarter - 1)));
    assert!(tells(&both(quarter)));
    assert!(!tells(&both(quarter + 1)));
}

#[test]
fn each_of_eight_devices_is_its_own() {
    for bound in 1..=8 {
        let action =
            format!("[map.quay.a]\nvalue = \"switch\"\nbind.pad = \"pad#{bound}.south\"\n");
        for pressed in 1..=8 {
            let take = line(PRESSED_AT, &format!("pad#{pressed}.south"), 1.0);
            let expected = if bound == pressed { "wake, fire, rest stopped" } else { "" };
            assert_eq!(outcome(&action, &take), expected, "pad#{bound}, pad#{pressed}");
        }
    }
}

#[test]
fn a_hold_keeps_the_time_that_held_when_it_began() {
    let actions = "[setting.patience]\ndefault = 0.5\nunit = \"s\"\n\
                   [map.quay.a]\nvalue = \"switch\"\nbind.desk = \"key.KeyA\"\nfire = \"hold patience\"\n";
    let set =
        |t: u64, to: f64| format!("{{\"t\":{},\"setting\":\"patience\",\"value\":{to}}}\n", at(t));
    let hold = |change: u64| {
        let mut lines = [
            (PRESSED_AT, line(PRESSED_AT, "key.KeyA", 1.0)),
            (change, set(change, 0.3)),
            (PRESSED_AT + TIME - 1, line(PRESSED_AT + TIME - 1, "key.KeyA", 0.0)),
        ];
        lines.sort_by_key(|(t, _)| *t);
        outcome(actions, &lines.map(|(_, line)| line).concat())
    };
    assert_eq!(hold(PRESSED_AT - 1), "wake, fire, rest released");
    assert_eq!(hold(PRESSED_AT + 1), "wake, lapse too-short");
}

#[test]
fn a_repeat_keeps_the_times_that_held_at_the_press() {
    let (_, plan) = load(&format!(
        "{HEAD}[setting.pace]\ndefault = 0.5\nunit = \"s\"\n[setting.first]\ndefault = 0.3\nunit = \"s\"\n\
         [map.quay.a]\nvalue = \"switch\"\nbind.desk = \"key.KeyA\"\nfire = \"repeat pace after=first\"\n"
    ));
    let set = |name: &str| format!("{{\"t\":0.2,\"setting\":\"{name}\",\"value\":0.1}}\n");
    let take = line(PRESSED_AT, "key.KeyA", 1.0)
        + &set("pace")
        + &set("first")
        + &line(1_000_000_000, "key.KeyA", 0.0);
    let (log, _) = run(&plan, &inputs(&take, &plan), "10");
    let fires = log.notices.iter().filter_map(|notice| match notice {
        Notice::Event(event) if event.kind.word() == "fire" => Some(event.t.to_string()),
        _ => None,
    });
    assert_eq!(fires.collect::<Vec<_>>(), ["0.1", "0.4", "0.9"]);
}
