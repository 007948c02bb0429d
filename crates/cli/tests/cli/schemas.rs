//! What is written is valid by the schemas that are told, and other things are not.

use crate::harness::Folder;
use jsonschema::Validator;
use serde_json::{Value, json};

fn validator(folder: &Folder, format: &str) -> Validator {
    let schema = folder.run(&["schema", format]).expect_done();
    let schema: Value = serde_json::from_str(&schema).expect("a schema");
    jsonschema::validator_for(&schema).expect("a sound schema")
}

/// Sees that every line is valid; gives the kinds of lines there were.
fn expect_valid(validator: &Validator, text: &str, told: &str) -> usize {
    for line in text.lines() {
        let value: Value = serde_json::from_str(line).expect("a line of JSON");
        assert!(validator.is_valid(&value), "{told}: {line}");
    }
    text.lines().count()
}

#[test]
fn what_commands_write_is_valid_by_its_schema() {
    let folder = Folder::with_demo();
    folder.write("left.score", "harmonym-score = 1\n");
    let cases: &[(&str, &[&[&str]])] = &[
        (
            "play",
            &[
                &["play", "scores/two-seats.score", "--values"],
                &["play", "scores/unplugged-pad.score"],
                &["play", "scores/open-the-log.score", "--values"],
                &["play", "scores/swing-the-load.score"],
            ],
        ),
        ("check", &[&["check"], &["check", "scores"], &["-f", "left.toml", "check"]]),
        (
            "test",
            &[&["test"], &["test", "--shard", "1/3"], &["test", "failing.score", "faulty.score"]],
        ),
        (
            "show",
            &[
                &["show"],
                &["show", "quay"],
                &["show", "quay.walk"],
                &["show", "tug.signal"],
                &["show", "device.slate"],
                &["show", "fact.on-ladder"],
            ],
        ),
        ("controls", &[&["controls"], &["controls", "stick"]]),
        ("uses", &[&["uses"], &["uses", "key.KeyT"]]),
        (
            "why",
            &[
                &["why", "quay.tie-knot", "scores/tie-a-knot.score"],
                &["why", "quay.tie-knot", "scores/tie-a-knot.score", "--at", "1.2s"],
                &["why", "quay.walk", "scores/two-seats.score", "scores/tie-a-knot.score"],
            ],
        ),
        (
            "sweep",
            &[
                &["sweep", "scores", "--vary", "tie-knot.fire.hold=0.4s..1.2s:3"],
                &["sweep", "scores", "--vary", "tie-knot.fire.hold=0.4s..1.2s:3", "--shard", "2/2"],
            ],
        ),
        (
            "prompt",
            &[
                &["prompt", "quay.walk"],
                &["prompt", "harbour.ring-bell"],
                &["prompt", "tug.signal"],
            ],
        ),
        (
            "player",
            &[
                &["player", "show", "--player", "players/left-handed.toml"],
                &["player", "show", "quay.hail", "--player", "players/left-handed.toml"],
            ],
        ),
    ];
    folder.write("left.toml", "harmonym = 1\n[map.quay.hail]\nvalue = \"swich\"\n");
    folder.write("failing.score", "harmonym-score = 1\nexpect quay.hail fires once\n");
    folder.write("faulty.score", "harmonym-score = 1\nat 0s: pres key.KeyH\n");
    for (format, commands) in cases {
        let validator = validator(&folder, format);
        let mut lines = 0;
        for command in *commands {
            let words = [command, &["--format", "json"][..]].concat();
            lines += expect_valid(&validator, &folder.run(&words).stdout, &words.join(" "));
        }
        assert!(lines > 3, "{format}: {lines}");
        for wrong in [json!({}), json!([]), json!({ "kind": "moon" }), json!("start")] {
            assert!(!validator.is_valid(&wrong), "{format}: {wrong}");
        }
    }
}

#[test]
fn takes_and_packs_are_valid_by_their_schemas() {
    let folder = Folder::with_demo();
    let (take, pack) = (validator(&folder, "take"), validator(&folder, "pack"));
    for score in std::fs::read_dir(folder.path("scores")).expect("scores").flatten() {
        let score = score.path();
        let text = folder.run(&["render", score.to_str().expect("a path")]).expect_done();
        assert!(expect_valid(&take, &text, &score.display().to_string()) > 1);
    }
    let text = folder.run(&["pack"]).expect_done();
    assert!(expect_valid(&pack, &text, "pack") > 100);
    for line in [
        json!({ "take": 2 }),
        json!({ "t": -1, "control": "key.KeyA", "value": 1 }),
        json!({ "t": 1, "control": "key.KeyA" }),
        json!({ "t": 1, "pause": true, "open": "quay" }),
        json!({ "t": 1, "give": "pad#1" }),
        json!({ "t": 1, "control": "pad.left-stick", "value": [1, 2, 3, 4, 5] }),
    ] {
        assert!(!take.is_valid(&line), "{line}");
    }
    for line in [
        json!({ "t": 1, "control": "pad.left-stick", "value": [0.5, 1] }),
        json!({ "t": 1, "scheme": null }),
        json!({ "t": 1, "tick": true }),
        json!({ "t": 1, "give": "pad#1", "seat": 2 }),
    ] {
        assert!(take.is_valid(&line), "{line}");
    }
    assert!(!pack.is_valid(&json!({ "pack": {} })));
}

#[test]
fn formats_are_listed_and_others_are_told() {
    let folder = Folder::new();
    let list = folder.run(&["schema"]).expect_done();
    for line in list.lines().skip(1) {
        let format = line.split_whitespace().next().expect("a name");
        folder.run(&["schema", format]).expect_done();
    }
    folder.run(&["schema", "plya"]).expect_refused(&["no format `plya`", "did you mean `play`?"]);
}
