//! Where output goes when a file is named for it: never over what is not its own.

use super::{is_same, place, read_text, stage};
use crate::failure::Failure;
use harmonym_lab::score;
use std::fs::{self, File, OpenOptions};
use std::io::{Read, Write};
use std::path::{Path, PathBuf};

/// So much of a file tells what it is.
const HEAD: u64 = 4096;

/// What is written.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Kind {
    Table,
    Take,
    Score,
    Svg,
    Png,
    Html,
    Markdown,
    Pdf,
    Names,
    Pack,
}

impl Kind {
    fn word(self) -> &'static str {
        match self {
            Self::Table => "a table of actions",
            Self::Take => "a take",
            Self::Score => "a score",
            Self::Svg => "an SVG picture",
            Self::Png => "a PNG picture",
            Self::Html => "a page",
            Self::Markdown => "a sheet in Markdown",
            Self::Pdf => "a PDF",
            Self::Names => "a file of names",
            Self::Pack => "a pack",
        }
    }

    fn ending(self) -> &'static str {
        match self {
            Self::Table => ".csv",
            Self::Take => ".take.jsonl",
            Self::Score => ".score",
            Self::Svg => ".svg",
            Self::Png => ".png",
            Self::Html => ".html",
            Self::Markdown => ".md",
            Self::Pdf => ".pdf",
            Self::Names => ".h",
            Self::Pack => ".pack.jsonl",
        }
    }

    /// Whether what a file begins with is of this kind.
    fn begins(self, head: &[u8]) -> bool {
        let text = String::from_utf8_lossy(head);
        let text = text.trim_start_matches('\u{feff}').trim_start();
        let line = text.lines().next().unwrap_or_default();
        match self {
            Self::Table => {
                let cells = line.split([',', ';', '\t']).map(|cell| cell.trim().trim_matches('"'));
                let names: Vec<String> = cells.map(str::to_lowercase).collect();
                ["map", "action"].iter().all(|name| names.iter().any(|cell| cell == name))
            }
            Self::Take => line.starts_with('{') && line.contains("\"take\""),
            // Every score is somebody's work.
            Self::Score => false,
            Self::Svg => {
                text.starts_with("<svg") || text.starts_with("<?xml") && text.contains("<svg")
            }
            Self::Png => head.starts_with(b"\x89PNG\r\n\x1a\n"),
            Self::Html => line.to_lowercase().starts_with("<!doctype html"),
            // Other people's texts begin so, too: the second line tells.
            Self::Markdown => {
                text.starts_with("# ") && text.contains("\nKeys as on a keyboard of the layout ")
            }
            Self::Pdf => head.starts_with(b"%PDF-"),
            Self::Names => line.contains("Made by `harmonym generate "),
            Self::Pack => line.starts_with("{\"pack\":"),
        }
    }
}

/// A file that was named for output.
pub struct Target<'a> {
    pub path: &'a Path,
    /// Whether a regular file of another kind is written over.
    pub force: bool,
    pub kind: Kind,
}

/// Where output goes.
enum Way {
    /// To a file that is replaced.
    File,
    /// Into what is there: a device, a pipe.
    Into,
    /// To what this process has open under that number.
    Open(u32),
}

impl Target<'_> {
    /// Sees that it may be written; `inputs` are the files that the command reads.
    pub fn expect_free(&self, inputs: &[&Path]) -> Result<(), Failure> {
        let shown = self.path.display();
        if !matches!(self.way(), Way::File) {
            return Ok(());
        }
        let mut players = inputs.iter().filter_map(|input| named_player(input));
        let is_input = inputs.iter().any(|input| is_same(input, self.path));
        if is_input || players.any(|player| is_same(&player, self.path)) {
            let message = format!("{shown} is what is read here: writing over it would lose it");
            let help = format!("name another file, such as other{}", self.kind.ending());
            return Err(Failure::new(message, help));
        }
        if self.path.is_dir() {
            return Err(Failure::new(format!("{shown} is a folder"), "name a file in it"));
        }
        if self.force {
            return Ok(());
        }
        let ending = self.path.extension().map(|ending| ending.to_string_lossy().to_lowercase());
        let is_own = |ending: &&str| self.kind.ending().strip_prefix('.') == Some(*ending);
        if let Some(ending @ ("toml" | "score")) = ending.as_deref().filter(|e| !is_own(e)) {
            let what = if ending == "toml" { "a profile" } else { "a score" };
            let message =
                format!("{shown} is the name of {what}, and {} would be in it", self.kind.word());
            let help = format!("end it in {}, or say --force", self.kind.ending());
            return Err(Failure::new(message, help));
        }
        let head = self.head().unwrap_or_default();
        if !head.is_empty() && !self.kind.begins(&head) {
            let what = match self.kind {
                Kind::Score => String::new(),
                kind => format!(", and is not {}", kind.word()),
            };
            let message = format!("{shown} is there already{what}");
            return Err(Failure::new(message, "name another file, or write over it with --force"));
        }
        Ok(())
    }

    /// Sees that nothing that somebody wrote by hand is written over, not even by force.
    pub fn expect_not_by_hand(&self) -> Result<(), Failure> {
        if !self.path.is_file() {
            return Ok(());
        }
        let ending = self.path.extension().map(|ending| ending.to_string_lossy().to_lowercase());
        let is_key = |line: &str| {
            let key = line.split('=').next().unwrap_or_default().trim();
            matches!(key, "harmonym" | "harmonym-player") && line.contains('=')
        };
        let text = String::from_utf8_lossy(&self.head().unwrap_or_default()).into_owned();
        let what = match ending.as_deref() {
            Some("score") => "a score",
            Some("toml") => "a profile or a player's file",
            _ if text.lines().any(is_key) => "a profile or a player's file",
            _ => return Ok(()),
        };
        let message = format!("{} is {what}: writing over it would lose it", self.path.display());
        let help = format!("name another file, such as other{}", self.kind.ending());
        Err(Failure::new(message, help))
    }

    /// What the file begins with.
    fn head(&self) -> std::io::Result<Vec<u8>> {
        let mut head = Vec::new();
        File::open(self.path)?.take(HEAD).read_to_end(&mut head)?;
        Ok(head)
    }

    /// Writes it; `stdout` writes to the standard output, if that is meant.
    pub fn write(
        &self,
        content: &[u8],
        stdout: impl FnOnce(&[u8]) -> Result<(), Failure>,
    ) -> Result<(), Failure> {
        let mut options = OpenOptions::new();
        match self.way() {
            Way::File => return place::write(self.path, content, None),
            Way::Open(1) => return stdout(content),
            // Behind what is there: the file is open for that.
            Way::Open(_) => options.append(true),
            Way::Into => options.write(true),
        };
        let open = options.open(self.path);
        open.and_then(|mut file| file.write_all(content))
            .map_err(|error| Failure::io("write", self.path, &error))
    }

    fn way(&self) -> Way {
        if let Some(number) = open_number(self.path) {
            return Way::Open(number);
        }
        match fs::metadata(self.path) {
            Ok(about) if !about.is_file() && !about.is_dir() => Way::Into,
            _ => Way::File,
        }
    }
}

/// The player's file that a score names, whose controls are read with it.
fn named_player(score: &Path) -> Option<PathBuf> {
    if score.extension().is_none_or(|ending| ending != "score") {
        return None;
    }
    let text = read_text(score).ok()?;
    score::player(&text).map(|player| stage::folder(score).join(player))
}

/// The number of what this process has open, if a path leads there: `/dev/stdout`, `/dev/fd/63`.
pub fn open_number(path: &Path) -> Option<u32> {
    let own = ["/proc/self/fd", "/dev/fd"].map(|folder| fs::canonicalize(folder).ok());
    let mut path: PathBuf = path.to_owned();
    for _ in 0..40 {
        let folder = stage::folder(&path).to_owned();
        let real = fs::canonicalize(&folder).ok();
        if real.is_some() && own.contains(&real) {
            return path.file_name()?.to_str()?.parse().ok();
        }
        path = folder.join(fs::read_link(&path).ok()?);
    }
    None
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_file_is_known_by_how_it_begins() {
        for (kind, head) in [
            (Kind::Table, &b"map,action,value\nquay,walk,plane\n"[..]),
            (Kind::Table, b"\xef\xbb\xbfMap;Action;Who\r\n"),
            (Kind::Table, b"\"map\"\t\"action\""),
            (Kind::Take, b"{\"take\":1,\"title\":\"Hail\"}\n{\"t\":0}"),
            (Kind::Svg, b"<svg xmlns=\"\">"),
            (Kind::Svg, b"<?xml version=\"1.0\"?>\n<svg>"),
            (Kind::Png, b"\x89PNG\r\n\x1a\n\0\0"),
            (Kind::Html, b"<!DOCTYPE html>\n"),
        ] {
            let all = [Kind::Table, Kind::Take, Kind::Svg, Kind::Png, Kind::Html];
            for other in all {
                assert_eq!(other.begins(head), other == kind, "{kind:?} {other:?}");
            }
        }
        for head in [&b"name,price\nlamp,3\n"[..], b"[profile]\n", b"title \"x\"\n", b"\0\0"] {
            assert!(!Kind::Table.begins(head) && !Kind::Svg.begins(head));
        }
    }

    #[test]
    fn what_is_open_is_known_under_any_name() {
        assert_eq!(open_number(Path::new("/dev/stdout")), Some(1));
        assert_eq!(open_number(Path::new("/dev/fd/63")), Some(63));
        assert_eq!(open_number(Path::new("/proc/self/fd/2")), Some(2));
        let folder = tempfile::tempdir().unwrap();
        let link = folder.path().join("out.csv");
        std::os::unix::fs::symlink("/dev/stdout", &link).unwrap();
        assert_eq!(open_number(&link), Some(1));
        assert_eq!(open_number(folder.path()), None);
        assert_eq!(open_number(Path::new("/dev/null")), None);
    }
}
