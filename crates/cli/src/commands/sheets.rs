//! `import` and `export`: a profile's actions as rows of a spreadsheet.

use super::write::Desk;
use crate::args::Dry;
use crate::failure::Failure;
use crate::files::{self, load, load_profile, read_text, write_atomically};
use crate::output::Output;
use harmonym_core::profile::edit::{BindError, Done, Draft, Row, export};
use harmonym_core::report::nearest;
use harmonym_core::source::Source;
use std::path::Path;

const COLUMNS: [&str; 7] = ["map", "action", "value", "scheme", "binding", "fire", "about"];

pub fn write(file: Option<&Path>, to: Option<&Path>, output: &mut Output) -> Result<(), Failure> {
    let loaded = load_profile(file, output)?;
    let draft = Draft::new(&loaded.source);
    let rows = export(draft.raw());
    let mut writer = csv::Writer::from_writer(Vec::new());
    let broken = |error: csv::Error| Failure::new(error.to_string(), "see where the rows go");
    writer.write_record(COLUMNS).map_err(broken)?;
    for Row { map, action, value, scheme, binding, fire, about } in &rows {
        writer.write_record([map, action, value, scheme, binding, fire, about]).map_err(broken)?;
    }
    let bytes = writer.into_inner().unwrap_or_default();
    match to {
        Some(path) => {
            write_atomically(path, &bytes)?;
            output.remark(&format!("wrote {} rows to {}", rows.len(), path.display()))
        }
        None => output.write(|out| out.push_str(&String::from_utf8_lossy(&bytes))),
    }
}

/// What came of one row.
struct Told {
    line: u64,
    name: String,
    done: Result<Done, String>,
}

pub fn read(
    file: Option<&Path>,
    from: &Path,
    dry: Dry,
    output: &mut Output,
) -> Result<(), Failure> {
    let rows = rows(from)?;
    let mut desk = Desk::open(file, output)?;
    let mut whole = desk.draft.clone();
    let mut told = take_all(&mut whole, &rows);
    let is_whole = told.iter().all(|one| one.done.is_ok()) && is_sound(&whole).is_ok();
    if is_whole {
        desk.draft = whole;
    } else {
        told = take_each(&mut desk.draft, &rows);
    }
    let refused = tell(&told, from, output)?;
    if desk.changes() {
        let done = format!("imported {}", from.display());
        desk.finish(dry, &done, output)?;
    } else {
        output.remark("nothing changes")?;
    }
    if refused > 0 { Err(Failure::FellShort) } else { Ok(()) }
}

/// All rows at once.
fn take_all(draft: &mut Draft, rows: &[(u64, Row)]) -> Vec<Told> {
    let take = |(line, row): &(u64, Row)| {
        let done = draft.take_row(row).map_err(why);
        Told { line: *line, name: format!("{}.{}", row.map, row.action), done }
    };
    rows.iter().map(take).collect()
}

/// Each row by itself: one that would make the profile faulty is left out.
fn take_each(draft: &mut Draft, rows: &[(u64, Row)]) -> Vec<Told> {
    let mut told = Vec::new();
    for (line, row) in rows {
        let mut tried = draft.clone();
        let done = tried.take_row(row).map_err(why).and_then(|done| {
            is_sound(&tried)?;
            *draft = tried;
            Ok(done)
        });
        told.push(Told { line: *line, name: format!("{}.{}", row.map, row.action), done });
    }
    told
}

fn is_sound(draft: &Draft) -> Result<(), String> {
    match load(Source::new(files::PROFILE, draft.text())) {
        Ok(_) => Ok(()),
        Err(Failure::Findings(_, findings)) => {
            Err(findings.first().map_or_else(String::new, |f| format!("{}; {}", f.message, f.help)))
        }
        Err(_) => Err("the profile would be faulty".to_owned()),
    }
}

fn why(error: BindError) -> String {
    match error {
        BindError::Refused(refused) => format!("{}; {}", refused.message, refused.help),
        BindError::Faults(_, findings) => {
            findings.first().map_or_else(String::new, |f| format!("{}; {}", f.message, f.help))
        }
    }
}

/// Tells row by row what was done; gives how many were refused.
fn tell(told: &[Told], from: &Path, output: &mut Output) -> Result<usize, Failure> {
    let mut refused = 0;
    for Told { line, name, done } in told {
        let said = match done {
            Ok(Done::Added(all)) => format!("added {}", all.join(", ")),
            Ok(Done::Changed(all)) => format!("changed {}", all.join(", ")),
            Ok(Done::Nothing) => format!("{name} is so already"),
            Err(why) => {
                refused += 1;
                format!("refused {name}: {why}")
            }
        };
        output.remark(&format!("{}:{line}: {said}", from.display()))?;
    }
    Ok(refused)
}

/// The rows of a file, each with its line.
fn rows(path: &Path) -> Result<Vec<(u64, Row)>, Failure> {
    let source = read_text(path)?;
    let text = source.text().trim_start_matches('\u{feff}');
    let head = text.lines().next().unwrap_or_default();
    // Spreadsheets of some countries part columns by semicolons.
    let delimiter = if head.contains(';') && !head.contains(',') { b';' } else { b',' };
    let mut reader = csv::ReaderBuilder::new()
        .delimiter(delimiter)
        .flexible(true)
        .trim(csv::Trim::All)
        .from_reader(text.as_bytes());
    let broken = |error: csv::Error| {
        let line = error.position().map_or(1, csv::Position::line);
        let message = format!("{}:{line}: this is not a row of CSV: {error}", path.display());
        Failure::new(message, "see that quotes are closed")
    };
    let heads = reader.headers().map_err(broken)?.clone();
    let mut columns = Vec::new();
    for head in &heads {
        let known = COLUMNS.iter().position(|column| column.eq_ignore_ascii_case(head));
        let Some(known) = known else {
            let message = format!("{}:1: `{head}` is not a column", path.display());
            let help = match nearest(head, COLUMNS) {
                Some(near) => format!("did you mean `{near}`?"),
                None => format!("the columns are {}", COLUMNS.join(", ")),
            };
            return Err(Failure::new(message, help));
        };
        columns.push(known);
    }
    for needed in ["map", "action"] {
        if !columns.iter().any(|&column| COLUMNS[column] == needed) {
            let message = format!("{}:1: the column `{needed}` is missing", path.display());
            return Err(Failure::new(message, format!("the columns are {}", COLUMNS.join(", "))));
        }
    }
    let mut rows = Vec::new();
    for record in reader.records() {
        let record = record.map_err(broken)?;
        let mut row = Row::default();
        for (&column, field) in columns.iter().zip(&record) {
            let fields = [
                &mut row.map,
                &mut row.action,
                &mut row.value,
                &mut row.scheme,
                &mut row.binding,
                &mut row.fire,
                &mut row.about,
            ];
            for (index, of_row) in fields.into_iter().enumerate() {
                if index == column {
                    field.clone_into(of_row);
                }
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
