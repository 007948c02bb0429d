//! A headset and two hands: turns and places through the built program.

use crate::harness::Folder;

const PROFILE: &str = r#"harmonym = 1
title = "Lantern Quay, through a headset"
[scheme.helm]
devices = ["head", "hand"]

[setting.calm]
default = 80
unit = "ms"
range = [0, 300]

[map.light]
start = true
[map.light.look]
value = "turn"
bind.helm = "head.turn | smooth calm"
levels = { down = 0.3 }
fire = "press"
[map.light.lean]
value = "space"
bind.helm = "head.at | deadzone 0.02"
[map.light.aim]
value = "turn"
bind.helm = "hand.right.turn"
[map.light.kindle]
value = "switch"
bind.helm = "hand.right.trigger"
fire = "hold 0.4s"
"#;

/// To the left by half a radian, to the right by one, and straight ahead again.
const SCORE: &str = r#"title "A look over the shoulder"
at 0.2s push head.turn to (0, 0.2474, 0, 0.9689) over 0.4s
at 0.3s push head.at to (0.1, 1.6, -0.2) over 0.5s
at 1.0s push head.turn to (0, -0.4794, 0, 0.8776) over 0.6s
at 1.2s push hand.right.turn to (0.3827, 0, 0, 0.9239) over 0.3s
at 1.6s press hand.right.trigger for 0.6s
at 2.4s push head.turn to (0, 0, 0, 1) over 0.2s
expect look fires twice
expect look rests at 1.182s because released
expect kindle fires once by "hold 0.4s"
expect aim = (0.3827, 0, 0, 0.9239) within 0.001 at 1.5s
"#;

fn folder() -> Folder {
    let folder = Folder::new();
    folder.write("harmonym.toml", PROFILE);
    folder.write("look.score", SCORE);
    folder
}

#[test]
fn a_look_is_played_tested_and_explained() {
    let folder = folder();
    assert!(folder.run(&["check"]).expect_done().contains("no faults"));
    assert!(folder.run(&["test", "look.score"]).expect_done().contains("4 of 4"));
    let table = folder.run(&["play", "look.score"]).expect_done();
    let columns: Vec<Option<usize>> = table
        .lines()
        .filter_map(|line| match line {
            line if line.contains("wake") => Some(line.find("helm#1")),
            line if line.starts_with("      time") => Some(line.find("how")),
            _ => None,
        })
        .map(|place| place.map(|place| place.min(60)))
        .collect();
    assert!(columns.len() >= 5 && columns.iter().all(|one| *one == columns[0]), "{table}");
    // What is always somewhere is never let go.
    let why = folder.run(&["why", "look", "look.score"]).expect_done();
    let why: String = why.split_whitespace().collect::<Vec<_>>().join(" ");
    assert!(why.contains("after head.turn went to 0.062353 rad around (0, 1, 0)"), "{why}");
    assert!(why.contains("after head.turn went to 0 rad at 2.6 s"), "{why}");
    let at = folder.run(&["why", "look", "look.score", "--at", "2s"]).expect_done();
    assert!(at.contains("0.998612 rad around (0, -1, 0)"), "{at}");
}

#[test]
fn a_turn_is_drawn_as_its_angle_and_read_off_with_its_axis() {
    let folder = folder();
    folder.run(&["plot", "look.score", "-o", "look.svg"]).expect_done();
    let svg = folder.read("look.svg");
    assert_eq!(svg.matches("aria-label=\"rad around (0, −1, 0)\"").count(), 2, "head and action");
    assert_eq!(svg.matches("aria-label=\"rad around (1, 0, 0)\"").count(), 2, "hand and action");
    folder.run(&["plot", "look.score", "-o", "look.html"]).expect_done();
    let page = folder.read("look.html");
    let data = page.split("id=\"run\">").nth(1).and_then(|rest| rest.split("</script>").next());
    let run: serde_json::Value = serde_json::from_str(data.expect("a run")).expect("JSON");
    let rows = run["rows"].as_array().expect("rows");
    for (name, most, axis) in
        [("head.turn", 1.0, [0.0, -1.0, 0.0]), ("light.aim", 0.785, [1.0, 0.0, 0.0])]
    {
        let row = rows.iter().find(|row| row["name"] == name).expect(name);
        let points = |curve: &serde_json::Value| -> Vec<f64> {
            let points = curve["points"].as_array().expect("points").iter();
            points.map(|point| point[1].as_f64().expect("a number")).collect()
        };
        let curves = row["curves"].as_array().expect("curves");
        assert_eq!(curves.len(), 1, "{name}");
        let found = points(&curves[0]).into_iter().fold(0.0, f64::max);
        assert!((found - most).abs() < 1e-3, "{name}: {found}");
        let around = row["around"].as_array().expect("an axis").iter();
        for (curve, wanted) in around.zip(axis) {
            assert!(points(curve).contains(&wanted), "{name}: {curve}");
        }
    }
}
