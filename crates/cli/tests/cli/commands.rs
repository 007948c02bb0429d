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
    assert!(
        glance.starts_with("Lantern Quay\nschemes: desk (key, mouse), pad (pad)\n"),
        "{glance}"
    );
    assert!(glance.lines().count() <= 24, "more than a screen: {glance}");
    let map = folder.run(&["show", "quay"]).expect_done();
    assert!(glance.ends_with(&map), "{map}");
    let way = folder.run(&["show", "walk"]).expect_done();
    for station in [
        "quay.walk (plane): Walk along the quay",
        "up key.KeyW, left key.KeyA, down key.KeyS, right key.KeyD",
        "ignores the first 10 % of travel, full at 96 %",
        "half way gives 33 %",
        "a diagonal has length 1",
        "wakes and is down from 0.001, up under 0.0008 (not said in the profile)",
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
    for step in ["1. The profile", "no faults", "(0.707, 0.707)", "too-short", "7. Now you"] {
        assert!(out.contains(step), "no `{step}` in:\n{out}");
    }
    let is_head =
        |line: &&str| line.starts_with(|c: char| c.is_ascii_digit()) && line[1..].starts_with(". ");
    assert_eq!(out.lines().filter(is_head).count(), 7);
    let lines: Vec<_> = out.lines().collect();
    for step in lines.split(|line| is_head(line)) {
        assert!(step.len() <= 24, "more than a screen:\n{}", step.join("\n"));
    }
    assert!(out.lines().all(|line| line.chars().count() <= 100));
    folder.run(&["--file", "kept/harmonym.toml", "check"]).expect_done();
    folder.run(&["demo", "--keep", "kept"]).expect_refused(&["is there already"]);
}

#[test]
fn completions_name_the_commands() {
    let folder = Folder::new();
    for shell in ["bash", "zsh", "fish", "elvish", "powershell"] {
        assert!(folder.run(&["completions", shell]).expect_done().contains("render"), "{shell}");
    }
}

#[cfg(unix)]
#[test]
fn render_replaces_a_file_whole_and_keeps_its_permissions() {
    use std::os::unix::fs::PermissionsExt;
    let folder = Folder::with_demo();
    folder.write("out.take.jsonl", "old");
    let path = folder.path("out.take.jsonl");
    std::fs::set_permissions(&path, std::fs::Permissions::from_mode(0o640)).unwrap();
    folder.run(&["render", "scores/quick-press.score", "-o", "out.take.jsonl"]).expect_done();
    assert!(folder.read("out.take.jsonl").starts_with("{\"take\":1,"));
    assert_eq!(std::fs::metadata(&path).unwrap().permissions().mode() & 0o777, 0o640);
    let none = ["render", "scores/quick-press.score", "-o", "no/such/folder.jsonl"];
    folder.run(&none).expect_refused(&["cannot write no/such/folder.jsonl"]);
    let left: Vec<_> = std::fs::read_dir(folder.path(".")).unwrap().collect();
    assert_eq!(left.len(), 3, "a temporary file was left behind: {left:?}");
}
