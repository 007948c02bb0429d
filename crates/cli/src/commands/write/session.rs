//! A profile taken up for a change: held against others, proved before it is written.

use crate::args::Dry;
use crate::failure::Failure;
use crate::files::{self, LockedFile};
use crate::output::Output;
use crate::view::diff;
use harmonym_lab::edit::Draft;
use harmonym_lang::source::{Source, Span};
use std::path::{Path, PathBuf};

/// A profile under change, with the other files that change with it.
pub struct EditSession {
    pub draft: Draft,
    held: LockedFile,
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
        Ok(Self { draft: Draft::new(&loaded.source), held, others: Vec::new() })
    }

    pub fn path(&self) -> &Path {
        &self.held.path
    }

    /// Whether the text is another.
    pub fn changes(&self) -> bool {
        self.draft.text() != self.held.source.text()
    }

    /// Changes another file too.
    pub fn also(&mut self, path: PathBuf, source: &Source, mut splices: Vec<(Span, String)>) {
        splices.sort_by_key(|(span, _)| *span);
        let (mut after, mut at) = (String::new(), 0);
        for (span, new) in splices {
            after.push_str(&source.text()[at..span.start]);
            after.push_str(&new);
            at = span.end;
        }
        after.push_str(&source.text()[at..]);
        self.others.push(Other { path, before: source.text().to_owned(), after });
    }

    /// Proves the outcome, prints what changes, and writes it.
    pub fn finish(self, dry: Dry, done: &str, output: &mut Output) -> Result<(), Failure> {
        if !self.changes() {
            return output.remark("nothing changes: it is so already");
        }
        self.preview(output)?;
        self.write(dry, done, output)
    }

    /// Proves the outcome and prints what changes.
    pub fn preview(&self, output: &mut Output) -> Result<(), Failure> {
        let name = self.held.source.name().to_owned();
        if let Err(failure) = files::load(Source::new(name.as_str(), self.draft.text())) {
            output.remark("the change would make the profile faulty; nothing was written:")?;
            return Err(failure);
        }
        let look = output.look;
        let (before, after) = (self.held.source.text(), self.draft.text());
        output.write(|out| diff::write(out, &name, before, after, look))?;
        for other in &self.others {
            let name = other.path.display().to_string();
            output.write(|out| diff::write(out, &name, &other.before, &other.after, look))?;
        }
        Ok(())
    }

    /// Writes what was previewed.
    pub fn write(self, dry: Dry, done: &str, output: &mut Output) -> Result<(), Failure> {
        if dry.dry_run {
            return output.remark("a dry run: nothing was written");
        }
        self.held.write(self.draft.text())?;
        for other in &self.others {
            files::write_atomically(&other.path, other.after.as_bytes())?;
        }
        output.remark(done)
    }
}
