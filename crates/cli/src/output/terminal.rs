//! The terminal in the state in which it tells of each press, and back, whatever ends the program.

use crossterm::cursor::{Hide, Show};
use crossterm::event::{
    DisableFocusChange, DisableMouseCapture, EnableFocusChange, EnableMouseCapture,
    KeyboardEnhancementFlags, PopKeyboardEnhancementFlags, PushKeyboardEnhancementFlags,
};
use crossterm::terminal::{Clear, ClearType, EnterAlternateScreen, LeaveAlternateScreen};
use crossterm::{execute, terminal};
use std::io;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Mutex, Once, PoisonError};

/// What has to be undone.
static TAKEN: Mutex<Option<Taken>> = Mutex::new(None);

/// Whether it was given back for a while, and whether it was taken again since somebody looked.
static AWAY: AtomicBool = AtomicBool::new(false);
static BACK: AtomicBool = AtomicBool::new(false);

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
        presses.0.begin()?;
        Ok(presses)
    }
}

impl Taken {
    /// Lets the terminal tell of each press.
    fn begin(self) -> io::Result<()> {
        // Each of a terminal's two screens remembers by itself how keys are told.
        if self.is_whole {
            execute!(io::stdout(), EnterAlternateScreen, Clear(ClearType::All), Hide)?;
        }
        execute!(io::stderr(), EnableMouseCapture, EnableFocusChange)?;
        if self.is_enhanced {
            let flags = KeyboardEnhancementFlags::DISAMBIGUATE_ESCAPE_CODES
                | KeyboardEnhancementFlags::REPORT_ALL_KEYS_AS_ESCAPE_CODES
                | KeyboardEnhancementFlags::REPORT_ALTERNATE_KEYS
                | KeyboardEnhancementFlags::REPORT_EVENT_TYPES;
            execute!(io::stderr(), PushKeyboardEnhancementFlags(flags))?;
        }
        Ok(())
    }

    /// Gives it back as it was.
    fn end(self) {
        if self.is_enhanced {
            let _ = execute!(io::stderr(), PopKeyboardEnhancementFlags);
        }
        let _ = execute!(io::stderr(), DisableFocusChange, DisableMouseCapture);
        if self.is_whole {
            let _ = execute!(io::stdout(), LeaveAlternateScreen, Show);
        }
        let _ = terminal::disable_raw_mode();
    }
}

/// Whether the terminal is somebody else's meanwhile: nothing is drawn on it then.
pub fn is_away() -> bool {
    AWAY.load(Ordering::Acquire)
}

/// Whether the terminal was taken again since this was asked last: then all of it is to be drawn anew.
pub fn is_back() -> bool {
    BACK.swap(false, Ordering::AcqRel)
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
    if let Some(taken) = taken.filter(|_| !is_away()) {
        taken.end();
    }
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
    use signal_hook::consts::{
        SIGABRT, SIGALRM, SIGCONT, SIGHUP, SIGINT, SIGQUIT, SIGTERM, SIGTSTP, SIGUSR1, SIGUSR2,
    };
    use signal_hook::iterator::Signals;
    use signal_hook::low_level::emulate_default_handler;

    let ends = [SIGHUP, SIGINT, SIGQUIT, SIGTERM, SIGABRT, SIGALRM, SIGUSR1, SIGUSR2];
    // Without it, all is as before: a signal ends the program.
    let Ok(mut signals) = Signals::new(ends.iter().chain(&[SIGTSTP, SIGCONT])) else { return };
    std::thread::spawn(move || {
        for signal in signals.forever() {
            match signal {
                SIGCONT => take_again(),
                SIGTSTP => {
                    go_away();
                    // It goes on behind this when it is continued.
                    let _ = emulate_default_handler(signal);
                }
                _ => {
                    restore();
                    let _ = emulate_default_handler(signal);
                }
            }
        }
    });
}

/// Gives the terminal back for a while.
#[cfg(unix)]
fn go_away() {
    let taken = *TAKEN.lock().unwrap_or_else(PoisonError::into_inner);
    if let Some(taken) = taken.filter(|_| !AWAY.swap(true, Ordering::AcqRel)) {
        taken.end();
    }
}

/// Takes it again, in whatever state others left it: also after a stop that nobody could notice.
#[cfg(unix)]
fn take_again() {
    let taken = *TAKEN.lock().unwrap_or_else(PoisonError::into_inner);
    let Some(taken) = taken else { return };
    let _ = terminal::disable_raw_mode().and_then(|()| terminal::enable_raw_mode());
    break_lines();
    let _ = taken.begin();
    AWAY.store(false, Ordering::Release);
    BACK.store(true, Ordering::Release);
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
