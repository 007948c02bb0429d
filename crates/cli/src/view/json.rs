//! What the checker tells, as JSON Lines.

use harmonym_lab::told::line;
use harmonym_lang::report::Diagnostic;
use harmonym_lang::source::Source;
use serde::Serialize;

#[derive(Serialize)]
struct DiagnosticLine<'a> {
    rule: &'a str,
    level: &'static str,
    #[serde(skip_serializing_if = "Option::is_none")]
    address: Option<&'a str>,
    message: &'a str,
    #[serde(skip_serializing_if = "str::is_empty")]
    help: &'a str,
    file: &'a str,
    line: usize,
    column: usize,
    end_line: usize,
    end_column: usize,
}

/// One thing that there is to say, as a line.
pub fn write_diagnostic(out: &mut String, source: &Source, told: &Diagnostic) {
    let (start, end) = (source.place(told.span.start), source.place(told.span.end));
    let row = DiagnosticLine {
        rule: told.rule,
        level: told.level.word(),
        address: told.address.as_deref(),
        message: &told.message,
        help: &told.help,
        file: source.name(),
        line: start.line,
        column: start.column,
        end_line: end.line,
        end_column: end.column,
    };
    line(out, &row);
}
