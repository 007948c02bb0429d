//! Hands at work, on a whole screen: lanes that move, what was told last, and why one action is as it is.

use crate::output::style::{Ink, wrapped};
use crate::view::lanes::{Scale, Signs, curve, runs, shorter};
use harmonym_lab::trace::Lane;
use harmonym_runtime::base::Time;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Color, Modifier, Style};
use ratatui::text::{Line, Span};
use ratatui::widgets::Widget;

/// So much time is seen at once.
pub const SEEN: Time = Time::from_millis(10_000);

/// One action.
pub struct Row<'a> {
    pub name: String,
    pub lane: &'a Lane,
    /// What the game reads of it now.
    pub reading: String,
}

/// Something to choose from, in place of why.
pub struct Menu {
    pub title: String,
    pub entries: Vec<String>,
    pub chosen: usize,
}

/// All that is on the screen.
pub struct Screen<'a> {
    pub title: &'a str,
    /// What goes on around: the scheme in use, devices, a take.
    pub around: &'a [(String, bool)],
    pub rows: &'a [Row<'a>],
    pub chosen: usize,
    /// What is at the right edge.
    pub at: Time,
    pub is_still: bool,
    /// Why the chosen action is as it is.
    pub why: &'a str,
    pub events: &'a [(Ink, String)],
    pub words: Option<&'a str>,
    pub menu: Option<&'a Menu>,
    /// Keys and what they do.
    pub keys: &'a [(&'a str, &'a str)],
    pub ascii: bool,
    pub color: bool,
}

/// The column of readings.
const READINGS: usize = 16;

impl Screen<'_> {
    fn style(&self, ink: Ink) -> Style {
        match ink {
            Ink::Head => Style::new().add_modifier(Modifier::BOLD),
            Ink::Strong => Style::new().add_modifier(Modifier::BOLD),
            Ink::Faint => Style::new().add_modifier(Modifier::DIM),
            Ink::Missed if self.color => Style::new().fg(Color::Magenta),
            Ink::Missed => Style::new(),
        }
    }

    /// A line from a column on; what has no room is left out.
    fn line(&self, buffer: &mut Buffer, x: u16, y: u16, line: Line<'_>) {
        let area = *buffer.area();
        if y < area.bottom() && x < area.right() {
            line.render(Rect::new(x, y, area.right() - x, 1), buffer);
        }
    }

    fn heading(&self, buffer: &mut Buffer, y: u16) {
        let mut spans = vec![Span::styled(self.title.to_owned(), self.style(Ink::Head))];
        for (text, is_strong) in self.around {
            spans.push(Span::raw("   "));
            let ink = if *is_strong { Ink::Missed } else { Ink::Faint };
            spans.push(Span::styled(text.clone(), self.style(ink)));
        }
        self.line(buffer, 0, y, Line::from(spans));
    }

    fn ruler(&self, buffer: &mut Buffer, y: u16, x: u16, scale: &Scale, signs: &Signs) {
        let mut numbers = vec![' '; scale.columns];
        let mut line = vec![signs.line; scale.columns];
        let seconds = SEEN.nanos() / 1_000_000_000;
        let every = if scale.columns < 60 { 5 } else { 2 };
        for ago in (0..=seconds).filter(|ago| ago % every == 0) {
            let back = Time::from_nanos(ago * 1_000_000_000);
            let column = (scale.columns - 1).min(
                ((SEEN.since(back)).nanos() as u128 * scale.columns as u128
                    / u128::from(SEEN.nanos())) as usize,
            );
            line[column] = signs.tick;
            let label = match (ago, self.is_still) {
                (0, true) => format!("{:.3} s", self.at),
                (0, false) => "now".to_owned(),
                (ago, _) => format!("-{ago} s"),
            };
            let from = (column + 1).saturating_sub(label.len());
            for (place, c) in numbers[from..].iter_mut().zip(label.chars()) {
                *place = c;
            }
        }
        let text = |cells: Vec<char>| cells.into_iter().collect::<String>();
        let faint = self.style(Ink::Faint);
        self.line(buffer, x, y, Line::styled(text(numbers), faint));
        self.line(buffer, x, y + 1, Line::styled(text(line), faint));
    }

    /// How many lines a row takes.
    fn height(row: &Row<'_>) -> usize {
        if row.lane.numbers().next().is_some() { 2 } else { 1 }
    }

    /// Draws the rows around the chosen one, and gives the line below them.
    fn rows(&self, buffer: &mut Buffer, top: u16, bottom: u16, signs: &Signs) -> u16 {
        let width = usize::from(buffer.area().width);
        let longest = self.rows.iter().map(|row| row.name.chars().count()).max().unwrap_or(0);
        let names = longest.min((width / 4).clamp(8, 28));
        let left = names + 3;
        let columns = width.saturating_sub(left + READINGS + 2).max(10);
        let scale = Scale { end: self.at, span: SEEN, columns };
        self.ruler(buffer, top, left as u16, &scale, signs);
        let room = usize::from(bottom.saturating_sub(top + 2));
        let mut first = 0;
        let up_to = |first: usize| -> usize {
            self.rows[first..=self.chosen.min(self.rows.len().saturating_sub(1)).max(first)]
                .iter()
                .map(Self::height)
                .sum()
        };
        while first < self.chosen && up_to(first) > room {
            first += 1;
        }
        let mut y = top + 2;
        for (index, row) in self.rows.iter().enumerate().skip(first) {
            let height = Self::height(row) as u16;
            if y + height > bottom {
                break;
            }
            self.row(buffer, y, row, index == self.chosen, (names, left, &scale, signs));
            y += height;
        }
        y
    }

    fn row(
        &self,
        buffer: &mut Buffer,
        y: u16,
        row: &Row<'_>,
        is_chosen: bool,
        (names, left, scale, signs): (usize, usize, &Scale, &Signs),
    ) {
        let name = shorter(&row.name, names);
        let mark = match (is_chosen, self.ascii) {
            (true, false) => "▸ ",
            (true, true) => "> ",
            (false, _) => "  ",
        };
        let ink = if is_chosen { self.style(Ink::Strong) } else { Style::new() };
        self.line(buffer, 0, y, Line::styled(format!("{mark}{name}"), ink));
        let lane = runs(row.lane, scale, signs);
        let spans = lane.into_iter().map(|(ink, text)| match ink {
            Some(ink) => Span::styled(text, self.style(ink)),
            None => Span::raw(text),
        });
        self.line(buffer, left as u16, y, Line::from(spans.collect::<Vec<_>>()));
        let right = (left + scale.columns + 1) as u16;
        self.line(buffer, right, y, Line::raw(row.reading.as_str()));
        if let Some((curve, most)) = curve(row.lane, scale, signs) {
            let faint = self.style(Ink::Faint);
            self.line(buffer, left as u16, y + 1, Line::styled(curve, faint));
            self.line(buffer, right, y + 1, Line::styled(format!("to {most}"), faint));
        }
    }

    fn menu(&self, buffer: &mut Buffer, top: u16, bottom: u16, menu: &Menu) {
        self.line(buffer, 0, top, Line::styled(menu.title.clone(), self.style(Ink::Head)));
        let room = usize::from(bottom.saturating_sub(top + 1)).max(1);
        let first = (menu.chosen + 1).saturating_sub(room);
        for (place, entry) in menu.entries.iter().enumerate().skip(first).take(room) {
            let mark = match (place == menu.chosen, self.ascii) {
                (true, false) => "▸ ",
                (true, true) => "> ",
                (false, _) => "  ",
            };
            let style = if place == menu.chosen { self.style(Ink::Strong) } else { Style::new() };
            let y = top + 1 + (place - first) as u16;
            self.line(buffer, 0, y, Line::styled(format!("{mark}{entry}"), style));
        }
    }
}

impl Widget for &Screen<'_> {
    fn render(self, area: Rect, buffer: &mut Buffer) {
        let width = usize::from(area.width);
        let signs = Signs::of(self.ascii);
        // From below: the keys, what is to be said, the events, why; the lanes have the rest.
        let mut keys = String::new();
        for (key, does) in self.keys {
            let gap = if keys.is_empty() { "" } else { "   " };
            keys.push_str(&format!("{gap}{key} {does}"));
        }
        let keys = wrapped(&keys, width.max(20));
        let keys: Vec<&str> = keys.lines().collect();
        let mut bottom = area.bottom().saturating_sub(keys.len() as u16);
        for (place, line) in keys.iter().enumerate() {
            let style = self.style(Ink::Faint);
            self.line(buffer, 0, bottom + place as u16, Line::styled((*line).to_owned(), style));
        }
        if let Some(words) = self.words {
            let words = wrapped(words, width.max(20));
            let words: Vec<&str> = words.lines().take(3).collect();
            bottom = bottom.saturating_sub(words.len() as u16);
            for (place, line) in words.iter().enumerate() {
                let style = self.style(Ink::Missed);
                self.line(
                    buffer,
                    0,
                    bottom + place as u16,
                    Line::styled((*line).to_owned(), style),
                );
            }
        }
        self.heading(buffer, area.top());
        let below = (area.height / 3).clamp(4, 12);
        let lanes_end = bottom.saturating_sub(below);
        let y = self.rows(buffer, area.top() + 1, lanes_end, &signs);
        if self.rows.is_empty() {
            self.line(buffer, 0, y, Line::raw("no map is open: open one"));
        }
        let top = y.max(area.top() + 3) + 1;
        if let Some(menu) = self.menu {
            return self.menu(buffer, top, bottom, menu);
        }
        let why = wrapped(self.why, width.max(20));
        let mut y = top;
        for line in why.lines().take(4) {
            self.line(buffer, 0, y, Line::raw(line.to_owned()));
            y += 1;
        }
        y += 1;
        let room = usize::from(bottom.saturating_sub(y));
        let first = self.events.len().saturating_sub(room);
        for (ink, event) in &self.events[first..] {
            self.line(buffer, 0, y, Line::styled(event.clone(), self.style(*ink)));
            y += 1;
        }
    }
}
