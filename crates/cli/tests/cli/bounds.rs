//! Hostile sizes: refused at their place, or done in time and memory that follow what is there.

use crate::harness::{Folder, Outcome};
use std::path::Path;

/// A gigabyte of address space, a minute of time.
fn bounded(folder: &Folder, line: &str) -> Outcome {
    folder.shell(Path::new("."), &format!("ulimit -v 1000000; timeout 60 harmonym {line}"))
}

const HEAD: &str = "harmonym = 1\n[scheme.desk]\ndevices = [\"key\"]\n[scheme.pad]\n\
                    devices = [\"pad\"]\n[map.quay]\nstart = true\n";

fn ring(rest: &str) -> String {
    format!("{HEAD}[map.quay.ring]\nvalue = \"switch\"\nbind.desk = \"key.KeyR\"\n{rest}\n")
}

#[test]
fn presets_that_double_are_refused_at_their_place() {
    let folder = Folder::new();
    let bind = |preset: &str| {
        format!("[map.quay.walk]\nvalue = \"plane\"\nbind.pad = \"pad.left-stick | @{preset}\"\n")
    };
    let doubling: String =
        (1..41).map(|i| format!("p{i} = \"@p{} | @p{}\"\n", i - 1, i - 1)).collect();
    folder.write(
        "harmonym.toml",
        format!("{HEAD}{}[preset]\np0 = \"scale 1.01\"\n{doubling}", bind("p40")),
    );
    let parts = ["harmonym.toml:22:14", "with `@p9` the chain has more than 1000 steps"];
    bounded(&folder, "check").expect_refused(&parts);
    bounded(&folder, "set quay.walk.about Walking").expect_refused(&parts);
    let nested: String = (1..3000).map(|i| format!("p{i} = \"@p{}\"\n", i - 1)).collect();
    folder.write(
        "harmonym.toml",
        format!("{HEAD}{}[preset]\np0 = \"scale 1.01\"\n{nested}", bind("p1")),
    );
    bounded(&folder, "check").expect_refused(&["presets lie more than 64 deep in each other"]);
    // Exactly as many as may be, and one more.
    let chain = |steps: usize| vec!["scale 1.001"; steps].join(" | ");
    for (second, is_sound) in [(500, true), (501, false)] {
        let presets = format!(
            "[preset]\na = \"{}\"\nb = \"{}\"\nc = \"@a | @b\"\n",
            chain(500),
            chain(second)
        );
        folder.write("harmonym.toml", format!("{HEAD}{}{presets}", bind("c")));
        let checked = bounded(&folder, "check --level error");
        match is_sound {
            true => drop(checked.expect_done()),
            false => checked.expect_refused(&["with `@b` the chain has more than 1000 steps"]),
        }
    }
}

#[test]
fn times_reports_and_ticks_have_limits_that_are_told() {
    let folder = Folder::with_demo();
    for (text, parts) in [
        (
            "at 0s push pad.left-stick to (1, 0) over 1000000000s\n",
            &["h.score:1:7", "reports 250000000000 times"][..],
        ),
        (
            "at 0s noise pad.left-stick of 0.1 for 1000000000s seed 1\n",
            &["h.score:1:7", "2000000 times at most"],
        ),
        ("at 1000000000s press key.KeyH for 1s\n", &["h.score:1:16", "lasts 200000 s at most"]),
        ("at 199999s press key.KeyH for 2s\n", &["h.score:1:12", "end it earlier"]),
        (
            "rate 1000\nat 12000.001s open tug\n",
            &["h.score:2:15", "at 1000 ticks a second lasts 12000 s"],
        ),
    ] {
        folder.write("h.score", text);
        for command in ["play", "test", "why hail", "render"] {
            bounded(&folder, &format!("{command} h.score")).expect_refused(parts);
        }
        folder.write("scores/far.score", text);
        let told = bounded(&folder, "check");
        assert!(told.stdout.contains("scores/far.score:"), "{}", told.stdout);
        std::fs::remove_file(folder.path("scores/far.score")).unwrap();
    }
    // At its limit each of them runs, at once where nothing goes on.
    for text in [
        "at 199999.9s press key.KeyH for 0.1s\nexpect hail fires at 199999.9s\n",
        "rate 1000\nat 11999.9s press key.KeyH for 0.1s\nexpect hail fires once\n",
        "rate 100000\nat 0s press key.KeyH for 0.1s\nexpect hail fires once\n",
        "at 0s push pad.left-stick to (1, 0) over 8000s\nexpect walk = (1, 0) at 8000s\n",
        "at 199990s press key.KeyT for 1s\nexpect tie-knot fires at 199990.8s within 0s\n\
         expect tie-knot progress = 0.5 at 199990.4s\n",
    ] {
        folder.write("h.score", text);
        bounded(&folder, "test h.score").expect_done();
        bounded(&folder, "play h.score").expect_done();
    }
    folder.write("h.score", "at 1s press key.KeyH for 0.1s\n");
    bounded(&folder, "play h.score --until 1000000000s")
        .expect_refused(&["lasts 200000 s at most"]);
    bounded(&folder, "play h.score --until 200000s").expect_done();
    bounded(&folder, "why hail h.score --at 1000000s").expect_refused(&["lasts 200000 s at most"]);
    folder.write("h.score", "at 199990s press key.KeyH for 0.1s\n");
    let parts = ["at 100000 ticks a second lasts 120 s at most, not 199990.1 s", "at a lower rate"];
    for command in
        ["play", "plot -o a.svg", "why hail", "sweep --vary quay.tie-knot.fire.hold=0.5s..1s:2"]
    {
        let line = format!("{command} h.score --rate 100000");
        bounded(&folder, &line).expect_refused(&parts);
    }
    let take =
        |t: &str| format!("{{\"take\":1}}\n{{\"t\":{t},\"control\":\"key.KeyH\",\"value\":1}}\n");
    folder.write("far.take.jsonl", take("200000.1"));
    bounded(&folder, "play far.take.jsonl")
        .expect_refused(&["far.take.jsonl:2:6", "200000 s that a run may last"]);
    folder.write("far.take.jsonl", take("200000"));
    bounded(&folder, "play far.take.jsonl").expect_done();
}

#[test]
fn a_run_that_tells_too_much_is_cut_short_and_that_is_told() {
    let folder = Folder::new();
    folder.write("harmonym.toml", ring("fire = \"repeat 0.001us\""));
    bounded(&folder, "check")
        .expect_refused(&["the time of `repeat` cannot be `0.001us`", "0.01 s"]);
    folder.write("harmonym.toml", ring("fire = \"repeat 0.01s\""));
    folder.write("h.score", "at 0s press key.KeyR for 50000s\nexpect ring fires\n");
    let parts = ["the run was cut short: it tells more than 4000000 events"];
    bounded(&folder, "plot h.score -o a.svg").expect_refused(&parts);
    let told = bounded(&folder, "test h.score");
    assert_eq!(told.code, 1, "{}", told.stderr);
    assert!(told.stdout.contains(parts[0]), "{}", told.stdout);
}

#[test]
fn what_never_ends_is_not_read_to_its_end() {
    let folder = Folder::with_demo();
    for line in [
        "play /dev/zero",
        "test /dev/zero",
        "why hail /dev/zero",
        "render /dev/zero",
        "import /dev/zero",
        "check --file /dev/zero",
        "compare scores/quick-press.score --with /dev/zero",
    ] {
        bounded(&folder, line).expect_refused(&["/dev/zero is no file"]);
    }
    let yes = |text: &str| {
        format!("yes '{text}' | (ulimit -v 1000000; timeout 60 harmonym play /dev/stdin)")
    };
    folder.shell(Path::new("."), &yes("at 1s")).expect_refused(&["larger than 64 MiB"]);
    folder.shell(Path::new("."), &yes("{\"take\":1}")).expect_refused(&["/dev/stdin:2"]);
    folder.write(
        "harmonym.toml",
        format!("{}# {}\n", folder.read("harmonym.toml"), "x".repeat(5 << 20)),
    );
    bounded(&folder, "check").expect_refused(&["harmonym.toml is larger than 4 MiB"]);
}
