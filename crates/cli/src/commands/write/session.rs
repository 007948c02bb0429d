//! A profile taken up for a change: held against others, proved before it is written, and written
//! before anything is told.

use super::follow::{Followed, Other, follow};
use super::undo::Kept;
use crate::args::Writing;
use crate::commands::{as_typed, faulty_already, settled_profile};
use crate::escape::named;
use crate::failure::Failure;
use crate::files::around::{Around, expect_file};
use crate::files::{self, Change, Held, Part, Patience, Say};
use crate::output::Output;
use crate::view::diagnostics::write_failure;
use crate::view::diff;
use harmonym_lab::edit::Draft;
use harmonym_lang::source::Source;
use harmonym_runtime::base::Time;
use harmonym_runtime::plan::Plan;
use std::path::{Path, PathBuf};
use std::sync::Arc;
use std::time::Duration;

/// A profile under change, with the other files that change with it.
pub struct EditSession {
    pub draft: Draft,
    path: PathBuf,
    source: Source,
    /// Nobody else changes it meanwhile; a dry run needs no hold.
    held: Option<Held>,
    writing: Writing,
    /// What was said in several words of the command line that is one thing.
    pub said: Option<String>,
    /// The plan of the profile as it was.
    plan: Arc<Plan>,
    /// The folder of its scores and takes, if another is meant than the profile's.
    pub scores: Option<PathBuf>,
    others: Vec<Other>,
    /// What scores expect that nothing can bring about any more.
    unmet: Vec<String>,
}

impl EditSession {
    /// Takes up a profile; a faulty one is refused.
    pub fn open(
        file: Option<&Path>,
        writing: Writing,
        output: &mut Output,
    ) -> Result<Self, Failure> {
        let (path, held) = match writing.dry_run {
            true => (settled_profile(file, output)?, None),
            false => {
                let path = files::profile_path(file)?;
                output.detail(&format!("reading {}", named(&path)))?;
                let held = hold(&path, writing.wait, output)?;
                (path, Some(held))
            }
        };
        let source = match &held {
            Some(held) => held.source.clone(),
            None => files::read_text(&path)?,
        };
        let loaded = files::load(source).inspect_err(|_| faulty_already(&path, output))?;
        let (draft, source, plan) = (Draft::new(&loaded.source), loaded.source, loaded.plan);
        let (said, scores, others, unmet) = (None, None, Vec::new(), Vec::new());
        Ok(Self { draft, path, source, held, writing, said, plan, scores, others, unmet })
    }

    pub fn path(&self) -> &Path {
        &self.path
    }

    /// Whether the text is another.
    pub fn changes(&self) -> bool {
        self.draft.text() != self.source.text()
    }

    /// Proves the outcome, writes it unless the run is dry, and tells what changed.
    pub fn finish(mut self, done: &str, output: &mut Output) -> Result<(), Failure> {
        if !self.changes() {
            let name = named(&self.path);
            return output.remark(&format!("nothing changes: {name} says that already"));
        }
        self.prove(output)?;
        if self.writing.dry_run {
            self.show(output)?;
            return output.remark("a dry run: nothing was written");
        }
        self.commit(done, output)?;
        let told = self.show(output).and_then(|()| output.flush());
        let outside: Vec<String> = self.outside().map(named).collect();
        if !outside.is_empty() {
            output.say(
                Say::Always,
                &format!("changed outside of its folder: {}", outside.join(", ")),
            );
        }
        // What is written stays so, whoever reads what is told of it.
        output.tell(&self.told(done));
        told
    }

    /// Writes what was proved and shown.
    pub fn write(self, done: &str, output: &mut Output) -> Result<(), Failure> {
        self.commit(done, output)?;
        output.remark(&self.told(done))
    }

    fn told(&self, done: &str) -> String {
        format!("{done} in {}", named(&self.path))
    }

    /// Proves the outcome, also for the scores and takes.
    pub fn prove(&mut self, output: &mut Output) -> Result<(), Failure> {
        let after = match files::load(Source::new(self.source.name(), self.draft.text())) {
            Ok(loaded) => loaded.plan,
            Err(failure) => {
                let before = self.source.text();
                let (failure, is_typed) = as_typed(failure, before, self.said.as_deref());
                if !is_typed {
                    let told = "the change would make the profile faulty; nothing was written:";
                    output.remark(told)?;
                }
                return Err(failure);
            }
        };
        self.follow(&after, output)
    }

    /// Prints what changes.
    pub fn show(&self, output: &mut Output) -> Result<(), Failure> {
        if output.is_quiet() && !self.writing.dry_run {
            return Ok(());
        }
        let look = output.look;
        let own = (self.source.name().to_owned(), self.source.text(), self.draft.text());
        let others = self.others.iter();
        let others = others.map(|one| (one.path.display().to_string(), &*one.before, &*one.after));
        std::iter::once(own).chain(others).try_for_each(|(name, before, after)| {
            output.write(|out| diff::write(out, &name, before, after, look))
        })?;
        self.unmet.iter().try_for_each(|unmet| output.remark(unmet))
    }

    /// Lets the scores and takes follow.
    fn follow(&mut self, after: &Plan, output: &mut Output) -> Result<(), Failure> {
        let around = match &self.scores {
            Some(folder) if !folder.is_dir() => {
                let message = format!("{} is no folder", folder.display());
                return Err(Failure::new(message, "name the folder of the scores"));
            }
            Some(folder) => Around::below(folder),
            None => Around::of(&self.path),
        };
        if self.draft.changes_names() {
            for (folder, why) in &around.left {
                let shown = named(folder);
                output.remark(&format!("scores and takes in {shown} stay as they are: {why}"))?;
            }
        }
        if self.held.is_some() {
            let own = around.folders.iter().filter(|at| files::is_in_folder_of(at, &self.path));
            own.for_each(|folder| files::sweep_folder(folder));
        }
        let plans = (&*self.plan, after);
        let Followed { others, unmet, mut refused } =
            follow(&self.draft, &around, plans, &mut |path| readable(path, output))?;
        (self.others, self.unmet) = (others, unmet);
        let Some(last) = refused.pop() else { return self.expect_followed() };
        output.remark("the change would leave scores or takes behind; nothing was written:")?;
        for faults in refused {
            output.error(|out, look| write_failure(out, &faults.into(), look));
        }
        Err(last.into())
    }

    /// The files that change and are neither in the profile's folder nor in one that was named.
    fn outside(&self) -> impl Iterator<Item = &Path> {
        let others = self.others.iter().map(|other| &*other.path);
        others.filter(|path| {
            let is_named = |folder: &PathBuf| files::is_below(path, folder);
            !files::is_in_folder_of(path, &self.path) && !self.scores.as_ref().is_some_and(is_named)
        })
    }

    /// Sees that nothing changes elsewhere that nobody asked to change.
    fn expect_followed(&self) -> Result<(), Failure> {
        match self.outside().next() {
            Some(path) if !self.writing.follow => Err(files::outside(path)),
            _ => Ok(()),
        }
    }

    /// Writes the profile, what follows it, and how to take it back: all of it or nothing.
    fn commit(&self, done: &str, output: &mut Output) -> Result<(), Failure> {
        let Some(profile) = &self.held else { return Ok(()) };
        let mut others = Vec::new();
        for other in &self.others {
            let held = hold_as(&other.path, &other.before, self.writing.wait, output)?;
            others.push((held, other));
        }
        let mut parts = vec![part(profile, self.draft.text())];
        parts.extend(others.iter().map(|(held, other)| part(held, &other.after)));
        let kept = Kept::of(&self.path).map(|mut kept| {
            let files: Vec<_> =
                parts.iter().map(|part| (&*part.real, part.before, part.after)).collect();
            kept.add(done, &files);
            (kept.text(), kept)
        });
        match &kept {
            Ok((text, kept)) => parts.push(kept.part(text)),
            Err(Failure::Faults(faults)) => {
                output.tell(&format!("undo will not know of it: {}", faults.first()));
            }
            Err(_) => {}
        }
        let change = Change { profile: &profile.real, done, parts };
        change.write(&mut |say, text| output.say(say, text))
    }
}

/// A file that is held, as it is to be.
pub fn part<'a>(held: &'a Held, after: &'a str) -> Part<'a> {
    let (real, before) = (held.real.clone(), held.source.text());
    Part { held: Some(held), real, before, after }
}

/// Takes hold of a file, waiting as long as was asked for.
pub fn hold(path: &Path, wait: Option<Time>, output: &mut Output) -> Result<Held, Failure> {
    let wait = wait.map(|wait| Duration::from_nanos(wait.nanos()));
    Held::take(path, &mut Patience { wait, tell: &mut |say, text| output.say(say, text) })
}

/// Takes hold of a file that has to be as it was read.
pub fn hold_as(
    path: &Path,
    text: &str,
    wait: Option<Time>,
    output: &mut Output,
) -> Result<Held, Failure> {
    let held = hold(path, wait, output)?;
    if held.source.text() == text { Ok(held) } else { Err(files::changed_since(path)) }
}

/// A score or take that can be read; others are told of and stay.
fn readable(path: &Path, output: &mut Output) -> Result<Option<Source>, Failure> {
    let why = match expect_file(path).and_then(|()| files::read_text(path)) {
        Ok(source) => return Ok(Some(source)),
        Err(Failure::Faults(faults)) => faults.first(),
        Err(failure) => return Err(failure),
    };
    output.remark(&format!("{} stays as it is: {why}", named(path)))?;
    Ok(None)
}
