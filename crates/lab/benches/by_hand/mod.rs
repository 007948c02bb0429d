//! The same twenty actions as a gameplay programmer writes them without a tool: booleans and
//! times, an `if` for every key, one look a frame.
//!
//! It does what it does well, and leaves out what the engine does with the same reports and most games
//! come to need: an event for each outcome with its exact moment, cause, value and binding (here a count
//! is all); the order of what happened within a frame; maps that open and close, and keys that are held
//! meanwhile; claims between them; pauses; which scheme the hands use; second devices and devices that
//! go; settings; and binding anything otherwise than it is written.

use crate::Report;
use harmonym_runtime::base::{ControlId, Time};
use harmonym_runtime::controls::Catalogue;

/// A key with what a game remembers of it.
#[derive(Clone, Copy, Default)]
struct Key {
    down: bool,
    /// It went down, or came up, since the last frame.
    pressed: bool,
    released: bool,
    since: Time,
    held_for: Time,
}

impl Key {
    fn report(&mut self, on: bool, t: Time) {
        if on == self.down {
            return;
        }
        self.down = on;
        if on {
            self.pressed = true;
            self.since = t;
        } else {
            self.released = true;
            self.held_for = t.since(self.since);
        }
    }

    fn end_frame(&mut self) {
        (self.pressed, self.released) = (false, false);
    }
}

/// The whole game's input.
pub struct ByHand {
    keys: [Key; 21],
    ids: [ControlId; 21],
    left_stick: ControlId,
    right_stick: ControlId,
    trigger: ControlId,
    left: (f64, f64),
    right: (f64, f64),
    pulled: bool,
    pulled_at: Time,
    cast: bool,
    knot_tied: bool,
    hooked_on: bool,
    stowed: bool,
    next_reel: Time,
    trimmed_at: Option<Time>,
    walk: (f64, f64),
    gaze: (f64, f64),
}

const W: usize = 0;
const A: usize = 1;
const S: usize = 2;
const D: usize = 3;
const T: usize = 4;
const F: usize = 5;
const H: usize = 6;
const O: usize = 7;
const R: usize = 8;
const B: usize = 9;
const L: usize = 10;
const SHIFT: usize = 11;
const U: usize = 12;
const G: usize = 13;
const ONE: usize = 14;
const N: usize = 15;
const J: usize = 16;
const UP: usize = 17;
const DOWN: usize = 18;
const Z: usize = 19;
const SOUTH: usize = 20;

const fn millis(ms: u64) -> Time {
    Time::from_millis(ms)
}

impl ByHand {
    pub fn new() -> Self {
        let id = |name: &str| Catalogue::built_in().reported_id(name).expect("a control");
        let ids = std::array::from_fn(|i| match crate::profiles::KEYS.get(i) {
            Some(name) => id(&format!("key.{name}")),
            None => id("pad.south"),
        });
        Self {
            keys: [Key::default(); 21],
            ids,
            left_stick: id("pad.left-stick"),
            right_stick: id("pad.right-stick"),
            trigger: id("pad.right-trigger"),
            left: (0.0, 0.0),
            right: (0.0, 0.0),
            pulled: false,
            pulled_at: Time::ZERO,
            cast: false,
            knot_tied: false,
            hooked_on: false,
            stowed: false,
            next_reel: Time::ZERO,
            trimmed_at: None,
            walk: (0.0, 0.0),
            gaze: (0.0, 0.0),
        }
    }

    /// Takes a device's report in.
    pub fn report(&mut self, report: &Report) {
        let (x, y) = (report.value.x, report.value.y);
        if report.control == self.left_stick {
            self.left = (x, y);
        } else if report.control == self.right_stick {
            self.right = (x, y);
        } else if report.control == self.trigger {
            if !self.pulled && x >= 0.85 {
                (self.pulled, self.pulled_at) = (true, report.t);
            } else if self.pulled && x < 0.25 {
                self.pulled = false;
                self.cast |= report.t.since(self.pulled_at) >= millis(600);
            }
        } else if let Some(i) = self.ids.iter().position(|id| *id == report.control) {
            self.keys[i].report(x >= 0.5, report.t);
        }
    }

    /// One frame: what fires in it, counted.
    pub fn tick(&mut self, t: Time) -> u64 {
        let axis = |neg: bool, pos: bool| f64::from(i8::from(pos) - i8::from(neg));
        let keys = &self.keys;
        let (mut x, mut y) = (axis(keys[A].down, keys[D].down), axis(keys[S].down, keys[W].down));
        if x != 0.0 && y != 0.0 {
            (x, y) = (x * std::f64::consts::FRAC_1_SQRT_2, y * std::f64::consts::FRAC_1_SQRT_2);
        }
        let stick = with_dead_zone(self.left, true);
        self.walk = if length(stick) > length((x, y)) { stick } else { (x, y) };
        let (gx, gy) = with_dead_zone(self.right, false);
        self.gaze = (gx * 3.0, gy * 3.0);
        let mut fired = u64::from(self.walk != (0.0, 0.0)) + u64::from(self.gaze != (0.0, 0.0));
        fired += u64::from(std::mem::take(&mut self.cast));
        fired += held(&keys[T], &mut self.knot_tied, millis(800), t);
        fired += held(&keys[J], &mut self.hooked_on, millis(500), t);
        fired += held(&keys[SOUTH], &mut self.stowed, millis(300), t);
        for (key, most) in [(&keys[F], millis(250)), (&keys[Z], millis(250))] {
            fired += u64::from(key.released && key.held_for <= most);
        }
        for key in [&keys[H], &keys[B], &keys[L], &keys[N]] {
            fired += u64::from(key.pressed);
        }
        for key in [&keys[O], &keys[SHIFT], &keys[U], &keys[UP], &keys[DOWN]] {
            fired += u64::from(key.down || key.pressed);
        }
        fired += u64::from(keys[G].released);
        if keys[R].pressed {
            fired += 1;
            self.next_reel = keys[R].since + millis(400);
        }
        while keys[R].down && self.next_reel <= t {
            fired += 1;
            self.next_reel = self.next_reel + millis(100);
        }
        if keys[ONE].pressed {
            let at = keys[ONE].since;
            match self.trimmed_at.take() {
                Some(before) if at.since(before) <= millis(300) => fired += 1,
                _ => self.trimmed_at = Some(at),
            }
        }
        self.keys.iter_mut().for_each(Key::end_frame);
        fired
    }
}

fn length((x, y): (f64, f64)) -> f64 {
    (x * x + y * y).sqrt()
}

fn with_dead_zone(stick: (f64, f64), curved: bool) -> (f64, f64) {
    let m = length(stick);
    if m <= 0.1 {
        return (0.0, 0.0);
    }
    let mut to = ((m - 0.1) / 0.86).min(1.0);
    if curved {
        to *= to;
    }
    (stick.0 / m * to, stick.1 / m * to)
}

fn held(key: &Key, done: &mut bool, time: Time, t: Time) -> u64 {
    if !key.down {
        *done = false;
        return 0;
    }
    let fires = !*done && t.since(key.since) >= time;
    *done |= fires;
    u64::from(fires)
}
