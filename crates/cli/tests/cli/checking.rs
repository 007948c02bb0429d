//! `check`, from outside.

use crate::harness::{Folder, Outcome};
use serde_json::Value;
use std::io::{BufRead, BufReader};
use std::process::{Child, Command, Stdio};
use std::sync::mpsc::{Receiver, channel};
use std::time::Duration;

const CREEPS: &str = "harmonym = 1\n\n[scheme.pad]\ndevices = [\"pad\"]\n\n[map.quay]\nstart = true\n\n\
                      [map.quay.walk]\nvalue = \"plane\"\nbind.pad = [\n  \"pad.left-stick\",\n  \"pad.dpad | scale 1\",\n]\n";

fn harmonym(folder: &Folder, line: &str) -> Outcome {
    folder.shell(std::path::Path::new("."), line)
}

#[test]
fn the_demo_is_clean_and_every_rule_is_explained() {
    let folder = Folder::with_demo();
    let out = harmonym(&folder, "harmonym check --fail-on note").expect_done();
    assert_eq!(out, "harmonym.toml: no faults (5 maps, 25 actions, 54 bindings)\n");
    for rule in harmonym_lab::check::RULES {
        let page =
            harmonym(&folder, &format!("harmonym check --explain {}", rule.name)).expect_done();
        assert!(page.starts_with(&format!("{} ({})\n", rule.name, rule.level.word())), "{page}");
        assert_eq!(page.matches("  harmonym = 1\n").count(), 2, "{page}");
    }
    harmonym(&folder, "harmonym check --explain raw-sticks").expect_refused(&["raw-stick"]);
}

#[test]
fn findings_are_told_at_their_place_and_weigh_as_asked() {
    let folder = Folder::new();
    folder.write("harmonym.toml", CREEPS);
    let told = harmonym(&folder, "harmonym check");
    assert_eq!(told.code, 0, "{}", told.stderr);
    assert_eq!(
        told.stdout,
        "warning[raw-stick]: pad.left-stick reads up to 0.08 when nobody touches it, and quay.walk wakes from\n                    \
         0.002\n  \
           --> harmonym.toml:12:4\n   |\n12 |   \"pad.left-stick\",\n   |    ^^^^^^^^^^^^^^\n   |\n   \
           = help: leave out what is idle: `pad.left-stick | deadzone 0.1`\n\n\
         note[idle-step]: `scale` changes nothing: once as much is as much\n  \
           --> harmonym.toml:13:15\n   |\n13 |   \"pad.dpad | scale 1\",\n   |               ^^^^^\n   |\n   \
           = help: take `scale` out\n\n\
         1 idle-step, 1 raw-stick\n\
         harmonym.toml: no faults, 1 warning, 1 note (1 map, 1 action, 2 bindings)\n"
    );
    let only = harmonym(&folder, "harmonym check --only idle-step --fail-on note");
    assert!(only.code == 1 && !only.stdout.contains("raw-stick"), "{}", only.stdout);
    let level = harmonym(&folder, "harmonym check --level warning").expect_done();
    assert!(level.contains("raw-stick") && !level.contains("idle-step"), "{level}");
    harmonym(&folder, "harmonym check --only raw-stik").expect_refused(&["raw-stick"]);
    for (level, code) in [("note", 1), ("warning", 1), ("error", 0)] {
        assert_eq!(harmonym(&folder, &format!("harmonym check --fail-on {level}")).code, code);
    }
    let lines = harmonym(&folder, "harmonym check --format json").expect_done();
    assert_eq!(
        lines.lines().next(),
        Some(
            "{\"rule\":\"raw-stick\",\"level\":\"warning\",\"address\":\"quay.walk@pad#1\",\
             \"message\":\"pad.left-stick reads up to 0.08 when nobody touches it, and quay.walk wakes from 0.002\",\
             \"help\":\"leave out what is idle: `pad.left-stick | deadzone 0.1`\",\
             \"file\":\"harmonym.toml\",\"line\":12,\"column\":4,\"end_line\":12,\"end_column\":18}"
        )
    );
    folder.write(
        "harmonym.toml",
        CREEPS.replace("[map.quay]\n", "[map.quay]\nwaive = [\"raw-stick\", \"idle-step\"]\n"),
    );
    harmonym(&folder, "harmonym check --fail-on note").expect_done();
}

#[test]
fn sarif_names_rules_places_and_prints_that_stay() {
    let folder = Folder::new();
    let of = |text: &str| {
        folder.write("harmonym.toml", text);
        let out = harmonym(&folder, "harmonym check --format sarif").stdout;
        serde_json::from_str::<Value>(&out).unwrap_or_else(|error| panic!("{error}: {out}"))
    };
    let log = of(CREEPS);
    assert_eq!(log["version"], "2.1.0");
    let run = &log["runs"][0];
    let rules = run["tool"]["driver"]["rules"].as_array().unwrap();
    for rule in rules {
        for key in ["id", "shortDescription", "fullDescription", "help", "defaultConfiguration"] {
            assert!(rule.get(key).is_some(), "{rule} has no {key}");
        }
    }
    let result = &run["results"][0];
    let index = result["ruleIndex"].as_u64().unwrap() as usize;
    assert_eq!(rules[index]["id"], result["ruleId"]);
    let region = &result["locations"][0]["physicalLocation"]["region"];
    assert_eq!(region["startLine"], 12);
    let print =
        |log: &Value| log["runs"][0]["results"][0]["partialFingerprints"]["harmonym/v1"].clone();
    let moved = of(&CREEPS.replace("[scheme.pad]", "# One line more.\n[scheme.pad]"));
    assert_eq!(print(&moved), print(&log));
    let faulty = of("harmonym = 1\nmapp = 1\n");
    assert_eq!(faulty["runs"][0]["results"][0]["ruleId"], "unknown-key");
}

#[test]
fn what_can_be_mended_safely_is_mended_through_the_text() {
    let folder = Folder::new();
    folder.write("harmonym.toml", CREEPS);
    let dry = harmonym(&folder, "harmonym check --mend --dry-run");
    assert!(dry.stdout.contains("+  \"pad.left-stick | deadzone 0.1\","), "{}", dry.stdout);
    assert_eq!(folder.read("harmonym.toml"), CREEPS);
    let out = harmonym(&folder, "harmonym check --mend").expect_done();
    assert!(out.ends_with("harmonym.toml: no faults (1 map, 1 action, 2 bindings)\n"), "{out}");
    let mended = CREEPS
        .replace("pad.left-stick\"", "pad.left-stick | deadzone 0.1\"")
        .replace("pad.dpad | scale 1", "pad.dpad");
    assert_eq!(folder.read("harmonym.toml"), mended);
    let again = harmonym(&folder, "harmonym check --mend");
    assert!(again.stderr.contains("nothing that can be mended"), "{}", again.stderr);
}

#[test]
fn scores_are_checked_with_the_profile() {
    let folder = Folder::with_demo();
    folder.write("scores/wrong.score", "title \"Wrong\"\nat 1s press key.KeyT for 1s\nexpect tie-not fires\nexpect quay.walk = (2, 0) at 1s\n");
    folder.write(
        "scores/late.score",
        "title \"Late\"\nexpect quay.walk = (2, 0) at 1s\nexpect quay.hail fires\n",
    );
    let told = harmonym(&folder, "harmonym check");
    assert_eq!(told.code, 1, "{}", told.stderr);
    for part in [
        "error[unknown-name]",
        "scores/wrong.score:3:8",
        "error[never-holds]: quay.walk never gets there",
        "scores/late.score:2:1",
        "2 errors",
    ] {
        assert!(told.stdout.contains(part), "no {part} in {}", told.stdout);
    }
}

/// `check --watch` in a folder, ended when this is dropped.
struct Watching {
    child: Child,
    told: Receiver<String>,
}

impl Watching {
    fn begin(folder: &Folder) -> Self {
        let mut child = Command::new(env!("CARGO_BIN_EXE_harmonym"))
            .args(["check", "--watch"])
            .current_dir(folder.path("."))
            .stdout(Stdio::piped())
            .stderr(Stdio::null())
            .spawn()
            .unwrap();
        let (tell, told) = channel();
        let stdout = child.stdout.take().unwrap();
        std::thread::spawn(move || {
            let lines = BufReader::new(stdout).lines().map_while(Result::ok);
            lines.for_each(|line| drop(tell.send(line)));
        });
        Self { child, told }
    }

    /// The lines up to the one that has this part.
    fn until(&self, part: &str) -> String {
        let mut seen = String::new();
        while !seen.lines().last().is_some_and(|line| line.contains(part)) {
            let line = self.told.recv_timeout(Duration::from_secs(20));
            seen += &line.unwrap_or_else(|_| panic!("never told: {part}\n{seen}"));
            seen.push('\n');
        }
        seen
    }
}

impl Drop for Watching {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

#[test]
fn watching_tells_what_is_new() {
    let folder = Folder::new();
    folder.write("harmonym.toml", CREEPS);
    let watching = Watching::begin(&folder);
    watching.until("no faults, 1 warning, 1 note");
    folder.write("harmonym.toml", CREEPS.replace("scale 1\"", "flip | flip\""));
    let second = watching.until(" new, ");
    assert!(second.contains("1 new, 1 gone"), "{second}");
    assert!(second.contains("note[idle-step]: `flip` changes nothing"), "{second}");
    assert!(second.contains("still: harmonym.toml:12:"), "{second}");
}

#[test]
fn watching_follows_folders_that_come_and_links() {
    let folder = Folder::new();
    folder.write("real/mine.profile", CREEPS);
    std::os::unix::fs::symlink("real/mine.profile", folder.path("harmonym.toml")).unwrap();
    let watching = Watching::begin(&folder);
    watching.until("no faults, 1 warning, 1 note");
    folder.write("real/mine.profile", CREEPS.replace("scale 1\"", "flip | flip\""));
    watching.until("1 new, 1 gone");
    std::fs::create_dir(folder.path("scores")).unwrap();
    watching.until("0 new, 0 gone");
    folder.write("scores/first.score", "expect nothing fires\n");
    watching.until("1 error");
    folder.write("scores/deep/second.score", "expect nothing fires\n");
    watching.until("2 errors");
    folder.write("scores/deep/take.take.jsonl", "{\"take\":2}\n");
    watching.until("3 errors");
    std::fs::remove_dir_all(folder.path("scores")).unwrap();
    watching.until("no faults, 1 warning, 1 note");
}

#[test]
fn mending_a_rules_example_leaves_nothing_of_its_kind() {
    let mendable = ["fast-diagonal", "idle-step", "idle-waiver", "no-hysteresis", "raw-stick"];
    // What is the owner's to decide is left alone: a `while`, letters, settings and facts.
    let left = ["every-tick", "letters-as-places", "setting-kills", "scheme-gap"];
    for rule in mendable.into_iter().chain(left) {
        let folder = Folder::new();
        let faulty = std::path::Path::new(env!("CARGO_MANIFEST_DIR"))
            .join(format!("../../demo/faulty/{rule}.toml"));
        folder.write("harmonym.toml", std::fs::read(faulty).unwrap());
        let before = folder.read("harmonym.toml");
        let mended = harmonym(&folder, "harmonym check --mend --format json");
        let changed = folder.read("harmonym.toml") != before;
        assert_eq!(changed, mendable.contains(&rule), "{rule}: {}", mended.stderr);
        let left = mended.stdout.contains(&format!("\"rule\":\"{rule}\""));
        assert_eq!(left, !changed, "{rule}: {}", mended.stdout);
    }
}

#[test]
fn no_mend_changes_what_a_score_gives_or_deletes_what_is_the_owners() {
    let folder = Folder::new();
    let profile = format!("{CREEPS}[setting.spare]\ndefault = 1\n");
    folder.write("harmonym.toml", &profile);
    // Pushed that little, the keeper walks: a dead zone would end that.
    folder.write(
        "scores/stroll.score",
        "at 0.1s push pad.left-stick to (0.3, 0)\nat 0.5s release pad.left-stick\n\
         expect quay.walk = (0.3, 0) at 0.3s\n",
    );
    let out = harmonym(&folder, "harmonym check --mend");
    let left = "left alone: pad.left-stick reads up to 0.08 when nobody touches it, and quay.walk wakes \
                from 0.002 (scores/stroll.score would come out otherwise)";
    assert!(out.stderr.contains(left), "{}", out.stderr);
    let now = folder.read("harmonym.toml");
    assert_eq!(now, profile.replace("pad.dpad | scale 1", "pad.dpad"));
    harmonym(&folder, "harmonym test").expect_done();
}

#[test]
fn claims_layers_and_always_maps_decide_what_meets() {
    let head = "harmonym = 1\n[scheme.desk]\ndevices = [\"key\"]\n[map.quay]\nstart = true\n\
                [map.quay.hail]\nvalue = \"switch\"\nbind.desk = \"key.KeyH\"\n";
    for (rest, rules) in [
        // Another solo map is never open with it.
        (
            "[map.tug]\n[map.tug.whistle]\nvalue = \"switch\"\nbind.desk = \"key.KeyH\"\n",
            &["never-opens"][..],
        ),
        // A layer claims what it binds.
        (
            "[map.book]\nkind = \"layer\"\nstart = true\n[map.book.read]\nvalue = \"switch\"\nbind.desk = \"key.KeyH\"\n",
            &[],
        ),
        (
            "[map.book]\nkind = \"layer\"\nstart = true\n[map.book.read]\nvalue = \"switch\"\nbind.desk = \"key.KeyH\"\nclaim = false\n",
            &["double-fire"],
        ),
        // What is always open claims nothing unless it says so.
        (
            "[map.harbour]\nkind = \"always\"\n[map.harbour.ring]\nvalue = \"switch\"\nbind.desk = \"key.KeyH\"\n",
            &["double-fire"],
        ),
        (
            "[map.harbour]\nkind = \"always\"\n[map.harbour.ring]\nvalue = \"switch\"\nbind.desk = \"key.KeyH\"\nclaim = true\n",
            &["unreachable"],
        ),
        // Under the solo map it is the one that is kept out.
        (
            "[map.harbour]\nkind = \"always\"\nrank = -5\n[map.harbour.ring]\nvalue = \"switch\"\nbind.desk = \"key.KeyH\"\n",
            &[],
        ),
        (
            "[map.tug]\nalso = [\"quay.hail\"]\nkind = \"layer\"\nstart = true\n[map.tug.whistle]\nvalue = \"switch\"\nbind.desk = \"key.KeyH\"\n",
            &["double-fire"],
        ),
    ] {
        let folder = Folder::new();
        folder.write("harmonym.toml", format!("{head}{rest}"));
        let out = harmonym(&folder, "harmonym check --format json").expect_done();
        let lines = out.lines().map(|line| serde_json::from_str::<Value>(line).unwrap());
        let told: Vec<String> =
            lines.map(|line| line["rule"].as_str().unwrap().to_owned()).collect();
        assert_eq!(told, rules, "{rest}");
    }
}

#[test]
fn a_map_that_a_take_opens_is_opened() {
    let folder = Folder::new();
    folder.write(
        "harmonym.toml",
        "harmonym = 1\nscheme.desk.devices = [\"key\"]\n[map.quay]\nstart = true\n[map.quay.hail]\n\
         value = \"switch\"\nbind.desk = \"key.KeyH\"\n[map.book]\nkind = \"layer\"\n[map.book.read]\n\
         value = \"switch\"\nbind.desk = \"key.KeyR\"\n",
    );
    let told = || harmonym(&folder, "harmonym check --only never-opens").expect_done();
    assert!(told().contains("nothing opens the map book"), "{}", told());
    folder.write("scores/a.take.jsonl", "{\"take\":1}\n{\"t\":0.5,\"open\":\"book\"}\n");
    assert!(!told().contains("nothing opens"), "{}", told());
}

#[test]
fn a_menu_that_one_scheme_cannot_leave_is_told_by_what_scores_do() {
    let folder = Folder::new();
    folder.write(
        "harmonym.toml",
        "harmonym = 1\nscheme.desk.devices = [\"key\"]\nscheme.pad.devices = [\"pad\"]\n[map.quay]\n\
         start = true\n[map.quay.look-up]\nvalue = \"switch\"\nbind.desk = \"key.KeyL\"\n\
         bind.pad = \"pad.select\"\n[map.book]\nkind = \"layer\"\n[map.book.shut]\nvalue = \"switch\"\n\
         bind.desk = \"key.Escape\"\n",
    );
    folder.write("scores/a.score", "at 0.1s press key.KeyL for 0.1s\nat 0.11s open book\n");
    let told = harmonym(&folder, "harmonym check --only no-way-out").expect_done();
    assert!(told.contains("in pad, quay.look-up opens book, and no switch of that is"), "{told}");
    folder.write("scores/a.score", "at 0.5s press key.KeyL for 0.1s\nat 0.11s open book\n");
    let told = harmonym(&folder, "harmonym check --only no-way-out").expect_done();
    assert!(!told.contains("no-way-out"), "{told}");
}
