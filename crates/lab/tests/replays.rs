//! A take in a game's own loop tells what a run of it tells.

use harmonym_lab::score;
use harmonym_lab::take::{Replay, Run, Step, Watcher};
use harmonym_lang::Game;
use harmonym_lang::source::Source;
use harmonym_runtime::base::Rate;
use harmonym_runtime::{EventReader, Told};
use std::fs;
use std::path::Path;

struct All(Vec<Told>);

impl Watcher for All {
    fn notice(&mut self, told: Told) {
        self.0.push(told);
    }
}

#[test]
fn every_score_of_the_demo_tells_the_same_as_a_take_in_a_loop() {
    let demo = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../demo");
    let text = fs::read_to_string(demo.join("harmonym.toml")).expect("the demo");
    let game = Game::parse("harmonym.toml", &text).expect("a sound profile");
    let mut count = 0;
    for entry in fs::read_dir(demo.join("scores")).expect("scores").flatten() {
        let text = fs::read_to_string(entry.path()).expect("a score");
        let source = Source::new(entry.path().to_string_lossy(), text);
        let score = score::read(&source, game.plan()).expect("a score");
        let rate = score.rate.unwrap_or(Rate::DEFAULT);
        let plan = game.clone().for_layout(score.layout.unwrap_or_default()).plan().clone();
        let mut all = All(Vec::new());
        let mut run = Run::new(plan.clone(), score.playing(rate), None, &mut all);
        for input in score.perform() {
            if run.input(input, &mut all).is_break() {
                break;
            }
        }
        let end = run.finish(&mut all);

        let (take, _) = score.as_take(&plan);
        let mut replay = Replay::read("take", &take, &plan).expect("a take");
        let mut hands = replay.hands();
        let (mut reader, mut told, mut last) = (EventReader::default(), Vec::new(), None);
        while let Some(step) = replay.step(&mut hands) {
            match step {
                Step::Input(input) => input.give_to(&mut hands).expect("an input"),
                Step::Tick(at) => {
                    hands.tick(at);
                    last = Some(at);
                }
            }
            told.extend(hands.events(&mut reader));
        }
        hands.stop();
        told.extend(hands.events(&mut reader));
        assert_eq!(told, all.0, "{}", entry.path().display());
        assert_eq!((last, hands.seat(1).ticks()), (Some(end.t), end.tick));
        assert_eq!(replay.end(), end);
        count += 1;
    }
    assert!(count > 10, "{count}");
}

#[test]
fn a_take_of_another_layout_gets_its_own_plan_or_is_refused() {
    let text = "harmonym = 1\nscheme.desk.devices = [\"key\"]\n[map.quay.hail]\nvalue = \"switch\"\n\
                bind.desk = \"char.z\"\n";
    let game = Game::parse("p", text).expect("a sound profile");
    let take = "\u{feff}{\"take\":1,\"layout\":\"de\"}\n\n{\"t\":0,\"control\":\"key.KeyY\",\"value\":1}\n";
    let german = Replay::of_game("t", take, &game).expect("a take");
    assert_eq!(german.plan().layout().word(), "de");
    let told = Replay::read("t", take, game.plan()).expect_err("another layout").to_string();
    assert_eq!(told, "t is of the layout de, the plan of us; make the plan for that layout");
    let of_plan = Replay::read("t", take, german.plan()).expect("a take");
    assert_eq!(of_plan.hands().plan().layout().word(), "de");
    assert!(Replay::of_game("t", "", &game).is_err());
    let tick = "{\"take\":1}\n{\"t\":0,\"tick\":true}\n";
    assert!(Replay::of_game("t", tick, &game).is_err());
}
