//! `page`: hands at work, in a browser.

use super::picture::{Eye, around, events, moves};
use super::record::ends_asked;
use super::recorder::expect_free;
use super::session::Session;
use crate::args::{From, PageArgs};
use crate::draw::page;
use crate::draw::time::{Picture, Shown};
use crate::escape::named;
use crate::failure::Failure;
use crate::output::Output;
use crate::output::style::Ink;
use crate::servers::page::PageServer;
use crate::sources::page::Asks;
use harmonym_lab::live::BACK;
use harmonym_lab::take::What;
use harmonym_runtime::base::{Class, ControlKind, MapKind, Seat, Time, shortest};
use harmonym_runtime::plan::Plan;
use serde_json::{Value, json};
use std::path::Path;
use std::sync::Arc;
use std::sync::atomic::Ordering;
use std::time::{Duration, Instant};

/// No more is told than this often.
const FRAME: Duration = Duration::from_nanos(16_666_667);

/// While lanes only move on, they are told so often.
const MOVES: Duration = Duration::from_millis(50);

/// So much time is told at once.
const SEEN: Time = Time::from_millis(10_000);

/// What the page is called.
const TITLE: &str = "Hands at work";

/// So many words are shown.
const MOST_WORDS: usize = 5;

pub fn page(file: Option<&Path>, args: &PageArgs, output: &mut Output) -> Result<(), Failure> {
    if args.real.from.contains(&From::Terminal) {
        let message = "the terminal is no source of a page: the browser has the keys";
        return Err(Failure::new(message, "leave it out of `--from`"));
    }
    if let Some(path) = &args.record {
        expect_free(path, file, &args.real)?;
    }
    let mut session = Session::begin_without_terminal(file, &args.real, output)?;
    let config = config(session.plan());
    let title = "Hands at work";
    let (server, said) = PageServer::open(args.port, |secret| page::live(title, secret, &config))?;
    session.listen_to_page(said);
    if let Some(path) = &args.record {
        session.record(path, None)?;
    }
    let ends = ends_asked()?;
    for words in session.words.drain(..) {
        output.remark(&words)?;
    }
    output.line(&server.address())?;
    output.flush()?;
    output.remark("open it in a browser on this machine; Ctrl-C ends it")?;
    let mut view = View {
        session,
        server,
        eye: Eye::new(),
        is_still: false,
        words: Vec::new(),
        wrote: Vec::new(),
    };
    let done = loop {
        if ends.load(Ordering::Relaxed) {
            break Ok(());
        }
        if let Err(failure) = view.go_on() {
            break Err(failure);
        }
    };
    let View { mut session, mut wrote, .. } = view;
    if let Some(recorder) = session.recorder.take() {
        wrote.push(recorder.end()?.told());
    }
    for told in wrote {
        output.remark(&told)?;
    }
    done
}

/// What the page has to know of the profile.
pub fn config(plan: &Plan) -> String {
    let catalogue = plan.catalogue();
    let own = catalogue.classes().filter(|class| matches!(class, Class::Own(_)));
    let devices: Vec<Value> = own
        .map(|class| {
            let controls = catalogue.reported().iter().filter(|one| one.class == class);
            let controls: Vec<Value> = controls
                .map(|one| {
                    let name = one.name.split_once('.').map_or(&*one.name, |(_, name)| name);
                    json!({ "name": name, "kind": one.kind.word() })
                })
                .collect();
            json!({ "class": catalogue.word(class), "controls": controls })
        })
        .collect();
    let moves = plan.find_control("mouse.move").is_ok_and(|id| {
        plan.controls()[id].kind == ControlKind::Relative
            && plan.inputs_of().get(id).is_some_and(|own| !own.is_empty())
    });
    json!({ "devices": devices, "locks": moves }).to_string()
}

struct View {
    session: Session,
    server: PageServer,
    eye: Eye,
    is_still: bool,
    words: Vec<String>,
    wrote: Vec<String>,
}

impl View {
    /// Until something was told to the page, or a while.
    fn go_on(&mut self) -> Result<(), Failure> {
        let begun = Instant::now();
        let before = self.session.live.changes();
        let mut is_stale = false;
        loop {
            let is_new = self.session.live.changes() != before || is_stale;
            let wait = if is_new { FRAME } else { MOVES };
            let left = wait.saturating_sub(begun.elapsed());
            if left.is_zero() {
                break;
            }
            let title = self.session.title.clone();
            self.session.step(Instant::now() + left)?;
            if self.session.title != title {
                self.eye.begin_anew();
                is_stale = true;
            }
            for asks in self.session.asks() {
                is_stale = true;
                self.answer(asks)?;
            }
            for words in self.session.words.drain(..) {
                self.words.retain(|own| *own != words);
                self.words.push(words);
                self.eye.begin_anew();
                is_stale = true;
            }
        }
        let first = self.words.len().saturating_sub(MOST_WORDS);
        self.words.drain(..first);
        let is_new = is_stale || self.session.live.changes() != before;
        let is_due = match self.is_still {
            true => is_stale,
            false => is_new || moves(&self.session),
        };
        if self.server.is_watched() && is_due {
            let text = self.told(is_stale)?;
            self.server.tell(&text.into());
        }
        Ok(())
    }

    /// What there is to see, as the page takes it.
    fn told(&mut self, is_stale: bool) -> Result<String, Failure> {
        let session = &mut self.session;
        let rows = self.eye.rows(session);
        if self.eye.chosen.is_none_or(|chosen| !rows.contains(&chosen)) {
            self.eye.chosen = rows.first().copied();
        }
        let (plan, now) = (Arc::clone(session.plan()), session.now());
        self.eye.look(session, session.live.now());
        let span = if self.is_still { BACK } else { SEEN };
        let many = super::picture::playing(session).len() > 1;
        let mut lanes = session.live.lanes().seen(&plan, now.since(span), now);
        if !many {
            // Nobody else plays: nothing has to say whose it is.
            lanes.seats = 1;
        }
        let mut only = vec![false; plan.actions().len()];
        for (_, action) in &rows {
            only[harmonym_runtime::base::Id::index(*action)] = true;
        }
        let runs = [Shown { lanes: &lanes, plan: &plan }];
        let picture = Picture {
            title: "live",
            runs: &runs,
            names: ["", ""],
            from: now.since(span),
            to: now.max(Time::from_millis(1)),
            only: Some(&only),
            seat: (!many).then_some(Seat::FIRST),
        };
        let run = page::data(&picture)?;
        let kind = |ink: &Ink| match ink {
            Ink::Strong => "fire",
            Ink::Missed => "lapse",
            Ink::Head | Ink::Faint => "",
        };
        let events: Vec<Value> =
            events(session, now, 110).iter().map(|(ink, text)| json!([kind(ink), text])).collect();
        let seat = self.eye.chosen.map_or(Seat::FIRST, |(seat, _)| seat);
        let mut state = json!({
            "title": session.title.as_deref().unwrap_or(TITLE),
            "why": self.eye.why(),
            "events": events,
            "around": around(session),
            "words": self.words,
            "take": session.recorder.is_some(),
            "back": self.is_still && is_stale,
        });
        let frame = session.live.frame(seat);
        let maps = plan.maps().entries().filter(|(_, map)| map.kind != MapKind::Always);
        state["maps"] =
            maps.map(|(id, _)| json!([plan.names().maps[id], frame.is_open(id)])).collect();
        let numbers = plan.variables().entries().map(|(id, spec)| {
            let (least, most) = spec.range.unzip();
            let value = shortest(frame.number(id).unwrap_or_default()).to_string();
            json!([plan.names().variables[id], value, least, most])
        });
        state["numbers"] = numbers.collect();
        // The run is JSON already.
        let state = state.to_string();
        Ok(format!("{{\"run\":{run},{}", &state[1..]))
    }

    /// Does what a page asks for.
    fn answer(&mut self, asks: Asks) -> Result<(), Failure> {
        let plan = Arc::clone(self.session.plan());
        let seats = super::picture::playing(&self.session);
        let whose = self.eye.chosen.map(|(seat, _)| seat).filter(|_| seats.len() > 1);
        match asks {
            Asks::Choose(name) => {
                let rows = self.eye.rows(&mut self.session);
                let name_of = |(seat, action): &(Seat, _)| {
                    let seat = Some(*seat).filter(|_| seats.len() > 1);
                    crate::view::of_seat(seat, &plan.names().actions[*action]).into_owned()
                };
                if let Some(row) = rows.iter().find(|row| name_of(row) == name) {
                    self.eye.chosen = Some(*row);
                }
            }
            Asks::Map(name, open) => {
                if let Ok(map) = plan.find_map(&name) {
                    self.session.act(What::Map(whose, map, open))?;
                }
            }
            Asks::Number(name, value) => {
                if let Ok(id) = plan.find_variable(&name) {
                    self.session.act(What::Number(whose, id, value))?;
                }
            }
            Asks::Still(is_still) => self.is_still = is_still,
            Asks::Take => match self.session.recorder.take() {
                Some(recorder) => {
                    let told = recorder.end()?.told();
                    self.session.words.push(told.clone());
                    self.wrote.push(told);
                }
                None => {
                    let Some(path) = super::recorder::free_name() else { return Ok(()) };
                    self.session.record(&path, None)?;
                    self.session
                        .words
                        .push(format!("recording {}: all begins anew with it", named(&path)));
                }
            },
        }
        Ok(())
    }
}
