//! The embedded font: how wide texts are, and the outlines of their glyphs.

use std::fmt::Write as _;
use std::sync::LazyLock;
use ttf_parser::{Face, GlyphId, OutlineBuilder};

static REGULAR: LazyLock<Option<Face<'static>>> =
    LazyLock::new(|| Face::parse(dejavu::sans::regular(), 0).ok());
static BOLD: LazyLock<Option<Face<'static>>> =
    LazyLock::new(|| Face::parse(dejavu::sans::bold(), 0).ok());

/// The two weights.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Weight {
    Regular,
    Bold,
}

fn face(weight: Weight) -> Option<&'static Face<'static>> {
    match weight {
        Weight::Regular => REGULAR.as_ref(),
        Weight::Bold => BOLD.as_ref(),
    }
}

/// The glyphs of a text and where each begins, in shares of the font's size; and how wide it all is.
pub fn laid_out(text: &str, weight: Weight) -> (Vec<(u16, f64)>, f64) {
    let Some(face) = face(weight) else { return (Vec::new(), 0.0) };
    let unit = f64::from(face.units_per_em());
    let mut at = 0.0;
    let mut glyphs = Vec::new();
    for c in text.chars() {
        let id = face.glyph_index(c).unwrap_or(GlyphId(0));
        glyphs.push((id.0, at));
        at += f64::from(face.glyph_hor_advance(id).unwrap_or_default()) / unit;
    }
    (glyphs, at)
}

/// How wide a text is, in shares of the font's size.
pub fn width(text: &str, weight: Weight) -> f64 {
    laid_out(text, weight).1
}

/// A glyph's outline as SVG path data, in thousandths of the font's size, y down.
pub fn outline(glyph: u16, weight: Weight) -> String {
    let Some(face) = face(weight) else { return String::new() };
    let scale = 1000.0 / f32::from(face.units_per_em());
    let mut path = Path { data: String::new(), scale };
    face.outline_glyph(GlyphId(glyph), &mut path);
    path.data
}

struct Path {
    data: String,
    scale: f32,
}

impl Path {
    fn add(&mut self, command: char, points: &[(f32, f32)]) {
        self.data.push(command);
        for (i, (x, y)) in points.iter().enumerate() {
            let gap = if i == 0 { "" } else { " " };
            let (x, y) = ((x * self.scale).round(), (-y * self.scale).round());
            let _ = write!(self.data, "{gap}{} {}", x as i32, y as i32);
        }
    }
}

impl OutlineBuilder for Path {
    fn move_to(&mut self, x: f32, y: f32) {
        self.add('M', &[(x, y)]);
    }

    fn line_to(&mut self, x: f32, y: f32) {
        self.add('L', &[(x, y)]);
    }

    fn quad_to(&mut self, x1: f32, y1: f32, x: f32, y: f32) {
        self.add('Q', &[(x1, y1), (x, y)]);
    }

    fn curve_to(&mut self, x1: f32, y1: f32, x2: f32, y2: f32, x: f32, y: f32) {
        self.add('C', &[(x1, y1), (x2, y2), (x, y)]);
    }

    fn close(&mut self) {
        self.data.push('Z');
    }
}
