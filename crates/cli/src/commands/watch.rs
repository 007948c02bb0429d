//! `--watch`: does something again whenever the profile or a score changes.

use crate::failure::{Failure, reason};
use crate::files::around::Around;
use crate::files::profile_path;
use crate::output::Output;
use crate::view::diagnostics;
use notify::{RecursiveMode, Watcher};
use std::collections::BTreeSet;
use std::ffi::OsStr;
use std::path::{Path, PathBuf};
use std::sync::mpsc;
use std::time::Duration;

/// Changes closer together than this are one.
const QUIET: Duration = Duration::from_millis(80);

/// Calls `once` now and after every change, on an empty screen; what it can't do is told, and it goes on.
pub fn watch(
    file: Option<&Path>,
    output: &mut Output,
    mut once: impl FnMut(&mut Output) -> Result<(), Failure>,
) -> Result<(), Failure> {
    let path = profile_path(file)?;
    let (tell, told) = mpsc::channel();
    let broken = |error: notify::Error| {
        let why = match error.kind {
            notify::ErrorKind::Io(error) => reason(&error).0,
            notify::ErrorKind::PathNotFound => "a folder is gone".to_owned(),
            _ => "the system watches no more files".to_owned(),
        };
        let message = format!("cannot watch {}: {why}", path.display());
        Failure::new(message, "run it again without `--watch` after each change")
    };
    let mut watcher = notify::recommended_watcher(tell).map_err(broken)?;
    let mut watched = BTreeSet::new();
    let mut is_first = true;
    loop {
        if !is_first {
            output.clear()?;
        }
        is_first = false;
        // Before it is read: what changes while it is read is seen, too.
        let folders = folders(&path);
        for gone in watched.difference(&folders) {
            let _ = watcher.unwatch(gone);
        }
        for new in folders.difference(&watched) {
            let done = watcher.watch(new, RecursiveMode::NonRecursive).map_err(broken);
            // One that went meanwhile needs no watching.
            done.or_else(|failure| if watched.is_empty() { Err(failure) } else { Ok(()) })?;
        }
        watched = folders;
        match once(output) {
            Ok(()) | Err(Failure::CheckFailed) => {}
            Err(failure) => {
                output.flush()?;
                output.error(|out, look| diagnostics::write_failure(out, &failure, look));
            }
        }
        output.remark("watching; Ctrl-C ends it")?;
        output.flush()?;
        // Wait for a change that matters, then until it is quiet.
        loop {
            let Ok(event) = told.recv() else { return Ok(()) };
            let matters = event.is_ok_and(|event: notify::Event| {
                !event.kind.is_access() && event.paths.iter().any(|changed| is_ours(changed, &path))
            });
            if matters {
                break;
            }
        }
        while told.recv_timeout(QUIET).is_ok() {}
    }
}

/// The folders of a profile, its scores and takes, and of what links among them lead to.
fn folders(profile: &Path) -> BTreeSet<PathBuf> {
    let around = Around::tried(profile);
    let files = around.scores.iter().chain(&around.takes).map(PathBuf::as_path);
    let parent = |path: &Path| path.parent().map(Path::to_owned);
    let real = |path: &Path| path.canonicalize().ok().as_deref().and_then(parent);
    let folders = files.chain([profile]).flat_map(|path| [parent(path), real(path)]);
    let folders = folders.flatten().chain(around.folders.iter().cloned());
    let own = folders.map(|folder| match folder.as_os_str().is_empty() {
        true => PathBuf::from("."),
        false => folder,
    });
    own.filter_map(|folder| folder.canonicalize().ok()).collect()
}

/// Whether a change of something may matter: a profile, a score, a take, a folder or a link.
fn is_ours(changed: &Path, profile: &Path) -> bool {
    let ending = changed.extension().and_then(OsStr::to_str);
    let real = profile.canonicalize().ok();
    let is_named = |path: &Path| path.file_name() == changed.file_name();
    matches!(ending, Some("toml" | "score" | "jsonl"))
        || changed.is_dir()
        || ending.is_none()
        || is_named(profile)
        || real.is_some_and(|real| is_named(&real))
}
