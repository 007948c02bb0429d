//! What a change that was stopped in the middle makes of what is read.
//!
//! Commands that only read write nothing: they see each file as it will be when the change is finished.

use super::super::open::open;
use super::super::{place, untold};
use super::record::{Record, is_begun};
use crate::escape::named;
use crate::failure::Failure;
use std::fs::File;
use std::io::{Cursor, Read};
use std::path::{Path, PathBuf};
use std::sync::{Mutex, MutexGuard, PoisonError};
use std::thread::sleep;
use std::time::{Duration, Instant};

/// So long one waits for a command that is in the midst of a change.
const PATIENCE: Duration = Duration::from_secs(5);
const EVERY: Duration = Duration::from_millis(5);

/// The changes that were found stopped so far.
static STOPPED: Mutex<Vec<Stopped>> = Mutex::new(Vec::new());

struct Stopped {
    profile: PathBuf,
    record: PathBuf,
    /// The files with what they will hold.
    texts: Vec<(PathBuf, String)>,
}

fn stopped() -> MutexGuard<'static, Vec<Stopped>> {
    STOPPED.lock().unwrap_or_else(PoisonError::into_inner)
}

/// From now on the files of a change of this profile that was stopped in the middle are read as they will be. Of
/// one that is going on now the end is waited for.
pub fn see_begun(profile: &Path) {
    if !is_begun(profile) {
        return;
    }
    let profile = place::real(profile);
    let until = Instant::now() + PATIENCE;
    let held = File::open(&profile).ok();
    // Whoever is in the midst of it holds the profile.
    let is_free = loop {
        match held.as_ref().is_none_or(|file| file.try_lock_shared().is_ok()) {
            true => break true,
            false if Instant::now() >= until || !is_begun(&profile) => break false,
            false => sleep(EVERY),
        }
    };
    let record = match Record::of(&profile) {
        Ok(Some(record)) => record,
        Ok(None) => return,
        Err(failure) => return untold::keep(failure.message()),
    };
    let name = named(&profile);
    let done = &record.done;
    let text = match is_free {
        true => format!(
            "a change of {name} was stopped in the middle, and is read as if it were done: {done}; \
             the next command that changes it finishes it"
        ),
        false => format!("{name} is being changed, and is read as it will be: {done}"),
    };
    let texts = record.files.iter().filter_map(|file| Some((file.real.clone(), file.outcome()?)));
    let change = Stopped { profile: profile.clone(), record: record.path, texts: texts.collect() };
    untold::keep(text);
    let mut all = stopped();
    all.retain(|other| other.profile != profile);
    all.push(change);
}

/// What a file will hold when a change that was stopped in the middle is finished; nothing if none was.
fn text_of(path: &Path) -> Option<String> {
    let mut all = stopped();
    if all.is_empty() {
        return None;
    }
    // Another command may have finished it meanwhile.
    all.retain(|change| std::fs::symlink_metadata(&change.record).is_ok());
    let real = place::real(path);
    let mut texts = all.iter().flat_map(|change| &change.texts);
    texts.find(|(of, _)| *of == real).map(|(_, text)| text.clone())
}

/// Opens a file to read it, with its size as far as that is known.
pub fn open_settled(path: &Path) -> Result<(Box<dyn Read>, u64), Failure> {
    if let Some(text) = text_of(path) {
        let size = text.len() as u64;
        return Ok((Box::new(Cursor::new(text)), size));
    }
    let file = open(path)?;
    let size = file.metadata().map_or(0, |about| about.len());
    Ok((Box::new(file), size))
}
