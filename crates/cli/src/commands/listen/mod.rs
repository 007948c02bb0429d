//! `listen`: waits for a press and binds what was pressed.

mod keys;

use super::write::EditSession;
use crate::args::{Listen, Writing};
use crate::commands::load_profile;
use crate::failure::{Failure, reason};
use crate::output::Output;
use crate::output::terminal::Presses;
use crossterm::event::{self, Event, KeyCode, KeyEventKind};
use harmonym_runtime::base::{Kind, Time};
use harmonym_runtime::controls::{Catalogue, Layout};
use harmonym_runtime::plan::Plan;
use keys::{Ear, Heard, Pressed};
use std::io::{self, IsTerminal};
use std::path::Path;
use std::sync::Arc;
use std::time::{Duration, Instant};

pub fn run(file: Option<&Path>, listen: &Listen, output: &mut Output) -> Result<(), Failure> {
    let loaded = load_profile(file, output)?;
    let address = &listen.address;
    let found = super::show::find(&loaded.profile, address)?;
    let super::show::Found::Action(id) = found else {
        return Err(Failure::new(format!("`{address}` is a map"), "name an action: quay.hail"));
    };
    let address = loaded.profile.address(id);
    let parts: &[&str] = match (&listen.part, loaded.profile.actions[id].kind) {
        (Some(_), _) | (None, Kind::Switch) => &[""],
        (None, Kind::Axis) => &["the negative side", "the positive side"],
        (None, Kind::Plane) => &["up", "left", "down", "right"],
        (None, kind) => {
            let message = format!("`{address}` is a {}: no press gives that", kind.word());
            let help = format!("name its controls: harmonym bind {address} …");
            return Err(Failure::new(message, help));
        }
    };
    let until = listen.wait.map(until_after);
    expect_terminal(&format!("harmonym bind {address} key.KeyH"))?;
    let pad = match loaded.profile.actions[id].kind {
        Kind::Axis => "pad.left-stick.x",
        Kind::Plane => "pad.left-stick",
        _ => "pad.south",
    };
    output.remark(&format!(
        "a terminal sees keys and the mouse; name a gamepad's control: \
         harmonym bind {address} {pad}"
    ))?;
    let listener = Listener::new(&loaded.plan, listen.layout.as_deref(), until)?;
    let asked = Asked { address: &address, parts, listener: &listener };
    let Some(expression) = asked.expression(listen.part.as_deref(), output)? else {
        output.remark("nothing was bound")?;
        return Err(Failure::CheckFailed);
    };
    let mut session =
        EditSession::open(file, Writing { dry_run: listen.dry_run, wait: listen.wait }, output)?;
    let bound = match &listen.part {
        Some(part) => {
            vec![session.draft.set_part(&address, part, &expression, listen.scheme.as_deref())?]
        }
        None => session.draft.bind(&address, &[expression], listen.scheme.as_deref())?.new,
    };
    let done = format!("bound {}", bound.join(", "));
    if listen.dry_run || listen.yes {
        return session.finish(&done, output);
    }
    if !session.changes() {
        return output.remark("nothing changes: it is so already");
    }
    session.prove(output)?;
    session.show(output)?;
    output.remark("Enter binds it; any other key leaves all as it is")?;
    if !confirmed(until)? {
        output.remark("nothing was bound")?;
        return Err(Failure::CheckFailed);
    }
    session.write(&done, output)
}

/// When a wait that begins now is over.
pub fn until_after(wait: Time) -> Instant {
    Instant::now() + Duration::from_nanos(wait.nanos())
}

/// Sees that there is a terminal to listen to; `instead` is what does without one.
pub fn expect_terminal(instead: &str) -> Result<(), Failure> {
    if io::stdin().is_terminal() && io::stderr().is_terminal() {
        return Ok(());
    }
    let help = format!("name the control instead: {instead}; `harmonym controls WORDS` finds it");
    Err(Failure::new("there is no terminal to listen to", help))
}

/// Waits for presses.
pub struct Listener {
    plan: Arc<Plan>,
    layout: Layout,
    until: Option<Instant>,
}

impl Listener {
    /// Listens on a keyboard of a layout, up to a moment if one is said.
    pub fn new(
        plan: &Arc<Plan>,
        layout: Option<&str>,
        until: Option<Instant>,
    ) -> Result<Self, Failure> {
        let layout = match layout {
            None => Layout::default(),
            Some(word) => Layout::from_word(word).ok_or_else(|| {
                let message = format!("there is no layout `{word}`");
                Failure::new(message, format!("the layouts are {}", Layout::words()))
            })?,
        };
        Ok(Self { plan: Arc::clone(plan), layout, until })
    }

    /// Waits for a press; nothing when the hand leaves or the time is over.
    pub fn wait(&self) -> Result<Option<Pressed>, Failure> {
        let _presses = begin()?;
        let mut ear = Ear::new(&self.plan, self.layout);
        while let Some(event) = next(self.until)? {
            match ear.hear(&event) {
                Heard::Control(pressed) => return Ok(Some(pressed)),
                Heard::Leave => return Ok(None),
                Heard::Nothing => {}
            }
        }
        Ok(None)
    }
}

/// What is waited for.
struct Asked<'a> {
    address: &'a str,
    /// The parts that are asked for one after the other.
    parts: &'a [&'a str],
    listener: &'a Listener,
}

impl Asked<'_> {
    /// Waits for each part, and gives the expression of all of them; nothing when the hand leaves.
    fn expression(
        &self,
        only: Option<&str>,
        output: &mut Output,
    ) -> Result<Option<String>, Failure> {
        let mut pressed = Vec::new();
        for part in self.parts {
            let part = only.unwrap_or(part);
            let what = if part.is_empty() { String::new() } else { format!(", {part}") };
            output.remark(&format!(
                "{}{what}: press a key or a mouse button; Ctrl-C leaves all as it is",
                self.address
            ))?;
            let Some(heard) = self.listener.wait()? else { return Ok(None) };
            let expression = heard.expression();
            output.remark(&format!("  {expression}: {}", places(&expression)))?;
            pressed.push(expression);
        }
        Ok(Some(match pressed.as_slice() {
            [one] => one.clone(),
            [neg, pos] => format!("pair({neg}, {pos})"),
            all => format!("four({})", all.join(", ")),
        }))
    }
}

/// Where the controls of an expression lie.
pub fn places(expression: &str) -> String {
    let place = |name: &str| Catalogue::built_in().find(name).map(|entry| entry.place.clone());
    expression.split(" + ").filter_map(place).collect::<Vec<_>>().join(", with ")
}

/// The next event, or none when the time is over.
fn next(until: Option<Instant>) -> Result<Option<Event>, Failure> {
    let left = until.map(|until| until.saturating_duration_since(Instant::now()));
    if let Some(left) = left
        && !event::poll(left).map_err(|error| broken(&error))?
    {
        return Ok(None);
    }
    event::read().map(Some).map_err(|error| broken(&error))
}

fn begin() -> Result<Presses, Failure> {
    Presses::begin().map_err(|error| broken(&error))
}

fn broken(error: &io::Error) -> Failure {
    let (why, _) = reason(error);
    Failure::new(format!("cannot listen to the terminal: {why}"), "name the control instead")
}

/// Whether the next key is Enter.
fn confirmed(until: Option<Instant>) -> Result<bool, Failure> {
    let _presses = begin()?;
    while let Some(event) = next(until)? {
        if let Event::Key(key) = event
            && key.kind == KeyEventKind::Press
            && !matches!(key.code, KeyCode::Modifier(_))
        {
            return Ok(key.code == KeyCode::Enter);
        }
    }
    Ok(false)
}
