//! A profile's actions as a spreadsheet: rows of CSV (RFC 4180), written and taken over.

use super::{Done, Draft, Row, export};
use harmonym_lang::profile::Profile;
use harmonym_lang::report::{Diagnostic, FaultKind, Faults, did_you_mean, nearest};
use harmonym_lang::source::{Source, Span};

/// The columns of a table, in the order in which they are written.
pub const COLUMNS: [&str; 7] = ["map", "action", "value", "scheme", "binding", "fire", "about"];

/// All actions of a profile as a table, a row for each binding; gives how many rows there are.
pub fn write_sheet(profile: &Profile) -> (String, usize) {
    let rows = export(profile);
    let mut writer = csv::Writer::from_writer(Vec::new());
    // Writing to memory does not fail.
    let _ = writer.write_record(COLUMNS);
    for Row { map, action, value, scheme, binding, fire, about } in &rows {
        let _ = writer.write_record([map, action, value, scheme, binding, fire, about]);
    }
    let bytes = writer.into_inner().unwrap_or_default();
    (String::from_utf8_lossy(&bytes).into_owned(), rows.len())
}

/// The rows of a table, each with its line. The first row names the columns, in any order; names are
/// brought into the form of names, and empty rows are left out.
///
/// # Errors
/// When it is not CSV, a column is unknown, or `map` or `action` is missing.
pub fn read_sheet(source: &Source) -> Result<Vec<(u64, Row)>, Faults> {
    let text = source.text().trim_start_matches('\u{feff}');
    let head = text.lines().next().unwrap_or_default();
    // Spreadsheets of some countries part columns by semicolons.
    let delimiter = if head.contains(';') && !head.contains(',') { b';' } else { b',' };
    let mut reader = csv::ReaderBuilder::new()
        .delimiter(delimiter)
        .flexible(true)
        .trim(csv::Trim::All)
        .from_reader(text.as_bytes());
    let heads = reader.headers().map_err(|error| broken(source, &error))?.clone();
    let columns = columns(source, &heads)?;
    let mut rows = Vec::new();
    for record in reader.records() {
        let record = record.map_err(|error| broken(source, &error))?;
        let mut row = Row::default();
        for (&column, field) in columns.iter().zip(&record) {
            let [map, action, value, scheme, binding, fire, about] = [
                &mut row.map,
                &mut row.action,
                &mut row.value,
                &mut row.scheme,
                &mut row.binding,
                &mut row.fire,
                &mut row.about,
            ];
            let fields = [map, action, value, scheme, binding, fire, about];
            if let Some(of_row) = fields.into_iter().nth(column) {
                field.clone_into(of_row);
            }
        }
        if row != Row::default() {
            // The position may be that of the line break before.
            let at = record.position().map_or(0, |place| place.byte() as usize);
            let rest = &text[at..];
            let start = at + rest.len() - rest.trim_start_matches(['\r', '\n']).len();
            let line = text[..start].matches('\n').count() as u64 + 1;
            rows.push((line, row.with_names()));
        }
    }
    Ok(rows)
}

/// What is wrong with a table, as far as it was read.
fn fault(source: &Source, span: Span, kind: FaultKind, message: String, help: String) -> Faults {
    Faults::new(source.clone(), vec![Diagnostic::fault(kind, span, message, help)])
}

fn broken(source: &Source, error: &csv::Error) -> Faults {
    let line = error.position().map_or(1, |place| place.line() as usize);
    let message = format!("this is not a row of CSV: {error}");
    let help = "see that quotes are closed".to_owned();
    fault(source, source.line(line), FaultKind::Syntax, message, help)
}

/// Which of the known columns each column of a table is.
fn columns(source: &Source, heads: &csv::StringRecord) -> Result<Vec<usize>, Faults> {
    let mut columns = Vec::new();
    for head in heads {
        let known = COLUMNS.iter().position(|column| column.eq_ignore_ascii_case(head));
        let Some(known) = known else {
            let help = did_you_mean(nearest(head, COLUMNS), || {
                format!("the columns are {}", COLUMNS.join(", "))
            });
            let at = source.slice(source.line(1)).find(head).unwrap_or_default();
            let span = Span::new(at, at + head.len());
            let message = format!("`{head}` is not a column");
            return Err(fault(source, span, FaultKind::UnknownKey, message, help));
        };
        columns.push(known);
    }
    for needed in ["map", "action"] {
        if !columns.iter().any(|&column| COLUMNS[column] == needed) {
            let help = format!("the columns are {}", COLUMNS.join(", "));
            let message = format!("the column `{needed}` is missing");
            return Err(fault(source, source.line(1), FaultKind::Missing, message, help));
        }
    }
    Ok(columns)
}

/// What came of one row of a table.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct RowTaken {
    /// The row's line.
    pub line: u64,
    /// Its action.
    pub name: String,
    /// What was done, or why it was refused.
    pub done: Result<Done, String>,
}

impl Draft {
    /// Makes rows part of the profile: all of them at once if that gives a sound profile, else each
    /// by itself, and those that would make it faulty are left out.
    pub fn take_rows(&mut self, rows: &[(u64, Row)]) -> Vec<RowTaken> {
        let mut whole = self.clone();
        let all = |draft: &mut Self, (line, row): &(u64, Row)| RowTaken {
            line: *line,
            name: format!("{}.{}", row.map, row.action),
            done: draft.take_row(row).map_err(|faults| faults.first()),
        };
        let taken: Vec<RowTaken> = rows.iter().map(|row| all(&mut whole, row)).collect();
        if taken.iter().all(|one| one.done.is_ok()) && whole.is_sound().is_ok() {
            *self = whole;
            return taken;
        }
        rows.iter().map(|(line, row)| self.take_alone(*line, row)).collect()
    }

    fn take_alone(&mut self, line: u64, row: &Row) -> RowTaken {
        let mut tried = self.clone();
        let done = tried.take_row(row).map_err(|faults| faults.first()).and_then(|done| {
            tried.is_sound()?;
            *self = tried;
            Ok(done)
        });
        RowTaken { line, name: format!("{}.{}", row.map, row.action), done }
    }

    /// Whether the text is a sound profile; if not, the first fault.
    fn is_sound(&self) -> Result<(), String> {
        let loaded = harmonym_lang::load(&self.source());
        loaded.map(drop).map_err(|faults| faults.first())
    }
}
