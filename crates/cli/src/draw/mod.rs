//! Pictures: SVG and PNG of what commands show, the same on every machine.
//!
//! Everything is drawn with `plotters` on [`Canvas`], a backend of ours that writes SVG with the
//! outlines of an embedded font; a PNG is that SVG, rasterised.

mod canvas;
pub mod chart;
pub mod counts;
mod glyphs;
pub mod page;
mod pen;
pub mod sheet;
mod symbol;
pub mod time;

pub use canvas::Canvas;

use crate::failure::Failure;
use resvg::tiny_skia::{Pixmap, Transform};
use resvg::usvg::{Options, Tree};
use std::path::Path;

/// What a picture is saved as.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Form {
    Svg,
    Png,
    Html,
    Markdown,
    Pdf,
}

impl Form {
    /// The form that a file name asks for.
    pub fn of(path: &Path, allowed: &[Self]) -> Result<Self, Failure> {
        let ending = path.extension().map(|ending| ending.to_string_lossy().to_lowercase());
        let all = [
            (Self::Svg, "svg"),
            (Self::Png, "png"),
            (Self::Html, "html"),
            (Self::Markdown, "md"),
            (Self::Pdf, "pdf"),
        ];
        let of = |form: &Self| all.iter().find(|(one, _)| one == form).map_or("", |(_, name)| name);
        let form = all.iter().find(|(_, name)| ending.as_deref() == Some(*name));
        match form.filter(|(form, _)| allowed.contains(form)) {
            Some((form, _)) => Ok(*form),
            None => {
                let names: Vec<_> = allowed.iter().map(|form| format!(".{}", of(form))).collect();
                let message = format!("{} says no form that can be drawn", path.display());
                Err(Failure::new(message, format!("end its name in {}", names.join(" or "))))
            }
        }
    }
}

/// A picture as the bytes of its file.
pub fn bytes(form: Form, svg: String) -> Result<Vec<u8>, Failure> {
    match form {
        Form::Png => png(&svg),
        Form::Pdf => pdf(&svg),
        Form::Svg | Form::Html | Form::Markdown => Ok(svg.into_bytes()),
    }
}

/// A picture as a page of PDF.
fn pdf(svg: &str) -> Result<Vec<u8>, Failure> {
    let fault = |what: String| {
        Failure::new(format!("the sheet cannot be drawn: {what}"), "save it as .svg")
    };
    let options = svg2pdf::usvg::Options::default();
    let tree = svg2pdf::usvg::Tree::from_str(svg, &options).map_err(|e| fault(e.to_string()))?;
    // 96 pixels an inch.
    let page = svg2pdf::PageOptions { dpi: 96.0 };
    let options = svg2pdf::ConversionOptions::default();
    svg2pdf::to_pdf(&tree, options, page).map_err(|e| fault(e.to_string()))
}

/// A picture, pixel by pixel.
fn png(svg: &str) -> Result<Vec<u8>, Failure> {
    let fault = |what: String| {
        Failure::new(format!("the picture cannot be drawn: {what}"), "save it as .svg")
    };
    let tree = Tree::from_str(svg, &Options::default()).map_err(|e| fault(e.to_string()))?;
    let size = tree.size().to_int_size();
    let mut pixels = Pixmap::new(size.width(), size.height())
        .ok_or_else(|| fault(format!("{} by {} pixels", size.width(), size.height())))?;
    resvg::render(&tree, Transform::default(), &mut pixels.as_mut());
    pixels.encode_png().map_err(|e| fault(e.to_string()))
}
