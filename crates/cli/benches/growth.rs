//! How the time of a command grows with what it is given: ten times as much of one kind against
//! once, in one run. What grows with the square takes a hundred times as long.
//! `cargo bench -p harmonym --bench growth [-- PART OF A NAME]`

use std::fmt::Write;
use std::fs;
use std::path::Path;
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

/// Nobody waits longer for a command.
const PATIENCE: Duration = Duration::from_secs(60);

/// What is written, and what is run on it.
struct Kind {
    name: &'static str,
    /// The smaller size.
    size: usize,
    write: fn(&Path, usize),
    commands: &'static [&'static str],
}

const HEAD: &str = "[scheme.desk]\ndevices = [\"key\", \"mouse\"]\n[map.quay]\nstart = true\n";

const KINDS: &[Kind] = &[
    Kind {
        name: "words of an about, a title and a label",
        size: 1500,
        write: |at, n| {
            let text = "word ".repeat(n);
            profile(
                at,
                &format!(
                    "title = \"{text}\"\nabout = \"{text}\"\n[scheme.desk]\ndevices = [\"key\"]\nlabel = \"{text}\"\nabout = \"{text}\"\n\
                 [map.quay]\nstart = true\nabout = \"{text}\"\nlabel = \"{text}\"\n[map.quay.hail]\nvalue = \"switch\"\nabout = \"{text}\"\nlabel = \"{text}\"\nbind.desk = {{ from = \"key.KeyH\", label = \"{text}\" }}\n"
                ),
            );
            score(
                at,
                &format!(
                    "title \"{text}\"\nat 1s press key.KeyH for 0.1s\nexpect hail fires once\n"
                ),
            );
        },
        commands: LOOKS,
    },
    Kind {
        name: "letters of one word",
        size: 40_000,
        write: |at, n| {
            let text = "w".repeat(n);
            profile(
                at,
                &format!(
                    "title = \"{text}\"\nabout = \"{text}\"\n[scheme.desk]\ndevices = [\"key\"]\nlabel = \"{text}\"\nabout = \"{text}\"\n\
                 [map.quay]\nstart = true\nabout = \"{text}\"\nlabel = \"{text}\"\n[map.quay.hail]\nvalue = \"switch\"\nabout = \"{text}\"\nlabel = \"{text}\"\nbind.desk = {{ from = \"key.KeyH\", label = \"{text}\" }}\n"
                ),
            );
            score(
                at,
                &format!(
                    "title \"{text}\"\nat 1s press key.KeyH for 0.1s\nexpect hail fires once\n"
                ),
            );
        },
        commands: LOOKS,
    },
    Kind {
        name: "faults in one long line",
        size: 300,
        write: |at, n| {
            let all: Vec<String> = (0..n).map(|i| format!("\"key.Key{i}Q\"")).collect();
            profile(
                at,
                &format!(
                    "{}[map.quay.hail]\nvalue = \"switch\"\nbind.desk = [{}]\n",
                    HEAD,
                    all.join(", ")
                ),
            );
        },
        commands: &["check", "check --format json"],
    },
    Kind {
        name: "unknown names in a profile",
        size: 800,
        write: |at, n| {
            let mut text = HEAD.to_owned();
            for i in 0..n {
                let _ = write!(
                    text,
                    "[preset.soft-{i}]\nsteps = \"curve 2\"\n[map.quay.walk-{i}]\nvalue = \"switch\"\nbind.desk = [\"key.KeyQ{i}\", \"key.KeyA | @sfot-{i}\", \"act.wlak-{i}\"]\nyields-to = [\"waks-{i}\"]\nfire = \"press when fatc-{i}\"\nkyes-{i} = 1\n"
                );
            }
            profile(at, &text);
        },
        commands: &["check", "show"],
    },
    Kind {
        name: "unknown names in a score",
        size: 800,
        write: |at, n| {
            let mut text = HEAD.to_owned();
            let mut lines = String::new();
            for i in 0..n {
                let _ = write!(
                    text,
                    "[setting.pace-{i}]\ndefault = 1\n[map.quay.walk-{i}]\nvalue = \"switch\"\nbind.desk = \"key.KeyA\"\n"
                );
                let _ = write!(
                    lines,
                    "at 1s press key.KyeA{i} for 0.1s\nat 1s setting pcae-{i} = 2\nexpect wlak-{i} fires\n"
                );
            }
            profile(at, &text);
            score(at, &lines);
        },
        commands: &["play a.score", "test a.score"],
    },
    Kind {
        name: "new rows of a table",
        size: 800,
        write: |at, n| {
            profile(at, HEAD);
            table(at, (0..n).map(|i| format!("quay,walk-{i},switch,key.KeyA,press,About {i}")));
        },
        commands: &["import t.csv --dry-run", "import t.csv"],
    },
    Kind {
        name: "changed rows of a table",
        size: 800,
        write: |at, n| {
            actions(at, n);
            table(at, (0..n).map(|i| format!("quay,walk-{i},switch,key.KeyB,hold 0.5s,About {i}")));
        },
        commands: &["import t.csv --dry-run", "import t.csv"],
    },
    Kind {
        name: "columns of a table",
        size: 4000,
        write: |at, n| {
            profile(at, HEAD);
            let heads: Vec<String> = (0..n).map(|i| format!("colunm-{i}")).collect();
            let row = "x,".repeat(n);
            let text = format!("map,action,value,{}\nquay,walk,switch,{row}\n", heads.join(","));
            fs::write(at.join("t.csv"), text).expect("written");
        },
        commands: &["import t.csv --dry-run"],
    },
    Kind {
        name: "layers on one key",
        size: 600,
        write: |at, n| {
            let mut text = HEAD.to_owned();
            for i in 0..n {
                let _ = write!(
                    text,
                    "[map.sheet-{i}]\nkind = \"layer\"\n[map.sheet-{i}.turn]\nvalue = \"switch\"\nbind.desk = \"key.KeyA\"\nclaim = true\n"
                );
            }
            profile(at, &text);
            score(at, "at 1s press key.KeyA for 0.1s\n");
        },
        commands: &["check", "show", "uses key.KeyA", "play a.score"],
    },
    Kind {
        name: "actions on one key",
        size: 600,
        write: |at, n| {
            actions(at, n);
            score(at, "at 1s press key.KeyA for 0.1s\n");
        },
        commands: &[
            "check",
            "show",
            "uses key.KeyA",
            "controls KeyA",
            "play a.score",
            "sheet -o s.html",
        ],
    },
    Kind {
        name: "chords on two keys",
        size: 300,
        write: |at, n| {
            let mut text = HEAD.to_owned();
            for i in 0..n {
                let _ = write!(
                    text,
                    "[map.quay.walk-{i}]\nvalue = \"switch\"\nbind.desk = \"key.KeyA + key.KeyB\"\n"
                );
            }
            profile(at, &text);
            score(at, "at 1s press key.KeyA for 0.5s\nat 1.2s press key.KeyB for 0.1s\n");
        },
        commands: &["check", "show", "uses key.KeyA", "play a.score"],
    },
    Kind {
        name: "chords of different keys with one",
        size: 300,
        write: |at, n| {
            let mut text = HEAD.to_owned();
            let letters: Vec<char> = ('A'..='Z').collect();
            for i in 0..n {
                let (one, other) = (letters[i % 26], letters[(i / 26) % 26]);
                if one != other {
                    let _ = write!(
                        text,
                        "[map.quay.walk-{i}]\nvalue = \"switch\"\nbind.desk = \"key.ShiftLeft + key.Key{one} + key.Key{other}\"\n"
                    );
                }
            }
            profile(at, &text);
            score(at, "at 1s press key.ShiftLeft for 0.5s\nat 1.2s press key.KeyB for 0.1s\n");
        },
        commands: &["check", "show", "uses key.ShiftLeft", "play a.score"],
    },
    Kind {
        name: "expectations on as many events",
        size: 1000,
        write: |at, n| {
            profile(
                at,
                &format!("{HEAD}[map.quay.hail]\nvalue = \"switch\"\nbind.desk = \"key.KeyH\"\n"),
            );
            let mut text = String::new();
            for i in 1..=n {
                let _ =
                    write!(text, "at {i}s press key.KeyH for 0.1s\nexpect hail fires at {i}s\n");
            }
            score(at, &text);
        },
        commands: &["test a.score", "test a.score --format json", "test a.score --coverage"],
    },
    Kind {
        name: "expectations that fail on as many events",
        size: 1000,
        write: |at, n| {
            profile(
                at,
                &format!("{HEAD}[map.quay.hail]\nvalue = \"switch\"\nbind.desk = \"key.KeyH\"\n"),
            );
            let mut text = String::new();
            for i in 1..=n {
                let _ =
                    write!(text, "at {i}s press key.KeyH for 0.1s\nexpect hail fires at {i}.5s\n");
            }
            score(at, &text);
        },
        commands: &["test a.score", "test a.score --format json"],
    },
    Kind {
        name: "replacements of a player",
        size: 400,
        write: |at, n| {
            actions(at, n);
            let mut text = "harmonym-player = 1\n".to_owned();
            for i in 0..n {
                let _ =
                    write!(text, "[replace.\"quay.walk-{i}@desk\"]\n\"key.KeyA\" = \"key.KeyB\"\n");
            }
            fs::write(at.join("player.toml"), text).expect("written");
            score(at, "at 1s press key.KeyB for 0.1s\n");
        },
        commands: &[
            "player show",
            "play a.score --player player.toml",
            "check --player player.toml",
            "player clear walk-1",
        ],
    },
    Kind {
        name: "replacements of a player that do not fit",
        size: 400,
        write: |at, n| {
            actions(at, n);
            let mut text = "harmonym-player = 1\n".to_owned();
            for i in 0..n {
                let _ =
                    write!(text, "[replace.\"quay.wlak-{i}@desk\"]\n\"key.KeyA\" = \"key.KyeB\"\n");
            }
            text.push_str("[replace.\"quay.walk-1@desk\"]\n\"key.KeyA\" = \"key.KeyB\"\n");
            fs::write(at.join("player.toml"), text).expect("written");
            score(at, "at 1s press key.KeyB for 0.1s\n");
        },
        commands: &["player show", "play a.score --player player.toml"],
    },
    Kind {
        name: "lines of a score",
        size: 20_000,
        write: |at, n| {
            profile(
                at,
                &format!("{HEAD}[map.quay.hail]\nvalue = \"switch\"\nbind.desk = \"key.KeyH\"\n"),
            );
            let mut text = String::new();
            for i in 1..=n {
                let _ = writeln!(text, "at {i}s press key.KeyH for 0.1s");
            }
            score(at, &text);
        },
        commands: &["why hail a.score --at 0s", "why hail a.score", "play a.score"],
    },
];

const LOOKS: &[&str] = &[
    "check",
    "show",
    "show quay",
    "show hail",
    "sheet -o s.svg",
    "sheet -o s.html",
    "sheet -o s.md",
    "sheet -o s.pdf",
    "prompt hail",
    "play a.score",
    "test a.score",
    "plot a.score -o p.svg",
    "plot a.score -o p.html",
    "export t.csv",
    "generate rust",
    "tidy --check",
    "controls KeyH",
    "uses key.KeyH",
];

fn profile(at: &Path, text: &str) {
    fs::write(at.join("harmonym.toml"), format!("harmonym = 1\n{text}")).expect("written");
}

fn score(at: &Path, text: &str) {
    fs::write(at.join("a.score"), text).expect("written");
}

fn actions(at: &Path, n: usize) {
    let mut text = HEAD.to_owned();
    for i in 0..n {
        let _ = write!(
            text,
            "[map.quay.walk-{i}]\nvalue = \"switch\"\nbind.desk = \"key.KeyA\"\nfire = \"press\"\n"
        );
    }
    profile(at, &text);
}

fn table(at: &Path, rows: impl Iterator<Item = String>) {
    let rows: Vec<String> = rows.collect();
    fs::write(at.join("t.csv"), format!("map,action,value,desk,fire,about\n{}\n", rows.join("\n")))
        .expect("written");
}

/// How long a command takes in a folder that was just written, in seconds: the shortest of so many runs.
fn took(kind: &Kind, size: usize, command: &str, runs: usize) -> f64 {
    let mut least = f64::MAX;
    for _ in 0..runs {
        let folder = tempfile::tempdir().expect("a folder");
        (kind.write)(folder.path(), size);
        let begin = Instant::now();
        let mut child = Command::new(env!("CARGO_BIN_EXE_harmonym"))
            .args(command.split(' '))
            .current_dir(folder.path())
            .stdin(Stdio::null())
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .spawn()
            .expect("it starts");
        let status = loop {
            match child.try_wait().expect("its end") {
                Some(status) => break status,
                None if begin.elapsed() > PATIENCE => {
                    child.kill().expect("its end");
                    child.wait().expect("its end");
                    return f64::INFINITY;
                }
                None => std::thread::sleep(Duration::from_micros(200)),
            }
        };
        least = least.min(begin.elapsed().as_secs_f64());
        assert!(status.code().is_some_and(|code| code <= 2), "{command}: {status}");
    }
    least
}

fn main() {
    let only: Vec<String> =
        std::env::args().skip(1).filter(|word| !word.starts_with("--")).collect();
    for kind in KINDS.iter().filter(|kind| only.iter().all(|part| kind.name.contains(&**part))) {
        println!("{}, {} and ten times as many", kind.name, kind.size);
        for command in kind.commands {
            let (once, ten) =
                (took(kind, kind.size, command, 3), took(kind, 10 * kind.size, command, 1));
            let ratio = ten / once;
            println!("  {command:40} {ratio:6.1} times ({once:.3} s, {ten:.3} s)");
        }
    }
}
