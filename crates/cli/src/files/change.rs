//! Several files that change as one.
//!
//! Every new text is complete beside its file and every file is what it was read as before a record
//! of the change is written; only then do the files change. Whenever it stops, the next command
//! finishes what the record tells of. Nothing that somebody else wrote meanwhile is lost: it stays,
//! with the change made in it, or it is told.

use super::lock::Held;
use super::place::{self, exchange, place_new, write_in_place};
use super::stage::{self, Staged, folder, stage};
use super::{Patience, changed_since, read_text};
use crate::escape::named;
use crate::failure::Failure;
use harmonym_lab::edit::{Begun, BegunFile, FileEdit, Left};
use std::fs;
use std::path::{Path, PathBuf};

/// As often somebody may write a file in the moment in which it is placed.
const TRIES: usize = 8;

/// A file of a change.
pub struct Part<'a> {
    /// The file, if it is held.
    pub held: Option<&'a Held>,
    /// Where it really is.
    pub real: PathBuf,
    /// What it holds, nothing if it is new.
    pub before: &'a str,
    /// What it is to hold.
    pub after: &'a str,
}

/// Files that change as one, with those of the profile at `profile`.
pub struct Change<'a> {
    pub profile: &'a Path,
    /// What is done, in words.
    pub done: &'a str,
    pub parts: Vec<Part<'a>>,
}

impl Change<'_> {
    /// Changes all of the files or none. What else there is to say of it goes to `tell`.
    pub fn write(&self, tell: &mut dyn FnMut(&str)) -> Result<(), Failure> {
        let mut staged = Vec::new();
        for part in &self.parts {
            if part.held.is_none() {
                // Beside what is held was swept when it was taken.
                stage::sweep(&part.real);
            }
            staged.push(stage(
                &part.real,
                part.shown(),
                part.after.as_bytes(),
                Some(self.profile),
            )?);
        }
        self.parts.iter().try_for_each(Part::expect_unchanged)?;
        let files = self.parts.iter().zip(&staged);
        let files = files.map(|(part, staged)| part.begun(staged, self.profile));
        let begun = Begun::new(self.done, files.collect());
        let record = record_of(self.profile);
        place::write(&record, begun.text().as_bytes(), Some(self.profile))?;
        for (at, (part, beside)) in self.parts.iter().zip(&staged).enumerate() {
            let Err(failure) = part.place(beside) else { continue };
            let placed = self.parts[..at].iter().zip(&staged[..at]).rev();
            let left: Vec<&Path> = placed
                .filter_map(|(part, beside)| part.take_back(beside).err().map(|_| part.shown()))
                .collect();
            if left.is_empty() {
                let _ = fs::remove_file(&record);
            } else {
                // The record stays: the next command makes one of it.
                staged.into_iter().for_each(|staged| drop(staged.beside.keep()));
                let names: Vec<String> = left.iter().map(|path| named(path)).collect();
                tell(&format!("{} could not be taken back", names.join(", ")));
            }
            return Err(failure);
        }
        // That the new names are there after a loss of power is worth a try, and whoever is writing
        // what was there comes to an end meanwhile.
        let _ = fs::File::open(folder(&record)).and_then(|folder| folder.sync_all());
        let clashes = settle(&begun, self.profile)?;
        clashes.iter().for_each(|clash| tell(clash));
        fs::remove_file(&record).map_err(|error| Failure::io("remove", &record, &error))
    }
}

impl Part<'_> {
    fn shown(&self) -> &Path {
        self.held.map_or(&self.real, |held| &held.path)
    }

    fn expect_unchanged(&self) -> Result<(), Failure> {
        let is_unchanged = match self.held {
            Some(held) => held.is_unchanged(),
            None => match read_text(&self.real) {
                Ok(now) => now.text() == self.before,
                Err(_) => self.before.is_empty() && !self.real.exists(),
            },
        };
        if is_unchanged { Ok(()) } else { Err(changed_since(self.shown())) }
    }

    fn begun(&self, staged: &Staged, profile: &Path) -> BegunFile {
        let path = self.real.strip_prefix(folder(profile)).unwrap_or(&self.real);
        BegunFile {
            staged: staged.beside.path().to_string_lossy().into_owned(),
            in_place: staged.in_place.is_some(),
            edit: FileEdit::between(path.to_string_lossy(), self.before, self.after),
        }
    }

    fn place(&self, staged: &Staged) -> Result<(), Failure> {
        let io = |error| Failure::io("write", self.shown(), &error);
        if let Some(file) = &staged.in_place {
            return write_in_place(file, self.after.as_bytes()).map_err(|error| {
                let _ = write_in_place(file, self.before.as_bytes());
                io(error)
            });
        }
        if self.before.is_empty() && !self.real.exists() {
            return place_new(staged, &self.real).map_err(io);
        }
        exchange(staged.beside.path(), &self.real).map_err(io)?;
        // Somebody may have put another file there since it was compared.
        let is_other = |held: &Held| !stage::is_at(&held.file, staged.beside.path());
        if self.held.is_some_and(is_other) {
            exchange(staged.beside.path(), &self.real).map_err(io)?;
            return Err(changed_since(self.shown()));
        }
        Ok(())
    }

    fn take_back(&self, staged: &Staged) -> std::io::Result<()> {
        match &staged.in_place {
            Some(file) => write_in_place(file, self.before.as_bytes()),
            None if self.held.is_none() && self.before.is_empty() => fs::remove_file(&self.real),
            None => exchange(staged.beside.path(), &self.real),
        }
    }
}

/// The record of a change of a profile that has begun.
fn record_of(profile: &Path) -> PathBuf {
    let name = profile.file_name().unwrap_or_default().to_string_lossy();
    profile.with_file_name(format!(".{name}.begun"))
}

/// Whether a change of a profile has begun and not ended.
pub fn is_begun(profile: &Path) -> bool {
    fs::symlink_metadata(record_of(&place::real(profile))).is_ok()
}

/// Finishes a change of a profile that a command began and did not end, unless one is at it now:
/// then that is waited for.
pub fn finish_begun(profile: &Path, patience: &mut Patience<'_>) -> Result<(), Failure> {
    if is_begun(profile) {
        Held::take(profile, patience)?;
    }
    Ok(())
}

/// The same for one that is held; whether there was something to finish.
pub fn finish_begun_held(profile: &Path, tell: &mut dyn FnMut(&str)) -> Result<bool, Failure> {
    let profile = place::real(profile);
    let record = record_of(&profile);
    if !is_begun(&profile) {
        return Ok(false);
    }
    let text = read_text(&record)?;
    let begun = Begun::read(text.text()).ok_or_else(|| {
        let message = format!("{} is no record of a change", record.display());
        Failure::new(
            message,
            "see that the profile and its scores are as they should; then take it away",
        )
    })?;
    let clashes = settle(&begun, &profile)?;
    fs::remove_file(&record).map_err(|error| Failure::io("remove", &record, &error))?;
    tell(&format!("a change was stopped in the middle, and is finished now: {}", begun.done));
    clashes.iter().for_each(|clash| tell(clash));
    Ok(true)
}

/// Does what is left to do for each file of a change; tells what can't be done.
fn settle(begun: &Begun, profile: &Path) -> Result<Vec<String>, Failure> {
    let mut clashes = Vec::new();
    for file in &begun.files {
        let real = profile.with_file_name(&file.edit.path);
        let staged = Path::new(&file.staged);
        let mut is_settled = false;
        for _ in 0..TRIES {
            is_settled = settle_one(file, &real, staged)?;
            if is_settled {
                break;
            }
        }
        if !is_settled {
            clashes.push(told_clash(file, &real, staged));
        }
        if let Err(error) = fs::remove_file(staged)
            && error.kind() != std::io::ErrorKind::NotFound
        {
            return Err(Failure::io("clear up beside", &real, &error));
        }
    }
    Ok(clashes)
}

/// Does what is left to do for a file, once; whether nothing is left.
fn settle_one(file: &BegunFile, real: &Path, staged: &Path) -> Result<bool, Failure> {
    let io = |error| Failure::io("write", real, &error);
    let (now, beside) = (fs::read(real).ok(), fs::read(staged).ok());
    match file.left(now.as_deref(), beside.as_deref()) {
        Left::Nothing => return Ok(true),
        Left::Clash => return Ok(false),
        Left::Place if file.in_place => {
            let target = fs::OpenOptions::new().write(true).open(real).map_err(io)?;
            write_in_place(&target, &beside.unwrap_or_default()).map_err(io)?;
        }
        Left::Place if now.is_none() => {
            fs::rename(staged, real).map_err(io)?;
        }
        Left::Place => exchange(staged, real).map_err(io)?,
        Left::Merge(text) => {
            let merged = stage(real, real, text.as_bytes(), None)?;
            if let Some(target) = &merged.in_place {
                write_in_place(target, text.as_bytes()).map_err(io)?;
                return Ok(true);
            }
            exchange(merged.beside.path(), real).map_err(io)?;
            if fs::read(merged.beside.path()).ok() != now {
                // Again somebody wrote at that moment.
                exchange(merged.beside.path(), real).map_err(io)?;
                return Ok(false);
            }
            return Ok(true);
        }
    }
    Ok(false)
}

/// What could not be done for a file, and what became of what somebody wrote meanwhile.
fn told_clash(file: &BegunFile, real: &Path, staged: &Path) -> String {
    let shown = named(real);
    let is_ours = |text: &str| file.edit.is_after(text) || file.edit.is_before(text);
    let theirs = fs::read_to_string(staged).is_ok_and(|text| !is_ours(&text));
    if !theirs {
        return format!("{shown} changed meanwhile, where the change is: it stays as it is");
    }
    let kept =
        (1..).map(|n| real.with_extension(format!("meanwhile-{n}"))).find(|path| !path.exists());
    match kept.filter(|kept| fs::rename(staged, kept).is_ok()) {
        Some(kept) => format!(
            "{shown} was written by somebody else at the same moment: what they wrote is in {}",
            named(&kept)
        ),
        None => format!("{shown} was written by somebody else at the same moment"),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

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
        Held::take(path, &mut Patience { wait: None, tell: &mut |_| {} })
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
                let text =
                    if torn { [&AFTER[..7], &BEFORE[7..]].concat() } else { AFTER.to_owned() };
                fs::write(&real, text).unwrap();
            } else if at < placed {
                exchange(&staged, &real).unwrap();
            }
            let staged = staged.to_string_lossy().into_owned();
            files.push(BegunFile {
                staged,
                in_place,
                edit: FileEdit::between(*name, BEFORE, AFTER),
            });
        }
        let record = record_of(&fs::canonicalize(folder).unwrap().join(NAMES[0]));
        fs::write(record, Begun::new("renamed quay to harbour", files).text()).unwrap();
    }

    #[test]
    fn a_change_that_was_stopped_anywhere_is_finished_by_the_next_command() {
        for (placed, in_place) in (0..=3).flat_map(|placed| [(placed, false), (placed, true)]) {
            let folder = folder();
            stopped(folder.path(), placed, in_place);
            let profile = folder.path().join(NAMES[0]);
            assert!(is_begun(&profile));
            let mut told = Vec::new();
            let mut tell = |text: &str| told.push(text.to_owned());
            finish_begun(&profile, &mut Patience { wait: None, tell: &mut tell }).unwrap();
            for name in NAMES {
                assert_eq!(
                    fs::read_to_string(folder.path().join(name)).unwrap(),
                    AFTER,
                    "{placed}"
                );
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
        let mut tell = |text: &str| told.push(text.to_owned());
        let profile = folder.path().join(NAMES[0]);
        Held::take(&profile, &mut Patience { wait: None, tell: &mut tell }).unwrap();
        assert!(told[1].contains("a.score changed meanwhile, where the change is"), "{told:?}");
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
            let part =
                Part { held: Some(held), real: held.real.clone(), before: BEFORE, after: AFTER };
            let begun = part.begun(&staged, &held.real);
            // After it was compared and before it is placed: into the file that was there.
            fs::write(&held.real, BEFORE.to_owned() + "# a note\n").unwrap();
            part.place(&staged).unwrap();
            staged.beside.keep().unwrap();
            let edit = FileEdit::between(held.real.to_string_lossy(), BEFORE, AFTER);
            BegunFile { edit, ..begun }
        });
        let begun = Begun::new("renamed", files.collect());
        assert_eq!(settle(&begun, &held[0].real).unwrap(), Vec::<String>::new());
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
            change.write(&mut |_| {})
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
}
