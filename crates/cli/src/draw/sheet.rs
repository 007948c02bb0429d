//! A sheet of controls, drawn: as a page, as a picture, as a text.

use super::Canvas;
use super::pen::{Anchor, Pen, Shade, fit, in_lines, text_width};
use super::symbol::{HEIGHT, Mark, Symbol, TEXT, Token, tokens};
use crate::escape::{one_line, shown};
use crate::failure::Failure;
use harmonym_lab::prompt::{Row, Sheet};
use minijinja::{Environment, Value, context};
use plotters::drawing::IntoDrawingArea;
use std::convert::Infallible;
use std::fmt::Write;

type Done = Result<(), plotters::drawing::DrawingAreaErrorKind<Infallible>>;

/// How wide a sheet is: A4 across, at 96 pixels an inch.
const WIDTH: f64 = 1122.0;
const MARGIN: f64 = 36.0;
/// The column of actions.
const ACTIONS: f64 = 210.0;
/// Between lines of a cell.
const GAP: f64 = 6.0;
/// The size of what a row is about, and how high a line of it is.
const ABOUT: f64 = 9.5;
const ABOUT_LINE: f64 = 12.0;

/// What stands beside symbols: the words without what the symbols say already.
fn beside<'a>(words: &'a str, what: &str) -> (&'a str, &'a str) {
    match words.split_once(what) {
        Some((before, after)) => (before.trim(), after.trim()),
        None => ("", words),
    }
}

/// One line of a cell: what stands before the symbols, the symbols, what stands behind.
struct Line {
    before: String,
    tokens: Vec<Token>,
    after: String,
}

fn lines(row: &Row, scheme: usize) -> Vec<Line> {
    let Some(cell) = row.cells.get(scheme) else { return Vec::new() };
    cell.iter()
        .map(|(prompt, words)| {
            let what = prompt.label.clone().unwrap_or_else(|| prompt.phrase.words());
            let (before, after) = beside(words, &what);
            let (before, after) = (before.to_owned(), after.to_owned());
            Line { before, tokens: tokens(&prompt.phrase), after }
        })
        .collect()
}

/// The sheet as SVG, light or dark.
pub fn svg(sheet: &Sheet, is_dark: bool) -> String {
    let columns = sheet.schemes.len().max(1);
    let column = (WIDTH - 2.0 * MARGIN - ACTIONS) / columns as f64;
    let height = heights(sheet, column);
    let mut out = String::new();
    let size = (WIDTH as u32, height.ceil() as u32);
    let area = Canvas::new(size, &sheet.title, &mut out).into_drawing_area();
    let pen = Pen { area };
    // Drawing into a text cannot fail.
    let _ = draw(&pen, sheet, column);
    let _ = pen.area.present();
    drop(pen);
    if is_dark { darkened(&out) } else { out }
}

/// The same picture in light ink on a dark ground.
fn darkened(svg: &str) -> String {
    [
        ("#1b1f24", "#e8ebef"),
        ("#6a727c", "#9aa3ad"),
        ("#d9dde2", "#3a424c"),
        ("#ffffff", "#14181d"),
        ("#f2f4f7", "#1d232a"),
    ]
    .iter()
    .fold(svg.to_owned(), |svg, (light, dark)| svg.replace(light, dark))
}

fn line_height(line: &Line, room: f64) -> f64 {
    let mut rows = 1;
    let mut x = 0.0;
    walk(line, room, |_, new_row, _| rows += usize::from(new_row), &mut x);
    rows as f64 * (HEIGHT + GAP)
}

/// What is put where: calls `put` with each piece, whether it begins a new row, and its width.
fn walk<'l>(line: &'l Line, room: f64, mut put: impl FnMut(Put<'l>, bool, f64), x: &mut f64) {
    let mut one = |what: Put<'l>, width: f64| {
        let is_new = *x > 0.0 && *x + width > room;
        if is_new {
            *x = 0.0;
        }
        put(what, is_new, *x);
        *x += width + 4.0;
    };
    let text = |text: &str| text_width(text, TEXT, false);
    if !line.before.is_empty() {
        one(Put::Word(&line.before), text(&line.before));
    }
    for token in &line.tokens {
        match token {
            Token::Symbol(symbol) => one(Put::Symbol(symbol), symbol.width),
            Token::Word(word) => one(Put::Word(word), text(word)),
        }
    }
    for word in line.after.split(' ').filter(|word| !word.is_empty()) {
        one(Put::Word(word), text(word));
    }
}

#[derive(Clone, Copy)]
enum Put<'l> {
    Symbol(&'l Symbol),
    Word(&'l str),
}

fn row_height(row: &Row, columns: usize, column: f64) -> f64 {
    let of = |scheme| -> f64 {
        lines(row, scheme).iter().map(|line| line_height(line, column - 16.0)).sum()
    };
    let most = (0..columns).map(of).fold(0.0, f64::max);
    most.max(22.0 + ABOUT_LINE * about(row).len() as f64) + 8.0
}

/// What a row is about, in two lines at most.
fn about(row: &Row) -> Vec<String> {
    let text = row.about.as_deref().unwrap_or_default();
    in_lines(text, ABOUT, ACTIONS - 16.0, 2)
}

fn heights(sheet: &Sheet, column: f64) -> f64 {
    let columns = sheet.schemes.len();
    let rows = sheet.situations.iter().flat_map(|one| &one.rows);
    let all: f64 = rows.map(|row| row_height(row, columns, column)).sum();
    MARGIN + 64.0 + all + sheet.situations.len() as f64 * 46.0 + MARGIN
}

fn draw(pen: &Pen<'_>, sheet: &Sheet, column: f64) -> Done {
    pen.text(
        &fit(&sheet.title, 22.0, true, 700.0),
        (MARGIN, MARGIN + 10.0),
        Anchor::Left,
        22.0,
        true,
        Shade::Ink,
    )?;
    let keys = format!("keys as on a keyboard of the layout {}", sheet.layout);
    pen.text(&keys, (WIDTH - MARGIN, MARGIN + 12.0), Anchor::Right, 11.0, false, Shade::Grey)?;
    let mut y = MARGIN + 46.0;
    for (place, scheme) in sheet.schemes.iter().enumerate() {
        let x = MARGIN + ACTIONS + column * place as f64;
        let name = fit(scheme, 11.0, true, column - 16.0);
        pen.text(&name, (x, y), Anchor::Left, 11.0, true, Shade::Grey)?;
    }
    y += 18.0;
    for situation in &sheet.situations {
        y += 16.0;
        pen.text(&situation.label, (MARGIN, y), Anchor::Left, 15.0, true, Shade::Ink)?;
        if let Some(about) = &situation.about {
            let x = MARGIN + text_width(&situation.label, 15.0, true) + 14.0;
            let about = fit(about, 11.0, false, WIDTH - MARGIN - x);
            pen.text(&about, (x, y + 1.5), Anchor::Left, 11.0, false, Shade::Grey)?;
        }
        y += 14.0;
        pen.line([(MARGIN, y), (WIDTH - MARGIN, y)], Shade::Grey, 1.0)?;
        for row in &situation.rows {
            let height = row_height(row, sheet.schemes.len(), column);
            let label = fit(&row.label, 12.5, true, ACTIONS - 16.0);
            pen.text(&label, (MARGIN, y + 16.0), Anchor::Left, 12.5, true, Shade::Ink)?;
            for (place, line) in about(row).iter().enumerate() {
                let at = (MARGIN, y + 30.0 + ABOUT_LINE * place as f64);
                pen.text(line, at, Anchor::Left, ABOUT, false, Shade::Grey)?;
            }
            for place in 0..sheet.schemes.len() {
                let x = MARGIN + ACTIONS + column * place as f64;
                draw_cell(pen, &lines(row, place), (x, y + 5.0), column - 16.0)?;
            }
            y += height;
            pen.line([(MARGIN, y), (WIDTH - MARGIN, y)], Shade::Rule, 0.7)?;
        }
        y += 16.0;
    }
    Ok(())
}

fn draw_cell(pen: &Pen<'_>, lines: &[Line], (left, top): (f64, f64), room: f64) -> Done {
    let mut y = top;
    let mut done = Ok(());
    for line in lines {
        let mut x = 0.0;
        let put = |what: Put<'_>, is_new: bool, x: f64| {
            if is_new {
                y += HEIGHT + GAP;
            }
            let drawn = match what {
                Put::Symbol(symbol) => draw_symbol(pen, symbol, (left + x, y)),
                Put::Word(word) => {
                    let at = (left + x, y + HEIGHT / 2.0);
                    pen.text(word, at, Anchor::Left, TEXT, false, Shade::Grey)
                }
            };
            if done.is_ok() {
                done = drawn;
            }
        };
        walk(line, room, put, &mut x);
        y += HEIGHT + GAP;
    }
    done
}

fn draw_symbol(pen: &Pen<'_>, symbol: &Symbol, (dx, dy): (f64, f64)) -> Done {
    for mark in &symbol.marks {
        match mark {
            Mark::Rect([x0, y0, x1, y1], filled) => {
                let corners = [x0 + dx, y0 + dy, x1 + dx, y1 + dy];
                match filled {
                    true => pen.fill(corners, Shade::Ink)?,
                    false => pen.frame(corners, Shade::Ink, 1.2)?,
                }
            }
            Mark::Circle((x, y), radius, filled) => match filled {
                true => pen.disc((x + dx, y + dy), *radius, Shade::Ink)?,
                false => pen.ring((x + dx, y + dy), *radius, Shade::Ink)?,
            },
            Mark::Shape(corners) => {
                let corners: Vec<_> = corners.iter().map(|(x, y)| (x + dx, y + dy)).collect();
                pen.shape(&corners, Shade::Ink)?;
            }
            Mark::Text((x, y), size, text) => {
                pen.text(text, (x + dx, y + dy), Anchor::Middle, *size, false, Shade::Ink)?;
            }
        }
    }
    Ok(())
}

/// A symbol as SVG in a page; texts are the page's own.
fn inline(symbol: &Symbol) -> String {
    let mut out = format!(
        "<svg class=\"s\" width=\"{w}\" height=\"{HEIGHT}\" viewBox=\"0 0 {w} {HEIGHT}\" role=\"img\" aria-label=\"{words}\"><title>{words}</title>",
        w = symbol.width.ceil(),
        words = escaped(&symbol.words)
    );
    for mark in &symbol.marks {
        // Writing to memory does not fail.
        let _ = match mark {
            Mark::Rect([x0, y0, x1, y1], filled) => write!(
                out,
                "<rect class=\"{}\" x=\"{x0}\" y=\"{y0}\" width=\"{:.2}\" height=\"{:.2}\" rx=\"{}\"/>",
                class(*filled),
                x1 - x0,
                y1 - y0,
                if *filled { 0 } else { 2 }
            ),
            Mark::Circle((x, y), r, filled) => {
                write!(
                    out,
                    "<circle class=\"{}\" cx=\"{x}\" cy=\"{y}\" r=\"{r}\"/>",
                    class(*filled)
                )
            }
            Mark::Shape(corners) => {
                let points: Vec<String> = corners.iter().map(|(x, y)| format!("{x},{y}")).collect();
                write!(out, "<polygon class=\"f\" points=\"{}\"/>", points.join(" "))
            }
            Mark::Text((x, y), size, text) => write!(
                out,
                "<text x=\"{x:.2}\" y=\"{y:.2}\" font-size=\"{size}\">{}</text>",
                escaped(text)
            ),
        };
    }
    out + "</svg>"
}

fn class(filled: bool) -> &'static str {
    if filled { "f" } else { "o" }
}

fn escaped(text: &str) -> String {
    let text = shown(text);
    text.replace('&', "&amp;").replace('<', "&lt;").replace('>', "&gt;").replace('"', "&quot;")
}

/// The sheet as a page that prints, light or dark as its reader likes.
pub fn html(sheet: &Sheet) -> Result<String, Failure> {
    let fault = |error: minijinja::Error| {
        Failure::new(format!("the page cannot be written: {error}"), "write .svg instead")
    };
    let own = |text: &str| shown(text).into_owned();
    let cell = |row: &Row, place: usize| -> String {
        let line = |line: &Line| {
            let tokens: Vec<String> = line
                .tokens
                .iter()
                .map(|token| match token {
                    Token::Symbol(symbol) => inline(symbol),
                    Token::Word(word) => format!("<i>{}</i>", escaped(word)),
                })
                .collect();
            let word = |text: &str| match text {
                "" => String::new(),
                text => format!("<i>{}</i>", escaped(text)),
            };
            format!("<div>{}{}{}</div>", word(&line.before), tokens.concat(), word(&line.after))
        };
        lines(row, place).iter().map(line).collect()
    };
    let page_row = |row: &Row| {
        let cells: Vec<String> = (0..sheet.schemes.len()).map(|place| cell(row, place)).collect();
        let about = own(row.about.as_deref().unwrap_or_default());
        context! { label => own(&row.label), about => about, cells => cells }
    };
    let situations = sheet.situations.iter().map(|one| {
        let rows: Vec<Value> = one.rows.iter().map(page_row).collect();
        let about = own(one.about.as_deref().unwrap_or_default());
        context! { label => own(&one.label), about => about, rows => rows }
    });
    let situations: Vec<Value> = situations.collect();
    let mut pages = Environment::new();
    pages.add_template("sheet.html", include_str!("sheet.html")).map_err(fault)?;
    let styles = include_str!("sheet.css");
    let policy = Value::from_safe_string(super::page::policy("", styles));
    let styles = Value::from_safe_string(styles.to_owned());
    let schemes: Vec<String> = sheet.schemes.iter().map(|one| own(one)).collect();
    let (title, layout) = (own(&sheet.title), sheet.layout);
    let page = pages.get_template("sheet.html").map_err(fault)?;
    page.render(context! { title, layout, schemes, situations, styles, policy }).map_err(fault)
}

/// The sheet as Markdown (CommonMark with tables).
pub fn markdown(sheet: &Sheet) -> String {
    let plain = |text: &str| {
        shown(&one_line(text)).replace('|', "\\|").replace('<', "&lt;").replace('*', "\\*")
    };
    let mut out = format!(
        "# {}\n\nKeys as on a keyboard of the layout {}.\n",
        plain(&sheet.title),
        sheet.layout
    );
    for situation in &sheet.situations {
        out.push_str(&format!("\n## {}\n\n", plain(&situation.label)));
        if let Some(about) = &situation.about {
            out.push_str(&format!("{}\n\n", plain(about)));
        }
        let heads: Vec<String> = sheet.schemes.iter().map(|one| plain(one)).collect();
        out.push_str(&format!(
            "| | {} |\n|---|{}\n",
            heads.join(" | "),
            "---|".repeat(heads.len())
        ));
        for row in &situation.rows {
            let cells: Vec<String> = row
                .cells
                .iter()
                .map(|cell| {
                    let all: Vec<String> = cell.iter().map(|(_, words)| plain(words)).collect();
                    all.join("; ")
                })
                .collect();
            out.push_str(&format!("| {} | {} |\n", plain(&row.label), cells.join(" | ")));
        }
    }
    out
}
