//! The terminal in the state in which it tells of each press, and back, whatever ends the program.

use crossterm::cursor::{Hide, Show};
use crossterm::event::{
    DisableFocusChange, DisableMouseCapture, EnableFocusChange, EnableMouseCapture,
    KeyboardEnhancementFlags, PopKeyboardEnhancementFlags, PushKeyboardEnhancementFlags,
};
use crossterm::terminal::{EnterAlternateScreen, LeaveAlternateScreen};
use crossterm::{execute, terminal};
use std::io;
use std::sync::{Mutex, Once, PoisonError};

/// What has to be undone.
static TAKEN: Mutex<Option<Taken>> = Mutex::new(None);

/// Before the first change of the terminal.
static PREPARED: Once = Once::new();

/// A terminal that tells of each press.
#[derive(Clone, Copy, Default)]
struct Taken {
    /// Whether it also tells of keys that are let go.
    is_enhanced: bool,
    /// Whether all of its screen is drawn on.
    is_whole: bool,
}

/// The terminal in the state in which it tells of each press; as it was when this is dropped,
/// when the program panics, and when a signal ends it.
pub struct Presses(Taken);

impl Presses {
    /// # Errors
    /// When there is no terminal, or it cannot be changed; then it is as it was.
    pub fn begin() -> io::Result<Self> {
        Self::take(false)
    }

    /// The same with a screen of its own to draw on.
    ///
    /// # Errors
    /// The same.
    pub fn begin_whole() -> io::Result<Self> {
        Self::take(true)
    }

    /// Whether keys are told of when they come up.
    pub fn tells_releases(&self) -> bool {
        self.0.is_enhanced
    }

    fn take(is_whole: bool) -> io::Result<Self> {
        PREPARED.call_once(prepare);
        set(Taken::default());
        let mut presses = Self(Taken::default());
        terminal::enable_raw_mode()?;
        break_lines();
        let is_enhanced = terminal::supports_keyboard_enhancement().unwrap_or(false);
        presses.0 = Taken { is_enhanced, is_whole };
        set(presses.0);
        // Each of a terminal's two screens remembers by itself how keys are told.
        if is_whole {
            execute!(io::stdout(), EnterAlternateScreen, Hide)?;
        }
        execute!(io::stderr(), EnableMouseCapture, EnableFocusChange)?;
        if is_enhanced {
            let flags = KeyboardEnhancementFlags::DISAMBIGUATE_ESCAPE_CODES
                | KeyboardEnhancementFlags::REPORT_ALL_KEYS_AS_ESCAPE_CODES
                | KeyboardEnhancementFlags::REPORT_ALTERNATE_KEYS
                | KeyboardEnhancementFlags::REPORT_EVENT_TYPES;
            execute!(io::stderr(), PushKeyboardEnhancementFlags(flags))?;
        }
        Ok(presses)
    }
}

impl Drop for Presses {
    fn drop(&mut self) {
        restore();
    }
}

/// What is printed meanwhile still goes line by line.
#[cfg(unix)]
fn break_lines() {
    use rustix::termios::{OptionalActions, OutputModes, tcgetattr, tcsetattr};
    let input = rustix::stdio::stdin();
    // Without it lines begin where the one before ended: ugly, and no reason to give up.
    if let Ok(mut modes) = tcgetattr(input) {
        modes.output_modes |= OutputModes::OPOST | OutputModes::ONLCR;
        let _ = tcsetattr(input, OptionalActions::Now, &modes);
    }
}

#[cfg(not(unix))]
fn break_lines() {}

fn set(taken: Taken) {
    *TAKEN.lock().unwrap_or_else(PoisonError::into_inner) = Some(taken);
}

/// Gives the terminal back, once.
fn restore() {
    let taken = TAKEN.lock().unwrap_or_else(PoisonError::into_inner).take();
    let Some(Taken { is_enhanced, is_whole }) = taken else { return };
    if is_enhanced {
        let _ = execute!(io::stderr(), PopKeyboardEnhancementFlags);
    }
    let _ = execute!(io::stderr(), DisableFocusChange, DisableMouseCapture);
    if is_whole {
        let _ = execute!(io::stdout(), LeaveAlternateScreen, Show);
    }
    let _ = terminal::disable_raw_mode();
}

/// Sees to it that the terminal is given back before a panic is told, and before a signal ends
/// the program.
fn prepare() {
    let tell = std::panic::take_hook();
    std::panic::set_hook(Box::new(move |panic| {
        restore();
        tell(panic);
    }));
    #[cfg(unix)]
    end_restored();
}

#[cfg(unix)]
fn end_restored() {
    use signal_hook::consts::{SIGHUP, SIGINT, SIGQUIT, SIGTERM};
    use signal_hook::iterator::Signals;
    use signal_hook::low_level::emulate_default_handler;

    // Without it, all is as before: a signal ends the program.
    let Ok(mut signals) = Signals::new([SIGHUP, SIGINT, SIGQUIT, SIGTERM]) else { return };
    std::thread::spawn(move || {
        for signal in signals.forever() {
            restore();
            let _ = emulate_default_handler(signal);
        }
    });
}

#[cfg(all(test, target_os = "linux"))]
#[path = "../../tests/cli/pty.rs"]
mod pty;

#[cfg(all(test, target_os = "linux"))]
mod tests {
    use super::Presses;
    use super::pty::Pty;
    use std::path::Path;

    #[test]
    #[ignore = "panics; the test below runs it in a terminal of its own"]
    fn panics_while_it_listens() {
        let _presses = Presses::begin().expect("a terminal");
        panic!("in the midst of it");
    }

    #[test]
    fn a_panic_is_told_on_a_terminal_that_is_as_it_was() {
        let tests = std::env::current_exe().expect("this program");
        let name = "output::terminal::tests::panics_while_it_listens";
        let args = ["--ignored", "--exact", "--nocapture", name];
        let mut pty = Pty::run(&tests, &args, Path::new("."));
        pty.wait_for("in the midst of it");
        let (_, _, text) = pty.end();
        let given_back = text.find("\u{1b}[?1000l").expect("no more mouse");
        let told = text.find("in the midst of it").expect("the panic");
        assert!(given_back < told, "{text:?}");
    }
}
