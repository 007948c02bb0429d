//! A file that is written bit by bit, and takes its place only when there is something in it.

use super::{place, stage};
use crate::failure::Failure;
use std::fs::{self, File, OpenOptions};
use std::io;
use std::path::{Path, PathBuf};
use tempfile::NamedTempFile;

/// A file on its way: what is in its place stays there until this is placed, and for good if it
/// never is.
pub struct Fresh {
    path: PathBuf,
    beside: Option<NamedTempFile>,
    /// Whether nothing was there.
    is_new: bool,
}

impl Fresh {
    /// Begins one; gives it to be written.
    pub fn begin(path: &Path) -> Result<(Self, File), Failure> {
        let io = |error: io::Error| Failure::io("write", path, &error);
        let real = place::real(path);
        let about = fs::metadata(&real).ok();
        let is_new = about.is_none();
        let own = |beside, path| Self { path, beside, is_new };
        if about.as_ref().is_some_and(|about| !about.is_file()) {
            // A device or a pipe is written as it is.
            let file = OpenOptions::new().write(true).open(&real).map_err(io)?;
            return Ok((own(None, real), file));
        }
        stage::sweep(&real);
        let permissions = about.map(|about| about.permissions()).or_else(stage::usual);
        let beside = stage::beside(&real, permissions).map_err(io)?;
        let file = beside.as_file().try_clone().map_err(io)?;
        Ok((own(Some(beside), real), file))
    }

    /// Puts it in its place, once.
    pub fn place(&mut self) -> io::Result<()> {
        let placed = match self.beside.take() {
            Some(beside) if self.is_new => beside.persist_noclobber(&self.path),
            Some(beside) => beside.persist(&self.path),
            None => return Ok(()),
        };
        placed.map(drop).map_err(|error| error.error)
    }
}
