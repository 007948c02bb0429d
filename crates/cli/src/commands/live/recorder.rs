//! A take that is written while hands are at work.

use crate::failure::Failure;
use crate::files::{Kind, Target};
use harmonym_lab::take::{Input, write_header, write_input};
use harmonym_runtime::plan::Plan;
use std::fs::File;
use std::io::{BufWriter, Write};
use std::path::{Path, PathBuf};
use std::time::{Duration, Instant};

/// What was written is handed over so often: no more is lost than came since.
const HANDED_OVER: Duration = Duration::from_millis(500);

/// A take on its way into a file, whole lines at a time.
pub struct Recorder {
    path: PathBuf,
    file: BufWriter<File>,
    line: String,
    pub inputs: usize,
    handed_over: Instant,
}

/// What the first line says.
pub struct About<'a> {
    pub title: Option<&'a str>,
    pub playing: harmonym_lab::take::Playing,
    pub plan: &'a Plan,
}

/// Sees that a take can be written there: one that is there was recorded once and can't be made again.
pub fn expect_free(path: &Path, force: bool) -> Result<(), Failure> {
    let is_there = path.metadata().is_ok_and(|about| about.is_file() && about.len() > 0);
    if is_there && !force {
        let message = format!("{} is there already", path.display());
        return Err(Failure::new(message, "name another file, or write over it with --force"));
    }
    Target { path, force, kind: Kind::Take }.expect_free(&[])
}

/// The name of a take that is not there yet.
pub fn free_name() -> Option<PathBuf> {
    let mut all = (1..10_000).map(|number| PathBuf::from(format!("live-{number}.take.jsonl")));
    all.find(|path| !path.exists())
}

impl Recorder {
    /// Begins a take.
    pub fn begin(path: &Path, about: &About<'_>) -> Result<Self, Failure> {
        let io = |error: std::io::Error| Failure::io("write", path, &error);
        let mut line = String::new();
        let names = about.plan.names();
        let start = about.playing.start.map(|map| names.maps[map].as_str());
        let layout = Some(about.plan.layout()).filter(|layout| *layout != Default::default());
        let seats = about.playing.seats;
        // Writing to memory does not fail.
        let rate = Some(about.playing.rate);
        let _ = write_header(&mut line, about.title, start, rate, layout, seats);
        line.push('\n');
        let mut file = BufWriter::new(File::create(path).map_err(io)?);
        file.write_all(line.as_bytes()).and_then(|()| file.flush()).map_err(io)?;
        let (path, handed_over) = (path.to_owned(), Instant::now());
        Ok(Self { path, file, line, inputs: 0, handed_over })
    }

    pub fn path(&self) -> &Path {
        &self.path
    }

    /// Writes what happened.
    pub fn write(&mut self, plan: &Plan, input: &Input) -> Result<(), Failure> {
        self.line.clear();
        // Writing to memory does not fail.
        let _ = write_input(&mut self.line, plan, input);
        self.line.push('\n');
        self.inputs += 1;
        self.file.write_all(self.line.as_bytes()).map_err(|error| self.lost(&error))
    }

    /// Hands over what was written, once in a while.
    pub fn tend(&mut self) -> Result<(), Failure> {
        if self.handed_over.elapsed() < HANDED_OVER {
            return Ok(());
        }
        self.handed_over = Instant::now();
        self.file.flush().map_err(|error| self.lost(&error))
    }

    /// The take is over.
    pub fn end(mut self) -> Result<(), Failure> {
        let done = self.file.flush().and_then(|()| self.file.get_ref().sync_all());
        done.map_err(|error| self.lost(&error))
    }

    fn lost(&self, error: &std::io::Error) -> Failure {
        Failure::io("write", &self.path, error)
    }
}
