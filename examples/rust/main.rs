//! A small game: a keeper on the quay, a boat that can be hailed, a bell that can be rung.
//!
//! `quay PROFILE` is played with the keyboard, in a terminal. `quay PROFILE TAKE` plays a take and prints what
//! `harmonym play --format json` prints of it.

use crossterm::event::{self, Event, KeyCode, KeyEvent, KeyModifiers};
use crossterm::terminal::{Clear, ClearType, disable_raw_mode, enable_raw_mode};
use crossterm::{cursor, execute};
use harmonym_lab::take::{Replay, Step};
use harmonym_lab::told::Lines;
use harmonym_lang::Game;
use harmonym_lang::runtime::{ActionId, Contact, EventReader, Frame, Time};
use std::collections::BTreeMap;
use std::error::Error;
use std::io::{Write, stdout};
use std::process::ExitCode;
use std::time::{Duration, Instant};

/// How long the quay is, in steps.
const LENGTH: f64 = 40.0;
/// Steps a second.
const PACE: f64 = 8.0;
/// A terminal tells of keys that go down, not of keys that come up: so long after the last it did.
const KEY: Duration = Duration::from_millis(150);

/// The game: it knows actions, and nothing of keys.
struct Quay {
    walk: ActionId,
    hail: ActionId,
    ring: ActionId,
    keeper: f64,
    boat: f64,
    says: &'static str,
}

impl Quay {
    fn new(game: &Game) -> Result<Self, Box<dyn Error>> {
        Ok(Self {
            walk: game.action("quay.walk")?,
            hail: game.action("quay.hail")?,
            ring: game.action("harbour.ring-bell")?,
            keeper: 5.0,
            boat: LENGTH - 5.0,
            says: "",
        })
    }

    /// One frame of so many seconds.
    fn frame(&mut self, hands: Frame<'_>, seconds: f64) {
        self.keeper += hands.value(self.walk).x * PACE * seconds;
        self.keeper = self.keeper.clamp(0.0, LENGTH - 1.0);
        if hands.fired(self.hail) > 0 {
            self.boat = self.keeper;
            self.says = "The boat comes alongside.";
        }
        if hands.fired(self.ring) > 0 {
            self.boat = LENGTH - 5.0;
            self.says = "The bell rings, and the boat leaves.";
        }
    }

    fn draw(&self) -> String {
        let row = |at: f64, what: &str, of: char| {
            let at = at.round() as usize;
            let line = (0..LENGTH as usize)
                .map(|x| if x == at { what.to_owned() } else { of.to_string() });
            line.collect::<String>()
        };
        let rows = [
            "Lantern Quay: A and D walk, H hails, Ctrl-T rings, Q ends".to_owned(),
            row(self.boat, "B", '~'),
            row(self.keeper, "@", '='),
            self.says.to_owned(),
        ];
        rows.map(|row| format!("{row}\x1b[K\r\n")).concat()
    }
}

fn main() -> ExitCode {
    let Err(error) = play() else { return ExitCode::SUCCESS };
    eprintln!("{error}");
    ExitCode::from(2)
}

fn play() -> Result<(), Box<dyn Error>> {
    let args: Vec<String> = std::env::args().skip(1).collect();
    let [profile, takes @ ..] = &args[..] else { return Err("usage: quay PROFILE [TAKE]".into()) };
    let game = Game::parse(profile, &std::fs::read_to_string(profile)?)?;
    match takes {
        [] => by_hand(&game),
        [take] => of_take(&game, take),
        _ => Err("usage: quay PROFILE [TAKE]".into()),
    }
}

/// Plays a take, and prints its events.
fn of_take(game: &Game, take: &str) -> Result<(), Box<dyn Error>> {
    let text = std::fs::read_to_string(take)?;
    let mut replay = Replay::of_game(take, &text, game)?;
    let (mut hands, mut reader) = (replay.hands(), EventReader::default());
    let plan = hands.plan().clone();
    let (mut quay, mut last, mut out) = (Quay::new(game)?, Time::ZERO, String::new());
    let lines = Lines { plan: &plan };
    lines.start(&mut out, replay.header().title.as_deref(), replay.rate());
    while let Some(step) = replay.step(&mut hands) {
        match step {
            Step::Input(input) => input.give_to(&mut hands)?,
            Step::Tick(at) => {
                hands.tick(at);
                quay.frame(hands.seat(1), at.since(last).as_secs_f64());
                last = at;
            }
        }
        hands.events(&mut reader).for_each(|told| lines.notice(&mut out, told));
    }
    hands.stop();
    hands.events(&mut reader).for_each(|told| lines.notice(&mut out, told));
    lines.end(&mut out, replay.end());
    Ok(stdout().write_all(out.as_bytes())?)
}

/// The names of what a key of the terminal reports.
fn controls(key: KeyEvent) -> Vec<String> {
    let KeyCode::Char(letter) = key.code else { return Vec::new() };
    let letter = format!("key.Key{}", letter.to_ascii_uppercase());
    match key.modifiers.contains(KeyModifiers::CONTROL) {
        true => vec!["key.ControlLeft".to_owned(), letter],
        false => vec![letter],
    }
}

/// Plays with the keyboard.
fn by_hand(game: &Game) -> Result<(), Box<dyn Error>> {
    let (mut hands, mut quay) = (game.hands(1), Quay::new(game)?);
    let (begun, mut last) = (Instant::now(), Time::ZERO);
    // The keys that are down, and when they count as up.
    let mut down: BTreeMap<Contact, Instant> = BTreeMap::new();
    let _raw = Raw::begin()?;
    loop {
        let until = Instant::now() + Duration::from_millis(16);
        while event::poll(until.saturating_duration_since(Instant::now()))? {
            let Event::Key(key) = event::read()? else { continue };
            let is_ctrl_c =
                key.code == KeyCode::Char('c') && key.modifiers == KeyModifiers::CONTROL;
            if key.code == KeyCode::Char('q') || is_ctrl_c {
                return Ok(());
            }
            for control in controls(key) {
                let Ok(control) = game.control(&control) else { continue };
                hands.report(begun.elapsed().into(), Contact::first(control), true)?;
                down.insert(Contact::first(control), Instant::now() + KEY);
            }
        }
        let up: Vec<Contact> =
            down.iter().filter(|(_, at)| **at <= Instant::now()).map(|(c, _)| *c).collect();
        for contact in up {
            hands.report(begun.elapsed().into(), contact, false)?;
            down.remove(&contact);
        }
        let now: Time = begun.elapsed().into();
        hands.tick(now);
        quay.frame(hands.seat(1), now.since(last).as_secs_f64());
        last = now;
        execute!(stdout(), cursor::MoveTo(0, 0))?;
        write!(stdout(), "{}", quay.draw())?;
        stdout().flush()?;
    }
}

/// The terminal as a game has it; given back when that ends in whatever way.
struct Raw;

impl Raw {
    fn begin() -> std::io::Result<Self> {
        enable_raw_mode()?;
        let raw = Self;
        execute!(stdout(), cursor::Hide, Clear(ClearType::All))?;
        Ok(raw)
    }
}

impl Drop for Raw {
    fn drop(&mut self) {
        let _ = execute!(stdout(), cursor::Show);
        let _ = disable_raw_mode();
    }
}
