//! Curves in the terminal: raw values against shaped ones.

use super::why::number;
use crate::escape::MARK;
use crate::output::style::{Ink, Look};
use harmonym_lab::trace::Curve;
use harmonym_runtime::base::Kind;
use ratatui::buffer::Buffer;
use ratatui::layout::{Constraint, Rect};
use ratatui::style::{Color, Modifier, Style};
use ratatui::symbols::Marker;
use ratatui::widgets::{Axis, Chart, Dataset, GraphType, LegendPosition, Widget};

/// How high a chart is.
const HEIGHT: u16 = 18;

/// One curve and what it is called, where there are several.
pub struct Named<'a> {
    pub name: String,
    pub curve: &'a Curve,
}

/// Some curves of one binding in one chart, with what to read off them.
pub fn chart(curves: &[Named<'_>], ascii: bool, look: Look) -> String {
    let Some(first) = curves.first() else { return String::new() };
    let (least, most) = extent(curves);
    let marker = if ascii { Marker::Dot } else { Marker::Braille };
    let shades = [Color::Reset, Color::Blue, Color::Yellow, Color::Magenta];
    let mut sets: Vec<Dataset<'_>> = Vec::new();
    for (one, shade) in curves.iter().zip(shades.iter().cycle()) {
        let style = Style::new().fg(*shade);
        let kind = if one.curve.is_on_off { GraphType::Scatter } else { GraphType::Line };
        let set = Dataset::default().marker(marker).graph_type(kind).style(style);
        let set = if curves.len() > 1 { set.name(one.name.clone()) } else { set };
        sets.push(set.data(&one.curve.points));
    }
    let (from, to) = first.curve.range;
    let end = |value: f64| number((value * 1e3).round() / 1e3).replace('-', "−");
    let middle = |a: f64, b: f64| end(if a < 0.0 && b > 0.0 { 0.0 } else { (a + b) / 2.0 });
    let grey = Style::new().add_modifier(Modifier::DIM);
    let across = Axis::default()
        .bounds([from, to])
        .labels([end(from), middle(from, to), end(to)])
        .style(grey);
    let up = Axis::default()
        .bounds([least, most])
        .labels([end(least), middle(least, most), end(most)])
        .style(grey);
    let room = (Constraint::Ratio(1, 2), Constraint::Ratio(1, 2));
    let chart = Chart::new(sets)
        .x_axis(across)
        .y_axis(up)
        .legend_position(Some(LegendPosition::TopLeft))
        .hidden_legend_constraints(room);
    let area = Rect::new(0, 0, look.width.min(78) as u16, HEIGHT);
    let mut buffer = Buffer::empty(area);
    chart.render(area, &mut buffer);
    printed(&buffer, ascii, look)
}

/// The least and the greatest value, with 0.
fn extent(curves: &[Named<'_>]) -> (f64, f64) {
    let values = || curves.iter().flat_map(|one| one.curve.points.iter().map(|(_, value)| *value));
    let (least, most) = (values().fold(0.0, f64::min), values().fold(0.0, f64::max));
    if least == most { (0.0, 1.0) } else { (least, most) }
}

/// A buffer as text, with its colours where there is colour.
fn printed(buffer: &Buffer, ascii: bool, look: Look) -> String {
    let mut text = String::new();
    for y in buffer.area.top()..buffer.area.bottom() {
        let mut line = String::new();
        for x in buffer.area.left()..buffer.area.right() {
            let Some(cell) = buffer.cell((x, y)) else { continue };
            let symbol = match (ascii, cell.symbol()) {
                (true, "•") => "*",
                (true, "─") => "-",
                (true, "│") => "|",
                (true, "└") => "+",
                (true, "−") => "-",
                (_, symbol) => symbol,
            };
            let color = match cell.fg {
                Color::Blue => Some(34),
                Color::Yellow => Some(33),
                Color::Magenta => Some(35),
                _ if cell.modifier.contains(Modifier::DIM) => Some(2),
                _ => None,
            };
            match color.filter(|_| look.color && symbol != " ") {
                Some(color) => line.push_str(&format!("{MARK}{color}m{symbol}{MARK}0m")),
                None => line.push_str(symbol),
            }
        }
        text.push_str(line.trim_end());
        text.push('\n');
    }
    text
}

/// What to read off a curve, a line each.
pub fn readings(curve: &Curve, look: Look) -> String {
    let mut text = String::new();
    let mut line = |name: &str, says: String| {
        let name = look.paint(Ink::Faint, format!("{name:>10}"));
        text.push_str(&format!("{name}  {says}\n"));
    };
    let raw = match curve.raw {
        Kind::Switch | Kind::Axis => "the raw value".to_owned(),
        Kind::Turn => "the angle in radians".to_owned(),
        _ => "how far the raw value is from 0".to_owned(),
    };
    let gives = match curve.gives {
        Kind::Switch => "what its levels see",
        Kind::Axis => "the value",
        Kind::Turn => "the value's angle",
        _ => "how far the value is from 0",
    };
    line("across", format!("{raw}; up: {gives}"));
    let keys = "on or off: only the ends and 0 are real";
    if curve.is_on_off {
        line("controls", keys.to_owned());
    }
    let dead = match curve.dead {
        Some(dead) => format!("up to {} nothing comes of it", number(dead)),
        None => "none: every raw value counts".to_owned(),
    };
    line("dead zone", dead);
    let greatest = curve.points.iter().map(|(_, value)| value.abs()).fold(0.0, f64::max);
    match curve.full.filter(|full| *full < curve.range.1 - 1e-9) {
        Some(full) => line("full", format!("{}, from {} on", number(greatest), number(full))),
        None => line("greatest", format!("{}, at the end", number(greatest))),
    }
    let [wake, down, up] = curve.levels.map(|level| level.map_or("never".to_owned(), number));
    line("levels", format!("wakes from {wake}, is down from {down}, is up under {up}"));
    if let Some(reach) = &curve.reach {
        let (straight, diagonal) = (number(reach.straight), number(reach.diagonal));
        let ratio = reach.diagonal / reach.straight.max(1e-12);
        let says = match (ratio - 1.0).abs() < 5e-4 {
            true => format!("{straight} straight, {diagonal} on the diagonal: the same every way"),
            false => {
                format!("{straight} straight, {diagonal} on the diagonal: {ratio:.3} times as far")
            }
        };
        line("reach", says);
    }
    text
}
