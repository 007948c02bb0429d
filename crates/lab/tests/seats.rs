//! Whose devices are whose, case by case: each a score whose expectations all hold.

use harmonym_lab::score::{self, try_score};
use harmonym_lang::source::Source;
use std::sync::Arc;

const PROFILE: &str = r#"
harmonym = 1
seats = 2
scheme.desk.devices = ["key", "mouse"]
scheme.pad.devices = ["pad"]
scheme.far.devices = ["head", "hand"]
device.bell.controls = { rope = "lever" }
fact.tide = {}
[map.quay]
start = true
[map.quay.hail]
value = "switch"
bind.desk = "key.KeyH"
bind.pad = "pad.north"
bind.all = "bell.rope"
[map.quay.haul]
value = "switch"
bind.pad = "pad.right-trigger"
bind.far = "hand.right.trigger"
fire = "hold 0.4s"
[map.quay.walk]
value = "plane"
bind.pad = "pad.left-stick"
carry = true
[map.quay.gaze]
value = "plane"
bind.desk = "mouse.at"
[map.quay.turn]
value = "turn"
bind.far = "head.turn"
[map.quay.second]
value = "switch"
bind.pad = "pad#2.south"
fire = "press unless tide"
[map.tug]
[map.tug.whistle]
value = "switch"
bind.pad = "pad.east"
"#;

fn holds(score: &str) {
    let (_, plan) = harmonym_lang::load(&Source::new("p", PROFILE)).expect("sound");
    let score = score::read(&Source::new("s", score), &plan).unwrap_or_else(|e| panic!("{e}"));
    assert!(!score.expectations.is_empty());
    let outcomes = try_score(&Arc::new(plan), &score, None);
    for (expectation, outcome) in score.expectations.iter().zip(outcomes) {
        assert!(outcome.pass, "{:?}: {}", expectation.what, outcome.got);
    }
}

#[test]
fn a_device_that_goes_in_mid_press_ends_what_it_held_and_counts_again_once_let_go() {
    holds(
        "seats 1\nat 1s down pad.right-trigger\nat 1.2s unplug pad\nat 1.5s plug pad\n\
         at 2.5s up pad.right-trigger\nat 3s press pad.right-trigger for 0.6s\n\
         expect quay.haul lapses once at 1.2s because unplugged\nexpect quay.haul fires once at 3.4s\n\
         expect quay.haul wakes twice\nexpect seat 1 has pad at 1.1s",
    );
    // Let go while it is away, it counts at once when it is back.
    holds(
        "seats 1\nat 1s press pad.right-trigger for 0.3s\nat 1.2s unplug pad\nat 1.5s plug pad\n\
         at 1.6s press pad.right-trigger for 0.6s\nexpect quay.haul fires once at 2s",
    );
    // Pressed while it is away, it is held since before it came; also for what carries over.
    holds(
        "seats 1\nat 1s unplug pad\nat 1.2s down pad.north\nat 1.2s push pad.left-stick to (0.2, 0)\n\
         at 1.5s plug pad\nat 2s up pad.north\nat 2.1s push pad.left-stick to (0.9, 0)\n\
         at 2.2s push pad.left-stick to (0.149, 0)\nat 2.3s press pad.north for 0.1s\n\
         expect quay.hail fires once at 2.3s\nexpect quay.walk = (0, 0) at 2.15s\n\
         expect quay.walk = (0.149, 0) at 2.25s",
    );
    // What is nearly let go was not held.
    holds(
        "seats 1\nat 1s unplug pad\nat 1.2s push pad.left-stick to (0.199, 0)\nat 1.5s plug pad\n\
         expect quay.walk = (0.199, 0) at 1.6s",
    );
}

#[test]
fn the_first_press_brings_a_device_to_the_lowest_seat_and_counts() {
    holds(
        "at 1s press pad#2.north for 0.1s\nat 2s press key.KeyH for 0.1s\n\
         expect quay.hail of seat 1 fires once at 1s\nexpect quay.hail of seat 2 fires once at 2s\n\
         expect scheme pad of seat 1 at 1.5s\nexpect scheme desk of seat 2 at 2.5s\n\
         expect seat 2 has mouse at 2.5s\nexpect seat 1 has pad#2 at 2.5s",
    );
    // When all have one: the lowest that has none of the class; then nobody.
    holds(
        "at 1s press pad#1.north for 0.1s\nat 2s press pad#2.north for 0.1s\n\
         at 3s press key.KeyH for 0.1s\nat 4s press key#2.KeyH for 0.1s\nat 5s press pad#3.north for 0.1s\n\
         at 6s press key#3.KeyH for 0.1s\nexpect quay.hail of seat 1 fires 2 times\n\
         expect quay.hail of seat 2 fires 2 times\nexpect quay.hail fires 4 times\n\
         expect seat 1 has key at 6s\nexpect seat 2 has key#2 at 6s\nexpect seat 2 has mouse#2 at 6s",
    );
    // From half of its way on, and no less; what it was before counts as soon as it is somebody's.
    holds(
        "at 1s push pad.left-stick to (0.4999, 0)\nat 2s push pad.right-trigger to 0.5\n\
         expect quay.walk of seat 1 = (0, 0) at 1.5s\nexpect quay.walk of seat 1 = (0.4999, 0) at 2.1s\n\
         expect seat 1 has pad at 2s",
    );
}

#[test]
fn only_what_is_pressed_joins() {
    // Neither a pointer on its way nor one that is somewhere; a notch of the wheel does.
    holds(
        "at 1s drag mouse.move by (100, 0)\nat 1.1s push mouse.at to (0.9, 0.9)\n\
         at 1.5s press pad.north for 0.1s\nat 2s drag mouse.wheel by (0, 1)\n\
         at 2.5s press key.KeyH for 0.1s\nexpect seat 2 has mouse at 2s\nexpect seat 2 has key at 2s\n\
         expect quay.hail of seat 1 fires once\nexpect quay.hail of seat 2 fires once at 2.5s\n\
         expect quay.gaze of seat 2 = (0.9, 0.9) at 2.2s",
    );
    // A head turns before it is pressed to anything; a place is always somewhere.
    holds(
        "at 1s push head.at to (0, 1.7, 0)\nat 1.1s push head.turn to (0, 0.2, 0, 0.98)\n\
         at 1.2s press pad.north for 0.1s\nat 2s push head.turn to (0, 0.4, 0, 0.9165151389911681)\n\
         expect seat 1 has pad at 3s\nexpect seat 2 has head at 3s\n\
         expect quay.turn of seat 2 = (0, 0.4, 0, 0.9165151389911681) at 3s",
    );
    // A button that stays down is pressed once.
    holds(
        "at 1s press pad#1.north for 0.1s\nat 1s press pad#2.north for 0.1s\nat 2s down pad#3.north\n\
         at 3s unplug pad#2\nat 3.5s down pad#3.north\nat 4s up pad#3.north\nat 4.5s press pad#3.north for 0.1s\n\
         expect quay.hail of seat 2 fires twice\nexpect seat 2 has pad#3 at 5s\n\
         expect quay.hail of seat 2 fires at 4.5s",
    );
}

#[test]
fn a_seat_that_cannot_use_a_device_does_not_get_it() {
    holds(
        "at 0s scheme pad for seat 1\nat 1s press key.KeyH for 0.1s\nat 2s press pad.north for 0.1s\n\
         expect quay.hail of seat 1 fires once at 2s\nexpect quay.hail of seat 2 fires once at 1s",
    );
    // What counts in no scheme counts in all.
    holds(
        "at 0s scheme pad\nat 1s push bell.rope to 1\nexpect quay.hail of seat 1 fires once at 1s",
    );
}

#[test]
fn a_seat_whose_device_is_gone_has_none_and_gets_it_back() {
    holds(
        "at 1s press pad.north for 0.1s\nat 2s unplug pad\nat 3s press pad#2.north for 0.1s\n\
         at 4s plug pad\nat 5s press pad.north for 0.1s\nat 6s press pad#2.south for 0.1s\n\
         expect quay.hail of seat 1 fires 3 times\nexpect seat 1 has pad at 5s\n\
         expect quay.second of seat 1 fires once at 6s",
    );
}

#[test]
fn a_device_that_is_handed_over_is_unplugged_from_the_first() {
    holds(
        "at 1s down pad.north\nat 1s down pad.right-trigger\nat 1.2s seat 2 gets pad\n\
         at 2s up pad.right-trigger\nat 2.1s press pad.right-trigger for 0.5s\n\
         expect quay.haul of seat 1 lapses once at 1.2s because unplugged\n\
         expect quay.hail of seat 1 rests once at 1.2s because unplugged\n\
         expect quay.hail of seat 2 never wakes\nexpect quay.haul of seat 2 fires once at 2.5s\n\
         expect seat 2 has pad at 2s",
    );
    // With a keyboard goes its mouse, and what is given while it is gone comes to its new seat.
    holds(
        "at 1s press key.KeyH for 0.1s\nat 2s unplug key\nat 2.5s seat 2 gets mouse\nat 3s plug key\n\
         at 4s press key.KeyH for 0.1s\nexpect quay.hail of seat 2 fires once at 4s\n\
         expect seat 2 has mouse at 2.6s\nexpect seat 2 has key at 4s",
    );
}

#[test]
fn maps_and_numbers_are_a_seat_s_own_or_all_s() {
    holds(
        "at 0s seat 1 gets pad\nat 0s seat 2 gets pad#3\nat 0s seat 2 gets pad#4\nat 0.1s fact tide = 1 for seat 2\n\
         at 0.5s press pad#4.south for 0.1s\nat 1s open tug for seat 1\nat 2s press pad.east for 0.1s\n\
         at 2s press pad#3.east for 0.1s\nat 3s fact tide = 0\nat 3.5s press pad#4.south for 0.1s\n\
         at 4s down pad#3.north\nat 4.2s pause\n\
         expect tug.whistle of seat 1 fires once at 2s\nexpect tug.whistle of seat 2 never wakes\n\
         expect map tug of seat 1 open\nexpect map quay of seat 2 open at 3s\n\
         expect quay.second of seat 2 fires once at 3.5s\nexpect quay.second of seat 2 lapses because guard\n\
         expect quay.hail of seat 2 rests at 4.2s because paused",
    );
}

#[test]
fn what_a_score_cannot_mean_is_told_at_its_place() {
    let (_, plan) = harmonym_lang::load(&Source::new("p", PROFILE)).expect("sound");
    for (text, wanted) in [
        ("at 1s plug pad#1\nat 2s plug pad#1", "s:2:7: `pad#1` is there already"),
        ("at 1s press pad.north for 1s\nat 2s plug pad", "s:2:7: `pad#1` is there already"),
        (
            "at 3s press pad.north for 1s\nat 2s plug pad\nat 1s unplug pad\nat 4s unplug pad\nat 5s unplug pad",
            "s:5:7: `pad#1` is not there",
        ),
        ("at 1s plug touch", "s:1:12: no scheme has the class `touch`; add it"),
        ("at 1s plug pod#2", "s:1:12: there is no device `pod#2`; did you mean `pad`?"),
        ("at 1s plug pad#9", "s:1:12: `pad#9` does not number a device"),
        ("at 1s plug pad.north", "s:1:12: `pad.north` is a control, not a device"),
        ("at 1s plug", "s:1:11: the device is missing"),
        ("at 1s seat 3 gets pad", "s:1:12: there are 2 seats, and no seat `3`"),
        (
            "at 1s seat 2 has pad",
            "s:1:14: what the seat gets is missing; write `seat 2 gets pad#2`",
        ),
        ("at 1s seat gets pad", "s:1:12: there are 2 seats, and no seat `gets`"),
        ("at 1s seat 1 gets", "s:1:18: the device is missing"),
        ("seats 9", "s:1:7: there are 1 to 8 seats"),
        ("seats 0", "s:1:7: there are 1 to 8 seats"),
        ("expect quay.hail of seat 9 fires", "s:1:26: there are 2 seats"),
        ("expect quay.hail of 2 fires", "s:1:21: the seat is missing"),
        ("expect seat 2 has pod at 1s", "did you mean `pad`?"),
        ("expect seat 2 has pad", "the moment is missing"),
        ("at 1s open tug for seat", "no seat ``"),
        ("player", "s:1:7: the player's file is missing"),
    ] {
        let told = score::read(&Source::new("s", text), &plan).expect_err(text).to_string();
        assert!(told.contains(wanted), "{text}: {told}");
    }
}
