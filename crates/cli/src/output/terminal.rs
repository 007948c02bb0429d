//! The terminal in the state in which it tells of each press, and back, whatever ends the program.

use crossterm::event::{
    DisableMouseCapture, EnableMouseCapture, KeyboardEnhancementFlags, PopKeyboardEnhancementFlags,
    PushKeyboardEnhancementFlags,
};
use crossterm::{execute, terminal};
use std::io;
use std::sync::{Mutex, Once, PoisonError};

/// What has to be undone: nothing, or a terminal that tells of each press, and whether it also
/// tells of keys that are let go.
static TAKEN: Mutex<Option<Enhanced>> = Mutex::new(None);

/// Before the first change of the terminal.
static PREPARED: Once = Once::new();

#[derive(Clone, Copy)]
struct Enhanced(bool);

/// The terminal in the state in which it tells of each press; as it was when this is dropped,
/// when the program panics, and when a signal ends it.
pub struct Presses(());

impl Presses {
    /// # Errors
    /// When there is no terminal, or it cannot be changed; then it is as it was.
    pub fn begin() -> io::Result<Self> {
        PREPARED.call_once(prepare);
        set(Enhanced(false));
        let presses = Self(());
        terminal::enable_raw_mode()?;
        let is_enhanced = terminal::supports_keyboard_enhancement().unwrap_or(false);
        set(Enhanced(is_enhanced));
        execute!(io::stderr(), EnableMouseCapture)?;
        if is_enhanced {
            let flags = KeyboardEnhancementFlags::DISAMBIGUATE_ESCAPE_CODES
                | KeyboardEnhancementFlags::REPORT_ALL_KEYS_AS_ESCAPE_CODES
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

fn set(enhanced: Enhanced) {
    *TAKEN.lock().unwrap_or_else(PoisonError::into_inner) = Some(enhanced);
}

/// Gives the terminal back, once.
fn restore() {
    let taken = TAKEN.lock().unwrap_or_else(PoisonError::into_inner).take();
    let Some(Enhanced(is_enhanced)) = taken else { return };
    if is_enhanced {
        let _ = execute!(io::stderr(), PopKeyboardEnhancementFlags);
    }
    let _ = execute!(io::stderr(), DisableMouseCapture);
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
