//! What is written, and what must not be: outputs beside files of others, changes of several files,
//! whoever reads what is told.

use crate::harness::{Folder, Outcome};
use std::collections::BTreeMap;
use std::fs;
use std::os::unix::fs::{MetadataExt, PermissionsExt, symlink};
use std::path::Path;
use std::process::{Command, Stdio};
use std::time::Duration;

fn harmonym(folder: &Folder, line: &str) -> Outcome {
    folder.shell(Path::new("."), &format!("harmonym {line}"))
}

/// Every file below a folder, with what it holds.
fn files(folder: &Folder) -> BTreeMap<String, Vec<u8>> {
    fn add(top: &Path, at: &Path, all: &mut BTreeMap<String, Vec<u8>>) {
        for entry in fs::read_dir(at).unwrap().flatten() {
            let path = entry.path();
            if path.is_dir() {
                add(top, &path, all);
            } else if path.is_file() {
                let name = path.strip_prefix(top).unwrap().display().to_string();
                all.insert(name, fs::read(&path).unwrap());
            }
        }
    }
    let mut all = BTreeMap::new();
    add(&folder.path("."), &folder.path("."), &mut all);
    all
}

#[test]
fn an_output_takes_no_file_that_is_not_its_own() {
    let folder = Folder::with_demo();
    folder.write("budget.csv", "name,price\nlamp oil,3\n").write("notes.svg", "Lamps, by mole.\n");
    folder.write("empty.csv", "");
    symlink("harmonym.toml", folder.path("table.csv")).unwrap();
    fs::hard_link(folder.path("scores/quick-press.score"), folder.path("same.take.jsonl")).unwrap();
    let before = files(&folder);
    let score = "scores/quick-press.score";
    for (line, parts) in [
        ("export harmonym.toml", &["harmonym.toml is what is read here"][..]),
        ("export harmonym.toml --force", &["harmonym.toml is what is read here"]),
        ("export table.csv", &["table.csv is what is read here"]),
        ("export scores/quick-press.score", &["the name of a score", "--force"]),
        ("export new.toml", &["new.toml is the name of a profile", "end it in .csv"]),
        ("export budget.csv", &["is there already, and is not a table of actions", "--force"]),
        ("export scores", &["scores is a folder"]),
        ("render {} -o {}", &["is what is read here"]),
        ("render {} -o harmonym.toml", &["harmonym.toml is what is read here"]),
        ("render {} -o scores/ring-the-bell.score", &["the name of a score"]),
        ("render {} -o budget.csv", &["is not a take"]),
        ("plot {} -o notes.svg", &["notes.svg is there already, and is not an SVG picture"]),
        ("curve quay.walk -o notes.svg", &["is not an SVG picture"]),
        ("compare {} --rates 20,60 -o notes.svg", &["is not an SVG picture"]),
        ("sweep {} --vary quay.tie-knot.fire.hold=0.5s..1s:2 -o notes.svg", &["not an SVG"]),
    ] {
        harmonym(&folder, &line.replace("{}", score)).expect_refused(parts);
        assert_eq!(files(&folder), before, "{line}");
    }
    // What is empty, what is forced, and what is a table already is written.
    harmonym(&folder, "export empty.csv").expect_done();
    harmonym(&folder, "export empty.csv").expect_done();
    harmonym(&folder, "export budget.csv --force").expect_done();
    assert_eq!(folder.read("empty.csv"), folder.read("budget.csv"));
    harmonym(&folder, "plot scores/quick-press.score -o notes.svg --force").expect_done();
    assert!(folder.read("notes.svg").starts_with("<svg"));
}

#[test]
fn an_output_goes_into_what_is_no_file_and_leaves_it_there() {
    let folder = Folder::with_demo();
    let table = harmonym(&folder, "export").expect_done();
    let kind = |name: &str| fs::metadata(folder.path(name)).unwrap().mode() & 0o170_000;
    for (line, output) in [
        ("echo first >log; harmonym export /dev/stdout >>log; cat log", format!("first\n{table}")),
        ("harmonym export /dev/stdout | cat", table.clone()),
        ("harmonym export /dev/fd/3 3>out; cat out", table.clone()),
        ("echo first >out; harmonym export /dev/fd/3 3>>out; cat out", format!("first\n{table}")),
        ("mkfifo pipe; cat pipe >out & harmonym export pipe; wait; cat out", table.clone()),
        ("ln -s later.csv link.csv; harmonym export link.csv; cat later.csv", table.clone()),
        ("harmonym export /dev/null; echo done", "done\n".to_owned()),
        ("bash -c 'harmonym export >(cat >out); sleep 0.3; cat out'", table.clone()),
    ] {
        let outcome = folder.shell(Path::new("."), line);
        assert_eq!(outcome.expect_done(), output, "{line}");
    }
    assert_eq!(kind("pipe"), 0o010_000);
    assert!(fs::symlink_metadata(folder.path("link.csv")).unwrap().is_symlink());
    assert!(!fs::metadata("/dev/null").unwrap().is_file());
    harmonym(&folder, "export /dev/full").expect_refused(&["cannot write /dev/full"]);
}

#[test]
fn a_change_is_written_whoever_reads_what_is_told_of_it() {
    let folder = Folder::with_demo();
    let line = "harmonym rename quay.walk stroll | head -1 >/dev/null";
    folder.shell(Path::new("."), line).expect_done();
    assert!(folder.read("harmonym.toml").contains("[map.quay.stroll]"));
    assert!(folder.read("scores/straight-diagonal.score").contains("stroll"));
    harmonym(&folder, "set quay.hail.about Ahoy >/dev/full")
        .expect_refused(&["set quay.hail.about in harmonym.toml", "cannot write the output"]);
    assert!(folder.read("harmonym.toml").contains("about = \"Ahoy\""));
    let line = "harmonym undo >&-; harmonym undo 2>&-";
    folder.shell(Path::new("."), line);
    assert!(folder.read("harmonym.toml").contains("[map.quay.walk]"));
}

#[test]
fn one_file_that_is_refused_leaves_all_as_they_were() {
    let folder = Folder::with_demo();
    let last = folder.path("scores/tie-a-knot.score");
    fs::set_permissions(&last, fs::Permissions::from_mode(0o444)).unwrap();
    let before = files(&folder);
    for line in
        ["rename quay.tie-knot knot", "remove quay.tie-knot --force", "rename map.quay pier"]
    {
        let parts = ["tie-a-knot.score is read-only", "nothing was written"];
        harmonym(&folder, line).expect_refused(&parts);
        assert_eq!(files(&folder), before, "{line}");
    }
    fs::set_permissions(&last, fs::Permissions::from_mode(0o644)).unwrap();
    harmonym(&folder, "rename quay.tie-knot knot").expect_done();
    let done = files(&folder);
    fs::set_permissions(&last, fs::Permissions::from_mode(0o444)).unwrap();
    harmonym(&folder, "undo").expect_refused(&["tie-a-knot.score is read-only"]);
    assert_eq!(files(&folder), done);
}

#[test]
fn scores_and_takes_are_reached_wherever_they_lie() {
    let folder = Folder::with_demo();
    let score = "at 0s open tug\nat 1s press key.KeyH for 0.1s\nexpect quay.hail fires once\n";
    let take = "{\"take\":1,\"start\":\"quay\"}\n{\"t\":0.5,\"setting\":\"gaze-speed\",\"value\":2}\n\
                {\"t\":1,\"open\":\"tug\"}\n{\"t\":2,\"scheme\":\"pad\"}\n";
    folder.write("beside.score", score).write("scores/deep/down/far.score", score);
    folder.write("takes/one.take.jsonl", take).write("beside.take.jsonl", take);
    folder.write("other/harmonym.toml", "").write("other/own.score", score);
    folder.write("log.jsonl", "{\"open\":\"tug\"}\n").write("target/made.score", score);
    let before = files(&folder);
    harmonym(&folder, "rename map.tug harbour-boat").expect_done();
    harmonym(&folder, "rename setting.gaze-speed look-speed").expect_done();
    harmonym(&folder, "rename scheme.pad gamepad").expect_done();
    harmonym(&folder, "rename quay.hail call").expect_done();
    for name in ["beside.score", "scores/deep/down/far.score"] {
        let text = score.replace("tug", "harbour-boat").replace("quay.hail", "quay.call");
        assert_eq!(folder.read(name), text);
    }
    for name in ["takes/one.take.jsonl", "beside.take.jsonl"] {
        let text = take
            .replace("tug", "harbour-boat")
            .replace("gaze", "look")
            .replace("\"pad\"", "\"gamepad\"");
        assert_eq!(folder.read(name), text);
        harmonym(&folder, &format!("play {name}")).expect_done();
    }
    for name in ["other/own.score", "log.jsonl", "target/made.score"] {
        assert_eq!(folder.read(name).as_bytes(), before[name]);
    }
    harmonym(&folder, "remove map.harbour-boat").expect_refused(&["still"]);
    for _ in 0..4 {
        harmonym(&folder, "undo").expect_done();
    }
    assert_eq!(files(&folder), before);
    harmonym(&folder, "remove setting.gaze-speed --force").expect_done();
    assert!(!folder.read("beside.take.jsonl").contains("gaze-speed"));
    harmonym(&folder, "play beside.take.jsonl").expect_done();
    harmonym(&folder, "remove map.quay --force").expect_refused(&["beside.take.jsonl:1", "quay"]);
}

#[test]
fn what_a_file_is_beside_its_text_stays() {
    let folder = Folder::with_demo();
    let path = folder.path("harmonym.toml");
    fs::set_permissions(&path, fs::Permissions::from_mode(0o640)).unwrap();
    let has_attributes = xattr::set(&path, "user.keeper", b"the light").is_ok();
    let inode = |name: &str| fs::metadata(folder.path(name)).unwrap().ino();
    // A score with two names is written in place, so that it keeps both.
    fs::create_dir(folder.path("kept")).unwrap();
    fs::hard_link(folder.path("scores/quick-press.score"), folder.path("kept/quick.score"))
        .unwrap();
    let before = inode("kept/quick.score");
    symlink("../harmonym.toml", folder.path("kept/profile.toml")).unwrap();
    let line = "--file kept/profile.toml rename quay.hail call --scores scores";
    harmonym(&folder, line).expect_done();
    assert_eq!(inode("kept/quick.score"), before);
    assert_eq!(inode("scores/quick-press.score"), before);
    assert!(folder.read("kept/quick.score").contains("call"));
    let about = fs::metadata(&path).unwrap();
    assert_eq!(about.permissions().mode() & 0o777, 0o640);
    assert!(fs::symlink_metadata(folder.path("kept/profile.toml")).unwrap().is_symlink());
    if has_attributes {
        assert_eq!(xattr::get(&path, "user.keeper").unwrap().unwrap(), b"the light");
    }
    // A profile with two names, too, and another owner's stays theirs.
    fs::hard_link(&path, folder.path("second.toml")).unwrap();
    let is_owned = std::os::unix::fs::chown(&path, Some(12_345), None).is_ok();
    let before = inode("harmonym.toml");
    harmonym(&folder, "set quay.call.about Ahoy").expect_done();
    assert_eq!((inode("harmonym.toml"), inode("second.toml")), (before, before));
    fs::remove_file(folder.path("second.toml")).unwrap();
    harmonym(&folder, "set quay.call.about Hello").expect_done();
    assert!(inode("harmonym.toml") != before);
    if is_owned {
        assert_eq!(fs::metadata(&path).unwrap().uid(), 12_345);
    }
    let left = files(&folder).into_keys().filter(|name| name.contains("harmonym-"));
    assert_eq!(left.count(), 0);
}

#[test]
fn only_what_commands_left_behind_is_taken_away_and_never_by_a_dry_run() {
    let folder = Folder::with_demo();
    let own = "scores/.quick-press.score.harmonym-abcdefghijkl.tmp";
    let mine = [".harmonym.toml~", ".harmonym.toml~old", "scores/.quick-press.score~"];
    folder.write(own, "half");
    for name in mine {
        folder.write(name, "mine");
    }
    let before = files(&folder);
    harmonym(&folder, "rename quay.hail call --dry-run").expect_done();
    harmonym(&folder, "undo --list").expect_done();
    harmonym(&folder, "check").expect_done();
    assert_eq!(files(&folder), before);
    harmonym(&folder, "rename quay.hail call").expect_done();
    assert!(!folder.path(own).exists());
    assert!(mine.iter().all(|name| folder.read(name) == "mine"));
}

#[test]
fn beginning_makes_all_files_or_none() {
    for line in ["new .", "new . --starter quay", "demo --keep ."] {
        // A file of somebody's is where one of ours would be.
        let folder = Folder::new();
        let score = if line == "new ." { "first-steps" } else { "tie-a-knot" };
        folder.write(&format!("scores/{score}.score"), "at 1s press key.KeyH for 1s\n");
        let before = files(&folder);
        harmonym(&folder, line).expect_refused(&[score, "is there already", "nothing was written"]);
        assert_eq!(files(&folder), before, "{line}");
        // Stopped before the profile was there, it goes on.
        let folder = Folder::new();
        harmonym(&folder, line).expect_done();
        let all = files(&folder);
        fs::remove_file(folder.path("harmonym.toml")).unwrap();
        harmonym(&folder, line).expect_done();
        assert_eq!(files(&folder), all, "{line}");
        harmonym(&folder, line).expect_refused(&["harmonym.toml is there already"]);
    }
    // No folder stays of what could not be made.
    let folder = Folder::new();
    folder.write("a/scores", "a file");
    harmonym(&folder, "new a").expect_refused(&["scores"]);
    harmonym(&folder, "new b/c --starter nothing");
    assert!(!folder.path("a/harmonym.toml").exists() && !folder.path("b").exists());
}

#[test]
fn whoever_holds_a_file_is_told_and_dry_runs_do_not_wait() {
    let folder = Folder::with_demo();
    let file = fs::File::open(folder.path("harmonym.toml")).unwrap();
    file.lock().unwrap();
    let parts = ["harmonym.toml is being changed by", "nothing was written"];
    harmonym(&folder, "set quay.hail.about Ahoy --wait 0s").expect_refused(&parts);
    harmonym(&folder, "undo --wait 20ms").expect_refused(&parts);
    #[cfg(target_os = "linux")]
    {
        let own = format!("(process {})", std::process::id());
        harmonym(&folder, "tidy --wait 0s").expect_refused(&[&own]);
    }
    harmonym(&folder, "set quay.hail.about Ahoy --dry-run").expect_done();
    harmonym(&folder, "check").expect_done();
    let waiting = Command::new(env!("CARGO_BIN_EXE_harmonym"))
        .args(["set", "quay.hail.about", "Ahoy"])
        .current_dir(folder.path("."))
        .stdout(Stdio::null())
        .stderr(Stdio::piped())
        .spawn()
        .unwrap();
    std::thread::sleep(Duration::from_millis(900));
    drop(file);
    let outcome = waiting.wait_with_output().unwrap();
    let told = String::from_utf8(outcome.stderr).unwrap();
    assert!(outcome.status.success(), "{told}");
    assert!(told.starts_with("waiting: harmonym.toml is being changed by "), "{told}");
    let told = harmonym(&folder, "set quay.hail.about Ahoy --wait soon");
    assert_eq!(told.code, 2);
    assert!(told.stderr.contains("write a time with its unit, such as 2.5s"), "{}", told.stderr);
    harmonym(&folder, "rename quay.walk go").expect_done();
}

#[test]
fn a_broken_profile_here_hides_the_one_above() {
    let folder = Folder::with_demo();
    fs::create_dir(folder.path("game")).unwrap();
    let here = folder.path("game/harmonym.toml");
    let before = folder.read("harmonym.toml");
    let run = || folder.shell(Path::new("game"), "harmonym set quay.hail.about Ahoy");
    symlink("nowhere.toml", &here).unwrap();
    run().expect_refused(&["harmonym.toml", "does not exist"]);
    fs::remove_file(&here).unwrap();
    fs::create_dir(&here).unwrap();
    run().expect_refused(&["harmonym.toml is a folder"]);
    fs::remove_dir(&here).unwrap();
    fs::write(&here, "[map.quay\n").unwrap();
    let told = run();
    assert!(told.stderr.contains("harmonym.toml has faults already; nothing was changed:"));
    told.expect_refused(&["harmonym.toml:1"]);
    fs::write(&here, "").unwrap();
    run().expect_refused(&["the version of the format is missing"]);
    fs::remove_file(&here).unwrap();
    assert_eq!(folder.read("harmonym.toml"), before);
    let told = run();
    assert!(told.stderr.contains("set quay.hail.about in ../harmonym.toml"), "{}", told.stderr);
}
