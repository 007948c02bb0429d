//! What the design says, moment by moment. Rates are 10 ticks a second, so that ticks are easy to
//! see: tick k is at k/10 s.

use crate::harness::{HEAD, inputs, lines, load, run};

/// Runs a take on actions of the map `quay`, and compares every event.
pub fn case(actions: &str, take: &str, expected: &str) {
    let told = told(actions, take);
    let told: Vec<_> = told.iter().filter(|l| !l.contains("scheme")).map(String::as_str).collect();
    let expected: Vec<_> = expected.lines().map(str::trim).filter(|l| !l.is_empty()).collect();
    assert_eq!(told, expected, "\n{actions}\n{take}");
}

/// Lines of a take for one key or button: times at which it goes down and up in turn.
pub fn taps(control: &str, times: &[&str]) -> String {
    let line = |(i, t): (usize, &&str)| {
        let value = if i % 2 == 0 { 1 } else { 0 };
        format!("{{\"t\":{t},\"control\":\"{control}\",\"value\":{value}}}\n")
    };
    times.iter().enumerate().map(line).collect()
}

/// A switch on one key.
pub const SWITCH: &str = "[map.quay.a]\nvalue = \"switch\"\nbind.desk = \"key.KeyA\"\n";

/// The same with the schemes in use.
pub fn whole(actions: &str, take: &str, expected: &str) {
    let told = told(actions, take);
    let expected: Vec<_> = expected.lines().map(str::trim).filter(|l| !l.is_empty()).collect();
    assert_eq!(told, expected, "\n{actions}\n{take}");
}

fn told(actions: &str, take: &str) -> Vec<String> {
    let (_, plan) = load(&format!("{HEAD}{actions}"));
    let (log, _) = run(&plan, &inputs(take, &plan), "10");
    lines(&plan, &log)
}

#[test]
fn press_fires_once_and_a_press_within_a_tick_is_not_lost() {
    case(
        SWITCH,
        &taps("key.KeyA", &["0.11", "0.12", "0.25", "0.31"]),
        "0.11 #2 a wake on held 0 from desk#1
         0.11 #2 a fire on by press held 0 live 0 from desk#1
         0.12 #2 a rest off released held 0.01 live 0.01 from desk#1
         0.25 #3 a wake on held 0 from desk#1
         0.25 #3 a fire on by press held 0 live 0 from desk#1
         0.31 #4 a rest off released held 0.06 live 0.06 from desk#1",
    );
}

#[test]
fn hold_reaches_its_time_inclusively_and_lapses_before() {
    case(
        &format!("{SWITCH}fire = \"hold 0.5s\""),
        &taps("key.KeyA", &["0.1", "0.6", "1", "1.499999999", "2", "3"]),
        "0.1 #1 a wake on held 0 from desk#1
         0.6 #6 a fire on by hold 0.5s held 0.5 live 0 from desk#1
         0.6 #6 a rest off released held 0.5 live 0 from desk#1
         1 #10 a wake on held 0 from desk#1
         1.499999999 #15 a lapse off too-short held 0.499999999 at 0.999999998 from desk#1
         2 #20 a wake on held 0 from desk#1
         2.5 #25 a fire on by hold 0.5s held 0.5 live 0 from desk#1
         3 #30 a rest off released held 1 live 0.5 from desk#1",
    );
}

#[test]
fn while_fires_at_every_tick_it_is_down_and_once_if_there_is_none() {
    case(
        &format!("{SWITCH}fire = \"while\""),
        &taps("key.KeyA", &["0.1", "0.3", "0.31", "0.32"]),
        // Down at the tick of 0.1 counts; up at the tick of 0.3 doesn't.
        "0.1 #1 a wake on held 0 from desk#1
         0.1 #1 a fire on by while held 0 live 0 from desk#1
         0.2 #2 a fire on by while held 0.1 live 0.1 from desk#1
         0.3 #3 a rest off released held 0.2 live 0.2 from desk#1
         0.31 #4 a wake on held 0 from desk#1
         0.32 #4 a fire on by while held 0.01 live 0 from desk#1
         0.32 #4 a rest off released held 0.01 live 0 from desk#1",
    );
}

#[test]
fn alternatives_run_side_by_side_and_the_first_of_those_that_fired_gives_the_cause() {
    case(
        &format!("{SWITCH}fire = \"hold 0.2s or release or hold 0.2s\""),
        &taps("key.KeyA", &["0.1", "0.2", "1", "1.4"]),
        "0.1 #1 a wake on held 0 from desk#1
         0.2 #2 a fire on by release held 0.1 live 0 from desk#1
         0.2 #2 a rest off released held 0.1 live 0 from desk#1
         1 #10 a wake on held 0 from desk#1
         1.2 #12 a fire on by hold 0.2s held 0.2 live 0 from desk#1
         1.2 #12 a fire on by hold 0.2s held 0.2 live 0 from desk#1
         1.4 #14 a fire on by release held 0.4 live 0.2 from desk#1
         1.4 #14 a rest off released held 0.4 live 0.2 from desk#1",
    );
}

#[test]
fn progress_is_that_of_the_alternative_that_is_furthest() {
    case(
        &format!("{SWITCH}fire = \"hold 2s or hold 0.5s\""),
        &taps("key.KeyA", &["0.1", "0.5"]),
        "0.1 #1 a wake on held 0 from desk#1
         0.5 #5 a lapse off too-short held 0.4 at 0.8 from desk#1",
    );
}

#[test]
fn levels_wake_first_and_are_left_later() {
    let pull = |values: &[(&str, &str)]| -> String {
        let line = |(t, v): &(&str, &str)| {
            format!("{{\"t\":{t},\"control\":\"pad.left-trigger\",\"value\":{v}}}\n")
        };
        values.iter().map(line).collect()
    };
    case(
        "[map.quay.a]\nvalue = \"axis\"\nbind.pad = \"pad.left-trigger\"\nfire = \"press\"\n\
         levels = { wake = 0.2, down = 0.6, up = 0.1 }",
        &pull(&[
            ("0.1", "0.15"),
            ("0.2", "0.2"),
            ("0.3", "0.1"),
            ("0.4", "0.09"),
            ("0.5", "0.3"),
            ("0.6", "0.6"),
            ("0.7", "0.1"),
            ("0.8", "0.05"),
        ]),
        "0.2 #2 a wake 0.2 held 0 from pad#1
         0.4 #4 a lapse 0.09 too-light held 0.2 from pad#1
         0.5 #5 a wake 0.3 held 0 from pad#1
         0.6 #6 a fire 0.6 by press held 0.1 live 0 from pad#1
         0.8 #8 a rest 0.05 released held 0.3 live 0.2 from pad#1",
    );
}

#[test]
fn an_axis_whose_sign_turns_comes_up_and_goes_down_again() {
    case(
        "[map.quay.a]\nvalue = \"axis\"\nbind.pad = \"pad.left-stick.x\"\nfire = \"release\"",
        "{\"t\":0.1,\"control\":\"pad.left-stick\",\"value\":[0.6,0]}
         {\"t\":0.2,\"control\":\"pad.left-stick\",\"value\":[-1,0.7]}
         {\"t\":0.3,\"control\":\"pad.left-stick\",\"value\":[0,0.7]}",
        "0.1 #1 a wake 0.6 held 0 from pad#1
         0.2 #2 a fire 0.6 by release held 0.1 live 0 from pad#1
         0.2 #2 a rest 0 released held 0.1 live 0 from pad#1
         0.2 #2 a wake -1 held 0 from pad#1
         0.3 #3 a fire -1 by release held 0.1 live 0 from pad#1
         0.3 #3 a rest 0 released held 0.1 live 0 from pad#1",
    );
}

#[test]
fn what_is_open_at_the_end_is_stopped_and_carries_nothing() {
    case(
        "[map.quay.a]\nvalue = \"axis\"\nbind.desk = \"key.KeyA\"\n\
         [map.quay.b]\nvalue = \"switch\"\nbind.desk = \"key.KeyA\"\nfire = \"hold 30s\"",
        &taps("key.KeyA", &["0"]),
        &["0 #1 a wake 1 held 0 from desk#1", "0 #1 b wake on held 0 from desk#1"]
            .into_iter()
            .map(str::to_owned)
            .chain((1..=100).map(|k| {
                let t = format!("{}.{}", k / 10, k % 10);
                let t = t.trim_end_matches('0').trim_end_matches('.');
                let live = harmonym_runtime::base::Time::from_millis(100 * (k - 1));
                format!("{t} #{k} a fire 1 by while held {t} live {live} from desk#1")
            }))
            .chain([
                "10 #100 a rest 0 stopped held 10 live 9.9 from desk#1".to_owned(),
                "10 #100 b lapse off stopped held 10 at 0.3333333333333333 from desk#1".to_owned(),
            ])
            .collect::<Vec<_>>()
            .join("\n"),
    );
}

#[test]
fn the_greatest_binding_wins_and_a_tie_stays_with_the_earlier() {
    case(
        "[map.quay.a]\nvalue = \"axis\"\nfire = \"press\"\nbind.pad = \"pad.left-trigger\"\n\
         bind.desk = [\"key.KeyA\", \"key.KeyB\"]",
        "{\"t\":0.1,\"control\":\"key.KeyB\",\"value\":1}
         {\"t\":0.2,\"control\":\"key.KeyA\",\"value\":1}
         {\"t\":0.3,\"control\":\"pad.left-trigger\",\"value\":3}
         {\"t\":0.4,\"control\":\"key.KeyA\",\"value\":0}
         {\"t\":0.5,\"control\":\"key.KeyB\",\"value\":0}
         {\"t\":0.6,\"control\":\"pad.left-trigger\",\"value\":0}",
        "0.1 #1 a wake 1 held 0 from desk#2
         0.1 #1 a fire 1 by press held 0 live 0 from desk#2
         0.6 #6 a rest 0 released held 0.5 live 0.5 from pad#1",
    );
}

/// Each: a plane's or axis' binding, reports, and the last value that was down.
#[test]
fn steps_and_combinations_give_their_values() {
    let stick = |x: f64, y: f64| {
        format!("{{\"t\":0.1,\"control\":\"pad.left-stick\",\"value\":[{x},{y}]}}")
    };
    let keys = |codes: &[&str]| -> String {
        let line = |(i, code): (usize, &&str)| {
            format!("{{\"t\":0.0{i},\"control\":\"key.{code}\",\"value\":1}}\n")
        };
        codes.iter().enumerate().map(line).collect()
    };
    let wasd = "four(key.KeyW, key.KeyA, key.KeyS, key.KeyD";
    let half = std::f64::consts::FRAC_1_SQRT_2;
    for (kind, binding, take, x, y) in [
        ("plane", format!("{wasd})"), keys(&["KeyW", "KeyD"]), half, half),
        ("plane", format!("{wasd}, corner=square)"), keys(&["KeyW", "KeyA"]), -1.0, 1.0),
        ("plane", format!("{wasd}, opposed=newest)"), keys(&["KeyD", "KeyA"]), -1.0, 0.0),
        ("plane", format!("{wasd}, opposed=oldest)"), keys(&["KeyD", "KeyA"]), 1.0, 0.0),
        ("axis", "pair(key.KeyA, key.KeyD)".into(), keys(&["KeyD"]), 1.0, 0.0),
        ("axis", "pair(key.KeyA, key.KeyD, opposed=pos)".into(), keys(&["KeyD", "KeyA"]), 1.0, 0.0),
        (
            "axis",
            "pair(pos=key.KeyA, neg=key.KeyD, opposed=neg)".into(),
            keys(&["KeyD", "KeyA"]),
            -1.0,
            0.0,
        ),
        // Both leave 0 at once: the one that stands later in the file is the newer.
        (
            "axis",
            "pair(key.Shift, key.ShiftLeft, opposed=newest)".into(),
            keys(&["ShiftLeft"]),
            1.0,
            0.0,
        ),
        (
            "axis",
            "pair(pos=key.Shift, neg=key.ShiftLeft, opposed=newest)".into(),
            keys(&["ShiftLeft"]),
            -1.0,
            0.0,
        ),
        ("plane", "pad.left-stick | flip".into(), stick(0.5, -0.25), -0.5, 0.25),
        ("plane", "pad.left-stick | flip y".into(), stick(0.5, -0.25), 0.5, 0.25),
        ("plane", "pad.left-stick | scale 2 50%".into(), stick(0.5, -0.25), 1.0, -0.125),
        ("plane", "pad.left-stick | deadzone 0.2 full=0.7".into(), stick(0.27, 0.36), 0.3, 0.4),
        ("plane", "pad.left-stick | deadzone 0.2 full=0.7".into(), stick(0.6, 0.8), 0.6, 0.8),
        ("plane", "pad.left-stick | deadzone 0.5 by=axes".into(), stick(0.75, -0.4), 0.5, 0.0),
        ("plane", "pad.left-stick | curve 2".into(), stick(0.3, 0.4), 0.15, 0.2),
        ("plane", "pad.left-stick | cap 0.5".into(), stick(0.6, 0.8), 0.3, 0.4),
        ("plane", "pad.left-stick.y | flip | onto x".into(), stick(0.6, 0.8), -0.8, 0.0),
        ("plane", "(pad.left-stick | pick length) | onto y".into(), stick(0.6, 0.8), 0.0, 1.0),
        ("axis", "pad.left-stick | pick y".into(), stick(0.6, -0.8), -0.8, 0.0),
        ("axis", "pad.left-stick.left".into(), stick(-0.6, 0.8), 0.6, 0.0),
        (
            "axis",
            "pair(pad.left-stick.down, pad.left-stick.right)".into(),
            stick(0.6, -0.2),
            0.4,
            0.0,
        ),
        ("axis", "key.Control | scale -0.5".into(), keys(&["ControlRight"]), -0.5, 0.0),
        ("plane", "pad.dpad".into(), taps("pad.dpad.left", &["0"]), -1.0, 0.0),
        (
            "plane",
            "join(pad.left-trigger | not, pad.left-stick.y | not)".into(),
            stick(0.0, 0.9),
            1.0,
            0.0,
        ),
        (
            "axis",
            "any(pad.left-stick.x, pad.left-stick.y | scale 0.5)".into(),
            stick(-0.3, 0.8),
            0.4,
            0.0,
        ),
        ("plane", "pad.left-stick | clamp -0.25 0.5".into(), stick(0.6, -0.8), 0.5, -0.25),
        ("plane", "pad.left-stick | unit".into(), stick(0.3, -0.4), 0.6, -0.8),
        ("plane", "pad.left-stick | order yx".into(), stick(0.3, -0.4), -0.4, 0.3),
        ("plane", "pad.left-stick | rotate 90deg".into(), stick(0.5, 0.0), 0.0, 0.5),
        ("plane", "pad.left-stick | ways 4".into(), stick(0.6, 0.8), 0.0, 1.0),
        ("plane", "pad.left-stick | ways 4".into(), stick(0.5, 0.5), 0.0, half),
        ("plane", "pad.left-stick | notch 0.25".into(), stick(0.3, 0.4), 0.3, 0.4),
        ("plane", "pad.left-stick | curve (0.5 0.2) (1 1)".into(), stick(0.45, 0.6), 0.36, 0.48),
        ("axis", "pad.left-stick.x | remap -1 1 0 10".into(), stick(0.5, 0.0), 7.5, 0.0),
        ("axis", "pad.left-stick.x | switch-at 0.6 off=0.2".into(), stick(-0.6, 0.0), 1.0, 0.0),
        ("axis", "key.KeyA | toggle | scale 3".into(), taps("key.KeyA", &["0", "0.05"]), 3.0, 0.0),
        // Out of range is held to the range.
        ("plane", "pad.left-stick".into(), stick(7.0, -3.0), 1.0, -1.0),
        (
            "axis",
            "pad.right-trigger | scale 1000000 | scale 1000000 | scale 1000000".into(),
            "{\"t\":0,\"control\":\"pad.right-trigger\",\"value\":1}".into(),
            1e15,
            0.0,
        ),
    ] {
        let scheme = if binding.contains("key.") { "desk" } else { "pad" };
        let text = format!("{HEAD}[map.quay.a]\nvalue = \"{kind}\"\nbind.{scheme} = \"{binding}\"");
        let (_, plan) = load(&text);
        let (log, _) = run(&plan, &inputs(&take, &plan), "10");
        let (_, _, values) = log.values.last().unwrap_or_else(|| panic!("no value: {binding}"));
        let value = values[0].1;
        let near = (value.x - x).abs() < 1e-12 && (value.y - y).abs() < 1e-12;
        assert!(near, "{binding} gave {value:?}, not ({x}, {y})");
    }
}

#[test]
fn the_scheme_in_use_is_that_of_the_device_used_last() {
    let (_, plan) = load(&format!("{HEAD}{SWITCH}"));
    let take = "{\"t\":0.1,\"control\":\"pad.left-stick\",\"value\":[0.3,0.39]}
                {\"t\":0.2,\"control\":\"pad.left-stick\",\"value\":[0.3,0.4]}
                {\"t\":0.25,\"control\":\"pad.south\",\"value\":1}
                {\"t\":0.3,\"control\":\"mouse.left\",\"value\":1}
                {\"t\":0.4,\"control\":\"key.KeyZ\",\"value\":1}
                {\"t\":0.5,\"control\":\"pad.left-stick\",\"value\":[0.3,0.5]}";
    let (log, _) = run(&plan, &inputs(take, &plan), "10");
    assert_eq!(lines(&plan, &log), ["0.2 #2 scheme pad", "0.3 #3 scheme desk"]);
}

#[test]
fn only_the_open_map_hears_and_a_score_may_open_another() {
    let text =
        format!("{HEAD}{SWITCH}[map.tug.whistle]\nvalue = \"switch\"\nbind.desk = \"key.KeyA\"");
    let (_, plan) = load(&text);
    let source = harmonym_lang::source::Source::new("s", "start tug\nat 0.1s down key.KeyA");
    let score = harmonym_lab::score::read(&source, &plan).unwrap();
    let mut log = crate::harness::Log::default();
    let rate = harmonym_runtime::base::Rate::DEFAULT;
    let mut run = harmonym_lab::take::Run::new(plan.clone(), score.playing(rate), None, &mut log);
    for input in score.perform() {
        assert!(run.input(input, &mut log).is_continue());
    }
    run.finish(&mut log);
    let told = lines(&plan, &log);
    assert!(told.iter().any(|l| l.contains("tug.whistle fire")), "{told:?}");
    assert!(!told.iter().any(|l| l.contains(" a ")), "{told:?}");
}

#[test]
fn game_code_reads_a_frame() {
    use harmonym_runtime::base::{Time, Vector};
    use harmonym_runtime::engine::{Cause, Engine, EpisodeState, Refused, Start};
    use std::time::Duration;
    let (_, plan) = load(&format!("{HEAD}{SWITCH}fire = \"press or hold 0.2s\""));
    let action = plan.find_action("quay.a").unwrap();
    let key = harmonym_runtime::controls::Catalogue::built_in().reported_id("key.KeyA").unwrap();
    let key = harmonym_runtime::base::Contact::first(key);
    let quiet = &mut |_| {};
    let mut engine = Engine::start(plan, Start::default(), quiet);
    let at = Time::from_millis;
    let report =
        |engine: &mut Engine, t, value| engine.report(at(t), key, Vector::axis(value), &mut |_| {});
    report(&mut engine, 10, 1.0).unwrap();
    assert_eq!(report(&mut engine, 15, f64::NAN), Err(Refused::NotANumber));
    report(&mut engine, 20, 0.0).unwrap();
    report(&mut engine, 30, 1.0).unwrap();
    let first = engine.tick(at(100), quiet).read(action);
    assert_eq!((first.fired, first.woke, first.ended), (2, true, Some((true, Cause::Released))));
    assert_eq!((first.state, first.value.x, first.progress), (EpisodeState::Live, 1.0, 1.0));
    assert_eq!((first.held, first.fired_for), (at(70).into(), Some(at(70).into())));
    // What comes after a tick does not take its edges away.
    assert_eq!(engine.advance(at(150), quiet).read(action).fired, 2);
    let second = engine.tick(at(200), quiet).read(action);
    assert_eq!((second.fired, second.woke), (0, false));
    // A time before the present one counts as the present one.
    report(&mut engine, 50, 0.0).unwrap();
    assert_eq!(engine.frame().value(action).x, 0.0);
    let last = engine.tick(at(300), quiet).read(action);
    assert_eq!((last.state, last.value.x), (EpisodeState::Rest, 0.0));
    assert_eq!((last.held, last.ended), (Duration::ZERO, Some((true, Cause::Released))));
    engine.restart(Start::default(), quiet);
    assert_eq!(engine.frame().read(action).ended, None);
}

/// A value that is equal to that of the tick before still has a sign of its own.
#[test]
fn an_action_that_rested_at_minus_zero_reads_zero_after_its_end() {
    use harmonym_runtime::base::{Contact, Time, Vector};
    use harmonym_runtime::engine::{Engine, Start};
    let text = "[map.quay.a]\nvalue = \"axis\"\nfire = \"taps 2 gap=0.3s\"\n\
                bind.desk = \"key.KeyA | flip\"\n";
    let (_, plan) = load(&format!("{HEAD}{text}"));
    let action = plan.find_action("quay.a").unwrap();
    let key = plan.catalogue().reported_id("key.KeyA").unwrap();
    let quiet = &mut |_| {};
    let mut engine = Engine::start(plan.clone(), Start::default(), quiet);
    let at = Time::from_millis;
    for (t, value) in [(10, 1.0), (20, 0.0)] {
        engine.report(at(t), Contact::first(key), Vector::axis(value), quiet).unwrap();
    }
    let waits = engine.tick(at(100), quiet).value(action).x;
    assert!(waits == 0.0 && waits.is_sign_negative());
    let rests = engine.tick(at(500), quiet).value(action).x;
    assert!(rests == 0.0 && rests.is_sign_positive());
    // What the end of a run leaves is read too.
    engine.report(at(510), Contact::first(key), Vector::axis(1.0), quiet).unwrap();
    assert_eq!(engine.tick(at(600), quiet).value(action).x, -1.0);
    engine.stop(quiet);
    assert_eq!(engine.frame().value(action).x, 0.0);
}

/// Between two looks a value is only read: what steps remember is as it was at the last look.
#[test]
fn a_toggle_behind_what_moves_changes_at_a_look_and_not_at_a_tick_between() {
    use harmonym_runtime::base::{Contact, Time, Vector};
    use harmonym_runtime::engine::{Engine, Start};
    let text = "[map.quay.a]\nvalue = \"axis\"\nblend = \"sum\"\n\
                bind.desk = [\"key.KeyA | ease rise=10/s fall=10/s | toggle\", \"key.KeyB\"]\n";
    let (_, plan) = load(&format!("{HEAD}{text}"));
    let action = plan.find_action("quay.a").unwrap();
    let key = |name: &str| Contact::first(plan.catalogue().reported_id(name).unwrap());
    let quiet = &mut |_| {};
    let mut engine = Engine::start(plan.clone(), Start::default(), quiet);
    for name in ["key.KeyB", "key.KeyA"] {
        engine.report(Time::ZERO, key(name), Vector::axis(1.0), quiet).unwrap();
    }
    // The input of the toggle comes on at 0.5: after 50 ms.
    let mut value_at =
        |micros: u64| engine.tick(Time::from_nanos(micros * 1000), quiet).value(action).x;
    assert_eq!((value_at(49_500), value_at(49_999), value_at(50_000)), (1.0, 1.0, 2.0));
    let (_, plan) = load(&format!("{HEAD}{}", text.replace("rise=10/s", "rise=9.95/s")));
    let mut engine = Engine::start(plan, Start::default(), quiet);
    for name in ["key.KeyB", "key.KeyA"] {
        engine.report(Time::ZERO, key(name), Vector::axis(1.0), quiet).unwrap();
    }
    // Now after 50.26 ms: it is seen at the look at 51 ms.
    let mut value_at =
        |micros: u64| engine.tick(Time::from_nanos(micros * 1000), quiet).value(action).x;
    assert_eq!((value_at(50_900), value_at(51_000)), (1.0, 2.0));
}

#[test]
fn a_kept_fire_goes_with_the_episode_that_was_ended_by_force() {
    let text = format!(
        "{HEAD}[map.quay.slow]\nvalue = \"switch\"\nfire = \"hold 1s\"\nbind.pad = \"pad.south\"\n\
         [map.quay.a]\nvalue = \"switch\"\nfire = \"press\"\nyields-to = [\"slow\"]\n\
         bind.desk = \"key.KeyA\"\n\
         [map.book]\nkind = \"layer\"\n[map.book.turn]\nvalue = \"switch\"\nclaim = true\n\
         bind.desk = \"key.KeyA\"\n"
    );
    let (_, plan) = load(&text);
    let take = "{\"t\":0.1,\"control\":\"pad.south\",\"value\":1}\n\
                {\"t\":0.2,\"control\":\"key.KeyA\",\"value\":1}\n\
                {\"t\":0.3,\"open\":\"book\"}\n\
                {\"t\":0.4,\"control\":\"pad.south\",\"value\":0}\n\
                {\"t\":0.5,\"close\":\"book\"}";
    let (log, _) = run(&plan, &inputs(take, &plan), "60");
    let told = lines(&plan, &log);
    let words = told.iter().map(|line| line.split(' ').collect::<Vec<_>>());
    let own: Vec<_> =
        words.filter(|words| words[2] == "a").map(|words| words[3].to_owned()).collect();
    assert_eq!(own, ["wake", "lapse"], "{told:?}");
}

#[test]
fn what_fired_keeps_its_press_after_its_map_is_closed() {
    let text = format!(
        "{HEAD}[map.quay.a]\nvalue = \"switch\"\nfire = \"tap 0.3s\"\nyields-to = [\"book.b\"]\n\
         bind.desk = \"key.KeyA\"\n\
         [map.book]\nkind = \"layer\"\n[map.book.b]\nvalue = \"switch\"\nfire = \"press\"\n\
         bind.desk = \"key.KeyB\"\n"
    );
    let (_, plan) = load(&text);
    let take = |close: &str| {
        format!(
            "{{\"t\":0,\"open\":\"book\"}}\n\
             {{\"t\":0.1,\"control\":\"key.KeyA\",\"value\":1}}\n\
             {{\"t\":0.2,\"control\":\"key.KeyB\",\"value\":1}}\n{close}\
             {{\"t\":0.3,\"control\":\"key.KeyA\",\"value\":0}}"
        )
    };
    for close in ["", "{\"t\":0.25,\"close\":\"book\"}\n"] {
        let (log, _) = run(&plan, &inputs(&take(close), &plan), "60");
        let told = lines(&plan, &log);
        assert!(
            told.iter().any(|line| line.contains(" a lapse ") && line.contains("yielded")),
            "{told:?}"
        );
    }
}
