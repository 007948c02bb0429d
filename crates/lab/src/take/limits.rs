//! How long hands may go on, and how much they may report.

use harmonym_runtime::base::{Rate, Time};

/// No input of a score or take is later than this: over two days.
pub const LONGEST: Time = Time::from_millis(200_000_000);
/// A run has at most so many ticks: [`LONGEST`] at 60 a second.
pub const MOST_TICKS: u64 = 12_000_000;
/// The movements of a score report at most so often: over two hours, one after the other, where
/// nothing is said of how often they do.
pub const MOST_REPORTS: u64 = 2_000_000;
/// Of a take that is held whole, as all but `play` do, at most so many inputs are.
pub const MOST_INPUTS: usize = 4_000_000;

/// A run tells at most so many events, then it is cut short.
pub const MOST_EVENTS: u64 = 4_000_000;

/// What to do about a run that is too long.
pub fn shorter(rate: Rate) -> String {
    match longest(rate) < LONGEST {
        true => format!("end it earlier; at a lower rate it may last {LONGEST} s"),
        false => "end it earlier".to_owned(),
    }
}

/// How long a run may go on at a rate.
pub fn longest(rate: Rate) -> Time {
    LONGEST.min(rate.tick(MOST_TICKS))
}
