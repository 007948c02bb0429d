//! Files opened for reading, so that nothing else is taken for one: a pipe that nobody writes to, a
//! device that never ends, a link where none may be.

use super::folder_instead;
use super::target::open_number;
use crate::failure::Failure;
use std::fs::{self, File, Metadata, OpenOptions};
use std::io::{self, ErrorKind};
use std::path::Path;

/// Opens a file to read it. What this process was given open, as `/dev/stdin`, may be anything.
pub fn open(path: &Path) -> Result<File, Failure> {
    let io = |error| Failure::io("read", path, &error);
    if open_number(path).is_some() {
        return File::open(path).map_err(io);
    }
    // A socket can't even be opened; what else is no file is told once more when it is open.
    expect_file(path, &fs::metadata(path).map_err(io)?)?;
    let file = open_now(path, false).map_err(io)?;
    expect_file(path, &file.metadata().map_err(io)?)?;
    Ok(file)
}

fn expect_file(path: &Path, about: &Metadata) -> Result<(), Failure> {
    if about.is_dir() {
        return Err(folder_instead(path));
    }
    if !about.is_file() {
        let message = format!("{} is no file", path.display());
        return Err(Failure::new(message, "name a file on a disk"));
    }
    Ok(())
}

/// Opens a file that is one itself, and no link to one.
pub fn open_plain(path: &Path) -> io::Result<File> {
    let file = open_now(path, true)?;
    match file.metadata()?.is_file() {
        true => Ok(file),
        false => Err(ErrorKind::InvalidInput.into()),
    }
}

/// Opens what is there without waiting for anybody at its other end.
fn open_now(path: &Path, refuse_links: bool) -> io::Result<File> {
    let mut options = OpenOptions::new();
    options.read(true);
    #[cfg(unix)]
    {
        use rustix::fs::OFlags;
        use std::os::unix::fs::OpenOptionsExt;
        let links = if refuse_links { OFlags::NOFOLLOW } else { OFlags::empty() };
        let flags = OFlags::NONBLOCK | OFlags::NOCTTY | links;
        options.custom_flags(flags.bits().cast_signed());
    }
    #[cfg(not(unix))]
    if refuse_links && std::fs::symlink_metadata(path)?.is_symlink() {
        return Err(ErrorKind::InvalidInput.into());
    }
    options.open(path)
}
