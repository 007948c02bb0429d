//! `check --watch`: checks again whenever the profile or a score changes.

use super::gather::gather;
use crate::failure::Failure;
use crate::files::profile_path;
use crate::output::Output;
use crate::view::diagnostics;
use harmonym_lang::report::Diagnostic;
use notify::{RecursiveMode, Watcher};
use std::collections::BTreeSet;
use std::io::{self, IsTerminal};
use std::path::Path;
use std::sync::mpsc;
use std::time::Duration;

/// Changes closer together than this are one.
const QUIET: Duration = Duration::from_millis(80);

pub fn run(file: Option<&Path>, output: &mut Output) -> Result<(), Failure> {
    let path = profile_path(file)?;
    let folder = match path.parent() {
        Some(folder) if !folder.as_os_str().is_empty() => folder.to_owned(),
        _ => Path::new(".").to_owned(),
    };
    let (tell, told) = mpsc::channel();
    let broken = |error: notify::Error| {
        Failure::new(format!("cannot watch {}: {error}", folder.display()), "check it by hand")
    };
    let mut watcher = notify::recommended_watcher(tell).map_err(broken)?;
    watcher.watch(&folder, RecursiveMode::NonRecursive).map_err(broken)?;
    let scores = folder.join("scores");
    if scores.is_dir() {
        watcher.watch(&scores, RecursiveMode::NonRecursive).map_err(broken)?;
    }
    let mut before: Option<BTreeSet<String>> = None;
    loop {
        let now = once(file, before.as_ref(), output)?;
        before = Some(now);
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

/// Checks once; what was not there before is told in full, the rest in a line each.
fn once(
    file: Option<&Path>,
    before: Option<&BTreeSet<String>>,
    output: &mut Output,
) -> Result<BTreeSet<String>, Failure> {
    if before.is_some() && io::stdout().is_terminal() {
        output.write(|out| out.push_str("\u{1b}[2J\u{1b}[H"))?;
    }
    let (loaded, review) = match gather(file, output) {
        Ok(gathered) => gathered,
        Err(failure) => {
            output.flush()?;
            output.error(|out, look| diagnostics::write_failure(out, &failure, look));
            return Ok(BTreeSet::new());
        }
    };
    let key = |told: &Diagnostic| format!("{} {:?} {}", told.rule, told.address, told.message);
    let now: BTreeSet<String> = review.iter().map(|(_, told)| key(told)).collect();
    let look = output.look;
    let is_new = |told: &Diagnostic| before.is_none_or(|before| !before.contains(&key(told)));
    for (source, told) in review.iter().filter(|(_, told)| is_new(told)) {
        output.write(|out| diagnostics::write_diagnostic(out, source, told, look))?;
    }
    for (source, told) in review.iter().filter(|(_, told)| !is_new(told)) {
        let (name, line) = (source.name(), source.place(told.span.start).line);
        output.line(&format!("still: {name}:{line}: {} ({})", told.message, told.rule))?;
    }
    let gone = before.map_or(0, |before| before.iter().filter(|one| !now.contains(*one)).count());
    let new = review.iter().filter(|(_, told)| is_new(told)).count();
    let line = match before {
        None => super::summary(&loaded, &review),
        Some(_) => format!("{}; {new} new, {gone} gone", super::summary(&loaded, &review)),
    };
    output.line(&line)?;
    Ok(now)
}
