//! A file's new content, complete beside it before anything changes.

use super::open::open_plain;
use crate::failure::Failure;
use std::ffi::OsStr;
use std::fs::{self, File, OpenOptions, Permissions};
use std::io::{self, Write};
use std::path::{Path, PathBuf};
use tempfile::NamedTempFile;

/// So many letters tell one such file from another.
const LETTERS: usize = 12;
const MIDDLE: &str = ".harmonym-";
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
    let io = |error: io::Error| Failure::io("write", shown, &error);
    let permissions = match (&about, like.and_then(|like| fs::metadata(like).ok())) {
        (Some(_), _) => None,
        (None, Some(like)) => Some(like.permissions()),
        (None, None) => usual(),
    };
    let mut beside = beside(real, permissions).map_err(io)?;
    beside.write_all(content).map_err(io)?;
    let is_like = about.is_none_or(|about| make_like(beside.as_file(), real, &about).is_some());
    beside.as_file().sync_all().map_err(io)?;
    let in_place = match is_like {
        true => None,
        false => Some(OpenOptions::new().write(true).open(real).map_err(io)?),
    };
    Ok(Staged { beside, in_place })
}

/// What anybody's new file gets, as far as the process lets it.
pub fn usual() -> Option<Permissions> {
    #[cfg(unix)]
    {
        use std::os::unix::fs::PermissionsExt;
        Some(Permissions::from_mode(0o666))
    }
    #[cfg(not(unix))]
    None
}

/// A new file beside the one at `real`, locked; only this user may read and write it, unless other
/// permissions are said.
pub fn beside(real: &Path, permissions: Option<Permissions>) -> io::Result<NamedTempFile> {
    let mut builder = tempfile::Builder::new();
    let prefix = prefix(real);
    builder.prefix(&prefix).suffix(END).rand_bytes(LETTERS);
    #[cfg(unix)]
    if let Some(permissions) = permissions {
        builder.permissions(permissions);
    }
    loop {
        let beside = builder.tempfile_in(folder(real))?;
        beside.as_file().lock()?;
        // Nobody took it away before it was locked.
        if is_at(beside.as_file(), beside.path()) {
            return Ok(beside);
        }
    }
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

/// Takes away what commands left in the folder of a file when they were killed.
pub fn sweep(real: &Path) {
    sweep_folder(folder(real));
}

/// Takes away what commands left in a folder when they were killed: what nobody writes any more, and
/// no record of a change needs that has begun.
pub fn sweep_folder(at: &Path) {
    let names = fs::read_dir(at).into_iter().flatten().flatten().map(|entry| entry.file_name());
    let left: Vec<PathBuf> =
        names.filter(|name| is_of_stage(name)).map(|name| at.join(name)).collect();
    if left.is_empty() || is_needed(at) {
        return;
    }
    for path in left {
        // Whoever still writes it holds it.
        let is_free = open_plain(&path).is_ok_and(|file| file.try_lock().is_ok());
        if is_free {
            let _ = fs::remove_file(path);
        }
    }
}

/// Whether a change has begun that may have something in a folder: records name what is in their own
/// folder and below.
fn is_needed(at: &Path) -> bool {
    let Ok(at) = fs::canonicalize(at) else { return true };
    at.ancestors().any(|folder| {
        let names = fs::read_dir(folder).into_iter().flatten().flatten();
        names.map(|entry| entry.file_name()).any(|name| {
            let name = name.as_encoded_bytes();
            name.starts_with(b".") && name.ends_with(b".begun")
        })
    })
}

/// Whether a name is one that [`stage`] gives what lies beside some file.
fn is_of_stage(name: &OsStr) -> bool {
    let text = name.to_string_lossy();
    let end = text.rfind(MIDDLE).map(|at| at + MIDDLE.len());
    end.is_some_and(|end| text.starts_with('.') && is_ours(name, &text[..end]))
}

/// Whether a name is one that [`stage`] gives what lies beside the file at `real`.
pub fn is_staged(name: &Path, real: &Path) -> bool {
    is_ours(name.as_os_str(), &prefix(real))
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
    format!(".{name}{MIDDLE}")
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
            "other.toml.harmonym-abcdefghijkl.tmp",
        ];
        for name in kept {
            fs::write(folder.path().join(name), "mine").unwrap();
        }
        let ours = folder.path().join(".harmonym.toml.harmonym-abcdefghijk1.tmp");
        fs::write(&ours, "").unwrap();
        let second = ours.with_extension(SECOND);
        fs::write(&second, "").unwrap();
        let beside_another = folder.path().join(".a.score.harmonym-abcdefghijk1.tmp");
        fs::write(&beside_another, "").unwrap();
        // Nothing goes that a change which has begun may need, be it one of a folder above.
        let below = folder.path().join("scores");
        fs::create_dir(&below).unwrap();
        let needed = below.join(".a.score.harmonym-abcdefghijk1.tmp");
        fs::write(&needed, "").unwrap();
        let record = folder.path().join(".harmonym.toml.begun");
        fs::write(&record, "").unwrap();
        sweep_folder(&below);
        sweep(&path);
        assert!(needed.exists() && ours.exists());
        fs::remove_file(record).unwrap();
        sweep_folder(&below);
        assert!(!needed.exists());
        let in_work = stage(&path, &path, b"new", None).unwrap();
        sweep(&path);
        assert!(!ours.exists() && !second.exists() && !beside_another.exists());
        assert!(kept.iter().all(|name| folder.path().join(name).exists()));
        assert!(in_work.beside.path().exists());
    }
}
