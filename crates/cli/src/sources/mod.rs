//! Where hands come from: the terminal, the machine's devices, a browser; each on its own thread, all with the time
//! of the source itself.
//!
//! Guarantees: what one source tells comes in its order; a device is told of before its first report; a source that
//! fails is told once, and the others go on.

#[cfg(target_os = "linux")]
mod evdev;
mod numbers;
pub mod page;
pub mod terminal;

pub use numbers::Numbers;

use crate::failure::Failure;
use crate::servers::page::Said;
use harmonym_runtime::base::{Class, ControlId, Time, Vector};
use harmonym_runtime::controls::Catalogue;
use std::fmt;
use std::sync::Arc;
use std::sync::mpsc::{self, Receiver, Sender};
use std::thread;
use std::time::{Duration, Instant};

/// A source looks up so often to see whether anybody still wants it.
const LOOKS_UP: Duration = Duration::from_millis(500);

/// A device as its source knows it: the same one has the same identity when it comes again.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub struct Hardware {
    pub class: Class,
    pub identity: Arc<str>,
}

/// What a source tells.
#[derive(Clone, Debug, PartialEq)]
pub enum Heard {
    /// A device is there from now on.
    Comes(Hardware),
    /// It is gone.
    Goes(Hardware),
    /// A control of it reports; of what is relative, what it moved by.
    Report(Hardware, ControlId, Vector),
    /// Something that the person ought to know.
    Words(String),
    /// What the terminal tells: for who shows something there.
    Terminal(terminal::Told),
    /// What a page asks for.
    Page(page::Asks),
}

/// Something that was heard, and when it happened.
#[derive(Clone, Debug, PartialEq)]
pub struct Arrival {
    pub t: Time,
    pub heard: Heard,
}

/// When the hands began: time 0.
#[derive(Clone, Copy, Debug)]
pub struct Clock(Instant);

impl Clock {
    pub fn begin() -> Self {
        Self(Instant::now())
    }

    pub fn now(self) -> Time {
        self.at(Instant::now())
    }

    pub fn at(self, moment: Instant) -> Time {
        Time::from(moment.saturating_duration_since(self.0))
    }

    /// When that time is here.
    pub fn moment(self, t: Time) -> Instant {
        self.0 + Duration::from(t)
    }
}

/// One way for hands to come in.
pub trait Source: Send {
    /// Tells all that comes until then, or for a while; whether there can be more.
    ///
    /// # Errors
    /// In words, when it can't go on.
    fn poll(&mut self, until: Instant, tell: &mut dyn FnMut(Arrival)) -> Result<bool, String>;
}

/// The sources that can be named.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Kind {
    /// Keys and mouse of this terminal.
    Terminal,
    /// The machine's devices.
    Evdev,
}

impl fmt::Display for Kind {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::Terminal => "terminal",
            Self::Evdev => "evdev",
        })
    }
}

/// Sources at work.
pub struct Sources {
    clock: Clock,
    arrivals: Receiver<Arrival>,
    /// Keeps the channel open while no source is at work.
    sender: Sender<Arrival>,
}

impl Sources {
    /// None yet.
    pub fn new(clock: Clock) -> Self {
        let (sender, arrivals) = mpsc::channel();
        Self { clock, arrivals, sender }
    }

    /// Listens to pages.
    pub fn listen_to_page(&self, catalogue: Arc<Catalogue>, said: Receiver<Said>) {
        page::listen(self.clock, catalogue, said, self.sender.clone());
    }

    pub fn clock(&self) -> Clock {
        self.clock
    }

    /// Begins to listen to one.
    pub fn add(&self, name: Kind, mut source: Box<dyn Source>) {
        let (sender, clock) = (self.sender.clone(), self.clock);
        thread::spawn(move || {
            loop {
                let mut is_wanted = true;
                let mut tell = |arrival| is_wanted &= sender.send(arrival).is_ok();
                let more = source.poll(Instant::now() + LOOKS_UP, &mut tell);
                match more {
                    Ok(true) if is_wanted => {}
                    Ok(_) => return,
                    Err(why) => {
                        let heard = Heard::Words(format!("{name} tells no more: {why}"));
                        let _ = sender.send(Arrival { t: clock.now(), heard });
                        return;
                    }
                }
            }
        });
    }

    /// Opens one that was named.
    ///
    /// # Errors
    /// When there is nothing to listen to, or no permission.
    pub fn open(&self, kind: Kind, wanted: Wanted) -> Result<(), Failure> {
        let source: Box<dyn Source> = match kind {
            Kind::Terminal => Box::new(terminal::Terminal::new(self.clock, wanted.layout)),
            #[cfg(target_os = "linux")]
            Kind::Evdev => Box::new(evdev::Evdev::open(self.clock, wanted.keys)?),
            #[cfg(not(target_os = "linux"))]
            Kind::Evdev => {
                let message = "devices are read by evdev on Linux only";
                return Err(Failure::new(message, "use a browser: harmonym page"));
            }
        };
        self.add(kind, source);
        Ok(())
    }

    /// Whether gamepads could be listened to.
    pub fn hears_pads(&self) -> bool {
        #[cfg(target_os = "linux")]
        return evdev::Evdev::open(self.clock, false).is_ok();
        #[cfg(not(target_os = "linux"))]
        return false;
    }

    /// What comes next; nothing when it is `until`.
    pub fn next(&self, until: Instant) -> Option<Arrival> {
        let left = until.saturating_duration_since(Instant::now());
        self.arrivals.recv_timeout(left).ok()
    }
}

/// What is wanted of sources.
#[derive(Clone, Copy, Debug)]
pub struct Wanted {
    /// By which a terminal's letters become places.
    pub layout: harmonym_runtime::controls::Layout,
    /// Whether the machine's keyboards and mice are wanted too, or its pads only.
    pub keys: bool,
}
