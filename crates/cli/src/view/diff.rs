//! What changes in a file, as a unified diff.

use crate::escape::shown;
use crate::output::style::{Ink, Look};
use similar::TextDiff;
use std::fmt::Write as _;

/// Writes the difference of two texts of the file `name`, with three lines around each change.
pub fn write(out: &mut String, name: &str, before: &str, after: &str, look: Look) {
    let name = &*shown(name);
    let diff = TextDiff::from_lines(before, after);
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
