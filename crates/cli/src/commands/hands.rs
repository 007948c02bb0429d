//! Hands from a file: a score or a take.

use super::play::{parse_rate, scheme};
use super::render::read_score;
use crate::args::HandsArgs;
use crate::failure::Failure;
use crate::files::{Loaded, read_text};
use harmonym_lab::score::Score;
use harmonym_lab::take::{Header, Input, Playing, Reader};
use harmonym_lab::trace::Lanes;
use harmonym_runtime::base::{MapId, Rate, SchemeId};
use harmonym_runtime::controls::Layout;
use harmonym_runtime::plan::Plan;
use std::fs::File;
use std::io::{BufRead, BufReader, ErrorKind, Read as _};
use std::path::{Path, PathBuf};
use std::sync::Arc;

/// A longer line is not a line of a take.
const LONGEST_LINE: u64 = 1024 * 1024;

/// What a score or take says before its first input.
#[derive(Clone, Debug, Default)]
pub struct About {
    pub title: Option<String>,
    pub start: Option<MapId>,
    pub rate: Option<Rate>,
    pub layout: Option<Layout>,
}

impl From<&Score> for About {
    fn from(score: &Score) -> Self {
        let Score { title, start, rate, layout, .. } = score;
        Self { title: title.clone(), start: *start, rate: *rate, layout: *layout }
    }
}

impl From<Header> for About {
    fn from(header: Header) -> Self {
        let Header { title, start, rate, layout, .. } = header;
        Self { title, start, rate, layout }
    }
}

/// The rate and the scheme that are asked for.
pub type Asked = (Option<Rate>, Option<SchemeId>);

/// Everything that hands do.
pub struct Hands {
    pub about: About,
    pub inputs: Vec<Input>,
}

impl Hands {
    /// Reads a score or take whole.
    pub fn read(path: &Path, loaded: &Loaded) -> Result<Self, Failure> {
        if !is_take(path)? {
            let (_, score) = read_score(read_text(path)?, &loaded.plan)?;
            return Ok(Self { about: About::from(&score), inputs: score.perform().collect() });
        }
        let name = path.display().to_string();
        let mut take = Take::open(path, &name, loaded)?;
        let mut inputs = Vec::new();
        while let Some(input) = take.next()? {
            inputs.push(input);
        }
        Ok(Self { about: take.about, inputs })
    }

    /// How they are played: as asked for, else as they say.
    pub fn playing(&self, (rate, scheme): Asked) -> Playing {
        let rate = rate.or(self.about.rate).unwrap_or(Rate::DEFAULT);
        Playing { start: self.about.start, rate, scheme }
    }

    /// The run laid out in time, with the plan that it is of.
    pub fn lanes(self, loaded: &Loaded, playing: Playing) -> (Lanes, Arc<Plan>) {
        let plan = loaded.plan_for(self.about.layout);
        (Lanes::of_inputs(&plan, playing, self.inputs), plan)
    }
}

impl HandsArgs {
    /// The rate and the scheme that are asked for.
    pub fn asked(&self, loaded: &Loaded) -> Result<Asked, Failure> {
        let rate = self.rate.as_deref().map(parse_rate).transpose()?;
        let scheme = self.scheme.as_deref().map(|name| scheme(loaded, name)).transpose()?;
        Ok((rate, scheme))
    }
}

/// Every file, and every score and take of the folders.
pub fn gathered(inputs: &[PathBuf]) -> Result<Vec<PathBuf>, Failure> {
    let mut all = Vec::new();
    for input in inputs {
        if !input.is_dir() {
            all.push(input.clone());
            continue;
        }
        let entries = std::fs::read_dir(input).map_err(|e| Failure::io("read", input, &e))?;
        let mut own: Vec<PathBuf> = entries.filter_map(|entry| Some(entry.ok()?.path())).collect();
        own.retain(|path| {
            let name = path.to_string_lossy();
            name.ends_with(".score") || name.ends_with(".jsonl")
        });
        own.sort();
        if own.is_empty() {
            let message = format!("there are no scores or takes in {}", input.display());
            return Err(Failure::new(message, "they end in .score or .take.jsonl"));
        }
        all.extend(own);
    }
    Ok(all)
}

/// A take begins with a brace; a score never does.
pub fn is_take(path: &Path) -> Result<bool, Failure> {
    let io = |error: std::io::Error| Failure::io("read", path, &error);
    let name = path.to_string_lossy();
    if name.ends_with(".score") || path.is_dir() {
        return Ok(false);
    }
    let mut reader = BufReader::new(File::open(path).map_err(io)?);
    let start = reader.fill_buf().map_err(io)?;
    Ok(name.ends_with(".jsonl") || start.trim_ascii_start().first() == Some(&b'{'))
}

/// A take that is read input by input.
pub struct Take<'a> {
    pub about: About,
    /// How many bytes it has.
    pub size: u64,
    lines: Lines<'a>,
    path: &'a Path,
    reader: Reader<'a>,
}

impl<'a> Take<'a> {
    pub fn open(path: &'a Path, name: &'a str, loaded: &'a Loaded) -> Result<Self, Failure> {
        let io = |error: std::io::Error| Failure::io("read", path, &error);
        let file = File::open(path).map_err(io)?;
        let size = file.metadata().map_or(0, |about| about.len());
        let file = BufReader::new(file);
        let mut lines = Lines { file, name, line: Vec::new(), number: 0, read: 0 };
        let first = lines.next(path)?.unwrap_or_default().to_owned();
        let (reader, header) = Reader::new(name, &first, &loaded.plan)?;
        Ok(Self { about: About::from(header), size, lines, path, reader })
    }

    /// The next input, if there is one.
    pub fn next(&mut self) -> Result<Option<Input>, Failure> {
        while let Some(line) = self.lines.next(self.path)? {
            let input = self.reader.line(line)?;
            if input.is_some() {
                return Ok(input);
            }
        }
        Ok(None)
    }

    /// How many bytes have been read, once in a thousand lines or so.
    pub fn progress(&self) -> Option<u64> {
        self.lines.number.is_multiple_of(1024).then_some(self.lines.read)
    }
}

/// The lines of a take, one in memory at a time.
struct Lines<'a> {
    file: BufReader<File>,
    name: &'a str,
    line: Vec<u8>,
    number: usize,
    read: u64,
}

impl Lines<'_> {
    fn next(&mut self, path: &Path) -> Result<Option<&str>, Failure> {
        self.line.clear();
        let mut limited = (&mut self.file).take(LONGEST_LINE);
        let read = limited.read_until(b'\n', &mut self.line);
        let read = read.map_err(|error: std::io::Error| match error.kind() {
            ErrorKind::IsADirectory => {
                Failure::new(format!("{} is a folder", self.name), "name a take in it")
            }
            _ => Failure::io("read", path, &error),
        })?;
        if read == 0 {
            return Ok(None);
        }
        self.number += 1;
        self.read += read as u64;
        let (name, number) = (self.name, self.number);
        if read as u64 == LONGEST_LINE && !self.line.ends_with(b"\n") {
            let message = format!("{name}:{number}: the line is longer than 1 MiB");
            return Err(Failure::new(message, "a take has one report a line"));
        }
        match std::str::from_utf8(&self.line) {
            Ok(text) => Ok(Some(text.trim_end_matches(['\n', '\r']))),
            Err(error) => {
                let column = self.line[..error.valid_up_to()]
                    .iter()
                    .filter(|b| (**b as i8) >= -0x40)
                    .count();
                let message = format!("{name}:{number}:{}: this is not UTF-8", column + 1);
                Err(Failure::new(message, "save the take in the encoding UTF-8"))
            }
        }
    }
}
