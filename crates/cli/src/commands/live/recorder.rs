//! A take that is written while hands are at work.

use crate::args::{From, RealArgs};
use crate::escape::named;
use crate::failure::Failure;
use crate::files::{self, Fresh, Kind, Target};
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
    fresh: Fresh,
    file: BufWriter<File>,
    line: String,
    pub inputs: usize,
    handed_over: Instant,
}

/// A take that is over.
pub struct Ended {
    pub path: PathBuf,
    pub inputs: usize,
    /// Whether nothing was recorded, and what was there before stays.
    pub is_kept: bool,
}

impl Ended {
    /// What became of it, in words.
    pub fn told(&self) -> String {
        let (name, inputs) = (named(&self.path), self.inputs);
        match self.is_kept {
            true => format!("nothing was recorded: {name} stays as it was"),
            false => format!("wrote {name} ({inputs} inputs)"),
        }
    }
}

/// What the first line says.
pub struct About<'a> {
    pub title: Option<&'a str>,
    pub playing: harmonym_lab::take::Playing,
    pub plan: &'a Plan,
}

/// Sees that a take can be written there: one that is there was recorded once and can't be made again. What is
/// read meanwhile, and what somebody wrote by hand, is never written over.
pub fn expect_free(path: &Path, profile: Option<&Path>, real: &RealArgs) -> Result<(), Failure> {
    let is_there = path.metadata().is_ok_and(|about| about.is_file() && about.len() > 0);
    if is_there && !real.force {
        let message = format!("{} is there already", path.display());
        return Err(Failure::new(message, "name another file, or write over it with --force"));
    }
    let own = files::profile_path(profile).ok();
    let played = real.from.iter().filter_map(|from| match from {
        From::File(path) => Some(path.as_path()),
        From::Terminal | From::Evdev | From::Demo => None,
    });
    let read: Vec<&Path> =
        played.chain(own.as_deref()).chain(real.player.path.as_deref()).collect();
    let target = Target { path, force: real.force, kind: Kind::Take };
    target.expect_free(&read)?;
    target.expect_not_by_hand()
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
        let (fresh, file) = Fresh::begin(path)?;
        let mut file = BufWriter::new(file);
        file.write_all(line.as_bytes()).and_then(|()| file.flush()).map_err(io)?;
        let (path, handed_over) = (path.to_owned(), Instant::now());
        Ok(Self { path, fresh, file, line, inputs: 0, handed_over })
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
        let mut written = self.file.write_all(self.line.as_bytes());
        if self.inputs == 1 {
            // Now there is something in it that is worth as much as what was there.
            written = written.and_then(|()| self.file.flush()).and_then(|()| self.fresh.place());
        }
        written.map_err(|error| self.lost(&error))
    }

    /// Hands over what was written, once in a while.
    pub fn tend(&mut self) -> Result<(), Failure> {
        if self.handed_over.elapsed() < HANDED_OVER {
            return Ok(());
        }
        self.handed_over = Instant::now();
        self.file.flush().map_err(|error| self.lost(&error))
    }

    /// The take is over. One without inputs is written where there was none before.
    pub fn end(mut self) -> Result<Ended, Failure> {
        let done = self.file.flush().and_then(|()| self.file.get_ref().sync_all());
        let is_kept = self.inputs == 0 && self.path.metadata().is_ok_and(|about| about.len() > 0);
        let done = done.and_then(|()| if is_kept { Ok(()) } else { self.fresh.place() });
        done.map_err(|error| self.lost(&error))?;
        let Self { path, inputs, .. } = self;
        Ok(Ended { path, inputs, is_kept })
    }

    fn lost(&self, error: &std::io::Error) -> Failure {
        Failure::io("write", &self.path, error)
    }
}
