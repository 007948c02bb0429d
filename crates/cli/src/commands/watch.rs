//! `--watch`: does something again whenever the profile or a score changes.

use crate::failure::Failure;
use crate::files::profile_path;
use crate::output::Output;
use crate::view::diagnostics;
use notify::{RecursiveMode, Watcher};
use std::io::{self, IsTerminal};
use std::path::Path;
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
    let folder = match path.parent() {
        Some(folder) if !folder.as_os_str().is_empty() => folder.to_owned(),
        _ => Path::new(".").to_owned(),
    };
    let (tell, told) = mpsc::channel();
    let broken = |error: notify::Error| {
        Failure::new(format!("cannot watch {}: {error}", folder.display()), "run it by hand")
    };
    let mut watcher = notify::recommended_watcher(tell).map_err(broken)?;
    watcher.watch(&folder, RecursiveMode::NonRecursive).map_err(broken)?;
    let scores = folder.join("scores");
    if scores.is_dir() {
        watcher.watch(&scores, RecursiveMode::NonRecursive).map_err(broken)?;
    }
    let mut is_first = true;
    loop {
        if !is_first && io::stdout().is_terminal() {
            output.write(|out| out.push_str("\u{1b}[2J\u{1b}[H"))?;
        }
        is_first = false;
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
                !event.kind.is_access() && event.paths.iter().any(|path| is_ours(path))
            });
            if matters {
                break;
            }
        }
        while told.recv_timeout(QUIET).is_ok() {}
    }
}

fn is_ours(path: &Path) -> bool {
    path.extension().is_some_and(|extension| extension == "toml" || extension == "score")
}
