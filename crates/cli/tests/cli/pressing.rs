//! Controls that are pressed, in a terminal of the tests' own.

use crate::harness::Folder;
use crate::pty::Pty;
use std::io::Write;
use std::path::Path;

#[test]
fn the_next_press_takes_the_place_of_a_control() {
    let folder = Folder::with_demo();
    let tool = Path::new(env!("CARGO_BIN_EXE_harmonym"));
    let run = |line: &str| {
        let words: Vec<&str> = line.split_whitespace().collect();
        Pty::run(tool, &words, &folder.path("."))
    };
    let mut pty = run("player catch hail");
    pty.wait_for("\u{1b}[>");
    pty.wait_for("quay.hail@desk, key.KeyH");
    pty.keys.write_all(b"\x1b[103u").expect("G");
    let (code, _, text) = pty.end();
    assert_eq!(code, Some(0), "{text}");
    assert!(text.contains("quay.hail@desk: key.KeyG for key.KeyH in player.toml"), "{text}");
    let file = "harmonym-player = 1\n\n[replace.\"quay.hail@desk\"]\n\"key.KeyH\" = \"key.KeyG\"\n";
    assert_eq!(folder.read("player.toml"), file);

    // One after the other; the same key again keeps it, and a hand that leaves changes nothing.
    let mut pty = run("player catch walk@desk key.KeyW key.KeyA");
    for (asked, key) in [("key.KeyW", "\x1b[105u"), ("key.KeyA", "\x1b[97u")] {
        pty.wait_for(&format!("quay.walk@desk, {asked}"));
        pty.keys.write_all(key.as_bytes()).expect("a key");
    }
    let (code, _, text) = pty.end();
    assert_eq!(code, Some(0), "{text}");
    let with_walk = format!("{file}\n[replace.\"quay.walk@desk\"]\n\"key.KeyW\" = \"key.KeyI\"\n");
    assert_eq!(folder.read("player.toml"), with_walk);
    let mut pty = run("player catch walk@desk");
    pty.wait_for("quay.walk@desk, key.KeyI");
    pty.keys.write_all(b"\x1b[99;5u").expect("Ctrl-C");
    let (code, _, text) = pty.end();
    assert_eq!(code, Some(1), "{text}");
    assert!(text.contains("nothing was changed"), "{text}");
    assert_eq!(folder.read("player.toml"), with_walk);

    for (line, parts) in [
        (
            "harmonym player catch hail",
            &["no terminal", "harmonym player bind quay.hail@desk key.KeyH=key.KeyG"][..],
        ),
        (
            "harmonym player catch walk@pad",
            &["`pad.left-stick` is a stick", "player bind quay.walk@pad"],
        ),
        ("harmonym player catch gaze", &["`mouse.move` is relative", "player bind"]),
        ("harmonym player catch hail key.KeyT", &["has no `key.KeyT`", "it has key.KeyH"]),
        ("harmonym player catch quay", &["is a map", "quay.hail"]),
    ] {
        let args: Vec<&str> = line.split(' ').skip(1).collect();
        folder.run(&args).expect_refused(parts);
    }
}

#[test]
fn what_is_pressed_is_bound_and_enter_says_so() {
    let folder = Folder::with_demo();
    let before = folder.read("harmonym.toml");
    let tool = Path::new(env!("CARGO_BIN_EXE_harmonym"));
    let mut pty = Pty::run(tool, &["listen", "quay.hail"], &folder.path("."));
    pty.wait_for("\u{1b}[>");
    pty.wait_for("press a key");
    // Shift, F9 with it held, and both let go.
    pty.keys.write_all(b"\x1b[57441;2u\x1b[20;2~").expect("keys");
    pty.wait_for("Enter binds it");
    pty.keys.write_all(b"\x1b[13u").expect("Enter");
    let (code, _, text) = pty.end();
    assert_eq!(code, Some(0), "{text}");
    assert!(text.contains("key.ShiftLeft + key.F9"), "{text}");
    let after = folder.read("harmonym.toml");
    assert!(after != before && after.contains("key.ShiftLeft + key.F9"), "{text}");
}
