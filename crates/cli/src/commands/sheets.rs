//! `import` and `export`: a profile's actions as rows of a spreadsheet.

use super::save::{save, target};
use super::write::EditSession;
use crate::args::Writing;
use crate::commands::load_profile;
use crate::escape::named;
use crate::failure::Failure;
use crate::files::{Kind, read_text};
use crate::output::Output;
use harmonym_lab::edit::{Done, Draft, RowTaken, read_sheet, write_sheet};
use std::path::Path;

pub fn write(
    file: Option<&Path>,
    (to, force): (Option<&Path>, bool),
    output: &mut Output,
) -> Result<(), Failure> {
    let to = to.map(|path| target((path, force), Kind::Table, file, &[])).transpose()?;
    let loaded = load_profile(file, output)?;
    let draft = Draft::new(&loaded.source);
    let (text, rows) = write_sheet(draft.raw());
    match to {
        Some(to) => {
            save(&to, text.as_bytes(), output)?;
            output.remark(&format!("wrote {rows} rows to {}", named(to.path)))?;
        }
        None => output.bytes(text.as_bytes())?,
    }
    match draft.left_out().as_slice() {
        [] => Ok(()),
        all => output.remark(&format!("a table can't hold, and leaves out: {}", all.join("; "))),
    }
}

pub fn read(
    file: Option<&Path>,
    from: &Path,
    writing: Writing,
    output: &mut Output,
) -> Result<(), Failure> {
    let sheet = read_sheet(&read_text(from)?)?;
    let mut session = EditSession::open(file, writing, output)?;
    if !sheet.further.is_empty() {
        let further = sheet.further.join(", ");
        output.remark(&format!("{}: not read, as no column of ours: {further}", named(from)))?;
    }
    let taken = session.draft.take_rows(&sheet.rows);
    let is_new = |one: &&RowTaken| one.done != Ok(Done::Nothing);
    taken.iter().filter(is_new).try_for_each(|one| tell(one, from, output))?;
    match taken.iter().filter(|one| !is_new(one)).count() {
        0 => {}
        1 => output.remark("1 row says what is there")?,
        same => output.remark(&format!("{same} rows say what is there"))?,
    }
    if session.changes() {
        let done = format!("imported {}", from.display());
        session.finish(&done, output)?;
    } else {
        output.remark("nothing changes")?;
    }
    let is_whole = taken.iter().all(|one| one.done.is_ok());
    if is_whole { Ok(()) } else { Err(Failure::CheckFailed) }
}

/// Tells what was done with a row.
fn tell(taken: &RowTaken, from: &Path, output: &mut Output) -> Result<(), Failure> {
    let RowTaken { line, name, done } = taken;
    let said = match done {
        Ok(Done::Added(all)) => format!("added {}", all.join(", ")),
        Ok(Done::Changed(all)) => format!("changed {}", all.join(", ")),
        Ok(Done::Nothing) => return Ok(()),
        Err(why) if name.is_empty() => format!("refused: {why}"),
        Err(why) => format!("refused {name}: {why}"),
    };
    output.remark(&format!("{}:{line}: {said}", named(from)))
}
