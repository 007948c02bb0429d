//! The pager: long text on a terminal, a screen at a time.

use std::io::{self, IsTerminal, Write};
use std::process::{Child, Command, Stdio};

/// The program that `PAGER` names. It starts with the first text that is more than a screen.
pub struct Pager {
    command: String,
    /// The lines and columns of the terminal.
    screen: (usize, usize),
    child: Option<Child>,
    /// What it was given first: more than a program that is not there takes.
    given: String,
}

/// What a shell exits with when there is no such program.
const NOT_THERE: i32 = 127;
/// More than a pipe holds.
const MORE_THAN_A_PIPE: usize = 1 << 20;

impl Pager {
    /// The one to use, if stdout is a terminal and one is named.
    pub fn of_terminal() -> Option<Self> {
        let command = std::env::var("PAGER").ok().filter(|command| !command.trim().is_empty())?;
        if !io::stdout().is_terminal() {
            return None;
        }
        let (width, height) = terminal_size::terminal_size()?;
        let screen = (height.0.into(), usize::from(width.0).max(1));
        Some(Self { command, screen, child: None, given: String::new() })
    }

    /// Hands a text on; what is not more than a screen, and begins nothing that is, stays here.
    ///
    /// # Errors
    /// The pager is gone: whoever reads has read enough.
    pub fn take(&mut self, text: &str) -> io::Result<bool> {
        if self.child.is_none() && !self.command.is_empty() && self.is_long(text) {
            self.child = shell(&self.command).stdin(Stdio::piped()).spawn().ok();
            // Ctrl-C is for the pager, which goes on.
            #[cfg(unix)]
            if self.child.is_some() {
                let told = std::sync::Arc::default();
                signal_hook::flag::register(signal_hook::consts::SIGINT, told)?;
            }
        }
        let Some(stdin) = self.child.as_mut().and_then(|child| child.stdin.as_mut()) else {
            return Ok(false);
        };
        if self.given.len() < MORE_THAN_A_PIPE {
            self.given.push_str(text);
        }
        let written = stdin.write_all(text.as_bytes());
        if written.is_err() && self.is_missing() {
            return io::stdout()
                .write_all(std::mem::take(&mut self.given).as_bytes())
                .map(|()| true);
        }
        written.map(|()| true)
    }

    /// Waits for the end of the pager; whether there was none.
    fn is_missing(&mut self) -> bool {
        let Some(mut child) = self.child.take() else { return false };
        drop(child.stdin.take());
        let is_missing = child.wait().is_ok_and(|status| status.code() == Some(NOT_THERE));
        if is_missing {
            self.command.clear();
        }
        is_missing
    }

    fn is_long(&self, text: &str) -> bool {
        let (height, width) = self.screen;
        let lines = text.lines().map(|line| line.chars().count().div_ceil(width).max(1));
        lines.sum::<usize>() >= height
    }
}

impl Drop for Pager {
    /// Waits until the pager is left.
    fn drop(&mut self) {
        if self.is_missing() {
            let _ = io::stdout().write_all(self.given.as_bytes());
        }
    }
}

#[cfg(unix)]
fn shell(line: &str) -> Command {
    let mut command = Command::new("sh");
    command.args(["-c", line]);
    if std::env::var_os("LESS").is_none() {
        // With colours, and leaving what was shown on the screen.
        command.env("LESS", "RX");
    }
    command
}

#[cfg(not(unix))]
fn shell(line: &str) -> Command {
    let mut words = line.split_whitespace();
    let mut command = Command::new(words.next().unwrap_or_default());
    command.args(words);
    command
}
