//! Scores performed: what random hands report, and that it survives being written as a take.

mod gate;

use harmonym_lab::score::{self, Score, try_score};
use harmonym_lab::take::{Input, Playing, Reader, Run, Watcher, What, write_input};
use harmonym_lang::source::Source;
use harmonym_runtime::base::{Rate, Time};
use harmonym_runtime::controls::Catalogue;
use harmonym_runtime::engine::Notice;
use harmonym_runtime::plan::Plan;
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
struct Log(Vec<Notice>);

impl Watcher for Log {
    fn notice(&mut self, notice: Notice) {
        self.0.push(notice);
    }
}

fn run(plan: &Arc<Plan>, inputs: &[Input]) -> Vec<Notice> {
    let mut log = Log::default();
    let mut run = Run::new(
        Arc::clone(plan),
        Playing { start: None, rate: Rate::DEFAULT, scheme: None },
        None,
        &mut log,
    );
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
