//! `test`: every score's expectations.

use super::render::read_score;
use crate::args::TestFormat;
use crate::commands::load_profile;
use crate::failure::Failure;
use crate::files::{Loaded, read_text};
use crate::output::Output;
use crate::output::style::Ink;
use crate::view::diagnostics::{self, write_expectation};
use crate::view::lanes::{self, Style};
use crate::view::tests::{self, Tried};
use harmonym_lab::score::try_score;
use harmonym_lab::trace::Lanes;
use harmonym_lang::source::Source;
use std::fs;
use std::path::{Path, PathBuf};

pub fn run(
    file: Option<&Path>,
    paths: &[PathBuf],
    format: TestFormat,
    output: &mut Output,
) -> Result<(), Failure> {
    let loaded = load_profile(file, output)?;
    let (mut tried, mut faulty) = (Vec::new(), 0);
    for path in scores(&loaded, paths)? {
        match try_one(&loaded, &path) {
            Ok(one) => tried.push(one),
            Err(failure) => {
                output.flush()?;
                output.error(|out, look| diagnostics::write_failure(out, &failure, look));
                faulty += 1;
            }
        }
    }
    match format {
        TestFormat::Text => tell(&loaded, &tried, output)?,
        TestFormat::Json => output.write(|out| tests::write_json(out, &tried))?,
        TestFormat::Junit => output.write(|out| tests::write_junit(out, &tried))?,
        TestFormat::Tap => output.write(|out| tests::write_tap(out, &tried))?,
    }
    if faulty > 0 {
        let what = if faulty == 1 {
            "1 score is faulty".to_owned()
        } else {
            format!("{faulty} scores are faulty")
        };
        return Err(Failure::new(what, "mend what is told above; the others were run"));
    }
    let fell_short = tried.iter().flat_map(|one| &one.outcomes).any(|outcome| !outcome.pass);
    if fell_short { Err(Failure::CheckFailed) } else { Ok(()) }
}

fn try_one(loaded: &Loaded, path: &Path) -> Result<Tried, Failure> {
    try_source(loaded, path, read_text(path)?)
}

/// Runs a score that was read, against what it expects.
pub fn try_source(loaded: &Loaded, path: &Path, source: Source) -> Result<Tried, Failure> {
    let (source, score) = read_score(source, &loaded.plan)?;
    let outcomes = try_score(&loaded.plan_for(score.layout), &score, None);
    Ok(Tried { path: path.to_owned(), source, score, outcomes })
}

/// The scores that are meant: those named, those in folders named, or those beside the profile.
fn scores(loaded: &Loaded, paths: &[PathBuf]) -> Result<Vec<PathBuf>, Failure> {
    let beside = || {
        let profile = Path::new(loaded.source.name());
        vec![profile.parent().unwrap_or(Path::new("")).join("scores")]
    };
    let paths = if paths.is_empty() { beside() } else { paths.to_vec() };
    let mut scores = Vec::new();
    for path in paths {
        if !path.is_dir() {
            scores.push(path);
            continue;
        }
        let io = |error: std::io::Error| Failure::io("read", &path, &error);
        let mut inside = Vec::new();
        for entry in fs::read_dir(&path).map_err(io)? {
            let file = entry.map_err(io)?.path();
            if file.extension().is_some_and(|extension| extension == "score") {
                inside.push(file);
            }
        }
        if inside.is_empty() {
            let message = format!("there is no score in {}", path.display());
            return Err(Failure::new(message, "a score's name ends in .score"));
        }
        inside.sort();
        scores.extend(inside);
    }
    Ok(scores)
}

/// A line for each score, and what came in place of what was expected.
pub fn tell(loaded: &Loaded, tried: &[Tried], output: &mut Output) -> Result<(), Failure> {
    let (mut met, mut failed) = (0, 0);
    for one in tried {
        let bad = one.outcomes.iter().filter(|outcome| !outcome.pass).count();
        let good = one.outcomes.len() - bad;
        (met, failed) = (met + good, failed + bad);
        let name = one.path.display();
        let line = match (bad, good) {
            (0, 0) => format!("– {name}: expects nothing"),
            (0, _) => format!("● {name}: {good} of {good} met"),
            _ => output.look.paint(Ink::Strong, format!("× {name}: {good} of {} met", good + bad)),
        };
        output.line(&line)?;
        let plan = loaded.plan_for(one.score.layout);
        let run = (bad > 0).then(|| Lanes::of(&plan, &one.score));
        for (expectation, outcome) in one.score.expectations.iter().zip(&one.outcomes) {
            if outcome.pass {
                continue;
            }
            let look = output.look;
            output.write(|out| {
                write_expectation(out, &one.source, expectation.span, &outcome.got, look);
            })?;
            // What the action did all along.
            if let (Some(run), Some(action)) = (&run, expectation.what.action()) {
                let style = Style { ascii: false, width: look.width, look };
                let text = lanes::draw(run, &plan, style, true, |id| id == action);
                output.write(|out| out.push_str(&format!("{text}\n")))?;
            }
        }
    }
    let many = |n: usize, word: &str| format!("{n} {word}{}", if n == 1 { "" } else { "s" });
    let all = format!("{}, {met} met, {failed} failed", many(tried.len(), "score"));
    output.line(&all)
}
