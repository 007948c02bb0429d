//! What time it is: for the hands, for the frame, and for what steps keep.

use crate::base::Time;

/// How an evaluation treats what steps keep.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Mode {
    /// A raw event or a cue's time: everything takes its input in.
    Event,
    /// A look at moving steps, on a whole millisecond.
    Look,
    /// A tick, of an action that has values only at ticks.
    Tick,
    /// Only the value of this very moment: nothing is taken in.
    Peek,
    /// No time at all: what moves has arrived.
    Still,
}

/// The present moment.
#[derive(Clone, Copy, Debug)]
pub(super) struct Clock {
    pub now: Time,
    /// Ticks that were.
    pub ticks: u64,
    /// Whether nothing happened since the last tick.
    pub frame_stands: bool,
    pub mode: Mode,
}

impl Clock {
    /// Before everything.
    pub const START: Self =
        Self { now: Time::ZERO, ticks: 0, frame_stands: false, mode: Mode::Event };

    /// Goes on to `at`, if that is later, for something that happens there.
    #[inline(always)]
    pub fn go_on(&mut self, at: Time) {
        (self.now, self.frame_stands, self.mode) = (self.now.max(at), false, Mode::Event);
    }

    pub fn is_peeking(self) -> bool {
        self.mode == Mode::Peek
    }

    /// The tick at which the game sees what is told now: right after a tick still that one.
    pub fn tick_that_sees(self) -> u64 {
        self.ticks + u64::from(!self.frame_stands)
    }
}
