//! The commands that change a profile: each changes the text, sees that the outcome is sound,
//! prints the difference, and only then writes.

mod add;
mod follow;
mod session;
mod undo;

pub use add::add;
pub use follow::{Followed, follow};
pub use session::{EditSession, hold, part};
pub use undo::undo;

use crate::args::{Bind, Copy, Remove, Rename, Set, Tidy, Writing};
use crate::escape::named;
use crate::failure::Failure;
use crate::output::Output;
use std::path::Path;

pub fn bind(file: Option<&Path>, bind: &Bind, output: &mut Output) -> Result<(), Failure> {
    let mut session = EditSession::open(file, bind.writing, output)?;
    let scheme = bind.scheme.as_deref();
    let bound = session.draft.bind(&bind.address, &bind.expressions, scheme)?;
    for (expression, address) in &bound.before {
        output.remark(&format!("`{expression}` is bound there already, as {address}"))?;
    }
    session.finish(&format!("bound {}", bound.new.join(", ")), output)
}

pub fn unbind(
    file: Option<&Path>,
    address: &str,
    writing: Writing,
    output: &mut Output,
) -> Result<(), Failure> {
    let mut session = EditSession::open(file, writing, output)?;
    session.draft.unbind(address)?;
    session.finish(&format!("unbound {address}"), output)
}

pub fn set(file: Option<&Path>, set: &Set, output: &mut Output) -> Result<(), Failure> {
    let mut session = EditSession::open(file, set.writing, output)?;
    session.said = Some(set.values.join(" "));
    session.draft.set(&set.address, &set.values)?;
    session.finish(&format!("set {}", set.address), output)
}

pub fn copy(file: Option<&Path>, copy: &Copy, output: &mut Output) -> Result<(), Failure> {
    let mut session = EditSession::open(file, copy.writing, output)?;
    let made = session.draft.copy(&copy.address, &copy.new)?;
    session.finish(&format!("copied {} to {}", copy.address, made.address()), output)
}

pub fn remove(file: Option<&Path>, remove: &Remove, output: &mut Output) -> Result<(), Failure> {
    let mut session = EditSession::open(file, remove.writing, output)?;
    session.draft.remove(&remove.address, remove.force)?;
    session.finish(&format!("removed {}", remove.address), output)
}

pub fn tidy(file: Option<&Path>, tidy: &Tidy, output: &mut Output) -> Result<(), Failure> {
    let writing = Writing { dry_run: tidy.writing.dry_run || tidy.check, ..tidy.writing };
    let mut session = EditSession::open(file, writing, output)?;
    session.draft.tidy();
    if !session.changes() {
        let name = named(session.path());
        return output.remark(&format!("{name} is tidy"));
    }
    session.finish("tidied the profile", output)?;
    if tidy.check { Err(Failure::CheckFailed) } else { Ok(()) }
}

pub fn rename(file: Option<&Path>, rename: &Rename, output: &mut Output) -> Result<(), Failure> {
    let mut session = EditSession::open(file, rename.writing, output)?;
    session.scores.clone_from(&rename.scores);
    let (thing, renamed) = session.draft.rename(&rename.address, &rename.new)?;
    let done = format!("renamed {} to {}", thing.address(), renamed.address());
    session.finish(&done, output)
}
