//! The commands that change a profile, on files.

use crate::harness::{Folder, Outcome};
use std::fs;
use std::path::Path;
use std::process::{Command, Stdio};

fn harmonym(folder: &Folder, line: &str) -> Outcome {
    folder.shell(Path::new("."), line)
}

/// From an empty folder to a game of three maps and three schemes by commands alone.
const GAME: &[&str] = &[
    "harmonym new",
    "harmonym unbind quay.ring@pad",
    "harmonym add scheme slate --device touch --about 'A touch screen'",
    "harmonym add map tug --about 'At the wheel of the tug'",
    "harmonym add action tug.engine --value axis --about 'Ahead and astern'",
    "harmonym bind tug.engine 'pair(key.KeyS, key.KeyW)' 'pair(pad.left-trigger, pad.right-trigger)'",
    "harmonym bind engine 'touch.drag | pick y | scale -20'",
    "harmonym add action tug.whistle --value switch --fire 'repeat 0.4s'",
    "harmonym bind whistle key.KeyH pad.west touch.down",
    "harmonym set tug.whistle.fire.repeat 0.5s",
    "harmonym set whistle.fire.repeat.after 0.8s",
    "harmonym add setting gaze-speed --default 1 --range 0.2 4",
    "harmonym add preset eased 'ease rise=4/s'",
    "harmonym set tug.engine.shape '@eased | scale gaze-speed'",
    "harmonym add map menu --starter menu --kind layer",
    "harmonym rename setting.gaze-speed engine-power",
    "harmonym copy tug.whistle bell",
    "harmonym set tug.bell@desk#1 key.KeyB",
    "harmonym unbind tug.bell@pad",
    "harmonym tidy",
];

#[test]
fn a_game_is_written_by_commands_alone() {
    let folder = Folder::new();
    for line in GAME {
        let outcome = harmonym(&folder, line);
        assert_eq!(outcome.code, 0, "{line}\n{}", outcome.stderr);
    }
    harmonym(&folder, "harmonym check").expect_done();
    let text = folder.read("harmonym.toml");
    let wanted = "\
[map.tug]
about = \"At the wheel of the tug\"

[map.tug.engine]
value = \"axis\"
about = \"Ahead and astern\"
bind.desk = \"pair(key.KeyS, key.KeyW)\"
bind.pad = \"pair(pad.left-trigger, pad.right-trigger)\"
bind.slate = \"touch.drag | pick y | scale -20\"
shape = \"@eased | scale engine-power\"

[map.tug.whistle]
value = \"switch\"
bind.desk = \"key.KeyH\"
bind.pad = \"pad.west\"
bind.slate = \"touch.down\"
fire = \"repeat 0.5s after=0.8s\"

[map.tug.bell]
value = \"switch\"
bind.desk = \"key.KeyB\"
bind.slate = \"touch.down\"
fire = \"repeat 0.5s after=0.8s\"

[map.menu]
about = \"Something to choose from lies on the screen\"
kind = \"layer\"
in-pause = true
";
    assert!(text.contains(wanted), "{text}");
    assert!(text.contains("# A plane fires `while`"), "comments stay: {text}");
    harmonym(&folder, "harmonym tidy --check").expect_done();
}

#[test]
fn renaming_goes_through_the_scores_too() {
    let folder = Folder::with_demo();
    for line in [
        "harmonym rename quay pier",
        "harmonym rename pier.tie-knot make-fast",
        "harmonym rename scheme.pad gamepad",
        "harmonym rename device.bench museum",
        "harmonym rename fact.cab-angle cab-heading",
        "harmonym rename tug.short-flash blink",
    ] {
        harmonym(&folder, line).expect_done();
        harmonym(&folder, "harmonym test -q").expect_done();
    }
    let all: String = fs::read_dir(folder.path("scores"))
        .unwrap()
        .map(|entry| fs::read_to_string(entry.unwrap().path()).unwrap())
        .collect();
    for gone in ["quay.", "tie-knot", "expect scheme pad ", "cab-angle", "short-flash"] {
        assert!(!all.contains(gone), "{gone}");
        assert!(!folder.read("harmonym.toml").contains(&format!("{gone}=")), "{gone}");
    }
}

#[test]
fn what_would_be_faulty_is_refused_and_the_file_is_as_it_was() {
    let folder = Folder::with_demo();
    let before = folder.read("harmonym.toml");
    for (line, parts) in [
        (
            "harmonym set quay.tie-knot.fire 'hold 0.8'",
            &["the command line:1:", "hold 0.8", "unit"][..],
        ),
        ("harmonym bind quay.walk key.KeyX", &["the command line", "plane"]),
        ("harmonym bind quay.hail key.Nope", &["key.Nope", "did you mean"]),
        ("harmonym bind quay.hail 'key.KeyX +'", &["the command line:1:", "help"]),
        ("harmonym bind quay.hail 'key.KeyX' --scheme pad", &["the command line:1:", "pad"]),
        (
            "harmonym remove quay.hail",
            &["scores or takes behind", "scores/quick-press.score:", "--force"],
        ),
        ("harmonym remove preset.stick", &["still name", "harmonym.toml:", "--force"]),
        ("harmonym add action quay.Hail_Back --value switch", &["not a name", "hail-back"]),
        ("harmonym add map dock --starter boats", &["no starter `boats`", "the starters are"]),
        ("harmonym set quay.walk.levels.down 1e9", &["the command line", "at most"]),
        ("harmonym listen quay.hail", &["no terminal", "harmonym bind quay.hail"]),
        ("harmonym import nothing.csv", &["nothing.csv", "does not exist"]),
        ("harmonym uses pad.nort", &["no control `pad.nort`", "pad.north"]),
    ] {
        harmonym(&folder, line).expect_refused(parts);
        assert_eq!(folder.read("harmonym.toml"), before, "{line}");
    }
    folder.write("broken.toml", "harmonym = 1\n[map.quay.walk]\nvalue = \"plain\"\n");
    harmonym(&folder, "harmonym --file broken.toml add map tug").expect_refused(&[
        "has faults already",
        "broken.toml:3:",
        "plane",
    ]);
    let dry = harmonym(&folder, "harmonym set quay.tie-knot.fire.hold 0.6s --dry-run");
    assert!(dry.expect_done().contains("+fire = \"hold 0.6s\""));
    assert_eq!(folder.read("harmonym.toml"), before);
}

#[cfg(unix)]
#[test]
fn links_and_permissions_stay_and_read_only_files_are_left_alone() {
    use std::os::unix::fs::{PermissionsExt, symlink};
    let folder = Folder::with_demo();
    fs::create_dir(folder.path("game")).unwrap();
    fs::rename(folder.path("harmonym.toml"), folder.path("game/real.toml")).unwrap();
    fs::set_permissions(folder.path("game/real.toml"), fs::Permissions::from_mode(0o640)).unwrap();
    symlink("game/real.toml", folder.path("harmonym.toml")).unwrap();
    harmonym(&folder, "harmonym add map attic").expect_done();
    assert!(folder.path("harmonym.toml").is_symlink());
    assert!(folder.read("game/real.toml").contains("[map.attic]"));
    let about = fs::metadata(folder.path("game/real.toml")).unwrap();
    assert_eq!(about.permissions().mode() & 0o777, 0o640);
    fs::set_permissions(folder.path("game/real.toml"), fs::Permissions::from_mode(0o444)).unwrap();
    harmonym(&folder, "harmonym add map cellar").expect_refused(&["read-only", "nothing was"]);
    assert!(!folder.read("game/real.toml").contains("cellar"));
    let left: Vec<_> = fs::read_dir(folder.path("game")).unwrap().collect();
    assert_eq!(left.len(), 2, "a file is left beside the profile and its journal: {left:?}");
}

#[test]
fn commands_at_once_wait_for_each_other() {
    let folder = Folder::with_demo();
    let run = |name: &str| {
        Command::new(env!("CARGO_BIN_EXE_harmonym"))
            .args(["add", "map", name])
            .current_dir(folder.path("."))
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .spawn()
            .unwrap()
    };
    let names: Vec<String> = (0..12).map(|i| format!("deck-{i}")).collect();
    let all: Vec<_> = names.iter().map(|name| run(name)).collect();
    let done = all.into_iter().map(|mut child| child.wait().unwrap().success());
    let text_has = |name: &String| folder.read("harmonym.toml").contains(&format!("[map.{name}]"));
    let done: Vec<bool> = done.collect();
    for (name, done) in names.iter().zip(done) {
        assert_eq!(done, text_has(name), "{name}");
    }
    harmonym(&folder, "harmonym check").expect_done();
}

#[cfg(unix)]
#[test]
fn a_command_that_is_killed_leaves_the_old_file_or_the_new_one() {
    let folder = Folder::with_demo();
    for round in 0..60_u64 {
        let mut child = Command::new(env!("CARGO_BIN_EXE_harmonym"))
            .args(["set", "quay.tie-knot.fire.hold", &format!("0.{}s", 10 + round)])
            .current_dir(folder.path("."))
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .spawn()
            .unwrap();
        std::thread::sleep(std::time::Duration::from_micros(round * 150));
        let _ = child.kill();
        child.wait().unwrap();
        harmonym(&folder, "harmonym check -q").expect_done();
    }
    harmonym(&folder, "harmonym add map attic").expect_done();
    let left = fs::read_dir(folder.path(".")).unwrap().count();
    assert_eq!(left, 4, "the profile, its journal and the scores, no temporary file");
    // What a killed command wrote is taken back, what it only noted is left out.
    while !harmonym(&folder, "harmonym undo --list").expect_done().is_empty() {
        harmonym(&folder, "harmonym undo").expect_done();
    }
    assert_eq!(folder.read("harmonym.toml"), Folder::with_demo().read("harmonym.toml"));
}

#[test]
fn rows_go_out_and_come_in_again() {
    let folder = Folder::with_demo();
    let before = folder.read("harmonym.toml");
    harmonym(&folder, "harmonym export actions.csv").expect_done();
    let again = harmonym(&folder, "harmonym import actions.csv");
    assert!(again.stderr.contains("nothing changes"), "{}", again.stderr);
    assert_eq!(folder.read("harmonym.toml"), before);
    // Into an empty profile, as hard-coded checks are moved: maps and schemes come of themselves.
    fs::create_dir(folder.path("new")).unwrap();
    folder.write("new/harmonym.toml", "harmonym = 1\n");
    folder.write(
        "new/table.csv",
        "\u{feff}Map;Action;Value;Scheme;Binding;Fire;About\r\nQuay;Hail;switch;desk;key.KeyH;;Call out\r\n\
         quay;hail;;pad;pad.north;;\r\n;;;;;;\r\nquay;wave;switch;desk;key.Nope;;\r\nquay;bow;;;;;\r\n",
    );
    let outcome = harmonym(&folder, "cd new && harmonym import table.csv");
    assert_eq!(outcome.code, 1, "{}", outcome.stderr);
    for part in [
        "table.csv:2: added map.quay, quay.hail, scheme.desk, quay.hail@desk#1",
        "table.csv:3: added scheme.pad, quay.hail@pad#1",
        "table.csv:5: refused quay.wave: there is no control `key.Nope`",
        "table.csv:6: refused quay.bow: the new action `quay.bow` has no value",
    ] {
        assert!(outcome.stderr.contains(part), "no {part} in {}", outcome.stderr);
    }
    assert_eq!(
        folder.read("new/harmonym.toml"),
        "harmonym = 1\n\n[scheme.desk]\ndevices = [\"key\"]\n\n[scheme.pad]\ndevices = [\"pad\"]\n\n\
         [map.quay]\nstart = true\n\n[map.quay.hail]\nvalue = \"switch\"\nabout = \"Call out\"\n\
         bind.desk = \"key.KeyH\"\nbind.pad = \"pad.north\"\n"
    );
}

#[test]
fn every_starter_is_sound_and_its_scores_hold() {
    for starter in ["blank", "quay", "menu", "stair", "geese", "diver", "sled"] {
        let folder = Folder::new();
        harmonym(&folder, &format!("harmonym new --starter {starter}")).expect_done();
        harmonym(&folder, "harmonym check && harmonym test && harmonym tidy --check").expect_done();
        // Its map in another game, of which it takes the schemes.
        if !["quay", "blank"].contains(&starter) {
            let other = Folder::new();
            harmonym(&other, "harmonym new").expect_done();
            let added = harmonym(&other, &format!("harmonym add map extra --starter {starter}"));
            assert!(added.expect_done().contains("+[map.extra]"));
        }
    }
}

#[test]
fn lists_come_as_lines_of_json_too() {
    let folder = Folder::with_demo();
    for (line, kinds) in [
        (
            "show",
            &["show", "scheme", "setting", "fact", "preset", "device", "map", "action", "binding"]
                [..],
        ),
        ("show quay", &["show", "map", "action", "binding"]),
        ("show quay.walk", &["show", "action", "binding", "after"]),
        ("uses key.KeyT", &["uses", "use"]),
        ("controls wheel", &["controls", "control"]),
    ] {
        let out = harmonym(&folder, &format!("harmonym {line} --format json")).expect_done();
        let lines: Vec<serde_json::Value> =
            out.lines().map(|line| serde_json::from_str(line).unwrap()).collect();
        for kind in kinds {
            assert!(lines.iter().any(|line| line["kind"] == *kind), "{line}: no {kind}");
        }
        assert!(lines.iter().all(|line| kinds.contains(&line["kind"].as_str().unwrap())), "{out}");
    }
    let out = harmonym(&folder, "harmonym uses key.KeyT").expect_done();
    assert!(out.contains("harbour.ring-bell") && out.contains("with another held"));
    let out = harmonym(&folder, "harmonym controls bottom button").expect_done();
    assert!(
        out.lines()
            .nth(1)
            .is_some_and(|line| line.contains("pad.south") && line.contains("quay.uncover"))
    );
}

#[test]
fn each_kind_of_thing_is_added_where_its_kind_stands() {
    let head = "harmonym = 1\n\n[scheme.desk]\ndevices = [\"key\"]\n\n[map.quay]\nstart = true\n";
    for (line, added, before) in [
        (
            "add scheme slate --device touch --about 'On a slate'",
            "[scheme.slate]\ndevices = [\"touch\"]\nabout = \"On a slate\"\n\n",
            "[map.quay]",
        ),
        (
            "add device bench --control ahead=axis pedal=button",
            "[device.bench]\ncontrols = { ahead = \"axis\", pedal = \"button\" }\n\n",
            "[map.quay]",
        ),
        (
            "add setting pace --default 1.5 --range 0.5 2 --about \"How \\\"fast\\\"\"",
            "[setting.pace]\ndefault = 1.5\nrange = [0.5, 2]\nabout = \"How \\\"fast\\\"\"\n\n",
            "[map.quay]",
        ),
        ("add setting turned --default on", "[setting.turned]\ndefault = true\n\n", "[map.quay]"),
        (
            "add fact depth --default -2 --unit s",
            "[fact.depth]\nunit = \"s\"\ndefault = -2\n\n",
            "[map.quay]",
        ),
        (
            "add preset stick 'deadzone 0.1 | curve 2'",
            "[preset]\nstick = \"deadzone 0.1 | curve 2\"\n\n",
            "[map.quay]",
        ),
        (
            "add map book --kind layer --rank 12 --start",
            "\n[map.book]\nkind = \"layer\"\nrank = 12\nstart = true\n",
            "",
        ),
        (
            "add action quay.hail --value switch --fire 'tap 0.2s' --about Hail",
            "\n[map.quay.hail]\nvalue = \"switch\"\nabout = \"Hail\"\nfire = \"tap 0.2s\"\n",
            "",
        ),
    ] {
        let folder = Folder::new();
        folder.write("harmonym.toml", head);
        let outcome = harmonym(&folder, &format!("harmonym {line}"));
        assert_eq!(outcome.code, 0, "{line}: {}", outcome.stderr);
        let wanted = match before {
            "" => format!("{head}{added}"),
            before => head.replace(before, &format!("{added}{before}")),
        };
        assert_eq!(folder.read("harmonym.toml"), wanted, "{line}");
        assert!(outcome.stdout.starts_with("--- harmonym.toml\n+++ harmonym.toml\n@@ "));
        // The same again is taken already.
        harmonym(&folder, &format!("harmonym {line}")).expect_refused(&["already"]);
    }
    let folder = Folder::new();
    folder.write("harmonym.toml", head);
    for (line, parts) in [
        ("add setting pace --default quick", &["`default` is a number", "0.5"][..]),
        ("add setting length --default 1", &["the command line", "length"]),
        ("add device bench --control ahead", &["what kind of control", "ahead=button"]),
        ("add device bench --control ahead=wheel", &["the command line", "wheel"]),
        ("add scheme pad --device pod", &["the command line", "pod"]),
        ("add preset stick 'deadzoon 0.1'", &["the command line", "deadzone"]),
        ("add action hail --value switch", &["which map", "quay.hail"]),
        ("add action quay.hail --value toggle", &["the command line", "is a step"]),
        ("add map quay", &["already"]),
    ] {
        harmonym(&folder, &format!("harmonym {line}")).expect_refused(parts);
        assert_eq!(folder.read("harmonym.toml"), head, "{line}");
    }
}

#[test]
fn a_bad_word_is_told_as_a_word_of_the_command_line() {
    let folder = Folder::with_demo();
    let before = folder.read("harmonym.toml");
    for (line, word) in [
        ("bind quay.hail key.Foo", "key.Foo"),
        ("bind quay.hail 'pad.south | bogus'", "pad.south | bogus"),
        ("bind quay.walk key.KeyW", "key.KeyW"),
        ("set quay.tie-knot.fire hodl 1s", "hodl 1s"),
        ("set quay.tie-knot.fire.hold abc", "abc"),
        ("set scheme.pad.devices pda", "pda"),
        ("add action quay.x --value swich", "swich"),
        ("add action quay.x --value switch --fire='hodl 2s'", "hodl 2s"),
        ("add device quux --control a=knob", "knob"),
        ("add preset foo bogus", "bogus"),
        ("compare scores/tie-a-knot.score --set quay.tie-knot.fire.hold=abc", "abc"),
    ] {
        let told = folder.shell(Path::new("."), &format!("harmonym {line}"));
        assert!(!told.stderr.contains("harmonym.toml"), "{line}: {}", told.stderr);
        let place = " --> the command line:1:";
        told.expect_refused(&[place, &format!("\n1 | {word}\n")]);
        assert_eq!(folder.read("harmonym.toml"), before);
    }
    // What the word is not to blame for is told where it stands.
    let told = folder.run(&["set", "quay.hail.value", "plane"]);
    told.expect_refused(&["would make the profile faulty", "harmonym.toml:"]);
}

#[test]
fn a_device_goes_with_all_that_only_it_is_for() {
    let folder = Folder::with_demo();
    for device in ["slate", "bench"] {
        let address = format!("device.{device}");
        folder.run(&["remove", &address]).expect_refused(&["--force"]);
        folder.run(&["remove", &address, "--force"]).expect_done();
        folder.run(&["show"]).expect_done();
        assert!(!folder.read("harmonym.toml").contains(&format!("\"{device}\"")));
    }
    // A scheme that had nothing else is gone, one with another device stays.
    let text = folder.read("harmonym.toml");
    assert!(!text.contains("[scheme.levers]") && text.contains("[scheme.slate]"), "{text}");
}
