//! A file that is held while it is changed: commands that change it wait for each other.

use super::change::{Say, Tell, finish_begun};
use super::open::open;
use super::{folder_instead, read_as_it_is, stage};
use crate::escape::{named, shown};
use crate::failure::Failure;
use harmonym_lang::source::Source;
use std::fs::{self, File, TryLockError};
use std::path::{Path, PathBuf};
use std::time::{Duration, Instant};

/// Somebody who holds a file this long is told of.
const TOLD_AFTER: Duration = Duration::from_millis(500);
/// As often it is looked whether the file is free.
const EVERY: Duration = Duration::from_millis(15);

/// How long one waits for files that others hold, and whom to tell of it.
pub struct Patience<'a> {
    /// So long; without an end, if nothing is said.
    pub wait: Option<Duration>,
    /// Tells something.
    pub tell: Tell<'a>,
}

/// A file that is held.
pub struct Held {
    /// Where it is, as it was named.
    pub path: PathBuf,
    /// Where it really is.
    pub real: PathBuf,
    /// What it held when it was taken.
    pub source: Source,
    /// Locked until this is dropped.
    pub(super) file: File,
}

impl Held {
    /// Takes hold of a file and reads it. What another command began to change in it and did not
    /// end is ended first.
    pub fn take(path: &Path, patience: &mut Patience<'_>) -> Result<Self, Failure> {
        let io = |error| Failure::io("read", path, &error);
        loop {
            let real = fs::canonicalize(path).map_err(io)?;
            if real.is_dir() {
                return Err(folder_instead(path));
            }
            if !real.is_file() {
                let message = format!("{} is no file that can be changed", path.display());
                return Err(Failure::new(message, "name a file on a disk"));
            }
            let file = open(&real)?;
            lock(&file, path, patience)?;
            if !stage::is_at(&file, &real) {
                // Another command has put a new file in its place meanwhile.
                continue;
            }
            if finish_begun(&real, &mut *patience.tell)? {
                continue;
            }
            stage::sweep(&real);
            let source = read_as_it_is(path)?;
            return Ok(Self { path: path.to_owned(), real, source, file });
        }
    }

    /// Whether it holds what it held when it was taken.
    pub fn is_unchanged(&self) -> bool {
        stage::is_at(&self.file, &self.real)
            && read_as_it_is(&self.real).is_ok_and(|now| now.text() == self.source.text())
    }
}

/// Waits until the file is free; after a while tells who holds it.
fn lock(file: &File, path: &Path, patience: &mut Patience<'_>) -> Result<(), Failure> {
    let since = Instant::now();
    let mut is_told = false;
    loop {
        match file.try_lock() {
            Ok(()) => return Ok(()),
            Err(TryLockError::WouldBlock) => {}
            Err(TryLockError::Error(error)) => return Err(Failure::io("lock", path, &error)),
        }
        let waited = since.elapsed();
        if patience.wait.is_some_and(|wait| waited >= wait) {
            let message = format!("{} is being changed by {}", named(path), holder(file));
            return Err(Failure::new(message, "nothing was written; wait until that has ended"));
        }
        if waited >= TOLD_AFTER && !is_told {
            is_told = true;
            let text = format!(
                "waiting: {} is being changed by {}; Ctrl-C leaves all as it is",
                named(path),
                holder(file)
            );
            (patience.tell)(Say::Remark, &text);
        }
        let left = patience.wait.map_or(EVERY, |wait| wait.saturating_sub(waited).min(EVERY));
        std::thread::sleep(left);
    }
}

/// Who holds a file, as far as the system tells.
fn holder(file: &File) -> String {
    let told = holder_told(file).map(|told| shown(&told).into_owned());
    told.unwrap_or_else(|| "another command".to_owned())
}

/// Linux lists the locks in `/proc/locks` (proc_locks(5)): an ordinal, the kind of lock, advisory
/// or mandatory, its mode, the process, the file as major:minor:inode, and the range.
#[cfg(target_os = "linux")]
fn holder_told(file: &File) -> Option<String> {
    use std::os::unix::fs::MetadataExt;
    let inode = format!(":{}", file.metadata().ok()?.ino());
    let locks = fs::read_to_string("/proc/locks").ok()?;
    let mut holders = locks.lines().filter_map(|line| {
        let words: Vec<&str> = line.split_whitespace().collect();
        let is_it = words.get(1) == Some(&"FLOCK") && words.get(5)?.ends_with(&inode);
        is_it.then(|| words.get(4).copied()).flatten()
    });
    let process = holders.next()?;
    let command = fs::read(format!("/proc/{process}/cmdline")).ok()?;
    let words = command.split(|byte| *byte == 0).filter(|word| !word.is_empty());
    let words: Vec<String> = words
        .enumerate()
        .map(|(place, word)| {
            let word = String::from_utf8_lossy(word).into_owned();
            let name = Path::new(&word).file_name().filter(|_| place == 0);
            name.map_or(word.clone(), |name| name.to_string_lossy().into_owned())
        })
        .collect();
    let line: String = words.join(" ").chars().take(80).collect();
    Some(format!("`{line}` (process {process})"))
}

#[cfg(not(target_os = "linux"))]
fn holder_told(_: &File) -> Option<String> {
    None
}
