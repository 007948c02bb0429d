//! Scores performed: what random hands report, and that it survives being written as a take.

mod gate;

use harmonym_lab::score::{self, Score, try_score};
use harmonym_lab::take::{Input, Playing, Reader, Run, Watcher, What, write_input};
use harmonym_lang::source::Source;
use harmonym_runtime::base::{Rate, Time};
use harmonym_runtime::controls::Catalogue;
use harmonym_runtime::plan::Plan;
use harmonym_runtime::seats::Told;
use proptest::prelude::*;
use std::sync::Arc;

const DEMO: &str = include_str!("../../../demo/harmonym.toml");

fn demo() -> Arc<Plan> {
    Arc::new(harmonym_lang::load(&Source::new("demo", DEMO)).expect("the demo is sound").1)
}

fn read(text: &str, plan: &Plan) -> Score {
    let score = score::read(&Source::new("s", text), plan);
    score.unwrap_or_else(|faults| panic!("{faults}\n{text}"))
}

/// Instructions at random moments, many of them on the same two controls.
fn random_score() -> impl Strategy<Value = String> {
    let number = || (-10_i32..=10).prop_map(|n| f64::from(n) / 10.0);
    let over = || prop::sample::select(vec!["", " over 0.1s", " over 33ms", " over 4ms"]);
    let verb = prop_oneof![
        (number(), number(), over())
            .prop_map(|(x, y, over)| format!("push pad.left-stick to ({x}, {y}){over}")),
        (number(), over()).prop_map(|(x, over)| format!("push pad.left-stick.x to {x}{over}")),
        (number(), over())
            .prop_map(|(x, over)| format!("push pad.left-stick.up to {}{over}", x.abs())),
        over().prop_map(|over| format!("release pad.left-stick{over}")),
        (1_u32..200).prop_map(|ms| format!("press key.KeyE for {ms}ms")),
        Just("down pad.left-trigger".to_owned()),
        Just("up pad.left-trigger".to_owned()),
    ];
    let when = (prop::sample::select(vec!["at", "after"]), 0_u32..120);
    let line = (when, verb).prop_map(|((word, ms), verb)| match word {
        "at" => format!("at {}ms {verb}\n", ms * 10),
        _ => format!("after {ms}ms {verb}\n"),
    });
    prop::collection::vec(line, 0..12).prop_map(|lines| lines.concat())
}

#[derive(Default)]
struct Log(Vec<Told>);

impl Watcher for Log {
    fn notice(&mut self, told: Told) {
        self.0.push(told);
    }
}

fn run(plan: &Arc<Plan>, inputs: &[Input]) -> Vec<Told> {
    let mut log = Log::default();
    let mut run = Run::new(Arc::clone(plan), Playing::at(Rate::DEFAULT), None, &mut log);
    for input in inputs {
        assert!(run.input(*input, &mut log).is_continue());
    }
    run.finish(&mut log);
    log.0
}

proptest! {
    #![proptest_config(gate::gate(256))]

    #[test]
    fn a_score_and_its_take_are_the_same_hands(text in random_score()) {
        let plan = demo();
        let inputs: Vec<Input> = read(&text, &plan).perform().collect();
        let (mut reader, _) = Reader::new("t", "{\"take\":1}", &plan).expect("a header");
        let mut again = Vec::new();
        for input in &inputs {
            let mut line = String::new();
            write_input(&mut line, &plan, input).unwrap();
            again.extend(reader.line(&line).expect("a sound line"));
        }
        prop_assert_eq!(&again, &inputs, "{}", text);
        prop_assert_eq!(run(&plan, &again), run(&plan, &inputs));
    }

    /// Reports come in order of time, within range, and a movement's last one is where it goes.
    #[test]
    fn hands_stay_in_range_and_arrive(text in random_score(), x in -10_i32..=10, ms in 1_u32..300) {
        let plan = demo();
        let x = f64::from(x) / 10.0;
        let text = format!("{text}at 9s push pad.left-stick to ({x}, 0.5) over {ms}ms\n");
        let inputs: Vec<Input> = read(&text, &plan).perform().collect();
        prop_assert!(inputs.is_sorted_by_key(|input| input.t));
        for input in &inputs {
            let What::Report(control, value) = input.what else { continue };
            let (least, most) = Catalogue::built_in().reported()[harmonym_runtime::base::Id::index(control.control)].kind.range();
            prop_assert!(value.components().iter().all(|c| (least..=most).contains(c)), "{input:?}");
        }
        let last = inputs.last().expect("the last movement");
        let What::Report(_, value) = last.what else { panic!("{last:?}") };
        prop_assert_eq!(last.t, Time::from_millis(9000 + u64::from(ms)));
        prop_assert_eq!((value.x, value.y), (x, 0.5));
    }
}

#[test]
fn the_demo_meets_its_expectations_at_every_rate() {
    let plan = demo();
    for text in [
        include_str!("../../../demo/scores/tie-a-knot.score"),
        include_str!("../../../demo/scores/any-frame-rate.score"),
        include_str!("../../../demo/scores/board-the-tug.score"),
        include_str!("../../../demo/scores/ring-the-bell.score"),
        include_str!("../../../demo/scores/signal-out-of-order.score"),
    ] {
        let score = read(text, &plan);
        for rate in ["20", "60", "59.94", "144", "1000"] {
            for (i, outcome) in try_score(&plan, &score, Rate::parse(rate)).iter().enumerate() {
                assert!(outcome.pass, "{:?} {i} at {rate}: {}", score.title, outcome.got);
            }
        }
    }
}

/// The reports of a score, each as `milliseconds control value`.
fn reports(text: &str) -> Vec<String> {
    let plan = demo();
    let score = read(text, &plan);
    let told = score.perform().map(|input| {
        let What::Report(contact, value) = input.what else { panic!("{input:?}") };
        let control = &plan.names().controls[contact.control];
        let ms = input.t.nanos() as f64 / 1e6;
        format!("{ms} {control} {} {}", value.x, value.y)
    });
    told.collect()
}

#[test]
fn hands_report_where_their_straight_lines_are() {
    for (text, wanted) in [
        // A movement without a time is there at once; one with a time goes by its samples.
        ("at 1s push pad.left-stick to (0.5, -1)", &["1000 pad.left-stick 0.5 -1"][..]),
        (
            "sample 10ms\nat 0s push pad.left-stick to (1, 0)\n\
             at 1s push pad.left-stick to (0, 0.5) over 30ms",
            &[
                "0 pad.left-stick 1 0",
                "1000 pad.left-stick 1 0",
                "1010 pad.left-stick 0.6666666666666667 0.16666666666666666",
                "1020 pad.left-stick 0.33333333333333337 0.3333333333333333",
                "1030 pad.left-stick 0 0.5",
            ],
        ),
        // A drag reports what more it has moved by; a wheel whole notches, and nothing between.
        (
            "sample 10ms\nat 1s drag mouse.move by (3, 0) over 40ms",
            &[
                "1010 mouse.move 0.75 0",
                "1020 mouse.move 0.75 0",
                "1030 mouse.move 0.75 0",
                "1040 mouse.move 0.75 0",
            ],
        ),
        (
            "sample 10ms\nat 1s drag mouse.wheel by (0, 2) over 40ms",
            &["1020 mouse.wheel 0 1", "1040 mouse.wheel 0 1"],
        ),
        ("at 1s drag mouse.move by (3, -2)", &["1000 mouse.move 3 -2"]),
        ("at 1s press key.KeyE for 0.2s", &["1000 key.KeyE 1 0", "1200 key.KeyE 0 0"]),
    ] {
        assert_eq!(reports(text), wanted, "{text}");
    }
}

#[test]
fn noise_is_even_and_stays_within_its_bounds() {
    let text = "sample 1ms\nat 0s noise pad.left-stick of 0.2 for 2s seed 7";
    let told = reports(text);
    let x: Vec<f64> = told.iter().filter_map(|line| line.split(' ').nth(2)?.parse().ok()).collect();
    assert!(x.len() > 1900, "{}", x.len());
    assert!(x.iter().all(|x| x.abs() <= 0.2));
    let (least, most) = x.iter().fold((0.0_f64, 0.0_f64), |(a, b), x| (a.min(*x), b.max(*x)));
    assert!(least < -0.19 && most > 0.19, "{least} to {most}");
    let mean = x.iter().sum::<f64>() / x.len() as f64;
    assert!(mean.abs() < 0.02, "{mean}");
    assert_eq!(reports(text), told);
}

#[test]
fn what_hands_cannot_do_is_told_at_its_place() {
    let plan = demo();
    for (text, wanted) in [
        ("at 0s drag pad.left-stick by (1, 1)", "`drag` is for relative controls"),
        ("at 0s push mouse.move to (1, 1)", "drag mouse.move by"),
        ("at 0s drift key.KeyE to 1 over 1s", "`drift` is for levers, axes, sticks"),
        ("at 0s noise pad.south of 0.1 for 1s seed 1", "`noise` is for levers, axes, sticks"),
        ("at 0s press char. for 0.1s", "no key types ``"),
        ("at 0s release pad.south over 0.1s", "`pad.south` is a button"),
        ("at 0.5 press key.KeyH for 0.1s", "the time `0.5` has no unit"),
        ("expect quay.hail rests because nonsense", "`nonsense` is not a cause"),
        ("sample 0.999us", "movements cannot report that often"),
    ] {
        let faults = score::read(&Source::new("s", text), &plan).expect_err(text);
        assert!(faults.to_string().contains(wanted), "{text}: {faults}");
        assert!(faults.to_string().starts_with("s:1:"), "{faults}");
    }
    // The character is whatever stands behind the dot, a comment's sign or a quote included.
    for typed in ["#", "\"", "é"] {
        let text = format!("layout fr\nat 0s press char.{typed} for 0.1s # held");
        let score = score::read(&Source::new("s", text.as_str()), &plan);
        assert!(score.is_ok_and(|score| score.instructions.len() == 1), "{text}");
    }
    // Two movements of one component are at odds, of two they are not.
    let both = |a: &str, b: &str| {
        reports(&format!("sample 10ms\nat 0s {a} over 40ms\nat 5ms {b} over 20ms")).len()
    };
    let (x, y) = ("push pad.left-stick.x to 1", "push pad.left-stick.y to 1");
    assert_eq!(both(x, y), 5 + 3);
    assert!(both(x, "push pad.left-stick.x to -1") < 5 + 3);
}

#[test]
fn only_what_was_expected_is_told_of_a_run() {
    let plan = demo();
    let text = "seats 1\nat 0.1s press key.KeyH for 0.05s\nat 0.4s press key.KeyH for 0.05s\n\
                expect quay.hail fires 3 times\nexpect quay.hail fires 2 times\n";
    let score = read(text, &plan);
    let [short, met] = &try_score(&plan, &score, None)[..] else { panic!("two outcomes") };
    assert!(met.pass && !short.pass, "{short:?}");
    assert_eq!(short.got.matches("fire at").count(), 2, "{}", short.got);
}

#[test]
fn an_expectation_is_met_at_its_moment_and_not_beside_it() {
    let plan = demo();
    let passes = |expectation: &str| {
        let text = format!(
            "sample 1us\nat 0.1s press key.KeyH for 0.05s\nafter 0.25s press key.KeyH for 0.05s\n\
             expect {expectation}\n"
        );
        try_score(&plan, &read(&text, &plan), None)[0].pass
    };
    for (met, missed) in [
        // `after` counts from where the press before it ended.
        ("quay.hail fires at 0.4s within 0.001s", "quay.hail fires at 0.35s within 0.001s"),
        ("quay.hail fires after 0.1s once", "quay.hail fires after 0.1s twice"),
        ("quay.hail fires after 0.399999999s once", "quay.hail fires after 0.4s"),
        ("quay.hail fires before 0.100000001s once", "quay.hail fires before 0.1s"),
        ("quay.hail = on at 0.12s", "quay.hail = on at 0.16s"),
        ("quay.hail rests because released", "quay.hail rests because gap"),
    ] {
        assert!(passes(met), "{met}");
        assert!(!passes(missed), "{missed}");
    }
}

#[test]
fn a_take_that_names_a_part_is_told_to_write_the_whole() {
    let plan = demo();
    let (mut reader, _) = Reader::new("t", "{\"take\":1}", &plan).unwrap();
    for (control, wanted) in [
        ("pad.left-stick.x", "write the whole control: `pad.left-stick` with `\"value\":[x, y]`"),
        ("mouse.move.x", "write the whole control: `mouse.move` with `\"by\":[x, y]`"),
        ("mouse.wheel.up", "write the wheel: `\"control\":\"mouse.wheel\",\"by\":[0,1]`"),
        ("key.Shift", "write what it reports, such as `key.ShiftLeft`"),
        ("pad.souht", "did you mean `pad.south`?"),
    ] {
        let line = format!("{{\"t\":0,\"control\":\"{control}\",\"value\":1}}");
        let faults = reader.line(&line).expect_err(control);
        assert!(faults.to_string().contains(wanted), "{control}: {faults}");
    }
}
