//! Every case on which the engine and the interpreter once disagreed, whichever of them was wrong.

use crate::harness::HEAD;
use crate::properties::compare;

#[track_caller]
fn agree(profile: &str, take: &str, rate: u64) {
    if let Err(told) = compare(&format!("{HEAD}{profile}"), take, rate) {
        panic!("{told}");
    }
}

/// A line of a take.
fn line(t: f64, what: &str) -> String {
    format!("{{\"t\":{t},{what}}}\n")
}

/// What a control reports.
fn report(t: f64, control: &str, value: &str) -> String {
    line(t, &format!("\"control\":\"{control}\",\"value\":{value}"))
}

#[test]
fn what_waits_for_an_action_that_fires_and_rests_within_one_tick_yields() {
    let profile = "[map.quay.look]\nvalue = \"axis\"\nfire = \"charge 0.1s or release\"\n\
                   bind.desk = \"mouse.move.x | scale 0.1\"\n\
                   [map.quay.hail]\nvalue = \"switch\"\nfire = \"press\"\nyields-to = [\"quay.look\"]\n\
                   bind.desk = \"key.KeyE\"\n";
    let take = "{\"t\":0.04,\"control\":\"mouse.move\",\"by\":[12,0]}\n\
                {\"t\":0.06,\"control\":\"key.KeyE\",\"value\":1}\n\
                {\"t\":0.2,\"control\":\"key.KeyE\",\"value\":0}";
    agree(profile, take, 20);
    agree(profile, take, 60);
}

#[test]
fn what_waits_for_an_action_that_gives_up_at_a_tick_fires_then() {
    let profile = r#"
[setting.slow]
default = false
[fact.calm]
[map.quay.a0]
value = "space"
levels = { wake = 0.2013, down = 0.6017, up = 0.1011 }
fire = "release when calm"
blend = "newest"
bind.pad = ["pair(pad.south, pad.south, opposed=newest) | onto z", "join(pad.left-stick.x | switch-at 0.53, pair(pos=pad#1.left-stick.x, neg=pad#2.south, opposed=neg), z=pad.dpad.up) | travel | ease rise=3/s fall=11/s reverse=cut when calm"]
shape = "curve 0.5 unless slow"
[map.quay.a1]
value = "switch"
fire = "release when calm or hold 250ms"
yields-to = ["quay.a0"]
bind.pad = ["pad.left-stick.left", "pair(pos=pad.left-trigger, neg=pad.dpad.up | not, opposed=pos) | deadzone 0.1 full=0.9 unless slow", "pair(pos=pad#1.left-stick.x, neg=pad.left-stick.x | curve (0.5 0.21) (1 1), opposed=oldest)"]
"#;
    let take = "{\"t\":0.021666666,\"control\":\"pad.left-stick\",\"value\":[0.8,-0.9]}\n\
                {\"t\":0.388333332,\"control\":\"pad.south\",\"value\":1}\n\
                {\"t\":0.388333332,\"setting\":\"slow\",\"value\":0.3}\n\
                {\"t\":0.478333334,\"control\":\"pad.left-stick\",\"value\":[-0.3,0.9]}\n\
                {\"t\":0.735,\"control\":\"pad.left-stick\",\"value\":[-1,-1.1]}";
    agree(profile, take, 20);
}

#[test]
fn a_claim_on_one_half_axis_ends_as_claimed_what_reads_another_of_the_stick_it_changes() {
    let profile = r#"
[setting.slow]
default = false
[fact.calm]
[map.book]
kind = "layer"
also = ["mill.a2", "quay.a1", "sky.a0"]
[map.sky.a0]
value = "switch"
[map.quay.a1]
value = "switch"
bind.pad = ["pair(pad#2.south, pad.south, opposed=neg)", "pad.left-stick.x | scale -2 when calm | clamp -0.3 0.6", "pad.left-trigger"]
[map.mill.a2]
value = "switch"
[map.quay.a3]
value = "switch"
levels = { down = 0.4037 }
bind.pad = ["pad.left-stick.up"]
[map.book.a4]
value = "switch"
"#;
    let take = r#"{"t":0.283333333,"control":"slate.thumb","value":[-1,0.5]}
{"t":1.484999998,"control":"pad.left-stick","value":[-0.8,-0.6]}
{"t":1.601666665,"open":"book"}"#;
    agree(profile, take, 60);
}

#[test]
fn the_only_binding_gives_what_is_hardly_away_from_0_whatever_the_blend() {
    let profile = r#"[map.quay.a0]
value = "space"
blend = "oldest"
bind.desk = ["join(key.KeyA, key.KeyB, z=key.KeyC) | travel"]
shape = "unit"
"#;
    let take = r#"{"t":0.000000001,"control":"key.KeyC","value":1}
{"t":0.116666667,"control":"key.KeyC","value":0}"#;
    agree(profile, take, 60);
}

/// An input that rounding moves to and fro would have the `ease` read its speed anew.
#[test]
fn an_ease_under_a_full_dead_zone_keeps_the_speed_it_set_out_with() {
    let profile = r#"[setting.slow]
default = false
[setting.size]
default = 0.7
[fact.patience]
default = 150
unit = "ms"
[fact.calm]
[map.quay.a0]
value = "switch"
bind.pad = ["(join(pad#1.left-stick.x, pad.dpad.up) | pick x) | smooth patience | deadzone 0.1 full=0.9", "(pad.left-stick.left + pad.south) | ease rise=7/s unless slow | flip", "(pad.dpad.up + pad.south) | cap 0.7 when calm"]
shape = "ease rise=size fall=0.9/s | smooth 23ms when calm"

"#;
    let take = r#"{"t":0.173333334,"control":"pad.left-stick","value":[-0.6,1]}
{"t":0.513333334,"control":"pad.left-stick","value":[-1.1,-0.7]}
{"t":0.763333334,"setting":"size","value":1}"#;
    agree(profile, take, 60);
}

/// A report that may wait would have been taken for one that goes on from the press before.
#[test]
fn a_stick_that_was_back_under_half_tells_its_scheme_again() {
    let profile = "[map.quay.walk]\nvalue = \"plane\"\nlevels = { wake = 0.15, down = 0.2, up = 0.12 }\n\
                   bind.pad = \"pad.left-stick\"\n\
                   [map.quay.hail]\nvalue = \"switch\"\nbind.desk = \"key.KeyE\"\n";
    let stick = |t: &str, x: &str| {
        format!("{{\"t\":{t},\"control\":\"pad.left-stick\",\"value\":[{x},0]}}\n")
    };
    let take = [
        stick("0.01", "0.9"),
        "{\"t\":0.02,\"control\":\"key.KeyE\",\"value\":1}\n".to_owned(),
        stick("0.03", "0.95"),
        stick("0.04", "0.96"),
        stick("0.05", "0.3"),
        stick("0.06", "0.97"),
    ];
    agree(profile, &take.concat(), 60);
}

#[test]
fn what_comes_up_while_a_look_has_left_something_to_tell_does_so_at_once() {
    // The look at which the first wakes leaves the second to be told at the next tick.
    let moves = "[map.quay.moves]\nvalue = \"axis\"\nlevels = { wake = 0.3, down = 0.85, up = 0.25 }\n\
                 bind.pad = \"pad.left-stick.x | smooth 0.02s\"\n";
    let others = [
        "",
        "[map.quay.far]\nvalue = \"switch\"\nbind.desk = \"key.KeyF\"\nfire = \"press with quay.own\"\n",
        "[map.quay.far]\nvalue = \"axis\"\nbind.desk = \"act.own\"\nfire = \"press\"\n",
    ];
    // A layer opens in between, and listens to the same control.
    let leaf = "[map.book]\nkind = \"layer\"\n[map.book.leaf]\nvalue = \"switch\"\n\
                claim = false\nbind.pad = \"pad.left-trigger\"\n";
    let (narrowed, opened) =
        ("{\"t\":0.7,\"scheme\":\"pad\"}\n", "{\"t\":0.8226,\"open\":\"book\"}\n");
    for guard in ["with", "without"] {
        for (first, then) in [("", ""), (narrowed, ""), ("", opened)] {
            for other in others {
                let profile = format!(
                    "{moves}[map.quay.own]\nvalue = \"switch\"\nbind.pad = \"pad.left-trigger\"\n\
                     fire = \"change {guard} quay.moves\"\n{other}{leaf}"
                );
                let pull = |t, to| report(t, "pad.left-trigger", to);
                let take = format!(
                    "{first}{{\"t\":0.8139,\"control\":\"pad.left-stick\",\"value\":[1,0]}}\n\
                     {}{}{then}{}{}",
                    pull(0.8149, "0.05"),
                    pull(0.8223, "0"),
                    pull(0.8231, "0.05"),
                    pull(0.8312, "0")
                );
                for rate in [20, 60, 144] {
                    agree(&profile, &take, rate);
                }
            }
        }
    }
}

#[test]
fn a_last_part_that_was_let_go_after_its_map_opened_counts_from_its_next_press_on() {
    let parts = [
        ("four(key.KeyA, key.KeyB, key.KeyC, key.KeyD)", "key.KeyD", "1", "0"),
        ("four(key.KeyA, key.KeyB, key.KeyC, key.KeyD) | scale 2", "key.KeyD", "1", "0"),
        ("pad.left-stick", "pad.left-stick", "[0.9,0]", "[0,0.1]"),
    ];
    for (last, control, held, free) in parts {
        let profile = format!(
            "[map.book]\nkind = \"layer\"\n[map.book.a]\nvalue = \"plane\"\nfire = \"press\"\n\
             bind.all = \"key.ShiftLeft + ({last})\"\n"
        );
        let open = |t| line(t, "\"open\":\"book\"");
        let paused = line(0.15, "\"pause\":true") + &line(0.2, "\"pause\":false");
        for (early, late) in [(String::new(), open(0.2)), (open(0.05), paused)] {
            let take = early
                + &report(0.1, control, held)
                + &late
                + &report(0.3, control, free)
                + &report(0.4, control, held)
                + &report(0.5, "key.ShiftLeft", "1")
                + &report(0.6, control, free);
            agree(&profile, &take, 60);
        }
    }
}

#[test]
fn what_only_names_an_action_that_a_lost_device_ends_keeps_its_steps() {
    for steps in ["toggle", "smooth 0.3s", "ease rise=2.03/s fall=1.07/s"] {
        for rule in ["while with quay.haul", "while without quay.haul", "change without quay.haul"]
        {
            let profile = format!(
                "[map.quay.haul]\nvalue = \"switch\"\nbind.pad = \"pad.south\"\nfire = \"while\"\n\
                 [map.quay.hoist]\nvalue = \"switch\"\nbind.pad = \"pad.south\"\nfire = \"while\"\n\
                 [map.quay.lamp]\nvalue = \"axis\"\nbind.desk = \"pair(key.KeyA, key.KeyB | {steps})\"\n\
                 fire = \"{rule}\"\n"
            );
            // Let go before the device is lost, and after.
            for release in [0.3, 0.45] {
                let mut lines = [
                    (0.1, report(0.1, "key.KeyB", "1")),
                    (0.15, report(0.15, "pad.south", "1")),
                    (0.35, line(0.35, "\"unplug\":\"pad\"")),
                    (release, report(release, "key.KeyB", "0")),
                    (0.5, report(0.5, "key.KeyB", "1")),
                    (0.9, report(0.9, "key.KeyB", "0")),
                ];
                lines.sort_by(|(a, _), (b, _)| a.total_cmp(b));
                let take: String = lines.into_iter().map(|(_, line)| line).collect();
                agree(&profile, &take, 60);
            }
        }
    }
}
