//! What options can be: the words of each, and how times and numbers are read.

use clap::ValueEnum;
use harmonym_lang::report::Level;
use harmonym_runtime::base::{Decimal, Time};
use harmonym_runtime::controls::Layout;

/// A time with its unit.
pub fn parse_time(text: &str) -> Result<Time, String> {
    let split = text.find(|c: char| c.is_alphabetic()).unwrap_or(text.len());
    let (digits, unit) = text.split_at(split);
    let power = Time::power_of_unit(unit);
    let time = power.and_then(|power| Time::from_decimal(Decimal::parse(digits)?, power));
    time.ok_or_else(|| "write a time with its unit, such as 2.5s or 80ms".to_owned())
}

pub fn parse_columns(text: &str) -> Result<u16, String> {
    let count = text.parse().ok().filter(|count| (40..=1000).contains(count));
    count.ok_or_else(|| "write a whole number from 40 to 1000".to_owned())
}

pub fn parse_tolerance(text: &str) -> Result<f64, String> {
    let number = text.parse().ok().filter(|number: &f64| number.is_finite() && *number >= 0.0);
    number.ok_or_else(|| "write a number from 0 on, such as 0.001".to_owned())
}

/// When output is coloured.
#[derive(Clone, Copy, Debug, PartialEq, Eq, ValueEnum)]
pub enum Color {
    /// On a terminal.
    Auto,
    /// Also into files and pipes.
    Always,
    /// Not at all.
    Never,
}

/// Text for people or lines for programs.
#[derive(Clone, Copy, Debug, PartialEq, Eq, ValueEnum)]
pub enum Format {
    /// For people.
    Text,
    /// JSON, one object a line.
    Json,
}

/// How the outcome of tests is printed.
#[derive(Clone, Copy, Debug, PartialEq, Eq, ValueEnum)]
pub enum TestFormat {
    /// For people.
    Text,
    /// JSON, one object a line.
    Json,
    /// JUnit XML.
    Junit,
    /// Test Anything Protocol.
    Tap,
}

/// What a new profile begins with.
#[derive(Clone, Copy, Debug, PartialEq, Eq, ValueEnum)]
pub enum Starter {
    /// Schemes for keyboard with mouse and for a pad, and nothing else
    Empty,
    /// One map with walk (a plane), hail (a press) and ring (a hold), and comments that say what goes
    /// where
    Blank,
    /// The whole demo, Lantern Quay: five maps, 25 actions, scores and a player's file
    Quay,
    /// A menu for keys, pad and touch: up-down and left-right that repeat, choose, leave, page
    Menu,
    /// Seen from the side, on the light's stair: tread (an axis), climb, leap, hook-on and unhook (one
    /// press or two), trim (a hold)
    Stair,
    /// Seen from above, the harbour dog herds geese: run (a plane), eye, creep (a toggle), bark and howl
    /// (short or long on one button), shake
    Geese,
    /// Seen through the eyes, under water: look (a view), swim, buoy (an axis of triggers), scrape (as
    /// long as it is held), weld (a hold), lamp
    Diver,
    /// An ice sled that is steered: runner, sail and ice-iron (axes that ease), brace, bell (a repeat),
    /// right-it
    Sled,
}

/// How diagnostics are printed.
#[derive(Clone, Copy, Debug, PartialEq, Eq, ValueEnum)]
pub enum CheckFormat {
    /// For people.
    Text,
    /// JSON, one object a line.
    Json,
    /// SARIF 2.1.0, for code hosts and editors.
    Sarif,
}

/// From which level on diagnostics make the exit code 1.
#[derive(Clone, Copy, Debug, PartialEq, Eq, ValueEnum)]
pub enum FailOn {
    /// Anything at all.
    Note,
    /// What is most likely not meant.
    Warning,
    /// What cannot work.
    Error,
}

impl FailOn {
    /// The level.
    pub fn level(self) -> Level {
        match self {
            Self::Note => Level::Note,
            Self::Warning => Level::Warning,
            Self::Error => Level::Error,
        }
    }
}

/// A keyboard layout.
pub fn parse_layout(word: &str) -> Result<Layout, String> {
    Layout::from_word(word).ok_or_else(|| format!("the layouts are {}", Layout::words()))
}

/// A share of a control's way to one side.
pub fn parse_within(text: &str) -> Result<f64, String> {
    let number = text.parse().ok().filter(|number| (0.001..=0.5).contains(number));
    number.ok_or_else(|| "write a number from 0.001 to 0.5".to_owned())
}

/// A source of hands.
pub fn parse_from(word: &str) -> Result<super::From, String> {
    use super::From;
    Ok(match word {
        "terminal" => From::Terminal,
        "evdev" => From::Evdev,
        "demo" => From::Demo,
        "" => return Err("write terminal, evdev, demo, or the path of a score or take".to_owned()),
        path => From::File(path.into()),
    })
}

/// How fast something goes.
pub fn parse_speed(text: &str) -> Result<f64, String> {
    let number = text.parse().ok().filter(|number| (0.01..=100.0).contains(number));
    number.ok_or_else(|| "write a number from 0.01 to 100".to_owned())
}
