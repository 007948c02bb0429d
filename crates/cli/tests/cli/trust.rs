//! What comes from files commands nothing, and the terminal is given back.

use crate::harness::Folder;
use crate::pty::Pty;
use rustix::process::{Pid, Signal, kill_process};
use std::io::Write;
use std::path::Path;

/// What ends the ways in which a terminal tells of each press.
const GIVEN_BACK: [&str; 2] = ["\u{1b}[<1u", "\u{1b}[?1000l"];

fn listen(folder: &Folder) -> Pty {
    let tool = Path::new(env!("CARGO_BIN_EXE_harmonym"));
    let mut pty = Pty::run(tool, &["listen", "quay.hail"], &folder.path("."));
    // It tells of keys that are let go, too.
    pty.wait_for("\u{1b}[>");
    pty.wait_for("press a key");
    assert!(pty.is_raw());
    pty
}

#[test]
fn the_terminal_is_given_back_whatever_ends_it() {
    let folder = Folder::with_demo();
    let before = folder.read("harmonym.toml");
    for signal in [Signal::INT, Signal::TERM, Signal::HUP, Signal::QUIT] {
        let pty = listen(&folder);
        let pid = Pid::from_child(&pty.child);
        kill_process(pid, signal).expect("a signal");
        let (code, ended_by, text) = pty.end();
        assert_eq!((code, ended_by), (None, Some(signal.as_raw())), "{text:?}");
        for part in GIVEN_BACK {
            assert_eq!(text.matches(part).count(), 1, "{signal:?}: {part:?} in {text:?}");
        }
    }
    let mut pty = listen(&folder);
    pty.keys.write_all(b"\x1b[99;5u").expect("Ctrl-C");
    let (code, ended_by, text) = pty.end();
    assert_eq!((code, ended_by), (Some(1), None), "{text:?}");
    assert!(text.contains("nothing was bound"));
    assert!(GIVEN_BACK.iter().all(|part| text.contains(part)), "{text:?}");
    assert_eq!(folder.read("harmonym.toml"), before);
}

#[test]
fn nothing_overflows_at_60_columns() {
    let folder = Folder::with_demo();
    folder.write("fails.score", "expect hail fires\nexpect quay.walk = 1 at 0.5s\n");
    folder.write(
        "raw-stick.toml",
        include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/demo/faulty/raw-stick.toml")),
    );
    let tool = Path::new(env!("CARGO_BIN_EXE_harmonym"));
    for line in [
        "check",
        "--file raw-stick.toml check",
        "check --explain no-way-out",
        "show",
        "show quay",
        "show quay.walk",
        "show quay.tie-knot",
        "controls stick",
        "uses key.KeyT",
        "play scores/tie-a-knot.score",
        "play scores/tie-a-knot.score --lanes",
        "play scores/steer-the-tug.score --values",
        "play scores/any-frame-rate.score --rates 30,60,120",
        "why quay.tie-knot scores",
        "why quay.tie-knot scores/tie-a-knot.score --at 1.2s",
        "why quay.walk scores/straight-diagonal.score --at 0.5s",
        "test",
        "test fails.score --coverage",
        "compare scores/tie-a-knot.score --set quay.tie-knot.fire.hold=0.5s",
        "curve quay.walk",
        "prompt crane.boom",
        "player show",
        "player show walk",
        "player bind hail key.KeyH=key.KeyY --dry-run",
        "player bind hail key.KeyH=key.KeyT",
        "sweep scores --vary quay.tie-knot.fire.hold=0.4s..1.2s:5",
        "demo",
        "--help",
        "play --help",
        "export table.csv",
        "bind quay.hail key.Foo",
        "remove preset.stick",
        "set quay.tie-knot.fire.hold 0.6s",
    ] {
        let args: Vec<&str> = ["--color", "never"].into_iter().chain(line.split(' ')).collect();
        let (code, _, text) = Pty::run(tool, &args, &folder.path(".")).end();
        assert!(code.is_some_and(|code| code <= 2), "{line}: {text}");
        let lines = text.lines().map(|line| line.trim_end_matches('\r'));
        let wide = lines.filter(|line| line.chars().count() > 60).collect::<Vec<_>>();
        assert!(wide.is_empty(), "{line}: {wide:#?}");
    }
}

/// What would set a window's title, empty the screen, turn text around, and look like a style.
const EVIL: &str = "\u{1b}]0;x\u{7}\u{9b}2J\u{202e}\u{2066}\u{fdd0}2J\u{1b}[8m";

/// The demo with evil texts in every place that takes a text, and in names of files.
fn evil_demo() -> Folder {
    let folder = Folder::with_demo();
    let escaped: String = EVIL.chars().map(|c| format!("\\u{:04x}", u32::from(c))).collect();
    let text = folder.read("harmonym.toml");
    let text = text.replace("title = \"", &format!("title = \"{escaped}"));
    let text = text.replace("about = \"", &format!("about = \"{escaped}"));
    let text = text.replace("label = \"", &format!("label = \"{escaped}"));
    folder.write("harmonym.toml", text);
    let score = folder.read("scores/tie-a-knot.score").replace("A knot", &format!("A {EVIL} knot"));
    folder.write("scores/tie-a-knot.score", &score);
    folder.write(&format!("{EVIL}\n.score"), &score);
    folder.write(&format!("scores/{EVIL}\n.score"), format!("{score}\nexpect quay.{EVIL} fires\n"));
    let faulty = format!(
        "harmonym = 1\ntitle = \"{escaped}\"\n[map.\"{escaped}\"]\nstart = \"{escaped}\"\n\
         [map.quay]\nabuot = 1 # \u{202e}\u{2066}\n[map.quay.hail]\nvalue = \"{escaped}\"\n\
         bind.desk = \"key.KeyH | {escaped}\"\nfire = \"hodl {escaped}\"\n"
    );
    folder.write("faulty.toml", faulty);
    folder.write(
        "evil-player.toml",
        format!(
            "harmonym-player = 1\n[setting]\ngaze-speed = 2\n\"{escaped}\" = 2\n[replace.\"quay.hail@desk\"]\n\"key.KeyH\" = \"{escaped}\"\n"
        ),
    );
    folder.write(&format!("{EVIL}.toml"), "harmonym = 1\nx = 1\n");
    folder.write("bad.take.jsonl", format!("{{\"take\":1}}\n{{\"t\":0,\"{EVIL}\":1}}\n"));
    let title = escaped.replace("\\u001b", "\\u001B");
    let take = format!(
        "{{\"take\":1,\"title\":\"{title}\"}}\n\
         {{\"t\":0,\"control\":\"key.KeyH\",\"value\":1}}\n\
         {{\"t\":0.5,\"control\":\"{title}\",\"value\":0}}\n"
    );
    folder.write("evil.take.jsonl", take);
    folder
}

/// What no text for a terminal may have in it, but for line breaks and tabs.
fn command_in(text: &str) -> Option<char> {
    text.chars().find(|&c| {
        (c.is_control() && c != '\n' && c != '\t')
            || matches!(c, '\u{202a}'..='\u{202e}' | '\u{2066}'..='\u{2069}' | '\u{fdd0}')
    })
}

#[test]
fn nothing_from_a_file_or_a_name_commands_the_terminal() {
    let folder = evil_demo();
    let (at_top, evil_toml) = (format!("{EVIL}\n.score"), format!("{EVIL}.toml"));
    let runs: [&[&str]; 45] = [
        &["check"],
        &["check", "--format", "json"],
        &["check", "--format", "sarif"],
        &["--file", "faulty.toml", "check"],
        &["--file", "faulty.toml", "check", "--format", "json"],
        &["--file", "faulty.toml", "show"],
        &["--file", &evil_toml, "check"],
        &["--file", EVIL, "check"],
        &["show"],
        &["show", "quay"],
        &["show", "quay.hail"],
        &["show", "--format", "json"],
        &["show", EVIL],
        &["uses", "key.KeyT"],
        &["uses", EVIL],
        &["controls", EVIL],
        &["play", &at_top],
        &["play", &at_top, "--format", "json"],
        &["play", &at_top, "--lanes"],
        &["play", "bad.take.jsonl"],
        &["play", "evil.take.jsonl"],
        &["play", "-v", EVIL],
        &["render", &at_top],
        &["why", "quay.tie-knot", &at_top],
        &["why", "quay.tie-knot", "scores", "--format", "json"],
        &["test"],
        &["test", "--format", "json"],
        &["test", "--format", "junit"],
        &["test", "--format", "tap"],
        &["test", "--coverage"],
        &["compare", &at_top, "--rates", "30,60"],
        &["prompt", "quay.hail"],
        &["prompt", "quay.hail", "--format", "json"],
        &["prompt", EVIL],
        &["player", "show", "--player", "evil-player.toml"],
        &["player", "show", "--player", "evil-player.toml", "--format", "json"],
        &["player", "bind", "hail", EVIL, "--dry-run"],
        &["player", "reset", EVIL, "--dry-run"],
        &["check", "--player", "evil-player.toml"],
        &["sheet", "-o", "evil-sheet.html"],
        &["tidy", "--dry-run"],
        &["set", "title", EVIL, "--dry-run"],
        &["rename", "quay.tie-knot", "quay.knot", "--dry-run"],
        &["bind", "quay.hail", EVIL],
        &[EVIL],
    ];
    for args in runs {
        let told = folder.run(args);
        let all = told.stdout + &told.stderr;
        assert_eq!(command_in(&all), None, "{args:?}: {all:?}");
        assert!(!all.contains("panicked"), "{args:?}: {all}");
        assert!(!all.lines().any(|line| line.starts_with(".score")), "{args:?}: {all}");
        let mut colored = vec!["--color=always"];
        colored.extend(args);
        let told = folder.run(&colored);
        let all = told.stdout + &told.stderr;
        // Styles are ours: weight, underline and colour.
        let mut pieces = all.split("\u{1b}[");
        let first = pieces.next();
        let rest = first.into_iter().chain(pieces.map(|piece| {
            let (numbers, rest) = piece.split_once('m').unwrap_or(("", piece));
            let is_style = numbers.chars().all(|c| c.is_ascii_digit() || c == ';');
            if is_style && numbers != "8" { rest } else { "\u{1b}" }
        }));
        let rest: String = rest.collect();
        assert_eq!(command_in(&rest), None, "{args:?}: {all:?}");
    }
}

#[test]
fn what_is_written_out_is_as_it_was() {
    let folder = evil_demo();
    let shown = folder.run(&["show", "--format", "json"]).expect_done();
    assert!(shown.contains("\\u001b]0;x\\u0007\\u009b2J\\u202e\\u2066\\ufdd02J"), "{shown}");
    // A file or a pipe gets the text itself.
    assert!(folder.run(&["export"]).expect_done().contains(EVIL));
    let told = folder.run(&["show"]).expect_done();
    assert!(told.contains("\\u{1b}]0;x\\u{7}\\u{9b}2J\\u{202e}\\u{2066}\\u{fdd0}2J"), "{told}");
}

#[test]
fn no_text_from_a_file_makes_a_line_or_a_style_of_its_own() {
    let folder = Folder::with_demo();
    let forged = "Forged\\nEnded at 9.9999 s, tick 1\\r\\nquay.hail  99";
    let styled = "\u{fdd0}1mbold\u{fdd0}0m";
    let text = folder.read("harmonym.toml");
    let text = text.replace("title = \"", &format!("title = \"{styled}{forged}"));
    let text = text.replace("about = \"", &format!("about = \"{styled}{forged}"));
    folder
        .write("harmonym.toml", text.replace("label = \"", &format!("label = \"{styled}{forged}")));
    folder.write(
        "forged.take.jsonl",
        format!("{{\"take\":1,\"title\":\"{styled}{forged}\"}}\n{{\"t\":0.5,\"control\":\"key.KeyH\",\"value\":1}}\n"),
    );
    folder.write(
        "odd.take.jsonl",
        format!("{{\"take\":1}}\n{{\"t\":0.5,\"control\":\"{styled}{forged}\",\"value\":1}}\n"),
    );
    for line in [
        "play forged.take.jsonl",
        "play forged.take.jsonl --lanes",
        "play forged.take.jsonl --rates 20,60",
        "play odd.take.jsonl",
        "why hail forged.take.jsonl",
        "score forged.take.jsonl",
        "compare forged.take.jsonl --rates 20,60",
        "plot forged.take.jsonl -o out.svg --force",
        "check",
        "show",
        "show --all",
        "show quay",
        "show quay.hail",
        "show setting.gaze-speed",
        "prompt quay.hail",
        "controls hail",
        "uses key.KeyH",
        "player show",
        "sheet -o out.md --force",
        "generate rust",
        "test",
    ] {
        for color in ["never", "always"] {
            let args: Vec<&str> = ["--color", color].into_iter().chain(line.split(' ')).collect();
            let told = folder.run(&args);
            let mut all = told.stdout + &told.stderr;
            for name in ["out.md", "out.svg"] {
                all += &std::fs::read_to_string(folder.path(name)).unwrap_or_default();
            }
            let is_forged =
                |line: &str| line.starts_with("Ended at 9") || line.starts_with("quay.hail  99");
            assert!(!all.lines().any(is_forged), "{line}: {all}");
            assert!(!all.contains("\u{1b}[1mbold"), "{line}: {all:?}");
        }
    }
}
