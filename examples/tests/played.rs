//! The same small game in three languages: built, played by takes and by a person's keys.

#![cfg(target_os = "linux")]

#[path = "../../crates/cli/tests/cli/pty.rs"]
mod pty;

use pty::Pty;
use std::ffi::OsStr;
use std::fs;
use std::io::Write;
use std::path::{Path, PathBuf};
use std::process::Command;
use std::sync::OnceLock;
use tempfile::TempDir;

fn root() -> &'static Path {
    Path::new(env!("CARGO_MANIFEST_DIR")).parent().expect("the workspace")
}

/// The folder with what was built: the tool and the library, which are made if they are not there as they should be.
fn built() -> &'static Path {
    static ONE: OnceLock<PathBuf> = OnceLock::new();
    ONE.get_or_init(|| {
        let folder = Path::new(env!("CARGO_BIN_EXE_quay")).parent().expect("a folder").to_owned();
        let mut build = Command::new(env!("CARGO"));
        build.args(["build", "--quiet", "--workspace", "--locked"]).current_dir(root());
        build.env("CARGO_TARGET_DIR", folder.parent().expect("the target folder"));
        if !cfg!(debug_assertions) {
            build.arg("--release");
        }
        assert!(build.status().expect("cargo").success());
        folder
    })
}

fn output(program: impl AsRef<OsStr>, args: &[&str], dir: &Path) -> String {
    let mut command = Command::new(program.as_ref());
    let library = built().join("libharmonym.so");
    // The library that it was built with, and no other that lies around.
    command.env_remove("LD_LIBRARY_PATH");
    let out = command.args(args).current_dir(dir).env("HARMONYM", library).output();
    let out = out.unwrap_or_else(|error| panic!("{:?}: {error}", program.as_ref()));
    let said = String::from_utf8_lossy(&out.stderr);
    assert!(out.status.success(), "{:?} {args:?}: {said}", program.as_ref());
    String::from_utf8(out.stdout).expect("a text")
}

/// Builds a program in C against the shared library, without a warning.
fn compile(source: &Path, folder: &Path) -> String {
    let text = |path: &Path| path.to_str().expect("a path").to_owned();
    let made = text(&folder.join(source.file_stem().expect("a name")));
    let include = format!("-I{}", text(&root().join("crates/ffi/include")));
    let library = text(&built().join("libharmonym.so"));
    let to_find = format!("-Wl,-rpath,{}", built().display());
    let strict = ["-std=c99", "-Wall", "-Wextra", "-Wpedantic", "-Werror"];
    let rest = [&*include, &*text(source), "-o", &*made, &*library, &*to_find];
    output("cc", &[&strict[..], &rest[..]].concat(), folder);
    made
}

/// The game in one language.
struct Game {
    language: &'static str,
    /// How to run it.
    words: Vec<String>,
}

impl Game {
    /// In Rust.
    fn rust() -> Self {
        Self { language: "Rust", words: vec![env!("CARGO_BIN_EXE_quay").to_owned()] }
    }

    /// In the languages that take more than Rust.
    fn others(folder: &Path) -> [Self; 2] {
        let c = vec![compile(&root().join("examples/c/quay.c"), folder)];
        let text = |path: PathBuf| path.to_str().expect("a path").to_owned();
        let script = text(root().join("examples/python/quay.py"));
        let library = format!("HARMONYM={}", text(built().join("libharmonym.so")));
        let python = ["env", &library, "python3", &script].map(str::to_owned).to_vec();
        [Self { language: "C", words: c }, Self { language: "Python", words: python }]
    }
}

fn demo() -> TempDir {
    let folder = TempDir::new().expect("a folder");
    output(built().join("harmonym"), &["demo", "--keep", "."], folder.path());
    folder
}

/// Sees that every take of the demo tells in these languages what `play` tells.
fn expect_told_as_by_play(folder: &Path, games: &[Game]) {
    let tool = built().join("harmonym");
    let mut count = 0;
    for score in fs::read_dir(folder.join("scores")).expect("scores").flatten() {
        let score = score.path();
        let score = score.to_str().expect("a path");
        output(&tool, &["render", score, "-o", "hands.take.jsonl", "--force"], folder);
        let play = output(&tool, &["play", "hands.take.jsonl", "--format", "json"], folder);
        for Game { language, words } in games {
            let mut words: Vec<&str> = words.iter().map(String::as_str).collect();
            words.extend(["harmonym.toml", "hands.take.jsonl"]);
            assert_eq!(output(words[0], &words[1..], folder), play, "{language}: {score}");
        }
        count += 1;
    }
    assert!(count > 10, "{count}");
}

/// Plays it with keys, in a terminal.
fn expect_played_with_keys(folder: &Path, games: &[Game]) {
    for Game { language, words } in games {
        let mut words: Vec<&str> = words.iter().map(String::as_str).collect();
        words.push("harmonym.toml");
        let mut pty = Pty::run(Path::new(words[0]), &words[1..], folder);
        let row = |keeper: usize| format!("{}@{}", "=".repeat(keeper), "=".repeat(39 - keeper));
        pty.wait_for(&row(5));
        assert!(pty.is_raw(), "{language}");
        // A step to the right takes an eighth of a second; a key counts for a little longer.
        pty.keys.write_all(b"d").expect("a key");
        pty.wait_for(&row(6));
        pty.keys.write_all(b"h").expect("a key");
        pty.wait_for("The boat comes alongside.");
        pty.keys.write_all(b"\x14").expect("a key");
        pty.wait_for("The bell rings");
        pty.keys.write_all(b"a").expect("a key");
        pty.wait_for(&row(5));
        pty.keys.write_all(b"q").expect("a key");
        let (code, _, text) = pty.end();
        assert_eq!(code, Some(0), "{language}: {text}");
    }
}

fn expect_fault_told_with_its_place(folder: &Path, games: &[Game]) {
    fs::write(folder.join("p.toml"), "harmonym = 1\n[map.quay.hail]\nvalue = \"swich\"\n")
        .expect("a file");
    for Game { language, words } in games {
        let mut game = Command::new(&words[0]);
        game.env_remove("LD_LIBRARY_PATH").args(&words[1..]).arg("p.toml").current_dir(folder);
        let out = game.output().expect("the game");
        let said = String::from_utf8_lossy(&out.stderr);
        assert!(!out.status.success(), "{language}");
        let place = "p.toml:3:9: `swich` is not a kind of value; did you mean `switch`?";
        assert!(said.contains(place), "{language}: {said}");
    }
}

#[test]
fn every_take_of_the_demo_tells_in_rust_what_play_tells() {
    let folder = demo();
    expect_told_as_by_play(folder.path(), &[Game::rust()]);
}

#[test]
fn the_game_in_rust_is_played_with_keys() {
    let folder = demo();
    expect_played_with_keys(folder.path(), &[Game::rust()]);
}

#[test]
fn a_faulty_profile_is_told_with_its_place_in_rust() {
    let folder = demo();
    expect_fault_told_with_its_place(folder.path(), &[Game::rust()]);
}

#[test]
#[ignore = "needs cc and python3"]
fn the_games_in_c_and_python_do_what_the_one_in_rust_does() {
    let folder = demo();
    let games = Game::others(folder.path());
    expect_told_as_by_play(folder.path(), &games);
    expect_played_with_keys(folder.path(), &games);
    expect_fault_told_with_its_place(folder.path(), &games);
}

#[test]
#[ignore = "needs cc"]
fn the_program_in_c_of_the_guide_does_what_it_says() {
    let folder = TempDir::new().expect("a folder");
    let page = fs::read_to_string(root().join("docs/guide/game.md")).expect("the page");
    let program = page.split("```c\n").nth(1).and_then(|rest| rest.split("```").next());
    let source = folder.path().join("first.c");
    fs::write(&source, program.expect("a program")).expect("to write it");
    let made = compile(&source, folder.path());
    assert_eq!(output(made, &[], folder.path()), "hailed 1 times\n");
}
