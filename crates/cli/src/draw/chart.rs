//! Curves and counts with axes.

use super::Canvas;
use super::glyphs::Weight;
use super::pen::{Anchor, Pen, Shade, font, text_width, units};
use crate::view::curve::axes as words;
use crate::view::why::number;
use harmonym_lab::trace::{Curve, Reach};
use plotters::coord::Shift;
use plotters::coord::types::RangedCoordf64;
use plotters::element::DashedPathElement;
use plotters::prelude::*;
use plotters::style::text_anchor::{HPos, Pos, VPos};
use std::convert::Infallible;

type Done = Result<(), DrawingAreaErrorKind<Infallible>>;
pub type Axes<'a, 'c> = ChartContext<'a, Canvas<'c>, Cartesian2d<RangedCoordf64, RangedCoordf64>>;

/// A panel's size.
const PANEL: (f64, f64) = (620.0, 440.0);
/// The shades of several curves, apart in brightness too.
pub const SHADES: [Shade; 4] = [Shade::Blue, Shade::Orange, Shade::Ink, Shade::Grey];

/// The curves of one binding: its name, its expression, and what each curve is called.
pub struct Panel {
    pub name: String,
    pub written: String,
    pub curves: Vec<(String, Curve)>,
}

/// Curves as SVG, a row a binding: the curve, and beside it what a plane can reach.
pub fn curves(title: &str, panels: &[Panel]) -> String {
    let has_reach = panels.iter().any(|panel| panel.curves.iter().any(|(_, c)| c.reach.is_some()));
    let width = if has_reach { 2.0 * PANEL.0 + 40.0 } else { 800.0 };
    let height = 60.0 + PANEL.1 * panels.len() as f64 + 10.0;
    let mut out = String::new();
    let area = Canvas::new((width as u32, height as u32), title, &mut out).into_drawing_area();
    let pen = Pen { area };
    let draw = || -> Done {
        pen.text(title, (18.0, 28.0), Anchor::Left, 17.0, true, Shade::Ink)?;
        for (row, panel) in panels.iter().enumerate() {
            let top = 50.0 + PANEL.1 * row as f64;
            let (left, right) = match has_reach {
                true => (PANEL.0, width),
                false => (width, width),
            };
            let area = pen.area.clone();
            let of = |x0: f64, x1: f64| {
                let (x, y) = (units(x0)..units(x1), units(top)..units(top + PANEL.1));
                area.clone().shrink((x.start, y.start), (x.end - x.start, y.end - y.start))
            };
            draw_curves(&of(10.0, left), panel)?;
            if has_reach {
                draw_reach(&of(left + 10.0, right - 10.0), panel)?;
            }
        }
        Ok(())
    };
    // Drawing into a text cannot fail.
    let _ = draw();
    let _ = pen.area.present();
    drop(pen);
    out
}

/// A mesh with its texts in the embedded font.
pub fn mesh(axes: &mut Axes<'_, '_>, across: &str, up: &str) -> Done {
    mesh_with(axes, (across, up), 9, &tick)
}

/// The same with whole numbers up to `most` upwards.
pub fn mesh_of_counts(axes: &mut Axes<'_, '_>, across: &str, most: usize) -> Done {
    let whole = |value: f64| match (value - value.round()).abs() < 1e-9 {
        true => tick(value),
        false => String::new(),
    };
    mesh_with(axes, (across, "count"), most.min(8) + 1, &whole)
}

fn mesh_with(
    axes: &mut Axes<'_, '_>,
    (across, up): (&str, &str),
    labels: usize,
    label: &dyn Fn(f64) -> String,
) -> Done {
    axes.configure_mesh()
        .x_desc(across)
        .y_desc(up)
        .axis_desc_style(font(12.0, Weight::Regular, Shade::Grey))
        .label_style(font(11.0, Weight::Regular, Shade::Grey))
        .bold_line_style(Shade::Rule.color().stroke_width(8))
        .light_line_style(Shade::White.color().stroke_width(0))
        .axis_style(Shade::Grey.color().stroke_width(8))
        .set_all_tick_mark_size(units(5.0))
        .x_labels(9)
        .y_labels(labels)
        .x_label_formatter(&|value| tick(*value))
        .y_label_formatter(&|value| label(*value))
        .draw()
}

fn tick(value: f64) -> String {
    number((value * 1e4).round() / 1e4).replace('-', "−")
}

pub fn caption(area: &DrawingArea<Canvas<'_>, Shift>, name: &str, more: &str) -> Done {
    let bold = font(13.0, Weight::Bold, Shade::Ink);
    let plain = font(11.5, Weight::Regular, Shade::Grey);
    area.draw(&Text::new(name.to_owned(), (units(58.0), units(4.0)), bold))?;
    let (width, _) = area.dim_in_pixel();
    let room = f64::from(width) / 10.0 - 80.0;
    let more = super::pen::fit(more, 11.5, false, room);
    area.draw(&Text::new(more, (units(58.0), units(22.0)), plain))
}

pub fn axes<'a, 'c>(
    area: &'a DrawingArea<Canvas<'c>, Shift>,
    (x0, x1): (f64, f64),
    (y0, y1): (f64, f64),
) -> Result<Axes<'a, 'c>, DrawingAreaErrorKind<Infallible>> {
    ChartBuilder::on(area)
        .margin_top(units(46.0))
        .margin_right(units(18.0))
        .margin_bottom(units(8.0))
        .x_label_area_size(units(42.0))
        .y_label_area_size(units(54.0))
        .build_cartesian_2d(x0..x1, y0..y1)
}

fn draw_curves(area: &DrawingArea<Canvas<'_>, Shift>, panel: &Panel) -> Done {
    caption(area, &panel.name, &panel.written)?;
    let Some((_, first)) = panel.curves.first() else { return Ok(()) };
    let values = || panel.curves.iter().flat_map(|(_, c)| c.points.iter().map(|(_, v)| *v));
    let (least, most) = (values().fold(0.0, f64::min), values().fold(0.0, f64::max));
    let most = if least == most { 1.0 } else { most };
    let room = (most - least) * 0.06;
    let least = if least < 0.0 { least - room } else { least };
    let mut axes = axes(area, first.range, (least, most + room))?;
    let (across, up) = words(first);
    mesh(&mut axes, &across, &up)?;
    for ((_, curve), shade) in panel.curves.iter().zip(SHADES.into_iter().cycle()) {
        let color = shade.color();
        if curve.is_on_off {
            let (from, to) = curve.range;
            let near = |at: f64| {
                let distance = |p: &&(f64, f64)| (p.0 - at).abs();
                curve.points.iter().min_by(|a, b| distance(a).total_cmp(&distance(b))).copied()
            };
            let points: Vec<(f64, f64)> = [from, 0.0, to].into_iter().filter_map(near).collect();
            let style = Shade::Rule.color().stroke_width(12);
            axes.draw_series(LineSeries::new(points.clone(), style))?;
            axes.draw_series(points.iter().map(|at| Circle::new(*at, 55, color.filled())))?;
        } else {
            let style = color.stroke_width(20);
            axes.draw_series(LineSeries::new(curve.points.iter().copied(), style))?;
        }
    }
    marks(&mut axes, first, (least, most + room), panel.curves.len() == 1)?;
    legend(area, panel)
}

/// A note in a chart, its foot at the given point.
pub fn note(words: String, at: (f64, f64), anchor: Anchor) -> Text<'static, (f64, f64), String> {
    let h_pos = if anchor == Anchor::Right { HPos::Right } else { HPos::Left };
    let pos = Pos::new(h_pos, VPos::Bottom);
    Text::new(words, at, font(10.5, Weight::Regular, Shade::Ink).pos(pos))
}

/// Dead zone, full point and levels of a curve.
fn marks(axes: &mut Axes<'_, '_>, curve: &Curve, (low, high): (f64, f64), alone: bool) -> Done {
    let grey = Shade::Grey.color();
    let (from, to) = curve.range;
    let mut upright = |at: f64, words: String, share: f64| -> Done {
        let dashed = DashedPathElement::new([(at, low), (at, high)], 40, 40, grey.stroke_width(10));
        axes.draw_series([dashed])?;
        // Where there is no room to the right, to the left.
        let anchor = if at > from + (to - from) * 0.6 { Anchor::Right } else { Anchor::Left };
        let aside = (to - from) * if anchor == Anchor::Right { -0.01 } else { 0.01 };
        let y = low + (high - low) * share;
        axes.draw_series([note(words, (at + aside, y), anchor)]).map(|_| ())
    };
    if let Some(dead) = curve.dead.filter(|_| alone) {
        upright(dead, format!("nothing up to {}", number(dead)), 0.93)?;
    }
    if let Some(full) =
        curve.full.filter(|full| alone && *full < to - 1e-9 && curve.moves.is_none())
    {
        upright(full, format!("full from {}", number(full)), 0.12)?;
    }
    if !alone {
        return Ok(());
    }
    let names = ["wakes", "down", "let go"];
    let mut named: Vec<f64> = Vec::new();
    for (name, at) in names.into_iter().zip(curve.levels) {
        let Some(at) = at.filter(|at| *at > (to - from) * 0.004) else { continue };
        let near = |p: &&(f64, f64)| (p.0 - at).abs();
        let Some(point) = curve.points.iter().min_by(|a, b| near(a).total_cmp(&near(b))) else {
            continue;
        };
        if curve.dead.is_some_and(|dead| (dead - at).abs() < (to - from) * 0.01) {
            continue;
        }
        let y = point.1;
        let dashed = DashedPathElement::new([(from, y), (at, y)], 20, 30, grey.stroke_width(8));
        axes.draw_series([dashed])?;
        axes.draw_series([Circle::new((at, y), 35, Shade::Ink.color().filled())])?;
        if named.iter().all(|other| (other - y).abs() > (high - low) * 0.045) {
            let words = format!("{name} at raw {}", number((at * 1e4).round() / 1e4));
            // Beside its point, under the curve.
            let anchor = if at > from + (to - from) * 0.6 { Anchor::Right } else { Anchor::Left };
            let aside = (to - from) * if anchor == Anchor::Right { -0.02 } else { 0.02 };
            let up = y + (high - low) * 0.005;
            axes.draw_series([note(words, (at + aside, up), anchor)])?;
            named.push(y);
        }
    }
    Ok(())
}

fn legend(area: &DrawingArea<Canvas<'_>, Shift>, panel: &Panel) -> Done {
    if panel.curves.len() < 2 {
        return Ok(());
    }
    let (width, _) = area.dim_in_pixel();
    let mut x = f64::from(width) / 10.0 - 22.0;
    let named: Vec<_> = panel.curves.iter().zip(SHADES.into_iter().cycle()).collect();
    for ((name, _), shade) in named.into_iter().rev() {
        x -= text_width(name, 11.5, false);
        let style = font(11.5, Weight::Regular, Shade::Ink);
        area.draw(&Text::new(name.clone(), (units(x), units(5.0)), style))?;
        let line = [(units(x - 24.0), units(12.0)), (units(x - 5.0), units(12.0))];
        area.draw(&PathElement::new(line.to_vec(), shade.color().stroke_width(22)))?;
        x -= 40.0;
    }
    Ok(())
}

fn draw_reach(area: &DrawingArea<Canvas<'_>, Shift>, panel: &Panel) -> Done {
    let reaches: Vec<_> =
        panel.curves.iter().filter_map(|(_, curve)| Some((curve, curve.reach.as_ref()?))).collect();
    let Some((curve, _)) = reaches.first() else { return Ok(()) };
    let more = if curve.is_on_off { "keys reach the points" } else { "the ring: raw length 1" };
    caption(area, "what it can reach", more)?;
    let all = reaches.iter().flat_map(|(_, reach)| reach.square.iter().chain(&reach.round));
    let most = all.flat_map(|(x, y)| [x.abs(), y.abs()]).fold(0.0, f64::max).max(1e-9) * 1.15;
    // A unit is as long across as it is up.
    let (width, height) = area.dim_in_pixel();
    let wide = f64::from(width) - 10.0 * 72.0;
    let high = f64::from(height) - 10.0 * 96.0;
    let across = most * (wide / high).max(0.1);
    let mut axes = axes(area, (-across, across), (-most, most))?;
    mesh(&mut axes, "x", "y")?;
    for ((curve, reach), shade) in reaches.iter().zip(SHADES) {
        let color = shade.color();
        let closed = |points: &[(f64, f64)]| {
            let mut all = points.to_vec();
            all.extend(points.first());
            all
        };
        if curve.is_on_off {
            let corners = [0, 1, 2, 3, 4, 5, 6, 7].map(|i| reach.square[i * 32]);
            let line = Shade::Rule.color().stroke_width(12);
            axes.draw_series(LineSeries::new(closed(&corners), line))?;
            axes.draw_series(corners.iter().map(|at| Circle::new(*at, 55, color.filled())))?;
        } else {
            axes.draw_series(LineSeries::new(closed(&reach.square), color.stroke_width(18)))?;
            axes.draw_series(LineSeries::new(closed(&reach.round), color.stroke_width(8)))?;
        }
    }
    let far = |one: &&&Reach| one.straight.max(one.diagonal);
    let all: Vec<&Reach> = reaches.iter().map(|(_, reach)| *reach).collect();
    let Some(reach) = all.iter().max_by(|a, b| far(a).total_cmp(&far(b))) else { return Ok(()) };
    let along = |(x, y): &(f64, f64)| x + y;
    let corner = reach.square.iter().max_by(|a, b| along(a).total_cmp(&along(b)));
    if let Some(&corner) = corner {
        let line = Shade::Ink.color().stroke_width(10);
        axes.draw_series([DashedPathElement::new([(0.0, 0.0), corner], 40, 30, line)])?;
        let rounded = |value: f64| number((value * 1e4).round() / 1e4);
        let words = format!("diagonal {}", rounded(reach.diagonal));
        let place = (corner.0 * 1.02, corner.1 * 1.02);
        axes.draw_series([note(words, place, Anchor::Left)])?;
        let words = format!("straight {}", rounded(reach.straight));
        let place = (-most * 0.02, reach.straight * 1.02);
        axes.draw_series([note(words, place, Anchor::Right)])?;
    }
    Ok(())
}
