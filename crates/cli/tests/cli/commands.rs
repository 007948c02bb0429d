//! The commands that don't play.

use crate::harness::Folder;

#[test]
fn new_begins_a_profile_that_checks_and_plays_and_overwrites_nothing() {
    let folder = Folder::new();
    folder.run(&["new", "game"]).expect_done();
    let out = folder.run(&["--file", "game/harmonym.toml", "check"]).expect_done();
    assert!(out.contains("no faults (1 map, 3 actions, 6 bindings)"), "{out}");
    let play = ["--file", "game/harmonym.toml", "play", "game/scores/first-steps.score"];
    let out = folder.run(&play).expect_done();
    assert!(out.contains("too-short after 0.4000 s, at 80 %"), "{out}");
    let before = folder.read("game/harmonym.toml");
    folder.run(&["new", "game"]).expect_refused(&["is there already", "nothing was written"]);
    assert_eq!(folder.read("game/harmonym.toml"), before);
    folder.write("half/scores/first-steps.score", "mine");
    folder.run(&["new", "half"]).expect_refused(&["first-steps.score is there already"]);
    assert!(!folder.path("half/harmonym.toml").exists());
}

#[test]
fn the_profile_is_found_in_a_parent_folder() {
    let folder = Folder::with_demo();
    let out = folder.shell(std::path::Path::new("scores"), "harmonym -v play tie-a-knot.score");
    assert!(
        out.stderr.contains("reading ") && out.stderr.contains("harmonym.toml"),
        "{}",
        out.stderr
    );
    assert!(out.expect_done().contains("hold 0.8s"));
}

#[test]
fn show_has_three_views() {
    let folder = Folder::with_demo();
    let glance = folder.run(&["show"]).expect_done();
    assert!(glance.starts_with("Lantern Quay\n5 maps, 25 actions, 54 bindings\n"), "{glance}");
    for map in ["quay", "tug", "crane", "log-book", "harbour"] {
        let table = folder.run(&["show", map]).expect_done();
        assert!(glance.contains(&table) && table.contains("binding"), "{table}");
    }
    let way = folder.run(&["show", "walk"]).expect_done();
    for station in [
        "quay.walk (plane): Walk along the quay",
        "up key.KeyW, left key.KeyA, down key.KeyS, right key.KeyD",
        "ignores the first 10 % of travel, full at 96 %",
        "half way gives 33 %",
        "a diagonal has length 1",
        "wakes and is down from 0.002, let go under 0.0016 (not said in the profile)",
        "fires at every tick as long as it is down",
    ] {
        assert!(way.contains(station), "no `{station}` in:\n{way}");
    }
    assert_eq!(way, folder.run(&["show", "map.quay.walk"]).expect_done());
}

#[test]
fn controls_are_listed_and_searched() {
    let folder = Folder::new();
    let all = folder.run(&["controls"]).expect_done();
    for name in ["key.KeyW", "key.IntlRo", "key.F24", "key.Shift", "mouse.forward", "pad.mode"] {
        assert!(all.lines().any(|line| line.starts_with(&format!("{name} "))), "{name}");
    }
    let one = folder.run(&["controls", "numpad plus"]).expect_done();
    assert_eq!(one.lines().count(), 2, "{one}");
    let stick = folder.run(&["controls", "left", "stick", "--class", "pad"]).expect_done();
    assert!(stick.lines().nth(1).unwrap().starts_with("pad.left-stick"), "{stick}");
}

#[test]
fn check_tells_faults_as_json_too() {
    let folder = Folder::new();
    folder.write("harmonym.toml", "harmonym = 1\n# ä\n[map.quay.ä]\nvalue = \"swich\"\n");
    let out = folder.run(&["check", "--format", "json"]);
    let rows: Vec<serde_json::Value> =
        out.stdout.lines().map(|line| serde_json::from_str(line).expect(line)).collect();
    let fields = |row: &serde_json::Value| {
        let number = |key: &str| row[key].as_u64().unwrap();
        (
            row["rule"].as_str().unwrap().to_owned(),
            number("line"),
            number("column"),
            number("end_column"),
        )
    };
    assert!(rows.iter().any(|r| fields(r) == ("unknown-word".into(), 4, 9, 16)), "{}", out.stdout);
    assert!(rows.iter().all(|r| r["level"] == "error" && r["file"] == "harmonym.toml"));
    out.expect_refused(&["faults in harmonym.toml"]);
    let sound = Folder::with_demo().run(&["check", "--format", "json"]).expect_done();
    assert_eq!(sound, "");
}

#[test]
fn the_demo_runs_without_any_set_up_and_keeps_its_files() {
    let folder = Folder::new();
    let out = folder.run(&["demo", "--keep", "kept"]).expect_done();
    for step in ["1. An action, from", "no faults", "(0.707, 0.707)", "too-short", "10. Now you"] {
        assert!(out.contains(step), "no `{step}` in:\n{out}");
    }
    let is_head = |line: &&str| {
        let number = line.trim_start_matches(|c: char| c.is_ascii_digit());
        number.len() < line.len() && number.starts_with(". ")
    };
    assert_eq!(out.lines().filter(is_head).count(), 10);
    let lines: Vec<_> = out.lines().collect();
    for step in lines.split(|line| is_head(line)) {
        assert!(step.len() <= 24, "more than a screen:\n{}", step.join("\n"));
    }
    assert!(out.lines().all(|line| line.chars().count() <= 100));
    folder.run(&["--file", "kept/harmonym.toml", "check"]).expect_done();
    folder.run(&["demo", "--keep", "kept"]).expect_refused(&["is there already"]);
}

/// A score whose expectations fail, each with what came instead.
const FAILING: &[(&str, &str)] = &[
    ("expect quay.tie-knot fires twice", "got: once: fire at 0.9 s"),
    ("expect tie-knot never rests", "got: it did, once: rest at 1.1 s (released)"),
    (
        "expect tie-knot fires at 0.9s by \"hold 1s\"",
        "got: fire at 0.9 s by \"hold 0.8s\"; rest at 1.1 s (released)",
    ),
    ("expect tie-knot fires before 0.9s", "got: fire at 0.9 s; rest at 1.1 s (released)"),
    ("expect tie-knot fires at 0.902s", "got: fire at 0.9 s; rest at 1.1 s (released)"),
    ("expect quay.tie-knot = on at 1.1s", "got: off"),
    ("expect quay.walk = (0, 1) within 0.1 at 0.5s", "got: (0, 0)"),
    ("expect quay.tie-knot progress = 0.5 at 0.3s", "got: 0.25"),
    ("expect scheme pad at 0.5s", "got: desk"),
    (
        "expect quay.hail wakes",
        "got: nothing of the kind happened: none of its controls was pressed\n   = ask: harmonym why quay.hail bad.score",
    ),
    ("expect tie-knot fires between 0.901s and 1s", "got: fire at 0.9 s; rest at 1.1 s (released)"),
    ("expect tie-knot fires at least twice", "got: once: fire at 0.9 s"),
    ("expect map log-book open", "got: it was never opened"),
    ("expect map quay closed at 0.5s", "got: it is open from the start"),
];

#[test]
fn test_tells_what_came_instead_and_exits_with_1() {
    let folder = Folder::with_demo();
    let all = folder.run(&["test"]).expect_done();
    assert!(all.ends_with("20 scores, 129 met, 0 failed\n"), "{all}");
    let expectations: String = FAILING.iter().map(|(line, _)| format!("{line}\n")).collect();
    let holding = "expect tie-knot fires at least once between 0.9s and 0.9s\nexpect map quay open\n\
                   expect map log-book closed at 0s\n\
                   expect tie-knot fires at 0.9009s # within a millisecond\n\
                   expect tie-knot = on at 1.099s\nexpect tie-knot progress = 1 at 5s within 1\n";
    let holding = holding.replace(" at 5s within 1", " within 1 at 5s");
    folder.write(
        "bad.score",
        format!("seats 1\nat 0.1s press key.KeyT for 1s\n{holding}{expectations}"),
    );
    let out = folder.run(&["test", "bad.score", "scores"]);
    assert_eq!(out.code, 1, "{}", out.stdout);
    assert_eq!(out.stderr, "");
    assert!(out.stdout.starts_with("× bad.score: 6 of 20 met\n"), "{}", out.stdout);
    assert!(out.stdout.ends_with("21 scores, 135 met, 14 failed\n"), "{}", out.stdout);
    for (line, got) in FAILING {
        let told = out.stdout.split("error: ").find(|part| part.contains(line));
        let told = told.unwrap_or_else(|| panic!("nothing of `{line}` in {}", out.stdout));
        assert!(told.contains(got), "no `{got}` in {told}");
    }
    // What each action did is drawn once, with the moments at which something else was expected.
    assert_eq!(out.stdout.matches("quay.tie-knot  ").count(), 1, "{}", out.stdout);
    assert!(out.stdout.contains("\n     expected  "), "{}", out.stdout);
}

#[test]
fn what_no_score_has_tried_is_listed() {
    let folder = Folder::new();
    folder.write(
        "harmonym.toml",
        "harmonym = 1\nscheme.desk.devices = [\"key\"]\nfact.calm = {}\n[map.quay]\nstart = true\n\
         [map.quay.walk]\nvalue = \"axis\"\nbind.desk = [\"pair(key.KeyA, key.KeyD)\", \"key.KeyU\"]\n\
         [map.quay.knot]\nvalue = \"switch\"\nbind.desk = \"key.KeyE\"\n\
         fire = \"hold 0.5s unless calm or tap 0.2s\"\n\
         [map.quay.hail]\nvalue = \"switch\"\nbind.desk = \"key.KeyH\"\n",
    );
    folder.write(
        "scores/a.score",
        "at 0.1s press key.KeyD for 0.2s\nat 0.5s press key.KeyE for 0.1s\nexpect knot fires once\n",
    );
    let told = folder.run(&["test", "--coverage"]).expect_done();
    let (_, told) = told.split_once("Not tried by any score\n").expect("a list");
    let lines: Vec<String> =
        told.lines().skip(1).map(|l| l.split_whitespace().collect::<Vec<_>>().join(" ")).collect();
    assert_eq!(
        lines,
        [
            "control quay.walk@desk#1 key.KeyA",
            "binding quay.walk@desk#2 key.KeyU",
            "cue quay.knot `hold 0.5s`",
            "guard quay.knot `unless calm` never failed",
            "action quay.hail",
            "Tried: 2 of 3 actions, 2 of 4 bindings, 2 of 4 cues",
        ]
    );
    folder.write(
        "scores/b.score",
        "at 0.1s press key.KeyA for 0.2s\nat 0.1s press key.KeyU for 0.5s\nat 0.5s press key.KeyE for 0.6s\n\
         at 1.2s press key.KeyH for 0.1s\nat 1.5s fact calm = 1\nat 1.6s press key.KeyE for 0.6s\n",
    );
    let told = folder.run(&["test", "--coverage"]).expect_done();
    assert!(told.contains("\nEverything is tried.\nTried: 3 of 3 actions"), "{told}");
}

#[test]
fn a_score_that_cannot_be_read_is_counted() {
    let folder = Folder::with_demo();
    folder.write("scores/broken.score", "at 0.1s prss key.KeyH\n");
    let out = folder.run(&["test"]);
    assert_eq!(out.code, 2, "{}", out.stdout);
    assert!(out.stdout.ends_with("20 scores, 129 met, 0 failed, 1 faulty\n"), "{}", out.stdout);
}

#[test]
fn test_speaks_to_programs_too() {
    let folder = Folder::with_demo();
    folder.write(
        "bad.score",
        "seats 1\nat 0.1s press key.KeyH for 1s\nexpect hail fires twice # not so\nexpect hail wakes\n",
    );
    let run = |format: &str| {
        let out = folder.run(&["test", "bad.score", "--format", format]);
        assert_eq!(out.code, 1, "{format}: {}", out.stderr);
        out.stdout
    };
    assert_eq!(
        run("json"),
        "{\"file\":\"bad.score\",\"line\":3,\"expectation\":\"expect hail fires twice\",\"pass\":false,\"got\":\"once: fire at 0.1 s\"}\n\
         {\"file\":\"bad.score\",\"line\":4,\"expectation\":\"expect hail wakes\",\"pass\":true,\"got\":\"once: wake at 0.1 s\"}\n"
    );
    assert_eq!(
        run("tap"),
        "TAP version 13\n1..2\nnot ok 1 - bad.score:3 expect hail fires twice\n  ---\n  got: \"once: fire at 0.1 s\"\n  ...\n\
         ok 2 - bad.score:4 expect hail wakes\n"
    );
    let xml = run("junit");
    assert!(xml.contains("tests=\"2\"") && xml.contains("failures=\"1\""), "{xml}");
    assert!(xml.contains("message=\"once: fire at 0.1 s\"/>"), "{xml}");
}

#[test]
fn settings_and_facts_change_what_comes_out() {
    let folder = Folder::new();
    folder.write(
        "harmonym.toml",
        "harmonym = 1\nscheme.desk.devices = [\"key\"]\n[setting.patience]\ndefault = 800\nunit = \"ms\"\nrange = [100, 2000]\n\
         [setting.keep]\ndefault = false\n[fact.on-ladder]\n[map.quay]\nstart = true\n\
         [map.quay.tie]\nvalue = \"switch\"\nbind.desk = \"key.KeyE\"\nfire = \"hold patience unless on-ladder\"\n\
         [map.quay.hurry]\nvalue = \"switch\"\nbind.desk = \"key.Shift | toggle when keep\"\n",
    );
    folder.write(
        "scores/a.score",
        "at 0.1s setting patience = 300\nat 0.2s press key.KeyE for 0.4s\nat 0.7s fact on-ladder = 1\n\
         at 0.8s press key.KeyE for 0.4s\nat 1.3s setting keep = on\nat 1.4s press key.Shift for 0.1s\n\
         at 1.8s setting keep = off\n\
         expect tie fires once\nexpect tie fires at 0.5s\nexpect tie lapses at 1.1s because guard\n\
         expect hurry = on at 1.7s\nexpect hurry = off at 1.9s\n",
    );
    folder.run(&["test"]).expect_done();
    folder.run(&["render", "scores/a.score", "-o", "a.take.jsonl"]).expect_done();
    let play = |file: &str| folder.run(&["play", file, "--format", "json"]).expect_done();
    assert!(
        folder.read("a.take.jsonl").contains("{\"t\":0.1,\"setting\":\"patience\",\"value\":300}")
    );
    assert!(play("a.take.jsonl").ends_with(&play("scores/a.score")));
    for (line, says) in [
        ("at 0s setting patience = 3", "it is 100 to 2000"),
        ("at 0s setting patient = 300", "did you mean `patience`?"),
        ("at 0s fact patience = 300", "there is no fact `patience`"),
        ("at 0s setting keep on", "the number is missing"),
    ] {
        folder.write("b.score", format!("{line}\n"));
        folder.run(&["play", "b.score"]).expect_refused(&[says]);
    }
    for (line, says) in [
        ("{\"t\":0,\"setting\":\"patience\",\"value\":3}", "it is 100 to 2000"),
        ("{\"t\":0,\"fact\":\"on-ladde\",\"value\":3}", "did you mean `on-ladder`?"),
        ("{\"t\":0,\"fact\":\"on-ladder\",\"value\":[3]}", "is one number"),
        ("{\"t\":0,\"fact\":\"on-ladder\"}", "has no value"),
        ("{\"t\":0,\"fact\":\"on-ladder\",\"setting\":\"keep\",\"value\":1}", "not both"),
    ] {
        folder.write("b.take.jsonl", format!("{{\"take\":1}}\n{line}\n"));
        folder.run(&["play", "b.take.jsonl"]).expect_refused(&["b.take.jsonl:2:", says]);
    }
}

#[test]
fn an_actions_way_tells_every_step_and_cue_in_words() {
    let folder = Folder::new();
    let head = "harmonym = 1\nscheme.desk.devices = [\"key\"]\nscheme.pad.devices = [\"pad\"]\n[fact.calm]\n[map.quay]\n\
                [map.quay.b]\nvalue = \"switch\"\n";
    for (action, words) in [
        (
            "value = \"plane\"\nblend = \"sum\"\nbind.pad = [\"pad.left-stick | flip y | scale 2 3\", \"pad.dpad\"]",
            &["the sign of y turns", "2, 3 times as much", "all bindings are added"][..],
        ),
        (
            "value = \"plane\"\nbind.pad = \"pad.left-stick | rotate 45deg | ways 8 | notch 0.5 unless calm\"",
            &[
                "45.0° counter-clockwise",
                "the nearest of 8 directions",
                "in steps of 0.5, unless calm",
            ],
        ),
        (
            "value = \"space\"\nbind.pad = \"join(pad.left-stick.x, act.b, any(pad.south, pad.east)) | order zxy | cap 1 | unit\"",
            &[
                "x pad.left-stick.x, y quay.b, z pad.south or pad.east",
                "in the order zxy",
                "always of length 1",
            ],
        ),
        (
            "value = \"switch\"\nbind.desk = \"key.KeyA | not | switch-at 0.5 | clamp 0 1 | remap 0 1 1 0\"",
            &[
                "on while the input is off",
                "on from 0.5, off under 0.8 of that",
                "kept within 0 and 1",
                "0 to 1 becomes 1 to 0",
            ],
        ),
        (
            "value = \"axis\"\nbind.pad = \"pad.left-stick | pick length | curve (0.5 0.2) (1 1) | onto x\"\nfire = \"change\"",
            &[
                "only how far",
                "through (0.5, 0.2), (1, 1)",
                "becomes the component x",
                "whenever its value changes",
            ],
        ),
        (
            "value = \"switch\"\nbind.desk = \"key.KeyA\"\nyields-to = [\"b\"]\nfire = \"tap 0.2s or charge 1s or taps 2 gap=0.3s with b\"",
            &[
                "waits until quay.b has given up",
                "within 0.2 s",
                "after 1 s at least",
                "at press 2",
                ", with quay.b",
            ],
        ),
        (
            "value = \"switch\"\nfire = \"sequence(b, b) within=1s\"",
            &["none: it follows other actions", "when quay.b, quay.b fired in order within 1 s"],
        ),
        (
            "value = \"switch\"\nbind.all = \"key.KeyA\"\nfire = \"repeat 0.1s after=0.4s\"",
            &["all#1", "at once, after 0.4 s, then every 0.1 s"],
        ),
    ] {
        folder.write("harmonym.toml", format!("{head}[map.quay.a]\n{action}\n"));
        let way = folder.run(&["show", "quay.a"]).expect_done();
        for part in words {
            assert!(way.contains(part), "no `{part}` in:\n{way}");
        }
    }
}

#[test]
fn each_shell_gets_what_asks_for_completions() {
    let folder = Folder::new();
    for shell in ["bash", "zsh", "fish", "elvish", "powershell"] {
        let told = folder.run(&["completions", shell]).expect_done();
        assert!(told.contains("HARMONYM_COMPLETE"), "{shell}: {told}");
    }
}

#[cfg(unix)]
#[test]
fn render_replaces_a_file_whole_and_keeps_its_permissions() {
    use std::os::unix::fs::PermissionsExt;
    let folder = Folder::with_demo();
    folder.write("out.take.jsonl", "{\"take\":1}\n");
    let path = folder.path("out.take.jsonl");
    std::fs::set_permissions(&path, std::fs::Permissions::from_mode(0o640)).unwrap();
    folder.run(&["render", "scores/quick-press.score", "-o", "out.take.jsonl"]).expect_done();
    assert!(folder.read("out.take.jsonl").starts_with("{\"take\":1,"));
    assert_eq!(std::fs::metadata(&path).unwrap().permissions().mode() & 0o777, 0o640);
    let none = ["render", "scores/quick-press.score", "-o", "no/such/folder.jsonl"];
    folder.run(&none).expect_refused(&["cannot write no/such/folder.jsonl"]);
    let left: Vec<_> = std::fs::read_dir(folder.path(".")).unwrap().collect();
    assert_eq!(left.len(), 4, "a temporary file was left behind: {left:?}");
}

#[test]
fn every_commands_help_says_what_it_takes_and_ends_with_what_all_take() {
    let folder = Folder::new();
    let all = folder.run(&["--help"]).expect_done();
    let commands: Vec<&str> = all
        .lines()
        .skip_while(|line| !line.starts_with("Commands:"))
        .skip(1)
        .take_while(|line| !line.trim().is_empty())
        .filter(|line| line.starts_with("  ") && !line.starts_with("   "))
        .filter_map(|line| line.split_whitespace().next())
        .collect();
    assert!(commands.len() >= 20, "{commands:?}");
    for command in commands.into_iter().filter(|command| *command != "help") {
        let help = folder.run(&[command, "--help"]).expect_done();
        assert!(help.contains(&format!("Usage: harmonym {command}")), "{help}");
        assert!(help.contains("Everywhere:") && help.contains("--file <PATH>"), "{help}");
        // Every option says what it is for.
        for line in help.lines().filter(|line| line.trim_start().starts_with("--")) {
            let said = line.trim().split("  ").filter(|part| !part.is_empty()).count() > 1;
            let next = help.lines().skip_while(|other| other != &line).nth(1).unwrap_or_default();
            assert!(said || next.starts_with("          "), "{command}: {line}");
        }
    }
}
