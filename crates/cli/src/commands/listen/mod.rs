//! `listen`: waits for a press and binds what was pressed.

mod keys;

use super::write::EditSession;
use crate::args::{Listen, Writing};
use crate::commands::load_profile;
use crate::failure::{Failure, reason};
use crate::output::Output;
use crate::output::terminal::Presses;
use crossterm::event::{self, Event, KeyCode, KeyEventKind};
use harmonym_runtime::base::Kind;
use harmonym_runtime::controls::{Catalogue, Layout};
use keys::{Ear, Heard};
use std::io::{self, IsTerminal};
use std::path::Path;
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
    let layout = match &listen.layout {
        None => Layout::default(),
        Some(word) => Layout::from_word(word).ok_or_else(|| {
            let message = format!("there is no layout `{word}`");
            Failure::new(message, format!("the layouts are {}", Layout::words()))
        })?,
    };
    let until = listen.wait.map(|wait| Instant::now() + Duration::from_nanos(wait.nanos()));
    if !io::stdin().is_terminal() || !io::stderr().is_terminal() {
        let help = format!(
            "name the control instead: harmonym bind {address} key.KeyH; \
             `harmonym controls WORDS` finds it"
        );
        return Err(Failure::new("there is no terminal to listen to", help));
    }
    let pad = match loaded.profile.actions[id].kind {
        Kind::Axis => "pad.left-stick.x",
        Kind::Plane => "pad.left-stick",
        _ => "pad.south",
    };
    output.remark(&format!(
        "a terminal sees keys and the mouse; name a gamepad's control: \
         harmonym bind {address} {pad}"
    ))?;
    let asked = Asked { address: &address, parts, layout, until };
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

/// What is waited for.
struct Asked<'a> {
    address: &'a str,
    /// The parts that are asked for one after the other.
    parts: &'a [&'a str],
    layout: Layout,
    until: Option<Instant>,
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
            let Some(expression) = wait(self.layout, self.until)? else { return Ok(None) };
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
fn places(expression: &str) -> String {
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

/// Waits for a press; nothing when the hand leaves or the time is over.
fn wait(layout: Layout, until: Option<Instant>) -> Result<Option<String>, Failure> {
    let _presses = begin()?;
    let mut ear = Ear::default();
    while let Some(event) = next(until)? {
        match ear.hear(&event, layout) {
            Heard::Expression(expression) => return Ok(Some(expression)),
            Heard::Leave => return Ok(None),
            Heard::Nothing => {}
        }
    }
    Ok(None)
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
