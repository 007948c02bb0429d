//! Several files that change as one.
//!
//! Every new text is complete beside its file and every file is what it was read as before a record
//! of the change is written; only then do the files change. Whenever it stops, the next command
//! finishes what the record tells of. Nothing that somebody else wrote meanwhile is lost: it stays,
//! with the change made in it, or it is told.

mod record;
mod settle;
mod stopped;
#[cfg(all(test, unix))]
mod tests;

pub use record::{is_begun, journal_of, own};
pub use stopped::{open_settled, see_begun};

use super::lock::Held;
use super::place::{self, exchange, place_new, write_in_place};
use super::stage::{self, Staged, folder, stage};
use super::{changed_since, read_as_it_is};
use crate::escape::named;
use crate::failure::Failure;
use harmonym_lab::edit::{Begun, BegunFile, FileEdit};
use record::{Located, Record, record_of};
use settle::settle;
use std::fs;
use std::io::ErrorKind;
use std::path::{Path, PathBuf};

/// How much there is to what is told.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Say {
    /// It is good to know.
    Remark,
    /// Somebody's text is at stake.
    Always,
}

/// Whom to tell something.
pub type Tell<'a> = &'a mut dyn FnMut(Say, &str);

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
    ///
    /// The record names those that are the profile's own. Others, which whoever asked for it said to
    /// follow, are as whole, but what stops the change between two of them is not made up for.
    pub fn write(&self, tell: Tell<'_>) -> Result<(), Failure> {
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
        let files: Vec<Located> =
            files.map(|(part, staged)| part.located(staged, self.profile)).collect();
        let is_own = |file: &&Located| {
            own(self.profile, &file.file.edit.path).is_ok_and(|real| real == file.real)
        };
        let recorded = files.iter().filter(is_own).map(|file| file.file.clone()).collect();
        let record = record_of(self.profile);
        place::write_private(&record, Begun::new(self.done, recorded).text().as_bytes())?;
        for (at, (part, beside)) in self.parts.iter().zip(&staged).enumerate() {
            let Err(failure) = part.place(beside) else { continue };
            let placed = self.parts[..at].iter().zip(&staged[..at]).rev();
            let left: Vec<&Path> = placed
                .filter_map(|(part, beside)| part.take_back(beside).err().map(|_| part.shown()))
                .collect();
            if left.is_empty() {
                let _ = fs::remove_file(&record);
            } else {
                // The record stays: the next command that writes makes one of it.
                staged.into_iter().for_each(|staged| drop(staged.beside.keep()));
                let names: Vec<String> = left.iter().map(|path| named(path)).collect();
                tell(Say::Always, &format!("{} could not be taken back", names.join(", ")));
            }
            return Err(failure);
        }
        // That the new names are there after a loss of power is worth a try, and whoever is writing
        // what was there comes to an end meanwhile.
        let _ = fs::File::open(folder(&record)).and_then(|folder| folder.sync_all());
        settle(&files, tell)?;
        match fs::remove_file(&record) {
            // Somebody took it away, and all is written.
            Err(error) if error.kind() != ErrorKind::NotFound => {
                let (name, why) =
                    (named(&record), Failure::io("remove", &record, &error).message());
                tell(Say::Always, &format!("all is written, but {name} is left: {why}"));
            }
            _ => {}
        }
        Ok(())
    }
}

impl Part<'_> {
    fn shown(&self) -> &Path {
        self.held.map_or(&self.real, |held| &held.path)
    }

    fn expect_unchanged(&self) -> Result<(), Failure> {
        let is_unchanged = match self.held {
            Some(held) => held.is_unchanged(),
            None => match read_as_it_is(&self.real) {
                Ok(now) => now.text() == self.before,
                Err(_) => self.before.is_empty() && !self.real.exists(),
            },
        };
        if is_unchanged { Ok(()) } else { Err(changed_since(self.shown())) }
    }

    /// The file where it and its new text are.
    fn located(&self, staged: &Staged, profile: &Path) -> Located {
        let path = self.real.strip_prefix(folder(profile)).unwrap_or(&self.real);
        let beside = staged.beside.path();
        let file = BegunFile {
            staged: beside.file_name().unwrap_or_default().to_string_lossy().into_owned(),
            in_place: staged.in_place.is_some(),
            edit: FileEdit::between(path.to_string_lossy(), self.before, self.after),
        };
        Located { file, real: self.real.clone(), staged: beside.to_owned() }
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

/// Finishes a change of a profile that is held, if a command began one and did not end it; whether
/// there was something to finish.
pub fn finish_begun(profile: &Path, tell: Tell<'_>) -> Result<bool, Failure> {
    let Some(record) = Record::of(profile)? else { return Ok(false) };
    settle(&record.files, tell)?;
    if let Err(error) = fs::remove_file(&record.path)
        && error.kind() != ErrorKind::NotFound
    {
        return Err(Failure::io("remove", &record.path, &error));
    }
    let done = record.done;
    tell(Say::Remark, &format!("a change was stopped in the middle, and is finished now: {done}"));
    Ok(true)
}
