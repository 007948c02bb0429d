//! Tables without lines: columns parted by space.

use crate::output::style::{Ink, Look};
use comfy_table::{ContentArrangement, Table, presets};

/// Rows under headings, as wide as the terminal at most.
pub fn table<const N: usize>(look: Look, heads: [&str; N], rows: Vec<[String; N]>) -> String {
    let mut table = Table::new();
    table
        .load_style(presets::NOTHING)
        .set_content_arrangement(ContentArrangement::Dynamic)
        .set_width(u16::try_from(look.width).unwrap_or(100))
        .set_header(heads)
        .add_rows(rows);
    for column in table.column_iter_mut() {
        column.set_padding((0, 2));
    }
    let text = table.to_string();
    let mut lines = text.lines();
    let head = lines.next().unwrap_or_default().trim_end();
    let body = lines.map(|line| format!("{}\n", line.trim_end()));
    format!("{}\n{}", look.paint(Ink::Faint, head), body.collect::<String>())
}
