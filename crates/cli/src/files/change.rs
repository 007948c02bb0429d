//! Several files that change as one.
//!
//! Every new text is complete beside its file and every file is what it was read as before a record
//! of the change is written; only then do the files change. Whenever it stops, the next command
//! finishes what the record tells of. Nothing that somebody else wrote meanwhile is lost: it stays,
//! with the change made in it, or it is told.

use super::lock::Held;
use super::place::{self, exchange, place_new, write_in_place};
use super::stage::{self, Staged, folder, stage};
use super::{Patience, read_text};
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
            stage::sweep(&part.real);
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
                let names: Vec<String> =
                    left.iter().map(|path| path.display().to_string()).collect();
                tell(&format!("{} could not be taken back", names.join(", ")));
            }
            return Err(failure);
        }
        let clashes = settle(&begun, self.profile)?;
        clashes.iter().for_each(|clash| tell(clash));
        fs::remove_file(&record).map_err(|error| Failure::io("remove", &record, &error))?;
        // That the new names are there after a loss of power is worth a try.
        let _ = fs::File::open(folder(&record)).and_then(|folder| folder.sync_all());
        Ok(())
    }
}

impl Part<'_> {
    fn shown(&self) -> &Path {
        self.held.map_or(&self.real, |held| &held.path)
    }

    fn changed(&self) -> Failure {
        let message = format!("{} changed since it was read", self.shown().display());
        Failure::new(message, "nothing was written; run the command again")
    }

    fn expect_unchanged(&self) -> Result<(), Failure> {
        let is_unchanged = match self.held {
            Some(held) => held.is_unchanged(),
            None => match read_text(&self.real) {
                Ok(now) => now.text() == self.before,
                Err(_) => self.before.is_empty() && !self.real.exists(),
            },
        };
        if is_unchanged { Ok(()) } else { Err(self.changed()) }
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
            return Err(self.changed());
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
            return Err(Failure::io("remove", staged, &error));
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
    let shown = real.display();
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
            kept.display()
        ),
        None => format!("{shown} was written by somebody else at the same moment"),
    }
}
