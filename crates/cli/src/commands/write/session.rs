//! A profile taken up for a change: held against others, proved before it is written.

use super::undo::Kept;
use crate::args::Dry;
use crate::failure::Failure;
use crate::files::{self, LockedFile};
use crate::output::Output;
use crate::view::diagnostics::write_failure;
use crate::view::diff;
use harmonym_lab::edit::Draft;
use harmonym_lang::source::Source;
use harmonym_runtime::plan::Plan;
use std::fs;
use std::path::{Path, PathBuf};
use std::sync::Arc;

/// A profile under change, with the other files that change with it.
pub struct EditSession {
    pub draft: Draft,
    held: LockedFile,
    /// The plan of the profile as it was.
    plan: Arc<Plan>,
    /// The folder of its scores, if another is meant than the one beside it.
    pub scores: Option<PathBuf>,
    others: Vec<Other>,
}

/// Another file, as it is and as it will be.
struct Other {
    path: PathBuf,
    before: String,
    after: String,
}

impl EditSession {
    /// Takes up a profile; a faulty one is refused.
    pub fn open(file: Option<&Path>, output: &mut Output) -> Result<Self, Failure> {
        let path = files::profile_path(file)?;
        output.detail(&format!("reading {}", path.display()))?;
        let held = LockedFile::take(&path)?;
        let loaded = files::load(held.source.clone()).inspect_err(|_| {
            let _ = output.remark("the profile has faults already; nothing was changed");
        })?;
        let (draft, plan) = (Draft::new(&loaded.source), loaded.plan);
        Ok(Self { draft, held, plan, scores: None, others: Vec::new() })
    }

    pub fn path(&self) -> &Path {
        &self.held.path
    }

    /// Whether the text is another.
    pub fn changes(&self) -> bool {
        self.draft.text() != self.held.source.text()
    }

    /// Proves the outcome, prints what changes, and writes it.
    pub fn finish(mut self, dry: Dry, done: &str, output: &mut Output) -> Result<(), Failure> {
        if !self.changes() {
            return output.remark("nothing changes: it is so already");
        }
        self.preview(output)?;
        self.write(dry, done, output)
    }

    /// Proves the outcome, also for the scores, and prints what changes.
    pub fn preview(&mut self, output: &mut Output) -> Result<(), Failure> {
        let name = self.held.source.name().to_owned();
        let after = match files::load(Source::new(name.as_str(), self.draft.text())) {
            Ok(loaded) => loaded.plan,
            Err(failure) => {
                output.remark("the change would make the profile faulty; nothing was written:")?;
                return Err(failure);
            }
        };
        self.follow(&after, output)?;
        let look = output.look;
        let (before, after) = (self.held.source.text(), self.draft.text());
        output.write(|out| diff::write(out, &name, before, after, look))?;
        for other in &self.others {
            let name = other.path.display().to_string();
            output.write(|out| diff::write(out, &name, &other.before, &other.after, look))?;
        }
        Ok(())
    }

    /// Lets the scores follow.
    fn follow(&mut self, after: &Plan, output: &mut Output) -> Result<(), Failure> {
        let mut refused = Vec::new();
        for path in scores(self.scores.as_deref(), &self.held.path)? {
            let Ok(source) = files::read_text(&path) else {
                output.remark(&format!("{} can't be read: it stays as it is", path.display()))?;
                continue;
            };
            match self.draft.follow(&source, &self.plan, after) {
                Ok(text) if text != source.text() => {
                    let before = source.text().to_owned();
                    self.others.push(Other { path, before, after: text });
                }
                Ok(_) => {}
                Err(faults) => refused.push(faults),
            }
        }
        let Some(last) = refused.pop() else { return Ok(()) };
        output.remark("the change would leave scores behind; nothing was written:")?;
        for faults in refused {
            output.error(|out, look| write_failure(out, &faults.into(), look));
        }
        Err(last.into())
    }

    /// Writes what was previewed.
    pub fn write(self, dry: Dry, done: &str, output: &mut Output) -> Result<(), Failure> {
        if dry.dry_run {
            return output.remark("a dry run: nothing was written");
        }
        let mut files = vec![(self.path(), self.held.source.text(), self.draft.text())];
        let others = self.others.iter();
        files.extend(others.map(|one| (one.path.as_path(), &*one.before, &*one.after)));
        let mut kept = Kept::of(self.path());
        let noted = match &mut kept {
            Ok(kept) => kept.add(done, &files),
            Err(_) => Ok(()),
        };
        if let Err(failure) = self.held.write(self.draft.text()) {
            kept.iter().for_each(Kept::forget);
            return Err(failure);
        }
        for other in &self.others {
            files::write_atomically(&other.path, other.after.as_bytes())?;
        }
        if let Err(Failure::Faults(faults)) = kept.and(noted) {
            output.remark(&format!("undo will not know of it: {}", faults.first()))?;
        }
        output.remark(done)
    }
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
