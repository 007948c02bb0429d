//! How text looks: width, colour and the few styles there are.

use crate::escape::{mark, marked};
use anstyle::{AnsiColor, Style};
use std::fmt::Display;
use unicode_width::UnicodeWidthChar;

/// The width and colour of where text goes.
#[derive(Clone, Copy, Debug)]
pub struct Look {
    pub color: bool,
    /// How wide text for people is, in columns: at most 100.
    pub width: usize,
    /// How many columns there are, for tables and pictures.
    pub columns: usize,
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
    /// As in a pipe.
    pub const PLAIN: Self = Self { color: false, width: 100, columns: 100 };

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

/// Lines in which none is wider than `width`: a longer one goes on below what stands behind its
/// first gap of two spaces, or else two columns in from where it begins.
pub fn hung(text: &str, width: usize) -> String {
    let lines: Vec<String> = text.split('\n').map(|line| hung_line(line, width)).collect();
    lines.join("\n")
}

fn hung_line(line: &str, width: usize) -> String {
    if visible(line) <= width {
        return line.to_owned();
    }
    let shown: Vec<(usize, char)> = Letters::of(line).collect();
    let begins = shown.iter().position(|(_, letter)| *letter != ' ').unwrap_or_default();
    let is_space = |at: usize| shown.get(at).is_some_and(|(_, letter)| *letter == ' ');
    let gap = (begins..shown.len()).find(|&at| is_space(at) && is_space(at + 1));
    let label = gap.and_then(|gap| (gap..shown.len()).find(|&at| !is_space(at)));
    let label = label.filter(|column| *column <= width / 2);
    let indent = label.unwrap_or(begins + 2);
    // The gap stays as it is.
    let kept = shown.get(label.unwrap_or(begins)).map_or(0, |(place, _)| *place);
    let mut out = line[..kept].to_owned();
    let below = format!("\n{:indent$}", "");
    let mut at = visible(&out);
    for (place, word) in words(&line[kept..], width.saturating_sub(indent)).enumerate() {
        let Word { text: word, goes_on } = word;
        let place = if goes_on { 0 } else { place };
        if goes_on {
            out.push_str(&below);
            at = indent;
        }
        let wide = visible(word);
        // What stands behind a break begins with a word.
        if word.is_empty() && out.ends_with(&below) {
            continue;
        }
        if place > 0 && at + 1 + wide > width && at > indent {
            out.truncate(out.trim_end().len());
            out.push_str(&below);
            at = indent;
        } else if place > 0 && !out.ends_with(&below) {
            out.push(' ');
            at += 1;
        }
        out.push_str(word);
        at += wide;
    }
    out
}

/// A word, or a piece of one that is wider than there is room.
struct Word<'t> {
    text: &'t str,
    /// Whether it goes on with the piece before it, on the next line.
    goes_on: bool,
}

/// The words of a text, in pieces of at most `width` columns.
fn words(text: &str, width: usize) -> impl Iterator<Item = Word<'_>> {
    text.split(' ').flat_map(move |word| {
        let mut rest = Some(word);
        let mut goes_on = false;
        std::iter::from_fn(move || {
            let word = rest.take()?;
            let mut wide = 0;
            let end = Letters::of(word).find_map(|(place, letter)| {
                wide += letter.width().unwrap_or_default();
                (wide > width.max(1) && place > 0).then_some(place)
            });
            // Behind a mark that parts it, if there is one.
            let end = end.map(|end| {
                let mark = word[..end].rfind([',', '/', '=', '(']).filter(|at| *at > 0);
                mark.map_or(end, |at| at + 1)
            });
            let text = &word[..end.unwrap_or(word.len())];
            rest = end.map(|end| &word[end..]);
            Some(Word { text, goes_on: std::mem::replace(&mut goes_on, true) })
        })
    })
}

/// The letters of a text with their places, without the marks of its styles.
struct Letters<'t> {
    text: &'t str,
    at: usize,
}

impl<'t> Letters<'t> {
    fn of(text: &'t str) -> Self {
        Self { text, at: 0 }
    }
}

impl Iterator for Letters<'_> {
    type Item = (usize, char);

    fn next(&mut self) -> Option<(usize, char)> {
        while let Some(behind) = self.text[self.at..].strip_prefix(mark()) {
            let end = behind.find('m').map_or(behind.len(), |end| end + 1);
            self.at = self.text.len() - behind.len() + end;
        }
        let place = self.at;
        let letter = self.text[place..].chars().next()?;
        self.at += letter.len_utf8();
        Some((place, letter))
    }
}

/// How many columns a text takes, without the marks of its styles.
fn visible(text: &str) -> usize {
    Letters::of(text).map(|(_, letter)| letter.width().unwrap_or_default()).sum()
}

/// `text` in lines of at most `width` columns, broken at spaces.
pub fn wrapped(text: &str, width: usize) -> String {
    let mut lines = vec![String::new()];
    for Word { text: word, goes_on } in words(text, width) {
        let fits = |line: &&mut String| visible(line) + visible(word) < width || line.is_empty();
        let line = lines.last_mut().filter(fits).filter(|_| !goes_on);
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

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_long_line_goes_on_below_what_it_says() {
        for (line, wanted) in [
            ("short", "short"),
            (
                "    levels  wakes from 0.55, up under 0.44",
                "    levels  wakes from\n            0.55, up under\n            0.44",
            ),
            ("one two three four five six seven", "one two three four five\n  six seven"),
            ("  harmonym show quay.walk      the way", "  harmonym show quay.walk\n    the way"),
            (
                "\u{1b}[1mquay.walk\u{1b}[0m  four(a, b, c)",
                "\u{1b}[1mquay.walk\u{1b}[0m  four(a, b, c)",
            ),
            ("key.ArrowUp,key.ArrowLeft,key.X x", "key.ArrowUp,\n  key.ArrowLeft,key.X x"),
            ("a\n  b", "a\n  b"),
            (
                "\u{1b}[2m   step\u{1b}[0m  scale: twice as much",
                "\u{1b}[2m   step\u{1b}[0m  scale: twice as\n         much",
            ),
        ] {
            assert_eq!(hung(&marked(line), 26), marked(wanted));
        }
    }
}
