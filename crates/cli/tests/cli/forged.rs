//! Folders from elsewhere: what lies in them is read, and does nothing else.

use crate::harness::{Folder, Outcome};
use harmonym_lab::edit::{Begun, BegunFile, Edit, FileEdit, Journal};
use std::collections::BTreeMap;
use std::fs;
use std::os::unix::fs::{PermissionsExt, symlink};
use std::path::Path;

const BEFORE: &str = "harmonym-player = 1\n[setting]\ngaze-speed = 1.0\n";
const AFTER: &str = "harmonym-player = 1\n[setting]\ngaze-speed = 2.0\n";
/// A name as one is given that lies beside `name`.
fn staged(name: &str) -> String {
    format!(".{name}.harmonym-abcdefghijkl.tmp")
}

/// Commands that only read; what they write is named for it.
const READS: &[&str] = &[
    "show",
    "check",
    "test",
    "controls stick",
    "uses key.KeyH",
    "export",
    "sheet -o ../made/s.html",
    "play scores/quick-press.score",
    "play scores/quick-press.score --player player.toml",
    "why quay.hail scores/quick-press.score",
    "render scores/quick-press.score",
    "compare scores/quick-press.score --rates 20,60",
    "plot scores/quick-press.score -o ../made/p.svg",
    "sweep scores/tie-a-knot.score --vary quay.tie-knot.fire.hold=0.5s..1s:2",
    "curve quay.walk",
    "prompt quay.hail",
    "generate rust",
    "pack -o ../made/p.jsonl",
    "pipe <../outside/header.jsonl",
    "player show",
    "undo --list",
    "set quay.hail.about Hey --dry-run",
    "rename quay.hail call --dry-run",
    "tidy --check",
    "player set gaze-speed 1.5 --dry-run",
    "check --player player.toml",
    "record ../made/t.take.jsonl --from scores/quick-press.score --force",
];
/// Commands that change the profile or a player's file.
const WRITES: &[&str] = &["set quay.hail.about Hey", "rename quay.hail call", "undo", "tidy"];

/// All files below a folder: what they hold, or where a link leads.
fn tree(at: &Path) -> BTreeMap<String, String> {
    let mut all = BTreeMap::new();
    for entry in fs::read_dir(at).unwrap().flatten() {
        let (path, name) = (entry.path(), entry.file_name().to_string_lossy().into_owned());
        let about = fs::symlink_metadata(&path).unwrap();
        if about.is_dir() {
            all.extend(
                tree(&path).into_iter().map(|(below, text)| (format!("{name}/{below}"), text)),
            );
        } else if about.is_symlink() {
            all.insert(name, format!("-> {}", fs::read_link(&path).unwrap().display()));
        } else if about.is_file() {
            all.insert(name, String::from_utf8_lossy(&fs::read(&path).unwrap()).into_owned());
        } else {
            all.insert(name, "no file".to_owned());
        }
    }
    all
}

/// A project in a folder, and what is none of its business beside it.
struct Forged {
    folder: Folder,
    /// The profile or player's file that the record is of.
    of: &'static str,
}

impl Forged {
    fn new(of: &'static str) -> Self {
        let folder = Folder::new();
        fs::create_dir(folder.path("game")).unwrap();
        fs::create_dir(folder.path("made")).unwrap();
        folder.run(&["demo", "--keep", "game"]).expect_done();
        folder.write("game/player.toml", BEFORE);
        folder.write("outside/victim.toml", BEFORE);
        folder.write("outside/header.jsonl", "{\"take\":1}\n");
        folder.write(&format!("outside/{}", staged("victim.toml")), AFTER);
        folder.write("game/.git/config", BEFORE);
        folder.write(&format!("game/.git/{}", staged("config")), AFTER);
        folder.write("game/saves/one.toml", BEFORE);
        folder.write(&format!("game/saves/{}", staged("one.toml")), AFTER);
        Self { folder, of }
    }

    fn path(&self, name: &str) -> std::path::PathBuf {
        self.folder.path("game").join(name)
    }

    fn record(&self) -> String {
        format!("game/.{}.begun", self.of)
    }

    /// Writes a record as the tool would, of a change of the file at `path`.
    fn begun(&self, path: &str, staged: &str, in_place: bool) {
        let edit = FileEdit::between(path, BEFORE, AFTER);
        let file = BegunFile { staged: staged.to_owned(), in_place, edit };
        self.write_record(&Begun::new("renamed a to b", vec![file]).text());
    }

    fn write_record(&self, text: &str) {
        self.folder.write(&self.record(), text);
        let private = fs::Permissions::from_mode(0o600);
        fs::set_permissions(self.folder.path(&self.record()), private).unwrap();
    }

    fn run(&self, line: &str) -> Outcome {
        self.folder.shell(Path::new("game"), &format!("harmonym {line}"))
    }

    /// Nothing but what was asked for changes: nothing at all by reading, nothing elsewhere by writing.
    fn expect_left_alone(&self, kind: &str) {
        self.expect_left_alone_by(kind, 9);
    }

    /// The same by every so manieth command that reads.
    fn expect_left_alone_by(&self, kind: &str, step: usize) {
        let parts = ["game", "outside"].map(|name| self.folder.path(name));
        let before = parts.each_ref().map(|part| tree(part));
        for line in READS.iter().step_by(step) {
            let _ = fs::remove_dir_all(self.folder.path("made"));
            fs::create_dir(self.folder.path("made")).unwrap();
            let told = self.run(line);
            let is_done = told.code == 0 || *line == "tidy --check";
            assert!(is_done, "{kind}, {line}: {}", told.stderr);
            assert!(parts.each_ref().map(|part| tree(part)) == before, "{kind}: {line}");
        }
        let own = match self.of {
            "player.toml" => &["player set gaze-speed 1.5", "player reset gaze-speed"][..],
            _ => WRITES,
        };
        for line in own {
            self.run(line).expect_refused(&["is left alone", "remove it"]);
            assert!(parts.each_ref().map(|part| tree(part)) == before, "{kind}: {line}");
        }
    }
}

#[test]
fn a_record_from_elsewhere_changes_nothing_elsewhere_and_nothing_by_reading() {
    for of in ["harmonym.toml", "player.toml"] {
        let outside = Forged::new(of).folder.path("outside/victim.toml");
        let outside = outside.to_str().unwrap();
        for (path, beside) in [
            ("../outside/victim.toml", "victim.toml"),
            (outside, "victim.toml"),
            ("saves/../../outside/victim.toml", "victim.toml"),
            ("./saves/one.toml", "one.toml"),
            ("", "one.toml"),
            ("saves", "saves"),
            ("link/victim.toml", "victim.toml"),
            ("link.toml", "link.toml"),
            ("nowhere/one.toml", "one.toml"),
            (".git/config", "config"),
        ] {
            for in_place in [false, true] {
                let forged = Forged::new(of);
                symlink("../outside", forged.path("link")).unwrap();
                symlink("../outside/victim.toml", forged.path("link.toml")).unwrap();
                forged.folder.write(&format!("game/{}", staged("link.toml")), AFTER);
                forged.folder.write(&format!("game/{}", staged("saves")), AFTER);
                forged.begun(path, &staged(beside), in_place);
                let is_first = path.starts_with("../") && !in_place;
                forged.expect_left_alone_by(path, if is_first { 1 } else { 9 });
            }
        }
    }
}

#[test]
fn what_a_record_says_to_lie_beside_a_file_is_what_a_command_writes_there() {
    let absolute = Forged::new("harmonym.toml").folder.path("outside/victim.toml");
    for name in [
        "../../outside/victim.toml",
        absolute.to_str().unwrap(),
        "two.toml",
        ".one.toml.harmonym-short.tmp",
        ".two.toml.harmonym-abcdefghijkl.tmp",
        "",
        ".",
        "..",
    ] {
        let forged = Forged::new("harmonym.toml");
        forged.folder.write("game/saves/two.toml", AFTER);
        forged.folder.write("game/saves/.two.toml.harmonym-abcdefghijkl.tmp", AFTER);
        forged.begun("saves/one.toml", name, false);
        forged.expect_left_alone(name);
    }
    // A link in its place, a text that is not the change's, bytes that are no text.
    let forged = Forged::new("harmonym.toml");
    let beside = forged.path("saves").join(staged("one.toml"));
    forged.begun("saves/one.toml", &staged("one.toml"), false);
    fs::remove_file(&beside).unwrap();
    symlink("../../outside/victim.toml", &beside).unwrap();
    forged.expect_left_alone("a link");
    fs::remove_file(&beside).unwrap();
    for other in [&b"another text\n"[..], b"\xff\xfe", b""] {
        fs::write(&beside, other).unwrap();
        forged.expect_left_alone("another text");
    }
}

#[test]
fn what_is_no_record_of_this_user_is_left_alone() {
    for of in ["harmonym.toml", "player.toml"] {
        let forged = Forged::new(of);
        let record = forged.folder.path(&forged.record());
        for text in
            ["", "my own notes\n", "{}", "{\"harmonym_begun\":2,\"done\":\"\",\"files\":[]}"]
        {
            forged.write_record(text);
            forged.expect_left_alone(text);
        }
        forged.begun("saves/one.toml", &staged("one.toml"), false);
        for mode in [0o620, 0o602, 0o666] {
            fs::set_permissions(&record, fs::Permissions::from_mode(mode)).unwrap();
            forged.expect_left_alone("others may write it");
        }
        fs::set_permissions(&record, fs::Permissions::from_mode(0o600)).unwrap();
        fs::rename(&record, forged.folder.path("outside/record")).unwrap();
        symlink("../outside/record", &record).unwrap();
        forged.expect_left_alone("a link");
        fs::remove_file(&record).unwrap();
        fs::create_dir(&record).unwrap();
        forged.expect_left_alone("a folder");
        fs::remove_dir(&record).unwrap();
        let made = forged.folder.shell(Path::new("game"), &format!("mkfifo .{of}.begun"));
        made.expect_done();
        forged.expect_left_alone("a pipe");
    }
}

#[test]
fn a_sound_record_is_finished_by_writing_and_seen_by_reading() {
    let forged = Forged::new("harmonym.toml");
    forged.begun("saves/one.toml", &staged("one.toml"), false);
    let before = tree(&forged.path(""));
    let told = forged.run("player show --player saves/one.toml");
    assert!(
        told.stderr.contains("was stopped in the middle, and is read as if"),
        "{}",
        told.stderr
    );
    assert!(told.expect_done().contains("gaze-speed  1        2"));
    assert!(tree(&forged.path("")) == before);
    let told = forged.run("-q set quay.hail.about Hey");
    assert_eq!((told.code, told.stderr.as_str()), (0, ""));
    assert_eq!(forged.folder.read("game/saves/one.toml"), AFTER);
    assert!(!forged.folder.path(&forged.record()).exists());
}

#[test]
fn a_journal_from_elsewhere_takes_nothing_back_elsewhere() {
    for (path, is_forced) in [
        ("../outside/victim.toml", true),
        ("link.toml", true),
        ("link/victim.toml", true),
        (".git/config", true),
        ("saves/one.toml", false),
    ] {
        let forged = Forged::new("harmonym.toml");
        symlink("../outside", forged.path("link")).unwrap();
        symlink("../outside/victim.toml", forged.path("link.toml")).unwrap();
        let edit = FileEdit::between(path, AFTER, BEFORE);
        let edit = Edit { when: 1, done: "renamed a to b".to_owned(), files: vec![edit] };
        forged.folder.write("game/.harmonym.toml.edits", Journal { edits: vec![edit] }.text());
        let before = tree(&forged.folder.path("."));
        let told = forged.run("undo");
        match is_forced {
            true => {
                told.expect_refused(&["--follow"]);
                assert!(tree(&forged.folder.path(".")) == before, "{path}");
                forged.run("undo --follow").expect_done();
            }
            false => drop(told.expect_done()),
        }
        assert!(tree(&forged.folder.path(".")).values().any(|text| text == AFTER), "{path}");
    }
}

#[test]
fn nothing_outside_of_the_project_follows_a_rename_unless_it_is_said() {
    let forged = Forged::new("harmonym.toml");
    forged
        .folder
        .write("outside/away.score", "at 1s press key.KeyH for 0.1s\nexpect quay.hail fires\n");
    symlink("../../outside", forged.path("scores/away")).unwrap();
    // What a kill left beside files goes with the next command that writes, and not outside.
    forged.run("set quay.hail.about Hey").expect_done();
    let before = tree(&forged.folder.path("."));
    forged.run("rename quay.hail call").expect_refused(&["away.score", "outside", "--follow"]);
    assert!(tree(&forged.folder.path(".")) == before);
    let told = forged.run("-q rename quay.hail call --follow");
    assert_eq!(told.code, 0, "{}", told.stderr);
    assert!(told.stderr.contains("changed outside of its folder: "), "{}", told.stderr);
    assert!(told.stderr.contains("away.score"), "{}", told.stderr);
    assert!(forged.folder.read("outside/away.score").contains("quay.call"));
    // A score that names somebody's player's file is no leave to change that.
    let forged = Forged::new("harmonym.toml");
    let player = "harmonym-player = 1\n[also]\n\"quay.hail@desk\" = [\"key.KeyJ\"]\n";
    forged.folder.write("outside/victim.toml", player);
    forged.folder.write(
        "game/scores/a.score",
        "player ../../outside/victim.toml\nat 1s press key.KeyJ for 0.1s\n",
    );
    forged.run("rename quay.hail call").expect_refused(&["victim.toml", "--follow"]);
    assert_eq!(forged.folder.read("outside/victim.toml"), player);
    // A player's file that is a link, when none was named.
    fs::remove_file(forged.path("player.toml")).unwrap();
    symlink("../outside/victim.toml", forged.path("player.toml")).unwrap();
    forged.run("player set gaze-speed 1.5").expect_refused(&["victim.toml", "--follow"]);
    assert_eq!(forged.folder.read("outside/victim.toml"), player);
    forged.run("player set gaze-speed 1.5 --player player.toml").expect_done();
    assert!(forged.folder.read("outside/victim.toml").contains("gaze-speed = 1.5"));
}

#[test]
fn pipes_sockets_and_devices_are_refused_at_once() {
    let folder = Folder::with_demo();
    folder
        .shell(Path::new("."), "mkfifo pipe pipe.score pipe.toml pipe.csv pipe.take.jsonl")
        .expect_done();
    let _socket = std::os::unix::net::UnixListener::bind(folder.path("socket")).unwrap();
    folder.write("a.score", "player pipe.toml\nat 1s press key.KeyH for 0.1s\n");
    for line in [
        "--file pipe.toml show",
        "--file pipe.toml set quay.hail.about Hey",
        "--file socket check",
        "--file /dev/null show",
        "play pipe.score",
        "play pipe.take.jsonl",
        "play socket",
        "play /dev/null",
        "why hail pipe",
        "test pipe.score",
        "render pipe.score",
        "import pipe.csv",
        "import socket",
        "play scores/quick-press.score --player pipe.toml",
        "player show --player pipe.toml",
        "player set gaze-speed 1.5 --player pipe.toml",
        "play a.score",
        "test a.score",
        "compare scores/quick-press.score --with pipe.toml",
        "score pipe.take.jsonl",
        "record out.take.jsonl --from pipe.score",
        "sweep pipe --vary quay.tie-knot.fire.hold=0.5s..1s:2",
    ] {
        let told = folder.shell(Path::new("."), &format!("timeout 20 harmonym {line}"));
        told.expect_refused(&["is no file"]);
    }
}
