//! Help at hand: the language in the tool, completions, man pages, the schema of a profile, and names that
//! people try.

use crate::harness::Folder;
use serde_json::{Value, json};

#[test]
fn help_tells_a_topic_a_word_of_it_a_rule_and_a_command() {
    let folder = Folder::new();
    let help = |words: &[&str]| folder.run(&[&["help"], words].concat()).expect_done();
    let all = help(&[]);
    for topic in
        ["profile", "bindings", "steps", "cues", "maps", "scores", "takes", "controls", "json"]
    {
        assert!(all.contains(&format!("\n{topic} ")), "no {topic} in:\n{all}");
        assert!(help(&[topic]).lines().count() > 10, "{topic}");
    }
    let deadzone = help(&["steps", "deadzone"]);
    for told in ["LOW     0 to 1000000", "(m − LOW)/(HIGH − LOW)", "bind.pad = ", "0.25  0.174"]
    {
        let one_line = deadzone.replace('\n', " ");
        assert!(one_line.contains(told), "no `{told}` in:\n{deadzone}");
    }
    // A word is found without its topic, too.
    assert_eq!(help(&["deadzone"]), deadzone);
    assert!(help(&["cues", "hold"]).contains("× too-short"));
    assert!(help(&["rank"]).contains("A key of a map"));
    assert!(help(&["scores", "push"]).contains("at 2s push pad.left-stick to (0.6, 0.8)"));
    assert!(help(&["controls", "left", "bumper"]).contains("pad.left-shoulder"));
    assert!(help(&["raw-stick"]).contains("A profile that has it:"));
    assert_eq!(help(&["player", "show"]), folder.run(&["player", "show", "--help"]).expect_done());
    folder.run(&["help", "steps", "hold"]).expect_refused(&["harmonym help cues hold"]);
    folder.run(&["help", "steps", "dedzone"]).expect_refused(&["did you mean `deadzone`?"]);
    folder.run(&["help", "lanterns"]).expect_refused(&["the topics are profile, maps"]);
    folder.run(&["help", "json", "lanterns"]).expect_refused(&["`harmonym help json` tells all"]);
}

#[test]
fn each_help_names_the_topic_of_its_language() {
    let folder = Folder::new();
    for (command, topic) in [
        ("bind", "bindings"),
        ("play", "scores"),
        ("curve", "steps"),
        ("add map", "profile"),
        ("player show", "bindings"),
        ("undo", "profile"),
    ] {
        let words: Vec<&str> = command.split(' ').chain(["--help"]).collect();
        let help = folder.run(&words).expect_done();
        assert!(help.contains(&format!("`harmonym help {topic}`")), "{help}");
    }
    let new = folder.run(&["new", "--help"]).expect_done();
    assert!(new.contains("sled") && new.contains("that are steered") || new.contains("steered"));
}

/// What a shell is told that completes the last of these words.
fn completed(folder: &Folder, words: &str) -> Vec<String> {
    let index = words.split(' ').count() - 1;
    let line = format!(
        "_CLAP_IFS='\n' _CLAP_COMPLETE_INDEX={index} _CLAP_COMPLETE_COMP_TYPE=9 \
         _CLAP_COMPLETE_SPACE=false HARMONYM_COMPLETE=bash harmonym -- {words}"
    );
    let told = folder.shell(".".as_ref(), &line).expect_done();
    told.lines().map(str::to_owned).collect()
}

#[cfg(unix)]
#[test]
fn shells_complete_commands_addresses_controls_steps_and_topics() {
    let folder = Folder::with_demo();
    for (words, first) in [
        ("harmonym sho", "show"),
        ("harmonym show quay.wal", "quay.walk"),
        ("harmonym show setting.gaze-s", "setting.gaze-speed"),
        ("harmonym unbind quay.hail@pa", "quay.hail@pad#1"),
        ("harmonym set quay.hail.fi", "quay.hail.fire"),
        ("harmonym bind quay.hail pad.nor", "pad.north"),
        ("harmonym bind quay.hail 'pad.left-stick|deadz'", "pad.left-stick|deadzone"),
        ("harmonym uses key.Spa", "key.Space"),
        ("harmonym check --only raw-", "raw-stick"),
        ("harmonym help cu", "cues"),
        ("harmonym --file harmonym.toml show crane.gr", "crane.grab"),
    ] {
        let all = completed(&folder, words);
        assert_eq!(all.first().map(String::as_str), Some(first), "{words}: {all:?}");
    }
    assert_eq!(completed(&Folder::new(), "harmonym show quay.wal"), [] as [&str; 0]);
}

#[test]
fn there_is_a_man_page_for_every_command() {
    let folder = Folder::new();
    folder.run(&["manual", "man"]).expect_done();
    for page in ["harmonym", "harmonym-bind", "harmonym-add-action", "harmonym-player-show"] {
        let text = folder.read(&format!("man/{page}.1"));
        assert!(text.contains(".TH") && text.contains("SYNOPSIS"), "{page}");
    }
    folder.write("file", "");
    folder.run(&["manual", "file"]).expect_refused(&["file cannot be written"]);
}

#[test]
fn the_schema_of_a_profile_takes_what_we_read_and_nothing_else() {
    let folder = Folder::with_demo();
    let schema = folder.run(&["schema", "profile"]).expect_done();
    let schema: Value = serde_json::from_str(&schema).expect("a schema");
    let validator = jsonschema::validator_for(&schema).expect("a sound schema");
    let demo = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("demo");
    let faulty = std::fs::read_dir(demo.join("faulty")).unwrap().map(|one| one.unwrap().path());
    for path in faulty.chain([demo.join("harmonym.toml")]) {
        let profile: toml::Table = std::fs::read_to_string(&path).unwrap().parse().unwrap();
        let profile = serde_json::to_value(profile).unwrap();
        let told: Vec<_> = validator.iter_errors(&profile).map(|one| one.to_string()).collect();
        assert_eq!(told, [] as [&str; 0], "{}", path.display());
    }
    for other in [
        json!({}),
        json!({ "harmonym": 2 }),
        json!({ "harmonym": 1, "seats": 9 }),
        json!({ "harmonym": 1, "map": { "Quay": {} } }),
        json!({ "harmonym": 1, "map": { "quay": { "kind": "overlay" } } }),
        json!({ "harmonym": 1, "map": { "quay": { "hail": {} } } }),
        json!({ "harmonym": 1, "map": { "quay": { "hail": { "value": "button" } } } }),
        json!({ "harmonym": 1, "map": { "quay": { "hail": { "value": "switch", "bind": { "pad": 1 } } } } }),
        json!({ "harmonym": 1, "setting": { "speed": {} } }),
        json!({ "harmonym": 1, "scheme": { "pad": { "devices": "pad" } } }),
    ] {
        assert!(!validator.is_valid(&other), "{other}");
    }
}

/// A profile with one action of a kind with a binding in the scheme pad, and a fire rule.
fn one_action(value: &str, binding: &str, fire: &str) -> String {
    format!(
        "harmonym = 1\n[scheme.desk]\ndevices = [\"key\", \"mouse\"]\n[scheme.pad]\ndevices = \
         [\"pad\"]\n[setting.look-speed]\ndefault = 1\n[map.quay]\nstart = true\n[map.quay.it]\n\
         value = \"{value}\"\nbind.all = \"{binding}\"\nfire = \"{fire}\"\n"
    )
}

#[test]
fn names_that_people_try_lead_to_what_they_mean() {
    for (value, binding, fire, help) in [
        ("switch", "Space", "press", "did you mean `key.Space`?"),
        ("switch", "key.W", "press", "did you mean `key.KeyW`?"),
        ("switch", "gamepad.A", "press", "write `pad.south` (lowest of"),
        ("switch", "cross", "press", "`pad.south`"),
        ("switch", "L2", "press", "`pad.left-trigger` (left edge, lower"),
        ("switch", "LMB", "press", "`mouse.left` (under the index finger)"),
        ("plane", "pad.left-stick | clamp 1", "while", "write `cap 1` for the length"),
        ("axis", "pad.left-stick.x | clamp 1", "while", "write `clamp -1 1`, or `clamp 0 1`"),
        ("plane", "mouse.move | scale setting.look-speed", "while", "write `look-speed`"),
        ("plane", "mouse.move | scale setting.lok-speed", "while", "did you mean `look-speed`?"),
        ("switch", "key.KeyT", "tap 0.2s | hold 1s", "cues are joined by `or`"),
        ("switch", "key.KeyT", "tap 0.2s and hold 1s", "cues are joined by `or`"),
        ("switch", "key.KeyT", "double-tap", "write `taps`: `taps 2 gap=0.3s`, say"),
        ("plane", "WASD", "while", "write `four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)`"),
        ("plane", "mouse", "while", "that is a whole device; its controls are `mouse.left`"),
        ("switch", "gamepad a", "press", "`harmonym controls left stick` finds it by several"),
        ("switch", "key.KeyT, key.KeyU", "press", "several bindings are a list"),
        ("switch", "key.KeyT | key.KeyU", "press", "several bindings are a list"),
        ("button", "key.KeyT", "press", "write `switch`"),
        ("axis", "pad.left-stick.y | invert", "while", "write `flip`"),
        ("axis", "pad.left-stick.y | deadzone(0.1)", "while", "`deadzone"),
    ] {
        let folder = Folder::new();
        folder.write("harmonym.toml", one_action(value, binding, fire));
        folder.run(&["check"]).expect_refused(&[help]);
    }
}

#[test]
fn words_that_people_try_in_scores_and_addresses_lead_to_what_they_mean() {
    let folder = Folder::with_demo();
    for (line, help) in [
        ("at 1s push pad.left-stick to (1, 0) for 0.2s", "write `over 0.2s`"),
        ("at 1s setting gaze-flip = true", "write `on`"),
        ("at 1s unpause", "write `resume`"),
        ("at 1s press pad.a for 0.1s", "`pad.south`"),
        ("at 1s tap key.KeyT", "write `press`"),
        ("expect hail = true at 1s", "write `on`"),
    ] {
        folder.write("one.score", format!("{line}\n"));
        folder.run(&["play", "one.score"]).expect_refused(&[help]);
    }
    for (binding, help) in [
        ("LB", "`pad.left-shoulder` (left edge"),
        ("Space", "did you mean `key.Space`?"),
        ("gamepad.A", "`pad.south`"),
        ("pair(A, D)", "`key.KeyA`"),
        ("lantern.wick", "`harmonym controls` lists them all"),
    ] {
        folder.run(&["bind", "quay.hail", binding]).expect_refused(&["no control", help]);
    }
    for (address, help) in [
        ("gaze-speed", "`setting.gaze-speed.default`"),
        ("setting.gaze-speed", "harmonym set setting.gaze-speed.default 1.4"),
        ("quay.walk@pad#1.deadzone.full", "harmonym set preset.stick.deadzone.full 1.4"),
        ("stick.deadzone", "write `preset.stick.deadzone`"),
        ("tie-knot.hold", "write `quay.tie-knot.fire.hold`"),
        ("gaze.scale", "write `quay.gaze@SCHEME#1.scale`"),
    ] {
        folder.run(&["set", address, "1.4"]).expect_refused(&[help]);
    }
}

#[test]
fn quiet_commands_print_no_diffs_but_those_of_a_dry_run() {
    let folder = Folder::with_demo();
    let quiet = |words: &[&str]| folder.run(&[words, &["-q"]].concat()).expect_done();
    assert_eq!(quiet(&["set", "quay.tie-knot.fire.hold", "0.9s"]), "");
    assert_eq!(quiet(&["undo"]), "");
    assert!(quiet(&["set", "quay.tie-knot.fire.hold", "0.9s", "--dry-run"]).contains("+fire"));
}

#[test]
fn an_empty_profile_is_sound_and_nothing_is_found_in_it() {
    let folder = Folder::new();
    let told = folder.run(&["new", "--starter", "empty"]).expect_done();
    assert_eq!(told, "wrote ./harmonym.toml\n");
    let told = folder.run(&["check"]).expect_done();
    assert_eq!(told, "harmonym.toml: no faults (0 maps, 0 actions, 0 bindings)\n");
}

#[test]
fn what_is_printed_fits_the_columns_that_a_pipe_is_told_of() {
    let folder = Folder::with_demo();
    let commands = [
        "show",
        "show --all",
        "show quay.walk",
        "show scheme.pad",
        "controls",
        "uses key.KeyT",
        "play scores/tie-a-knot.score",
        "play scores/tie-a-knot.score --lanes",
        "play scores/any-frame-rate.score --rates 20,60",
        "why tie-knot scores/tie-a-knot.score",
        "why tie-knot scores/tie-a-knot.score --at 1s",
        "curve quay.walk",
        "test --coverage",
        "check --explain raw-stick",
        "sweep scores --vary tie-knot.fire.hold=0.4s..1.2s:5",
        "compare scores/tie-a-knot.score --set tie-knot.fire.hold=0.7s",
        "prompt tie-knot",
        "help steps",
        "help json",
        "help scores push",
        "help cues hold",
        "schema",
        "demo",
    ];
    for columns in [40, 80, 100, 160] {
        for command in commands {
            let line = format!("COLUMNS={columns} harmonym {command}");
            let told = folder.shell(".".as_ref(), &line).stdout;
            let wide = told.lines().filter(|line| line.chars().count() > columns);
            let wide: Vec<_> = wide.collect();
            assert!(wide.is_empty(), "{line}:\n{}", wide.join("\n"));
        }
    }
    let wide = |columns: &str| {
        let told = folder.shell(".".as_ref(), &format!("COLUMNS={columns} harmonym show"));
        told.stdout.lines().map(|line| line.chars().count()).max()
    };
    assert!(wide("160") > wide("100") && wide("") == wide("100"));
}

#[cfg(target_os = "linux")]
#[test]
fn long_answers_go_through_the_pager_and_short_ones_do_not() {
    use crate::pty::Pty;
    let folder = Folder::with_demo();
    let tool = env!("CARGO_BIN_EXE_harmonym");
    let run = |pager: &str, words: &str| {
        let line = format!("PAGER='{pager}' exec {tool} {words}");
        Pty::run("sh".as_ref(), &["-c", &line], &folder.path(".")).end()
    };
    for words in ["help steps", "show", "controls", "play scores/two-seats.score"] {
        let (code, _, shown) = run("cat >paged", words);
        assert_eq!((code, shown.trim()), (Some(0), "the end"), "{words}");
        assert!(folder.read("paged").lines().count() > 40, "{words}");
    }
    let (_, _, shown) = run("cat >paged.short", "help hold");
    assert!(shown.contains("hold T") && !folder.path("paged.short").exists(), "{shown}");
    // Nobody is left waiting for what only editors say.
    let (code, _, shown) = run("", "lsp");
    assert!(code == Some(2) && shown.contains("let your editor start it"), "{shown}");
    // One that is left early, and one that there is not.
    assert_eq!(run("head -1", "controls").0, Some(0));
    let (code, _, shown) = run("no-such-pager", "help steps");
    assert!(code == Some(0) && shown.contains("`deadzone"), "{shown}");
}
