//! `check`: every fault at its place, and what the checker proves.

mod explain;
mod gather;
mod watch;

use super::write::EditSession;
use crate::args::{CheckArgs, CheckFormat};
use crate::failure::Failure;
use crate::files::Loaded;
use crate::output::Output;
use crate::view::{findings, json, profile, sarif};
use gather::gather;
use harmonym_lab::check::{self, Level, Review};
use std::path::Path;

pub fn run(file: Option<&Path>, args: &CheckArgs, output: &mut Output) -> Result<(), Failure> {
    if let Some(rule) = &args.explain {
        return explain::run(rule, output);
    }
    if args.watch {
        return watch::run(file, output);
    }
    if args.mend {
        mend(file, args, output)?;
    }
    match gather(file, output) {
        Ok((loaded, review)) => tell(&loaded, &review, args, output),
        Err(Failure::Findings(source, all)) => match args.format {
            CheckFormat::Text => Err(Failure::Findings(source, all)),
            format => {
                match format {
                    CheckFormat::Json => output.write(|out| {
                        all.iter().for_each(|one| json::write_finding(out, &source, one));
                    })?,
                    _ => {
                        let text = sarif::of_faults(&source, &all);
                        output.line(&text)?;
                    }
                }
                output.flush()?;
                let help = "each of them is in the output";
                Err(Failure::new(format!("{} faults in {}", all.len(), source.name()), help))
            }
        },
        Err(failure) => Err(failure),
    }
}

fn tell(
    loaded: &Loaded,
    review: &Review,
    args: &CheckArgs,
    output: &mut Output,
) -> Result<(), Failure> {
    let all = &review.diagnostics;
    match args.format {
        CheckFormat::Json => output.write(|out| {
            all.iter().for_each(|one| json::write_diagnostic(out, review.source(one), one));
        })?,
        CheckFormat::Sarif => output.line(&sarif::of_review(review))?,
        CheckFormat::Text => {
            let look = output.look;
            for one in all {
                output.write(|out| {
                    findings::write_diagnostic(out, review.source(one), one, look);
                })?;
            }
            output.line(&summary(loaded, review))?;
        }
    }
    let fails = all.iter().any(|one| one.level >= args.fail_on.level());
    if fails { Err(Failure::CheckFailed) } else { Ok(()) }
}

/// What was found, in a line.
pub fn summary(loaded: &Loaded, review: &Review) -> String {
    let words = [(Level::Error, "error"), (Level::Warning, "warning"), (Level::Note, "note")];
    let counts = words.map(|(level, word)| (review.count(level), word));
    let counts = counts
        .iter()
        .filter(|(count, _)| *count > 0)
        .map(|(count, word)| format!("{count} {word}{}", if *count == 1 { "" } else { "s" }));
    let found: Vec<String> = std::iter::once("no faults".to_owned()).chain(counts).collect();
    let counts = profile::counts(&loaded.profile);
    format!("{}: {} ({counts})", loaded.source.name(), found.join(", "))
}

/// Mends what can be mended safely, and writes the outcome.
fn mend(file: Option<&Path>, args: &CheckArgs, output: &mut Output) -> Result<(), Failure> {
    let mut desk = EditSession::open(file, output)?;
    let scores = gather::score_texts(desk.path(), output)?;
    let name = desk.path().display().to_string();
    let mended = check::mend(&mut desk.draft, &name, &scores);
    if mended == 0 {
        return output.remark("there is nothing that can be mended safely");
    }
    let what =
        if mended == 1 { "mended 1 thing".to_owned() } else { format!("mended {mended} things") };
    desk.finish(args.dry, &what, output)
}
