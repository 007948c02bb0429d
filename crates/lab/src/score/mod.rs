//! Scores: scripted hands, read from text and performed as reports.
//!
//! Guarantees to every later stage: instructions are sound and in the order of the file; what is
//! performed comes in order of time.

mod act;
mod devices;
mod expect;
mod expectation;
pub mod forms;
mod game;
mod impossible;
mod instruction;
mod mentions;
mod opener;
mod perform;
mod read;
mod trial;
mod value;
mod words;

pub use expectation::{By, Count, Events, Expectation, Expected};
pub use impossible::impossible;
pub use instruction::{Act, Hand, Instruction, Part, Target};
pub use mentions::{Mention, Named, means_something_else, mentions};
pub use opener::fires_before_maps;
pub use perform::Performance;
pub use read::{player, read};
pub use trial::{Outcome, try_score};

use crate::take::{Playing, write_header, write_input};
use harmonym_runtime::base::{ControlId, MapId, Rate, Time};
use harmonym_runtime::controls::Layout;
use harmonym_runtime::plan::Plan;

/// A whole score.
#[derive(Clone, Debug, PartialEq)]
pub struct Score {
    /// What it is called.
    pub title: Option<String>,
    /// The map that is open at 0, in place of the profile's.
    pub start: Option<MapId>,
    /// Ticks a second.
    pub rate: Option<Rate>,
    /// The player's keyboard layout, by which `char.` finds its keys.
    pub layout: Option<Layout>,
    /// How many players there are, if not as many as the profile says.
    pub seats: Option<u8>,
    /// The file of the player whose controls these are: where it is from the score.
    pub player: Option<String>,
    /// What goes by notches.
    pub wheels: Vec<ControlId>,
    /// How often movements report.
    pub sample: Time,
    /// What the hands do.
    pub instructions: Vec<Instruction>,
    /// What should come out, in the order of the file.
    pub expectations: Vec<Expectation>,
}

impl Score {
    /// How it is played at a rate.
    pub fn playing(&self, rate: Rate) -> Playing {
        Playing { start: self.start, seats: self.seats, ..Playing::at(rate) }
    }

    /// What the hands report, in order of time.
    pub fn perform(&self) -> Performance<'_> {
        Performance::new(self)
    }

    /// What the hands report, as the text of a take, and how many inputs that is.
    pub fn as_take(&self, plan: &Plan) -> (String, usize) {
        let mut text = String::new();
        let start = self.start.map(|map| plan.names().maps[map].as_str());
        let Self { title, rate, layout, seats, .. } = self;
        // Writing to memory does not fail.
        let _ = write_header(&mut text, title.as_deref(), start, *rate, *layout, *seats);
        text.push('\n');
        let mut count = 0;
        for input in self.perform() {
            let _ = write_input(&mut text, plan, &input);
            text.push('\n');
            count += 1;
        }
        (text, count)
    }

    /// When the last of what hands do is over.
    pub fn end(&self) -> Time {
        self.instructions.iter().map(Instruction::end).max().unwrap_or_default()
    }
}
