//! What came of many values of one number, drawn.

use super::Canvas;
use super::chart::{axes, caption, mesh_of_counts, note};
use super::pen::{Anchor, Pen, Shade, units};
use plotters::coord::Shift;
use plotters::element::DashedPathElement;
use plotters::prelude::*;
use std::convert::Infallible;

type Done = Result<(), DrawingAreaErrorKind<Infallible>>;

/// How wide a picture is, and how high a panel.
const WIDTH: f64 = 1100.0;
const HEIGHT: f64 = 340.0;
/// The most actions that are drawn.
const MOST: usize = 12;

/// What one value came to.
#[derive(Clone, Copy, Debug)]
pub struct Counts {
    pub at: f64,
    pub fires: usize,
    pub lapses: usize,
}

/// One action.
pub struct Counted {
    pub name: String,
    pub counts: Vec<Counts>,
}

/// Fires and lapses by value as SVG, a panel an action; `now` is the present value.
pub fn counts(address: &str, unit: &str, panels: &[Counted], now: Option<f64>) -> String {
    let panels = panels.get(..MOST).unwrap_or(panels);
    let height = 60.0 + HEIGHT * panels.len().max(1) as f64;
    let mut out = String::new();
    let area = Canvas::new((WIDTH as u32, height as u32), address, &mut out).into_drawing_area();
    let pen = Pen { area };
    let draw = || -> Done {
        pen.text(address, (18.0, 28.0), Anchor::Left, 17.0, true, Shade::Ink)?;
        if panels.is_empty() {
            let at = (18.0, 70.0);
            pen.text("nothing depends on it", at, Anchor::Left, 13.0, false, Shade::Grey)?;
        }
        for (row, panel) in panels.iter().enumerate() {
            let top = 50.0 + HEIGHT * row as f64;
            let area = pen.area.clone();
            let area = area.shrink((units(10.0), units(top)), (units(WIDTH - 20.0), units(HEIGHT)));
            draw_panel(&area, panel, unit, now)?;
        }
        Ok(())
    };
    // Drawing into a text cannot fail.
    let _ = draw();
    let _ = pen.area.present();
    drop(pen);
    out
}

fn draw_panel(
    area: &DrawingArea<Canvas<'_>, Shift>,
    panel: &Counted,
    unit: &str,
    now: Option<f64>,
) -> Done {
    caption(area, &panel.name, "fires: filled points; lapses: rings")?;
    let (Some(first), Some(last)) = (panel.counts.first(), panel.counts.last()) else {
        return Ok(());
    };
    let most = panel.counts.iter().map(|one| one.fires.max(one.lapses)).max().unwrap_or(0).max(1);
    let high = most as f64 * 1.12;
    let room = (last.at - first.at) * 0.03;
    let mut axes = axes(area, (first.at - room, last.at + room), (-high * 0.04, high))?;
    let across = if unit.is_empty() { "value".to_owned() } else { format!("value in {unit}") };
    mesh_of_counts(&mut axes, &across, most)?;
    if let Some(now) = now {
        let line = Shade::Grey.color().stroke_width(10);
        axes.draw_series([DashedPathElement::new([(now, 0.0), (now, high)], 40, 40, line)])?;
        let right = now > first.at + (last.at - first.at) * 0.8;
        let anchor = if right { Anchor::Right } else { Anchor::Left };
        let aside = (last.at - first.at) * if right { -0.006 } else { 0.006 };
        axes.draw_series([note(format!("now {now}{unit}"), (now + aside, high * 0.93), anchor)])?;
    }
    let lapses = panel.counts.iter().map(|one| (one.at, one.lapses as f64));
    let fires = panel.counts.iter().map(|one| (one.at, one.fires as f64));
    let (orange, blue) = (Shade::Orange.color(), Shade::Blue.color());
    // Where both are as many, a ring stands around a point, and a thin line on a thick one.
    axes.draw_series(LineSeries::new(fires.clone(), blue.stroke_width(30)))?;
    axes.draw_series(LineSeries::new(lapses.clone(), orange.stroke_width(12)))?;
    axes.draw_series(fires.map(|at| Circle::new(at, 36, blue.filled())))?;
    axes.draw_series(lapses.map(|at| Circle::new(at, 66, orange.stroke_width(14))))?;
    Ok(())
}
