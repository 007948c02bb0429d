//! A take step by step, for a game's own loop.

use super::run::AFTER_LAST;
use super::{End, Header, Input, Reader, Step, limits};
use harmonym_lang::Game;
use harmonym_lang::report::Faults;
use harmonym_runtime::base::{Rate, Time};
use harmonym_runtime::plan::Plan;
use harmonym_runtime::{Hands, Start};
use std::sync::Arc;

/// Some editors write it before a text.
const MARK: char = '\u{feff}';

fn first_line(text: &str) -> &str {
    text.strip_prefix(MARK).unwrap_or(text).lines().next().unwrap_or_default()
}

/// A take, with the ticks at which `play` would look at it.
///
/// ```
/// use harmonym_lab::take::{Replay, Step};
/// use harmonym_lab::told::Lines;
/// use harmonym_lang::Game;
/// use harmonym_runtime::{EventReader, Time};
///
/// let text = "harmonym = 1\nscheme.desk.devices = [\"key\"]\n[map.quay]\nstart = true\n\
///             [map.quay.hail]\nvalue = \"switch\"\nbind.desk = \"key.KeyH\"\n";
/// let game = Game::parse("harmonym.toml", text).unwrap();
/// let take = "{\"take\":1}\n{\"t\":0.1,\"control\":\"key.KeyH\",\"value\":1}\n";
/// let mut replay = Replay::of_game("hail.take.jsonl", take, &game).unwrap();
///
/// let mut hands = replay.hands();
/// let mut reader = EventReader::default();
/// let mut out = String::new();
/// while let Some(step) = replay.step(&mut hands) {
///     match step {
///         Step::Input(input) => input.give_to(&mut hands).unwrap(),
///         Step::Tick(at) => hands.tick(at),
///     }
/// }
/// hands.stop();
/// for told in hands.events(&mut reader) {
///     Lines { plan: replay.plan() }.notice(&mut out, told);
/// }
/// assert!(out.contains("\"t\":0.1,\"tick\":6,\"seat\":1,\"action\":\"quay.hail\",\"event\":\"fire\""));
/// ```
#[derive(Clone, Debug)]
pub struct Replay {
    plan: Arc<Plan>,
    header: Header,
    inputs: Vec<Input>,
    next: usize,
    rate: Rate,
    /// How many ticks there were.
    ticks: u64,
}

impl Replay {
    /// Reads a take whole, for the keyboard layout that it is of; `name` is what messages call it.
    ///
    /// # Errors
    /// At the first line that is none of a take for the game, and when there are more than
    /// [`MOST_INPUTS`](limits::MOST_INPUTS).
    pub fn of_game(name: &str, text: &str, game: &Game) -> Result<Self, Faults> {
        let (_, header) = Reader::new(name, first_line(text), game.plan())?;
        match header.layout.unwrap_or_default() {
            layout if layout == game.plan().layout() => Self::read(name, text, game.plan()),
            layout => Self::read(name, text, game.clone().for_layout(layout).plan()),
        }
    }

    /// The same for a plan.
    ///
    /// # Errors
    /// The same; and when the take is of another keyboard layout than the plan.
    pub fn read(name: &str, text: &str, plan: &Arc<Plan>) -> Result<Self, Faults> {
        let text = text.strip_prefix(MARK).unwrap_or(text);
        let mut lines = text.lines();
        let (mut reader, header) = Reader::new(name, lines.next().unwrap_or_default(), plan)?;
        let mut inputs = Vec::new();
        for line in lines {
            if inputs.len() == limits::MOST_INPUTS {
                let message = format!("{name} has more than {} inputs", limits::MOST_INPUTS);
                return Err(Faults::refused(message, "cut it"));
            }
            inputs.extend(reader.line(line)?);
        }
        let (layout, own) = (header.layout.unwrap_or_default(), plan.layout());
        if layout != own {
            let message =
                format!("{name} is of the layout {}, the plan of {}", layout.word(), own.word());
            return Err(Faults::refused(message, "make the plan for that layout"));
        }
        let rate = header.rate.unwrap_or(Rate::DEFAULT);
        Ok(Self { plan: Arc::clone(plan), header, inputs, next: 0, rate, ticks: 0 })
    }

    /// The plan that it plays on.
    pub fn plan(&self) -> &Arc<Plan> {
        &self.plan
    }

    /// What its first line says.
    pub fn header(&self) -> &Header {
        &self.header
    }

    /// Ticks a second.
    pub fn rate(&self) -> Rate {
        self.rate
    }

    /// Hands that begin as the take says.
    pub fn hands(&self) -> Hands {
        let seats = self.header.seats.unwrap_or(self.plan.seats());
        let start = Start { map: self.header.start, scheme: None };
        Hands::start(Arc::clone(&self.plan), seats, start)
    }

    /// The last tick that was.
    pub fn end(&self) -> End {
        End { t: self.rate.tick(self.ticks), tick: self.ticks, is_cut: false }
    }

    /// What comes next: an input of the take, or a tick of the game; after the last input ticks until nothing
    /// is due any more, at the latest 10 s after it. Then it is time to stop.
    pub fn step(&mut self, hands: &mut Hands) -> Option<Step> {
        let tick = self.rate.tick(self.ticks + 1);
        match self.inputs.get(self.next).copied() {
            Some(input) if input.t <= tick => {
                self.next += 1;
                return Some(Step::Input(input));
            }
            None if self.is_over(hands) => return None,
            _ => {}
        }
        self.ticks += 1;
        Some(Step::Tick(tick))
    }

    fn is_over(&self, hands: &mut Hands) -> bool {
        let last = self.inputs.last().map_or(Time::ZERO, |input| input.t);
        let is_settled = hands.all().all(|seat| hands.seat(seat.number()).is_settled());
        let at_limit = self.rate.tick(self.ticks + 1) > last + AFTER_LAST;
        let is_seen = self.ticks > 0 && self.rate.tick(self.ticks) >= last;
        is_seen && (is_settled || at_limit)
    }
}
