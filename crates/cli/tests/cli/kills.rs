//! Commands that are killed at any moment, and many of them at once with people beside them.
//!
//! `KILLS` and `ROUNDS` ask for more of it than the gate does.

use crate::harness::{Folder, Outcome};
use std::collections::BTreeMap;
use std::fs::{self, OpenOptions};
use std::io::Write;
use std::path::Path;
use std::process::{Child, Command, Stdio};
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::{Duration, Instant};

fn asked(name: &str, usual: u64) -> u64 {
    std::env::var(name).ok().and_then(|text| text.parse().ok()).unwrap_or(usual)
}

fn harmonym(folder: &Folder, line: &str) -> Outcome {
    folder.shell(Path::new("."), &format!("harmonym {line}"))
}

fn spawn(folder: &Folder, args: &[&str]) -> Child {
    Command::new(env!("CARGO_BIN_EXE_harmonym"))
        .args(args)
        .current_dir(folder.path("."))
        .stdout(Stdio::null())
        .stderr(Stdio::null())
        .spawn()
        .unwrap()
}

/// The profile and its scores.
fn texts(folder: &Folder) -> BTreeMap<String, String> {
    let scores = fs::read_dir(folder.path("scores")).unwrap().flatten();
    let names = scores.map(|entry| format!("scores/{}", entry.file_name().to_string_lossy()));
    let names = names.chain(["harmonym.toml".to_owned()]);
    names
        .filter(|name| !name.contains("/."))
        .map(|name| (name.clone(), folder.read(&name)))
        .collect()
}

/// Numbers that are the same in each run.
struct Numbers(u64);

impl Numbers {
    fn below(&mut self, end: u64) -> u64 {
        self.0 =
            self.0.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        (self.0 >> 33) % end.max(1)
    }
}

#[test]
fn a_change_of_many_files_that_is_killed_is_whole_after_the_next_command() {
    let folder = Folder::with_demo();
    let mut states = vec![texts(&folder)];
    let mut longest = Duration::ZERO;
    let renames = [["rename", "map.quay", "pier"], ["rename", "map.pier", "quay"]];
    for rename in &renames {
        let since = Instant::now();
        assert!(spawn(&folder, rename).wait().unwrap().success());
        longest = longest.max(since.elapsed());
        states.push(texts(&folder));
    }
    assert!(states[0] == states[2] && states[0] != states[1]);
    let mut numbers = Numbers(7);
    let (mut stopped, mut placed) = (0, 0);
    let kills = asked("KILLS", 40);
    for _ in 0..kills {
        let is_renamed = folder.read("harmonym.toml").contains("[map.pier]");
        let mut child = spawn(&folder, &renames[usize::from(is_renamed)]);
        let after = numbers.below(u64::try_from(longest.as_micros()).unwrap());
        std::thread::sleep(Duration::from_micros(after));
        let _ = child.kill();
        child.wait().unwrap();
        // Who only looks changes nothing, and is told.
        let left = texts(&folder);
        let seen = harmonym(&folder, "test -q");
        assert!(texts(&folder) == left && seen.code == 0, "{}", seen.stderr);
        let told = harmonym(&folder, "set log-book.kind layer");
        let is_stopped = told.stderr.contains("a change was stopped in the middle");
        stopped += u64::from(is_stopped);
        let now = texts(&folder);
        let state = states.iter().position(|state| *state == now);
        let state = state.unwrap_or_else(|| panic!("half a change: {}", told.stderr));
        placed += u64::from((state == 1) != is_renamed);
    }
    println!("{kills} kills: {placed} changes made, {stopped} of them finished afterwards");
    // What is beside a file goes when the file is written.
    let is_renamed = folder.read("harmonym.toml").contains("[map.pier]");
    assert!(spawn(&folder, &renames[usize::from(is_renamed)]).wait().unwrap().success());
    let left = fs::read_dir(folder.path(".")).unwrap().count()
        + fs::read_dir(folder.path("scores")).unwrap().count();
    assert_eq!(left, 4 + states[0].len() - 1, "a file is left beside those that were there");
}

#[test]
fn twenty_editors_and_a_person_lose_nothing_of_each_other() {
    for _ in 0..asked("ROUNDS", 1) {
        let folder = Folder::with_demo();
        // A player's file keeps the names that it was written with.
        fs::remove_file(folder.path("scores/left-handed.score")).unwrap();
        let is_done = AtomicBool::new(false);
        let files = ["harmonym.toml", "scores/quick-press.score", "scores/tie-a-knot.score"];
        let (notes, done) = std::thread::scope(|scope| {
            let person = scope.spawn(|| {
                let mut notes = 0;
                while !is_done.load(Ordering::Relaxed) {
                    for name in files {
                        let mut file =
                            OpenOptions::new().append(true).open(folder.path(name)).unwrap();
                        file.write_all(format!("# note {notes} of a person\n").as_bytes()).unwrap();
                    }
                    notes += 1;
                    std::thread::sleep(Duration::from_millis(60));
                }
                notes
            });
            let edits: Vec<Vec<String>> = (0..20)
                .map(|number| match number % 4 {
                    0 => vec!["add".into(), "map".into(), format!("deck-{number}")],
                    1 => vec!["rename".into(), "quay.hail".into(), format!("hail-{number}")],
                    2 => vec!["rename".into(), "quay.tie-knot".into(), format!("knot-{number}")],
                    _ => vec![
                        "add".into(),
                        "preset".into(),
                        format!("soft-{number}"),
                        "curve 2".into(),
                    ],
                })
                .collect();
            let children: Vec<Child> = edits
                .iter()
                .map(|args| spawn(&folder, &args.iter().map(String::as_str).collect::<Vec<_>>()))
                .collect();
            let done: Vec<bool> =
                children.into_iter().map(|mut child| child.wait().unwrap().success()).collect();
            is_done.store(true, Ordering::Relaxed);
            (person.join().unwrap(), edits.into_iter().zip(done).collect::<Vec<_>>())
        });
        for name in files {
            let text = folder.read(name);
            for note in 0..notes {
                let wanted = format!("# note {note} of a person\n");
                assert_eq!(text.matches(&wanted).count(), 1, "note {note} in {name}:\n{text}");
            }
        }
        // What said that it was done is there; of the renames at most one of each can be.
        let text = folder.read("harmonym.toml");
        for (args, is_done) in &done {
            let wanted = match (args[0].as_str(), args[1].as_str()) {
                ("add", "map") => format!("[map.{}]", args[2]),
                ("add", _) => format!("{} = ", args[2]),
                _ => format!("[map.quay.{}]", args[2]),
            };
            assert_eq!(text.contains(&wanted), *is_done, "{args:?}");
        }
        harmonym(&folder, "test -q").expect_done();
    }
}

#[test]
fn an_edit_of_a_player_s_file_that_is_killed_is_whole() {
    let folder = Folder::with_demo();
    let edit = |n: u64| format!("gaze-speed={}", 0.5 + (n % 30) as f64 / 10.0);
    let set = |n: u64| {
        let edit = edit(n);
        let (setting, value) = edit.split_once('=').unwrap();
        spawn(&folder, &["player", "set", setting, value])
    };
    let since = Instant::now();
    assert!(set(0).wait().unwrap().success());
    let longest = u64::try_from(since.elapsed().as_micros()).unwrap();
    let mut numbers = Numbers(11);
    let mut before = folder.read("player.toml");
    let mut done = 0;
    let kills = asked("KILLS", 40);
    for n in 1..=kills {
        let mut child = set(n);
        std::thread::sleep(Duration::from_micros(numbers.below(longest)));
        let _ = child.kill();
        child.wait().unwrap();
        let told = harmonym(&folder, "player show");
        assert_eq!(told.code, 0, "{}", told.stderr);
        let told = harmonym(&folder, "player reset hail");
        assert_eq!(told.code, 0, "{}", told.stderr);
        let now = folder.read("player.toml");
        let value = edit(n);
        let value = value.split_once('=').unwrap().1;
        let after = format!("harmonym-player = 1\n\n[setting]\ngaze-speed = {value}\n");
        assert!(now == before || now == after, "{now:?}, neither {before:?} nor {after:?}");
        done += u64::from(now == after);
        before = now;
    }
    println!("{kills} kills: {done} changes made");
    assert!(set(29).wait().unwrap().success());
    assert_eq!(fs::read_dir(folder.path(".")).unwrap().count(), 4, "a file is left beside");
}
