//! A profile's actions as a spreadsheet: rows of CSV (RFC 4180), written and taken over.

use super::rows::COLUMNS;
use super::{Done, Draft, Row, export};
use harmonym_lang::profile::Profile;
use harmonym_lang::report::{Comparing, Diagnostic, FaultKind, Faults, did_you_mean, nearest};
use harmonym_lang::source::{Source, Span};
use std::collections::{HashMap, HashSet};

/// All actions of a profile as a table, a row for each binding; gives how many rows there are.
pub fn write_sheet(profile: &Profile) -> (String, usize) {
    let rows = export(profile);
    let mut writer = csv::Writer::from_writer(Vec::new());
    // Writing to memory does not fail.
    let _ = writer.write_record(COLUMNS);
    for row in &rows {
        let _ = writer.write_record(row.fields().map(|field| harmless(field)));
    }
    let bytes = writer.into_inner().unwrap_or_default();
    (String::from_utf8_lossy(&bytes).into_owned(), rows.len())
}

/// Whether a spreadsheet would run what begins so, or takes the mark before it away.
fn is_run(letter: char) -> bool {
    matches!(letter, '=' | '+' | '-' | '@' | '\t' | '\r' | '\'')
}

/// A field that a spreadsheet only shows: with an apostrophe before it, where it would run it.
fn harmless(field: &str) -> String {
    let mark = if field.starts_with(is_run) { "'" } else { "" };
    [mark, field].concat()
}

/// The field as it was before [`harmless`].
fn as_written(field: &str) -> &str {
    field.strip_prefix('\'').filter(|rest| rest.starts_with(is_run)).unwrap_or(field)
}

/// A table that was read.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Sheet {
    /// Its rows, each with its line; of one that can't be told apart into columns, why.
    pub rows: Vec<(u64, Result<Row, String>)>,
    /// The columns that say nothing about a profile.
    pub further: Vec<String>,
}

/// Reads a table. The first row names the columns, in any order, parted by commas, semicolons or
/// tabs; names are brought into the form of names, and empty rows are left out.
///
/// # Errors
/// When it is not CSV, a column is there twice or seems misspelled, or `map` or `action` is missing.
pub fn read_sheet(source: &Source) -> Result<Sheet, Faults> {
    let text = source.text().trim_start_matches('\u{feff}');
    let mut reader = csv::ReaderBuilder::new()
        .delimiter(delimiter(text.lines().next().unwrap_or_default()))
        .flexible(true)
        .from_reader(text.as_bytes());
    let heads = reader.headers().map_err(|error| broken(source, &error))?.clone();
    let (columns, further) = columns(source, &heads)?;
    let mut rows = Vec::new();
    let mut counted = (0, 1);
    for record in reader.records() {
        let record = record.map_err(|error| broken(source, &error))?;
        if record.iter().all(|field| field.trim().is_empty()) {
            continue;
        }
        // The position may be that of the line break before.
        let at = record.position().map_or(0, |place| place.byte() as usize);
        let rest = &text[at..];
        let start = at + rest.len() - rest.trim_start_matches(['\r', '\n']).len();
        let (from, before) = counted;
        let line = before + text[from..start].matches('\n').count() as u64;
        counted = (start, line);
        rows.push((line, row(&columns, &record)));
    }
    Ok(Sheet { rows, further })
}

/// What parts the fields: of comma, semicolon (as spreadsheets of some countries write) and tab the
/// one that the first line has most of.
fn delimiter(head: &str) -> u8 {
    let count = |mark: u8| head.bytes().filter(|&byte| byte == mark).count();
    // Of equals the first.
    [b',', b';', b'\t'].into_iter().rev().max_by_key(|&mark| count(mark)).unwrap_or(b',')
}

/// A row by its columns; what is none of ours is left out.
fn row(columns: &[Option<usize>], record: &csv::StringRecord) -> Result<Row, String> {
    if record.iter().skip(columns.len()).any(|field| !field.trim().is_empty()) {
        let (has, wanted) = (record.len(), columns.len());
        return Err(format!(
            "the row has {has} fields for {wanted} columns; put what has a comma in quotes"
        ));
    }
    let mut row = Row::default();
    for (column, field) in columns.iter().zip(record) {
        let Some(column) = *column else { continue };
        let field = match COLUMNS[column] {
            // A text for people is as it is.
            "about" if !field.trim().is_empty() => as_written(field),
            _ => as_written(field.trim()).trim(),
        };
        field.clone_into(row.fields_mut()[column]);
    }
    Ok(row.with_names())
}

/// What is wrong with a table, as far as it was read.
fn fault(source: &Source, span: Span, kind: FaultKind, message: String, help: String) -> Faults {
    Faults::new(source.clone(), vec![Diagnostic::fault(kind, span, message, help)])
}

fn broken(source: &Source, error: &csv::Error) -> Faults {
    let line = error.position().map_or(1, |place| place.line() as usize);
    let message = "this is no row of a table".to_owned();
    let help = "see that quotes are closed".to_owned();
    fault(source, source.line(line), FaultKind::Syntax, message, help)
}

/// Which of the known columns each column of a table is, and the names of the others.
fn columns(
    source: &Source,
    heads: &csv::StringRecord,
) -> Result<(Vec<Option<usize>>, Vec<String>), Faults> {
    let known =
        |head: &str| COLUMNS.iter().position(|column| column.eq_ignore_ascii_case(head.trim()));
    let there: HashSet<usize> = heads.iter().filter_map(known).collect();
    let is_there = |column: &str| known(column).is_some_and(|index| there.contains(&index));
    let missing: Vec<&str> = COLUMNS.into_iter().filter(|column| !is_there(column)).collect();
    let comparing = Comparing::default();
    let mut further = Vec::new();
    let mut columns = Vec::new();
    let mut seen = HashSet::new();
    let line = source.line(1);
    let mut from = line.start;
    for head in heads {
        // Each stands behind the one before it.
        let rest = Span::new(from, line.end.max(from));
        let at = from + source.slice(rest).find(head).unwrap_or_default();
        let span = Span::new(at, at + head.len());
        from = span.end.min(line.end);
        let column = known(head);
        if column.is_some_and(|column| !seen.insert(column)) {
            let message = format!("the column `{}` is there twice", head.trim());
            let help = "keep one of them; a row for each binding".to_owned();
            return Err(fault(source, span, FaultKind::UsedTwice, message, help));
        }
        // A column that is almost one of ours is meant to be it.
        let near = || nearest(head.trim(), comparing.of(missing.iter().copied()));
        if let (None, Some(near)) = (column, near()) {
            let help = did_you_mean(Some(near), String::new);
            let message = format!("`{}` is not a column", head.trim());
            return Err(fault(source, span, FaultKind::UnknownKey, message, help));
        }
        if column.is_none() && !head.trim().is_empty() {
            further.push(head.trim().to_owned());
        }
        columns.push(column);
    }
    for needed in ["map", "action"] {
        if !is_there(needed) {
            let help = format!("the columns are {}", COLUMNS.join(", "));
            let message = format!("the column `{needed}` is missing");
            return Err(fault(source, source.line(1), FaultKind::Missing, message, help));
        }
    }
    Ok((columns, further))
}

/// What came of one row of a table.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct RowTaken {
    /// The row's line.
    pub line: u64,
    /// Its action; nothing for one that could not be told apart into columns.
    pub name: String,
    /// What was done, or why it was refused.
    pub done: Result<Done, String>,
}

impl Draft {
    /// Makes rows part of the profile; those that would make it faulty are left out. A new scheme gets
    /// the devices that all rows have in it.
    pub fn take_rows(&mut self, rows: &[(u64, Result<Row, String>)]) -> Vec<RowTaken> {
        let devices = self.devices_of(rows.iter().filter_map(|(_, row)| row.as_ref().ok()));
        let told_apart = rows
            .iter()
            .enumerate()
            .filter_map(|(place, (_, row))| Some((place, row.as_ref().ok()?)));
        let told_apart: Vec<(usize, &Row)> = told_apart.collect();
        let mut done: HashMap<_, _> = self.take_many(&told_apart, &devices).into_iter().collect();
        let taken = rows.iter().enumerate().map(|(place, (line, row))| {
            let done = done.remove(&place);
            match row {
                Ok(row) => {
                    let name = format!("{}.{}", row.map, row.action);
                    RowTaken { line: *line, name, done: done.unwrap_or(Ok(Done::Nothing)) }
                }
                Err(why) => RowTaken { line: *line, name: String::new(), done: Err(why.clone()) },
            }
        });
        taken.collect()
    }
}
