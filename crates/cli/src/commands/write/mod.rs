//! The commands that change a profile: each changes the text, sees that the outcome is sound,
//! prints the difference, and only then writes.

mod add;
mod session;

pub use add::add;
pub use session::EditSession;

use crate::args::{Bind, Copy, Dry, Remove, Rename, Set, Tidy};
use crate::failure::Failure;
use crate::files::read_text;
use crate::output::Output;
use harmonym_lab::edit::{Address, Thing, renamed_in_score};
use std::fs;
use std::path::{Path, PathBuf};

pub fn bind(file: Option<&Path>, bind: &Bind, output: &mut Output) -> Result<(), Failure> {
    let mut session = EditSession::open(file, output)?;
    let scheme = bind.scheme.as_deref();
    let bound = session.draft.bind(&bind.address, &bind.expressions, scheme)?;
    for (expression, address) in &bound.before {
        output.remark(&format!("`{expression}` is bound there already, as {address}"))?;
    }
    session.finish(bind.dry, &format!("bound {}", bound.new.join(", ")), output)
}

pub fn unbind(
    file: Option<&Path>,
    address: &str,
    dry: Dry,
    output: &mut Output,
) -> Result<(), Failure> {
    let mut session = EditSession::open(file, output)?;
    session.draft.unbind(address)?;
    session.finish(dry, &format!("unbound {address}"), output)
}

pub fn set(file: Option<&Path>, set: &Set, output: &mut Output) -> Result<(), Failure> {
    let mut session = EditSession::open(file, output)?;
    session.draft.set(&set.address, &set.values)?;
    session.finish(set.dry, &format!("set {}", set.address), output)
}

pub fn copy(file: Option<&Path>, copy: &Copy, output: &mut Output) -> Result<(), Failure> {
    let mut session = EditSession::open(file, output)?;
    let made = session.draft.copy(&copy.address, &copy.new)?;
    session.finish(copy.dry, &format!("copied {} to {}", copy.address, made.address()), output)
}

pub fn remove(file: Option<&Path>, remove: &Remove, output: &mut Output) -> Result<(), Failure> {
    let mut session = EditSession::open(file, output)?;
    let before = session.draft.raw().clone();
    let thing = Address::parse(&before, &remove.address)?;
    session.draft.remove(&remove.address, remove.force)?;
    let whole = thing.thing.filter(|_| thing.keys.is_empty() && thing.binding.is_none());
    for path in scores(None, session.path())? {
        let source = read_text(&path)?;
        let names = |thing: &Thing| !renamed_in_score(&before, &source, thing, "").is_empty();
        if let Some(thing) = whole.as_ref().filter(|thing| names(thing)) {
            output.remark(&format!("{} still names {}", path.display(), thing.address()))?;
        }
    }
    session.finish(remove.dry, &format!("removed {}", remove.address), output)
}

pub fn tidy(file: Option<&Path>, tidy: &Tidy, output: &mut Output) -> Result<(), Failure> {
    let mut session = EditSession::open(file, output)?;
    session.draft.tidy();
    let changes = session.changes();
    if !changes {
        return output.remark("the profile is tidy");
    }
    let dry = Dry { dry_run: tidy.dry.dry_run || tidy.check };
    session.finish(dry, "tidied the profile", output)?;
    if tidy.check { Err(Failure::CheckFailed) } else { Ok(()) }
}

pub fn rename(file: Option<&Path>, rename: &Rename, output: &mut Output) -> Result<(), Failure> {
    let mut session = EditSession::open(file, output)?;
    let before = session.draft.raw().clone();
    let (thing, renamed) = session.draft.rename(&rename.address, &rename.new)?;
    for path in scores(rename.scores.as_deref(), session.path())? {
        let source = read_text(&path)?;
        let splices = renamed_in_score(&before, &source, &thing, renamed.name());
        if !splices.is_empty() {
            session.also(path, &source, splices);
        }
    }
    let done = format!("renamed {} to {}", thing.address(), renamed.address());
    session.finish(rename.dry, &done, output)
}

/// The scores in the folder that was named, or beside the profile.
pub fn scores(named: Option<&Path>, profile: &Path) -> Result<Vec<PathBuf>, Failure> {
    let beside = profile.parent().unwrap_or(Path::new("")).join("scores");
    let folder = match named {
        Some(folder) => folder,
        None if beside.is_dir() => &beside,
        None => return Ok(Vec::new()),
    };
    let io = |error: std::io::Error| Failure::io("read", folder, &error);
    let mut scores = Vec::new();
    for entry in fs::read_dir(folder).map_err(io)? {
        let path = entry.map_err(io)?.path();
        if path.extension().is_some_and(|extension| extension == "score") {
            scores.push(path);
        }
    }
    scores.sort();
    Ok(scores)
}
