//! `undo`: the last edit taken back, from the journal beside the profile.

use super::session::{hold, hold_as, part};
use crate::args::Undo;
use crate::commands::settled_profile;
use crate::escape::{named, shown};
use crate::failure::Failure;
use crate::files::around::Around;
use crate::files::{self, Change, PROFILE, Part, folder, is_same, journal_of, own, read_text};
use crate::output::Output;
use crate::view::diff;
use harmonym_lab::edit::{Back, Edit, FileEdit, Journal};
use harmonym_lab::score;
use harmonym_lang::source::Source;
use std::fs;
use std::path::{Path, PathBuf};
use std::time::{SystemTime, UNIX_EPOCH};

pub fn undo(file: Option<&Path>, args: &Undo, output: &mut Output) -> Result<(), Failure> {
    let path = files::profile_path(file)?;
    let (dry, wait) = (args.writing.dry_run, args.writing.wait);
    if args.list {
        settled_profile(file, output)?;
        let mut kept = Kept::of(&path)?;
        kept.drop_unwritten();
        return list(&kept.journal, output);
    }
    let held = match dry {
        true => settled_profile(file, output).map(|_| None)?,
        false => Some(hold(&path, wait, output)?),
    };
    let mut kept = Kept::of(&path)?;
    kept.drop_unwritten();
    let Some(edit) = kept.journal.edits.pop() else {
        let help = "undo takes back what commands changed; what an editor changed, the editor does";
        return Err(Failure::new("there is no edit to take back", help));
    };
    if !args.writing.follow {
        kept.expect_own(&edit, &path)?;
    }
    let texts = Texts::back(&edit, &kept, output)?;
    texts.prove(&path, output)?;
    if let Some(profile) = &held {
        let mut others = Vec::new();
        for (at, now, text) in texts.0.iter().filter(|(at, ..)| !is_same(at, &path)) {
            others.push((hold_as(at, now.text(), wait, output)?, text));
        }
        let own = texts.0.iter().find(|(at, ..)| is_same(at, &path));
        let mut parts: Vec<_> = own.iter().map(|(.., text)| part(profile, text)).collect();
        parts.extend(others.iter().map(|(held, text)| part(held, text)));
        let text = kept.text();
        parts.push(kept.part(&text));
        let done = format!("taking back: {}", edit.done);
        let change = Change { profile: &profile.real, done: &done, parts };
        change.write(&mut |say, text| output.say(say, text))?;
        kept.drop_empty();
    }
    let told = match output.is_quiet() && !dry {
        true => Ok(()),
        false => texts.show(output).and_then(|()| output.flush()),
    };
    match dry {
        true => output.tell("a dry run: nothing was written"),
        false => {
            let (name, when) = (named(&path), ago(edit.when));
            output.tell(&format!("taken back: {} in {name} ({when})", edit.done));
        }
    }
    told
}

/// Files as they are and as they are to be.
#[derive(Default)]
struct Texts(Vec<(PathBuf, Source, String)>);

impl Texts {
    /// What an edit changed, as it was.
    fn back(edit: &Edit, kept: &Kept, output: &mut Output) -> Result<Self, Failure> {
        let mut texts = Self::default();
        for change in &edit.files {
            let at = kept.path_of(change);
            let now = read_text(&at)?;
            let text = match change.back(now.text()) {
                Back::Already => continue,
                Back::Changed => {
                    let (name, when) = (named(&at), ago(edit.when));
                    let message = format!("{name} changed since “{}” ({when})", edit.done);
                    let help = "nothing was written; take the later change back first, or change \
                                it by hand";
                    return Err(Failure::new(message, help));
                }
                Back::To(text) => text,
                Back::Among(text) => {
                    let name = named(&at);
                    output.remark(&format!("{name} changed elsewhere since; that stays"))?;
                    text
                }
            };
            texts.0.push((at, now, text));
        }
        Ok(texts)
    }

    /// Prints what changes.
    fn show(&self, output: &mut Output) -> Result<(), Failure> {
        let look = output.look;
        self.0.iter().try_for_each(|(at, now, text)| {
            let name = at.display().to_string();
            output.write(|out| diff::write(out, &name, now.text(), text, look))
        })
    }

    /// A file as it is to be.
    fn of(&self, path: &Path) -> Option<Source> {
        let own = self.0.iter().find(|(one, ..)| is_same(one, path));
        let text = own.map(|(.., text)| text.as_str());
        let name = path.display().to_string();
        text.map(|text| Source::new(name, text)).or_else(|| read_text(path).ok())
    }

    /// Sees that the profile will be sound, and that no score that can be read now no longer can.
    fn prove(&self, profile: &Path, output: &mut Output) -> Result<(), Failure> {
        let Some(source) = self.of(profile) else { return Ok(()) };
        let after = files::load(source).inspect_err(|_| {
            let _ = output.remark("without it the profile would be faulty; nothing was written:");
        })?;
        // Of a profile with faults nothing can be read.
        let Ok(before) = files::load(read_text(profile)?) else { return Ok(()) };
        for path in Around::of(profile).scores {
            let Ok(now) = read_text(&path) else { continue };
            if let (Ok(_), Some(text)) = (score::read(&now, &before.plan), self.of(&path)) {
                score::read(&text, &after.plan).inspect_err(|_| {
                    let _ =
                        output.remark("without it a score is left behind; nothing was written:");
                })?;
            }
        }
        Ok(())
    }
}

fn list(journal: &Journal, output: &mut Output) -> Result<(), Failure> {
    if journal.edits.is_empty() {
        return output.remark("there is no edit to take back");
    }
    for (index, edit) in journal.edits.iter().rev().enumerate() {
        output.line(&format!("{:>3}  {:>10}  {}", index + 1, ago(edit.when), edit.done))?;
    }
    Ok(())
}

/// The journal of a profile, as it lies beside it.
pub struct Kept {
    path: PathBuf,
    /// The profile, where it really is.
    profile: PathBuf,
    journal: Journal,
    /// Its text as it was found.
    before: Option<String>,
}

impl Kept {
    /// Reads the journal of a profile that is held.
    pub fn of(profile: &Path) -> Result<Self, Failure> {
        let profile = fs::canonicalize(profile).unwrap_or_else(|_| profile.to_owned());
        let path = journal_of(&profile);
        match fs::symlink_metadata(&path) {
            Err(_) => return Ok(Self { path, profile, journal: Journal::default(), before: None }),
            Ok(about) if about.is_file() => {}
            Ok(_) => {
                let message = format!("{} is no plain file", path.display());
                return Err(Failure::new(
                    message,
                    "take it away: edits are kept anew from then on",
                ));
            }
        }
        let text = read_text(&path)?.text().to_owned();
        let Some(journal) = Journal::read(&text) else {
            let message = format!("{} is no journal of edits that can be read", path.display());
            return Err(Failure::new(message, "take it away: edits are kept anew from then on"));
        };
        Ok(Self { path, profile, journal, before: Some(text) })
    }

    /// Adds what an edit changes: `done` in words, each file with its text before and after.
    pub fn add(&mut self, done: &str, files: &[(&Path, &str, &str)]) {
        let now = SystemTime::now().duration_since(UNIX_EPOCH).unwrap_or_default();
        let files = files.iter().map(|(path, before, after)| {
            let near = self.profile.parent().and_then(|folder| path.strip_prefix(folder).ok());
            let path = near.unwrap_or(path).to_string_lossy();
            FileEdit::between(path, before, after)
        });
        let files = files.collect();
        self.journal.push(Edit { when: now.as_secs(), done: done.to_owned(), files });
    }

    /// The journal's text.
    pub fn text(&self) -> String {
        self.journal.text()
    }

    /// The journal's file as part of a change, with its new text.
    pub fn part<'a>(&'a self, after: &'a str) -> Part<'a> {
        let before = self.before.as_deref().unwrap_or_default();
        Part { held: None, real: self.path.clone(), before, after }
    }

    /// Takes the file away when there is nothing in it that could be taken back.
    fn drop_empty(&self) {
        if self.journal.edits.is_empty() {
            // One that stays tells the same.
            let _ = fs::remove_file(&self.path);
        }
    }

    /// Leaves out the last edits that were never written: a command was killed before it did.
    fn drop_unwritten(&mut self) {
        let is_unwritten = |edit: &Edit| {
            edit.files.iter().all(|change| {
                let now = read_text(&self.path_of(change));
                now.is_ok_and(|now| change.back(now.text()) == Back::Already)
            })
        };
        let written = self.journal.edits.iter().rposition(|edit| !is_unwritten(edit));
        self.journal.edits.truncate(written.map_or(0, |last| last + 1));
    }

    /// Sees that an edit is one of the profile's own files: the journal may come from elsewhere.
    fn expect_own(&self, edit: &Edit, profile: &Path) -> Result<(), Failure> {
        // A profile behind a link has its scores beside the link.
        let beside = fs::canonicalize(folder(profile)).ok();
        let is_beside = |path: &str| {
            let below =
                beside.as_ref().and_then(|folder| Path::new(path).strip_prefix(folder).ok());
            let below = below.and_then(Path::to_str).zip(beside.as_ref());
            below.is_some_and(|(below, folder)| own(&folder.join(PROFILE), below).is_ok())
        };
        for change in edit.files.iter().filter(|change| !is_beside(&change.path)) {
            if let Err(why) = own(&self.profile, &change.path) {
                let named = shown(&change.path);
                let message = format!("{}: `{named}` {why}", self.path.display());
                let help = "nothing was written; say --follow if you changed it by that edit and it is \
                            to be as it was";
                return Err(Failure::new(message, help));
            }
        }
        Ok(())
    }

    fn path_of(&self, change: &FileEdit) -> PathBuf {
        let path = self.profile.with_file_name(&change.path);
        let here = std::env::current_dir().and_then(fs::canonicalize).ok();
        let near = here.and_then(|here| path.strip_prefix(here).map(Path::to_owned).ok());
        near.unwrap_or(path)
    }
}

/// How long ago a moment was, in seconds since 1970.
fn ago(when: u64) -> String {
    let now = SystemTime::now().duration_since(UNIX_EPOCH).unwrap_or_default();
    match now.as_secs().saturating_sub(when) {
        0..10 => "just now".to_owned(),
        seconds @ 10..120 => format!("{seconds} s ago"),
        seconds @ 120..7_200 => format!("{} min ago", seconds / 60),
        seconds @ 7_200..172_800 => format!("{} h ago", seconds / 3_600),
        seconds => format!("{} d ago", seconds / 86_400),
    }
}
