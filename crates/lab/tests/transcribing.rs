//! A take as a score: it can be read, what it expects comes out, and the events are those of the take.

mod gate;

use harmonym_lab::score::{self, Score, try_score};
use harmonym_lab::take::{Header, Input, Playing, Run, Watcher, What};
use harmonym_lab::transcribe::{About, Transcript, USUAL, transcribe};
use harmonym_lang::Game;
use harmonym_lang::source::Source;
use harmonym_runtime::base::{Contact, Rate, Time, Vector};
use harmonym_runtime::plan::Plan;
use harmonym_runtime::{Notice, Told};
use proptest::prelude::*;
use std::fs;
use std::path::Path;
use std::sync::Arc;

fn demo() -> (Game, std::path::PathBuf) {
    let demo = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../demo");
    let text = fs::read_to_string(demo.join("harmonym.toml")).expect("the demo");
    (Game::parse("harmonym.toml", &text).expect("a sound profile"), demo)
}

fn read(plan: &Plan, text: &str) -> Score {
    let source = Source::new("own.score", text);
    score::read(&source, plan).unwrap_or_else(|faults| panic!("{faults:?}\n{text}"))
}

/// The score of some hands, once all that it expects was seen to come.
fn transcript(plan: &Arc<Plan>, header: &Header, inputs: &[Input], within: f64) -> Transcript {
    let about = About { header, from: "own.take.jsonl", player: None };
    let made = transcribe(plan, about, inputs, within);
    let score = read(plan, &made.text);
    for (one, expected) in try_score(plan, &score, None).iter().zip(&score.expectations) {
        let line = &made.text[expected.span.start..expected.span.end];
        assert!(one.pass, "{line}: {}\n{}", one.got, made.text);
    }
    assert_eq!(score.expectations.len(), made.expected);
    made
}

/// What the run of some hands tells of actions.
fn events(plan: &Arc<Plan>, playing: Playing, inputs: impl Iterator<Item = Input>) -> Vec<Told> {
    struct All(Vec<Told>);
    impl Watcher for All {
        fn notice(&mut self, told: Told) {
            if matches!(told.notice, Notice::Event(_)) {
                self.0.push(told);
            }
        }
    }
    let mut all = All(Vec::new());
    let mut run = Run::new(plan.clone(), playing, None, &mut all);
    for input in inputs {
        if run.input(input, &mut all).is_break() {
            break;
        }
    }
    run.finish(&mut all);
    all.0
}

#[test]
fn each_take_of_the_demo_becomes_a_score_of_few_lines() {
    let (game, demo) = demo();
    let mut count = 0;
    for entry in fs::read_dir(demo.join("scores")).expect("scores").flatten() {
        let text = fs::read_to_string(entry.path()).expect("a score");
        let score = read(game.plan(), &text);
        let plan = game.clone().for_layout(score.layout.unwrap_or_default()).plan().clone();
        let Score { start, rate, layout, seats, .. } = score;
        let header = Header { title: score.title.clone(), start, rate, layout, seats };
        let inputs: Vec<Input> = score.perform().collect();
        let made = transcript(&plan, &header, &inputs, USUAL);
        let name = entry.path().display().to_string();
        assert!(made.is_same, "{name}\n{}", made.text);
        let most = if name.contains("drifting") { 60 } else { score.instructions.len() + 4 };
        assert!(made.lines <= most, "{name}: {} lines\n{}", made.lines, made.text);
        count += 1;
    }
    assert_eq!(count, 20);
}

/// The demo's controls that a keeper's hands are on, by what they report.
const KEYS: &[&str] = &["key.KeyW", "key.Space", "key.KeyF", "key.KeyT", "pad.south", "pad.north"];

fn contact(plan: &Plan, name: &str) -> Contact {
    Contact::first(plan.find_control(name).expect("a control"))
}

/// What a hand does for a while, as a device would report it.
#[derive(Clone, Debug)]
enum Deed {
    /// A key: which, and for how many microseconds.
    Key(usize, u64),
    /// A stick to somewhere and back, in so many reports of so many milliseconds each.
    Stick(f64, f64, u64, u64),
    /// A trigger so far, in so many reports.
    Trigger(f64, u64),
    /// The mouse, in so many reports of so much.
    Mouse(i32, i32, u64),
    /// Notches of the wheel.
    Wheel(u64),
}

impl Deed {
    fn play(&self, plan: &Plan, mut t: Time, out: &mut Vec<Input>) -> Time {
        let mut report = |t: Time, name: &str, value: Vector| {
            out.push(Input { t, what: What::Report(contact(plan, name), value) });
        };
        let ms = Time::from_millis;
        match *self {
            Self::Key(which, micros) => {
                let name = KEYS[which % KEYS.len()];
                report(t, name, Vector::axis(1.0));
                t = t + Time::from_nanos(micros * 1000);
                report(t, name, Vector::ZERO);
            }
            Self::Stick(x, y, count, every) => {
                // Hands begin slowly and end slowly.
                let share = |k: u64| (1.0 - (k as f64 / count as f64 * 3.0).cos()) / 2.0;
                for k in (1..=count).chain((0..count).rev()) {
                    t = t + ms(every);
                    let (x, y) = (x * share(k), y * share(k));
                    report(t, "pad.left-stick", Vector::new(x, y));
                }
            }
            Self::Trigger(most, count) => {
                for k in (1..=count).chain((0..count).rev()) {
                    t = t + ms(4);
                    report(t, "pad.right-trigger", Vector::axis(most * k as f64 / count as f64));
                }
            }
            Self::Mouse(x, y, count) => {
                for _ in 0..count {
                    t = t + ms(1);
                    report(t, "mouse.move", Vector::new(f64::from(x), f64::from(y)));
                }
            }
            Self::Wheel(count) => {
                for _ in 0..count {
                    t = t + ms(30);
                    report(t, "mouse.wheel", Vector::new(0.0, 1.0));
                }
            }
        }
        t
    }
}

fn deeds() -> impl Strategy<Value = Vec<(u64, Deed)>> {
    let deed = prop_oneof![
        (0..6_usize, 100..1_200_000_u64).prop_map(|(key, micros)| Deed::Key(key, micros)),
        (-1.0..1.0, -1.0..1.0, 1..30_u64, 1..12_u64)
            .prop_map(|(x, y, count, every)| Deed::Stick(x, y, count, every)),
        (0.0..1.0, 1..40_u64).prop_map(|(most, count)| Deed::Trigger(most, count)),
        (-40..40, -40..40, 1..60_u64).prop_map(|(x, y, count)| Deed::Mouse(x, y, count)),
        (1..6_u64).prop_map(Deed::Wheel),
    ];
    prop::collection::vec((0..400_000_u64, deed), 1..12)
}

proptest! {
    #![proptest_config(gate::gate(96))]

    #[test]
    fn any_hands_become_a_score_with_the_same_events(deeds in deeds(), within in 0.002..0.1) {
        let (game, _) = demo();
        let plan = game.plan();
        let (mut t, mut inputs) = (Time::from_millis(50), Vec::new());
        for (pause, deed) in deeds {
            t = deed.play(plan, t + Time::from_nanos(pause * 1000), &mut inputs);
        }
        let header = Header { seats: Some(1), ..Header::default() };
        let made = transcript(plan, &header, &inputs, within);
        prop_assert!(made.is_same, "{}", made.text);
        prop_assert!(made.within <= within);
        if made.within == 0.0 {
            // Nothing is left out: the very same reports.
            let playing = Playing { seats: Some(1), ..Playing::at(Rate::DEFAULT) };
            let own = read(plan, &made.text);
            let both = [
                events(plan, playing, inputs.iter().copied()),
                events(plan, playing, own.perform()),
            ];
            prop_assert_eq!(&both[0], &both[1]);
        }
    }
}

#[test]
fn what_is_not_a_report_stands_in_the_score_too() {
    let (game, _) = demo();
    let plan = game.plan();
    let seat = harmonym_runtime::Seat::FIRST;
    let pad = harmonym_lab::take::Replay::read(
        "t",
        "{\"take\":1,\"start\":\"tug\",\"rate\":30,\"seats\":2}\n\
         {\"t\":0,\"setting\":\"gaze-speed\",\"value\":0.5,\"seat\":1}\n\
         {\"t\":0.1,\"fact\":\"cab-angle\",\"value\":-12.5}\n\
         {\"t\":0.2,\"plug\":\"pad#2\"}\n{\"t\":0.3,\"give\":\"pad#2\",\"seat\":2}\n\
         {\"t\":0.4,\"pause\":true}\n{\"t\":0.5,\"pause\":false}\n\
         {\"t\":0.6,\"scheme\":\"levers\"}\n{\"t\":0.7,\"scheme\":null,\"seat\":2}\n\
         {\"t\":0.8,\"open\":\"log-book\"}\n{\"t\":0.9,\"close\":\"log-book\",\"seat\":1}\n\
         {\"t\":1,\"control\":\"pad#2.south\",\"value\":1}\n{\"t\":1.2,\"unplug\":\"pad#2\"}\n",
        plan,
    )
    .expect("a take");
    let (mut hands, mut replay, mut inputs) = (pad.hands(), pad.clone(), Vec::new());
    while let Some(step) = replay.step(&mut hands) {
        match step {
            harmonym_lab::take::Step::Input(input) => inputs.push(input),
            harmonym_lab::take::Step::Tick(at) => hands.tick(at),
        }
    }
    let made = transcript(plan, pad.header(), &inputs, USUAL);
    assert!(made.is_same);
    for line in [
        "start tug",
        "rate 30",
        "seats 2",
        "at 0s  setting gaze-speed = 0.5 for seat 1",
        "at 0.1s  fact cab-angle = -12.5",
        "at 0.2s  plug pad#2",
        "at 0.3s  seat 2 gets pad#2",
        "at 0.4s  pause",
        "at 0.5s  resume",
        "at 0.6s  scheme levers",
        "at 0.7s  scheme all for seat 2",
        "at 0.8s  open log-book",
        "at 0.9s  close log-book for seat 1",
        "at 1s  down pad#2.south",
        "at 1.2s  unplug pad#2",
    ] {
        assert!(made.text.lines().any(|own| own == line), "{line}\n{}", made.text);
    }
    assert!(made.text.contains("of seat 2"), "{seat}: {}", made.text);
}
