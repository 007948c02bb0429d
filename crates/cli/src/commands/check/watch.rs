//! `check --watch`: checks again whenever the profile or a score changes.

use super::gather::gather;
use crate::args::PlayerArg;
use crate::commands::watch::watch;
use crate::failure::Failure;
use crate::output::Output;
use crate::view::diagnostics;
use harmonym_lang::report::Diagnostic;
use std::collections::BTreeSet;
use std::path::Path;

pub fn run(file: Option<&Path>, player: &PlayerArg, output: &mut Output) -> Result<(), Failure> {
    let mut before: Option<BTreeSet<String>> = None;
    watch(file, output, |output| {
        let now = once((file, player), before.as_ref(), output);
        // What can't be read has nothing that was told.
        before = Some(now.as_ref().map_or_else(|_| BTreeSet::new(), Clone::clone));
        now.map(drop)
    })
}

/// Checks once; what was not there before is told in full, the rest in a line each.
fn once(
    file: (Option<&Path>, &PlayerArg),
    before: Option<&BTreeSet<String>>,
    output: &mut Output,
) -> Result<BTreeSet<String>, Failure> {
    let (loaded, review) = gather(file, output)?;
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
