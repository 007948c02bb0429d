//! The steps of the second interpreter that move on their own, and sums over time.

use crate::values::{Inputs, V, len};
use harmonym_lang::model::StepKind;

/// How values are looked at.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Mode {
    Event,
    Look,
    Tick,
    Peek,
}

#[derive(Clone, Copy, Debug, Default)]
pub struct Move {
    start: V,
    target: V,
    at: u64,
    rate: f64,
    pub moving: bool,
    /// Of `travel`: the sum since the last tick, and what that tick took.
    sum: V,
    held: V,
}

fn toward(a: V, b: V, share: f64) -> V {
    [0, 1, 2].map(|i| a[i] + (b[i] - a[i]) * share)
}

impl Inputs<'_> {
    fn takes(&self) -> bool {
        match self.mode {
            Mode::Event | Mode::Look => true,
            Mode::Tick => !self.passed,
            Mode::Peek => false,
        }
    }

    fn seconds(&self, since: u64) -> f64 {
        (self.t - since) as f64 / 1e9
    }

    pub fn ease(&mut self, path: &str, input: V, rise: f64, fall: f64, cut: bool) -> V {
        let mut own = self.moves.get(path).copied().unwrap_or_default();
        let way = len([0, 1, 2].map(|i| own.target[i] - own.start[i]));
        let share = if way == 0.0 { 1.0 } else { own.rate * self.seconds(own.at) / way };
        let mut at = if share >= 1.0 { own.target } else { toward(own.start, own.target, share) };
        if self.takes() && input != own.target {
            if cut && (0..3).map(|i| at[i] * input[i]).sum::<f64>() < 0.0 {
                at = [0.0; 3];
            }
            if len([0, 1, 2].map(|i| at[i] - input[i])) <= 1e-9 {
                at = input;
            }
            let rate = if len(input) >= len(at) - 1e-9 { rise } else { fall };
            let moving = own.moving || at != input;
            own = Move { start: at, target: input, at: self.t, rate, moving, ..own };
        }
        self.arrive(path, own, at)
    }

    pub fn smooth(&mut self, path: &str, input: V, time: f64) -> V {
        let mut own = self.moves.get(path).copied().unwrap_or_default();
        let lagged = |own: &Move, seconds: f64| {
            let left = (-seconds / own.rate.max(1e-12)).exp();
            let at = toward(own.target, own.start, left);
            let behind = len([0, 1, 2].map(|i| at[i] - own.target[i]));
            if behind <= 1e-6 { own.target } else { at }
        };
        let mut at = lagged(&own, self.seconds(own.at));
        if self.takes() && input != own.target {
            own = Move { start: at, target: input, at: self.t, rate: time, ..own };
            at = lagged(&own, 0.0);
            own.moving |= at != input;
        }
        self.arrive(path, own, at)
    }

    fn arrive(&mut self, path: &str, mut own: Move, at: V) -> V {
        if self.mode == Mode::Look && at == own.target {
            own.moving = false;
        }
        self.passed |= own.moving;
        if self.mode != Mode::Peek {
            self.moves.insert(path.to_owned(), own);
        }
        at
    }

    pub fn travel(&mut self, path: &str, input: V) -> V {
        let mut own = self.moves.get(path).copied().unwrap_or_default();
        if self.mode == Mode::Peek {
            return own.held;
        }
        let seconds = self.seconds(own.at);
        own.sum = [0, 1, 2].map(|i| own.sum[i] + own.target[i] * seconds);
        (own.target, own.at) = (input, self.t);
        if self.mode == Mode::Tick {
            (own.held, own.sum) = (own.sum, [0.0; 3]);
        }
        self.moves.insert(path.to_owned(), own);
        own.held
    }

    /// A moving step that is skipped follows its input; a sum starts anew.
    pub fn skip_move(&mut self, form: &StepKind, path: &str, input: V) {
        let own = match form {
            StepKind::Ease { .. } | StepKind::Smooth(_) if self.takes() => {
                Move { start: input, target: input, at: self.t, ..Move::default() }
            }
            StepKind::Travel if self.mode != Mode::Peek => Move { at: self.t, ..Move::default() },
            _ => return,
        };
        self.moves.insert(path.to_owned(), own);
    }

    /// Whether something of an action moves.
    pub fn moving(&self, address: &str) -> bool {
        self.moves.iter().any(|(path, own)| {
            let rest = path.strip_prefix(address);
            own.moving && rest.is_some_and(|rest| rest.starts_with(['@', '.']))
        })
    }
}
