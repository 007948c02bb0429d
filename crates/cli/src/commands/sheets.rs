//! `import` and `export`: a profile's actions as rows of a spreadsheet.

use super::write::EditSession;
use crate::args::Dry;
use crate::commands::load_profile;
use crate::failure::Failure;
use crate::files::{read_text, write_atomically};
use crate::output::Output;
use harmonym_lab::edit::{Done, Draft, RowTaken, read_sheet, write_sheet};
use std::path::Path;

pub fn write(file: Option<&Path>, to: Option<&Path>, output: &mut Output) -> Result<(), Failure> {
    let loaded = load_profile(file, output)?;
    let (text, rows) = write_sheet(Draft::new(&loaded.source).raw());
    match to {
        Some(path) => {
            write_atomically(path, text.as_bytes())?;
            output.remark(&format!("wrote {rows} rows to {}", path.display()))
        }
        None => output.write(|out| out.push_str(&text)),
    }
}

pub fn read(
    file: Option<&Path>,
    from: &Path,
    dry: Dry,
    output: &mut Output,
) -> Result<(), Failure> {
    let rows = read_sheet(&read_text(from)?)?;
    let mut session = EditSession::open(file, output)?;
    let taken = session.draft.take_rows(&rows);
    taken.iter().try_for_each(|one| tell(one, from, output))?;
    if session.changes() {
        let done = format!("imported {}", from.display());
        session.finish(dry, &done, output)?;
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
        Ok(Done::Nothing) => format!("{name} is so already"),
        Err(why) => format!("refused {name}: {why}"),
    };
    output.remark(&format!("{}:{line}: {said}", from.display()))
}
