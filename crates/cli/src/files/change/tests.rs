//! Changes that are stopped, and others who write meanwhile.

use super::super::Patience;
use super::*;
use std::io::Write;
use std::os::unix::fs::OpenOptionsExt;

const NAMES: [&str; 3] = ["harmonym.toml", "scores/a.score", "scores/b.score"];
const BEFORE: &str = "one\nquay\nthree\nfour\n";
const AFTER: &str = "one\nharbour\nthree\nfour\n";

fn folder() -> tempfile::TempDir {
    let folder = tempfile::tempdir().unwrap();
    fs::create_dir(folder.path().join("scores")).unwrap();
    for name in NAMES {
        fs::write(folder.path().join(name), BEFORE).unwrap();
    }
    folder
}

fn take(path: &Path) -> Result<Held, Failure> {
    Held::take(path, &mut Patience { wait: None, tell: &mut |_, _| {} })
}

fn left(folder: &Path) -> Vec<String> {
    let all = [folder.to_owned(), folder.join("scores")].into_iter();
    let names = all.flat_map(|at| fs::read_dir(at).unwrap().flatten());
    let names = names.map(|entry| entry.file_name().to_string_lossy().into_owned());
    names.filter(|name| name.starts_with('.')).collect()
}

/// A change of three files that was stopped when it had placed so many of them, the last of
/// these only in part if it is written in place.
fn stopped(folder: &Path, placed: usize, in_place: bool) {
    let mut files = Vec::new();
    for (at, name) in NAMES.iter().enumerate() {
        let real = folder.join(name);
        let staged = stage(&real, &real, AFTER.as_bytes(), None).unwrap();
        let staged = staged.beside.keep().unwrap().1;
        if at < placed && in_place {
            let torn = at + 1 == placed;
            let text = if torn { [&AFTER[..7], &BEFORE[7..]].concat() } else { AFTER.to_owned() };
            fs::write(&real, text).unwrap();
        } else if at < placed {
            exchange(&staged, &real).unwrap();
        }
        let staged = staged.file_name().unwrap().to_string_lossy().into_owned();
        files.push(BegunFile { staged, in_place, edit: FileEdit::between(*name, BEFORE, AFTER) });
    }
    let record = record_of(&fs::canonicalize(folder).unwrap().join(NAMES[0]));
    let text = Begun::new("renamed quay to harbour", files).text();
    // Nothing is swept meanwhile: whoever wrote this is gone.
    let mut options = fs::OpenOptions::new();
    let mut file = options.write(true).create_new(true).mode(0o600).open(record).unwrap();
    file.write_all(text.as_bytes()).unwrap();
}

#[test]
fn a_change_that_was_stopped_anywhere_is_finished_by_the_next_command() {
    for (placed, in_place) in (0..=3).flat_map(|placed| [(placed, false), (placed, true)]) {
        let folder = folder();
        stopped(folder.path(), placed, in_place);
        let profile = folder.path().join(NAMES[0]);
        assert!(is_begun(&profile));
        let mut told = Vec::new();
        // Who only reads sees it as it will be, and changes nothing.
        let texts = || NAMES.map(|name| fs::read(folder.path().join(name)).unwrap());
        let before = texts();
        see_begun(&profile);
        for name in NAMES {
            let read = super::super::read_text(&folder.path().join(name)).unwrap();
            assert_eq!(read.text(), AFTER, "{placed}");
        }
        assert!(texts() == before && is_begun(&profile));
        let untold = super::super::untold::take();
        assert!(
            untold.iter().any(|text| text.contains("is read as if it were done")),
            "{untold:?}"
        );
        let mut tell = |_, text: &str| told.push(text.to_owned());
        Held::take(&profile, &mut Patience { wait: None, tell: &mut tell }).unwrap();
        for name in NAMES {
            assert_eq!(fs::read_to_string(folder.path().join(name)).unwrap(), AFTER, "{placed}");
        }
        assert_eq!(left(folder.path()), Vec::<String>::new());
        let wanted = "a change was stopped in the middle, and is finished now: renamed quay";
        assert!(told[0].starts_with(wanted) && told.len() == 1, "{told:?}");
        assert!(!is_begun(&profile));
    }
}

#[test]
fn what_somebody_wrote_since_it_stopped_stays() {
    for placed in 0..=3 {
        let folder = folder();
        stopped(folder.path(), placed, false);
        let note = |name: &str| {
            let path = folder.path().join(name);
            let text = fs::read_to_string(&path).unwrap() + "# a note\n";
            fs::write(path, text).unwrap();
        };
        NAMES.iter().for_each(|name| note(name));
        take(&folder.path().join(NAMES[0])).unwrap();
        for name in NAMES {
            let text = fs::read_to_string(folder.path().join(name)).unwrap();
            assert_eq!(text, format!("{AFTER}# a note\n"), "{placed} {name}");
        }
        assert_eq!(left(folder.path()), Vec::<String>::new());
    }
    // Where the change is: it stays as they wrote it, and is told.
    let folder = folder();
    stopped(folder.path(), 1, false);
    fs::write(folder.path().join(NAMES[1]), "one\nmole\nthree\n").unwrap();
    let mut told = Vec::new();
    let mut tell = |say, text: &str| told.push((say, text.to_owned()));
    let profile = folder.path().join(NAMES[0]);
    Held::take(&profile, &mut Patience { wait: None, tell: &mut tell }).unwrap();
    let (say, text) = &told[0];
    assert!(text.contains("a.score changed meanwhile, where the change is"), "{told:?}");
    assert_eq!(*say, Say::Always);
    let text = |name: &str| fs::read_to_string(folder.path().join(name)).unwrap();
    assert_eq!(text(NAMES[1]), "one\nmole\nthree\n");
    assert_eq!((text(NAMES[0]).as_str(), text(NAMES[2]).as_str()), (AFTER, AFTER));
}

#[test]
fn what_is_written_in_the_moment_of_the_change_is_not_lost() {
    let folder = folder();
    let held: Vec<Held> =
        NAMES.iter().map(|name| take(&folder.path().join(name)).unwrap()).collect();
    let files = held.iter().map(|held| {
        let staged = stage(&held.real, &held.path, AFTER.as_bytes(), None).unwrap();
        let part = Part { held: Some(held), real: held.real.clone(), before: BEFORE, after: AFTER };
        let located = part.located(&staged, &held.real);
        // After it was compared and before it is placed: into the file that was there.
        fs::write(&held.real, BEFORE.to_owned() + "# a note\n").unwrap();
        part.place(&staged).unwrap();
        staged.beside.keep().unwrap();
        located
    });
    let files: Vec<Located> = files.collect();
    settle(&files, &mut |_, text| panic!("{text}")).unwrap();
    for one in &held {
        let text = fs::read_to_string(&one.real).unwrap();
        assert_eq!(text, format!("{AFTER}# a note\n"));
    }
    // Another file in its place keeps the change back.
    let one = take(&held[0].real).unwrap();
    let text = one.source.text().to_owned();
    let part = Part { held: Some(&one), real: one.real.clone(), before: &text, after: "" };
    let staged = stage(&one.real, &one.path, b"", None).unwrap();
    let other = folder.path().join("other");
    fs::write(&other, "another").unwrap();
    fs::rename(&other, &one.real).unwrap();
    assert!(part.place(&staged).is_err());
    assert_eq!(fs::read_to_string(&one.real).unwrap(), "another");
}

#[test]
fn what_changed_since_it_was_read_is_not_overwritten() {
    let folder = folder();
    let held: Vec<Held> =
        NAMES.iter().map(|name| take(&folder.path().join(name)).unwrap()).collect();
    let write = || {
        let parts = held.iter().map(|held| Part {
            held: Some(held),
            real: held.real.clone(),
            before: BEFORE,
            after: AFTER,
        });
        let change = Change { profile: &held[0].real, done: "renamed", parts: parts.collect() };
        change.write(&mut |_, _| {})
    };
    let last = folder.path().join(NAMES[2]);
    for text in [Some("as somebody wrote it"), None] {
        match text {
            Some(text) => fs::write(&last, text).unwrap(),
            None => fs::remove_file(&last).unwrap(),
        }
        let Err(Failure::Faults(faults)) = write() else { panic!("it was overwritten") };
        let told = "changed since it was read; nothing was written; run the command again";
        assert!(faults.first().ends_with(told), "{faults}");
        let now = |name: &str| fs::read_to_string(folder.path().join(name)).ok();
        assert_eq!(now(NAMES[2]).as_deref(), text);
        assert_eq!(
            (now(NAMES[0]).as_deref(), now(NAMES[1]).as_deref()),
            (Some(BEFORE), Some(BEFORE))
        );
        assert_eq!(left(folder.path()), Vec::<String>::new());
    }
    drop(folder);
}
