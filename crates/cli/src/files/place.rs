//! Content put in its place.

use super::stage::{self, Staged, folder, stage};
use crate::failure::Failure;
use std::fs::{self, File};
use std::io::{self, Seek, SeekFrom, Write};
use std::path::{Path, PathBuf};

/// Writes a file whole or not at all.
pub fn write(path: &Path, content: &[u8], like: Option<&Path>) -> Result<(), Failure> {
    let real = real(path);
    stage::sweep(&real);
    let staged = stage(&real, path, content, like)?;
    let io = |error| Failure::io("write", path, &error);
    match &staged.in_place {
        Some(file) => write_in_place(file, content).map_err(io),
        None => staged.beside.persist(&real).map(drop).map_err(|error| io(error.error)),
    }
}

/// The same for a file that nobody else may write to; nothing else may be there already.
pub fn write_private(path: &Path, content: &[u8]) -> Result<(), Failure> {
    stage::sweep(path);
    let io = |error: io::Error| Failure::io("write", path, &error);
    let mut file = stage::beside(path, None).map_err(io)?;
    file.write_all(content).map_err(io)?;
    file.as_file().sync_all().map_err(io)?;
    file.persist_noclobber(path).map(drop).map_err(|error| io(error.error))
}

/// Where a path leads; a link whose file is not there yet leads there all the same.
pub fn real(path: &Path) -> PathBuf {
    let mut path = path.to_owned();
    for _ in 0..40 {
        if let Ok(real) = fs::canonicalize(&path) {
            return real;
        }
        match fs::read_link(&path) {
            Ok(to) => path = folder(&path).join(to),
            Err(_) => break,
        }
    }
    // What is not there yet lies in a folder that may be.
    match (fs::canonicalize(folder(&path)), path.file_name()) {
        (Ok(folder), Some(name)) => folder.join(name),
        _ => path,
    }
}

/// Writes a file over without ever being shorter than it has to be: what is behind its old end
/// comes first, so that a full disk is noticed before anything of it is lost.
pub fn write_in_place(mut file: &File, content: &[u8]) -> io::Result<()> {
    let old = file.metadata()?.len();
    if let Some(tail) = usize::try_from(old).ok().and_then(|old| content.get(old..)) {
        file.seek(SeekFrom::Start(old))?;
        if let Err(error) = file.write_all(tail) {
            let _ = file.set_len(old);
            return Err(error);
        }
    }
    file.seek(SeekFrom::Start(0))?;
    file.write_all(&content[..content.len().min(usize::try_from(old).unwrap_or(usize::MAX))])?;
    file.set_len(content.len() as u64)?;
    file.sync_all()
}

/// Puts a staged file where there is none yet.
pub fn place_new(staged: &Staged, real: &Path) -> io::Result<()> {
    // A second name for it; where there are no second names it moves.
    match fs::hard_link(staged.beside.path(), real) {
        Err(error) if error.kind() == io::ErrorKind::AlreadyExists => Err(error),
        Err(_) if fs::symlink_metadata(real).is_ok() => Err(io::ErrorKind::AlreadyExists.into()),
        Err(_) => fs::rename(staged.beside.path(), real),
        Ok(()) => Ok(()),
    }
}

/// Lets two files change places, at one moment where the system can.
pub fn exchange(one: &Path, other: &Path) -> io::Result<()> {
    #[cfg(target_os = "linux")]
    {
        use rustix::fs::{CWD, RenameFlags, renameat_with};
        use rustix::io::Errno;
        match renameat_with(CWD, one, CWD, other, RenameFlags::EXCHANGE) {
            Err(Errno::INVAL | Errno::NOSYS | Errno::OPNOTSUPP) => {}
            done => return done.map_err(Into::into),
        }
    }
    // Over a third name. Stopped in between, the second still has all of its own.
    let third = one.with_extension(stage::SECOND);
    fs::hard_link(other, &third)?;
    fs::rename(one, other)?;
    fs::rename(&third, one)
}

/// Writes files that must not be there yet: all of them or none. A file that holds what it is to
/// hold already is left as it is, but for the first.
pub fn write_all_new(files: &[(PathBuf, &str)]) -> Result<(), Failure> {
    let first = files.first().map(|(path, _)| path);
    let is_there = |path: &Path, text: &str| {
        let is_same = || fs::read(path).is_ok_and(|now| now == text.as_bytes());
        first.is_none_or(|first| first != path) && is_same()
    };
    let taken = |path: &Path| {
        let help = "nothing was written; name another folder";
        Failure::new(format!("{} is there already", path.display()), help)
    };
    let todo: Vec<_> = files.iter().filter(|(path, text)| !is_there(path, text)).collect();
    if let Some((path, _)) = todo.iter().find(|(path, _)| fs::symlink_metadata(path).is_ok()) {
        return Err(taken(path));
    }
    let mut made = Made::default();
    for (path, _) in &todo {
        made.folder(folder(path))?;
    }
    let mut staged = Vec::new();
    for (path, text) in &todo {
        stage::sweep(path);
        staged.push((path, stage(path, path, text.as_bytes(), None)?));
    }
    // The first tells that all are there: it comes last.
    for (path, staged) in staged.iter().rev() {
        place_new(staged, path).map_err(|error| match error.kind() {
            io::ErrorKind::AlreadyExists => taken(path),
            _ => Failure::io("write", path, &error),
        })?;
        made.0.push((*path).clone());
    }
    made.0.clear();
    Ok(())
}

/// What was made on the way; it is taken away again, unless all went well.
#[derive(Default)]
struct Made(Vec<PathBuf>);

impl Made {
    fn folder(&mut self, path: &Path) -> Result<(), Failure> {
        if path.is_dir() {
            return Ok(());
        }
        self.folder(folder(path))?;
        fs::create_dir(path).map_err(|error| Failure::io("make the folder", path, &error))?;
        self.0.push(path.to_owned());
        Ok(())
    }
}

impl Drop for Made {
    fn drop(&mut self) {
        for path in self.0.iter().rev() {
            let _ = if path.is_dir() { fs::remove_dir(path) } else { fs::remove_file(path) };
        }
    }
}
