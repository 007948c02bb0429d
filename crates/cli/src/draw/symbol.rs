//! Controls as symbols: keys as outlines with what they are called, everything else as places. One list of
//! marks for each, so that pages and pictures draw the same.

use super::glyphs::{Weight, width};
use harmonym_lab::prompt::{Phrase, Piece};
use harmonym_runtime::base::Class;

/// How high every symbol is.
pub const HEIGHT: f64 = 22.0;
/// How large what is written in one is.
pub const TEXT: f64 = 11.0;

/// What a symbol is made of; a shape is filled or an outline.
pub enum Mark {
    /// Left, top, right, bottom.
    Rect([f64; 4], bool),
    /// Middle and radius.
    Circle((f64, f64), f64, bool),
    /// Corners.
    Shape(Vec<(f64, f64)>),
    /// A text around its middle.
    Text((f64, f64), f64, String),
}

/// A control's symbol.
pub struct Symbol {
    pub width: f64,
    pub marks: Vec<Mark>,
    /// The same in words.
    pub words: String,
}

/// What a phrase is shown as, from left to right.
pub enum Token {
    Symbol(Symbol),
    Word(&'static str),
}

/// A phrase from left to right.
pub fn tokens(phrase: &Phrase) -> Vec<Token> {
    let joined = |parts: &[Phrase], word: &'static str| {
        let mut all = Vec::new();
        for part in parts.iter().filter(|part| !part.pieces().is_empty()) {
            if !all.is_empty() && !word.is_empty() {
                all.push(Token::Word(word));
            }
            all.extend(tokens(part));
        }
        all
    };
    match phrase {
        Phrase::One(piece) => vec![Token::Symbol(symbol(piece))],
        Phrase::Any(parts) => joined(parts, "or"),
        Phrase::Together(parts) => joined(parts, "+"),
        Phrase::Join(parts) => joined(parts, "with"),
        Phrase::Pair(parts) => joined(&parts[..], "/"),
        Phrase::Four(parts) => joined(&parts[..], ""),
        Phrase::Nothing => Vec::new(),
    }
}

/// The symbol of a control.
pub fn symbol(piece: &Piece) -> Symbol {
    let rest = piece.control.split_once('.').map_or("", |(_, rest)| rest);
    let drawn = match piece.class {
        Class::Pad => pad(rest),
        Class::Mouse => mouse(rest),
        _ => None,
    };
    let words = piece.words();
    let marks = match drawn {
        Some(marks) => marks,
        None => {
            let arrow = ["up ↑", "left ←", "down ↓", "right →"].into_iter().find_map(|one| {
                let (way, arrow) = one.split_once(' ')?;
                rest.strip_prefix("Arrow")?.eq_ignore_ascii_case(way).then_some(arrow)
            });
            let name = arrow.map_or_else(|| piece.name(), str::to_owned);
            return named(&name, piece.class == Class::Key, words);
        }
    };
    Symbol { width: HEIGHT, marks, words }
}

/// An outline with a name in it; of a key at least a square.
fn named(name: &str, is_key: bool, words: String) -> Symbol {
    let text = width(name, Weight::Regular) * TEXT;
    let width = if is_key { (text + 10.0).max(HEIGHT) } else { text + 12.0 };
    let mut marks = vec![Mark::Rect([1.0, 1.0, width - 1.0, HEIGHT - 1.0], false)];
    if is_key {
        // The lower edge of a key's cap.
        marks.push(Mark::Rect([3.0, HEIGHT - 3.6, width - 3.0, HEIGHT - 3.0], true));
    }
    let middle = if is_key { HEIGHT / 2.0 - 0.8 } else { HEIGHT / 2.0 };
    marks.push(Mark::Text((width / 2.0, middle), TEXT, name.to_owned()));
    Symbol { width, marks, words }
}

const MIDDLE: (f64, f64) = (11.0, 11.0);

fn at(way: &str, far: f64) -> Option<(f64, f64)> {
    let (x, y) = MIDDLE;
    Some(match way {
        "up" | "north" => (x, y - far),
        "down" | "south" => (x, y + far),
        "left" | "west" => (x - far, y),
        "right" | "east" => (x + far, y),
        _ => return None,
    })
}

/// A triangle that points away from the middle.
fn arrow(way: &str) -> Option<Mark> {
    let ((x, y), (left, right)) = (at(way, 10.0)?, (at(way, 6.6)?, 2.6));
    let (dx, dy) = if x == MIDDLE.0 { (right, 0.0) } else { (0.0, right) };
    Some(Mark::Shape(vec![(x, y), (left.0 - dx, left.1 - dy), (left.0 + dx, left.1 + dy)]))
}

fn pad(rest: &str) -> Option<Vec<Mark>> {
    if at(rest, 0.0).is_some() && !rest.contains('.') {
        let one = |way: &str| Mark::Circle(at(way, 6.6).unwrap_or(MIDDLE), 3.0, way == rest);
        return Some(["north", "west", "south", "east"].map(one).into());
    }
    let edges = ["left-shoulder", "right-shoulder", "left-trigger", "right-trigger"];
    if edges.contains(&rest) {
        // Each edge of the pad with its upper and its lower control.
        let one = |name: &str| {
            let left = if name.starts_with("left") { 1.5 } else { 12.0 };
            let top = if name.ends_with("shoulder") { 4.5 } else { 11.5 };
            Mark::Rect([left, top, left + 8.5, top + 5.0], name == rest)
        };
        return Some(edges.map(one).into());
    }
    let middle = ["select", "mode", "start"];
    if middle.contains(&rest) {
        let one = |(place, name): (usize, &str)| {
            Mark::Circle((4.5 + 6.5 * place as f64, 11.0), 2.4, name == rest)
        };
        return Some(middle.into_iter().enumerate().map(one).collect());
    }
    let (thing, way) = rest.split_once('.').unwrap_or((rest, ""));
    if thing == "dpad" {
        let arm = |name: &str| {
            let (x, y) = at(name, 6.6).unwrap_or(MIDDLE);
            Mark::Rect([x - 3.0, y - 3.0, x + 3.0, y + 3.0], way == name || way.is_empty())
        };
        return Some(["up", "left", "down", "right"].map(arm).into());
    }
    let side = match thing {
        "left-stick" => "L",
        "right-stick" => "R",
        _ => return None,
    };
    let mut marks = vec![Mark::Circle(MIDDLE, 6.0, false)];
    match way {
        "click" => marks.push(Mark::Circle(MIDDLE, 9.4, false)),
        "x" => marks.extend(["left", "right"].into_iter().filter_map(arrow)),
        "y" => marks.extend(["up", "down"].into_iter().filter_map(arrow)),
        "" => marks.extend(["up", "left", "down", "right"].into_iter().filter_map(arrow)),
        way => marks.extend(arrow(way)),
    }
    marks.push(Mark::Text(MIDDLE, 8.0, side.to_owned()));
    Some(marks)
}

fn mouse(rest: &str) -> Option<Vec<Mark>> {
    let body = Mark::Rect([4.0, 1.0, 18.0, 21.0], false);
    let part = |rect: [f64; 4], is_meant: bool| Mark::Rect(rect, is_meant);
    let buttons = |meant: &str| {
        vec![
            part([4.0, 1.0, 9.5, 10.0], meant == "left"),
            part([9.5, 1.0, 12.5, 10.0], meant == "middle"),
            part([12.5, 1.0, 18.0, 10.0], meant == "right"),
        ]
    };
    let mut marks = vec![body];
    match rest {
        "left" | "middle" | "right" => marks.extend(buttons(rest)),
        "back" => marks.push(part([1.5, 12.0, 5.5, 16.0], true)),
        "forward" => marks.push(part([1.5, 6.0, 5.5, 10.0], true)),
        _ => match rest.split_once('.').unwrap_or((rest, "")) {
            ("wheel", way) => {
                marks.push(part([9.0, 3.0, 13.0, 10.0], false));
                marks.extend(
                    match way {
                        "x" => vec![arrow("left"), arrow("right")],
                        "" | "y" => vec![arrow("up"), arrow("down")],
                        way => vec![arrow(way)],
                    }
                    .into_iter()
                    .flatten(),
                );
            }
            ("move", way) => {
                marks = vec![Mark::Rect([7.0, 5.0, 15.0, 17.0], false)];
                let ways: &[&str] = match way {
                    "x" => &["left", "right"],
                    "y" => &["up", "down"],
                    _ => &["up", "left", "down", "right"],
                };
                marks.extend(ways.iter().filter_map(|way| arrow(way)));
            }
            _ => return None,
        },
    }
    Some(marks)
}
