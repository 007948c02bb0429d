//! What came of expectations, for programs.

use super::lines::line;
use harmonym_lab::score::{Expectation, Outcome, Score};
use harmonym_lang::source::Source;
use serde::Serialize;
use std::fmt::Write;
use std::path::PathBuf;

/// One score that was run, or could not be.
pub struct Tried {
    pub path: PathBuf,
    pub source: Source,
    pub score: Score,
    pub outcomes: Vec<Outcome>,
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

/// One object a line: `file`, `line`, `expectation`, `pass`, `got`.
pub fn write_json(out: &mut String, tried: &[Tried]) {
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

/// The Test Anything Protocol, version 14.
pub fn write_tap(out: &mut String, tried: &[Tried]) {
    let _ = writeln!(out, "TAP version 14\n1..{}", all(tried).count());
    for (number, (one, expectation, outcome)) in all(tried).enumerate() {
        let ok = if outcome.pass { "ok" } else { "not ok" };
        let line = one.source.place(expectation.span.start).line;
        let text = one.source.slice(expectation.span).replace('#', "\\#");
        let _ = writeln!(out, "{ok} {} - {}:{line} {text}", number + 1, one.source.name());
        if !outcome.pass {
            let _ = writeln!(
                out,
                "  ---\n  got: {}\n  ...",
                serde_json::Value::from(outcome.got.as_str())
            );
        }
    }
}

/// JUnit XML: a suite for each score, a case for each expectation.
pub fn write_junit(out: &mut String, tried: &[Tried]) {
    let mut report = quick_junit::Report::new("harmonym");
    for one in tried {
        let mut suite = quick_junit::TestSuite::new(one.source.name());
        for (expectation, outcome) in one.score.expectations.iter().zip(&one.outcomes) {
            let status = match outcome.pass {
                true => quick_junit::TestCaseStatus::success(),
                false => {
                    let kind = quick_junit::NonSuccessKind::Failure;
                    let mut status = quick_junit::TestCaseStatus::non_success(kind);
                    status.set_message(outcome.got.as_str());
                    status
                }
            };
            let text = one.source.slice(expectation.span);
            let mut case = quick_junit::TestCase::new(text, status);
            let line = one.source.place(expectation.span.start).line;
            case.set_classname(format!("{}:{line}", one.source.name()));
            suite.add_test_case(case);
        }
        report.add_test_suite(suite);
    }
    out.push_str(&report.to_string().unwrap_or_default());
}
