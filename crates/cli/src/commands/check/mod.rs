//! `check`: every fault at its place, and what the checker proves.

mod explain;
mod gather;
mod watch;

use super::write::Desk;
use crate::args::{CheckArgs, CheckFormat};
use crate::failure::Failure;
use crate::output::Output;
use crate::view::{findings, json, profile, sarif};
use gather::gather;
use harmonym_core::check::{Level, Mend};
use std::collections::BTreeSet;
use std::path::Path;

pub use gather::{Gathered, Told};

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
        Ok(gathered) => tell(&gathered, args, output),
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

fn tell(gathered: &Gathered, args: &CheckArgs, output: &mut Output) -> Result<(), Failure> {
    match args.format {
        CheckFormat::Json => output.write(|out| {
            gathered
                .told
                .iter()
                .for_each(|told| json::write_told(out, gathered.source(told), told));
        })?,
        CheckFormat::Sarif => output.line(&sarif::of_told(gathered))?,
        CheckFormat::Text => {
            let look = output.look;
            for told in &gathered.told {
                output.write(|out| findings::write_told(out, gathered.source(told), told, look))?;
            }
            output.line(&summary(gathered))?;
        }
    }
    let fails = gathered.told.iter().any(|told| told.level >= args.fail_on.level());
    if fails { Err(Failure::FellShort) } else { Ok(()) }
}

/// What was found, in a line.
fn summary(gathered: &Gathered) -> String {
    let of = |level: Level| gathered.told.iter().filter(|told| told.level == level).count();
    let words = [(Level::Error, "error"), (Level::Warning, "warning"), (Level::Note, "note")];
    let counts = words.iter().filter(|(level, _)| of(*level) > 0).map(|(level, word)| {
        let count = of(*level);
        format!("{count} {word}{}", if count == 1 { "" } else { "s" })
    });
    let found: Vec<String> = std::iter::once("no faults".to_owned()).chain(counts).collect();
    let counts = profile::counts(&gathered.loaded.profile);
    format!("{}: {} ({counts})", gathered.loaded.source.name(), found.join(", "))
}

/// Mends one thing after the other, each time checking anew, and writes the outcome.
fn mend(file: Option<&Path>, args: &CheckArgs, output: &mut Output) -> Result<(), Failure> {
    const MOST: usize = 500;
    let mut desk = Desk::open(file, output)?;
    let mut tried: BTreeSet<String> = BTreeSet::new();
    let mut mended = 0;
    for _ in 0..MOST {
        let gathered = gather::of_text(desk.path(), desk.draft.text(), output)?;
        let next = gathered.told.iter().find(|told| {
            !told.mend.is_empty() && !tried.contains(&format!("{}{}", told.rule, told.message))
        });
        let Some(told) = next else { break };
        tried.insert(format!("{}{}", told.rule, told.message));
        let mut draft = desk.draft.clone();
        let done = told.mend.iter().all(|change| match change {
            Mend::Set(address, value) => draft.set(address, std::slice::from_ref(value)).is_ok(),
            Mend::Remove(address) => draft.remove(address, false).is_ok(),
        });
        if done && gather::of_text(desk.path(), draft.text(), output).is_ok() {
            desk.draft = draft;
            mended += 1;
        }
    }
    if mended == 0 {
        return output.remark("there is nothing that can be mended safely");
    }
    let what =
        if mended == 1 { "mended 1 thing".to_owned() } else { format!("mended {mended} things") };
    desk.finish(args.dry, &what, output)
}
