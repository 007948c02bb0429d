//! Why an action did what it did, in words: every station with its number, and a sentence at the
//! end.

mod ending;
mod mover;
mod sentence;
mod stations;
#[cfg(test)]
mod tests;

pub use sentence::{Words, number};
pub use stations::{Station, guard_words, stations};

use super::table::table;
use crate::output::style::{Ink, Look};
use crate::view::of_seat;
use harmonym_lab::explain::{EpisodeRecord, Miss, Status, Story};
use harmonym_lab::told::{Seconds, Start, line};
use harmonym_runtime::base::{Seat, Time};
use serde::Serialize;
use std::path::Path;

/// One line for each episode and each press in vain.
pub fn told(words: Words<'_>, seat: Option<Seat>, story: &Story, look: Look) -> String {
    let Words { plan, action } = words;
    let mut rows: Vec<(Time, [String; 4])> = Vec::new();
    for record in &story.episodes {
        rows.push((record.woke, episode(words, record)));
    }
    for miss in &story.misses {
        let Miss { from, to, count, .. } = miss;
        let what = if *count == 1 { "nothing".to_owned() } else { format!("nothing, {count}×") };
        rows.push((*from, [clock(*from), clock(*to), what, words.miss(miss)]));
    }
    rows.sort_by_key(|(t, _)| *t);
    let rows: Vec<_> = rows.into_iter().map(|(_, row)| row).collect();
    let name = look.paint(Ink::Strong, of_seat(seat, &plan.names().actions[action]));
    let several = |count: usize, one: &str, many: &str| match count {
        1 => format!("1 {one}"),
        count => format!("{count} {many}"),
    };
    let presses: usize = story.misses.iter().map(|miss| miss.count).sum();
    let episodes = several(story.episodes.len(), "episode", "episodes");
    let mut text = format!("{name}: {episodes}");
    if presses > 0 {
        text.push_str(&format!(", {} in vain", several(presses, "press", "presses")));
    }
    text.push('\n');
    if rows.is_empty() {
        text.push_str(&format!("It never woke: {}.\n", never(words, story)));
    } else {
        text.push_str(&table(look, ["from", "to", "what", "why"], rows));
    }
    text
}

/// Why it never woke.
fn never(words: Words<'_>, story: &Story) -> String {
    match &story.last {
        Status::Unplugged(..) | Status::HeldBack(..) => words.status(&story.last),
        _ if story.is_silent() => "none of its controls was pressed".to_owned(),
        Status::Untouched => "none of its controls was pressed".to_owned(),
        last => words.status(last),
    }
}

/// Why nothing came of the hands, where nothing did: the first press in vain, or that there was none.
pub fn reason(words: Words<'_>, story: &Story) -> Option<String> {
    match (&story.misses[..], &story.episodes[..]) {
        ([first, ..], _) => Some(words.miss(first)),
        ([], []) => Some(never(words, story)),
        ([], [_, ..]) => None,
    }
}

fn episode(words: Words<'_>, record: &EpisodeRecord) -> [String; 4] {
    let to = record.end.map_or(String::new(), |(t, _)| clock(t));
    let what = match (record.fires.len(), record.end) {
        (0, _) => "lapse".to_owned(),
        (1, _) => "fire".to_owned(),
        (many, _) => format!("fire {many}×"),
    };
    [clock(record.woke), to, what, words.record(record)]
}

/// A moment, in seconds.
fn clock(t: Time) -> String {
    format!("{t:.4}")
}

#[derive(Serialize)]
struct EpisodeLine<'a> {
    kind: &'static str,
    #[serde(skip_serializing_if = "Option::is_none")]
    seat: Option<u8>,
    woke: Seconds,
    fires: Vec<Seconds>,
    #[serde(skip_serializing_if = "Option::is_none")]
    end: Option<Seconds>,
    #[serde(skip_serializing_if = "Option::is_none")]
    cause: Option<&'a str>,
    why: String,
}

#[derive(Serialize)]
struct MissLine<'a> {
    kind: &'static str,
    #[serde(skip_serializing_if = "Option::is_none")]
    seat: Option<u8>,
    from: Seconds,
    to: Seconds,
    count: usize,
    control: &'a str,
    why: String,
}

#[derive(Serialize)]
struct FileLine {
    kind: &'static str,
    file: String,
}

#[derive(Serialize)]
struct MomentLine {
    kind: &'static str,
    t: Seconds,
    #[serde(skip_serializing_if = "Option::is_none")]
    seat: Option<u8>,
    why: String,
}

/// The same as JSON Lines: without a moment the episodes and what was pressed in vain, else the
/// stations and the sentence. Of several files each has its name before it.
pub fn json(
    out: &mut String,
    (words, seat): (Words<'_>, Option<Seat>),
    story: &Story,
    stations: &[Station],
    of: Option<&Path>,
    is_first: bool,
) {
    let seat = seat.map(Seat::number);
    if is_first {
        line(out, &Start::new("why", Some(&words.plan.names().actions[words.action])));
    }
    if let Some(file) = of {
        line(out, &FileLine { kind: "file", file: file.display().to_string() });
    }
    stations.iter().for_each(|station| line(out, station));
    if let Some(moment) = &story.moment {
        let why = words.moment(story, moment);
        return line(out, &MomentLine { kind: "moment", t: Seconds(moment.t), seat, why });
    }
    for record in &story.episodes {
        line(
            out,
            &EpisodeLine {
                kind: "episode",
                seat,
                woke: Seconds(record.woke),
                fires: record.fires.iter().map(|(t, ..)| Seconds(*t)).collect(),
                end: record.end.map(|(t, _)| Seconds(t)),
                cause: record.end.map(|(_, cause)| cause.word()),
                why: words.record(record),
            },
        );
    }
    for miss in &story.misses {
        let control = &words.plan.names().controls[miss.control];
        let (from, to, count) = (Seconds(miss.from), Seconds(miss.to), miss.count);
        let why = words.miss(miss);
        line(out, &MissLine { kind: "miss", seat, from, to, count, control, why });
    }
}
