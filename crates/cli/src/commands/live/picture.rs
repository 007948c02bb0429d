//! What is on the screen now.

use super::menu::Open;
use super::session::Session;
use crate::output::style::{Ink, Look};
use crate::view::events::Rows;
use crate::view::live::{Row, SEEN, Screen};
use crate::view::of_seat;
use crate::view::why::Words;
use harmonym_lab::live::Follow;
use harmonym_lab::trace::Lane;
use harmonym_runtime::base::{ActionId, Kind, Seat, Time};
use harmonym_runtime::engine::{EpisodeState, EventKind, Frame, Notice};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::widgets::Widget;

/// So many rows of events are shown.
const MOST_EVENTS: usize = 12;

/// From here on it is told that reports come late.
const LATE: Time = Time::from_millis(17);

/// What the person looks at.
pub struct Eye {
    /// The chosen action.
    pub chosen: Option<(Seat, ActionId)>,
    /// Where time stands still.
    pub still: Option<Time>,
    pub menu: Option<Open>,
    /// What was said last.
    pub words: Option<String>,
    follow: Option<Follow>,
    why: String,
}

impl Eye {
    pub fn new() -> Self {
        Self {
            chosen: None,
            still: None,
            menu: None,
            words: None,
            follow: None,
            why: String::new(),
        }
    }

    /// Others are at work now: nothing of what was followed is so any more.
    pub fn begin_anew(&mut self) {
        self.follow = None;
        self.still = None;
    }

    /// Takes in what happened, for when it is looked at.
    pub fn go_on(&mut self, session: &Session) {
        if let Some(follow) = &mut self.follow {
            follow.go_on(&session.live, session.live.now());
        }
    }

    /// The rows there are: the actions of open maps, those of each seat together.
    pub fn rows(&self, session: &mut Session) -> Vec<(Seat, ActionId)> {
        let plan = session.plan().clone();
        let mut all = Vec::new();
        for seat in playing(session) {
            let open = session.live.frame(seat).open_maps();
            let lives = |id: &&ActionId| {
                let homes = plan.actions()[**id].maps.of(plan.listed_maps());
                homes.iter().any(|map| open.contains(map))
            };
            all.extend(plan.by_file().iter().filter(lives).map(|&id| (seat, id)));
        }
        all
    }

    /// Chooses the next row, or the one before.
    pub fn choose(&mut self, session: &mut Session, down: bool) {
        let rows = self.rows(session);
        let now = rows.iter().position(|row| Some(*row) == self.chosen);
        let next = match now {
            None => 0,
            Some(now) if down => (now + 1).min(rows.len().saturating_sub(1)),
            Some(now) => now.saturating_sub(1),
        };
        self.chosen = rows.get(next).copied();
    }

    /// Why the chosen action is as it was looked at last.
    pub fn why(&self) -> &str {
        &self.why
    }

    /// Looks at why the chosen action is as it is, at `at`.
    pub fn look(&mut self, session: &Session, at: Time) {
        let Some((seat, action)) = self.chosen else {
            self.why.clear();
            return;
        };
        let is_back = self.still.is_some();
        let is_other = self.follow.as_ref().is_none_or(|follow| follow.of() != (seat, action));
        // A run goes forward only: what was is looked at from the beginning.
        if is_other || is_back {
            self.follow = Some(Follow::new(&session.live, seat, action));
        }
        let Some(follow) = &mut self.follow else { return };
        let story = follow.at(&session.live, at);
        let plan = session.plan();
        let words = Words { plan, action };
        let many = playing(session).len() > 1;
        let why = story.moment.as_ref().map(|moment| words.moment(&story, moment));
        let why = why.unwrap_or_default();
        self.why = if many { format!("Seat {seat}: {why}") } else { why };
        if is_back {
            self.follow = None;
        }
    }

    /// Draws all of it.
    pub fn draw(
        &mut self,
        session: &mut Session,
        (keys, look, ascii): (&[(&str, &str)], Look, bool),
        area: Rect,
        buffer: &mut Buffer,
    ) {
        let rows = self.rows(session);
        if self.chosen.is_none_or(|chosen| !rows.contains(&chosen)) {
            self.chosen = rows.first().copied();
        }
        let at = self.still.unwrap_or_else(|| session.now());
        self.look(session, at);
        let plan = session.plan().clone();
        let many = playing(session).len() > 1;
        let whose = |seat: Seat| Some(seat).filter(|_| many);
        let readings: Vec<String> =
            rows.iter().map(|&(seat, id)| self.reading(session, seat, id, at)).collect();
        let seat = self.chosen.map_or(Seat::FIRST, |(seat, _)| seat);
        let menu = self.menu.map(|menu| menu.shown(&mut session.live, seat));
        let around = around(session);
        let events = events(session, at, area.width);
        let lane = |seat: Seat, id: ActionId| {
            session.live.lanes().lanes.iter().find(|lane| (lane.seat, lane.action) == (seat, id))
        };
        let shown: Vec<Row<'_>> = rows
            .iter()
            .zip(readings)
            .filter_map(|(&(seat, id), reading)| {
                let name = of_seat(whose(seat), &plan.names().actions[id]).into_owned();
                Some(Row { name, lane: lane(seat, id)?, reading })
            })
            .collect();
        let chosen = rows.iter().position(|row| Some(*row) == self.chosen).unwrap_or(0);
        let title = session.title.clone().unwrap_or_else(|| "live".to_owned());
        let screen = Screen {
            title: &title,
            around: &around,
            rows: &shown,
            chosen,
            at,
            is_still: self.still.is_some(),
            why: &self.why,
            events: &events,
            words: self.words.as_deref(),
            menu: menu.as_ref(),
            keys,
            ascii,
            color: look.color,
        };
        (&screen).render(area, buffer);
    }

    /// What is read of an action.
    fn reading(&self, session: &mut Session, seat: Seat, id: ActionId, at: Time) -> String {
        let kind = session.plan().actions()[id].kind;
        if self.still.is_some() {
            let lanes = &session.live.lanes().lanes;
            let lane = lanes.iter().find(|lane| (lane.seat, lane.action) == (seat, id));
            return lane.map_or(String::new(), |lane| was(lane, kind, at));
        }
        reading(session.live.frame(seat), id, kind)
    }
}

/// The seats that play.
pub fn playing(session: &Session) -> Vec<Seat> {
    session.live.seats().all().filter(|seat| session.live.plays(*seat)).collect()
}

fn reading(frame: Frame<'_>, id: ActionId, kind: Kind) -> String {
    let state = match frame.state(id) {
        EpisodeState::Rest => "",
        EpisodeState::Live => "live",
        EpisodeState::Pending => match frame.progress(id) {
            0.0 => "pending",
            progress => return format!("pending {:.0} %", (progress * 100.0).floor()),
        },
    };
    match kind {
        Kind::Switch => state.to_owned(),
        kind => format!("{:.2}", frame.value(id).display(kind)),
    }
}

/// What was read of it then.
fn was(lane: &Lane, kind: Kind, at: Time) -> String {
    let until = lane.values.partition_point(|(t, _)| *t <= at);
    match (kind, until.checked_sub(1)) {
        (Kind::Switch, _) => {
            let mut spans = lane.spans_until(at);
            let is = spans.find(|(from, to, _)| (*from..*to).contains(&at));
            is.map_or("", |(.., state)| match state {
                harmonym_lab::trace::State::Pending => "pending",
                harmonym_lab::trace::State::Live => "live",
            })
            .to_owned()
        }
        (_, None) => String::new(),
        (kind, Some(last)) => format!("{:.2}", lane.values[last].1.display(kind)),
    }
}

/// The scheme in use, the devices, the seats and the take, in one line.
pub fn around(session: &mut Session) -> Vec<(String, bool)> {
    let plan = session.plan().clone();
    let seats = playing(session);
    let mut all = Vec::new();
    for &seat in &seats {
        let scheme = session.live.frame(seat).scheme_in_use();
        if let Some(scheme) = scheme {
            let name = &plan.names().schemes[scheme];
            all.push((of_seat(Some(seat).filter(|_| seats.len() > 1), name).into_owned(), false));
        }
    }
    if session.live.frame(Seat::FIRST).is_paused() {
        all.push(("paused".to_owned(), true));
    }
    let devices = session.devices();
    if !devices.is_empty() {
        all.push((devices.join(" "), false));
    }
    // What is a frame late is felt.
    if session.late.0 >= LATE && session.now().since(session.late.1) <= Time::from_millis(2_000) {
        all.push((format!("reports come {:.0} ms late", session.late.0.seconds() * 1e3), true));
    }
    if let Some(recorder) = &session.recorder {
        let name = crate::escape::named(recorder.path());
        all.push((format!("recording {name} ({} inputs)", recorder.inputs), true));
    }
    if !session.hands_on && session.kept.is_some() {
        all.push(("keys are the view's".to_owned(), true));
    }
    all
}

/// The last events before `at`, as rows.
pub fn events(session: &Session, at: Time, width: u16) -> Vec<(Ink, String)> {
    let plan = session.plan();
    let seats = playing(session).len() as u8;
    let look = Look { color: false, width: usize::from(width), columns: usize::from(width) };
    let highest = playing(session).last().map_or(1, |seat| seat.number());
    let mut rows = Rows::new(plan, highest.max(seats), look, |_| true);
    let mut all = Vec::new();
    let told = session.live.told();
    let until =
        told.iter().rposition(|told| time_of(&told.notice) <= at).map_or(0, |last| last + 1);
    for told in told.range(until.saturating_sub(MOST_EVENTS)..until) {
        let ink = match told.notice {
            Notice::Event(event) => match event.kind {
                EventKind::Fire(..) => Ink::Strong,
                EventKind::Lapse(_) => Ink::Missed,
                EventKind::Wake | EventKind::Rest(_) => Ink::Faint,
            },
            _ => Ink::Faint,
        };
        if let Some(row) = rows.told(*told) {
            all.extend(row.lines().map(|line| (ink, line.to_owned())));
        }
    }
    let last = all.len().saturating_sub(MOST_EVENTS);
    all.split_off(last)
}

/// When it was told.
pub fn time_of(notice: &Notice) -> Time {
    match *notice {
        Notice::Event(event) => event.t,
        Notice::Scheme { t, .. }
        | Notice::Map { t, .. }
        | Notice::Pause { t, .. }
        | Notice::Plan { t, .. }
        | Notice::Device { t, .. }
        | Notice::Seat { t, .. } => t,
    }
}

/// Whether something is still on its way through what is seen.
pub fn moves(session: &Session) -> bool {
    let live = &session.live;
    let told = live.told().back().map(|told| time_of(&told.notice));
    let last = told.unwrap_or_default().max(live.last_input());
    session.now().since(last) <= SEEN || live.lanes().lanes.iter().any(Lane::is_open)
}
