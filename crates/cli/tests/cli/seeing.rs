//! Seeing and explaining: why, plot, curve, compare, sweep, rates.

use crate::harness::Folder;

const HEAD: &str = "harmonym = 1\nscheme.desk.devices = [\"key\", \"mouse\"]\n\
                    scheme.pad.devices = [\"pad\"]\nfact.calm = {}\n\
                    [map.quay]\nstart = true\n";

/// What `why ACTION` says on a profile and a score, its head left out; blanks made one.
fn told(profile: &str, score: &str, action: &str) -> Vec<String> {
    let folder = Folder::new();
    folder.write("harmonym.toml", format!("{HEAD}{profile}"));
    folder.write("a.score", score);
    let text = folder.run(&["why", action, "a.score"]).expect_done();
    let mut lines: Vec<String> = Vec::new();
    for line in text.lines().skip(1).filter(|line| !line.starts_with("from")) {
        let words = line.split_whitespace().collect::<Vec<_>>().join(" ");
        // What is too long goes on below.
        match lines.last_mut().filter(|_| line.starts_with("        ")) {
            Some(last) => *last = format!("{last} {words}"),
            None => lines.push(words),
        }
    }
    lines
}

#[test]
fn every_end_says_by_how_much() {
    let knot = "[map.quay.knot]\nvalue = \"switch\"\nbind.desk = \"key.KeyE\"\n";
    for (rule, score, wanted) in [
        (
            "fire = \"hold 0.8s\"",
            "at 0.2s press key.KeyE for 0.31s",
            "0.2000 0.5100 lapse too-short: held 0.31 s of 0.8 s: let go 0.49 s too early",
        ),
        (
            "fire = \"charge 0.5s\"",
            "at 1s press key.KeyE for 0.5s",
            "1.0000 1.5000 fire fired at 1.5 s by `charge 0.5s`, 0.5 s after it woke; let go after 0.5 s",
        ),
        (
            "fire = \"tap 0.2s\"",
            "at 0.2s press key.KeyE for 0.35s",
            "0.2000 0.4000 lapse too-long: held 0.35 s, where 0.2 s is the most: let go 0.15 s too late",
        ),
        (
            "fire = \"taps 2 gap=0.3s\"",
            "at 0.2s press key.KeyE for 0.1s\nat 0.6s press key.KeyE for 0.1s",
            "0.2000 0.5000 lapse gap: 1 of 2 presses: the next was not there within 0.3 s, it came 0.1 s too late",
        ),
        (
            "fire = \"press when calm\"",
            "at 0.2s press key.KeyE for 0.1s",
            "0.2000 0.2000 lapse guard: calm is off",
        ),
        (
            "fire = \"hold 0.5s\"",
            "at 0.2s down key.KeyE\nat 0.4s pause",
            "0.2000 0.4000 lapse paused: the game was paused; it had been down 0.2 s of the 0.5 s that it takes",
        ),
        (
            "fire = \"hold 0.5s\"",
            "at 0.2s down key.KeyE\nat 0.4s scheme pad",
            "0.2000 0.4000 lapse scheme-off: the game narrowed the bindings to the scheme pad; it had been down 0.2 s of the 0.5 s that it takes",
        ),
        (
            "fire = \"press\"",
            "at 0.2s down key.KeyE",
            "0.2000 0.2000 fire fired at 0.2 s by `press`; stopped: the run ended",
        ),
    ] {
        let all = told(&format!("{knot}bind.pad = \"pad.south\"\n{rule}\n"), score, "knot");
        assert_eq!(all[0], wanted, "{rule}\n{score}");
    }
}

#[test]
fn ends_that_others_bring_name_them() {
    let two = "[map.quay.knot]\nvalue = \"switch\"\nbind.desk = \"key.KeyE\"\nfire = \"hold 0.8s\"\n\
               [map.quay.tug]\nvalue = \"switch\"\nbind.desk = \"key.KeyE\"\nfire = \"tap 0.3s\"\n\
               yields-to = [\"twice\"]\n\
               [map.quay.twice]\nvalue = \"switch\"\nbind.desk = \"key.KeyE\"\nfire = \"taps 2 gap=0.3s\"\n\
               [map.book]\nkind = \"layer\"\n[map.book.read]\nvalue = \"switch\"\nbind.desk = \"key.KeyE\"\n\
               claim = true\n[map.tug]\n[map.tug.steer]\nvalue = \"switch\"\nbind.desk = \"key.KeyX\"\n\
               [map.quay.pull]\nvalue = \"switch\"\nbind.pad = \"pad.left-trigger\"\n\
               levels = { wake = 0.2, down = 0.7, up = 0.15 }\n\
               [map.quay.both]\nvalue = \"switch\"\nfire = \"sequence(quay.tug, quay.twice) within=1s\"\n";
    for (action, score, wanted) in [
        (
            "knot",
            "at 0.2s down key.KeyE\nat 0.5s open book",
            "0.2000 0.5000 lapse claimed: key.KeyE is claimed by book.read; it had been down 0.3 s of the 0.8 s that it takes",
        ),
        (
            "knot",
            "at 0.2s down key.KeyE\nat 0.5s open tug",
            "0.2000 0.5000 lapse map-off: its map quay closed as tug opened; it had been down 0.3 s of the 0.8 s that it takes",
        ),
        (
            "quay.tug",
            "at 0.2s press key.KeyE for 0.1s\nat 0.4s press key.KeyE for 0.1s",
            "0.2000 0.4000 lapse yielded: quay.twice had it from 0.4 s on",
        ),
        (
            "pull",
            "at 0.2s push pad.left-trigger to 0.5 over 0.1s\nat 1s release pad.left-trigger over 0.1s",
            "0.2400 1.0720 lapse too-light: it gave 0.5 at most, and is down from 0.7 on: 0.2 was missing",
        ),
        (
            "both",
            "at 0.2s press key.KeyE for 0.1s",
            "0.5000 1.5000 lapse gap: 1 of 2 steps: quay.twice had not fired within 1 s",
        ),
        (
            "both",
            "at 0.2s press key.KeyE for 0.1s\nat 0.7s press key.KeyE for 0.1s",
            "0.5000 1.0000 lapse out-of-order: quay.tug fired, and was not the next step",
        ),
    ] {
        let all = told(two, score, action);
        assert_eq!(all.first().map(String::as_str), Some(wanted), "{action}\n{score}");
    }
}

#[test]
fn a_press_in_vain_says_what_kept_it() {
    let profile = "[map.quay.walk]\nvalue = \"plane\"\nbind.pad = \"pad.left-stick | deadzone 0.1\"\n\
                   [map.quay.knot]\nvalue = \"switch\"\nbind.desk = \"key.KeyE\"\n\
                   [map.quay.bell]\nvalue = \"switch\"\nbind.desk = \"key.Control + key.KeyE\"\n\
                   [map.quay.oars]\nvalue = \"axis\"\nbind.desk = \"pair(key.KeyS, key.KeyW)\"\nfire = \"press\"\n\
                   [map.quay.gate]\nvalue = \"switch\"\nbind.pad = \"pad.left-trigger\"\n\
                   [map.book]\nkind = \"layer\"\n[map.book.read]\nvalue = \"switch\"\nbind.desk = \"key.KeyE\"\n\
                   claim = true\n[map.book.page]\nvalue = \"switch\"\nbind.desk = \"key.KeyX\"\n";
    for (action, score, wanted) in [
        (
            "walk",
            "at 0.2s push pad.left-stick to (0.09, 0) over 0.1s\nat 1s release pad.left-stick",
            "0.2040 1.0000 nothing pad.left-stick: 0.09 reached `deadzone 0.1`, which gives 0 up to 0.1: 0.01 is missing",
        ),
        (
            "gate",
            "at 0.2s push pad.left-trigger to 0.3 over 0.1s\nat 1s release pad.left-trigger",
            "0.2040 1.0000 nothing pad.left-trigger: it gives 0.3, and wakes from 0.55 on: 0.25 is missing",
        ),
        (
            "knot",
            "at 0.1s open book\nat 0.2s press key.KeyE for 0.1s",
            "0.2000 0.3000 nothing key.KeyE is claimed by book.read since 0.1 s",
        ),
        (
            "bell",
            "at 0.2s press key.KeyE for 0.1s",
            "0.2000 0.3000 nothing key.KeyE counts only while key.ControlLeft is held",
        ),
        (
            "bell",
            "at 0.2s press key.KeyE for 0.5s\nat 0.4s press key.ControlLeft for 0.5s",
            "0.2000 0.7000 nothing until 0.4 s key.KeyE counts only while key.ControlLeft is held; then key.KeyE was pressed before what has to be held with it: it has to be pressed anew",
        ),
        (
            "knot",
            "at 0.1s press key.ControlLeft for 0.5s\nat 0.2s press key.KeyE for 0.1s",
            "0.2000 0.3000 nothing key.KeyE belongs to quay.bell@desk#1 until it is let go",
        ),
        (
            "page",
            "at 0.2s press key.KeyX for 0.5s\nat 0.4s open book",
            "0.2000 0.7000 nothing its map book was closed until 0.4 s; then key.KeyX was already held at 0.4 s, when it might have begun to count: it has to be let go first",
        ),
        (
            "knot",
            "at 0.1s scheme pad\nat 0.2s press key.KeyE for 0.1s\nat 0.4s press key.KeyE for 0.1s",
            "0.2000 0.5000 nothing, 2× key.KeyE is pressed, but the game has narrowed the bindings to the scheme pad",
        ),
        (
            "oars",
            "at 0.2s press key.KeyX for 0.1s",
            "It never woke: none of its controls was pressed.",
        ),
    ] {
        let all = told(profile, score, action);
        assert_eq!(all.last().map(String::as_str), Some(wanted), "{action}\n{score}\n{all:#?}");
    }
}

#[test]
fn a_moment_has_every_station_with_its_number() {
    let folder = Folder::with_demo();
    let at = |action: &str, score: &str, at: &str| {
        folder.run(&["why", action, score, "--at", at]).expect_done()
    };
    let text = at("walk", "scores/drifting-stick.score", "1s");
    for part in ["deadzone 0.1 full=0.96", "curve 1.6", "pad#1 is the greatest", "down from 0.002"]
    {
        assert!(text.contains(part), "no `{part}` in\n{text}");
    }
    for (action, score, t, wanted) in [
        (
            "tie-knot",
            "tie-a-knot",
            "0.5s",
            "it is pending: held 0.3 s of 0.8 s, it fires at 1 s if it stays down.",
        ),
        (
            "tie-knot",
            "tie-a-knot",
            "1s",
            "quay.tie-knot fires at this very moment, by `hold 0.8s`, 0.8 s after it woke at 0.2 s.",
        ),
        (
            "tie-knot",
            "tie-a-knot",
            "2.35s",
            "ends at this very moment: too-short: held 0.75 s of 0.8 s: let go 0.05 s too early.",
        ),
        (
            "tie-knot",
            "tie-a-knot",
            "2.5s",
            "quay.tie-knot is at rest: none of its controls is pressed. Its last episode, 1.6 s to 2.35 s:",
        ),
        (
            "whistle",
            "steer-the-tug",
            "1.2s",
            "it is live: it fired at 1 s by `repeat 0.5s`, next at 1.5 s.",
        ),
        (
            "signal",
            "signal-in-time",
            "0.9s",
            "2 of 3 steps are done: tug.long-flash has to fire by 3.3 s.",
        ),
        (
            "uncover",
            "tap-or-double-tap",
            "0.4s",
            "it would have fired at 0.3 s, and waits until quay.douse has given up.",
        ),
        (
            "grab",
            "slow-trigger",
            "4.2s",
            "it is awake and gives 0.5, and is down from 0.85 on: 0.35 is missing.",
        ),
        ("walk", "open-the-log", "3.05s", "the game is paused since 3 s, and it has no in-pause"),
        ("tug.whistle", "quick-press", "0.3s", "its map tug was never opened."),
    ] {
        let score = format!("scores/{score}.score");
        let text = at(action, &score, t).split_whitespace().collect::<Vec<_>>().join(" ");
        assert!(text.contains(wanted), "{action} at {t}:\n{text}\nnot: {wanted}");
    }
    let json = folder.run(&["why", "tie-knot", "scores/tie-a-knot.score", "--format", "json"]);
    let lines = json.expect_done();
    assert_eq!(
        lines.lines().nth(2),
        Some(
            "{\"kind\":\"episode\",\"woke\":1.6,\"fires\":[],\"end\":2.35,\"cause\":\"too-short\",\
              \"why\":\"too-short: held 0.75 s of 0.8 s: let go 0.05 s too early\"}"
        )
    );
}

#[test]
fn pictures_need_nothing_else_and_hold_what_they_show() {
    let folder = Folder::with_demo();
    let plot = |form: &str| {
        let out = format!("a.{form}");
        folder.run(&["plot", "scores/cast-a-line.score", "-o", &out]).expect_done();
        std::fs::read(folder.path(&out)).unwrap()
    };
    let svg = String::from_utf8(plot("svg")).unwrap();
    assert!(svg.starts_with("<svg ") && svg.ends_with("</svg>\n"));
    assert!(!svg.contains("font-family") && !svg.contains("<text"), "texts are outlines");
    for label in ["too-short", "guard", "released", "cast-line", "pad.right-trigger", "1.5 s"] {
        assert!(svg.contains(&format!("aria-label=\"{label}\"")), "no {label}");
    }
    assert_eq!(plot("svg"), svg.as_bytes(), "the same again");
    assert_eq!(&plot("png")[1..4], b"PNG");
    let page = String::from_utf8(plot("html")).unwrap();
    for outside in ["http:", "https:", "src=", "<link", "@import"] {
        assert!(!page.contains(outside), "{outside}");
    }
    let data = page.split("id=\"run\">").nth(1).unwrap().split("</script>").next().unwrap();
    let run: serde_json::Value = serde_json::from_str(data).unwrap();
    let rows = run["rows"].as_array().unwrap();
    let own = rows.iter().find(|row| row["name"] == "quay.cast-line").unwrap();
    assert!(own["events"].as_array().unwrap().contains(&serde_json::json!([
        1.8,
        "lapse",
        "too-short"
    ])));
    let part = folder.run(&["plot", "scores/cast-a-line.score", "-o", "b.svg", "--from", "2s"]);
    part.expect_done();
    assert!(!folder.read("b.svg").contains("aria-label=\"too-short\""));
}

#[test]
fn a_curve_is_that_of_the_engine() {
    let folder = Folder::with_demo();
    let curve = |args: &[&str]| folder.run(&[&["curve"], args].concat()).expect_done();
    let text = curve(&["walk@pad#1"]);
    assert!(text.contains("up to 0.1 nothing comes of it"), "{text}");
    assert!(text.contains("1, from 0.96 on"), "{text}");
    assert!(text.contains("the same every way"), "{text}");
    // Without a dead zone of its length, the corners of the stick go further.
    folder.run(&["set", "preset.stick", "curve 1"]).expect_done();
    let text = curve(&["walk@pad#1"]);
    assert!(text.contains("1 straight, 1.414214 on the diagonal: 1.414 times as far"), "{text}");
    let text = curve(&["grab@pad", "--ascii"]);
    assert!(text.is_ascii() && text.contains("wakes from 0.3, is down from 0.85"), "{text}");
    let text = curve(&["gaze@pad", "--vary", "setting.gaze-speed.default=1,2", "--ascii"]);
    assert!(
        text.contains("greatest  220, at the end") && text.contains("440, at the end"),
        "{text}"
    );
    curve(&["walk", "-o", "walk.svg"]);
    let svg = folder.read("walk.svg");
    assert!(svg.contains("aria-label=\"diagonal 1.4142\""));
}

#[test]
fn runs_are_compared_at_two_rates_and_tried_over_a_range() {
    let folder = Folder::with_demo();
    let run = |args: &[&str]| folder.run(args).expect_done();
    let knot = "scores/tie-a-knot.score";
    assert_eq!(run(&["compare", knot, "--rates", "20,144"]), "nothing differs\n");
    let text =
        run(&["compare", "scores/steer-the-tug.score", "--rates", "20,144", "--tolerance", "1"]);
    assert!(!text.contains("its value differs"), "{text}");
    let svg = run(&["compare", knot, "--set", "tie-knot.fire.hold=0.7s", "-o", "c.svg"]);
    assert!(svg.contains("4 differences") && folder.read("c.svg").contains("aria-label=\"after\""));
    let text = run(&["sweep", knot, "--vary", "quay.tie-knot.fire.hold=0.7s..0.9s:2"]);
    let rows: Vec<Vec<&str>> = text
        .lines()
        .filter(|line| line.contains("0."))
        .skip(1)
        .map(|line| line.split_whitespace().filter(|word| !word.contains('█')).collect())
        .collect();
    assert_eq!(rows[0], ["0.7s", "3", "0.9000", "0", "released", "3"]);
    assert_eq!(rows[1], ["▸", "0.8s", "2", "1.0000", "1", "released", "2,", "too-short", "1"]);
    assert_eq!(rows[2], ["0.9s", "1", "1.1000", "2", "released", "1,", "too-short", "2"]);
    let rates = run(&["play", "scores/steer-the-tug.score", "--rates", "20,60"]);
    assert!(rates.contains("`while` fires at every tick"), "{rates}");
    assert!(rates.contains("Nothing else differs: 4 events of 1 action"), "{rates}");
    let rates = run(&["play", knot, "--rates", "20,60,144"]);
    assert!(rates.contains("Nothing differs: 8 events of 1 action"), "{rates}");
}

#[test]
fn what_cannot_be_drawn_or_tried_is_refused_with_what_to_write() {
    let folder = Folder::with_demo();
    std::fs::create_dir(folder.path("empty")).unwrap();
    let knot = "scores/tie-a-knot.score";
    for (args, parts) in [
        (&["why", "quay", knot][..], &["`quay` is a map", "name an action"][..]),
        (&["why", "knit", knot], &["knit"]),
        (&["why", "tie-knot", knot, "--at", "2"], &["`--at` cannot be `2`", "2.5s"]),
        (&["plot", knot, "-o", "a.gif"], &["a.gif says no form", ".svg or .png or .html"]),
        (&["plot", knot, "-o", "a.svg", "--from", "3s", "--to", "2s"], &["nothing from 3"]),
        (&["plot", "scores/none.score", "-o", "a.svg"], &["none.score"]),
        (&["curve", "walk@pad#9"], &["no such binding", "harmonym show quay.walk"]),
        (&["curve", "walk", "--vary", "preset.stick"], &["varies nothing", "--vary"]),
        (&["curve", "walk", "--vary", "preset.stik.curve=1,2"], &["stik"]),
        (&["compare", knot, "--rates", "20"], &["`--rates` cannot be `20`"]),
        (&["compare", knot, "--rates", "20,60,90"], &["takes two rates"]),
        (&["compare", knot, "--rates", "20,60", "--tolerance", "-1"], &["--tolerance"]),
        (&["play", knot, "--rates", "20,x"], &["`x`"]),
        (&["sweep", knot, "--vary", "quay.tie-knot.fire.hold"], &["it has no `=`"]),
        (&["sweep", knot, "--vary", "quay.tie-knot.fire.hold=1s"], &["it has no `..`"]),
        (&["sweep", knot, "--vary", "quay.tie-knot.fire.hold=1s..0.5s"], &["not the smaller"]),
        (&["sweep", knot, "--vary", "quay.tie-knot.fire.hold=1s..2s:1"], &["2 to 1000"]),
        (&["sweep", knot, "--vary", "quay.tie-knot.fire.hold=1..2"], &["unit"]),
        (&["sweep", "empty", "--vary", "quay.tie-knot.fire.hold=1s..2s"], &["no scores or takes"]),
    ] {
        let out = folder.run(args);
        let is_usage = args.contains(&"-1");
        if is_usage {
            assert_eq!(out.code, 2);
            continue;
        }
        out.expect_refused(parts);
    }
}

#[test]
fn faults_of_hands_are_told_at_their_place_and_nothing_is_written() {
    let folder = Folder::with_demo();
    folder.write("broken.score", "title \"x\"\nat 0.2s press key.KeyQQ for 1s\n");
    folder.write(
        "broken.take.jsonl",
        "{\"take\":1}\n{\"t\":1,\"control\":\"key.KeyW\",\"value\":1}\n\
         {\"t\":0.5,\"control\":\"key.KeyW\",\"value\":0}\n",
    );
    for file in ["broken.score", "broken.take.jsonl"] {
        let line = if file.ends_with("score") { "broken.score:2:" } else { "take.jsonl:3:" };
        for args in [
            &["why", "tie-knot", file][..],
            &["plot", file, "-o", "a.svg"],
            &["play", file, "--rates", "20,60"],
            &["compare", file, "--rates", "20,60", "-o", "a.svg"],
            &["sweep", file, "--vary", "quay.tie-knot.fire.hold=1s..2s:2", "-o", "a.svg"],
        ] {
            folder.run(args).expect_refused(&[line]);
            assert!(!folder.path("a.svg").exists(), "{args:?}");
        }
    }
    // A value that the profile can't take is told with its place, not with a picture of the rest.
    let out = folder.run(&[
        "sweep",
        "scores/tie-a-knot.score",
        "--vary",
        "quay.cast-line.levels.down=0.1..0.9:3",
    ]);
    let told = out.expect_done();
    let row = told.lines().find(|line| line.trim_start().starts_with("0.1 ")).expect("a row");
    assert!(row.contains("refused: wakes at 0.3, which is over its down level 0.1"), "{told}");
    // With nothing that can be tried it is refused.
    let all = "quay.cast-line.levels.down=0.05..0.1:2";
    let out = folder.run(&["sweep", "scores/tie-a-knot.score", "--vary", all]);
    out.expect_refused(&["harmonym.toml:"]);
}

#[test]
fn takes_and_their_scores_tell_the_same() {
    let folder = Folder::with_demo();
    let run = |args: &[&str]| folder.run(args).expect_done();
    for (score, action, at) in [
        ("tie-a-knot", "tie-knot", "2s"),
        ("ring-the-bell", "tie-knot", "0.6s"),
        ("drifting-stick", "quay.walk", "1.2s"),
        ("open-the-log", "turn-page", "1.3s"),
    ] {
        let path = format!("scores/{score}.score");
        let take = format!("{score}.take.jsonl");
        run(&["render", &path, "-o", &take]);
        assert_eq!(run(&["why", action, &path]), run(&["why", action, &take]), "{score}");
        let moment = |file: &str| run(&["why", action, file, "--at", at]);
        assert_eq!(moment(&path), moment(&take), "{score}");
        let rates = |file: &str| run(&["play", file, "--rates", "20,144"]);
        assert_eq!(rates(&path), rates(&take), "{score}");
        let plot = |file: &str, out: &str| {
            run(&["plot", file, "-o", out]);
            folder.read(out)
        };
        assert!(plot(&path, "a.svg") == plot(&take, "b.svg"), "{score} is drawn otherwise");
    }
}

#[test]
fn what_is_asked_for_by_name_is_drawn_though_nothing_happened() {
    let folder = Folder::with_demo();
    let knot = "scores/tie-a-knot.score";
    folder.run(&["plot", knot, "-o", "all.svg"]).expect_done();
    folder.run(&["plot", knot, "-o", "some.svg", "--only", "hail", "tug"]).expect_done();
    let (all, some) = (folder.read("all.svg"), folder.read("some.svg"));
    assert!(all.contains("\"tie-knot\"") && !all.contains("\"hail\""));
    assert!(some.contains("\"hail\"") && some.contains("\"rudder\""));
    assert!(!some.contains("\"tie-knot\""));
}

#[test]
fn a_sweep_as_json_has_a_line_for_each_value() {
    let folder = Folder::with_demo();
    let args = ["sweep", "scores", "--vary", "quay.tie-knot.fire.hold=0.7s..0.9s:3"];
    let json = folder.run(&[&args[..], &["--format", "json"]].concat()).expect_done();
    let lines: Vec<serde_json::Value> =
        json.lines().map(|line| serde_json::from_str(line).unwrap()).collect();
    assert_eq!(lines[0]["kind"], "sweep");
    assert_eq!(lines[0]["format"], 1);
    assert_eq!(lines.len(), 4);
    let present: Vec<&serde_json::Value> = lines.iter().filter(|l| l["present"] == true).collect();
    assert_eq!(present.len(), 1);
    assert_eq!(present[0]["value"], "0.8s");
    for line in &lines[1..] {
        assert_eq!(line["action"], "quay.tie-knot");
        let ends: u64 = line["causes"]
            .as_object()
            .unwrap()
            .values()
            .filter_map(serde_json::Value::as_u64)
            .sum();
        assert_eq!(Some(ends), line["wakes"].as_u64());
    }
    // Fewer fires, more lapses, the longer it has to be held.
    let count = |key: &str| -> Vec<u64> {
        lines[1..].iter().map(|line| line[key].as_u64().unwrap()).collect()
    };
    assert!(count("fires").windows(2).all(|pair| pair[0] >= pair[1]));
    assert!(count("lapses").windows(2).all(|pair| pair[0] <= pair[1]));
}
