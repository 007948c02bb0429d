//! Results of parts of a whole, put together.

use crate::escape::named;
use crate::failure::Failure;
use crate::files::read_text;
use harmonym_lab::survey::Shard;
use serde::Deserialize;
use serde::de::DeserializeOwned;
use std::path::{Path, PathBuf};

/// The first line of a part.
#[derive(Clone, Debug, Deserialize)]
pub struct Head {
    kind: String,
    command: String,
    /// Which part it is, from 1.
    pub shard: usize,
    shards: usize,
    /// How many scores or hands it was given.
    pub files: usize,
    /// Of a sweep, what was varied.
    pub vary: Option<String>,
}

/// A part, as it was printed.
pub struct Part {
    path: PathBuf,
    pub head: Head,
    /// The lines behind the first, each with its number in the file.
    lines: Vec<(usize, String)>,
}

impl Part {
    /// Its lines, read.
    pub fn read<T: DeserializeOwned>(&self) -> Result<Vec<T>, Failure> {
        let read = |(number, line): &(usize, String)| {
            serde_json::from_str(line).map_err(|_| {
                let place = format!("{}:{number}", named(&self.path));
                no_result(&format!("{place}: this is no line of a result"), &self.head.command)
            })
        };
        self.lines.iter().map(read).collect()
    }
}

fn no_result(message: &str, command: &str) -> Failure {
    let help = format!("write one with `harmonym {command} --shard 1/4 --format json > FILE`");
    Failure::new(message, help)
}

/// Reads the parts of a whole, in their order; a file may hold several.
pub fn read(paths: &[PathBuf], command: &str) -> Result<Vec<Part>, Failure> {
    let mut parts: Vec<Part> = Vec::new();
    for path in paths {
        parts_of(path, command, &mut parts)?;
    }
    let Some(of) = parts.first().map(|part| part.head.shards) else {
        return Err(no_result("there is no result to put together", command));
    };
    if let Some(other) = parts.iter().find(|part| part.head.shards != of) {
        let (name, count) = (named(&other.path), other.head.shards);
        let message = format!("{name} is one of {count} parts, the others are of {of}");
        return Err(Failure::new(message, "put the parts of one whole together"));
    }
    parts.sort_by_key(|part| part.head.shard);
    for pair in parts.windows(2) {
        if let [one, other] = pair
            && one.head.shard == other.head.shard
        {
            let (number, a, b) = (one.head.shard, named(&one.path), named(&other.path));
            let message = format!("part {number} of {of} is there twice: in {a} and in {b}");
            return Err(Failure::new(message, "leave one out"));
        }
    }
    if let Some(missing) = (1..=of).find(|number| parts.iter().all(|p| p.head.shard != *number)) {
        let message = format!("part {missing} of {of} is missing");
        let help = format!("run `harmonym {command} --shard {missing}/{of} --format json`");
        return Err(Failure::new(message, help));
    }
    Ok(parts)
}

fn parts_of(path: &Path, command: &str, parts: &mut Vec<Part>) -> Result<(), Failure> {
    let source = read_text(path)?;
    let before = parts.len();
    for (number, line) in (1..).zip(source.text().trim_start_matches('\u{feff}').lines()) {
        if line.trim().is_empty() {
            continue;
        }
        if let Ok(head) = serde_json::from_str::<Head>(line)
            && head.kind == "shard"
        {
            let is_part = Shard::parse(&format!("{}/{}", head.shard, head.shards)).is_ok();
            if head.command != command || !is_part {
                let message = format!("{}:{number}: this is no part of a {command}", named(path));
                return Err(no_result(&message, command));
            }
            parts.push(Part { path: path.to_owned(), head, lines: Vec::new() });
            continue;
        }
        match parts.get_mut(before..).and_then(<[Part]>::last_mut) {
            Some(part) => part.lines.push((number, line.to_owned())),
            None => break,
        }
    }
    if parts.len() == before {
        let message = format!("{} does not begin as a part of a whole", named(path));
        return Err(no_result(&message, command));
    }
    Ok(())
}
