//! One action's lane: bars, marks and labels.

use super::{Anchor, Done, Pen, Shade, Stage, text_width};
use harmonym_lab::trace::{Lane, Mark, State};
use harmonym_runtime::base::Time;

/// Marks nearer than this are one.
const APART: f64 = 7.0;
/// Bars nearer than this are one.
const GAP: f64 = 0.6;
/// The most bars of a kind that a row has.
const MOST_BARS: usize = 400;
/// Up to so many, bars of what is pending have an outline.
const FRAMED: usize = 100;

/// How a lane is drawn: as that of the first run or the second, or as what is the same in both.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Ink {
    /// The only run, whose lapses stand out.
    Only,
    /// Of two runs, the first.
    First,
    /// Of two runs, the second.
    Second,
    /// Of two runs, what both have.
    Both,
}

impl Ink {
    /// The shade of what is live.
    pub fn live(self) -> Shade {
        match self {
            Self::Only | Self::First => Shade::Blue,
            Self::Second => Shade::Orange,
            Self::Both => Shade::Rule,
        }
    }

    fn pending(self) -> Shade {
        match self {
            Self::Only | Self::First => Shade::Pale,
            Self::Second => Shade::PaleOrange,
            Self::Both => Shade::Band,
        }
    }

    fn frame(self) -> Shade {
        if self == Self::Both { Shade::Rule } else { self.live() }
    }

    /// The shade of marks.
    fn mark(self) -> Shade {
        if self == Self::Both { Shade::Grey } else { Shade::Ink }
    }

    /// The shade of a lapse: no run has it.
    fn lapse(self) -> Shade {
        if self == Self::Only { Shade::Orange } else { self.mark() }
    }
}

/// What of a lane the other run has too, and what it has not.
pub fn apart(lane: &Lane, other: &Lane) -> [Lane; 2] {
    let episodes = |lane: &Lane| -> Vec<Vec<(Time, Mark)>> {
        let chunks = lane.marks.chunk_by(|_, (_, next)| *next != Mark::Wake);
        chunks.map(<[_]>::to_vec).collect()
    };
    let theirs = episodes(other);
    let (mut same, mut own) = (lane.clone(), lane.clone());
    for part in [&mut same, &mut own] {
        part.spans.clear();
        part.marks.clear();
    }
    let mut next = 0;
    for episode in episodes(lane) {
        let Some(&(woke, _)) = episode.first() else { continue };
        while theirs.get(next).is_some_and(|other| other[0].0 < woke) {
            next += 1;
        }
        let is_same = theirs.get(next) == Some(&episode);
        let part = if is_same { &mut same } else { &mut own };
        let end = episode.last().map_or(woke, |(t, _)| *t);
        let is_open = !matches!(episode.last(), Some((_, Mark::Lapse(_) | Mark::Rest(_))));
        let within =
            |(from, to, _): &&(Time, Time, State)| *from >= woke && (*to <= end || is_open);
        part.spans.extend(lane.spans.iter().filter(within));
        part.marks.extend(episode);
    }
    [same, own]
}

/// A fire.
pub fn diamond(pen: &Pen<'_>, (x, y): (f64, f64), shade: Shade) -> Done {
    let r = 4.6;
    let corners = [(x, y - r), (x + r, y), (x, y + r), (x - r, y)];
    let halo = [(x, y - r - 1.2), (x + r + 1.2, y), (x, y + r + 1.2), (x - r - 1.2, y)];
    pen.shape(&halo, Shade::White)?;
    pen.shape(&corners, shade)
}

/// A lapse.
pub fn cross(pen: &Pen<'_>, (x, y): (f64, f64), shade: Shade) -> Done {
    let r = 3.6;
    for (shade, width) in [(Shade::White, 3.6), (shade, 2.0)] {
        pen.line([(x - r, y - r), (x + r, y + r)], shade, width)?;
        pen.line([(x - r, y + r), (x + r, y - r)], shade, width)?;
    }
    Ok(())
}

/// The episodes of a lane between two heights.
pub fn bars(stage: &Stage<'_, '_>, lane: &Lane, (top, bottom): (f64, f64), ink: Ink) -> Done {
    let of = |state: State| {
        let spans = lane.spans.iter().filter(move |(.., one)| *one == state);
        merged(stage, spans.map(|(from, to, _)| (*from, *to)))
    };
    let waiting = of(State::Pending);
    comb(stage, &waiting, (top, bottom), ink.pending())?;
    if waiting.len() <= FRAMED {
        for (x0, x1) in waiting {
            stage.pen.frame([x0, top, x1.max(x0 + 0.8), bottom], ink.frame(), 0.7)?;
        }
    }
    comb(stage, &of(State::Live), (top, bottom), ink.live())
}

/// When a control of the lane was held.
pub fn pressed(stage: &Stage<'_, '_>, lane: &Lane, y: f64) -> Done {
    comb(stage, &merged(stage, lane.pressed.iter().copied()), (y, y + 3.0), Shade::Grey)
}

/// Stretches between two heights, as one shape: teeth that hang on a line of no width.
pub fn comb(
    stage: &Stage<'_, '_>,
    stretches: &[(f64, f64)],
    (top, bottom): (f64, f64),
    shade: Shade,
) -> Done {
    let teeth = stretches.iter().flat_map(|&(x0, x1)| {
        let x1 = x1.max(x0 + 0.8);
        [(x0, top), (x0, bottom), (x1, bottom), (x1, top)]
    });
    let teeth: Vec<_> = teeth.collect();
    if teeth.is_empty() { Ok(()) } else { stage.pen.shape(&teeth, shade) }
}

/// Stretches as they can be seen apart; where there are very many, near ones are one.
pub fn merged(stage: &Stage<'_, '_>, spans: impl Iterator<Item = (Time, Time)>) -> Vec<(f64, f64)> {
    let seen: Vec<(f64, f64)> = spans.filter_map(|(from, to)| stage.ruler.span(from, to)).collect();
    let mut gap = GAP;
    loop {
        let mut all: Vec<(f64, f64)> = Vec::new();
        for &(x0, x1) in &seen {
            match all.last_mut().filter(|last| x0 - last.1 < gap) {
                Some(last) => last.1 = last.1.max(x1),
                None => all.push((x0, x1)),
            }
        }
        if all.len() <= MOST_BARS {
            return all;
        }
        gap *= 1.5;
    }
}

/// Marks that cannot be seen apart, as one.
struct Group {
    from: f64,
    to: f64,
    count: usize,
}

fn groups(stage: &Stage<'_, '_>, lane: &Lane, is: impl Fn(Mark) -> bool) -> Vec<Group> {
    let mut all: Vec<Group> = Vec::new();
    let marks = lane.marks.iter().filter(|(_, mark)| is(*mark));
    for x in marks.filter_map(|(t, _)| stage.ruler.x_within(*t)) {
        match all.last_mut().filter(|last| x - last.to < APART) {
            Some(last) => (last.to, last.count) = (x, last.count + 1),
            None => all.push(Group { from: x, to: x, count: 1 }),
        }
    }
    all
}

/// The events of a lane at a height, with the causes of its ends where there is room.
pub fn marks(stage: &Stage<'_, '_>, lane: &Lane, y: f64, ink: Ink) -> Done {
    let (pen, mark, lapse) = (stage.pen, ink.mark(), ink.lapse());
    let mut taken: Vec<(f64, f64)> = Vec::new();
    for group in groups(stage, lane, |one| matches!(one, Mark::Rest(_))) {
        taken.push((group.from - 4.0, group.to + 4.0));
        if group.count == 1 {
            pen.ring((group.from, y), 3.4, mark)?;
        }
    }
    let mut counts = Vec::new();
    for group in groups(stage, lane, |one| one == Mark::Fire) {
        taken.push((group.from - 5.0, group.to + 5.0));
        if group.count > 1 {
            pen.fill([group.from, y - 1.6, group.to.max(group.from + 1.0), y + 1.6], Shade::White)?;
            pen.line([(group.from, y), (group.to, y)], mark, 2.0)?;
            diamond(pen, (group.to, y), mark)?;
            counts.push((group.to, format!("{} fires", group.count)));
        }
        diamond(pen, (group.from, y), mark)?;
    }
    for group in groups(stage, lane, |one| matches!(one, Mark::Lapse(_))) {
        taken.push((group.from - 5.0, group.to + 5.0));
        if group.count > 1 {
            pen.line([(group.from, y), (group.to, y)], lapse, 2.0)?;
            cross(pen, (group.to, y), lapse)?;
            counts.push((group.to, format!("{} lapses", group.count)));
        }
        cross(pen, (group.from, y), lapse)?;
    }
    labels(stage, lane, (y, lapse), &mut taken, counts)
}

/// Causes and counts, each where nothing else is.
fn labels(
    stage: &Stage<'_, '_>,
    lane: &Lane,
    (y, lapse): (f64, Shade),
    taken: &mut Vec<(f64, f64)>,
    counts: Vec<(f64, String)>,
) -> Done {
    for (from, to, _) in &lane.spans {
        taken.extend(stage.ruler.span(*from, *to));
    }
    taken.sort_by(|a, b| a.0.total_cmp(&b.0));
    let ends = lane.marks.iter().filter_map(|(t, mark)| match mark {
        Mark::Lapse(cause) => Some((*t, cause.word(), lapse)),
        Mark::Rest(cause) => Some((*t, cause.word(), Shade::Grey)),
        Mark::Wake | Mark::Fire => None,
    });
    let ends = ends
        .filter_map(|(t, word, shade)| Some((stage.ruler.x_within(t)?, word.to_owned(), shade)));
    let counts = counts.into_iter().map(|(x, text)| (x, text, Shade::Ink));
    let mut free = f64::NEG_INFINITY;
    let mut all: Vec<_> = counts.chain(ends).collect();
    all.sort_by(|a, b| a.0.total_cmp(&b.0));
    for (x, text, shade) in all {
        let width = text_width(&text, 9.5, false);
        let (from, to) = (x + 7.0, x + 7.0 + width);
        let next = taken.partition_point(|(start, _)| *start <= x + 0.5);
        let room = taken.get(next).map_or(stage.right, |(start, _)| *start - 2.0);
        if from >= free && to <= room.min(stage.right) {
            let shade = if is_live(stage, lane, from, to) { Shade::White } else { shade };
            stage.pen.text(&text, (from, y), Anchor::Left, 9.5, false, shade)?;
            free = to + 4.0;
        } else if shade == lapse && fits_before(stage, lane, x, width) {
            // What lapses was pending: its bar is bright enough to write on.
            stage.pen.text(&text, (x - 7.0, y), Anchor::Right, 9.5, false, Shade::Ink)?;
        }
    }
    Ok(())
}

/// Whether the lane is live somewhere between two places: its bar is dark.
fn is_live(stage: &Stage<'_, '_>, lane: &Lane, from: f64, to: f64) -> bool {
    let first = lane.spans.partition_point(|(_, end, _)| stage.ruler.x(*end) < from);
    let mut near = lane.spans.iter().skip(first);
    near.next().is_some_and(|(start, _, state)| *state == State::Live && stage.ruler.x(*start) < to)
}

/// Whether the bar that ends at `x` has room for a text.
fn fits_before(stage: &Stage<'_, '_>, lane: &Lane, x: f64, width: f64) -> bool {
    let end = lane.spans.partition_point(|(_, to, _)| stage.ruler.x(*to) < x - 0.5);
    lane.spans
        .get(end)
        .is_some_and(|(from, ..)| stage.ruler.x(*from).max(stage.left) + 8.0 <= x - 7.0 - width)
}
