//! `live`: hands at work, on a whole screen.

use super::keys::{Asks, asks, hand_over};
use super::menu::{Of, Open};
use super::picture::{Eye, moves};
use super::recorder::{expect_free, free_name};
use super::session::Session;
use crate::args::{From, LiveArgs};
use crate::escape::named;
use crate::failure::Failure;
use crate::output::Output;
use crate::output::terminal::{Presses, is_away, is_back};
use harmonym_lab::live::BACK;
use harmonym_lab::transcribe::expected;
use harmonym_runtime::base::{Seat, Time};
use harmonym_runtime::plan::Plan;
use ratatui::Terminal;
use ratatui::backend::CrosstermBackend;
use std::io::{self, IsTerminal, Stdout};
use std::path::Path;
use std::sync::Arc;
use std::time::{Duration, Instant};

/// No more pictures than this are drawn: with what it takes to draw one, nothing is seen later than a sixtieth of a
/// second after it came.
const FRAME: Duration = Duration::from_micros(15_500);

/// While lanes only move on, a picture is drawn so often.
const MOVES: Duration = Duration::from_millis(100);

/// A step back in time, and a far one.
const STEP: Time = Time::from_millis(100);
const FAR: Time = Time::from_millis(1_000);

/// What is copied happened within so long.
const LATELY: Time = Time::from_millis(5_000);

pub fn show(file: Option<&Path>, args: &LiveArgs, output: &mut Output) -> Result<(), Failure> {
    if !io::stdin().is_terminal() || !io::stdout().is_terminal() {
        let message = "there is no terminal to draw on";
        let help = "record hands without a view: harmonym record FILE --from evdev";
        return Err(Failure::new(message, help));
    }
    if let Some(path) = &args.record {
        expect_free(path, file, &args.real)?;
    }
    let mut session = Session::begin(file, &args.real, output)?;
    let unusable = |error: io::Error| {
        let message = format!("the terminal can't be used: {error}");
        Failure::new(message, "record hands without a view: harmonym record FILE --from evdev")
    };
    let presses = Presses::begin_whole().map_err(unusable)?;
    session.listen_to_terminal()?;
    // Where a keyboard is heard, be it this one or all, its keys go to the actions first.
    session.hands_on = session.hears_terminal || args.real.from.contains(&From::Evdev);
    let takes_keys = session.hands_on;
    if let Some(path) = &args.record {
        session.record(path, None)?;
    }
    if !presses.tells_releases() && session.hears_terminal {
        session.words.push(
            "this terminal does not tell when keys come up: each is a short press, held while it repeats".to_owned(),
        );
    }
    let terminal = Terminal::new(CrosstermBackend::new(io::stdout())).map_err(unusable)?;
    let mut view = View {
        session,
        terminal,
        eye: Eye::new(),
        look: output.look,
        ascii: args.ascii,
        takes_keys,
        key: "",
        of: None,
        wrote: Vec::new(),
        copied: Vec::new(),
    };
    let done = view.go_on();
    let View { mut session, wrote, copied, .. } = view;
    drop(presses);
    let mut wrote = wrote;
    if let Some(recorder) = session.recorder.take() {
        wrote.push(recorder.end()?.told());
    }
    done?;
    for told in wrote {
        output.remark(&told)?;
    }
    for line in copied {
        output.line(&line)?;
    }
    Ok(())
}

struct View {
    session: Session,
    terminal: Terminal<CrosstermBackend<Stdout>>,
    eye: Eye,
    look: crate::output::style::Look,
    ascii: bool,
    /// Whether the keys of the terminal can go to the actions at all.
    takes_keys: bool,
    /// The key that hands the keyboard over, and the profile that leaves it free.
    key: &'static str,
    of: Option<Arc<Plan>>,
    /// What became of the takes that were recorded.
    wrote: Vec<String>,
    /// The lines that were copied: who has no clipboard finds them at the end.
    copied: Vec<String>,
}

impl View {
    fn go_on(&mut self) -> Result<(), Failure> {
        let mut drawn = (u64::MAX, Instant::now(), (0, 0));
        let mut is_stale = true;
        loop {
            let since = drawn.1.elapsed();
            let is_new = self.session.live.changes() != drawn.0 && self.eye.still.is_none();
            let goes_on = self.eye.still.is_none() && moves(&self.session);
            let wait = match (is_stale || is_new, goes_on) {
                (true, _) => FRAME.saturating_sub(since),
                (false, true) => MOVES.saturating_sub(since),
                (false, false) => Duration::from_millis(250),
            };
            let size = crossterm::terminal::size().unwrap_or_default();
            if is_back() {
                // Others have written on it meanwhile, and it is empty now.
                let empty = Terminal::new(CrosstermBackend::new(io::stdout()));
                self.terminal = empty.map_err(|error| Failure::unwritten(&error))?;
                is_stale = true;
            }
            let is_due = wait.is_zero() || size != drawn.2;
            if is_due && !is_away() && (is_stale || is_new || goes_on || size != drawn.2) {
                // From beginning to beginning: what it takes to draw delays no frame.
                drawn = (self.session.live.changes(), Instant::now(), size);
                self.draw()?;
                is_stale = false;
                continue;
            }
            self.settle_key();
            let key = self.key;
            let title = self.session.title.clone();
            let told = self.session.step(Instant::now() + wait)?;
            if self.session.title != title {
                self.eye.begin_anew();
                is_stale = true;
            }
            self.eye.go_on(&self.session);
            if !self.session.words.is_empty() {
                let words = std::mem::take(&mut self.session.words);
                self.eye.words = Some(words.join(". "));
                // The profile may have been saved: other hands are at work.
                self.eye.begin_anew();
                is_stale = true;
            }
            for one in told {
                let hands_on = self.session.hands_on;
                let Some(asks) = asks(&one, key, hands_on, self.session.plan().layout()) else {
                    continue;
                };
                if self.answer(asks)? {
                    return Ok(());
                }
                is_stale = true;
            }
        }
    }

    /// Finds the key that hands the keyboard over, where the profile is another one.
    fn settle_key(&mut self) {
        let plan = self.session.plan();
        if self.of.as_ref().is_some_and(|of| Arc::ptr_eq(of, plan)) {
            return;
        }
        self.of = Some(Arc::clone(plan));
        self.key = hand_over(plan);
        if self.takes_keys {
            self.session.kept = plan.find_control(&format!("key.{}", self.key)).ok();
        }
    }

    fn draw(&mut self) -> Result<(), Failure> {
        self.settle_key();
        let Self { session, terminal, eye, look, ascii, takes_keys, key, .. } = self;
        let key = *key;
        let to_view = [(key, "keys to the view"), ("Ctrl-C", "end")];
        let mut keys = vec![
            ("↑↓", "choose"),
            ("Space", if eye.still.is_some() { "go on" } else { "hold still" }),
            ("←→", "a step in time"),
            ("m", "maps"),
            ("n", "settings, facts"),
            ("t", if session.recorder.is_some() { "end the take" } else { "begin a take" }),
            ("c", "copy as expect lines"),
            ("q", "end"),
        ];
        if *takes_keys {
            keys.push((key, "keys to the actions"));
        }
        if *ascii {
            keys[0].0 = "up/down";
            keys[2].0 = "left/right";
        }
        let keys = if session.hands_on { &to_view[..] } else { &keys[..] };
        let drawn = terminal.draw(|frame| {
            let area = frame.area();
            eye.draw(session, (keys, *look, *ascii), area, frame.buffer_mut());
        });
        drawn.map(|_| ()).map_err(|error| Failure::unwritten(&error))
    }

    /// Does what was asked for; whether it is the end.
    fn answer(&mut self, asks: Asks) -> Result<bool, Failure> {
        let seat = self.eye.chosen.map_or(Seat::FIRST, |(seat, _)| seat);
        let plan = self.session.plan().clone();
        let live = &mut self.session.live;
        match (asks, &mut self.eye.menu) {
            (Asks::Quit, _) => return Ok(true),
            (Asks::Hands, _) if self.takes_keys => {
                self.session.let_go()?;
                self.session.hands_on = !self.session.hands_on;
                self.eye.menu = None;
                self.eye.still = None;
            }
            (Asks::Hands, _) => {}
            (Asks::Leave, menu @ Some(_)) => *menu = None,
            (Asks::Leave, None) => self.eye.still = None,
            (Asks::Up, Some(menu)) => menu.step(&plan, false),
            (Asks::Down, Some(menu)) => menu.step(&plan, true),
            (Asks::Up, None) => self.eye.choose(&mut self.session, false),
            (Asks::Down, None) => self.eye.choose(&mut self.session, true),
            (Asks::Enter, Some(menu)) => {
                let what = menu.enter(live, seat);
                what.map_or(Ok(()), |what| self.session.act(what))?;
            }
            (Asks::Left(far) | Asks::Right(far), Some(menu)) => {
                let what = menu.change(live, seat, matches!(asks, Asks::Right(_)), far);
                what.map_or(Ok(()), |what| self.session.act(what))?;
            }
            (Asks::Left(far), None) => self.back(if far { FAR } else { STEP }),
            (Asks::Right(far), None) => self.forth(if far { FAR } else { STEP }),
            (Asks::Still, _) => {
                let still = self.eye.still.take();
                self.eye.still = still.is_none().then(|| self.session.live.now());
            }
            (Asks::Maps, _) => self.eye.menu = Some(Open::new(Of::Maps)),
            (Asks::Numbers, _) => self.eye.menu = Some(Open::new(Of::Numbers)),
            (Asks::Take, _) => self.take()?,
            (Asks::Copy, _) => self.copy(),
            (Asks::Enter, None) => {}
        }
        Ok(false)
    }

    fn back(&mut self, by: Time) {
        let now = self.session.live.now();
        let from = self.eye.still.unwrap_or(now);
        self.eye.still = Some(from.since(by).max(now.since(BACK)));
    }

    fn forth(&mut self, by: Time) {
        let now = self.session.live.now();
        if let Some(still) = self.eye.still {
            self.eye.still = Some((still + by).min(now));
        }
    }

    /// Begins a take, or ends it.
    fn take(&mut self) -> Result<(), Failure> {
        if let Some(recorder) = self.session.recorder.take() {
            let told = recorder.end()?.told();
            self.eye.words = Some(told.clone());
            self.wrote.push(told);
            return Ok(());
        }
        let Some(path) = free_name() else { return Ok(()) };
        self.session.record(&path, None)?;
        self.eye.begin_anew();
        self.eye.words = Some(format!("recording {}: all begins anew with it", named(&path)));
        Ok(())
    }

    /// Copies what came lately as lines of a score.
    fn copy(&mut self) {
        let live = &self.session.live;
        let until = self.eye.still.unwrap_or(live.now());
        let many = live.seats().all().count() > 1;
        let lines = expected(live.plan(), many, live.told().iter(), (until.since(LATELY), until));
        let count = lines.lines().count();
        if count == 0 {
            self.eye.words = Some("nothing fired or lapsed in the last 5 s".to_owned());
            return;
        }
        // OSC 52 hands a text to the clipboard of the person's machine, where the terminal allows it.
        use base64::Engine;
        let text = base64::engine::general_purpose::STANDARD.encode(&lines);
        let done = crossterm::execute!(
            io::stdout(),
            crossterm::style::Print(format!("\x1b]52;c;{text}\x07"))
        );
        self.eye.words = Some(match done {
            Ok(()) => format!("copied {count} lines; they are printed at the end, too"),
            Err(_) => format!("{count} lines are printed at the end"),
        });
        self.copied.extend(lines.lines().map(str::to_owned));
    }
}
