//! The interface as Python's ctypes sees it: what was told, written from the structs alone.

#![cfg(all(target_os = "linux", feature = "tools"))]

use harmonym_lab::score;
use harmonym_lab::take::{Replay, Step};
use harmonym_lab::told::Lines;
use harmonym_lang::Game;
use harmonym_lang::source::Source;
use harmonym_runtime::EventReader;
use std::fs;
use std::path::Path;
use std::process::Command;
use tempfile::TempDir;

/// What a take tells, in Rust.
fn told(name: &str, take: &str, game: &Game) -> String {
    let mut replay = Replay::of_game(name, take, game).expect("a take");
    let (mut hands, mut reader) = (replay.hands(), EventReader::default());
    while let Some(step) = replay.step(&mut hands) {
        match step {
            Step::Input(input) => input.give_to(&mut hands).expect("an input"),
            Step::Tick(at) => hands.tick(at),
        }
    }
    hands.stop();
    let mut text = String::new();
    hands.events(&mut reader).for_each(|one| Lines { plan: replay.plan() }.notice(&mut text, one));
    text
}

fn json(line: &str) -> serde_json::Value {
    serde_json::from_str(line).expect("a line of JSON")
}

/// The texts of a line, those of keys among them, in order.
fn keys(line: &str) -> Vec<&str> {
    line.split('"').skip(1).step_by(2).collect()
}

#[test]
#[ignore = "needs python3"]
fn the_structs_say_what_the_lines_say() {
    let folder = TempDir::new().expect("a folder");
    let demo = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../demo");
    let profile = fs::read_to_string(demo.join("harmonym.toml")).expect("the demo");
    let game = Game::parse("harmonym.toml", &profile).expect("a sound profile");
    let (mut expected, mut takes) = (String::new(), Vec::new());
    let mut scores: Vec<_> = fs::read_dir(demo.join("scores")).expect("scores").flatten().collect();
    scores.sort_by_key(fs::DirEntry::path);
    for entry in scores {
        let text = fs::read_to_string(entry.path()).expect("a score");
        let source = Source::new(entry.path().to_string_lossy(), text);
        let score = score::read(&source, game.plan()).expect("a score");
        let (take, _) = score.as_take(game.plan());
        let path = folder.path().join(entry.file_name()).with_extension("take.jsonl");
        fs::write(&path, &take).expect("to write the take");
        expected += &told("take", &take, &game);
        takes.push(path);
    }
    let deps = std::env::current_exe().expect("this test");
    let mut python = Command::new("python3");
    python.arg(Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/python/lines.py"));
    python.arg(deps.with_file_name("libharmonym.so")).arg(demo.join("harmonym.toml"));
    python.args(takes).env("PYTHONUTF8", "1");
    let out = python.output().expect("python3");
    let said = String::from_utf8_lossy(&out.stderr);
    assert!(out.status.success(), "{said}");
    assert!(expected.len() > 10_000, "{}", expected.len());
    let told = String::from_utf8_lossy(&out.stdout);
    for (own, wanted) in told.lines().zip(expected.lines()) {
        // Numbers may be written in another form; keys come in the same order.
        assert_eq!(json(own), json(wanted), "{own}\n{wanted}");
        assert_eq!(keys(own), keys(wanted));
    }
    assert_eq!(told.lines().count(), expected.lines().count());
}
