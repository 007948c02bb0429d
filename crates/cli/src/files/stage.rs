//! A file's new content, complete beside it before anything changes.

use crate::failure::Failure;
use std::ffi::OsStr;
use std::fs::{self, File, OpenOptions};
use std::io::Write;
use std::path::Path;
use tempfile::NamedTempFile;

/// So many letters tell one such file from another.
const LETTERS: usize = 12;
const END: &str = ".tmp";
/// What ends the name of a second such file, where two are needed to change places.
pub const SECOND: &str = "second.tmp";

/// The content of a file, beside it. It is gone when this is dropped.
pub struct Staged {
    /// Locked, so that nobody takes it for one that was left behind.
    pub beside: NamedTempFile,
    /// The file itself, where it has to be written in place to stay what it is.
    pub in_place: Option<File>,
}

/// Writes the content of the file at `real`, beside it; a new one gets the permissions of `like`.
pub fn stage(
    real: &Path,
    shown: &Path,
    content: &[u8],
    like: Option<&Path>,
) -> Result<Staged, Failure> {
    let about = fs::metadata(real).ok();
    if let Some(about) = &about {
        let open = OpenOptions::new().write(true).open(real);
        if about.permissions().readonly() || open.is_err() {
            let message = format!("{} is read-only", shown.display());
            let help = "nothing was written; allow writing, or name another file";
            return Err(Failure::new(message, help));
        }
    }
    let io = |error: std::io::Error| Failure::io("write", shown, &error);
    let mut builder = tempfile::Builder::new();
    let prefix = prefix(real);
    builder.prefix(&prefix).suffix(END).rand_bytes(LETTERS);
    #[cfg(unix)]
    if about.is_none() {
        use std::os::unix::fs::PermissionsExt;
        let like = like.and_then(|like| fs::metadata(like).ok());
        let usual = fs::Permissions::from_mode(0o666);
        builder.permissions(like.map_or(usual, |like| like.permissions()));
    }
    let mut beside = loop {
        let beside = builder.tempfile_in(folder(real)).map_err(io)?;
        beside.as_file().lock().map_err(io)?;
        // Nobody took it away before it was locked.
        if is_at(beside.as_file(), beside.path()) {
            break beside;
        }
    };
    beside.write_all(content).map_err(io)?;
    let is_like = about.is_none_or(|about| make_like(beside.as_file(), real, &about).is_some());
    beside.as_file().sync_all().map_err(io)?;
    let in_place = match is_like {
        true => None,
        false => Some(OpenOptions::new().write(true).open(real).map_err(io)?),
    };
    Ok(Staged { beside, in_place })
}

/// Gives a file what another has beside its content: owner, permissions and extended attributes.
/// Nothing when it can't be the same, or when the other has more names than one.
#[cfg(unix)]
fn make_like(file: &File, other: &Path, about: &fs::Metadata) -> Option<()> {
    use std::os::unix::fs::{MetadataExt, fchown};
    use xattr::FileExt;
    let own = file.metadata().ok()?;
    if about.nlink() > 1 {
        return None;
    }
    if (own.uid(), own.gid()) != (about.uid(), about.gid()) {
        fchown(file, Some(about.uid()), Some(about.gid())).ok()?;
    }
    file.set_permissions(about.permissions()).ok()?;
    // A file system without attributes has none to keep.
    for name in xattr::list(other).into_iter().flatten() {
        let value = xattr::get(other, &name).ok()??;
        if file.get_xattr(&name).ok().flatten().as_deref() != Some(&*value) {
            file.set_xattr(&name, &value).ok()?;
        }
    }
    Some(())
}

#[cfg(not(unix))]
fn make_like(file: &File, _: &Path, about: &fs::Metadata) -> Option<()> {
    file.set_permissions(about.permissions()).ok()
}

/// Takes away what commands left beside a file when they were killed.
pub fn sweep(real: &Path) {
    let prefix = prefix(real);
    for entry in fs::read_dir(folder(real)).into_iter().flatten().flatten() {
        if is_ours(&entry.file_name(), &prefix) {
            // Whoever still writes it holds it.
            let free = File::open(entry.path()).is_ok_and(|file| file.try_lock().is_ok());
            if free {
                let _ = fs::remove_file(entry.path());
            }
        }
    }
}

/// Whether a name is one that [`stage`] gives.
fn is_ours(name: &OsStr, prefix: &str) -> bool {
    let name = name.to_string_lossy();
    let letters = name.strip_prefix(prefix).and_then(|rest| rest.strip_suffix(END));
    letters.is_some_and(|letters| {
        let letters = letters.strip_suffix(".second").unwrap_or(letters);
        letters.len() == LETTERS && letters.bytes().all(|byte| byte.is_ascii_alphanumeric())
    })
}

/// How the names of files beside a file begin.
fn prefix(real: &Path) -> String {
    let name = real.file_name().unwrap_or_default().to_string_lossy();
    format!(".{name}.harmonym-")
}

/// The folder of a file.
pub fn folder(path: &Path) -> &Path {
    match path.parent() {
        Some(folder) if !folder.as_os_str().is_empty() => folder,
        _ => Path::new("."),
    }
}

/// Whether an open file is still the one under a path.
pub fn is_at(file: &File, path: &Path) -> bool {
    #[cfg(unix)]
    {
        use std::os::unix::fs::MetadataExt;
        let of = |about: fs::Metadata| (about.dev(), about.ino());
        let own = file.metadata().ok().map(of);
        own.is_some() && own == fs::metadata(path).ok().map(of)
    }
    #[cfg(not(unix))]
    {
        let _ = file;
        path.exists()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_names_of_our_own_making_are_swept() {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("harmonym.toml");
        fs::write(&path, "").unwrap();
        let kept = [
            ".harmonym.toml~",
            ".harmonym.toml~backup",
            ".harmonym.toml.swp",
            ".harmonym.toml.harmonym-notes.tmp",
            ".harmonym.toml.harmonym-abcdefghijkl",
            ".harmonym.toml.harmonym-abcdefghijk.tmp",
            ".harmonym.toml.harmonym-abcdefghijk-.tmp",
            ".other.toml.harmonym-abcdefghijkl.tmp",
        ];
        for name in kept {
            fs::write(folder.path().join(name), "mine").unwrap();
        }
        let ours = folder.path().join(".harmonym.toml.harmonym-abcdefghijk1.tmp");
        fs::write(&ours, "").unwrap();
        let second = ours.with_extension(SECOND);
        fs::write(&second, "").unwrap();
        let in_work = stage(&path, &path, b"new", None).unwrap();
        sweep(&path);
        assert!(!ours.exists() && !second.exists());
        assert!(kept.iter().all(|name| folder.path().join(name).exists()));
        assert!(in_work.beside.path().exists());
    }
}
