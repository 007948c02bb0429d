//! Runs drawn in time: controls above, then a lane an action, with its episodes as bars, its events
//! as marks and its values as curves. What can't be seen apart is merged; peaks stay.

mod curve;
mod lane;
mod row;
mod ruler;
#[cfg(test)]
mod tests;

use super::Canvas;
use super::pen::{Anchor, Pen, Shade, fit, text_width};
use crate::view::of_seat;
use harmonym_lab::trace::{Lane, Lanes};
use harmonym_runtime::base::{Id, Seat, Time};
use harmonym_runtime::plan::Plan;
use plotters::drawing::IntoDrawingArea;
use row::{Row, rows};
use ruler::Ruler;
use std::convert::Infallible;

/// How wide a picture is.
const WIDTH: f64 = 1280.0;
/// How high it is at least.
const HEIGHT: f64 = 800.0;
/// The white around everything.
const MARGIN: f64 = 18.0;
/// Where the lanes begin, below title and legend.
const TOP: f64 = 74.0;
/// The column for the ends of scales, left of the lanes.
const SCALE: f64 = 40.0;
/// The column of names, at least and at most.
const NAMES: (f64, f64) = (90.0, 330.0);

/// More changes of scheme than this are only counted.
const MOST_SCHEMES: usize = 40;

type Done = Result<(), plotters::drawing::DrawingAreaErrorKind<Infallible>>;

/// One run.
#[derive(Clone, Copy)]
pub struct Shown<'a> {
    pub lanes: &'a Lanes,
    pub plan: &'a Plan,
}

impl<'a> Shown<'a> {
    /// The lane of a seat's action called `name`.
    fn lane(self, seat: Seat, name: &str) -> Option<&'a Lane> {
        let mut own = self.lanes.lanes.iter().filter(|lane| lane.seat == seat);
        own.find(|lane| self.plan.names().actions[lane.action] == name)
    }

    /// The seat that stands beside what is its, where more than one plays.
    pub fn named(self, seat: Seat) -> Option<Seat> {
        Some(seat).filter(|_| self.lanes.seats > 1)
    }
}

/// What is drawn.
pub struct Picture<'a> {
    pub title: &'a str,
    /// One run, or two over each other.
    pub runs: &'a [Shown<'a>],
    /// What the two are called.
    pub names: [&'a str; 2],
    pub from: Time,
    pub to: Time,
    /// For each action, by its id, whether it is asked for by name; nothing asks for those with
    /// something to show.
    pub only: Option<&'a [bool]>,
    /// The one seat that is asked for.
    pub seat: Option<Seat>,
}

/// What goes from left to right, and where rows are.
struct Stage<'p, 'a> {
    pen: &'p Pen<'a>,
    ruler: Ruler,
    /// Where the lanes begin and end.
    left: f64,
    right: f64,
}

impl Picture<'_> {
    /// The picture as SVG.
    pub fn svg(&self) -> String {
        let rows = rows(self);
        let labels = rows.iter().map(Row::label_width).fold(NAMES.0, f64::max).min(NAMES.1);
        let left = MARGIN + labels + 9.0 + SCALE;
        let right = WIDTH - MARGIN;
        let ruler = Ruler::new(self.from, self.to, left, right);
        let heights = row::heights(&rows, HEIGHT - TOP - 40.0);
        let height = (TOP + heights.iter().sum::<f64>() + 40.0).max(240.0);
        let mut out = String::new();
        let size = (WIDTH as u32, height.ceil() as u32);
        let area = Canvas::new(size, self.title, &mut out).into_drawing_area();
        let pen = Pen { area };
        let stage = Stage { pen: &pen, ruler, left, right };
        // Drawing into a text cannot fail.
        let _ = self.draw(&stage, &rows, &heights, height);
        let _ = pen.area.present();
        drop(pen);
        out
    }

    fn draw(&self, stage: &Stage<'_, '_>, rows: &[Row<'_>], heights: &[f64], height: f64) -> Done {
        let bottom = height - 34.0;
        self.heading(stage)?;
        self.pauses(stage, bottom)?;
        stage.ruler.draw(stage.pen, TOP, bottom)?;
        self.schemes(stage)?;
        let mut y = TOP;
        for (row, row_height) in rows.iter().zip(heights) {
            let middle = y + row_height / 2.0;
            row.draw(self, stage, (y, y + row_height))?;
            row.label(stage.pen, stage.left - SCALE - 8.0, middle)?;
            y += row_height;
            stage.pen.line([(MARGIN, y), (stage.right, y)], Shade::Rule, 0.7)?;
        }
        Ok(())
    }

    /// The title, and what the marks mean.
    fn heading(&self, stage: &Stage<'_, '_>) -> Done {
        let pen = stage.pen;
        let title = fit(self.title, 17.0, true, 560.0);
        pen.text(&title, (MARGIN, 26.0), Anchor::Left, 17.0, true, Shade::Ink)?;
        let mut x = stage.right;
        let y = 26.0;
        let mut entry = |word: &str, width: f64, draw: &dyn Fn(f64) -> Done| {
            x -= text_width(word, 11.0, false);
            pen.text(word, (x, y), Anchor::Left, 11.0, false, Shade::Grey)?;
            x -= width + 5.0;
            draw(x)?;
            x -= 16.0;
            Ok(())
        };
        let lapse = if self.runs.len() == 2 { Shade::Ink } else { Shade::Orange };
        entry("lapse", 9.0, &|x| lane::cross(pen, (x + 4.5, y), lapse))?;
        entry("rest", 9.0, &|x| pen.ring((x + 4.5, y), 3.5, Shade::Ink))?;
        entry("fire", 9.0, &|x| lane::diamond(pen, (x + 4.5, y), Shade::Ink))?;
        if self.runs.len() == 2 {
            let [first, second] = self.names;
            let bar =
                |x: f64, ink: lane::Ink| pen.fill([x, y - 5.0, x + 20.0, y + 5.0], ink.live());
            entry("in both", 20.0, &|x| bar(x, lane::Ink::Both))?;
            entry(second, 20.0, &|x| bar(x, lane::Ink::Second))?;
            return entry(first, 20.0, &|x| bar(x, lane::Ink::First));
        }
        entry("live", 20.0, &|x| pen.fill([x, y - 5.0, x + 20.0, y + 5.0], Shade::Blue))?;
        entry("pending", 20.0, &|x| {
            let bar = [x, y - 5.0, x + 20.0, y + 5.0];
            pen.fill(bar, Shade::Pale)?;
            pen.frame(bar, Shade::Blue, 0.8)
        })?;
        entry("pressed", 20.0, &|x| pen.fill([x, y - 2.0, x + 20.0, y + 2.0], Shade::Grey))
    }

    fn pauses(&self, stage: &Stage<'_, '_>, bottom: f64) -> Done {
        let Some(run) = self.runs.first() else { return Ok(()) };
        for (from, to) in &run.lanes.around.pauses {
            let Some((x0, x1)) = stage.ruler.span(*from, *to) else { continue };
            stage.pen.fill([x0, TOP, x1, bottom], Shade::Band)?;
            if x1 - x0 > 46.0 {
                let at = ((x0 + x1) / 2.0, bottom - 8.0);
                stage.pen.text("paused", at, Anchor::Middle, 10.0, false, Shade::Grey)?;
            }
        }
        Ok(())
    }

    /// Which scheme is in use, over the ruler.
    fn schemes(&self, stage: &Stage<'_, '_>) -> Done {
        let Some(run) = self.runs.first() else { return Ok(()) };
        let changes = &run.lanes.around.schemes;
        let seen = changes.iter().filter(|(t, ..)| stage.ruler.x_within(*t).is_some()).count();
        if seen > MOST_SCHEMES {
            let text = format!("the scheme in use changes {seen} times");
            let at = (stage.left, TOP - 26.0);
            return stage.pen.text(&text, at, Anchor::Left, 10.0, false, Shade::Grey);
        }
        let mut free = stage.left;
        for (t, seat, scheme) in changes {
            let Some(x) = stage.ruler.x_within(*t) else { continue };
            let name = of_seat(run.named(*seat), &run.plan.names().schemes[*scheme]);
            let name = format!("▸ {name}");
            let width = text_width(&name, 10.0, false);
            // Without room for its name a change still shows.
            let (name, width) = match x >= free && x + width < stage.right {
                true => (name, width),
                false if x >= free - 4.0 => ("▸".to_owned(), 8.0),
                false => continue,
            };
            stage.pen.text(&name, (x, TOP - 26.0), Anchor::Left, 10.0, false, Shade::Grey)?;
            free = x + width + 6.0;
        }
        Ok(())
    }

    /// Whether a seat is shown.
    pub fn shows_seat(&self, seat: Seat) -> bool {
        self.seat.is_none_or(|one| one == seat)
    }

    /// Whether an action of the first run is shown.
    pub fn shows(&self, lane: &Lane, has_something: bool) -> bool {
        let action = lane.action;
        if !self.shows_seat(lane.seat) {
            return false;
        }
        match self.only {
            Some(only) => only.get(action.index()).copied().unwrap_or_default(),
            None => has_something,
        }
    }
}

/// A number as it stands at the end of a scale.
fn scale_text(value: f64) -> String {
    let rounded = format!("{value:.2}");
    let text = rounded.trim_end_matches('0').trim_end_matches('.');
    match text {
        "" | "-0" => "0".to_owned(),
        text => text.replace('-', "−"),
    }
}

/// The ends of a scale, left of its row.
fn scale_ends(stage: &Stage<'_, '_>, scale: curve::Scale) -> Done {
    let ends = [(scale.most, scale.top + 3.0), (scale.least, scale.bottom - 3.0)];
    for (value, y) in ends {
        let at = (stage.left - 5.0, y);
        stage.pen.text(&scale_text(value), at, Anchor::Right, 9.0, false, Shade::Grey)?;
    }
    if scale.least < 0.0 && scale.most > 0.0 {
        let y = scale.y(0.0);
        stage.pen.line([(stage.left, y), (stage.right, y)], Shade::Rule, 0.6)?;
    }
    Ok(())
}
