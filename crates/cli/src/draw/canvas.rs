//! A backend for `plotters` that writes SVG. Its coordinates are tenths of a pixel, so that curves
//! are smooth, and its texts are outlines of the embedded font, so that they need none.

use super::glyphs::{self, Weight};
use crate::escape::shown;
use plotters_backend::text_anchor::{HPos, VPos};
use plotters_backend::{
    BackendColor, BackendCoord, BackendStyle, BackendTextStyle, DrawingBackend, DrawingErrorKind,
    FontStyle, FontTransform,
};
use std::collections::BTreeSet;
use std::convert::Infallible;
use std::fmt::Write as _;

/// How many units a pixel has.
pub const UNITS: i32 = 10;

/// A picture that is being drawn.
pub struct Canvas<'a> {
    /// In pixels.
    size: (u32, u32),
    body: String,
    used: BTreeSet<(Weight, u16)>,
    title: String,
    out: &'a mut String,
}

impl<'a> Canvas<'a> {
    /// A white picture of so many pixels, written to `out` when it is done; `title` says what it
    /// shows to who cannot see it.
    pub fn new(size: (u32, u32), title: &str, out: &'a mut String) -> Self {
        let used = BTreeSet::new();
        Self { size, body: String::new(), used, title: shown(title).into_owned(), out }
    }

    fn write(&mut self, text: std::fmt::Arguments<'_>) -> Done {
        let _ = self.body.write_fmt(text);
        self.body.push('\n');
        Ok(())
    }
}

type Done = Result<(), DrawingErrorKind<Infallible>>;

/// A length in pixels, with one digit after the point at most.
struct Px(i32);

impl std::fmt::Display for Px {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        let (whole, part) = (self.0 / UNITS, (self.0 % UNITS).abs());
        let sign = if self.0 < 0 && whole == 0 { "-" } else { "" };
        match part {
            0 => write!(f, "{sign}{whole}"),
            part => write!(f, "{sign}{whole}.{part}"),
        }
    }
}

/// A colour as attributes: `fill="#123456" fill-opacity="0.5"`.
fn paint(what: &str, color: BackendColor) -> String {
    let (r, g, b) = color.rgb;
    let opacity = match color.alpha {
        alpha if alpha >= 1.0 => String::new(),
        alpha => format!(" {what}-opacity=\"{alpha:.2}\""),
    };
    format!("{what}=\"#{r:02x}{g:02x}{b:02x}\"{opacity}")
}

fn stroke(style: &impl BackendStyle) -> String {
    let width = Px(style.stroke_width() as i32);
    format!("{} stroke-width=\"{width}\"", paint("stroke", style.color()))
}

/// A line through points as path data: the first as it is, the others as steps, which is shorter.
fn points(all: impl IntoIterator<Item = BackendCoord>) -> String {
    let mut text = String::new();
    let mut last: Option<BackendCoord> = None;
    for (x, y) in all {
        let _ = match last {
            None => write!(text, "M{} {}", Px(x), Px(y)),
            Some((a, b)) if a == x => write!(text, "v{}", Px(y - b)),
            Some((a, b)) if b == y => write!(text, "h{}", Px(x - a)),
            Some((a, b)) if y < b => write!(text, "l{}{}", Px(x - a), Px(y - b)),
            Some((a, b)) => write!(text, "l{} {}", Px(x - a), Px(y - b)),
        };
        last = Some((x, y));
    }
    text
}

fn escaped(text: &str) -> String {
    text.replace('&', "&amp;").replace('<', "&lt;").replace('>', "&gt;").replace('"', "&quot;")
}

impl DrawingBackend for Canvas<'_> {
    type ErrorType = Infallible;

    fn get_size(&self) -> (u32, u32) {
        (self.size.0 * UNITS as u32, self.size.1 * UNITS as u32)
    }

    fn ensure_prepared(&mut self) -> Done {
        Ok(())
    }

    fn present(&mut self) -> Done {
        let (width, height) = self.size;
        let title = escaped(&self.title);
        self.out.clear();
        let _ = writeln!(
            self.out,
            "<svg xmlns=\"http://www.w3.org/2000/svg\" xmlns:xlink=\"http://www.w3.org/1999/xlink\" \
             width=\"{width}\" height=\"{height}\" viewBox=\"0 0 {width} {height}\" role=\"img\" \
             aria-label=\"{title}\">\n<title>{title}</title>\n<defs>"
        );
        for &(weight, glyph) in &self.used {
            let name = name(weight, glyph);
            let outline = glyphs::outline(glyph, weight);
            let _ = writeln!(self.out, "<path id=\"{name}\" d=\"{outline}\"/>");
        }
        let _ = writeln!(
            self.out,
            "</defs>\n<rect width=\"{width}\" height=\"{height}\" fill=\"#ffffff\"/>"
        );
        self.out.push_str(&self.body);
        self.out.push_str("</svg>\n");
        Ok(())
    }

    fn draw_pixel(&mut self, (x, y): BackendCoord, color: BackendColor) -> Done {
        let fill = paint("fill", color);
        self.write(format_args!(
            "<rect x=\"{}\" y=\"{}\" width=\"0.1\" height=\"0.1\" {fill}/>",
            Px(x),
            Px(y)
        ))
    }

    fn draw_line<S: BackendStyle>(
        &mut self,
        from: BackendCoord,
        to: BackendCoord,
        style: &S,
    ) -> Done {
        self.draw_path([from, to], style)
    }

    fn draw_rect<S: BackendStyle>(
        &mut self,
        (x0, y0): BackendCoord,
        (x1, y1): BackendCoord,
        style: &S,
        fill: bool,
    ) -> Done {
        if style.color().alpha == 0.0 {
            return Ok(());
        }
        let ink = match fill {
            true => paint("fill", style.color()),
            false => format!("fill=\"none\" {}", stroke(style)),
        };
        let (x, width) = (Px(x0.min(x1)), Px((x1 - x0).abs()));
        let (y, height) = (Px(y0.min(y1)), Px((y1 - y0).abs()));
        self.write(format_args!(
            "<rect x=\"{x}\" y=\"{y}\" width=\"{width}\" height=\"{height}\" {ink}/>"
        ))
    }

    fn draw_path<S: BackendStyle, I: IntoIterator<Item = BackendCoord>>(
        &mut self,
        path: I,
        style: &S,
    ) -> Done {
        if style.color().alpha == 0.0 {
            return Ok(());
        }
        let data = points(path);
        self.write(format_args!(
            "<path d=\"{data}\" fill=\"none\" stroke-linejoin=\"round\" {}/>",
            stroke(style)
        ))
    }

    fn draw_circle<S: BackendStyle>(
        &mut self,
        (x, y): BackendCoord,
        radius: u32,
        style: &S,
        fill: bool,
    ) -> Done {
        let ink = match fill {
            true => paint("fill", style.color()),
            false => format!("fill=\"none\" {}", stroke(style)),
        };
        let (x, y, radius) = (Px(x), Px(y), Px(radius as i32));
        self.write(format_args!("<circle cx=\"{x}\" cy=\"{y}\" r=\"{radius}\" {ink}/>"))
    }

    fn fill_polygon<S: BackendStyle, I: IntoIterator<Item = BackendCoord>>(
        &mut self,
        corners: I,
        style: &S,
    ) -> Done {
        let data = points(corners);
        let fill = paint("fill", style.color());
        self.write(format_args!("<path d=\"{data}Z\" {fill}/>"))
    }

    fn draw_text<S: BackendTextStyle>(
        &mut self,
        text: &str,
        style: &S,
        (x, y): BackendCoord,
    ) -> Done {
        let text = &*shown(text);
        let weight = weight(style);
        let size = style.size() / f64::from(UNITS);
        let (glyphs, width) = glyphs::laid_out(text, weight);
        let left = match style.anchor().h_pos {
            HPos::Left => 0.0,
            HPos::Center => -width / 2.0,
            HPos::Right => -width,
        };
        // The baseline: capitals of this font reach up to 0.73 of its size.
        let down: f64 = match style.anchor().v_pos {
            VPos::Top => 0.86,
            VPos::Center => 0.36,
            VPos::Bottom => -0.14,
        };
        let turn = match style.transform() {
            FontTransform::None => "",
            FontTransform::Rotate90 => " rotate(90)",
            FontTransform::Rotate180 => " rotate(180)",
            FontTransform::Rotate270 => " rotate(-90)",
        };
        let scale = size / 1000.0;
        let mut uses = String::new();
        for (glyph, at) in glyphs {
            self.used.insert((weight, glyph));
            let (name, at) = (name(weight, glyph), ((left + at) * 1000.0).round() as i32);
            let _ = write!(uses, "<use xlink:href=\"#{name}\" x=\"{at}\"/>");
        }
        let (fill, label) = (paint("fill", style.color()), escaped(text));
        self.write(format_args!(
            "<g {fill} aria-label=\"{label}\" transform=\"translate({} {}){turn} scale({scale:.4}) \
             translate(0 {})\">{uses}</g>",
            Px(x),
            Px(y),
            (down * 1000.0).round() as i32
        ))
    }

    fn estimate_text_size<S: BackendTextStyle>(
        &self,
        text: &str,
        style: &S,
    ) -> Result<(u32, u32), DrawingErrorKind<Infallible>> {
        let width = glyphs::width(&shown(text), weight(style)) * style.size();
        let (width, height) = (width.ceil() as u32, style.size().ceil() as u32);
        Ok(match style.transform() {
            FontTransform::None | FontTransform::Rotate180 => (width, height),
            FontTransform::Rotate90 | FontTransform::Rotate270 => (height, width),
        })
    }
}

fn weight(style: &impl BackendTextStyle) -> Weight {
    match style.style() {
        FontStyle::Bold => Weight::Bold,
        _ => Weight::Regular,
    }
}

fn name(weight: Weight, glyph: u16) -> String {
    let letter = if weight == Weight::Bold { 'b' } else { 'r' };
    format!("{letter}{glyph}")
}

#[cfg(test)]
mod tests {
    use super::*;
    use plotters::prelude::*;
    use resvg::usvg::{Options, Tree};

    fn drawn(draw: impl Fn(&DrawingArea<Canvas<'_>, plotters::coord::Shift>)) -> String {
        let mut out = String::new();
        let area = Canvas::new((200, 100), "A <picture> & more", &mut out).into_drawing_area();
        draw(&area);
        area.present().unwrap();
        drop(area);
        out
    }

    #[test]
    fn every_shape_is_svg_that_reads_back() {
        let svg = drawn(|area| {
            let style = Color::stroke_width(&BLACK, 15);
            area.draw(&Rectangle::new([(0, 0), (100, 50)], RED.filled())).unwrap();
            area.draw(&Rectangle::new([(100, 50), (0, 0)], style)).unwrap();
            area.draw(&Circle::new((500, 500), 40, BLUE.mix(0.5).filled())).unwrap();
            area.draw(&PathElement::new([(10, 10), (5, 17), (20, 17), (20, 30)], style)).unwrap();
            area.draw(&Polygon::new([(0, 0), (50, 0), (50, 50)], GREEN)).unwrap();
            let text = TextStyle::from(("sans-serif", 120).into_font());
            area.draw(&Text::new("Quay & <quay>", (30, 600), text)).unwrap();
        });
        let tree = Tree::from_str(&svg, &Options::default()).expect("SVG");
        assert_eq!((tree.size().width(), tree.size().height()), (200.0, 100.0));
        assert!(svg.contains("<title>A &lt;picture&gt; &amp; more</title>"));
        assert!(svg.contains("aria-label=\"Quay &amp; &lt;quay&gt;\""));
        assert!(svg.contains("fill-opacity=\"0.50\""));
        // The first point as it is, then steps.
        assert!(svg.contains("d=\"M1 1l-0.5 0.7h1.5v1.3\""), "{svg}");
        // A letter that comes twice is outlined once.
        assert_eq!(svg.matches("<path id=").count(), "Quay& <q>".len());
    }

    #[test]
    fn whatever_a_text_says_it_is_well_formed() {
        let evil = "\u{0}\u{1b}[2J\u{b}\u{202e}\u{fffe}\u{ffff}\u{fdd0}]]>--&\"'<![CDATA[\n";
        let mut out = String::new();
        let area = Canvas::new((200, 100), evil, &mut out).into_drawing_area();
        let text = TextStyle::from(("sans-serif", 120).into_font());
        area.draw(&Text::new(evil, (30, 600), text)).unwrap();
        area.present().unwrap();
        drop(area);
        Tree::from_str(&out, &Options::default()).expect("SVG");
        // Characters of XML 1.0, and none that turns text around.
        let is_plain = |c: char| matches!(c, ' '..='~' | '\n' | '…');
        assert_eq!(out.chars().find(|&c| !is_plain(c)), None, "{out}");
        assert!(out.contains("\\u{1b}[2J\\u{b}\\u{202e}\\u{fffe}"), "{out}");
    }

    #[test]
    fn the_same_is_drawn_the_same() {
        let draw = || {
            drawn(|area| {
                let text = TextStyle::from(("sans-serif", 110).into_font());
                area.draw(&Text::new("0.5 s", (10, 10), text)).unwrap();
            })
        };
        assert_eq!(draw(), draw());
    }

    #[test]
    fn lengths_have_one_digit_after_the_point_at_most() {
        for (units, text) in [(0, "0"), (10, "1"), (-3, "-0.3"), (1234, "123.4"), (-120, "-12")] {
            assert_eq!(Px(units).to_string(), text);
        }
    }

    #[test]
    fn a_text_is_as_wide_as_its_letters() {
        let width = |text: &str| glyphs::width(text, Weight::Regular);
        assert!(width("mm") > width("ii") && width("") == 0.0);
        assert!((width("quay") + width("tug") - width("quaytug")).abs() < 1e-9);
        assert!(glyphs::width("tug", Weight::Bold) > width("tug"));
        // A sign that the font has not is drawn as a box, not left out.
        assert!(width("\u{10ffff}") > 0.0);
    }
}
