//! `pipe`: the engine between standard input and standard output, for games in any language.

use super::hands::{HandsFile, Take};
use super::load_as;
use super::play::scheme;
use crate::args::PipeArgs;
use crate::failure::Failure;
use crate::output::Output;
use harmonym_lab::take::{End, Step};
use harmonym_lab::told::Lines;
use harmonym_runtime::base::{Rate, Time};
use harmonym_runtime::engine::Start;
use harmonym_runtime::plan::Plan;
use harmonym_runtime::seats::{Seats, Told};
use std::path::Path;
use std::sync::Arc;

/// What messages call the lines that come in.
const NAME: &str = "standard input";

pub fn run(file: Option<&Path>, args: &PipeArgs, output: &mut Output) -> Result<(), Failure> {
    let loaded = load_as(file, &args.player, output)?;
    let scheme = args.scheme.as_deref().map(|name| scheme(&loaded, name)).transpose()?;
    let mut take = Take::of(HandsFile::of_input()?, Path::new(NAME), NAME, &loaded)?;
    let plan = take.about.plan(&loaded)?;
    let about = &take.about;
    let seats = about.seats.unwrap_or(plan.seats());
    let rate = about.rate.unwrap_or(Rate::DEFAULT);
    let start = Start { map: about.start, scheme };
    output.write(|out| Lines { plan: &plan }.start(out, about.title.as_deref(), rate))?;
    let mut pipe = Pipe { args, plan: Arc::clone(&plan), output, failure: None };
    let mut seats = Seats::start(plan, seats, start, &mut |told| pipe.notice(told));
    pipe.flush()?;
    let mut last = Time::ZERO;
    while let Some(step) = take.step()? {
        match step {
            Step::Input(input) => {
                // What is refused changes nothing; who reads the lines has looked at them.
                let _ = input.give(&mut seats, &mut |told| pipe.notice(told));
            }
            Step::Tick(t) => {
                last = t;
                seats.tick(t, &mut |told| pipe.notice(told));
                pipe.tick(&mut seats, t);
                pipe.flush()?;
            }
        }
    }
    seats.stop(&mut |told| pipe.notice(told));
    let end = End { t: last, tick: seats.ticks(), is_cut: false };
    pipe.write(|out, lines| lines.end(out, end));
    pipe.flush()
}

/// Writes what is told as it comes, and hands it over at each tick.
struct Pipe<'a> {
    args: &'a PipeArgs,
    plan: Arc<Plan>,
    output: &'a mut Output,
    /// The first failure to write; nothing is written after it.
    failure: Option<Failure>,
}

impl Pipe<'_> {
    fn write(&mut self, write: impl FnOnce(&mut String, Lines<'_>)) {
        if self.failure.is_none() {
            let plan = &*self.plan;
            self.failure = self.output.write(|out| write(out, Lines { plan })).err();
        }
    }

    fn notice(&mut self, told: Told) {
        self.write(|out, lines| lines.notice(out, told));
    }

    fn tick(&mut self, seats: &mut Seats, t: Time) {
        if self.args.values {
            for seat in seats.all() {
                let frame = seats.frame(seat);
                self.write(|out, lines| lines.values(out, (seat, frame), t, |_| true));
            }
        }
        if !self.args.no_ticks {
            let tick = seats.ticks();
            self.write(|out, lines| lines.tick(out, t, tick));
        }
    }

    fn flush(&mut self) -> Result<(), Failure> {
        match self.failure.take() {
            Some(failure) => Err(failure),
            None => self.output.flush(),
        }
    }
}
