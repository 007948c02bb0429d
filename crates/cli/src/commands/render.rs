//! `render`: a score as a take.

use crate::commands::load_profile;
use crate::failure::Failure;
use crate::files::{read_text, write_atomically};
use crate::output::Output;
use harmonym_lab::score::{self, Score};
use harmonym_lab::take::{write_header, write_input};
use harmonym_lang::source::Source;
use harmonym_runtime::plan::Plan;
use std::path::Path;

pub fn run(
    file: Option<&Path>,
    path: &Path,
    to: Option<&Path>,
    output: &mut Output,
) -> Result<(), Failure> {
    let loaded = load_profile(file, output)?;
    let (_, score) = read_score(read_text(path)?, &loaded.plan)?;
    let mut text = String::new();
    let start = score.start.map(|map| loaded.plan.names().maps[map].as_str());
    // Writing to memory does not fail.
    let _ = write_header(&mut text, score.title.as_deref(), start, score.rate, score.layout);
    text.push('\n');
    let mut count = 0;
    for input in score.perform() {
        let _ = write_input(&mut text, &loaded.plan, &input);
        text.push('\n');
        count += 1;
    }
    match to {
        Some(to) => {
            write_atomically(to, text.as_bytes())?;
            output.line(&format!("wrote {} ({count} inputs)", to.display()))
        }
        None => output.write(|out| out.push_str(&text)),
    }
}

/// Reads a score for a plan; gives its text back with it.
pub fn read_score(source: Source, plan: &Plan) -> Result<(Source, Score), Failure> {
    let score = score::read(&source, plan)?;
    Ok((source, score))
}
