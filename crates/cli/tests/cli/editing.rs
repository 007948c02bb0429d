//! Edits that reach further than the profile: its scores, and back again.

use crate::harness::{Folder, Outcome};
use std::fs;
use std::path::Path;

fn harmonym(folder: &Folder, line: &str) -> Outcome {
    folder.shell(Path::new("."), &format!("harmonym {line}"))
}

/// Every file of a folder and its scores, with its text.
fn files(folder: &Folder) -> Vec<(String, String)> {
    let mut all = Vec::new();
    for part in [".", "scores"] {
        for entry in fs::read_dir(folder.path(part)).into_iter().flatten().flatten() {
            if entry.path().is_file() {
                let name = format!("{part}/{}", entry.file_name().to_string_lossy());
                all.push((name, fs::read_to_string(entry.path()).unwrap()));
            }
        }
    }
    all.sort();
    all
}

#[test]
fn edits_are_taken_back_one_by_one_until_all_is_as_it_was() {
    let folder = Folder::with_demo();
    let edits = [
        "rename quay.hail call",
        "add action tug.cast-line --value switch",
        "bind tug.cast-line key.KeyB pad.west key.KeyB",
        "unbind tug.cast-line@pad#1",
        "set quay.tie-knot.fire.hold 0.7s",
        "copy tug harbour-boat",
        "remove setting.gaze-speed --force",
        "rename map.log-book journal",
    ];
    let mut states = vec![files(&folder)];
    for edit in edits {
        harmonym(&folder, edit).expect_done();
        states.push(files(&folder));
    }
    let list = harmonym(&folder, "undo --list").expect_done();
    assert_eq!(list.lines().count(), edits.len());
    assert!(list.lines().next().unwrap().contains("renamed map.log-book to map.journal"), "{list}");
    let dry = harmonym(&folder, "undo --dry-run");
    assert!(dry.stdout.contains("-[map.journal]\n+[map.log-book]"), "{}", dry.stdout);
    assert_eq!(files(&folder), *states.last().unwrap());
    for (edit, before) in edits.iter().zip(&states).rev() {
        let told = harmonym(&folder, "undo");
        assert_eq!(told.code, 0, "{edit}: {}", told.stderr);
        assert!(told.stderr.contains("taken back: "), "{}", told.stderr);
        assert_eq!(files(&folder), *before, "{edit}");
    }
    harmonym(&folder, "undo").expect_refused(&["no edit to take back"]);
    assert_eq!(harmonym(&folder, "undo --list").expect_done(), "");
}

#[test]
fn an_edit_is_not_taken_back_over_a_later_change() {
    let folder = Folder::with_demo();
    harmonym(&folder, "rename quay.hail call").expect_done();
    let score = folder.read("scores/quick-press.score");
    let done = files(&folder);
    let by_hand = score.replace("expect quay.call fires once", "expect quay.call fires twice");
    folder.write("scores/quick-press.score", by_hand);
    harmonym(&folder, "undo").expect_refused(&[
        "quick-press.score changed since",
        "renamed quay.hail to quay.call",
        "nothing was written",
    ]);
    folder.write("scores/quick-press.score", &score);
    assert_eq!(files(&folder), done);
    // A file that is as it was already stays; what was killed before it wrote is no edit.
    let before = score.replace("quay.call", "quay.hail");
    folder.write("scores/quick-press.score", &before);
    harmonym(&folder, "undo").expect_done();
    assert_eq!(folder.read("scores/quick-press.score"), before);
    harmonym(&folder, "test -q").expect_done();
    let sound = folder.read("harmonym.toml");
    harmonym(&folder, "set quay.hail.about First").expect_done();
    let first = folder.read("harmonym.toml");
    harmonym(&folder, "set quay.hail.about Second").expect_done();
    folder.write("harmonym.toml", &first);
    assert_eq!(harmonym(&folder, "undo --list").expect_done().lines().count(), 1);
    harmonym(&folder, "undo").expect_done();
    assert_eq!(folder.read("harmonym.toml"), sound);
    assert!(!folder.path(".harmonym.toml.edits").exists());
}

#[test]
fn what_changed_elsewhere_since_stays_when_an_edit_is_taken_back() {
    let folder = Folder::with_demo();
    let before = folder.read("harmonym.toml");
    harmonym(&folder, "set quay.hail.about First").expect_done();
    let note = "\n# Lanterns: ask the keeper.\n";
    folder.write("harmonym.toml", folder.read("harmonym.toml") + note);
    let told = harmonym(&folder, "undo");
    assert_eq!(told.code, 0, "{}", told.stderr);
    assert!(told.stderr.contains("harmonym.toml changed elsewhere since; that stays"));
    assert_eq!(folder.read("harmonym.toml"), before.clone() + note);
    // What was built on an edit since keeps it.
    harmonym(&folder, "add preset steady 'deadzone 0.2'").expect_done();
    let text = folder.read("harmonym.toml");
    folder.write(
        "harmonym.toml",
        text.replace("pad.left-stick | @stick", "pad.left-stick | @steady"),
    );
    harmonym(&folder, "undo").expect_refused(&["without it the profile would be faulty", "steady"]);
    folder.write("harmonym.toml", text);
    harmonym(&folder, "undo").expect_done();
    harmonym(&folder, "rename quay.hail call").expect_done();
    folder.write("scores/later.score", "at 1s press key.KeyH for 0.1s\nexpect call fires once\n");
    harmonym(&folder, "undo").expect_refused(&["a score is left behind", "scores/later.score:2:8"]);
    assert!(folder.read("harmonym.toml").contains("[map.quay.call]"));
}

#[test]
fn a_file_of_somebody_elses_is_no_journal_and_stays() {
    let folder = Folder::with_demo();
    folder.write(".harmonym.toml.edits", "my own notes\n");
    let told = harmonym(&folder, "set quay.hail.about First");
    assert_eq!(told.code, 0);
    assert!(told.stderr.contains("undo will not know of it"), "{}", told.stderr);
    assert_eq!(folder.read(".harmonym.toml.edits"), "my own notes\n");
    harmonym(&folder, "undo").expect_refused(&["no journal of edits"]);
}

#[cfg(unix)]
#[test]
fn the_journal_is_as_private_as_the_profile_and_lies_beside_the_real_one() {
    use std::os::unix::fs::{PermissionsExt, symlink};
    let folder = Folder::with_demo();
    fs::create_dir(folder.path("real")).unwrap();
    fs::rename(folder.path("harmonym.toml"), folder.path("real/harmonym.toml")).unwrap();
    symlink("real/harmonym.toml", folder.path("harmonym.toml")).unwrap();
    let private = fs::Permissions::from_mode(0o600);
    fs::set_permissions(folder.path("real/harmonym.toml"), private).unwrap();
    let before = folder.read("harmonym.toml");
    harmonym(&folder, "rename quay.hail call").expect_done();
    let journal = fs::metadata(folder.path("real/.harmonym.toml.edits")).unwrap();
    assert_eq!(journal.permissions().mode() & 0o777, 0o600);
    // From another folder, by another name.
    fs::create_dir(folder.path("deep")).unwrap();
    let undo = "harmonym --file ../real/harmonym.toml undo";
    let outside = "not in the folder of the profile";
    folder.shell(Path::new("deep"), undo).expect_refused(&[outside, "--follow"]);
    folder.shell(Path::new("deep"), &format!("{undo} --follow")).expect_done();
    assert_eq!(folder.read("harmonym.toml"), before);
    assert!(folder.read("scores/quick-press.score").contains("quay.hail"));
    assert!(fs::symlink_metadata(folder.path("harmonym.toml")).unwrap().is_symlink());
    // Through the link its scores lie in its folder.
    harmonym(&folder, "rename quay.hail call").expect_done();
    harmonym(&folder, "undo").expect_done();
    assert_eq!(folder.read("harmonym.toml"), before);
}

#[test]
fn binding_several_binds_those_that_are_new() {
    let folder = Folder::with_demo();
    let told = harmonym(&folder, "bind quay.hail key.KeyH key.KeyY pad.north");
    assert_eq!(told.code, 0);
    for part in [
        "`key.KeyH` is bound there already, as quay.hail@desk#1",
        "`pad.north` is bound there already, as quay.hail@pad#1",
        "bound quay.hail@desk#2",
    ] {
        assert!(told.stderr.contains(part), "{}", told.stderr);
    }
    assert!(folder.read("harmonym.toml").contains("bind.desk = [\"key.KeyH\", \"key.KeyY\"]"));
    harmonym(&folder, "bind quay.hail key.KeyH pad.north")
        .expect_refused(&["all 2 are bound there already"]);
    harmonym(&folder, "unbind quay.hail@desk#2").expect_done();
    assert!(folder.read("harmonym.toml").contains("bind.desk = \"key.KeyH\"\n"));
}

#[test]
fn a_score_that_would_be_left_behind_keeps_the_change_back() {
    let folder = Folder::with_demo();
    let before = files(&folder);
    harmonym(&folder, "remove scheme.slate").expect_refused(&["still name"]);
    harmonym(&folder, "set tug.kind layer")
        .expect_refused(&["leave scores or takes behind", "--> scores/"]);
    assert_eq!(files(&folder), before);
    // Scores with faults of their own, or none at all, are no hindrance.
    folder.write("scores/broken.score", "at nonsense\nexpect hail fires once\n");
    folder.write("scores/bytes.score", b"\xff\xfe");
    let told = harmonym(&folder, "rename quay.hail call");
    assert_eq!(told.code, 0, "{}", told.stderr);
    assert!(
        told.stderr.contains("scores/bytes.score stays as it is: this is not UTF-8"),
        "{}",
        told.stderr
    );
    assert!(folder.read("scores/broken.score").contains("expect call fires once"));
}

#[test]
fn a_table_says_what_it_leaves_out_and_names_the_columns_it_does_not_read() {
    let folder = Folder::with_demo();
    let out = harmonym(&folder, "export actions.csv");
    for part in
        ["wrote 55 rows", "can't hold, and leaves out: ", "levels (quay.cast-line", "presets"]
    {
        assert!(out.stderr.contains(part), "{}", out.stderr);
    }
    let table = "map\taction\tnotes\tvalue\tscheme\tbinding\n\
                 tug\tfog-horn\tloud, please\tswitch\tdesk\tkey.KeyB\n\
                 quay\thail\t\t\tdesk\tkey.KeyH\n";
    folder.write("more.tsv", table);
    let told = harmonym(&folder, "import more.tsv");
    assert_eq!(told.code, 0, "{}", told.stderr);
    for part in [
        "more.tsv: not read, as no column of ours: notes",
        "more.tsv:2: added tug.fog-horn, tug.fog-horn@desk#1",
        "1 row says what is there",
        "imported more.tsv",
    ] {
        assert!(told.stderr.contains(part), "no {part} in {}", told.stderr);
    }
}
