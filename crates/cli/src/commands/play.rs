//! `play`: a score or take through the engine, and what came out.

use super::hands::{About, HandsFile, Take, asked_seat, expect_short, expect_whole};
use super::rates;
use super::show::{Found, find};
use super::time;
use crate::args::{Format, PlayArgs};
use crate::commands::load_as;
use crate::failure::Failure;
use crate::files::Loaded;
use crate::output::Output;
use crate::output::style::Ink;
use crate::view::events::Rows;
use crate::view::lanes::{self, Style};
use crate::view::summary::Summary;
use harmonym_lab::score::{self, Score};
use harmonym_lab::take::{End, Input, Playing, Run, Watcher};
use harmonym_lab::told::Lines;
use harmonym_lab::trace::Lanes;
use harmonym_lang::report::{did_you_mean, nearest};
use harmonym_runtime::base::{ActionId, Id, Rate, SchemeId, Seat, Time};
use harmonym_runtime::engine::{Frame, Notice};
use harmonym_runtime::plan::Plan;
use harmonym_runtime::seats::Told;
use std::ops::ControlFlow;
use std::path::Path;
use std::sync::Arc;

pub fn run(file: Option<&Path>, args: &PlayArgs, output: &mut Output) -> Result<(), Failure> {
    output.page();
    let loaded = load_as(file, &args.hands.player, output)?;
    if let Some(rates) = &args.rates {
        return rates::run(&loaded, args, rates, output);
    }
    let options = Options::new(args, &loaded)?;
    let hands = HandsFile::open(&args.hands.input)?;
    if hands.is_take {
        return play_take(hands, &args.hands.input, &loaded, &options, output);
    }
    let score = score::read(&hands.into_source()?, &loaded.plan)?;
    play_score(&score, (&args.hands.input, &loaded), &options, output)
}

/// How to play.
pub struct Options {
    rate: Option<Rate>,
    until: Option<Time>,
    /// The one scheme whose bindings count.
    scheme: Option<SchemeId>,
    /// For each action, whether it is shown.
    shown: Vec<bool>,
    /// The number of the one seat that is shown.
    seat: Option<u8>,
    /// Whether some are not, as was asked.
    is_narrow: bool,
    values: bool,
    format: Format,
    /// How lanes are drawn, if they are asked for: in ASCII, and how wide.
    lanes: Option<(bool, Option<usize>)>,
}

impl Options {
    fn new(args: &PlayArgs, loaded: &Loaded) -> Result<Self, Failure> {
        let (rate, scheme) = args.hands.asked(loaded)?;
        let until = args.until.as_deref().map(|text| time("--until", text)).transpose()?;
        let shown = chosen(&args.only, loaded)?;
        let lanes = args.lanes.then(|| (args.ascii, args.columns.map(usize::from)));
        let (values, format) = (args.values, args.format);
        let is_narrow = !args.only.is_empty();
        let seat = args.hands.seat;
        Ok(Self { rate, until, scheme, shown, seat, is_narrow, values, format, lanes })
    }

    /// Everything as text, or drawn in time.
    pub fn plain(plan: &Plan, in_time: bool) -> Self {
        let shown = vec![true; plan.actions().len()];
        let (values, format) = (false, Format::Text);
        let lanes = in_time.then_some((false, None));
        let is_narrow = false;
        let (rate, until, scheme, seat) = (None, None, None, None);
        Self { rate, until, scheme, shown, seat, is_narrow, values, format, lanes }
    }

    fn is_shown(&self, action: ActionId) -> bool {
        self.shown[action.index()]
    }

    /// Whether a seat is shown, or what is nobody's.
    fn shows(&self, seat: Option<Seat>) -> bool {
        match (self.seat, seat) {
            (Some(one), Some(seat)) => one == seat.number(),
            _ => true,
        }
    }
}

/// For each action, whether it is one of those that are asked for: all, if nothing is.
pub fn chosen(only: &[String], loaded: &Loaded) -> Result<Vec<bool>, Failure> {
    let found: Vec<Found> =
        only.iter().map(|address| find(&loaded.profile, address)).collect::<Result<_, _>>()?;
    let mut shown = vec![found.is_empty(); loaded.plan.actions().len()];
    for id in loaded.profile.actions.ids() {
        let is_asked = found.iter().any(|one| one.holds(&loaded.profile, id));
        shown[id.in_plan(&loaded.plan).index()] |= is_asked;
    }
    Ok(shown)
}

pub fn parse_rate(text: &str) -> Result<Rate, Failure> {
    Rate::parse(text).ok_or_else(|| {
        let help = format!("write {}", Rate::RANGE);
        Failure::new(format!("`--rate` cannot be `{text}`"), help)
    })
}

/// The scheme called `name`.
pub fn scheme(loaded: &Loaded, name: &str) -> Result<SchemeId, Failure> {
    let names = &loaded.plan.names().schemes;
    let found = names.entries().find(|(_, known)| *known == name).map(|(id, _)| id);
    found.ok_or_else(|| {
        let help = did_you_mean(nearest(name, names.iter().map(String::as_str)), || {
            "`harmonym show` lists the schemes".to_owned()
        });
        Failure::new(format!("there is no scheme `{name}`"), help)
    })
}

/// Plays a score and shows what came out.
pub fn play_score(
    score: &Score,
    (path, loaded): (&Path, &Loaded),
    options: &Options,
    output: &mut Output,
) -> Result<(), Failure> {
    let rate = options.rate.or(score.rate).unwrap_or(Rate::DEFAULT);
    expect_short(rate, score.end())?;
    let mut player = Player::begin(&About::of(score, path), loaded, options, output)?;
    for input in score.perform() {
        if player.input(input).is_break() {
            break;
        }
    }
    player.finish()
}

fn play_take(
    file: HandsFile,
    path: &Path,
    loaded: &Loaded,
    options: &Options,
    output: &mut Output,
) -> Result<(), Failure> {
    let name = file.name();
    let mut take = Take::of(file, path, &name, loaded)?;
    output.begin(take.size);
    let mut player = Player::begin(&take.about, loaded, options, output)?;
    loop {
        if let Some(read) = take.progress() {
            player.view.output.advance(read);
        }
        let Some(input) = take.next()? else { break };
        expect_short(player.rate, input.t)?;
        if player.input(input).is_break() {
            break;
        }
        player.view.failed()?;
    }
    player.finish()
}

/// A run with somebody looking on.
struct Player<'a> {
    run: Run,
    rate: Rate,
    view: View<'a>,
}

/// Shows what a run tells.
struct View<'a> {
    /// The plan for the layout of the hands.
    plan: Arc<Plan>,
    options: &'a Options,
    output: &'a mut Output,
    rows: Rows<'a>,
    summary: Summary,
    /// The run laid out in time, if that is asked for.
    lanes: Option<Lanes>,
    /// The first failure to write; nothing is written after it.
    failure: Option<Failure>,
}

impl<'a> Player<'a> {
    fn begin(
        about: &About,
        loaded: &'a Loaded,
        options: &'a Options,
        output: &'a mut Output,
    ) -> Result<Self, Failure> {
        let About { title, start, rate, seats, .. } = about;
        let seats = seats.unwrap_or(loaded.plan.seats());
        asked_seat(options.seat, seats)?;
        let rate = options.rate.or(*rate).unwrap_or(Rate::DEFAULT);
        expect_short(rate, options.until.unwrap_or_default())?;
        let rows = Rows::new(&loaded.plan, seats, output.look, |id| options.is_shown(id));
        if options.format == Format::Json {
            output.write(|out| Lines { plan: &loaded.plan }.start(out, title.as_deref(), rate))?;
        } else {
            let title = output.look.paint(Ink::Strong, about.shown_title());
            output.line(&format!("{title}, at {rate} ticks a second"))?;
            if start.is_none() && !loaded.profile.maps.iter().any(|map| map.start) {
                output.remark(
                    "note: no map is open: none has `start = true`, and the file names none",
                )?;
            }
            if options.lanes.is_none() {
                output.line(&rows.heading())?;
            }
        }
        let (scheme, seats) = (options.scheme, seats);
        let playing = Playing { start: *start, rate, scheme, seats: Some(seats) };
        let plan = about.plan(loaded)?;
        let summary = Summary::new(&plan, seats, *start);
        let lanes = options.lanes.map(|_| Lanes::new(&plan, seats));
        let mut view =
            View { plan: Arc::clone(&plan), options, output, rows, summary, lanes, failure: None };
        let run = Run::new(plan, playing, options.until, &mut view);
        Ok(Self { run, rate, view })
    }

    fn input(&mut self, input: Input) -> ControlFlow<()> {
        let flow = self.run.input(input, &mut self.view);
        if let Some(lanes) = self.view.lanes.as_mut().filter(|_| flow.is_continue()) {
            lanes.input(&self.view.plan, &input);
        }
        flow
    }

    fn finish(mut self) -> Result<(), Failure> {
        let end = self.run.finish(&mut self.view);
        self.view.output.end();
        self.view.failed()?;
        self.view.end(end)?;
        expect_whole(end.is_cut)
    }
}

impl View<'_> {
    /// Gives back the failure to write, if there was one.
    fn failed(&mut self) -> Result<(), Failure> {
        self.failure.take().map_or(Ok(()), Err)
    }

    fn write(&mut self, write: impl FnOnce(&mut String)) {
        if self.failure.is_none() {
            self.failure = self.output.write(write).err();
        }
    }

    fn rows(&mut self, rows: Vec<String>) {
        for row in rows {
            self.write(|out| {
                out.push_str(row.trim_end());
                out.push('\n');
            });
        }
    }

    fn end(&mut self, end: End) -> Result<(), Failure> {
        let plan = &Arc::clone(&self.plan);
        if self.options.format == Format::Json {
            return self.output.write(|out| Lines { plan }.end(out, end));
        }
        if let (Some(lanes), Some((ascii, columns))) = (&mut self.lanes, self.options.lanes) {
            lanes.finish(plan, end.t);
            let width = columns.unwrap_or(self.output.look.columns);
            let style = Style { ascii, width, look: self.output.look };
            let text =
                lanes::draw(lanes, plan, style, (self.options.is_narrow, &[]), |seat, id| {
                    self.options.is_shown(id) && self.options.shows(Some(seat))
                });
            self.output.write(|out| out.push_str(&text))?;
        }
        let table = self.summary.table(plan, self.output.look, |id| self.options.is_shown(id));
        self.output.line(&format!("\nEnded at {:.4} s, tick {}", end.t, end.tick))?;
        self.output.write(|out| out.push_str(&table))
    }
}

impl Watcher for View<'_> {
    fn notice(&mut self, told: Told) {
        if let Notice::Map { map, open: true, .. } = told.notice {
            self.summary.opens(map);
        }
        if !self.options.shows(told.seat) {
            return;
        }
        if let Notice::Event(event) = &told.notice {
            if !self.options.is_shown(event.action) {
                return;
            }
            self.summary.event(told.seat.unwrap_or(Seat::FIRST), event);
        }
        let plan = &Arc::clone(&self.plan);
        if let Some(lanes) = &mut self.lanes {
            lanes.notice(plan, &told);
        } else if self.options.format == Format::Json {
            self.write(|out| Lines { plan }.notice(out, told));
        } else {
            let rows = self.rows.notice(told);
            self.rows(rows);
        }
    }

    fn tick(&mut self, seat: Seat, frame: Frame<'_>, t: Time) {
        if let Some(lanes) = &mut self.lanes {
            lanes.tick(seat, frame, t);
        }
        if !self.options.values || !self.options.shows(Some(seat)) {
            return;
        }
        let (plan, options) = (&Arc::clone(&self.plan), self.options);
        if options.format == Format::Json {
            self.write(|out| {
                Lines { plan }.values(out, (seat, frame), t, |id| options.is_shown(id));
            });
            return;
        }
        for action in frame.changed().filter(|&id| options.is_shown(id)) {
            let value = frame.value(action);
            let rows = self.rows.value((t, frame.ticks()), (seat, action), value);
            self.rows(rows);
        }
    }
}
