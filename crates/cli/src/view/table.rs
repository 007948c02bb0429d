//! Tables without lines: columns parted by space, as wide as the terminal.

use crate::output::style::{Ink, Look, hung};
use comfy_table::{ColumnConstraint, ContentArrangement, Table, Width, presets};
use unicode_width::UnicodeWidthStr;

/// What parts two columns.
const GAP: usize = 2;

/// Rows under headings. Words are never broken: where there is no room for that, each row becomes lines
/// of their own.
pub fn table<const N: usize>(look: Look, heads: [&str; N], rows: Vec<[String; N]>) -> String {
    let rows = rows.into_iter().map(Vec::from).collect();
    columns(look, &heads, rows)
}

/// The same with any number of columns. A column that is empty all the way down is left out.
pub fn columns(look: Look, heads: &[&str], mut rows: Vec<Vec<String>>) -> String {
    let has_some = |at: &usize| rows.iter().any(|row| row.get(*at).is_some_and(|c| !c.is_empty()));
    let kept: Vec<usize> = (0..heads.len()).filter(has_some).collect();
    let heads: Vec<&str> = kept.iter().map(|at| heads[*at]).collect();
    for row in &mut rows {
        *row = kept.iter().map(|at| std::mem::take(&mut row[*at])).collect();
    }
    let heads = heads.as_slice();
    let cells = |column: usize| {
        let own = rows.iter().filter_map(move |row| row.get(column).map(String::as_str));
        own.chain(heads.get(column).copied())
    };
    let word = |column| cells(column).flat_map(|cell| cell.split(' ').map(str::width)).max();
    let words: Vec<usize> = (0..heads.len()).map(|at| word(at).unwrap_or_default()).collect();
    let widths_of = |row: &[&str]| row.iter().map(|cell| cell.width()).collect::<Vec<_>>();
    let mut wide: Vec<Vec<usize>> = vec![widths_of(heads)];
    wide.extend(rows.iter().map(|row| row.iter().map(|cell| cell.width()).collect()));
    let Some(widths) = shared(&wide, &words, look.columns + GAP) else {
        return listed(look, heads, &rows);
    };
    let mut table = Table::new();
    table
        .load_style(presets::NOTHING)
        .set_content_arrangement(ContentArrangement::Dynamic)
        // What follows the last column is cut off below.
        .set_width(fixed(look.columns + GAP))
        .set_header(heads)
        .add_rows(rows);
    for (column, width) in table.column_iter_mut().zip(widths) {
        column.set_padding((0, GAP as u16));
        column.set_constraint(ColumnConstraint::Absolute(Width::Fixed(fixed(width + GAP))));
    }
    let text = table.to_string();
    let mut lines = text.lines();
    let head = lines.next().unwrap_or_default().trim_end();
    let body = lines.map(|line| format!("{}\n", line.trim_end()));
    format!("{}\n{}", look.paint(Ink::Faint, head), body.collect::<String>())
}

/// The widths of columns of cells of some widths, as far as `room` goes: what makes the fewest lines more
/// gives way first, down to a column's longest word. Nothing where not even that has room, or where rows
/// would be mostly gaps.
fn shared(cells: &[Vec<usize>], words: &[usize], room: usize) -> Option<Vec<usize>> {
    let room = room.saturating_sub(GAP * words.len());
    let widest = |column: usize| cells.iter().map(|row| row[column]).max().unwrap_or_default();
    let mut widths: Vec<usize> = (0..words.len()).map(widest).collect();
    if widths.iter().sum::<usize>() > MOST_BROKEN * room {
        return None;
    }
    let lines = |widths: &[usize]| -> usize {
        let height = |row: &Vec<usize>| {
            let each = row.iter().zip(widths).map(|(cell, width)| cell.div_ceil(*width.max(&1)));
            each.max().unwrap_or_default()
        };
        cells.iter().map(height).sum()
    };
    while widths.iter().sum::<usize>() > room {
        let narrower = |column: &usize| {
            let mut narrower = widths.clone();
            narrower[*column] -= 1;
            (lines(&narrower), usize::MAX - widths[*column])
        };
        let may = (0..words.len()).filter(|&column| widths[column] > words[column]);
        let column = may.min_by_key(narrower)?;
        widths[column] -= 1;
    }
    Some(widths)
}

/// How often a row is broken at most, before its cells stand below each other.
const MOST_BROKEN: usize = 4;

fn fixed(columns: usize) -> u16 {
    u16::try_from(columns).unwrap_or(u16::MAX)
}

/// Each row as lines: its first cell, and below it what the others say, with their headings.
fn listed(look: Look, heads: &[&str], rows: &[Vec<String>]) -> String {
    let mut text = String::new();
    for row in rows {
        for (place, (head, cell)) in heads.iter().zip(row).enumerate() {
            let line = match (place, cell.is_empty()) {
                (_, true) => continue,
                (0, false) => cell.clone(),
                _ => format!("  {head}: {cell}"),
            };
            text.push_str(&hung(&line, look.columns));
            text.push('\n');
        }
    }
    text
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn no_word_is_broken_and_nothing_goes_over_the_edge() {
        let heads = ["action", "binding", "fires"];
        let rows = || {
            vec![
                ["tie-knot", "key.KeyT", "hold 0.8s with quay.tie-knot"].map(str::to_owned),
                ["", "pad.left-stick | deadzone 0.1 full=0.96", ""].map(str::to_owned),
            ]
        };
        for columns in [20, 28, 40, 60, 80, 160] {
            let look = Look { color: false, width: columns.min(100), columns };
            let text = table(look, heads, rows());
            for word in ["tie-knot", "pad.left-stick", "quay.tie-knot", "full=0.96"] {
                assert!(text.contains(word), "{columns}: {text}");
            }
            assert!(text.lines().all(|line| line.width() <= columns), "{columns}: {text}");
        }
        let wide = table(Look { color: false, width: 100, columns: 160 }, heads, rows());
        assert_eq!(wide.lines().count(), 3, "{wide}");
    }
}
