//! Real hands: in a terminal of the tests' own, from devices that are emulated, and from scores at their own pace.

use crate::harness::Folder;
use crate::pty::Pty;
use rustix::process::{Pid, Signal, kill_process};
use std::fs;
use std::io::Write;
use std::path::Path;
use std::process::Command;
use std::thread::sleep;
use std::time::{Duration, Instant};

/// The lines of a run but for its end, which a recording has later.
fn told(text: &str) -> Vec<&str> {
    text.lines().filter(|line| !line.contains("\"kind\":\"end\"")).collect()
}

fn terminal(folder: &Folder, line: &str) -> Pty {
    let tool = Path::new(env!("CARGO_BIN_EXE_harmonym"));
    let words: Vec<&str> = line.split_whitespace().collect();
    Pty::run(tool, &words, &folder.path("."))
}

#[test]
fn what_is_recorded_of_a_score_is_told_again_by_the_take() {
    let folder = Folder::with_demo();
    for (name, speed) in [("cast-a-line", "8"), ("two-seats", "8"), ("quick-press", "1")] {
        let score = format!("scores/{name}.score");
        let line = ["record", "own.take.jsonl", "--force", "--events", "--from", &score];
        let outcome = folder.run(&[&line[..], &["--speed", speed]].concat());
        assert!(outcome.stderr.contains("harmonym score own.take.jsonl"), "{}", outcome.stderr);
        let recorded = outcome.expect_done();
        let played = folder.run(&["play", "own.take.jsonl", "--format", "json"]).expect_done();
        assert_eq!(told(&recorded), told(&played), "{name}");
        let score = folder.run(&["play", &score, "--format", "json"]).expect_done();
        // A score begins with its title.
        assert_eq!(told(&recorded)[1..], told(&score)[1..], "{name}");
    }
}

#[test]
fn what_cannot_be_recorded_is_told_and_nothing_is_lost() {
    let folder = Folder::with_demo();
    folder.write("old.take.jsonl", "{\"take\":1}\n");
    for (line, parts) in [
        ("record old.take.jsonl --from evdev", &["old.take.jsonl is there already", "--force"][..]),
        ("record new.take.jsonl", &["no terminal", "--from evdev"]),
        ("live", &["no terminal", "harmonym record"]),
        ("record new.take.jsonl --from demo", &["one beginning"]),
        ("record a.take.jsonl --from scores/a.score scores/b.score", &["one beginning"]),
        ("record new.take.jsonl --from nothing.score", &["nothing.score", "does not exist"]),
        (
            "record harmonym.toml --from scores/cast-a-line.score",
            &["harmonym.toml is there already"],
        ),
        ("record new.score --from scores/cast-a-line.score", &["the name of a score"]),
        ("record new.take.jsonl --from evdev --for soon", &["`--for` cannot be `soon`"]),
        ("record new.take.jsonl --speed 0 --from scores/cast-a-line.score", &["0.01 to 100"]),
        ("page --from terminal", &["the browser has the keys"]),
        ("page --port 1 --from nothing.score", &["nothing.score"]),
        ("score scores/cast-a-line.score", &["a score already"]),
        ("score old.take.jsonl --within 0", &["0.001 to 0.5"]),
        ("score old.take.jsonl -o scores/cast-a-line.score", &["is there already", "--force"]),
        ("score old.take.jsonl -o harmonym.toml", &["harmonym.toml is what is read here"]),
        ("score old.take.jsonl -o other.toml", &["the name of a profile"]),
    ] {
        let before = (folder.read("harmonym.toml"), folder.read("scores/cast-a-line.score"));
        let words: Vec<&str> = line.split_whitespace().collect();
        let outcome = folder.run(&words);
        assert_eq!(outcome.code, 2, "{line}: {}", outcome.stderr);
        for part in parts {
            assert!(outcome.stderr.contains(part), "{line}: no `{part}` in {}", outcome.stderr);
        }
        let after = (folder.read("harmonym.toml"), folder.read("scores/cast-a-line.score"));
        assert_eq!(before, after, "{line}");
        assert_eq!(folder.read("old.take.jsonl"), "{\"take\":1}\n", "{line}");
        assert!(!folder.path("new.take.jsonl").exists(), "{line}");
    }
}

#[test]
fn a_take_becomes_a_score_that_passes() {
    let folder = Folder::with_demo();
    folder.run(&["render", "scores/two-seats.score", "-o", "own.take.jsonl"]).expect_done();
    let printed = folder.run(&["score", "own.take.jsonl"]).expect_done();
    let made = folder.run(&["score", "own.take.jsonl", "-o", "scores/own.score"]);
    assert!(made.stderr.contains("wrote scores/own.score (88 inputs in "), "{}", made.stderr);
    made.expect_done();
    assert_eq!(folder.read("scores/own.score"), printed);
    folder.run(&["test", "scores/own.score"]).expect_done();
    // With a player's file the score names it, from where it lies.
    folder.run(&["render", "scores/left-handed.score", "-o", "left.take.jsonl"]).expect_done();
    let line = "score left.take.jsonl --player players/left-handed.toml -o scores/left.score";
    folder.run(&line.split(' ').collect::<Vec<_>>()).expect_done();
    folder.run(&["test", "scores/left.score"]).expect_done();
}

#[test]
fn keys_of_a_terminal_go_down_and_come_up_and_their_take_tells_the_same() {
    let folder = Folder::with_demo();
    let mut pty = terminal(&folder, "record own.take.jsonl --events --from terminal");
    pty.wait_for("\u{1b}[>");
    pty.wait_for("\"kind\":\"start\"");
    // Down, up; a Cyrillic letter by its place; held, and the window left.
    for keys in ["\x1b[104;1:1u", "\x1b[104;1:3u", "\x1b[1077::116;1:1u", "\x1b[O"] {
        sleep(Duration::from_millis(60));
        pty.keys.write_all(keys.as_bytes()).expect("keys");
    }
    pty.wait_for("too-short");
    pty.keys.write_all(b"\x1b[99;5u").expect("Ctrl-C");
    let (code, _, text) = pty.end();
    assert_eq!(code, Some(0), "{text}");
    let take = folder.read("own.take.jsonl");
    let controls: Vec<&str> = take.lines().filter(|line| line.contains("control")).collect();
    for (line, part) in controls.iter().zip([
        "\"key.KeyH\",\"value\":1",
        "\"key.KeyH\",\"value\":0",
        "\"key.KeyT\",\"value\":1",
        "\"key.KeyT\",\"value\":0",
    ]) {
        assert!(line.contains(part), "{take}");
    }
    assert_eq!(controls.len(), 4, "{take}");
    let played = folder.run(&["play", "own.take.jsonl", "--format", "json"]).expect_done();
    let lines: Vec<String> =
        text.lines().filter(|line| line.starts_with("{\"kind")).map(str::to_owned).collect();
    // Before the first line stands what the terminal was told.
    assert_eq!(told(&lines.join("\n")), told(&played)[1..]);
}

#[test]
fn what_was_told_is_not_told_again_when_the_profile_is_saved() {
    let folder = Folder::with_demo();
    let mut pty = terminal(&folder, "record own.take.jsonl --events --from terminal");
    pty.wait_for("\"kind\":\"start\"");
    let fire = "\"action\":\"quay.hail\",\"event\":\"fire\"";
    pty.keys.write_all(b"\x1b[104;1:1u\x1b[104;1:3u").expect("H");
    pty.wait_for(fire);
    folder.write("harmonym.toml", folder.read("harmonym.toml").replace("hold 0.8s", "hold 0.7s"));
    pty.wait_for("the profile was saved");
    pty.keys.write_all(b"\x1b[104;1:1u\x1b[104;1:3u").expect("H");
    pty.wait_for(fire);
    pty.keys.write_all(b"\x1b[99;5u").expect("Ctrl-C");
    let (code, _, text) = pty.end();
    assert_eq!(code, Some(0), "{text}");
    assert_eq!(text.matches(fire).count(), 2, "{text}");
}

#[test]
fn live_shows_what_hands_do_reads_a_saved_profile_and_gives_the_terminal_back() {
    let folder = Folder::with_demo();
    let mut pty = terminal(&folder, "live --from terminal");
    pty.wait_for("\u{1b}[?1049h");
    pty.wait_to_see("keys to the view");
    assert!(pty.is_raw());
    pty.keys.write_all(b"\x1b[104;1:1u\x1b[104;1:3u").expect("H");
    pty.wait_to_see("● fire    on");
    // A fault is told over what goes on; a sound profile gets the hands so far.
    let sound = folder.read("harmonym.toml");
    folder.write("harmonym.toml", sound.replace("fire = \"hold 0.8s\"", "fire = \"hold 0.8\""));
    pty.wait_to_see("last sound one");
    pty.wait_to_see("● fire    on");
    folder.write("harmonym.toml", sound.replace("key.KeyH", "key.KeyG"));
    pty.wait_to_see("the profile was saved");
    assert!(!pty.screen().contains("● fire"), "{}", pty.screen());
    // The keys to the view: a take, a map, time that stands still, and the end.
    for (keys, seen) in [
        ("\x1b[P", "keys to the actions"),
        ("t", "end the take"),
        ("m", "Maps: Enter opens or closes"),
        ("\x1b[B", "▸ tug"),
        ("\r", "tug.engine"),
        ("\x1b[27u", "tug.engine is at rest"),
        (" ", "Space go on"),
    ] {
        pty.keys.write_all(keys.as_bytes()).expect("keys");
        pty.wait_to_see(seen);
    }
    pty.keys.write_all(b"q").expect("q");
    let (code, _, text) = pty.end();
    assert_eq!(code, Some(0), "{text}");
    assert!(text.contains("\u{1b}[?1049l"), "{text}");
    assert!(text.contains("wrote live-1.take.jsonl"), "{text}");
    let take = folder.read("live-1.take.jsonl");
    assert!(take.contains("\"open\":\"tug\""), "{take}");
    assert!(!take.contains("\"control\""), "the view's keys are no hands: {take}");
}

#[test]
fn keys_that_only_the_view_has_are_no_hands() {
    let folder = Folder::with_demo();
    let line = "live --from scores/tie-a-knot.score --record own.take.jsonl";
    let mut pty = terminal(&folder, line);
    pty.wait_to_see("q end");
    pty.keys.write_all(b"\x1b[104;1:1u\x1b[104;1:3u").expect("H");
    pty.wait_to_see("hold 0.8s");
    pty.keys.write_all(b"q").expect("q");
    let (code, _, text) = pty.end();
    assert_eq!(code, Some(0), "{text}");
    let take = folder.read("own.take.jsonl");
    assert!(take.contains("key.KeyT") && !take.contains("key.KeyH"), "{take}");
}

#[test]
fn live_ends_with_the_terminal_as_it_was_whatever_ends_it() {
    let folder = Folder::with_demo();
    let ends = [Signal::INT, Signal::TERM, Signal::ABORT, Signal::USR1, Signal::USR2];
    for signal in ends {
        let mut pty = terminal(&folder, "live --from demo");
        pty.wait_for("quay.walk");
        kill_process(Pid::from_child(&pty.child), signal).expect("a signal");
        let (_, ended_by, text) = pty.end();
        assert_eq!(ended_by, Some(signal.as_raw()), "{text}");
        for part in ["\u{1b}[?1049l", "\u{1b}[<1u", "\u{1b}[?1000l", "\u{1b}[?25h"] {
            assert!(text.contains(part), "{signal:?}: {part:?} in {text:?}");
        }
    }
}

#[test]
fn live_gives_the_terminal_back_while_it_is_stopped_and_takes_it_again() {
    let folder = Folder::with_demo();
    let mut pty = terminal(&folder, "live --from demo");
    pty.wait_for("quay.walk");
    let pid = Pid::from_child(&pty.child);
    for _ in 0..2 {
        assert!(pty.is_raw());
        kill_process(pid, Signal::TSTP).expect("a signal");
        pty.wait_for("\u{1b}[?1049l");
        let status = format!("/proc/{}/stat", pid.as_raw_nonzero());
        let until = Instant::now() + Duration::from_secs(20);
        // The state behind the name in brackets (proc_pid_stat(5)): T is stopped.
        while !fs::read_to_string(&status).expect("its state").contains(") T ") {
            assert!(Instant::now() < until, "it does not stop");
            sleep(Duration::from_millis(5));
        }
        assert!(!pty.is_raw());
        kill_process(pid, Signal::CONT).expect("a signal");
        pty.wait_for("\u{1b}[?1049h");
        // All of it is drawn anew.
        pty.wait_for("quay.walk");
    }
    kill_process(pid, Signal::TERM).expect("a signal");
    let (_, ended_by, _) = pty.end();
    assert_eq!(ended_by, Some(Signal::TERM.as_raw()));
}

/// Writes what umockdev is told of a pad, and a stream of its events.
fn emulate(folder: &Folder, events: &str) {
    let bits = |codes: &[usize], size: usize| -> String {
        let byte = |at: usize| {
            codes.iter().filter(|code| **code / 8 == at).fold(0, |b, c| b | 1_u8 << (c % 8))
        };
        (0..size).map(|at| format!("{:02X}", byte(at))).collect()
    };
    let text = |name: &str, text: &str| {
        let bytes: String = text
            .bytes()
            .chain(std::iter::repeat(0))
            .take(256)
            .map(|b| format!("{b:02X}"))
            .collect();
        format!("{name} {} {bytes}\n", text.len() + 1)
    };
    let mut calls =
        "@DEV /dev/input/event20\nEVIOCGVERSION 0 01000100\nEVIOCGID 0 0300393001001001\n"
            .to_owned();
    for (name, value) in
        [("EVIOCGNAME", "a pad"), ("EVIOCGPHYS", "port-1"), ("EVIOCGUNIQ", "serial-77")]
    {
        calls.push_str(&text(name, value));
    }
    calls.push_str(&format!("EVIOCGPROP 4 00000000\nEVIOCGBIT(0) 4 {}\n", bits(&[0, 1, 3], 4)));
    calls.push_str(&format!("EVIOCGBIT(1) 96 {}\n", bits(&[304, 305, 307, 308], 96)));
    calls.push_str(&format!(
        "EVIOCGKEY 96 {}\nEVIOCGBIT(3) 8 {}\n",
        "00".repeat(96),
        bits(&[0, 1, 2, 3, 4, 5], 8)
    ));
    for axis in 0..64 {
        let (least, most): (i32, i32) = match axis {
            0 | 1 | 3 | 4 => (-32768, 32767),
            2 | 5 => (0, 1023),
            _ => (0, 0),
        };
        let numbers = [0, least, most, 16, 128, 0].map(|n: i32| n.to_le_bytes()).concat();
        let numbers: String = numbers.iter().map(|b| format!("{b:02X}")).collect();
        calls.push_str(&format!("EVIOCGABS({axis}) 0 {numbers}\n"));
    }
    folder.write("pad.ioctl", calls).write("pad.events", events).write(
        "pad.umockdev",
        "P: /devices/virtual/input/input20/event20\nN: input/event20\nE: DEVNAME=/dev/input/event20\n\
         E: SUBSYSTEM=input\nE: MAJOR=13\nE: MINOR=84\nA: dev=13:84\n\n",
    );
}

#[test]
#[ignore = "needs umockdev"]
fn an_emulated_pad_is_read_with_the_times_of_the_kernel() {
    let folder = Folder::with_demo();
    let events = "E: 0.000000 0000 0000 0\n\
                  E: 0.300000 0001 0133 1\nE: 0.300000 0000 0000 0\n\
                  E: 0.400123 0001 0133 0\nE: 0.400123 0000 0000 0\n\
                  E: 0.450000 0003 0000 32767\nE: 0.450000 0003 0001 -16384\nE: 0.450000 0000 0000 0\n\
                  E: 0.500000 0003 0000 0\nE: 0.500000 0003 0001 0\nE: 0.500000 0000 0000 0\n";
    emulate(&folder, events);
    let output = Command::new("umockdev-run")
        .args(["-d", "pad.umockdev", "-i", "/dev/input/event20=pad.ioctl"])
        .args(["-e", "/dev/input/event20=pad.events", "--", env!("CARGO_BIN_EXE_harmonym")])
        .args(["record", "pad.take.jsonl", "--from", "evdev", "--for", "1.2s", "--events"])
        .current_dir(folder.path("."))
        .env_remove("LD_LIBRARY_PATH")
        .output()
        .expect("umockdev-run");
    let recorded = String::from_utf8(output.stdout).expect("text");
    assert!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
    let take = fs::read_to_string(folder.path("pad.take.jsonl")).expect("a take");
    assert!(!take.contains("serial-77") && !take.contains("port-1"), "{take}");
    let time = |part: &str| {
        let line = take.lines().find(|line| line.contains(part));
        let line = line.unwrap_or_else(|| panic!("no {part} in {take}"));
        let t = line.trim_start_matches("{\"t\":").split(',').next().expect("a time");
        (t.parse::<f64>().expect("seconds") * 1e6).round() as i64
    };
    assert!(take.contains("{\"t\":0,\"plug\":\"pad#1\"}"), "{take}");
    // What is emulated may come late, and then counts after the tick that was.
    let down = time("\"pad.north\",\"value\":1");
    for (part, after) in [
        ("\"pad.north\",\"value\":0", 100_123),
        ("\"pad.left-stick\",\"value\":[1,0.5]", 150_000),
        ("\"pad.left-stick\",\"value\":[0,0]", 200_000),
    ] {
        let late = time(part) - down - after;
        assert!(late.abs() < 100_000, "{part}: {late} µs off in {take}");
    }
    let played = folder.run(&["play", "pad.take.jsonl", "--format", "json"]).expect_done();
    assert_eq!(told(&recorded), told(&played));
    assert!(played.contains("\"action\":\"quay.hail\",\"event\":\"fire\""), "{played}");
}

/// Plugs the pad in while the tool runs, and pulls it out again.
const PLUGS: &str = r#"
import gi, os, subprocess, sys, time
gi.require_version("UMockdev", "1.0")
from gi.repository import UMockdev
bed = UMockdev.Testbed.new()
os.makedirs(bed.get_root_dir() + "/dev/input", exist_ok=True)
tool = subprocess.Popen(sys.argv[1:])
time.sleep(1)
bed.add_from_string(open("pad.umockdev").read())
bed.load_ioctl("/dev/input/event20", "pad.ioctl")
bed.load_evemu_events("/dev/input/event20", "pad.events")
time.sleep(2.5)
bed.remove_device("/sys/devices/virtual/input/input20/event20")
if os.path.exists(bed.get_root_dir() + "/dev/input/event20"):
    os.unlink(bed.get_root_dir() + "/dev/input/event20")
sys.exit(tool.wait())
"#;

#[test]
#[ignore = "needs umockdev with its bindings for Python"]
fn a_pad_that_is_plugged_in_later_and_pulled_out_in_mid_push_ends_what_it_did() {
    let folder = Folder::with_demo();
    let events = "E: 0.000000 0000 0000 0\nE: 0.400000 0003 0000 32767\nE: 0.400000 0000 0000 0\n";
    emulate(&folder, events);
    folder.write("plugs.py", PLUGS);
    let output = Command::new("umockdev-wrapper")
        .args(["/usr/bin/python3", "plugs.py", env!("CARGO_BIN_EXE_harmonym")])
        .args(["record", "pad.take.jsonl", "--from", "evdev", "--for", "6s"])
        .current_dir(folder.path("."))
        .env_remove("LD_LIBRARY_PATH")
        .output()
        .expect("umockdev-wrapper");
    let told = String::from_utf8_lossy(&output.stderr);
    assert!(output.status.success(), "{told}");
    assert!(told.contains("there are no devices of hands in /dev/input yet"), "{told}");
    let take = fs::read_to_string(folder.path("pad.take.jsonl")).expect("a take");
    let kinds: Vec<&str> = take
        .lines()
        .filter_map(|line| {
            ["\"plug\"", "\"value\"", "\"unplug\""].into_iter().find(|part| line.contains(part))
        })
        .collect();
    assert_eq!(kinds, ["\"plug\"", "\"value\"", "\"unplug\""], "{take}");
    let played = folder.run(&["play", "pad.take.jsonl", "--only", "walk"]).expect_done();
    assert!(played.contains("unplugged after"), "{played}");
}
