//! Reading and writing files.

use crate::failure::Failure;
use harmonym_lang::compile::compile;
use harmonym_lang::model::Profile;
use harmonym_lang::report::{Diagnostic, FaultKind, Faults};
use harmonym_lang::source::{Source, Span};
use harmonym_runtime::controls::Layout;
use harmonym_runtime::plan::Plan;
use std::fs;
use std::io::Write;
use std::path::{Path, PathBuf};
use std::sync::Arc;

/// The profile's name.
pub const PROFILE: &str = "harmonym.toml";
/// A larger text is not a profile or a score.
const LARGEST: u64 = 64 * 1024 * 1024;

/// A profile that has no faults.
pub struct Loaded {
    pub source: Source,
    pub profile: Profile,
    pub plan: Arc<Plan>,
}

impl Loaded {
    /// The plan for a keyboard layout.
    pub fn plan_for(&self, layout: Option<Layout>) -> Arc<Plan> {
        match layout.unwrap_or_default() {
            layout if layout == self.plan.layout() => Arc::clone(&self.plan),
            layout => Arc::new(compile(&self.profile, layout)),
        }
    }
}

/// Resolves and compiles a profile that was read.
pub fn load(source: Source) -> Result<Loaded, Failure> {
    let (profile, plan) = harmonym_lang::load(&source)?;
    Ok(Loaded { source, profile, plan: Arc::new(plan) })
}

/// The profile that is meant: the one named, or the nearest one.
pub fn profile_path(named: Option<&Path>) -> Result<PathBuf, Failure> {
    named.map_or_else(find_profile, |path| Ok(path.to_owned()))
}

fn find_profile() -> Result<PathBuf, Failure> {
    let here = std::env::current_dir()
        .map_err(|error| Failure::io("look into", Path::new("."), &error))?;
    for folder in here.ancestors() {
        let path = folder.join(PROFILE);
        if path.is_file() {
            return Ok(path.strip_prefix(&here).map(Path::to_owned).unwrap_or(path));
        }
    }
    let message = format!("there is no {PROFILE} here or in a folder above");
    Err(Failure::new(message, "begin one with `harmonym new`, or name one with `--file PATH`"))
}

/// Reads a text whole.
pub fn read_text(path: &Path) -> Result<Source, Failure> {
    let io = |error| Failure::io("read", path, &error);
    let about = fs::metadata(path).map_err(io)?;
    if about.is_dir() {
        let help = match path.join(PROFILE).is_file() {
            true => format!("name the file in it: {}", path.join(PROFILE).display()),
            false => "name a file in it".to_owned(),
        };
        return Err(Failure::new(format!("{} is a folder", path.display()), help));
    }
    if about.len() > LARGEST {
        let message = format!("{} is larger than 64 MiB", path.display());
        return Err(Failure::new(message, "see that it is the file you mean"));
    }
    let name = path.display().to_string();
    match String::from_utf8(fs::read(path).map_err(io)?) {
        Ok(text) => Ok(Source::new(name, text)),
        Err(error) => {
            let valid = error.utf8_error().valid_up_to();
            let text = String::from_utf8_lossy(error.as_bytes()).into_owned();
            let span = Span::new(valid, valid + char::REPLACEMENT_CHARACTER.len_utf8());
            let message = "this is not UTF-8";
            let help = "save the file in the encoding UTF-8";
            let fault = Diagnostic::fault(FaultKind::Syntax, span, message, help);
            Err(Faults::new(Source::new(name, text), vec![fault]).into())
        }
    }
}

/// A file that is held while it is changed: commands that do so wait for each other.
pub struct LockedFile {
    pub path: PathBuf,
    pub source: Source,
    /// Locked; what is written takes the file's place under its name.
    _lock: fs::File,
}

impl LockedFile {
    /// Takes hold of a file and reads it.
    pub fn take(path: &Path) -> Result<Self, Failure> {
        loop {
            let source = read_text(path)?;
            let io = |error| Failure::io("open", path, &error);
            let lock = fs::File::open(path).map_err(io)?;
            lock.lock().map_err(io)?;
            // Another command may have put a new file in its place meanwhile.
            if is_at(&lock, path) && read_text(path)?.text() == source.text() {
                sweep(path);
                return Ok(Self { path: path.to_owned(), source, _lock: lock });
            }
        }
    }

    /// Writes the file, unless somebody else changed it meanwhile.
    pub fn write(&self, text: &str) -> Result<(), Failure> {
        let is_same = read_text(&self.path).is_ok_and(|now| now.text() == self.source.text());
        if !is_same {
            let message = format!("{} changed since it was read", self.path.display());
            return Err(Failure::new(message, "nothing was written; run the command again"));
        }
        write_atomically(&self.path, text.as_bytes())
    }
}

/// Takes away what commands left that were killed while they wrote a file. Whoever holds the file
/// is alone with them.
pub fn sweep(path: &Path) {
    let real = fs::canonicalize(path).unwrap_or_else(|_| path.to_owned());
    let (Some(folder), Some(prefix)) = (real.parent(), prefix(&real)) else { return };
    for entry in fs::read_dir(folder).into_iter().flatten().flatten() {
        if entry.file_name().to_string_lossy().starts_with(&prefix) {
            let _ = fs::remove_file(entry.path());
        }
    }
}

/// What the temporary files of a file are called.
fn prefix(path: &Path) -> Option<String> {
    Some(format!(".{}~", path.file_name()?.to_string_lossy()))
}

/// Whether an open file is still the one under a path.
fn is_at(file: &fs::File, path: &Path) -> bool {
    #[cfg(unix)]
    {
        use std::os::unix::fs::MetadataExt;
        let of = |about: fs::Metadata| (about.dev(), about.ino());
        file.metadata().ok().map(of) == fs::metadata(path).ok().map(of)
    }
    #[cfg(not(unix))]
    {
        let _ = (file, path);
        true
    }
}

/// Writes a file whole or not at all: into a temporary file beside it, then in its place.
pub fn write_atomically(path: &Path, content: &[u8]) -> Result<(), Failure> {
    write_like(path, content, path)
}

/// The same, with the permissions of the file `like`.
pub fn write_like(path: &Path, content: &[u8], like: &Path) -> Result<(), Failure> {
    let io = |error| Failure::io("write", path, &error);
    // A link stays, and what it leads to is written.
    let real = fs::canonicalize(path).unwrap_or_else(|_| path.to_owned());
    if fs::metadata(&real).is_ok_and(|about| about.permissions().readonly()) {
        let message = format!("{} is read-only", path.display());
        return Err(Failure::new(
            message,
            "nothing was written; allow writing, or name another file",
        ));
    }
    let folder = match real.parent() {
        Some(folder) if !folder.as_os_str().is_empty() => folder,
        _ => Path::new("."),
    };
    let mut file = tempfile::Builder::new()
        .prefix(&prefix(&real).unwrap_or_default())
        .permissions(permissions(like))
        .tempfile_in(folder)
        .map_err(io)?;
    file.write_all(content).and_then(|()| file.as_file().sync_all()).map_err(io)?;
    file.persist(&real).map_err(|error| io(error.error))?;
    Ok(())
}

/// The permissions of the file that is there, or those of a new one.
fn permissions(path: &Path) -> fs::Permissions {
    #[cfg(unix)]
    use std::os::unix::fs::PermissionsExt;
    match fs::metadata(path) {
        Ok(about) => about.permissions(),
        #[cfg(unix)]
        Err(_) => fs::Permissions::from_mode(0o666),
        #[cfg(not(unix))]
        Err(_) => tempfile::NamedTempFile::new()
            .and_then(|file| file.as_file().metadata())
            .map(|about| about.permissions())
            .expect("a temporary file has permissions"),
    }
}

/// Writes a file that must not be there yet.
pub fn write_new(path: &Path, content: &str) -> Result<(), Failure> {
    let io = |error: std::io::Error| match error.kind() {
        std::io::ErrorKind::AlreadyExists => Failure::new(
            format!("{} is there already", path.display()),
            "nothing was overwritten; name another folder",
        ),
        _ => Failure::io("write", path, &error),
    };
    let mut file = fs::File::create_new(path).map_err(io)?;
    file.write_all(content.as_bytes()).map_err(io)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_changed_since_it_was_read_is_not_overwritten() {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join(PROFILE);
        fs::write(&path, "as it was").unwrap();
        let held = LockedFile::take(&path).unwrap();
        // An editor that knows nothing of locks.
        fs::write(&path, "as somebody wrote it").unwrap();
        let Err(Failure::Faults(faults)) = held.write("as we would") else {
            panic!("it was overwritten")
        };
        let told = "changed since it was read; nothing was written; run the command again";
        assert!(faults.first().ends_with(told), "{faults}");
        assert_eq!(fs::read_to_string(&path).unwrap(), "as somebody wrote it");
        // What is there again as it was may be written.
        fs::write(&path, "as it was").unwrap();
        held.write("as we would").unwrap();
        assert_eq!(fs::read_to_string(&path).unwrap(), "as we would");
        // A file that is gone has changed too.
        let held = LockedFile::take(&path).unwrap();
        fs::remove_file(&path).unwrap();
        assert!(held.write("as we would").is_err());
        assert!(!path.exists());
    }
}
