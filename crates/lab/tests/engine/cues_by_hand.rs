//! The cues, guards and yielding of the design, moment by moment, at 10 ticks a second.

use crate::cases::{SWITCH, case, taps};
use crate::harness::{HEAD, inputs, lines, load, run};

/// A switch `b` on the same key.
fn second(rule: &str) -> String {
    format!("[map.quay.b]\nvalue = \"switch\"\nbind.desk = \"key.KeyA\"\n{rule}\n")
}

#[test]
fn a_tap_in_time_fires_and_a_long_one_runs_out() {
    case(
        &format!("{SWITCH}fire = \"tap 0.2s\""),
        &taps("key.KeyA", &["0.1", "0.3", "1", "1.200000001", "2", "2.3", "2.4", "2.5"]),
        // Let go exactly at its limit counts; the next one is over while the key is still held.
        "0.1 #1 a wake on held 0 from desk#1
         0.3 #3 a fire on by tap 0.2s held 0.2 live 0 from desk#1
         0.3 #3 a rest off released held 0.2 live 0 from desk#1
         1 #10 a wake on held 0 from desk#1
         1.2 #12 a lapse on too-long held 0.2 from desk#1
         2 #20 a wake on held 0 from desk#1
         2.2 #22 a lapse on too-long held 0.2 from desk#1
         2.4 #24 a wake on held 0 from desk#1
         2.5 #25 a fire on by tap 0.2s held 0.1 live 0 from desk#1
         2.5 #25 a rest off released held 0.1 live 0 from desk#1",
    );
}

#[test]
fn a_charge_fires_at_letting_go() {
    case(
        &format!("{SWITCH}fire = \"charge 0.6s\""),
        &taps("key.KeyA", &["0.2", "0.9", "1.5", "1.8"]),
        "0.2 #2 a wake on held 0 from desk#1
         0.9 #9 a fire on by charge 0.6s held 0.7 live 0 from desk#1
         0.9 #9 a rest off released held 0.7 live 0 from desk#1
         1.5 #15 a wake on held 0 from desk#1
         1.8 #18 a lapse off too-short held 0.3 at 0.5 from desk#1",
    );
}

#[test]
fn two_taps_fire_at_the_second_press_and_a_gap_ends_them() {
    case(
        &format!("{SWITCH}fire = \"taps 2 gap=0.3s\""),
        &taps("key.KeyA", &["0.1", "0.2", "0.4", "0.5", "1", "1.1"]),
        "0.1 #1 a wake on held 0 from desk#1
         0.4 #4 a fire on by taps 2 gap=0.3s held 0.3 live 0 from desk#1
         0.5 #5 a rest off released held 0.4 live 0.1 from desk#1
         1 #10 a wake on held 0 from desk#1
         1.3 #13 a lapse off gap held 0.3 at 0.5 from desk#1",
    );
}

#[test]
fn repeat_fires_at_once_then_after_a_while_then_steadily() {
    case(
        &format!("{SWITCH}fire = \"repeat 0.1s after=0.25s\""),
        &taps("key.KeyA", &["0.1", "0.45"]),
        "0.1 #1 a wake on held 0 from desk#1
         0.1 #1 a fire on by repeat 0.1s after=0.25s held 0 live 0 from desk#1
         0.35 #4 a fire on by repeat 0.1s after=0.25s held 0.25 live 0.25 from desk#1
         0.45 #5 a fire on by repeat 0.1s after=0.25s held 0.35 live 0.35 from desk#1
         0.45 #5 a rest off released held 0.35 live 0.35 from desk#1",
    );
}

#[test]
fn change_fires_with_each_value_and_with_0_at_the_end() {
    case(
        "[map.quay.a]\nvalue = \"axis\"\nbind.pad = \"pad.left-trigger\"\nfire = \"change\"",
        "{\"t\":0.1,\"control\":\"pad.left-trigger\",\"value\":0.5}
         {\"t\":0.2,\"control\":\"pad.left-trigger\",\"value\":0.5000001}
         {\"t\":0.3,\"control\":\"pad.left-trigger\",\"value\":0.75}
         {\"t\":0.4,\"control\":\"pad.left-trigger\",\"value\":0}",
        "0.1 #1 a wake 0.5 held 0 from pad#1
         0.1 #1 a fire 0.5 by change held 0 live 0 from pad#1
         0.3 #3 a fire 0.75 by change held 0.2 live 0.2 from pad#1
         0.4 #4 a fire 0 by change held 0.3 live 0.3 from pad#1
         0.4 #4 a rest 0 released held 0.3 live 0.3 from pad#1",
    );
}

#[test]
fn a_press_that_yields_waits_for_the_hold_to_give_up() {
    case(
        &format!("{SWITCH}yields-to = [\"b\"]\n{}", second("fire = \"hold 0.5s\"")),
        &taps("key.KeyA", &["0.1", "0.3", "1", "1.6"]),
        "0.1 #1 b wake on held 0 from desk#1
         0.1 #1 a wake on held 0 from desk#1
         0.3 #3 b lapse off too-short held 0.2 at 0.4 from desk#1
         0.3 #3 a fire on by press since 0.1 held 0.2 live 0 from desk#1
         0.3 #3 a rest off released held 0.2 live 0 from desk#1
         1 #10 b wake on held 0 from desk#1
         1 #10 a wake on held 0 from desk#1
         1.5 #15 b fire on by hold 0.5s held 0.5 live 0 from desk#1
         1.5 #15 a lapse on yielded held 0.5 from desk#1
         1.6 #16 b rest off released held 0.6 live 0.1 from desk#1",
    );
}

#[test]
fn a_tap_yields_to_two_taps_until_the_gap_has_passed() {
    case(
        &format!(
            "{SWITCH}fire = \"tap 0.2s\"\nyields-to = [\"b\"]\n{}",
            second("fire = \"taps 2 gap=0.3s\"")
        ),
        &taps("key.KeyA", &["0.1", "0.2", "1", "1.1", "1.2", "1.25"]),
        "0.1 #1 b wake on held 0 from desk#1
         0.1 #1 a wake on held 0 from desk#1
         0.4 #4 b lapse off gap held 0.3 at 0.5 from desk#1
         0.4 #4 a fire on by tap 0.2s since 0.2 held 0.3 live 0 from desk#1
         0.4 #4 a rest off released held 0.3 live 0 from desk#1
         1 #10 b wake on held 0 from desk#1
         1 #10 a wake on held 0 from desk#1
         1.2 #12 b fire on by taps 2 gap=0.3s held 0.2 live 0 from desk#1
         1.2 #12 a lapse off yielded held 0.2 from desk#1
         1.25 #13 b rest off released held 0.25 live 0.05 from desk#1",
    );
}

#[test]
fn guards_are_looked_at_when_the_cue_would_fire() {
    case(
        &format!("[fact.calm]\n{SWITCH}fire = \"hold 0.2s when calm or release unless calm\""),
        &format!(
            "{}{{\"t\":0.6,\"fact\":\"calm\",\"value\":1}}\n{}",
            taps("key.KeyA", &["0.1", "0.5"]),
            taps("key.KeyA", &["1", "1.5"])
        ),
        "0.1 #1 a wake on held 0 from desk#1
         0.5 #5 a fire on by release held 0.4 live 0 from desk#1
         0.5 #5 a rest off released held 0.4 live 0 from desk#1
         1 #10 a wake on held 0 from desk#1
         1.2 #12 a fire on by hold 0.2s held 0.2 live 0 from desk#1
         1.5 #15 a rest off released held 0.5 live 0.3 from desk#1",
    );
}

#[test]
fn a_guarded_while_goes_on_and_off_at_exact_moments_and_wakes_anew() {
    let calm = |t: &str, value: u8| format!("{{\"t\":{t},\"fact\":\"calm\",\"value\":{value}}}\n");
    let down = "{\"t\":0.05,\"control\":\"key.KeyA\",\"value\":1}\n";
    let up = "{\"t\":0.55,\"control\":\"key.KeyA\",\"value\":0}\n";
    case(
        &format!("[fact.calm]\n{SWITCH}fire = \"while when calm\""),
        &[
            down.into(),
            calm("0.08", 1),
            calm("0.15", 0),
            calm("0.32", 1),
            calm("0.36", 0),
            up.into(),
        ]
        .concat(),
        "0.05 #1 a wake on held 0 from desk#1
         0.1 #1 a fire on by while held 0.05 live 0 from desk#1
         0.15 #2 a rest on guard held 0.1 live 0.05 from desk#1
         0.32 #4 a wake on held 0 from desk#1
         0.36 #4 a fire on by while held 0.04 live 0 from desk#1
         0.36 #4 a rest on guard held 0.04 live 0 from desk#1",
    );
}

#[test]
fn a_sequence_follows_first_fires_and_keeps_the_latest_beginning() {
    let flash = |name: &str, key: &str| {
        format!(
            "[map.quay.{name}]\nvalue = \"switch\"\nbind.desk = \"key.{key}\"\nfire = \"release\"\n"
        )
    };
    let press = |key: &str, t: &str| {
        let control = format!("\"control\":\"key.{key}\"");
        format!("{{\"t\":{t},{control},\"value\":1}}\n{{\"t\":{t},{control},\"value\":0}}\n")
    };
    let actions = format!(
        "{}{}[map.quay.s]\nvalue = \"switch\"\nfire = \"sequence(a, a, b) within=1s\"",
        flash("a", "KeyA"),
        flash("b", "KeyB")
    );
    let keys = ["KeyA", "KeyA", "KeyA", "KeyB"];
    let take: String =
        keys.iter().zip(["0.1", "0.2", "0.3", "0.4"]).map(|(k, t)| press(k, t)).collect();
    let (_, plan) = load(&format!("{HEAD}{actions}"));
    let (log, _) = run(&plan, &inputs(&take, &plan), "10");
    let told = lines(&plan, &log);
    let of_sequence: Vec<_> =
        told.iter().filter(|l| l.contains(" s ")).map(String::as_str).collect();
    // The third a breaks the run; the last two a's are its latest beginning.
    assert_eq!(
        of_sequence,
        [
            "0.1 #1 s wake off held 0 at 0.3333333333333333 from –",
            "0.3 #3 s lapse off out-of-order held 0.2 at 0.6666666666666666 from –",
            "0.3 #3 s wake off held 0 at 0.6666666666666666 from –",
            "0.4 #4 s fire on by sequence(a, a, b) within=1s held 0.1 live 0 from –",
            "0.4 #4 s rest off done held 0.1 live 0 from –",
        ]
    );
    // Its time counts from there: the second a came at 0.6 s, so that b may come until 1.6 s.
    for (b, cause) in [("1.6", " s rest off done "), ("1.601", " s lapse off gap ")] {
        let take: String =
            keys.iter().zip(["0.1", "0.6", "1", b]).map(|(k, t)| press(k, t)).collect();
        let (log, _) = run(&plan, &inputs(&take, &plan), "10");
        let told = lines(&plan, &log);
        assert!(told.iter().any(|line| line.contains(cause)), "{told:?}");
    }
    let take: String = ["0.1", "0.3"].iter().map(|t| press("KeyA", t)).collect();
    let (log, end) = run(&plan, &inputs(&take, &plan), "10");
    let told = lines(&plan, &log);
    assert_eq!(told.last().unwrap(), "1.1 #11 s lapse off gap held 1 at 0.6666666666666666 from –");
    assert_eq!(end, 11);
}

#[test]
fn an_action_reads_another_as_game_code_would() {
    case(
        &format!(
            "[map.quay.a]\nvalue = \"axis\"\nbind.desk = \"pair(act.back, act.on)\"\nfire = \"press\"\n{}{}",
            "[map.quay.back]\nvalue = \"switch\"\nbind.desk = \"key.KeyB\"\nfire = \"hold 0.2s\"\n",
            "[map.quay.on]\nvalue = \"switch\"\nbind.desk = \"key.KeyD\"\nfire = \"change\"\n"
        ),
        &taps("key.KeyB", &["0.1", "0.2"]),
        "0.1 #1 back wake on held 0 from desk#1
         0.1 #1 a wake -1 held 0 from desk#1
         0.1 #1 a fire -1 by press held 0 live 0 from desk#1
         0.2 #2 back lapse off too-short held 0.1 at 0.5 from desk#1
         0.2 #2 a rest 0 released held 0.1 live 0.1 from desk#1",
    );
}

#[test]
fn blends_choose_among_the_bindings() {
    let down = |t: &str, control: &str, value: &str| {
        format!("{{\"t\":{t},\"control\":\"{control}\",\"value\":{value}}}\n")
    };
    let hands = [
        down("0.1", "pad.left-trigger", "0.4"),
        down("0.2", "pad.right-trigger", "0.7"),
        down("0.3", "pad.left-trigger", "0.5"),
        down("0.4", "pad.right-trigger", "0"),
    ]
    .concat();
    for (blend, values) in [
        ("greatest", [0.4, 0.7, 0.7, 0.5]),
        ("oldest", [0.4, 0.4, 0.5, 0.5]),
        ("newest", [0.4, 0.7, 0.7, 0.5]),
        ("last-change", [0.4, 0.7, 0.5, 0.0]),
        ("sum", [0.4, 1.1, 1.2, 0.5]),
    ] {
        let (_, plan) = load(&format!(
            "{HEAD}[map.quay.a]\nvalue = \"axis\"\nblend = \"{blend}\"\nbind.pad = [\"pad.left-trigger\", \"pad.right-trigger\"]"
        ));
        let (log, _) = run(&plan, &inputs(&hands, &plan), "10");
        let mut read = 0.0;
        for (tick, expected) in (1..).zip(values) {
            if let Some((_, _, changed)) = log.values.iter().find(|(_, k, _)| *k == tick) {
                read = changed[0].1.x;
            }
            assert!(
                (read - expected).abs() < 1e-12,
                "{blend} at tick {tick}: {read}, not {expected}"
            );
        }
    }
}

#[test]
fn a_change_is_told_at_a_tick_at_which_an_action_fires_that_a_guard_names() {
    let (_, plan) = load(&format!(
        "{HEAD}[map.quay.b]\nvalue = \"axis\"\nbind.desk = \"key.KeyB\"\n\
         [map.quay.a]\nvalue = \"axis\"\nbind.desk = \"key.KeyA | ease rise=2/s\"\n\
         fire = \"change or hold 9s without b\"\nlevels = {{ down = 0.002 }}\n"
    ));
    let take = "{\"t\":0.05,\"control\":\"key.KeyA\",\"value\":1}\n\
                {\"t\":0.12,\"control\":\"key.KeyB\",\"value\":1}";
    let (log, _) = run(&plan, &inputs(take, &plan), "10");
    let told = lines(&plan, &log);
    let changes =
        told.iter().filter(|line| line.contains(" a fire ") && line.contains("by change"));
    let ticks: Vec<&str> = changes.filter_map(|line| line.split(' ').nth(1)).collect();
    // Once as it wakes, then at every tick at which it moved, the one of b's first fire included.
    assert_eq!(ticks, ["#1", "#1", "#2", "#2", "#3", "#4", "#5", "#6"], "{told:#?}");
}

#[test]
fn an_end_by_yielding_at_the_instant_of_letting_go_carries_the_value_after_it() {
    let other = "[map.quay.b]\nvalue = \"switch\"\nbind.pad = \"pad.right-trigger\"\n\
                 fire = \"tap 0.5s\"\n";
    let pull = |t: &str, v: f64| {
        format!("{{\"t\":{t},\"control\":\"pad.right-trigger\",\"value\":{v}}}\n")
    };
    let take = pull("0.1", 0.9) + &pull("0.3", 0.2);
    let ends = |value: &str, more: &str| {
        let (_, plan) = load(&format!(
            "{HEAD}{other}[map.quay.a]\nvalue = \"{value}\"\nbind.pad = \"pad.right-trigger{more}\n\
             yields-to = [\"b\"]\n"
        ));
        let told = lines(&plan, &run(&plan, &inputs(&take, &plan), "10").0);
        told.into_iter().filter(|line| line.contains("yielded")).collect::<Vec<_>>()
    };
    let at = |value: &str| vec![format!("0.3 #3 a lapse {value} yielded held 0.2 from pad#1")];
    assert_eq!(ends("switch", "\""), at("off"));
    assert_eq!(ends("axis", "\"\nfire = \"press\""), at("0.2"));
    // Still down after it: the value of then.
    assert_eq!(ends("axis", "\"\nfire = \"press\"\nlevels = { up = 0.1 }"), at("0.2"));
    assert_eq!(ends("switch", "\"\nlevels = { up = 0.1 }"), at("on"));
    // What turns its sign comes up at that instant, and carries 0.
    assert_eq!(
        ends("axis", " | remap 0 1 -0.6 1\"\nfire = \"press\"\nlevels = { down = 0.2 }"),
        at("0")
    );
}
