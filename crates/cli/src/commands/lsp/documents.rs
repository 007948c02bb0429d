//! The texts that an editor has open, and what is beside them on the disk.

use super::position::{Encoding, Lines};
use crate::files::{self, Loaded, PROFILE};
use harmonym_lang::profile::{Profile, read};
use harmonym_lang::report::{Diagnostics, Faults};
use harmonym_lang::source::Source;
use lsp_types::{DidChangeTextDocumentParams, Position, TextDocumentItem, Uri};
use std::collections::HashMap;
use std::path::{Component, Path, PathBuf};
use std::rc::Rc;
use std::sync::Arc;
use url::Url;

/// What kind of file a text is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Kind {
    Profile,
    Score,
    Player,
    /// Nothing of ours.
    Other,
}

/// A text that is open.
#[derive(Clone)]
pub struct Document {
    pub uri: Uri,
    pub path: PathBuf,
    pub version: i32,
    pub source: Rc<Source>,
    pub lines: Rc<Lines>,
    pub kind: Kind,
}

impl Document {
    pub fn offset(&self, position: Position) -> usize {
        self.lines.offset(self.source.text(), position)
    }
}

/// A change that could be made at a place, found while the text was looked through.
#[derive(Clone, Debug)]
pub struct Offer {
    pub title: String,
    /// The text that it is a change of, and what that would be.
    pub before: String,
    pub after: String,
    /// What it mends: the place and the rule.
    pub of: (harmonym_lang::source::Span, &'static str),
}

/// What came of reading a profile.
pub type Read = Result<Arc<Loaded>, Rc<Faults>>;

/// All texts that are open.
pub struct Documents {
    pub encoding: Encoding,
    open: HashMap<String, Document>,
    /// For each profile the last text that was looked at, and what came of it.
    loaded: HashMap<PathBuf, (Rc<Source>, Read)>,
    /// For each profile the last one that was sound.
    sound: HashMap<PathBuf, Arc<Loaded>>,
    /// What is offered for each profile.
    pub offers: HashMap<PathBuf, Vec<Offer>>,
}

impl Documents {
    pub fn new(encoding: Encoding) -> Self {
        let (open, loaded, sound) = (HashMap::new(), HashMap::new(), HashMap::new());
        Self { encoding, open, loaded, sound, offers: HashMap::new() }
    }

    pub fn open(&mut self, item: TextDocumentItem) {
        let Some(path) = path_of(&item.uri) else { return };
        let document = self.document(item.uri, path, item.version, item.text);
        self.open.insert(document.uri.as_str().to_owned(), document);
    }

    fn document(&self, uri: Uri, path: PathBuf, version: i32, text: String) -> Document {
        let lines = Rc::new(Lines::new(&text, self.encoding));
        let kind = kind_of(&path, &text);
        let source = Rc::new(Source::new(path.display().to_string(), text));
        Document { uri, path, version, source, lines, kind }
    }

    pub fn change(&mut self, params: &DidChangeTextDocumentParams) {
        let Some(document) = self.open.get(params.text_document.uri.as_str()) else { return };
        let (uri, path) = (document.uri.clone(), document.path.clone());
        let mut text = document.source.text().to_owned();
        for change in &params.content_changes {
            match change.range {
                Some(range) => {
                    let lines = Lines::new(&text, self.encoding);
                    let start = lines.offset(&text, range.start);
                    let end = lines.offset(&text, range.end).max(start);
                    text.replace_range(start..end, &change.text);
                }
                None => text.clone_from(&change.text),
            }
        }
        let document = self.document(uri, path, params.text_document.version, text);
        self.open.insert(document.uri.as_str().to_owned(), document);
    }

    pub fn close(&mut self, uri: &Uri) {
        self.open.remove(uri.as_str());
    }

    pub fn all(&self) -> Vec<Document> {
        self.open.values().cloned().collect()
    }

    pub fn get(&self, uri: &Uri) -> Option<Document> {
        self.open.get(uri.as_str()).cloned()
    }

    /// The text of a file: as it is open, or as it is on the disk.
    pub fn text(&self, path: &Path) -> Option<Rc<Source>> {
        let path = &without_detours(path);
        match self.open.values().find(|one| one.path == *path) {
            Some(document) => Some(Rc::clone(&document.source)),
            None => files::read_text(path).ok().map(Rc::new),
        }
    }

    /// The document of a file, open or not.
    pub fn of_path(&self, path: &Path) -> Option<Document> {
        let path = &without_detours(path);
        if let Some(document) = self.open.values().find(|one| one.path == *path) {
            return Some(document.clone());
        }
        let source = files::read_text(path).ok()?;
        Some(self.document(uri_of(path)?, path.to_owned(), 0, source.text().to_owned()))
    }

    /// The profile of a file: itself, or the nearest one in its folder or above.
    pub fn profile_of(&self, document: &Document) -> Option<PathBuf> {
        if document.kind == Kind::Profile {
            return Some(document.path.clone());
        }
        let is_there =
            |path: &PathBuf| self.open.values().any(|one| one.path == *path) || path.is_file();
        document.path.ancestors().skip(1).map(|folder| folder.join(PROFILE)).find(is_there)
    }

    /// A profile, if it is sound; its faults, if it has some.
    pub fn load(&mut self, path: &Path) -> Option<Read> {
        let source = self.text(path)?;
        if let Some((known, loaded)) = self.loaded.get(path)
            && (Rc::ptr_eq(known, &source) || known.text() == source.text())
        {
            return Some(loaded.clone());
        }
        let loaded = match files::load((*source).clone()) {
            Ok(loaded) => Ok(Arc::new(loaded)),
            Err(crate::failure::Failure::Faults(faults)) => Err(Rc::new(faults)),
            Err(_) => return None,
        };
        if let Ok(loaded) = &loaded {
            self.sound.insert(path.to_owned(), Arc::clone(loaded));
        }
        self.loaded.insert(path.to_owned(), (source, loaded.clone()));
        Some(loaded)
    }

    /// A profile as it is, or as it was when it was sound last.
    pub fn last_sound(&mut self, path: &Path) -> Option<Arc<Loaded>> {
        match self.load(path)? {
            Ok(loaded) => Some(loaded),
            Err(_) => self.sound.get(path).cloned(),
        }
    }

    /// A profile as it is written.
    pub fn raw(&self, path: &Path) -> Option<Profile> {
        Some(read(&*self.text(path)?, &mut Diagnostics::new()))
    }
}

fn kind_of(path: &Path, text: &str) -> Kind {
    let begins = |key: &str| {
        let own = text.lines().find(|line| line.trim_start_matches('\u{feff}').starts_with(key));
        own.is_some_and(|line| {
            let rest = &line.trim_start_matches('\u{feff}')[key.len()..];
            rest.trim_start().starts_with('=')
        })
    };
    match path.extension().and_then(|one| one.to_str()) {
        Some("score") => Kind::Score,
        _ if path.file_name().is_some_and(|name| name == PROFILE) => Kind::Profile,
        Some("toml") if begins("harmonym-player") => Kind::Player,
        Some("toml") if begins("harmonym") => Kind::Profile,
        _ => Kind::Other,
    }
}

/// The file that a URI names.
fn path_of(uri: &Uri) -> Option<PathBuf> {
    Url::parse(uri.as_str()).ok()?.to_file_path().ok()
}

/// The same path without `..`: `scores/../players/kit.toml` is `players/kit.toml`.
fn without_detours(path: &Path) -> PathBuf {
    let mut straight = PathBuf::new();
    for part in path.components() {
        let is_up = part == Component::ParentDir;
        if !is_up || !matches!(straight.components().next_back(), Some(Component::Normal(_))) {
            straight.push(part);
        } else {
            straight.pop();
        }
    }
    straight
}

fn uri_of(path: &Path) -> Option<Uri> {
    let path = std::path::absolute(path).ok()?;
    Url::from_file_path(path).ok()?.as_str().parse().ok()
}
