//! What came of expectations, for programs.

use crate::escape::shown;
use harmonym_lab::score::{Expectation, Outcome, Score};
use harmonym_lab::survey::Shard;
use harmonym_lab::told::line;
use harmonym_lang::report::{Diagnostic, Faults};
use harmonym_lang::source::Source;
use serde::{Deserialize, Serialize};
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

/// What there is to say of a score, as a line.
#[derive(Clone, Debug, Serialize, Deserialize)]
#[serde(untagged)]
pub enum Row {
    /// What came of an expectation.
    Expectation { file: String, line: usize, expectation: String, pass: bool, got: String },
    /// Why it could not be run.
    Fault {
        file: String,
        #[serde(skip_serializing_if = "Option::is_none")]
        line: Option<usize>,
        pass: bool,
        fault: String,
        help: String,
    },
    /// In a part of a whole: what is told of a score as text, and whether it could not be run.
    Told { told: String, faulty: bool },
}

/// A line for each fault of the scores that could not be run, then one for each expectation.
pub fn rows(tried: &[Tried], faulty: &[Faulty]) -> Vec<Row> {
    let faults = faulty.iter().flat_map(|one| {
        one.lines().map(|(line, fault)| Row::Fault {
            file: one.name(),
            line,
            pass: false,
            fault: fault.message.clone(),
            help: fault.help.clone(),
        })
    });
    let expectations = all(tried).map(|(one, expectation, outcome)| Row::Expectation {
        file: one.source.name().to_owned(),
        line: one.source.place(expectation.span.start).line,
        expectation: one.source.slice(expectation.span).to_owned(),
        pass: outcome.pass,
        got: outcome.got.clone(),
    });
    faults.chain(expectations).collect()
}

/// The rows of parts as one: faults first.
pub fn together(parts: Vec<Vec<Row>>) -> Vec<Row> {
    let is_fault = |row: &Row| matches!(row, Row::Fault { .. });
    let (faults, rest): (Vec<Row>, Vec<Row>) = parts.into_iter().flatten().partition(is_fault);
    faults.into_iter().chain(rest).collect()
}

/// How many there are: expectations that were met, that were not, and scores that are faulty.
pub fn counts(rows: &[Row]) -> (usize, usize, usize) {
    let of = |is: bool| {
        let all = rows.iter();
        all.filter(|row| matches!(row, Row::Expectation { pass, .. } if *pass == is)).count()
    };
    (of(true), of(false), faulty_scores(rows).len())
}

/// The scores that could not be run, each with its first fault.
fn faulty_scores(rows: &[Row]) -> Vec<(&str, &str)> {
    let mut all: Vec<(&str, &str)> = Vec::new();
    for row in rows {
        if let Row::Fault { file, fault, .. } = row
            && all.last().is_none_or(|(last, _)| last != file)
        {
            all.push((file, fault));
        }
    }
    all
}

/// One object a line.
pub fn write_json(out: &mut String, rows: &[Row]) {
    rows.iter().for_each(|row| line(out, row));
}

/// The Test Anything Protocol, version 13, which those of version 14 read as well.
pub fn write_tap(out: &mut String, rows: &[Row]) {
    let points = rows.iter().filter_map(|row| match row {
        Row::Expectation { file, line, expectation, pass, got } => {
            let what = format!("{file}:{line} {expectation}");
            Some((what, (!pass).then_some(("got", got.as_str()))))
        }
        Row::Fault { .. } | Row::Told { .. } => None,
    });
    let faulty = faulty_scores(rows);
    let faults =
        faulty.iter().map(|(file, first)| (format!("{file} can be read"), Some(("fault", *first))));
    let all: Vec<_> = points.chain(faults).collect();
    let _ = writeln!(out, "TAP version 13\n1..{}", all.len());
    for (number, (what, wrong)) in all.into_iter().enumerate() {
        let ok = if wrong.is_none() { "ok" } else { "not ok" };
        // A description must not look like a directive.
        let what = shown(&what).replace('\\', "\\\\").replace('#', "\\#");
        let _ = writeln!(out, "{ok} {} - {what}", number + 1);
        if let Some((key, text)) = wrong {
            // A text of JSON is one of YAML.
            let text = serde_json::Value::from(&*shown(text));
            let _ = writeln!(out, "  ---\n  {key}: {text}\n  ...");
        }
    }
}

#[derive(Serialize)]
struct ShardLine<'a> {
    kind: &'static str,
    command: &'a str,
    shard: usize,
    shards: usize,
    files: usize,
    #[serde(skip_serializing_if = "Option::is_none")]
    vary: Option<&'a str>,
}

/// What a part of a whole begins with: of how many files it is and, of a sweep, what was varied.
pub fn write_shard(
    out: &mut String,
    command: &str,
    Shard { number, of }: Shard,
    (files, vary): (usize, Option<&str>),
) {
    let row = ShardLine { kind: "shard", command, shard: number, shards: of, files, vary };
    line(out, &row);
}
