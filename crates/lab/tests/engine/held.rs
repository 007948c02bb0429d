//! What is held when a map opens, when a claim ends or when the game goes on, and what a `+` hides.

use crate::harness::{HEAD, inputs, lines, load, run};

/// Words of what `a` tells, with the causes of ends.
fn outcome(actions: &str, take: &[String]) -> String {
    let (_, plan) = load(&format!("{HEAD}{actions}"));
    let (log, _) = run(&plan, &inputs(&take.concat(), &plan), "10");
    let told = lines(&plan, &log);
    let own = told.iter().filter_map(|line| {
        let words: Vec<&str> = line.split(' ').collect();
        let cause = words.iter().find(|word| {
            ["released", "stopped", "claimed", "map-off", "paused", "yielded"].contains(word)
        });
        (words.get(2).is_some_and(|name| name.trim_start_matches("hold.") == "a"))
            .then(|| format!("{} {} {}", words[0], words[3], cause.unwrap_or(&"")))
    });
    own.map(|line| line.trim().to_owned()).collect::<Vec<_>>().join(", ")
}

fn push(t: &str, control: &str, value: impl std::fmt::Debug) -> String {
    format!("{{\"t\":{t},\"control\":\"{control}\",\"value\":{value:?}}}\n")
}

fn game(t: &str, does: &str) -> String {
    format!("{{\"t\":{t},{does}}}\n")
}

const OPENS: &str = "[map.hold]\n[map.hold.a]\nvalue = \"axis\"\nfire = \"press\"\n\
                     levels = { down = 0.1 }\nbind.pad = \"pad.right-trigger\"\n";

#[test]
fn a_trigger_held_a_little_does_not_press_as_the_map_opens_nor_on_its_way_home() {
    let open = || game("0.2", "\"open\":\"hold\"");
    // Just under 0.2 it is not held; from 0.2 on it is, and counts once it was under 0.15.
    for (held, way, expected) in [
        (0.2_f64.next_down(), 0.19, "0.2 wake, 0.2 fire, 0.5 rest released"),
        (0.2, 0.19, "0.4 wake, 0.4 fire, 0.5 rest released"),
        (0.4, 0.15, "0.4 wake, 0.4 fire, 0.5 rest released"),
        (0.4, 0.15_f64.next_down(), "0.3 wake, 0.3 fire, 0.5 rest released"),
    ] {
        let trigger = |t: &str, v: f64| push(t, "pad.right-trigger", v);
        let mut take = vec![trigger("0.1", held), open(), trigger("0.3", way)];
        if expected.starts_with("0.4") {
            take.push(trigger("0.35", 0.0));
        }
        take.extend([trigger("0.4", 0.3), trigger("0.5", 0.0)]);
        assert_eq!(outcome(OPENS, &take), expected, "{held} then {way}");
    }
}

#[test]
fn a_new_opening_judges_anew_what_is_held() {
    let trigger = |t: &str, v: f64| push(t, "pad.right-trigger", v);
    // Held at 0.17, it reads 0 since the first opening; at the second it is not held any more.
    let take = [
        trigger("0.1", 0.4),
        game("0.2", "\"open\":\"hold\""),
        trigger("0.3", 0.17),
        game("0.4", "\"close\":\"hold\""),
        game("0.5", "\"open\":\"hold\""),
        trigger("0.6", 0.0),
    ];
    assert_eq!(outcome(OPENS, &take), "0.5 wake, 0.5 fire, 0.6 rest released");
    // The same after a pause.
    let take = [
        trigger("0.1", 0.4),
        game("0.2", "\"open\":\"hold\""),
        trigger("0.3", 0.17),
        game("0.4", "\"pause\":true"),
        game("0.5", "\"pause\":false"),
        trigger("0.6", 0.0),
    ];
    assert_eq!(outcome(OPENS, &take), "0.5 wake, 0.5 fire, 0.6 rest released");
}

#[test]
fn a_stick_is_held_as_a_whole_and_not_by_the_component_that_is_read() {
    let actions = "[map.hold]\n[map.hold.a]\nvalue = \"axis\"\nfire = \"press\"\n\
                   levels = { down = 0.1 }\nbind.pad = \"pad.left-stick.x\"\n";
    let stick = |t: &str, x: f64, y: f64| push(t, "pad.left-stick", [x, y]);
    let open = || game("0.2", "\"open\":\"hold\"");
    // Under 0.15 across, but far up: held.
    let take = [stick("0.1", 0.14, 0.9), open(), stick("0.3", 0.3, 0.9), stick("0.4", 0.0, 0.0)];
    assert_eq!(outcome(actions, &take), "");
    let take = [stick("0.1", 0.14, 0.1), open(), stick("0.3", 0.3, 0.9), stick("0.4", 0.0, 0.0)];
    assert_eq!(outcome(actions, &take), "0.2 wake, 0.2 fire, 0.4 rest released");
}

#[test]
fn what_a_claim_leaves_held_counts_once_it_is_let_go() {
    let actions = "[map.quay.a]\nvalue = \"axis\"\nfire = \"press\"\nlevels = { down = 0.1 }\n\
                   bind.pad = \"pad.right-trigger\"\n[map.book]\nkind = \"layer\"\n\
                   [map.book.b]\nvalue = \"axis\"\nbind.pad = \"pad.right-trigger\"\n";
    let trigger = |t: &str, v: f64| push(t, "pad.right-trigger", v);
    for (held, expected) in [(0.19, "0.3 wake, 0.3 fire, 0.6 rest released"), (0.2, "")] {
        let take = [
            game("0.1", "\"open\":\"book\""),
            trigger("0.2", held),
            game("0.3", "\"close\":\"book\""),
            trigger("0.4", 0.16),
            trigger("0.6", 0.0),
        ];
        assert_eq!(outcome(actions, &take), expected, "{held}");
    }
}

/// A stick that moves alone, and another action while the shoulder is held.
const SHOULDER: &str = "[map.quay.a]\nvalue = \"plane\"\nfire = \"press\"\nlevels = { down = 0.3 }\n\
                        bind.pad = \"pad.right-stick\"\n[map.quay.b]\nvalue = \"plane\"\n\
                        bind.pad = \"pad.left-shoulder + pad.right-stick\"\n";

#[test]
fn a_stick_that_rests_beside_0_moves_again_after_a_shoulder_and_stick() {
    let stick = |t: &str, x: f64| push(t, "pad.right-stick", [x, 0.0]);
    let shoulder = |t: &str, v: i32| push(t, "pad.left-shoulder", v);
    for (rest, expected) in [
        (0.02, "0.6 wake, 0.6 fire, 0.7 rest released"),
        (0.15_f64.next_down(), "0.6 wake, 0.6 fire, 0.7 rest released"),
        (0.15, ""),
    ] {
        let take = [
            shoulder("0.1", 1),
            stick("0.2", 0.9),
            shoulder("0.3", 0),
            stick("0.4", rest),
            stick("0.6", 0.8),
            stick("0.7", 0.0),
        ];
        assert_eq!(outcome(SHOULDER, &take), expected, "at rest at {rest}");
    }
}

#[test]
fn a_wheel_left_between_two_notches_and_a_pointer_are_let_go() {
    let actions = "[map.quay.a]\nvalue = \"plane\"\nbind.desk = \"mouse.wheel\"\n\
                   [map.quay.b]\nvalue = \"plane\"\nbind.desk = \"key.KeyA + mouse.wheel\"\n";
    let wheel =
        |t: &str, by: f64| format!("{{\"t\":{t},\"control\":\"mouse.wheel\",\"by\":[0,{by}]}}\n");
    let take = [
        push("0.11", "key.KeyA", 1),
        wheel("0.12", 0.5),
        push("0.31", "key.KeyA", 0),
        wheel("0.42", 0.25),
    ];
    assert_eq!(outcome(actions, &take), "0.5 wake, 0.5 fire, 0.5 rest stopped");
    let actions = "[map.quay.a]\nvalue = \"plane\"\nbind.desk = \"mouse.at\"\n\
                   [map.quay.b]\nvalue = \"plane\"\nbind.desk = \"key.KeyA + mouse.at\"\n";
    let at = |t: &str, x: f64| push(t, "mouse.at", [x, 0.5]);
    let take = [push("0.11", "key.KeyA", 1), at("0.12", 0.5), push("0.31", "key.KeyA", 0)];
    let told = outcome(actions, &take);
    assert!(told.starts_with("0.31 wake, 0.4 fire"), "{told}");
}
