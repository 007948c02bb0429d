//! Draws in pixels, with the few shades that pictures have.

use super::canvas::{Canvas, UNITS};
use super::glyphs::{self, Weight};
use plotters::coord::Shift;
use plotters::prelude::*;
use plotters::style::text_anchor::{HPos, Pos, VPos};
use std::convert::Infallible;

/// The shades: all of them apart in brightness, the coloured ones also to eyes that see less
/// colour (blue and orange).
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Shade {
    /// Text and what fires.
    Ink,
    /// Second to that.
    Grey,
    /// Rules.
    Rule,
    /// Bands behind.
    Band,
    /// Live.
    Blue,
    /// Pending.
    Pale,
    /// What did not come to pass; the second of two things.
    Orange,
    /// The same, pending.
    PaleOrange,
    /// Nothing there.
    White,
}

impl Shade {
    /// Its colour.
    pub fn color(self) -> RGBColor {
        match self {
            Self::Ink => RGBColor(0x1b, 0x1f, 0x24),
            Self::Grey => RGBColor(0x6a, 0x72, 0x7c),
            Self::Rule => RGBColor(0xd9, 0xdd, 0xe2),
            Self::Band => RGBColor(0xf2, 0xf4, 0xf7),
            Self::Blue => RGBColor(0x1f, 0x5f, 0xa8),
            Self::Pale => RGBColor(0xb4, 0xd2, 0xf0),
            Self::Orange => RGBColor(0xb8, 0x54, 0x0a),
            Self::PaleOrange => RGBColor(0xf6, 0xd3, 0xb0),
            Self::White => RGBColor(0xff, 0xff, 0xff),
        }
    }
}

/// Where a text lies from its point.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Anchor {
    Left,
    Middle,
    Right,
}

/// A drawing area in pixels.
pub struct Pen<'a> {
    pub area: DrawingArea<Canvas<'a>, Shift>,
}

type Done = Result<(), DrawingAreaErrorKind<Infallible>>;

/// Pixels as the canvas counts.
pub fn units(pixels: f64) -> i32 {
    (pixels * f64::from(UNITS)).round().clamp(-1e8, 1e8) as i32
}

/// A font of so many pixels.
pub fn font(size: f64, weight: Weight, shade: Shade) -> TextStyle<'static> {
    let style = if weight == Weight::Bold { FontStyle::Bold } else { FontStyle::Normal };
    let font = FontDesc::new(FontFamily::SansSerif, size * f64::from(UNITS), style);
    let mut text = TextStyle::from(font);
    text.color = shade.color().to_backend_color();
    text
}

/// How wide a text is in pixels.
pub fn text_width(text: &str, size: f64, bold: bool) -> f64 {
    glyphs::width(text, if bold { Weight::Bold } else { Weight::Regular }) * size
}

/// `text` in so many lines at most, none wider than so many pixels; what is cut off ends in `…`.
pub fn in_lines(text: &str, size: f64, room: f64, most: usize) -> Vec<String> {
    let mut all: Vec<String> = Vec::new();
    for word in text.split_whitespace() {
        let is_last = all.len() == most;
        match all.last_mut() {
            Some(line) if is_last || text_width(&format!("{line} {word}"), size, false) <= room => {
                line.push(' ');
                line.push_str(word);
            }
            _ => all.push(word.to_owned()),
        }
    }
    all.iter().map(|line| fit(line, size, false, room)).collect()
}

/// `text` in at most so many pixels; what is cut off ends in `…`.
pub fn fit(text: &str, size: f64, bold: bool, room: f64) -> String {
    let weight = if bold { Weight::Bold } else { Weight::Regular };
    let (mut end, mut wide) = (0, 0.0);
    let most = room / size;
    let dots = glyphs::width("…", weight);
    for (at, letter) in text.char_indices() {
        if wide + dots <= most {
            end = at;
        }
        wide += glyphs::width(letter.encode_utf8(&mut [0; 4]), weight);
        if wide > most {
            return format!("{}…", &text[..end]);
        }
    }
    text.to_owned()
}

impl Pen<'_> {
    /// A filled rectangle.
    pub fn fill(&self, [x0, y0, x1, y1]: [f64; 4], shade: Shade) -> Done {
        let corners = [(units(x0), units(y0)), (units(x1), units(y1))];
        self.area.draw(&Rectangle::new(corners, shade.color().filled()))
    }

    /// The outline of a rectangle.
    pub fn frame(&self, [x0, y0, x1, y1]: [f64; 4], shade: Shade, width: f64) -> Done {
        let corners = [(units(x0), units(y0)), (units(x1), units(y1))];
        let style = shade.color().stroke_width(units(width) as u32);
        self.area.draw(&Rectangle::new(corners, style))
    }

    /// A line through points.
    pub fn line(
        &self,
        points: impl IntoIterator<Item = (f64, f64)>,
        shade: Shade,
        width: f64,
    ) -> Done {
        let points: Vec<_> = points.into_iter().map(|(x, y)| (units(x), units(y))).collect();
        let style = shade.color().stroke_width(units(width) as u32);
        self.area.draw(&PathElement::new(points, style))
    }

    /// A line in dashes: so long, so far apart.
    pub fn dashes(
        &self,
        (x0, y0): (f64, f64),
        (x1, y1): (f64, f64),
        (dash, gap): (f64, f64),
        shade: Shade,
    ) -> Done {
        let length = ((x1 - x0).powi(2) + (y1 - y0).powi(2)).sqrt();
        let at = |d: f64| {
            let share = if length == 0.0 { 0.0 } else { (d / length).min(1.0) };
            (x0 + (x1 - x0) * share, y0 + (y1 - y0) * share)
        };
        let mut from = 0.0;
        while from < length {
            self.line([at(from), at(from + dash)], shade, 1.0)?;
            from += dash + gap;
        }
        Ok(())
    }

    /// A filled shape.
    pub fn shape(&self, corners: &[(f64, f64)], shade: Shade) -> Done {
        let corners: Vec<_> = corners.iter().map(|(x, y)| (units(*x), units(*y))).collect();
        self.area.draw(&Polygon::new(corners, shade.color()))
    }

    /// A ring.
    pub fn ring(&self, (x, y): (f64, f64), radius: f64, shade: Shade) -> Done {
        let style = shade.color().stroke_width(units(1.3) as u32);
        let at = (units(x), units(y));
        self.area.draw(&Circle::new(at, units(radius), Shade::White.color().filled()))?;
        self.area.draw(&Circle::new(at, units(radius), style))
    }

    /// A filled circle.
    pub fn disc(&self, (x, y): (f64, f64), radius: f64, shade: Shade) -> Done {
        let at = (units(x), units(y));
        self.area.draw(&Circle::new(at, units(radius), shade.color().filled()))
    }

    /// A text, its middle at y.
    pub fn text(
        &self,
        text: &str,
        (x, y): (f64, f64),
        anchor: Anchor,
        size: f64,
        bold: bool,
        shade: Shade,
    ) -> Done {
        let h_pos = match anchor {
            Anchor::Left => HPos::Left,
            Anchor::Middle => HPos::Center,
            Anchor::Right => HPos::Right,
        };
        let weight = if bold { Weight::Bold } else { Weight::Regular };
        let style = font(size, weight, shade).pos(Pos::new(h_pos, VPos::Center));
        self.area.draw(&Text::new(text.to_owned(), (units(x), units(y)), style))
    }
}
