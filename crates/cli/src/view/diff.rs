//! What changes in a file, as a unified diff.

use crate::escape::shown;
use crate::output::style::{Ink, Look};
use similar::{Algorithm, TextDiff};
use std::fmt::Write as _;

/// So many bytes a text has for which the shortest difference is told.
const SHORT: usize = 32 * 1024;

/// Writes the difference of two texts of the file `name`, with three lines around each change.
pub fn write(out: &mut String, name: &str, before: &str, after: &str, look: Look) {
    let name = &*shown(name);
    // Of long texts with many changes the shortest difference would take too long to find.
    let algorithm = match before.len().max(after.len()) <= SHORT {
        true => Algorithm::Myers,
        false => Algorithm::Patience,
    };
    let diff = TextDiff::configure().algorithm(algorithm).diff_lines(before, after);
    let text = diff.unified_diff().context_radius(3).header(name, name).to_string();
    for line in text.lines() {
        let line = line.trim_end_matches('\r');
        let ink = match line.as_bytes().first() {
            Some(b'+') => Some(Ink::Strong),
            Some(b'-') => Some(Ink::Missed),
            Some(b'@') => Some(Ink::Faint),
            _ => None,
        };
        let line = ink.map_or_else(|| line.to_owned(), |ink| look.paint(ink, line));
        let _ = writeln!(out, "{line}");
    }
}
