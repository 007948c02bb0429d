//! Reports to lines.

use super::Report;
use crate::base::{Id, Rate, shortest};
use crate::controls::{Catalogue, ControlKind};
use std::fmt::{self, Write};

/// Writes the header of a take, as one line without its break.
///
/// # Errors
/// When `out` can't be written to.
pub fn write_header(
    out: &mut impl Write,
    title: Option<&str>,
    start: Option<&str>,
    rate: Option<Rate>,
) -> fmt::Result {
    write!(out, "{{\"take\":1")?;
    for (key, text) in [("title", title), ("start", start)] {
        if let Some(text) = text {
            write!(out, ",\"{key}\":{}", serde_json::Value::from(text))?;
        }
    }
    if let Some(rate) = rate {
        write!(out, ",\"rate\":{rate}")?;
    }
    out.write_char('}')
}

/// Writes a report, as one line without its break.
///
/// # Errors
/// When `out` can't be written to.
pub fn write_report(out: &mut impl Write, report: &Report) -> fmt::Result {
    let reported = &Catalogue::get().reported()[report.control.index()];
    let (t, name) = (report.t, &reported.name);
    write!(out, "{{\"t\":{t},\"control\":\"{name}\",\"value\":")?;
    match reported.kind {
        ControlKind::Stick => {
            write!(out, "[{},{}]}}", shortest(report.value.x), shortest(report.value.y))
        }
        _ => write!(out, "{}}}", shortest(report.value.x)),
    }
}
