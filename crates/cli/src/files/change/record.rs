//! The record of a change that has begun, and what of it is believed.
//!
//! A folder may come from elsewhere with a record in it that was never written here. What such a record
//! can do is what anybody can do who may write into the folder: change files in it. So it counts only
//! as long as it stays within the folder and says the truth about what lies there; anything else is
//! told and left alone.

use super::super::open::open_plain;
use super::super::stage::{self, folder};
use super::super::{place, read_bounded, text_of};
use crate::failure::Failure;
use harmonym_lab::edit::{Begun, BegunFile};
use harmonym_lang::report::{Diagnostic, FaultKind, Faults};
use harmonym_lang::source::{Source, Span};
use std::fs::{self, File};
use std::io::ErrorKind;
use std::path::{Component, Path, PathBuf};

/// A record that counts.
pub struct Record {
    pub path: PathBuf,
    pub done: String,
    pub files: Vec<Located>,
}

/// A file of a change, and where it and its new text are.
pub struct Located {
    pub file: BegunFile,
    pub real: PathBuf,
    pub staged: PathBuf,
}

/// Where the record of a change of the profile that really is at `profile` lies.
pub fn record_of(profile: &Path) -> PathBuf {
    let name = profile.file_name().unwrap_or_default().to_string_lossy();
    profile.with_file_name(format!(".{name}.begun"))
}

/// Whether there is something in the record's place.
pub fn is_begun(profile: &Path) -> bool {
    fs::symlink_metadata(record_of(&place::real(profile))).is_ok()
}

impl Record {
    /// The record of a change of the profile that really is at `profile`, if one has begun.
    pub fn of(profile: &Path) -> Result<Option<Self>, Failure> {
        let path = record_of(profile);
        if fs::symlink_metadata(&path).is_err() {
            return Ok(None);
        }
        let file = open_own(&path)?;
        let text = text_of(&path.display().to_string(), read_bounded(file, &path)?)?;
        let Some(begun) = Begun::read(text.text()) else {
            return Err(odd(&path, "is no record of a change"));
        };
        let located = begun.files.into_iter().map(|file| Located::of(file, profile, &text));
        let files = located.collect::<Result<_, _>>()?;
        Ok(Some(Self { path, done: begun.done, files }))
    }
}

impl Located {
    fn of(file: BegunFile, profile: &Path, record: &Source) -> Result<Self, Failure> {
        let wrong = |named: &str, why: &str| Err(wrong(record, named, why));
        let named = file.edit.path.as_str();
        let real = match own(profile, named) {
            Ok(real) => real,
            Err(why) => return wrong(named, why),
        };
        let staged = real.with_file_name(&file.staged);
        if !stage::is_staged(Path::new(&file.staged), &real) {
            return wrong(&file.staged, "is no file that a command writes beside that one");
        }
        if !is_plain(&staged) {
            return wrong(&file.staged, "is no plain file");
        }
        let beside = fs::read(&staged).ok();
        let is_known = |text: &[u8]| {
            let text = str::from_utf8(text);
            text.is_ok_and(|text| file.edit.is_after(text) || file.edit.is_before(text))
        };
        if beside.is_some_and(|text| !is_known(&text)) {
            return wrong(&file.staged, "does not hold what the change writes");
        }
        Ok(Self { file, real, staged })
    }
}

/// Where a file really is that a change of the profile at `profile` may name: a plain file in its
/// folder or below, behind no link and not hidden, but for the profile and its journal. Else why it
/// may not be named. What other tools keep hidden in a folder is code to them, more often than not.
pub fn own(profile: &Path, named: &str) -> Result<PathBuf, &'static str> {
    let path = Path::new(named);
    if named.is_empty() || !path.components().all(|part| matches!(part, Component::Normal(_))) {
        return Err("is not in the folder of the profile");
    }
    let real = folder(profile).join(path);
    let is_hidden = |part: Component<'_>| part.as_os_str().as_encoded_bytes().starts_with(b".");
    let is_known = real == profile || real == journal_of(profile);
    if !is_known && path.components().any(is_hidden) {
        return Err("is hidden");
    }
    let mut folders = real.ancestors().skip(1).take(path.components().count() - 1);
    if !folders.all(|at| fs::symlink_metadata(at).is_ok_and(|about| about.is_dir())) {
        return Err("lies behind a link, or in no folder");
    }
    if is_plain(&real) { Ok(real) } else { Err("is no plain file") }
}

/// Whether there is a file itself, or nothing.
fn is_plain(at: &Path) -> bool {
    match fs::symlink_metadata(at) {
        Ok(about) => about.is_file(),
        Err(error) => error.kind() == ErrorKind::NotFound,
    }
}

/// Where the journal of the profile that really is at `profile` lies.
pub fn journal_of(profile: &Path) -> PathBuf {
    let name = profile.file_name().unwrap_or_default().to_string_lossy();
    profile.with_file_name(format!(".{name}.edits"))
}

/// Opens a record as one that this user wrote.
fn open_own(path: &Path) -> Result<File, Failure> {
    let Ok(file) = open_plain(path) else { return Err(odd(path, "is no plain file")) };
    #[cfg(unix)]
    {
        use std::os::unix::fs::MetadataExt;
        let about = file.metadata().map_err(|error| Failure::io("read", path, &error))?;
        if about.uid() != rustix::process::geteuid().as_raw() {
            return Err(odd(path, "is another user's"));
        }
        if about.mode() & 0o022 != 0 {
            return Err(odd(path, "may be written by others"));
        }
    }
    Ok(file)
}

const HELP: &str = "it is left alone and nothing is written; see that the profile and its scores are \
                    as they should be, and remove it";

fn odd(path: &Path, why: &str) -> Failure {
    Failure::new(format!("{} {why}: no change that was begun here", path.display()), HELP)
}

/// What is wrong with something that a record names, where it stands there.
fn wrong(record: &Source, named: &str, why: &str) -> Failure {
    let written = serde_json::to_string(named).unwrap_or_default();
    let at = record.text().find(&written).unwrap_or(0);
    let span = Span::new(at, (at + written.len()).min(record.text().len()));
    let message = format!("`{named}` {why}: this is no record of a change that was begun here");
    let fault = Diagnostic::fault(FaultKind::Syntax, span, message, HELP);
    Faults::new(record.clone(), vec![fault]).into()
}
