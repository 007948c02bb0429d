//! Time lanes: one row an action, a ruler above, values as small curves below their row.

use crate::output::style::{Ink, Look, fit};
use harmonym_lab::trace::{Lane, Lanes, Mark, State};
use harmonym_runtime::base::{ActionId, Seat, Time};
use harmonym_runtime::engine::Cause;
use harmonym_runtime::plan::Plan;

/// The signs of a lane, the heights of a curve from 0 up.
pub struct Signs {
    wake: char,
    fire: char,
    lapse: char,
    rest: char,
    pending: char,
    live: char,
    pressed: char,
    heights: &'static [char],
    pub tick: char,
    pub line: char,
    expected: char,
}

impl Signs {
    /// Without anything beyond ASCII, or with it.
    pub const fn of(ascii: bool) -> Self {
        if ascii { PLAIN } else { DRAWN }
    }

    /// What they mean, in one line.
    pub fn legend(&self) -> String {
        let Self { wake, fire, lapse, rest, pending, live, pressed, .. } = self;
        format!(
            "{pressed} held  {wake} wake  {pending} pending  {fire} fire  {live} live  {lapse} lapse  {rest} rest"
        )
    }
}

const PLAIN: Signs = Signs {
    wake: 'o',
    fire: '*',
    lapse: 'x',
    rest: '.',
    pending: '-',
    live: '=',
    pressed: '_',
    heights: &[' ', '.', ':', '-', '=', '+', '#'],
    tick: '|',
    line: '-',
    expected: '^',
};

const DRAWN: Signs = Signs {
    wake: '○',
    fire: '●',
    lapse: '×',
    rest: '·',
    pending: '─',
    live: '━',
    pressed: '┄',
    heights: &[' ', '▁', '▂', '▃', '▄', '▅', '▆', '▇', '█'],
    tick: '╷',
    line: '─',
    expected: '▲',
};

/// How lanes are drawn.
#[derive(Clone, Copy, Debug)]
pub struct Style {
    /// Without anything beyond ASCII.
    pub ascii: bool,
    /// In columns.
    pub width: usize,
    pub look: Look,
}

/// The time that columns stand for; what lies before time 0 is empty.
pub struct Scale {
    pub end: Time,
    /// So much before the end is the first column.
    pub span: Time,
    pub columns: usize,
}

impl Scale {
    /// Where a moment is; what is outside is at the edge.
    pub fn column(&self, t: Time) -> usize {
        let nanos = |t: Time| i128::from(t.nanos());
        let since = nanos(t) - (nanos(self.end) - nanos(self.span));
        let column = since * self.columns as i128 / nanos(self.span).max(1);
        usize::try_from(column.max(0)).unwrap_or(usize::MAX).min(self.columns - 1)
    }

    /// Whether something that goes on so long is seen.
    fn shows(&self, from: Time, to: Time) -> bool {
        from <= self.end && to + self.span >= self.end
    }
}

/// Moments at which something was expected of actions of seats.
pub type Marked = [(Seat, ActionId, Vec<Time>)];

/// Draws the lanes of the actions that are shown and did something; with `all` also of those whose
/// controls were held and that did nothing. Below a lane stand the moments at which something else was
/// expected.
pub fn draw(
    lanes: &Lanes,
    plan: &Plan,
    style: Style,
    (all, marked): (bool, &Marked),
    shown: impl Fn(Seat, ActionId) -> bool,
) -> String {
    let signs = Signs::of(style.ascii);
    let busy = |lane: &&Lane| {
        let held = all && !lane.pressed.is_empty();
        shown(lane.seat, lane.action) && (held || !lane.is_quiet())
    };
    let busy: Vec<&Lane> = lanes.lanes.iter().filter(busy).collect();
    if busy.is_empty() {
        return "nothing happened\n".to_owned();
    }
    let whose = |lane: &Lane| Some(lane.seat).filter(|_| lanes.seats > 1);
    let name = |lane: &Lane| {
        let name = &plan.names().actions[lane.action];
        super::of_seat(whose(lane), name).into_owned()
    };
    let longest = busy.iter().map(|lane| name(lane).chars().count()).max().unwrap_or(0);
    let most = (style.width / 3).clamp(8, 32);
    let margin = longest.min(most);
    let columns = style.width.saturating_sub(margin + 2).max(20);
    let scale = Scale { end: lanes.end, span: lanes.end, columns };
    let mut text = ruler(&scale, margin, &signs, style.look);
    for lane in &busy {
        let label = shorter(&name(lane), margin);
        let row = row(lane, &scale, &signs, style.look);
        text.push_str(format!("{label:>margin$}  {row}").trim_end());
        text.push('\n');
        if let Some((curve, most)) = curve(lane, &scale, &signs) {
            let label = style.look.paint(Ink::Faint, format!("{:>margin$}", format!("to {most}")));
            let curve = style.look.paint(Ink::Faint, curve.trim_end());
            text.push_str(&format!("{label}  {curve}\n"));
        }
        let moments =
            marked.iter().filter(|(seat, action, _)| (*seat, *action) == (lane.seat, lane.action));
        let moments: Vec<Time> = moments.flat_map(|(.., moments)| moments).copied().collect();
        if !moments.is_empty() {
            let label = shorter("expected", margin);
            let mut cells = vec![' '; scale.columns];
            moments.iter().for_each(|t| cells[scale.column(*t)] = signs.expected);
            let cells: String = cells.into_iter().collect();
            text.push_str(&format!("{label:>margin$}  {}\n", cells.trim_end()));
        }
    }
    let legend = signs.legend();
    text.push_str(&style.look.paint(Ink::Faint, fit(&legend, style.width)));
    text.push('\n');
    text
}

/// A name in so many columns: its end tells more than its beginning.
pub fn shorter(name: &str, columns: usize) -> String {
    let count = name.chars().count();
    if count <= columns {
        return name.to_owned();
    }
    let kept: String = name.chars().skip(count + 1 - columns).collect();
    format!("…{kept}")
}

/// The times above the lanes, at even steps.
fn ruler(scale: &Scale, margin: usize, signs: &Signs, look: Look) -> String {
    let seconds = scale.end.seconds();
    let wanted = (scale.columns / 12).max(2) as f64;
    let raw = (seconds / wanted).max(1e-9);
    let power = 10_f64.powf(raw.log10().floor());
    let step = [1.0, 2.0, 5.0, 10.0].into_iter().map(|m| m * power).find(|s| *s >= raw);
    let step = step.unwrap_or(raw).max(1e-9);
    let digits = (-step.log10().floor()).clamp(0.0, 9.0) as usize;
    let mut numbers = vec![' '; scale.columns];
    let mut line = vec![signs.line; scale.columns];
    let mut free = 0;
    for k in 0..1000_u32 {
        let at = f64::from(k) * step;
        if at > seconds + 1e-12 {
            break;
        }
        let column = scale.column(Time::from_nanos((at * 1e9).round() as u64));
        line[column] = signs.tick;
        let label = format!("{at:.digits$} s");
        if column >= free && column + label.len() <= scale.columns {
            for (place, c) in numbers[column..].iter_mut().zip(label.chars()) {
                *place = c;
            }
            free = column + label.len() + 2;
        }
    }
    let numbers: String = numbers.into_iter().collect();
    let line: String = line.into_iter().collect();
    let pad = " ".repeat(margin + 2);
    let (numbers, line) =
        (look.paint(Ink::Faint, numbers.trim_end()), look.paint(Ink::Faint, line));
    format!("{pad}{numbers}\n{pad}{line}\n")
}

/// One action's row.
fn row(lane: &Lane, scale: &Scale, signs: &Signs, look: Look) -> String {
    let mut text = String::new();
    for (ink, run) in runs(lane, scale, signs) {
        match ink {
            Some(ink) => text.push_str(&look.paint(ink, run)),
            None => text.push_str(&run),
        }
    }
    text
}

/// One action's row, in runs of one ink; what matters more stands over what matters less.
pub fn runs(lane: &Lane, scale: &Scale, signs: &Signs) -> Vec<(Option<Ink>, String)> {
    let mut cells: Vec<(u8, char)> = vec![(0, ' '); scale.columns];
    let mut put = |from: usize, to: usize, weight: u8, sign: char| {
        let to = to.min(scale.columns - 1);
        for cell in cells.iter_mut().take(to + 1).skip(from) {
            if cell.0 < weight {
                *cell = (weight, sign);
            }
        }
    };
    for (from, to) in lane.pressed_until(scale.end).filter(|(a, b)| scale.shows(*a, *b)) {
        put(scale.column(from), scale.column(to), 1, signs.pressed);
    }
    for (from, to, state) in lane.spans_until(scale.end).filter(|(a, b, _)| scale.shows(*a, *b)) {
        let (weight, sign) = match state {
            State::Pending => (2, signs.pending),
            State::Live => (3, signs.live),
        };
        put(scale.column(from), scale.column(to), weight, sign);
    }
    let marks = || lane.marks.iter().filter(|(t, _)| scale.shows(*t, *t));
    for &(t, mark) in marks() {
        let column = scale.column(t);
        let (weight, sign) = match mark {
            Mark::Wake => (5, signs.wake),
            Mark::Rest(_) => (4, signs.rest),
            Mark::Fire => (6, signs.fire),
            Mark::Lapse(_) => (7, signs.lapse),
        };
        put(column, column, weight, sign);
    }
    // Why it ended, where that is more than being let go, and there is room for the word.
    for &(t, mark) in marks() {
        let (Mark::Lapse(cause) | Mark::Rest(cause)) = mark else { continue };
        let from = scale.column(t) + 2;
        let word = format!("{} ", cause.word());
        let room = cells.get(from..from + word.len());
        let is_free = room.is_some_and(|cells| cells.iter().all(|(weight, _)| *weight <= 1));
        if cause != Cause::Released && is_free {
            for (cell, c) in cells[from..].iter_mut().zip(word.trim_end().chars()) {
                *cell = (2, c);
            }
        }
    }
    let of_one_ink = cells.chunk_by(|a, b| ink(a.0) == ink(b.0));
    of_one_ink.map(|run| (ink(run[0].0), run.iter().map(|cell| cell.1).collect())).collect()
}

fn ink(weight: u8) -> Option<Ink> {
    match weight {
        1 => Some(Ink::Faint),
        3 | 6 => Some(Ink::Strong),
        7 => Some(Ink::Missed),
        _ => None,
    }
}

/// A value as a curve of magnitudes, the greatest of each column, and what its top stands for.
pub fn curve(lane: &Lane, scale: &Scale, signs: &Signs) -> Option<(String, String)> {
    let most = lane.numbers().filter(|(t, _)| *t <= scale.end);
    let most = most.map(|(_, value)| value.abs()).fold(0.0, f64::max);
    if most == 0.0 {
        return None;
    }
    let mut heights = vec![0.0_f64; scale.columns];
    let (mut at, mut value) = (0, 0.0_f64);
    let seen = lane.numbers().filter(|(t, _)| *t <= scale.end);
    let changes = seen.map(|(t, value)| (scale.column(t), value));
    for (column, next) in changes.chain([(scale.columns - 1, 0.0)]) {
        for height in &mut heights[at..=column] {
            *height = height.max(value.abs());
        }
        (at, value) = (column, next);
    }
    let steps = signs.heights.len() - 1;
    let sign = |height: f64| {
        let step = (height / most * steps as f64).round() as usize;
        let seen = if height > 0.0 { step.max(1) } else { 0 };
        signs.heights[seen.min(steps)]
    };
    let rounded = (most * 1000.0).round() / 1000.0;
    Some((heights.into_iter().map(sign).collect(), format!("{rounded}")))
}
