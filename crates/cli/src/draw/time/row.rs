//! The rows of a picture in time: maps, controls, actions.

use super::curve::{self, Scale};
use super::{Done, MARGIN, Picture, Shown, Stage, lane, scale_ends};
use crate::draw::pen::{Anchor, Pen, Shade, fit, text_width};
use crate::view::{axis_text, of_seat};
use harmonym_lab::trace::{ControlLane, Drawn, Lane};
use harmonym_runtime::base::{Component, ControlKind, Kind, Seat, Time};
use harmonym_runtime::plan::Plan;

/// The sizes of names: of actions, of the map above them, of everything else.
const NAME: f64 = 11.5;
const SMALL: f64 = 9.5;
const PLAIN: f64 = 10.5;

/// A level up to so many times the greatest value is shown.
const NEAR: f64 = 3.0;

/// One row.
pub enum Row<'a> {
    /// When a map was open.
    Map(Option<Seat>, &'a str, &'a [(Time, Time)]),
    /// When a device was there, and whose it was.
    Device(String, Vec<(Time, Time, Option<Seat>)>),
    /// What a control reported.
    Control(String, &'a ControlLane, &'a Plan),
    /// An action: its name, its lane in each run, and its kind.
    Action(Option<Seat>, &'a str, Vec<(usize, &'a Lane)>, Kind, [f64; 3]),
}

/// The rows of a picture, from top to bottom.
pub fn rows<'a>(picture: &Picture<'a>) -> Vec<Row<'a>> {
    let Some(&first) = picture.runs.first() else { return Vec::new() };
    let Shown { lanes, plan } = first;
    let mut rows = Vec::new();
    for (seat, map, spans) in &lanes.around.maps {
        if picture.shows_seat(*seat) {
            rows.push(Row::Map(first.named(*seat), plan.names().maps[*map].as_str(), spans));
        }
    }
    for (device, spans) in lanes.around.devices_there(lanes.end) {
        rows.push(Row::Device(plan.catalogue().device_name(device), spans));
    }
    for control in lanes.around.controls.iter().filter(|one| one.moves()) {
        rows.push(Row::Control(control.name(plan), control, plan));
    }
    for own in &lanes.lanes {
        let name = plan.names().actions[own.action].as_str();
        let others = picture.runs.iter().enumerate().skip(1);
        let mut all = vec![(0, own)];
        all.extend(others.filter_map(|(run, other)| Some((run, other.lane(own.seat, name)?))));
        if picture.shows(own, all.iter().any(|(_, lane)| !lane.is_quiet())) {
            let spec = &plan.actions()[own.action];
            rows.push(Row::Action(
                first.named(own.seat),
                name,
                all,
                spec.kind,
                [spec.wake, spec.down, spec.up],
            ));
        }
    }
    rows
}

/// How high each row is, to fill `room` where they are few.
pub fn heights(rows: &[Row<'_>], room: f64) -> Vec<f64> {
    let actions = rows.iter().filter(|row| matches!(row, Row::Action(..))).count();
    let curve = match actions {
        0..=6 => 92.0,
        7..=14 => 66.0,
        _ => 50.0,
    };
    let bar = if actions > 14 { 26.0 } else { 34.0 };
    // Two runs have a bar each.
    let two = |lanes: &[(usize, &Lane)]| if lanes.len() > 1 { 14.0 } else { 0.0 };
    let least: Vec<f64> = rows
        .iter()
        .map(|row| match row {
            Row::Map(..) | Row::Device(..) => 18.0,
            Row::Control(_, control, plan) => match plan.controls()[control.control].kind {
                ControlKind::Button => 17.0,
                _ => 38.0,
            },
            Row::Action(_, _, lanes, ..)
                if lanes.iter().any(|(_, lane)| !lane.values.is_empty()) =>
            {
                curve + two(lanes)
            }
            Row::Action(_, _, lanes, ..) => bar + two(lanes),
        })
        .collect();
    // Actions take what is left, up to twice their height.
    let taken: f64 = least.iter().sum();
    let of_actions: f64 = rows
        .iter()
        .zip(&least)
        .filter(|(row, _)| matches!(row, Row::Action(..)))
        .map(|(_, height)| height)
        .sum();
    let more = if of_actions > 0.0 { ((room - taken) / of_actions).clamp(0.0, 1.0) } else { 0.0 };
    let grown = rows.iter().zip(least).map(|(row, height)| match row {
        Row::Action(..) => height * (1.0 + more),
        _ => height,
    });
    grown.collect()
}

impl Row<'_> {
    /// What stands left of it: small above, and its name.
    fn words(&self) -> (Option<String>, String) {
        match self {
            Self::Map(seat, name, _) => (None, of_seat(*seat, &format!("map {name}")).into_owned()),
            Self::Device(name, _) => (None, name.clone()),
            Self::Control(name, ..) => (None, name.clone()),
            Self::Action(seat, address, ..) => match address.split_once('.') {
                Some((map, action)) => (Some(of_seat(*seat, map).into_owned()), action.to_owned()),
                None => (None, (*address).to_owned()),
            },
        }
    }

    pub fn label_width(&self) -> f64 {
        match self.words() {
            (Some(above), name) => {
                text_width(&name, NAME, true).max(text_width(&above, SMALL, false))
            }
            (None, name) => text_width(&name, PLAIN, false),
        }
    }

    /// Its name, ending at `right`.
    pub fn label(&self, pen: &Pen<'_>, right: f64, middle: f64) -> Done {
        let room = right - MARGIN;
        let (above, name) = self.words();
        let Some(above) = above else {
            let text = fit(&name, PLAIN, false, room);
            return pen.text(&text, (right, middle), Anchor::Right, PLAIN, false, Shade::Grey);
        };
        let (above, name) = (fit(&above, SMALL, false, room), fit(&name, NAME, true, room));
        pen.text(&above, (right, middle - 7.0), Anchor::Right, SMALL, false, Shade::Grey)?;
        pen.text(&name, (right, middle + 6.0), Anchor::Right, NAME, true, Shade::Ink)
    }

    pub fn draw(
        &self,
        picture: &Picture<'_>,
        stage: &Stage<'_, '_>,
        (top, bottom): (f64, f64),
    ) -> Done {
        match self {
            Self::Map(_, _, spans) => {
                for (x0, x1) in lane::merged(stage, spans.iter().copied()) {
                    let bar = [x0, top + 4.0, x1, bottom - 4.0];
                    stage.pen.fill(bar, Shade::Rule)?;
                    stage.pen.frame(bar, Shade::Grey, 0.6)?;
                }
                Ok(())
            }
            Self::Device(_, spans) => {
                for (from, to, seat) in spans {
                    let Some((x0, x1)) = stage.ruler.span(*from, *to) else { continue };
                    stage.pen.frame([x0, top + 4.0, x1, bottom - 4.0], Shade::Grey, 0.6)?;
                    let Some(seat) = seat.filter(|_| x1 - x0 > 40.0) else { continue };
                    let at = (x0 + 4.0, (top + bottom) / 2.0);
                    let text = format!("seat {seat}");
                    stage.pen.text(&text, at, Anchor::Left, 9.0, false, Shade::Grey)?;
                }
                Ok(())
            }
            Self::Control(_, control, plan) => draw_control(stage, control, plan, (top, bottom)),
            Self::Action(_, _, lanes, kind, levels) => {
                draw_action(stage, lanes, *kind, *levels, (top, bottom), picture.runs.len())
            }
        }
    }
}

fn draw_control(
    stage: &Stage<'_, '_>,
    control: &ControlLane,
    plan: &Plan,
    (top, bottom): (f64, f64),
) -> Done {
    let kind = plan.controls()[control.control].kind;
    if kind == ControlKind::Button {
        let spans = control.held(stage.ruler.end());
        let spans = lane::merged(stage, spans.into_iter());
        return lane::comb(stage, &spans, (top + 4.0, bottom - 4.0), Shade::Grey);
    }
    let is_moved = kind == ControlKind::Relative;
    let drawn = Drawn::of(kind.yields(), &control.values);
    curves(stage, &drawn, is_moved, (top + 4.0, bottom - 4.0), 0, None)
}

/// Some components as curves; gives the scale that they are on.
fn curves(
    stage: &Stage<'_, '_>,
    drawn: &Drawn<'_>,
    is_moved: bool,
    (top, bottom): (f64, f64),
    run: usize,
    scale: Option<Scale>,
) -> Done {
    let count = drawn.count;
    let of = |component: Component| {
        drawn.values.iter().map(move |(t, value)| (*t, value.component(component)))
    };
    let components = || Component::ALL.into_iter().take(count);
    let seen = || components().flat_map(of).map(|(_, value)| value);
    let own = scale.is_none();
    let scale = scale.unwrap_or_else(|| Scale::new(seen(), top, bottom));
    if own {
        scale_ends(stage, scale)?;
    }
    let shades = match run {
        0 => [Shade::Blue, Shade::Ink, Shade::Grey],
        SAME => [Shade::Grey, Shade::Grey, Shade::Grey],
        _ => [Shade::Orange, Shade::Orange, Shade::Orange],
    };
    for (component, shade) in components().zip(shades).collect::<Vec<_>>().into_iter().rev() {
        let points = match is_moved {
            true => curve::moved(of(component), &stage.ruler, scale),
            false => curve::held(of(component), &stage.ruler, scale),
        };
        if count > 1 && points.iter().all(|(_, y)| *y == scale.y(0.0)) {
            continue;
        }
        let width = if component == Component::X { 1.6 } else { 1.1 };
        let peak = points.iter().copied().max_by(|a, b| {
            let far = |y: f64| (y - scale.y(0.0)).abs();
            far(a.1).total_cmp(&far(b.1))
        });
        stage.pen.line(points, shade, width)?;
        // Which curve is which is also written on it; of a turn, around which axis.
        let name = match drawn.farthest_axis() {
            Some(axis) => format!("rad around {}", axis_text(axis).replace('-', "−")),
            None if count > 1 => component.letter().to_string(),
            None => continue,
        };
        if let Some((x, y)) = peak.filter(|_| run == 0) {
            // Each a little further along, so that no two lie on each other.
            let aside = 4.0 + 12.0 * component as usize as f64;
            let width = text_width(&name, 10.0, true);
            let last = (stage.right - 30.0 - width).max(stage.left + 2.0);
            let at = (x.clamp(stage.left + 2.0, last) + aside, y.clamp(top + 5.0, bottom - 5.0));
            let (x, y) = at;
            stage.pen.fill([x - 1.5, y - 5.0, x + width + 1.5, y + 5.0], Shade::White)?;
            stage.pen.text(&name, at, Anchor::Left, 10.0, true, shade)?;
        }
    }
    Ok(())
}

fn draw_action(
    stage: &Stage<'_, '_>,
    lanes: &[(usize, &Lane)],
    kind: Kind,
    [wake, down, up]: [f64; 3],
    (top, bottom): (f64, f64),
    runs: usize,
) -> Done {
    let has_curve = lanes.iter().any(|(_, lane)| !lane.values.is_empty());
    let bar = match (has_curve, runs) {
        (_, 2) => 26.0,
        (true, _) => 15.0_f64.min((bottom - top) * 0.3),
        (false, _) => 13.0,
    };
    let at = if has_curve { top + 4.0 } else { (top + bottom - bar - 4.0) / 2.0 };
    if let Some((_, first)) = lanes.first() {
        lane::pressed(stage, first, at)?;
    }
    let (bar_top, bar_bottom) = (at + 4.0, at + 4.0 + bar);
    let each = bar / runs.max(1) as f64;
    let drawn = inked(lanes, runs);
    for (run, lane, ink) in &drawn {
        let from = bar_top + each * *run as f64;
        lane::bars(stage, lane, (from, from + each - if runs > 1 { 0.8 } else { 0.0 }), *ink)?;
    }
    if has_curve {
        let (top, bottom) = (bar_bottom + 6.0, bottom - 5.0);
        let levels = [("down", down), ("wake", wake), ("up", up)];
        let shown: Vec<Drawn<'_>> =
            lanes.iter().map(|(_, lane)| Drawn::of(kind, &lane.values)).collect();
        let parts = shown.iter().flat_map(|one| {
            let count = one.count;
            one.values.iter().flat_map(move |(_, value)| value.xyz().into_iter().take(count))
        });
        let mut scale = Scale::new(parts, top, bottom);
        // A level that was nearly reached is what one looks for.
        if down > scale.most && down <= NEAR * scale.most {
            scale.most = down * 1.04;
        }
        scale_ends(stage, scale)?;
        draw_levels(stage, levels, scale)?;
        let is_same = match lanes {
            [(_, first), (_, second)] => first.values == second.values,
            _ => false,
        };
        for ((run, _), drawn) in lanes.iter().zip(&shown) {
            let run = if is_same { SAME } else { *run };
            curves(stage, drawn, false, (top, bottom), run, Some(scale))?;
        }
    }
    drawn.iter().try_for_each(|(run, one, ink)| {
        lane::marks(stage, one, bar_top + each * (*run as f64 + 0.5), *ink)
    })
}

/// The number of a run, for values that are the same in both.
const SAME: usize = 2;

/// What is drawn of the lanes of one action: of two runs, what is the same apart from what is not.
fn inked(lanes: &[(usize, &Lane)], runs: usize) -> Vec<(usize, Lane, lane::Ink)> {
    use lane::Ink;
    match lanes {
        [(_, first), (_, second)] => {
            let [same, own] = lane::apart(first, second);
            let [also_same, theirs] = lane::apart(second, first);
            vec![
                (0, same, Ink::Both),
                (1, also_same, Ink::Both),
                (0, own, Ink::First),
                (1, theirs, Ink::Second),
            ]
        }
        _ => {
            let ink = |run: usize| match (runs, run) {
                (2, 0) => Ink::First,
                (2, _) => Ink::Second,
                _ => Ink::Only,
            };
            lanes.iter().map(|(run, lane)| (*run, (*lane).clone(), ink(*run))).collect()
        }
    }
}

/// The levels that lie apart from 0, each with its name where that does not touch another.
fn draw_levels(stage: &Stage<'_, '_>, levels: [(&str, f64); 3], scale: Scale) -> Done {
    let mut named: Vec<f64> = Vec::new();
    for (name, level) in levels {
        let y = scale.y(level);
        if level > scale.most || scale.y(0.0) - y <= 4.0 {
            continue;
        }
        stage.pen.dashes((stage.left, y), (stage.right, y), (3.0, 4.0), Shade::Grey)?;
        if named.iter().all(|other| (other - y).abs() > 10.0) && y - 6.0 > scale.top {
            let at = (stage.right - 2.0, y - 6.0);
            stage.pen.text(name, at, Anchor::Right, 9.0, false, Shade::Grey)?;
            named.push(y);
        }
    }
    Ok(())
}
