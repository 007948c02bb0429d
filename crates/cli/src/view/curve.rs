//! Curves in the terminal: raw values against shaped ones.

use super::why::number;
use crate::escape::mark;
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
    for (place, (one, shade)) in curves.iter().zip(shades.iter().cycle()).enumerate() {
        let style = Style::new().fg(*shade);
        let kind = if one.curve.is_on_off { GraphType::Scatter } else { GraphType::Line };
        let set = Dataset::default().marker(marker).graph_type(kind).style(style);
        let set = match (curves.len() > 1, look.color) {
            (false, _) => set,
            (true, true) => set.name(one.name.clone()),
            (true, false) => set.name(format!("{} {}", letter(place), one.name)),
        };
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
    if curves.len() > 1 && !look.color {
        letters(curves, &mut buffer);
    }
    printed(&buffer, ascii, look)
}

/// What tells one of several curves from the others where there is no colour.
fn letter(place: usize) -> char {
    char::from(b'a' + (place % 26) as u8)
}

/// Puts each curve's letter on it, now and then, where it is drawn.
fn letters(curves: &[Named<'_>], buffer: &mut Buffer) {
    let (least, most) = extent(curves);
    let Some((from, to)) = curves.first().map(|one| one.curve.range) else { return };
    // The chart's own area: behind the axis, over the line below.
    let area = buffer.area;
    let is_axis = |x: u16| buffer.cell((x, area.top())).is_some_and(|cell| cell.symbol() == "│");
    let Some(axis) = (area.left()..area.right()).find(|x| is_axis(*x)) else { return };
    let is_line = |y: u16| buffer.cell((axis, y)).is_some_and(|cell| cell.symbol() == "└");
    let Some(foot) = (area.top()..area.bottom()).find(|y| is_line(*y)) else { return };
    let (wide, high) = (area.right() - axis - 2, foot - area.top() - 1);
    for (place, one) in curves.iter().enumerate() {
        for (at, value) in one.curve.points.iter().skip(40 + 23 * place).step_by(120) {
            let x = axis + 1 + ((at - from) / (to - from) * f64::from(wide)).round() as u16;
            let share = (value - least) / (most - least);
            let y = foot - 1 - (share * f64::from(high)).round() as u16;
            if let Some(cell) = buffer.cell_mut((x, y)) {
                cell.set_char(letter(place));
            }
        }
    }
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
                Some(color) => {
                    line.push_str(&format!("{mark}{color}m{symbol}{mark}0m", mark = mark()));
                }
                None => line.push_str(symbol),
            }
        }
        text.push_str(line.trim_end());
        text.push('\n');
    }
    text
}

/// What a curve's axes say: across, and upwards.
pub fn axes(curve: &Curve) -> (String, String) {
    let across = match (&curve.moves, curve.raw) {
        (Some(control), _) => {
            let of = match control.as_str() {
                "mouse.move" => ", in counts",
                "mouse.wheel" => ", in notches",
                "touch.drag" => ", in shares of the screen",
                _ => "",
            };
            format!("how far {control} moves{of}")
        }
        (None, Kind::Switch | Kind::Axis) => "the raw value".to_owned(),
        (None, Kind::Turn) => "the raw angle in radians".to_owned(),
        (None, _) => "how far the raw value is from 0".to_owned(),
    };
    let upwards = match (curve.in_a_second, curve.gives) {
        (_, Kind::Switch) => "what its levels see",
        (true, Kind::Axis) => "what the value adds up to in a second",
        (true, _) => "how far the value goes in a second",
        (false, Kind::Axis) => "the value",
        (false, Kind::Turn) => "the value's angle",
        (false, _) => "how far the value is from 0",
    };
    (across, upwards.to_owned())
}

/// What to read off a curve, a line each.
pub fn readings(curve: &Curve, look: Look) -> String {
    let mut text = String::new();
    let mut line = |name: &str, says: String| {
        let name = look.paint(Ink::Faint, format!("{name:>10}"));
        text.push_str(&format!("{name}  {says}\n"));
    };
    let (across, upwards) = axes(curve);
    line("across", across);
    line("upwards", upwards);
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
    match curve.full.filter(|full| *full < curve.range.1 - 1e-9 && curve.moves.is_none()) {
        Some(full) => line("full", format!("{}, from {} on", number(greatest), number(full))),
        None if curve.moves.is_some() => {
            let end = number(curve.range.1);
            line("at the end", format!("{} for {end}; more gives more", number(greatest)));
        }
        None => line("greatest", format!("{}, at the end", number(greatest))),
    }
    let [wake, down, up] = curve.levels.map(|level| level.map_or("never".to_owned(), number));
    line("levels", format!("wakes from {wake}, is down from {down}, is let go under {up}"));
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
