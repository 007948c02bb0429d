//! What came of expectations, for programs.

use super::lines::line;
use crate::escape::shown;
use harmonym_lab::score::{Expectation, Outcome, Score};
use harmonym_lang::report::{Diagnostic, Faults};
use harmonym_lang::source::Source;
use serde::Serialize;
use std::fmt::Write;
use std::path::PathBuf;
use std::time::Duration;

/// One score that was run.
pub struct Tried {
    pub path: PathBuf,
    pub source: Source,
    pub score: Score,
    pub outcomes: Vec<Outcome>,
    /// How long it ran.
    pub took: Duration,
}

/// One score that could not be run.
pub struct Faulty {
    pub path: PathBuf,
    pub faults: Faults,
}

impl Faulty {
    pub fn name(&self) -> String {
        self.path.display().to_string()
    }

    /// Its faults, each with its line where it has one.
    fn lines(&self) -> impl Iterator<Item = (Option<usize>, &Diagnostic)> {
        let source = self.faults.source();
        let all = self.faults.list().iter();
        all.map(move |one| (source.map(|source| source.place(one.span.start).line), one))
    }
}

/// Every expectation with its score and outcome.
fn all(tried: &[Tried]) -> impl Iterator<Item = (&Tried, &Expectation, &Outcome)> {
    tried.iter().flat_map(|one| {
        let both = one.score.expectations.iter().zip(&one.outcomes);
        both.map(move |(expectation, outcome)| (one, expectation, outcome))
    })
}

#[derive(Serialize)]
struct ExpectationLine<'a> {
    file: &'a str,
    line: usize,
    expectation: &'a str,
    pass: bool,
    got: &'a str,
}

#[derive(Serialize)]
struct FaultLine<'a> {
    file: &'a str,
    #[serde(skip_serializing_if = "Option::is_none")]
    line: Option<usize>,
    pass: bool,
    fault: &'a str,
    help: &'a str,
}

/// One object a line: `file`, `line`, `expectation`, `pass`, `got`; for a score that could not be
/// run one for each fault: `file`, `line`, `pass`, `fault`, `help`.
pub fn write_json(out: &mut String, tried: &[Tried], faulty: &[Faulty]) {
    for one in faulty {
        let name = one.name();
        for (number, fault) in one.lines() {
            let (file, fault, help) = (&*name, &*fault.message, &*fault.help);
            line(out, &FaultLine { file, line: number, pass: false, fault, help });
        }
    }
    for (one, expectation, outcome) in all(tried) {
        let row = ExpectationLine {
            file: one.source.name(),
            line: one.source.place(expectation.span.start).line,
            expectation: one.source.slice(expectation.span),
            pass: outcome.pass,
            got: &outcome.got,
        };
        line(out, &row);
    }
}

/// The Test Anything Protocol, version 13, which those of version 14 read as well.
pub fn write_tap(out: &mut String, tried: &[Tried], faulty: &[Faulty]) {
    let _ = writeln!(out, "TAP version 13\n1..{}", all(tried).count() + faulty.len());
    let points = all(tried).map(|(one, expectation, outcome)| {
        let line = one.source.place(expectation.span.start).line;
        let what = format!("{}:{line} {}", one.source.name(), one.source.slice(expectation.span));
        (what, (!outcome.pass).then_some(("got", outcome.got.clone())))
    });
    let faults = faulty.iter().map(|one| {
        let what = format!("{} can be read", one.name());
        (what, Some(("fault", one.faults.first())))
    });
    for (number, (what, wrong)) in points.chain(faults).enumerate() {
        let ok = if wrong.is_none() { "ok" } else { "not ok" };
        // A description must not look like a directive.
        let what = shown(&what).replace('\\', "\\\\").replace('#', "\\#");
        let _ = writeln!(out, "{ok} {} - {what}", number + 1);
        if let Some((key, text)) = wrong {
            // A text of JSON is one of YAML.
            let text = serde_json::Value::from(&*shown(&text));
            let _ = writeln!(out, "  ---\n  {key}: {text}\n  ...");
        }
    }
}
