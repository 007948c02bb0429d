//! The scores and takes of a profile: those in its folder and below.

use super::PROFILE;
use super::stage::folder;
use crate::failure::{Failure, reason};
use std::collections::{HashSet, VecDeque};
use std::ffi::OsStr;
use std::fs;
use std::path::{Path, PathBuf};

/// Among more files than this nothing is looked for.
const MOST_FILES: usize = 20_000;
/// Folders in which other tools keep what they make.
const LEFT_OUT: &[&str] = &["target", "node_modules"];

/// The scores and takes of a profile.
#[derive(Clone, Debug, Default)]
pub struct Around {
    pub scores: Vec<PathBuf>,
    pub takes: Vec<PathBuf>,
    /// The folders that were looked into.
    pub folders: Vec<PathBuf>,
    /// What could not be looked into, or was not, and why.
    pub left: Vec<(PathBuf, String)>,
}

impl Around {
    /// Those of the profile: from its folder down, the nearest folders first. Folders with a
    /// profile of their own and hidden ones are left out.
    pub fn of(profile: &Path) -> Self {
        let mut around = Self::default();
        around.walk(folder(profile), profile.parent().unwrap_or(Path::new("")), true);
        around.sort();
        around
    }

    /// Those that are tried and checked with the profile: beside it, and in `scores` and below.
    pub fn tried(profile: &Path) -> Self {
        let (at, shown) = (folder(profile), profile.parent().unwrap_or(Path::new("")));
        let mut around = match at.join("scores").is_dir() {
            true => Self::below(&shown.join("scores")),
            false => Self::default(),
        };
        for entry in fs::read_dir(at).into_iter().flatten().flatten() {
            around.add(shown.join(entry.file_name()));
        }
        around.sort();
        around
    }

    /// Those in a folder and below.
    pub fn below(top: &Path) -> Self {
        let mut around = Self::default();
        around.walk(top, top, false);
        around.sort();
        around
    }

    /// All of them, in their order.
    pub fn all(mut self) -> Vec<PathBuf> {
        self.scores.append(&mut self.takes);
        self.scores.sort();
        self.scores
    }

    /// A score or a take, by its name; nothing else.
    fn add(&mut self, path: PathBuf) {
        match path.extension().and_then(OsStr::to_str) {
            Some("score") => self.scores.push(path),
            Some("jsonl") => self.takes.push(path),
            _ => {}
        }
    }

    fn sort(&mut self) {
        self.scores.sort();
        self.takes.sort();
    }

    fn walk(&mut self, top: &Path, shown: &Path, by_profile: bool) {
        let mut folders = VecDeque::from([(top.to_owned(), shown.to_owned())]);
        let (mut seen, mut count) = (HashSet::new(), 0);
        while let Some((at, shown)) = folders.pop_front() {
            // A link may lead back to where one was.
            if fs::canonicalize(&at).is_ok_and(|real| !seen.insert(real)) {
                continue;
            }
            let entries = match fs::read_dir(&at) {
                Ok(entries) => entries,
                Err(error) => {
                    self.left.push((shown, reason(&error).0));
                    continue;
                }
            };
            self.folders.push(shown.clone());
            let mut below = Vec::new();
            for name in entries.flatten().map(|entry| entry.file_name()) {
                count += 1;
                if count > MOST_FILES {
                    let why = format!("more than {MOST_FILES} files are there");
                    self.left.push((shown, why));
                    return;
                }
                let (path, shown) = (at.join(&name), shown.join(&name));
                if path.is_dir() {
                    let has_own = by_profile && path.join(PROFILE).exists();
                    if !has_own && !is_left_out(&name) {
                        below.push((path, shown));
                    }
                    continue;
                }
                self.add(shown);
            }
            below.sort();
            folders.extend(below);
        }
    }
}

/// Sees that something found in a folder is a file, rather than a pipe that nobody writes to.
pub fn expect_file(path: &Path) -> Result<(), Failure> {
    match path.metadata() {
        Ok(about) if about.is_file() => Ok(()),
        Ok(_) => {
            let help = "take it away, or give it another name";
            Err(Failure::new(format!("{} is no file", path.display()), help))
        }
        Err(error) => Err(Failure::io("read", path, &error)),
    }
}

fn is_left_out(name: &OsStr) -> bool {
    let name = name.to_string_lossy();
    name.starts_with('.') || LEFT_OUT.contains(&&*name)
}
