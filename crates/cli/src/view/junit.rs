//! What came of expectations as JUnit XML: as the schemas of its usual readers have it, with every
//! attribute and element that one of them wants, and none that one of them does not know.

use super::tests::{Faulty, Tried};
use crate::escape::shown;
use chrono::{DateTime, Utc};
use quick_xml::Writer;
use quick_xml::events::BytesText;
use std::io::{Cursor, Result};
use std::time::{Duration, SystemTime};

/// A score, or why it could not be run.
struct Suite {
    name: String,
    cases: Vec<Case>,
    took: Duration,
}

struct Case {
    name: String,
    class: String,
    wrong: Option<Wrong>,
}

/// What is wrong with a case: its element, the kind, in short and in full.
struct Wrong {
    element: &'static str,
    kind: &'static str,
    message: String,
    /// As it is written.
    text: String,
}

/// Writes a suite for each score, a case for each expectation; a score that could not be run is a
/// case that is in error. All began at `began`.
pub fn write(
    out: &mut String,
    (tried, faulty): (&[Tried], &[Faulty]),
    profile: &str,
    began: SystemTime,
) {
    let suites = tried.iter().map(of_score).chain(faulty.iter().map(of_faulty));
    let mut writer = Writer::new_with_indent(Cursor::new(Vec::new()), b' ', 2);
    let all: Vec<Suite> = suites.collect();
    // Writing to memory does not fail.
    let _ = write_all(&mut writer, &all, profile, began);
    out.push_str("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n");
    out.push_str(&String::from_utf8_lossy(writer.get_ref().get_ref()));
    out.push('\n');
}

fn of_score(one: &Tried) -> Suite {
    let name = one.source.name();
    let cases = one.score.expectations.iter().zip(&one.outcomes).map(|(expectation, outcome)| {
        let line = one.source.place(expectation.span.start).line;
        Case {
            name: one.source.slice(expectation.span).to_owned(),
            class: format!("{name}:{line}"),
            wrong: (!outcome.pass).then(|| Wrong {
                element: "failure",
                kind: "expectation",
                message: outcome.got.clone(),
                text: String::new(),
            }),
        }
    });
    Suite { name: name.to_owned(), cases: cases.collect(), took: one.took }
}

fn of_faulty(one: &Faulty) -> Suite {
    let name = one.name();
    let told = one.faults.list().iter().map(|fault| match one.faults.source() {
        Some(source) => shown(&fault.in_source(source).to_string()).into_owned(),
        None => shown(&fault.to_string()).into_owned(),
    });
    let wrong = Wrong {
        element: "error",
        kind: "fault",
        message: one.faults.first(),
        text: told.collect::<Vec<_>>().join("\n"),
    };
    let case = Case { name: "can be read".to_owned(), class: name.clone(), wrong: Some(wrong) };
    Suite { name, cases: vec![case], took: Duration::ZERO }
}

type Xml = Writer<Cursor<Vec<u8>>>;

fn write_all(xml: &mut Xml, all: &[Suite], profile: &str, began: SystemTime) -> Result<()> {
    let began = DateTime::<Utc>::from(began).format("%Y-%m-%dT%H:%M:%S").to_string();
    let suites = xml.create_element("testsuites");
    suites.write_inner_content(|xml| {
        let mut all = all.iter().enumerate();
        all.try_for_each(|(id, suite)| write_suite(xml, (id, suite), profile, &began))
    })?;
    Ok(())
}

fn write_suite(
    xml: &mut Xml,
    (id, suite): (usize, &Suite),
    profile: &str,
    began: &str,
) -> Result<()> {
    let count = |element: &str| {
        let of_kind = |case: &&Case| case.wrong.as_ref().is_some_and(|w| w.element == element);
        suite.cases.iter().filter(of_kind).count().to_string()
    };
    let element = xml.create_element("testsuite").with_attributes([
        ("name", &*shown(&suite.name)),
        ("package", "harmonym"),
        ("id", &id.to_string()),
        ("hostname", "localhost"),
        ("timestamp", began),
        ("tests", &suite.cases.len().to_string()),
        ("failures", &count("failure")),
        ("errors", &count("error")),
        ("time", &format!("{:.3}", suite.took.as_secs_f64())),
    ]);
    element.write_inner_content(|xml| {
        xml.create_element("properties").write_inner_content(|xml| {
            let profile = [("name", "profile"), ("value", &*shown(profile))];
            xml.create_element("property").with_attributes(profile).write_empty()?;
            Ok(())
        })?;
        suite.cases.iter().try_for_each(|case| write_case(xml, case))?;
        xml.create_element("system-out").write_empty()?;
        xml.create_element("system-err").write_empty()?;
        Ok(())
    })?;
    Ok(())
}

/// The time of a run is its suite's: looking at what came out takes none.
fn write_case(xml: &mut Xml, case: &Case) -> Result<()> {
    let element = xml.create_element("testcase").with_attributes([
        ("name", &*shown(&case.name)),
        ("classname", &*shown(&case.class)),
        ("time", "0"),
    ]);
    let Some(wrong) = &case.wrong else {
        element.write_empty()?;
        return Ok(());
    };
    element.write_inner_content(|xml| {
        let element = xml
            .create_element(wrong.element)
            .with_attributes([("type", wrong.kind), ("message", &*shown(&wrong.message))]);
        match wrong.text.as_str() {
            "" => element.write_empty()?,
            text => element.write_text_content(BytesText::new(text))?,
        };
        Ok(())
    })?;
    Ok(())
}
