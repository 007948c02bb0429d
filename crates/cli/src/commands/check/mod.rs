//! `check`: every fault at its place, and what the checker proves.

pub mod explain;
mod gather;
mod watch;

use super::write::EditSession;
use crate::args::{CheckArgs, CheckFormat};
use crate::failure::Failure;
use crate::files::Loaded;
use crate::output::Output;
use crate::view::{diagnostics, json, profile, sarif};
use gather::gather;
use harmonym_lab::check::{Review, Rule};
use harmonym_lab::mend;
use harmonym_lang::report::{Diagnostic, Faults, Level};
use harmonym_lang::source::Source;
use std::path::Path;

pub fn run(file: Option<&Path>, args: &CheckArgs, output: &mut Output) -> Result<(), Failure> {
    if let Some(rule) = &args.explain {
        return explain::run(rule, output);
    }
    if args.watch {
        return watch::run(file, &args.player, output);
    }
    output.page();
    if args.mend {
        mend_all(file, args, output)?;
    }
    let rules = asked_rules(&args.only)?;
    match gather((file, &args.player), output) {
        Ok((loaded, mut review)) => {
            let level = args.level.level();
            // What a score can't do is nothing of a rule.
            review.retain(|one| {
                let is_asked = rules.is_empty() || rules.contains(&one.rule);
                one.level >= level && is_asked
            });
            tell(&loaded, &review, args, output)
        }
        Err(Failure::Faults(faults)) => tell_faults(faults, args, output),
        Err(failure) => Err(failure),
    }
}

/// The rules that are asked for; nothing for all.
fn asked_rules(only: &[String]) -> Result<Vec<&'static str>, Failure> {
    let known = |name: &String| match Rule::named(name) {
        Some(rule) => Ok(rule.name),
        None => Err(explain::unknown_rule(name)),
    };
    only.iter().map(known).collect()
}

/// The faults of a profile that has some, or of a text that can't be read.
fn tell_faults(faults: Faults, args: &CheckArgs, output: &mut Output) -> Result<(), Failure> {
    let Some(source) = faults.source().filter(|_| args.format != CheckFormat::Text) else {
        return Err(faults.into());
    };
    let all = faults.list().iter().map(|one| (source, one));
    write_for_tools(all, args.format, output)?;
    output.flush()?;
    let message = format!("{} faults in {}", faults.list().len(), source.name());
    Err(Failure::new(message, "each of them is in the output"))
}

/// What was found, in a format that programs read.
fn write_for_tools<'a>(
    all: impl Iterator<Item = (&'a Source, &'a Diagnostic)>,
    format: CheckFormat,
    output: &mut Output,
) -> Result<(), Failure> {
    match format {
        CheckFormat::Sarif => output.write(|out| out.push_str(&(sarif::log(all) + "\n"))),
        _ => output.write(|out| {
            all.for_each(|(source, one)| json::write_diagnostic(out, source, one));
        }),
    }
}

fn tell(
    loaded: &Loaded,
    review: &Review,
    args: &CheckArgs,
    output: &mut Output,
) -> Result<(), Failure> {
    if args.format == CheckFormat::Text {
        let look = output.look;
        for (source, one) in review.iter() {
            output.write(|out| diagnostics::write_diagnostic(out, source, one, look))?;
        }
        if let Some(counts) = by_rule(review) {
            output.line(&counts)?;
        }
        output.line(&summary(loaded, review))?;
    } else {
        write_for_tools(review.iter(), args.format, output)?;
    }
    let fails = review.iter().any(|(_, one)| one.level >= args.fail_on.level());
    if fails { Err(Failure::CheckFailed) } else { Ok(()) }
}

/// How often each rule found something, where there is more than a handful.
fn by_rule(review: &Review) -> Option<String> {
    let mut counts: Vec<(&str, usize)> = Vec::new();
    for (_, one) in review.iter() {
        match counts.iter_mut().find(|(rule, _)| *rule == one.rule) {
            Some((_, count)) => *count += 1,
            None => counts.push((one.rule, 1)),
        }
    }
    counts.sort_by(|a, b| b.1.cmp(&a.1).then(a.0.cmp(b.0)));
    let all: Vec<String> = counts.iter().map(|(rule, count)| format!("{count} {rule}")).collect();
    (counts.len() > 1).then(|| all.join(", "))
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
fn mend_all(file: Option<&Path>, args: &CheckArgs, output: &mut Output) -> Result<(), Failure> {
    let mut session = EditSession::open(file, args.writing, output)?;
    let scores = gather::score_texts(session.path(), output)?;
    let name = session.path().display().to_string();
    let mended = mend::mend(&mut session.draft, &name, &scores);
    for (finding, why) in &mended.left {
        output.remark(&format!("left alone: {finding} ({why})"))?;
    }
    let what = match mended.count {
        0 => return output.remark("there is nothing that can be mended safely"),
        1 => "mended 1 thing".to_owned(),
        many => format!("mended {many} things"),
    };
    session.finish(&what, output)
}
