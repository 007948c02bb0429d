//! `play` and `render`, to the byte.

use crate::harness::Folder;

const PROFILE: &str = r#"
harmonym = 1
scheme.desk.devices = ["key", "mouse"]
scheme.pad.devices = ["pad"]
map.quay.start = true
[map.quay.walk]
value = "plane"
bind.pad = "pad.left-stick"
[map.quay.engine]
value = "axis"
bind.desk = "pair(key.KeyA, key.KeyD)"
fire = "press or  release"
[map.tug.whistle]
value = "switch"
bind.desk = "key.KeyA"
fire = "hold 0.6s"
"#;

fn quay() -> Folder {
    let folder = Folder::new();
    folder.write("harmonym.toml", PROFILE);
    folder
}

#[test]
fn json_lines_have_the_keys_and_order_of_the_contract() {
    let folder = quay();
    folder.write(
        "a.take.jsonl",
        "{\"take\":1,\"title\":\"\\\"Quoted\\\"\",\"rate\":20}\n\
         {\"t\":0.05,\"control\":\"key.KeyA\",\"value\":1}\n\
         {\"t\":0.1000000001,\"control\":\"pad#1.left-stick\",\"value\":[0.6,-0.8]}\n\
         { \"value\" : 0, \"control\" : \"key.KeyA\", \"t\" : 2e-1 }\n\n\
         {\"t\":0.25,\"control\":\"pad.left-stick\",\"value\":[0,0]}\n",
    );
    let out = folder.run(&["play", "a.take.jsonl", "--format", "json", "--values"]).expect_done();
    let expected = r#"{"kind":"start","format":1,"title":"\"Quoted\"","rate":20}
{"kind":"scheme","t":0.05,"tick":1,"seat":1,"scheme":"desk"}
{"kind":"event","t":0.05,"tick":1,"seat":1,"action":"quay.engine","event":"wake","value":-1,"held":0,"progress":0,"from":"quay.engine@desk#1"}
{"kind":"event","t":0.05,"tick":1,"seat":1,"action":"quay.engine","event":"fire","value":-1,"held":0,"fired_for":0,"progress":1,"from":"quay.engine@desk#1","by":"press"}
{"kind":"values","t":0.05,"tick":1,"seat":1,"values":{"quay.engine":-1}}
{"kind":"scheme","t":0.1,"tick":2,"seat":1,"scheme":"pad"}
{"kind":"event","t":0.1,"tick":2,"seat":1,"action":"quay.walk","event":"wake","value":[0.6,-0.8],"held":0,"progress":0,"from":"quay.walk@pad#1"}
{"kind":"event","t":0.1,"tick":2,"seat":1,"action":"quay.walk","event":"fire","value":[0.6,-0.8],"held":0,"fired_for":0,"progress":1,"from":"quay.walk@pad#1","by":"while"}
{"kind":"values","t":0.1,"tick":2,"seat":1,"values":{"quay.walk":[0.6,-0.8]}}
{"kind":"event","t":0.15,"tick":3,"seat":1,"action":"quay.walk","event":"fire","value":[0.6,-0.8],"held":0.05,"fired_for":0.05,"progress":1,"from":"quay.walk@pad#1","by":"while"}
{"kind":"event","t":0.2,"tick":4,"seat":1,"action":"quay.engine","event":"fire","value":-1,"held":0.15,"fired_for":0.15,"progress":1,"from":"quay.engine@desk#1","by":"release"}
{"kind":"event","t":0.2,"tick":4,"seat":1,"action":"quay.engine","event":"rest","value":0,"held":0.15,"fired_for":0.15,"progress":1,"from":"quay.engine@desk#1","cause":"released"}
{"kind":"event","t":0.2,"tick":4,"seat":1,"action":"quay.walk","event":"fire","value":[0.6,-0.8],"held":0.1,"fired_for":0.1,"progress":1,"from":"quay.walk@pad#1","by":"while"}
{"kind":"values","t":0.2,"tick":4,"seat":1,"values":{"quay.engine":0}}
{"kind":"event","t":0.25,"tick":5,"seat":1,"action":"quay.walk","event":"rest","value":[0,0],"held":0.15,"fired_for":0.15,"progress":1,"from":"quay.walk@pad#1","cause":"released"}
{"kind":"values","t":0.25,"tick":5,"seat":1,"values":{"quay.walk":[0,0]}}
{"kind":"end","t":0.25,"tick":5}
"#;
    assert_eq!(out, expected);
}

#[test]
fn a_run_goes_on_until_nothing_is_due_and_stops_what_is_open() {
    let folder = quay();
    folder.write("h.take.jsonl", "{\"take\":1,\"start\":\"tug\",\"rate\":10}\n{\"t\":0,\"control\":\"key.KeyA\",\"value\":1}\n");
    let play = |more: &[&str]| {
        let args = [&["play", "h.take.jsonl", "--format", "json"], more].concat();
        let out = folder.run(&args).expect_done();
        let lines: Vec<_> = out.lines().rev().take(3).map(str::to_owned).collect();
        lines
    };
    let natural = play(&[]);
    assert_eq!(natural[0], "{\"kind\":\"end\",\"t\":0.6,\"tick\":6}");
    assert!(
        natural[1].contains("\"rest\"") && natural[1].contains("\"cause\":\"stopped\""),
        "{natural:?}"
    );
    let cut = play(&["--until", "0.31s"]);
    assert_eq!(cut[0], "{\"kind\":\"end\",\"t\":0.4,\"tick\":4}");
    assert!(
        cut[1].contains("\"event\":\"lapse\"")
            && cut[1].contains("\"progress\":0.6666666666666666"),
        "{cut:?}"
    );
    assert_eq!(play(&["--until", "2s"])[0], "{\"kind\":\"end\",\"t\":2,\"tick\":20}");
    assert_eq!(
        play(&["--rate", "59.94"])[0],
        "{\"kind\":\"end\",\"t\":0.600600600,\"tick\":36}".replace("600600600", "6006006")
    );
}

#[test]
fn a_score_and_the_take_made_from_it_give_the_same_bytes() {
    let folder = Folder::with_demo();
    for score in ["straight-diagonal", "drifting-stick", "tie-a-knot", "quick-press"] {
        let (score, take) = (format!("scores/{score}.score"), format!("{score}.take.jsonl"));
        folder.run(&["render", &score, "-o", &take]).expect_done();
        for rate in ["20", "60", "144"] {
            let play = |file: &str| {
                let args = ["play", file, "--format", "json", "--values", "--rate", rate];
                folder.run(&args).expect_done()
            };
            assert_eq!(play(&score), play(&take), "{score} at {rate}");
        }
        assert_eq!(folder.run(&["render", &score]).expect_done(), folder.read(&take));
    }
}

#[test]
fn movements_report_at_every_sample_and_exactly_at_their_end() {
    let folder = quay();
    folder.write(
        "m.score",
        "title \"Moves\" # a comment\nsample 40ms\n\
         at 100ms push pad.left-stick to (1, 0) over 100ms\n\
         at 0.14s push pad.left-stick.y to 50%\n\
         after 0s down pad.left-trigger\n\
         at 0.15s push pad.left-stick.x to -0.5 over 0.05s\n\
         after 0.1s release pad.left-stick.x\n\
         at 0.5s press key.Shift for 0.01s\n",
    );
    let out = folder.run(&["render", "m.score"]).expect_done();
    let expected = r#"{"take":1,"title":"Moves"}
{"t":0.1,"control":"pad.left-stick","value":[0,0]}
{"t":0.14,"control":"pad.left-stick","value":[0.4,0]}
{"t":0.14,"control":"pad.left-stick","value":[0.4,0.5]}
{"t":0.14,"control":"pad.left-trigger","value":1}
{"t":0.15,"control":"pad.left-stick","value":[0.4,0.5]}
{"t":0.19,"control":"pad.left-stick","value":[-0.32000000000000006,0.5]}
{"t":0.2,"control":"pad.left-stick","value":[-0.5,0.5]}
{"t":0.3,"control":"pad.left-stick","value":[0,0.5]}
{"t":0.5,"control":"key.ShiftLeft","value":1}
{"t":0.51,"control":"key.ShiftLeft","value":0}
"#;
    assert_eq!(out, expected);
}

#[test]
fn text_folds_what_fires_at_every_tick_and_sums_up() {
    let folder = Folder::with_demo();
    let out =
        folder.run(&["play", "scores/straight-diagonal.score", "--only", "walk"]).expect_done();
    let rows: Vec<_> = out.lines().filter(|line| line.contains("● fire")).collect();
    assert_eq!(rows.len(), 5, "{out}");
    assert!(
        rows[1].contains("(0.707, 0.707)") && rows[1].ends_with("while, 30 ticks from 0.5000"),
        "{out}"
    );
    assert!(out.contains("\nquay.walk  3     90     3 released  –       1.1000 s\n"), "{out}");
    assert!(!out.contains("hail"), "--only: {out}");
    assert!(out.lines().all(|line| line.chars().count() <= 100), "{out}");
    let values = folder.run(&["play", "scores/quick-press.score", "--values"]).expect_done();
    assert!(!values.contains("  value     on"), "a press within a tick changes no value: {values}");
}

#[test]
fn colour_is_there_only_when_it_is_wanted() {
    let folder = Folder::with_demo();
    let score = "scores/quick-press.score";
    assert!(!folder.run(&["play", score]).expect_done().contains('\u{1b}'));
    let colored = folder.run(&["--color", "always", "play", score]).expect_done();
    assert!(colored.contains('\u{1b}'));
    let json = folder.run(&["--color", "always", "play", score, "--format", "json"]).expect_done();
    assert!(!json.contains('\u{1b}'));
}

#[test]
fn a_closed_pipe_ends_quietly() {
    let folder = Folder::with_demo();
    let line = "harmonym play scores/straight-diagonal.score --format json --rate 10000 | head -1; echo ${PIPESTATUS:-0}";
    let out = folder.shell(std::path::Path::new("."), line);
    assert!(out.stdout.starts_with("{\"kind\":\"start\""));
    assert_eq!(out.stderr, "");
}

/// FNV-1a over everything printed.
fn digest(text: &str) -> u64 {
    text.bytes().fold(0xcbf2_9ce4_8422_2325, |hash, byte| {
        (hash ^ u64::from(byte)).wrapping_mul(0x0000_0100_0000_01b3)
    })
}

/// A change of one bit in anything that comes out of the demo shows here. When it is meant, the
/// file `tests/digests.txt` gets what this test prints.
#[test]
fn the_demo_gives_the_same_bits_everywhere() {
    let folder = Folder::with_demo();
    let mut lines = Vec::new();
    let mut note = |args: &[&str]| {
        let out = folder.run(args).expect_done();
        lines.push(format!("{:016x} {}", digest(&out), args.join(" ")));
    };
    let mut scores: Vec<String> = std::fs::read_dir(folder.path("scores"))
        .unwrap()
        .map(|entry| format!("scores/{}", entry.unwrap().file_name().to_string_lossy()))
        .collect();
    scores.sort();
    for score in &scores {
        note(&["render", score]);
        for rate in ["20", "60", "144"] {
            note(&["play", score, "--format", "json", "--values", "--rate", rate]);
        }
    }
    note(&["show"]);
    note(&["controls"]);
    note(&["test", "--format", "json"]);
    let lines = lines.join("\n");
    assert_eq!(include_str!("../digests.txt").trim_end(), lines, "\n{lines}\n");
}

#[test]
fn lanes_show_presses_episodes_values_and_why_they_ended() {
    let folder = Folder::new();
    folder.write(
        "harmonym.toml",
        "harmonym = 1\nscheme.desk.devices = [\"key\"]\nscheme.pad.devices = [\"pad\"]\n\
         [map.quay]\nstart = true\n[map.quay.tie-knot]\nvalue = \"switch\"\nbind.desk = \"key.KeyE\"\nfire = \"hold 0.4s\"\n\
         [map.quay.haul]\nvalue = \"axis\"\nbind.pad = \"pad.left-trigger\"\n[map.quay.hail]\nvalue = \"switch\"\nbind.desk = \"key.KeyE + key.KeyH\"\n",
    );
    folder.write(
        "knot.score",
        "at 0.1s press key.KeyE for 0.2s\nat 1s press key.KeyE for 0.6s\nat 1s push pad.left-trigger to 1 over 0.5s\nat 1.8s release pad.left-trigger\n",
    );
    let lanes = |more: &[&str]| {
        let args =
            [&["play", "knot.score", "--until", "2s", "--lanes", "--columns", "60"], more].concat();
        let out = folder.run(&args).expect_done();
        out.split("\n\n").next().unwrap().to_owned()
    };
    assert_eq!(
        lanes(&[]),
        "\
Untitled, at 60 ticks a second
               0 s                   1 s
               ╷─────────────────────╷─────────────────────╷
quay.tie-knot    ○───× too-short     ○────────●━━━━·
    quay.haul                        ●━━━━━━━━━━━━━━━━━·
         to 1                        ▁▁▂▂▃▄▄▅▆▇▇████████
┄ held  ○ wake  ─ pending  ● fire  ━ live  × lapse  · rest"
    );
    let plain = lanes(&["--ascii"]);
    assert!(plain.is_ascii() && plain.contains("o---x too-short"), "{plain}");
    // A control that was held and did nothing is shown when it is asked for.
    let asked = lanes(&["--only", "quay.hail", "quay.tie-knot"]);
    assert!(
        asked.lines().any(|line| line.contains("quay.hail  ") && line.contains('┄')),
        "{asked}"
    );
    folder.run(&["play", "knot.score", "--ascii"]).expect_refused_usage();
}

#[test]
fn comparing_tells_what_a_change_does_to_the_same_hands() {
    let folder = Folder::with_demo();
    let compare =
        |more: &[&str]| folder.run(&[&["compare", "scores/tie-a-knot.score"], more].concat());
    let set = ["--set", "quay.tie-knot.fire.hold=0.7s"];
    assert_eq!(
        compare(&set).expect_done(),
        "time    action         what differs\n\
         1.0000  quay.tie-knot  → fire moves to 0.9000\n\
         2.3000  quay.tie-knot  + fire: only after\n\
         2.3500  quay.tie-knot  → lapse (too-short) becomes rest (released)\n\
         3.6000  quay.tie-knot  → fire moves to 3.5000\n\
         4 differences\n"
    );
    assert_eq!(compare(&[&set[..], &["--fail-on-change"]].concat()).code, 1);
    // The same through a copy, as a take, at another rate.
    std::fs::create_dir(folder.path("other")).unwrap();
    let other = "other/harmonym.toml";
    std::fs::copy(folder.path("harmonym.toml"), folder.path(other)).unwrap();
    let same = compare(&["--with", other, "--fail-on-change"]).expect_done();
    assert_eq!(same, "nothing differs\n");
    folder.run(&["--file", other, "remove", "quay.tie-knot", "--force"]).expect_done();
    compare(&["--with", other]).expect_refused(&["no action `quay.tie-knot`", "scores/tie"]);
    folder.run(&["render", "scores/drifting-stick.score", "-o", "drift.take.jsonl"]).expect_done();
    let out = folder.run(&[
        "compare",
        "drift.take.jsonl",
        "--rate",
        "144",
        "--set",
        "tug.rudder@levers=bench.helm | deadzone 0.1",
    ]);
    assert!(out.expect_done().contains("its value differs by 0.06 at most"));
    compare(&["--set", "quay.tie-knot"]).expect_refused(&["sets nothing", "fire.hold=0.6s"]);
    compare(&["--set", "quay.tie-not.fire=press"]).expect_refused(&["quay.tie-knot"]);
    compare(&["--set", "quay.tie-knot.fire=hold 1"]).expect_refused(&["has no unit"]);
    compare(&[]).expect_refused_usage();
}

#[test]
fn lanes_under_another_layout_draw_the_keys_of_that_layout() {
    let folder = Folder::new();
    folder.write(
        "harmonym.toml",
        "harmonym = 1\n[scheme.desk]\ndevices = [\"key\"]\n[map.quay]\nstart = true\n\
         [map.quay.bow]\nvalue = \"switch\"\nbind.desk = \"char.a\"\nfire = \"hold 2s\"\n\
         [map.quay.quit]\nvalue = \"switch\"\nbind.desk = \"char.q\"\nfire = \"hold 2s\"\n",
    );
    // Where a French keyboard has its A, an American one has its Q.
    for (layout, held, other) in [("us", "bow", "quit"), ("fr", "quit", "bow")] {
        let take = format!(
            "{{\"take\":1,\"layout\":\"{layout}\"}}\n{{\"t\":0.1,\"control\":\"key.KeyA\",\"value\":1}}\n\
             {{\"t\":0.2,\"pause\":true}}\n{{\"t\":0.9,\"control\":\"key.KeyA\",\"value\":0}}\n"
        );
        folder.write("hands.take.jsonl", take);
        let out = folder.run(&["play", "hands.take.jsonl", "--lanes", "--ascii"]).expect_done();
        let lane = |name: &str| {
            out.lines()
                .find(|line| line.contains(&format!("quay.{name}")))
                .unwrap_or_default()
                .to_owned()
        };
        // Held on through the pause, in which nothing comes of it.
        assert!(lane(held).contains("paused____"), "{layout}:\n{out}");
        assert_eq!(lane(other), format!("never woke: quay.{other}"), "{layout}:\n{out}");
    }
}

#[test]
fn what_follows_the_rate_is_told_with_its_true_cause() {
    let folder = Folder::new();
    folder.write(
        "a.score",
        "at 0.1s drag mouse.move by (100, 20) over 1s\nat 0.1s push pad.right-stick to (1, 0) over 0.2s\n\
         at 1.25s release pad.right-stick\nat 2s press key.KeyQ for 0.1s\n",
    );
    for (action, why) in [
        ("bind.desk = \"mouse.move | curve 1.5\"", "`curve 1.5` isn't linear"),
        ("bind.desk = \"mouse.move\"\nshape = \"cap 2\"", "`cap 2` isn't linear"),
        (
            "bind.desk = \"mouse.move\"\nbind.pad = \"pad.right-stick | scale 20\"\nblend = \"sum\"",
            "quay.a@pad#1 gives a speed, taken as a distance at every tick",
        ),
        (
            "bind.desk = \"mouse.move | scale 0.01\"\nlevels = { down = 0.03 }",
            "a share of a tick has to reach 0.03, and is smaller at a higher rate",
        ),
        ("bind.desk = \"mouse.move\"", "the same in all: each tick takes its share"),
        ("bind.pad = \"pad.right-stick | travel\"", "the same in all: each tick takes its share"),
    ] {
        folder.write(
            "harmonym.toml",
            format!(
                "harmonym = 1\nscheme.desk.devices = [\"key\", \"mouse\"]\nscheme.pad.devices = [\"pad\"]\n\
                 [map.quay]\nstart = true\n[map.quay.a]\nvalue = \"plane\"\n{action}\n\
                 [map.quay.b]\nvalue = \"switch\"\nbind.desk = \"key.KeyQ\"\n"
            ),
        );
        let told = folder.run(&["play", "a.score", "--rates", "20,144"]).expect_done();
        let words = told.split_whitespace().collect::<Vec<_>>().join(" ");
        let why = why.split_whitespace().collect::<Vec<_>>();
        // The table breaks its lines: the words stand in one column, in their order.
        assert!(why.iter().all(|word| words.contains(word)), "{action}: {told}");
    }
}
