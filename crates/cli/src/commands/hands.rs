//! Hands from a file: a score or a take.

use super::play::{parse_rate, scheme};
use crate::args::HandsArgs;
use crate::escape::one_line;
use crate::failure::Failure;
use crate::files::around::{Around, expect_file};
use crate::files::{Loaded, open_settled, read_bounded, text_of};
use harmonym_lab::score::{self, Score};
use harmonym_lab::take::limits::{self, MOST_EVENTS, MOST_INPUTS, longest};
use harmonym_lab::take::{Header, Input, Playing, Reader, Step};
use harmonym_lab::trace::Lanes;
use harmonym_lang::source::Source;
use harmonym_runtime::base::{MapId, Rate, SchemeId, Seat, Time};
use harmonym_runtime::controls::Layout;
use harmonym_runtime::plan::Plan;
use std::borrow::Cow;
use std::io::{BufRead, BufReader, Cursor, ErrorKind, Read as _};
use std::path::{Path, PathBuf};
use std::sync::Arc;

/// A longer line is not a line of a take.
const LONGEST_LINE: u64 = 1024 * 1024;

/// Some editors write it before a text.
const BYTE_ORDER_MARK: &[u8] = "\u{feff}".as_bytes();

/// What a score or take says before its first input.
#[derive(Clone, Debug, Default)]
pub struct About {
    pub title: Option<String>,
    pub start: Option<MapId>,
    pub rate: Option<Rate>,
    pub layout: Option<Layout>,
    /// How many players there are, if not as many as the profile says.
    pub seats: Option<u8>,
    /// The file of the player whose controls these are.
    pub player: Option<PathBuf>,
}

impl About {
    /// What a score says that stands at `path`.
    pub fn of(score: &Score, path: &Path) -> Self {
        let Score { title, start, rate, layout, seats, .. } = score;
        let title = title.clone();
        let beside = path.parent().unwrap_or(Path::new(""));
        let player = score.player.as_deref().map(|player| beside.join(player));
        Self { title, start: *start, rate: *rate, layout: *layout, seats: *seats, player }
    }
}

impl About {
    /// What it is called where that stands among other text.
    pub fn shown_title(&self) -> Cow<'_, str> {
        one_line(self.title.as_deref().unwrap_or("Untitled"))
    }
}

impl From<Header> for About {
    fn from(header: Header) -> Self {
        let Header { title, start, rate, layout, seats } = header;
        Self { title, start, rate, layout, seats, player: None }
    }
}

impl About {
    /// The plan that the hands play on.
    pub fn plan(&self, loaded: &Loaded) -> Result<Arc<Plan>, Failure> {
        loaded.plan_for(self.layout, self.player.as_deref())
    }
}

/// The seat that is asked for, of so many that play.
pub fn asked_seat(asked: Option<u8>, seats: u8) -> Result<Option<Seat>, Failure> {
    let Some(number) = asked else { return Ok(None) };
    let seat = Seat::new(number).filter(|seat| seat.number() <= seats);
    let count =
        if seats == 1 { "one seat plays".to_owned() } else { format!("{seats} seats play") };
    let fault = || Failure::new(format!("there is no seat {number}: {count}"), "write --seat 1");
    seat.map(Some).ok_or_else(fault)
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
        Self::of(HandsFile::open(path)?, loaded)
    }

    /// Reads a score or take that was opened.
    pub fn of(file: HandsFile, loaded: &Loaded) -> Result<Self, Failure> {
        if !file.is_take {
            let path = file.path.clone();
            let score = score::read(&file.into_source()?, &loaded.plan)?;
            let about = About::of(&score, &path);
            return Ok(Self { about, inputs: score.perform().collect() });
        }
        let (path, name) = (file.path.clone(), file.name());
        let mut take = Take::of(file, &path, &name, loaded)?;
        let mut inputs = Vec::new();
        while let Some(input) = take.next()? {
            if inputs.len() == MOST_INPUTS {
                let message = format!("{name} has more than {MOST_INPUTS} inputs");
                let help = "cut it, or `harmonym play` it, which reads line by line";
                return Err(Failure::new(message, help));
            }
            inputs.push(input);
        }
        Ok(Self { about: take.about, inputs })
    }

    /// How they are played: as asked for, else as they say.
    pub fn playing(&self, (rate, scheme): Asked) -> Result<Playing, Failure> {
        let rate = rate.or(self.about.rate).unwrap_or(Rate::DEFAULT);
        expect_short(rate, self.inputs.last().map_or(Time::ZERO, |input| input.t))?;
        let About { start, seats, .. } = self.about;
        Ok(Playing { start, rate, scheme, seats })
    }

    /// The run laid out in time, with the plan that it is of.
    pub fn lanes(self, loaded: &Loaded, playing: Playing) -> Result<(Lanes, Arc<Plan>), Failure> {
        let plan = self.about.plan(loaded)?;
        let lanes = Lanes::of_inputs(&plan, playing, self.inputs);
        expect_whole(lanes.is_cut)?;
        Ok((lanes, plan))
    }
}

/// Sees that a run which goes on to `t` is not too long at its rate.
pub fn expect_short(rate: Rate, t: Time) -> Result<(), Failure> {
    let longest = longest(rate);
    if t <= longest {
        return Ok(());
    }
    let message = format!("a run at {rate} ticks a second lasts {longest} s at most, not {t} s");
    Err(Failure::new(message, limits::shorter(rate)))
}

/// Sees that a run was not cut short.
pub fn expect_whole(is_cut: bool) -> Result<(), Failure> {
    if !is_cut {
        return Ok(());
    }
    let message = format!("the run was cut short: it tells more than {MOST_EVENTS} events");
    let help = "play a part of it, or at a lower rate: see what fires so often";
    Err(Failure::new(message, help))
}

impl HandsArgs {
    /// The rate and the scheme that are asked for.
    pub fn asked(&self, loaded: &Loaded) -> Result<Asked, Failure> {
        let rate = self.rate.as_deref().map(parse_rate).transpose()?;
        let scheme = self.scheme.as_deref().map(|name| scheme(loaded, name)).transpose()?;
        Ok((rate, scheme))
    }
}

/// Every file, and every score and take of the folders and those below.
pub fn gathered(inputs: &[PathBuf]) -> Result<Vec<PathBuf>, Failure> {
    let mut all = Vec::new();
    for input in inputs {
        if !input.is_dir() {
            all.push(input.clone());
            continue;
        }
        let around = Around::below(input);
        if let Some((folder, why)) = around.left.first() {
            let message = format!("cannot look through {}: {why}", folder.display());
            return Err(Failure::new(message, "name the files"));
        }
        let own = around.all();
        if own.is_empty() {
            let message = format!("there are no scores or takes in {}", input.display());
            return Err(Failure::new(message, "they end in .score or .take.jsonl"));
        }
        own.iter().try_for_each(|path| expect_file(path))?;
        all.extend(own);
    }
    Ok(all)
}

/// A score or take that is open: a file, or what a pipe gives, once.
pub struct HandsFile {
    path: PathBuf,
    reader: Box<dyn BufRead>,
    /// How many bytes it has, as far as that is known.
    size: u64,
    pub is_take: bool,
}

impl HandsFile {
    pub fn open(path: &Path) -> Result<Self, Failure> {
        if path.is_dir() {
            let message = format!("{} is a folder", path.display());
            return Err(Failure::new(message, "name a score or take in it"));
        }
        let (file, size) = open_settled(path)?;
        Self::from_reader(path, Box::new(BufReader::new(file)), size)
    }

    /// What comes through standard input.
    pub fn of_input() -> Result<Self, Failure> {
        let reader = Box::new(BufReader::new(std::io::stdin()));
        Self::from_reader(Path::new("standard input"), reader, 0)
    }

    fn from_reader(path: &Path, mut reader: Box<dyn BufRead>, size: u64) -> Result<Self, Failure> {
        let io = |error: std::io::Error| Failure::io("read", path, &error);
        if reader.fill_buf().map_err(io)?.starts_with(BYTE_ORDER_MARK) {
            reader.consume(BYTE_ORDER_MARK.len());
        }
        let start = reader.fill_buf().map_err(io)?;
        let name = path.to_string_lossy();
        // A take begins with a brace; a score never does.
        let begins_so = start.trim_ascii_start().first() == Some(&b'{');
        let is_take = !name.ends_with(".score") && (name.ends_with(".jsonl") || begins_so);
        Ok(Self { path: path.to_owned(), reader, size, is_take })
    }

    pub fn name(&self) -> String {
        self.path.display().to_string()
    }

    /// Whether what it begins with is the header of a take, be it faulty.
    pub fn has_header(&mut self) -> Result<bool, Failure> {
        let start = self.reader.fill_buf();
        let start = start.map_err(|error| Failure::io("read", &self.path, &error))?;
        let line = start.split(|byte| *byte == b'\n').next().unwrap_or_default();
        Ok(String::from_utf8_lossy(line).contains("\"take\""))
    }

    /// All of it, as a text.
    pub fn into_source(self) -> Result<Source, Failure> {
        text_of(&self.name(), self.into_bytes()?)
    }

    fn into_bytes(self) -> Result<Vec<u8>, Failure> {
        read_bounded(self.reader, &self.path)
    }
}

/// A score or take that is read more than once.
pub struct HandsAgain {
    path: PathBuf,
    /// What a pipe gave.
    kept: Option<Vec<u8>>,
}

impl HandsAgain {
    pub fn new(path: &Path) -> Result<Self, Failure> {
        let kept = match path.metadata() {
            Ok(about) if !about.is_file() && !about.is_dir() => {
                Some(HandsFile::open(path)?.into_bytes()?)
            }
            _ => None,
        };
        Ok(Self { path: path.to_owned(), kept })
    }

    pub fn open(&self) -> Result<HandsFile, Failure> {
        match &self.kept {
            None => HandsFile::open(&self.path),
            Some(bytes) => {
                let reader = Box::new(Cursor::new(bytes.clone()));
                HandsFile::from_reader(&self.path, reader, bytes.len() as u64)
            }
        }
    }
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
    /// A take that was opened; `name` is what messages call it.
    pub fn of(
        file: HandsFile,
        path: &'a Path,
        name: &'a str,
        loaded: &'a Loaded,
    ) -> Result<Self, Failure> {
        let HandsFile { reader: file, size, .. } = file;
        let mut lines = Lines { file, name, line: Vec::new(), number: 0, read: 0 };
        let first = lines.next(path)?.unwrap_or_default().to_owned();
        let (reader, header) = Reader::new(name, &first, &loaded.plan)?;
        Ok(Self { about: About::from(header), size, lines, path, reader })
    }

    /// The next input or tick, if there is one.
    pub fn step(&mut self) -> Result<Option<Step>, Failure> {
        while let Some(line) = self.lines.next(self.path)? {
            let step = self.reader.step(line)?;
            if step.is_some() {
                return Ok(step);
            }
        }
        Ok(None)
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
    file: Box<dyn BufRead>,
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
