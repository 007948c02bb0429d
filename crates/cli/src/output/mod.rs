//! Where output goes: data to stdout, remarks, faults and progress to stderr.

mod pager;
pub mod style;
pub mod terminal;

use crate::args::Color;
use crate::escape::styled;
use crate::failure::Failure;
use crate::files::Say;
use anstream::AutoStream;
use crossterm::cursor::MoveTo;
use crossterm::execute;
use crossterm::terminal::{Clear, ClearType};
use indicatif::{ProgressBar, ProgressStyle};
use pager::Pager;
use std::io::{self, IsTerminal, Write};
use std::time::{Duration, Instant};
use style::{Look, hung};

/// Text is laid out for at least so many columns.
const NARROWEST: usize = 40;
/// Text for people is no wider than this.
const WIDEST_TEXT: usize = 100;
/// Written out whenever so much has gathered.
const CHUNK: usize = 32 * 1024;
/// Work that takes longer than this shows a progress bar.
const LONG: Duration = Duration::from_millis(400);

/// The columns of the terminal; in a pipe what `COLUMNS` says; 100 where neither is there.
fn columns() -> usize {
    let said = std::env::var("COLUMNS").ok().and_then(|said| said.trim().parse().ok());
    let said = said.filter(|columns| *columns > 0 && !io::stdout().is_terminal());
    let terminal = || terminal_size::terminal_size().map(|(width, _)| usize::from(width.0));
    said.or_else(terminal).unwrap_or(WIDEST_TEXT).min(usize::from(u16::MAX))
}

pub struct Output {
    /// How stdout looks.
    pub look: Look,
    stderr: Look,
    quiet: bool,
    verbose: bool,
    pending: String,
    /// What long text goes through, where a person reads it.
    pager: Option<Pager>,
    progress: Option<Progress>,
}

/// A bar that appears only when the work turns out long.
struct Progress {
    bar: ProgressBar,
    since: Instant,
    shown: bool,
}

impl Output {
    pub fn new(color: Color, quiet: bool, verbose: bool) -> Self {
        let choice = match color {
            Color::Auto => None,
            Color::Always => Some(true),
            Color::Never => Some(false),
        };
        let is_colored = |auto: anstream::ColorChoice| {
            choice.unwrap_or(!matches!(auto, anstream::ColorChoice::Never))
        };
        let columns = columns().max(NARROWEST);
        let look =
            |auto| Look { color: is_colored(auto), width: columns.min(WIDEST_TEXT), columns };
        Self {
            look: look(AutoStream::choice(&io::stdout())),
            stderr: look(AutoStream::choice(&io::stderr())),
            quiet,
            verbose,
            pending: String::new(),
            pager: None,
            progress: None,
        }
    }

    /// From now on a person reads something that may be long: it goes through the pager that `PAGER`
    /// names, where stdout is a terminal that it is too long for.
    pub fn page(&mut self) {
        if self.pager.is_none() {
            self.pager = Pager::of_terminal();
        }
    }

    /// A line for people, in as many as it takes.
    pub fn line(&mut self, text: &str) -> Result<(), Failure> {
        let text = hung(text.trim_end(), self.look.width);
        self.write(|pending| {
            pending.push_str(&text);
            pending.push('\n');
        })
    }

    /// Lines for people that are laid out already; what is wider than the terminal goes on below.
    pub fn prose(&mut self, text: &str) -> Result<(), Failure> {
        let text = hung(text, self.look.columns);
        self.write(|pending| pending.push_str(&text))
    }

    /// Data, written by `write`.
    pub fn write(&mut self, write: impl FnOnce(&mut String)) -> Result<(), Failure> {
        write(&mut self.pending);
        if self.pending.len() >= CHUNK { self.flush() } else { Ok(()) }
    }

    /// A file's content as it is, behind what has gathered; on a terminal all of it is shown.
    pub fn bytes(&mut self, bytes: &[u8]) -> Result<(), Failure> {
        self.flush()?;
        let mut stdout = io::stdout().lock();
        let text = str::from_utf8(bytes).ok().filter(|_| stdout.is_terminal()).map(styled);
        if text.is_none() && stdout.is_terminal() {
            let help = "name a file for it: `-o FILE`, or `> FILE`";
            return Err(Failure::new("this is nothing that a terminal can show", help));
        }
        stdout
            .write_all(text.as_deref().map_or(bytes, str::as_bytes))
            .and_then(|()| stdout.flush())
            .map_err(|error| Failure::unwritten(&error))
    }

    /// Hands over all that is left, at the end of a command.
    pub fn finish(&mut self) -> Result<(), Failure> {
        let flushed = self.flush();
        self.pager = None;
        flushed
    }

    /// Hands over all data that has gathered.
    pub fn flush(&mut self) -> Result<(), Failure> {
        if let Some(pager) = &mut self.pager {
            match pager.take(&styled(&self.pending)) {
                Ok(true) => {
                    self.pending.clear();
                    return Ok(());
                }
                Ok(false) => {}
                Err(error) => return Err(Failure::unwritten(&error)),
            }
        }
        let write = || {
            let mut stdout = io::stdout().lock();
            stdout.write_all(styled(&self.pending).as_bytes()).and_then(|()| stdout.flush())
        };
        let written = match self.progress.as_ref().filter(|p| p.shown && io::stdout().is_terminal())
        {
            Some(progress) => progress.bar.suspend(write),
            None => write(),
        };
        self.pending.clear();
        written.map_err(|error| Failure::unwritten(&error))
    }

    /// Whether only what was asked for is told.
    pub fn is_quiet(&self) -> bool {
        self.quiet
    }

    /// A remark beside the data.
    pub fn remark(&mut self, text: &str) -> Result<(), Failure> {
        if self.quiet {
            return Ok(());
        }
        if self.pager.is_some() {
            return self.line(text);
        }
        // What was printed before it is seen before it.
        self.flush()?;
        self.tell(text);
        Ok(())
    }

    /// The same for what has to be told whatever became of the data.
    pub fn tell(&mut self, text: &str) {
        if !self.quiet {
            let width = if io::stderr().is_terminal() { self.stderr.width } else { usize::MAX };
            let _ = writeln!(io::stderr(), "{}", styled(&hung(text, width)));
        }
    }

    /// What came up while files were written.
    pub fn say(&mut self, say: Say, text: &str) {
        match say {
            Say::Remark => self.tell(text),
            Say::Always => self.error(|out, _| {
                out.push_str(text);
                out.push('\n');
            }),
        }
    }

    /// A remark that only `--verbose` shows.
    pub fn detail(&mut self, text: &str) -> Result<(), Failure> {
        if self.verbose { self.remark(text) } else { Ok(()) }
    }

    /// What is told of faults, written by `write` as stderr looks.
    pub fn error(&mut self, write: impl FnOnce(&mut String, Look)) {
        let mut text = String::new();
        write(&mut text, self.stderr);
        let _ = io::stderr().lock().write_all(styled(&text).as_bytes());
    }

    /// Empties the screen of a terminal.
    pub fn clear(&mut self) -> Result<(), Failure> {
        self.flush()?;
        if !io::stdout().is_terminal() {
            return Ok(());
        }
        let cleared = execute!(io::stdout(), Clear(ClearType::All), MoveTo(0, 0));
        cleared.map_err(|error| Failure::unwritten(&error))
    }

    /// Begins to read so many bytes.
    pub fn begin(&mut self, length: u64) {
        self.begin_as(length, "{wide_bar} {binary_bytes} of {binary_total_bytes}, {eta} left");
    }

    /// Begins so many runs.
    pub fn begin_runs(&mut self, count: u64) {
        self.begin_as(count, "{wide_bar} {pos} of {len} runs, {eta} left");
    }

    fn begin_as(&mut self, length: u64, form: &str) {
        if self.quiet || self.pager.is_some() || !io::stderr().is_terminal() {
            return;
        }
        let bar = ProgressBar::hidden();
        bar.set_length(length);
        if let Ok(style) = ProgressStyle::with_template(form) {
            bar.set_style(style.progress_chars("━╾─"));
        }
        self.progress = Some(Progress { bar, since: Instant::now(), shown: false });
    }

    /// Tells that so many steps are done.
    pub fn advance(&mut self, done: u64) {
        let Some(progress) = &mut self.progress else { return };
        if !progress.shown && progress.since.elapsed() > LONG {
            progress.shown = true;
            progress.bar.set_draw_target(indicatif::ProgressDrawTarget::stderr());
        }
        if progress.shown {
            progress.bar.set_position(done);
        }
    }

    /// Ends the work that was begun.
    pub fn end(&mut self) {
        if let Some(progress) = self.progress.take() {
            progress.bar.finish_and_clear();
        }
    }
}
