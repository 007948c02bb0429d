//! How text looks: width, colour and the few styles there are.

use crate::escape::marked;
use anstyle::{AnsiColor, Style};
use std::fmt::Display;

/// The width and colour of where text goes.
#[derive(Clone, Copy, Debug)]
pub struct Look {
    pub color: bool,
    /// In columns.
    pub width: usize,
}

/// What a stretch of text is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Ink {
    /// A heading.
    Head,
    /// What fired.
    Strong,
    /// What is there for completeness.
    Faint,
    /// What did not come to pass.
    Missed,
}

impl Look {
    /// `text` in its ink, when there is colour.
    pub fn paint(self, ink: Ink, text: impl Display) -> String {
        let style = match ink {
            _ if !self.color => return text.to_string(),
            Ink::Head => Style::new().bold().underline(),
            Ink::Strong => Style::new().bold(),
            Ink::Faint => Style::new().dimmed(),
            Ink::Missed => AnsiColor::Magenta.on_default(),
        };
        format!("{}{text}{}", marked(&style.to_string()), marked(&format!("{style:#}")))
    }
}

/// `text` in lines of at most `width` columns, broken at spaces.
pub fn wrapped(text: &str, width: usize) -> String {
    let mut lines = vec![String::new()];
    for word in text.split(' ') {
        let line = lines.last_mut().filter(|l| l.len() + word.len() < width || l.is_empty());
        match line {
            Some(line) if line.is_empty() => line.push_str(word),
            Some(line) => {
                line.push(' ');
                line.push_str(word);
            }
            None => lines.push(word.to_owned()),
        }
    }
    lines.join("\n")
}

/// `text` in at most `width` columns; what is cut off ends in `…`.
pub fn fit(text: &str, width: usize) -> String {
    if text.chars().count() <= width {
        return text.to_owned();
    }
    let kept: String = text.chars().take(width.saturating_sub(1)).collect();
    format!("{kept}…")
}
