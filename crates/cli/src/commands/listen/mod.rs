//! `listen`: waits for a press and binds what was pressed.

mod keys;

use super::write::EditSession;
use crate::args::{Listen, Writing};
use crate::commands::load_profile;
use crate::draw::page;
use crate::failure::{Failure, reason};
use crate::output::Output;
use crate::output::terminal::Presses;
use crate::servers::page::PageServer;
use crate::sources::Heard as Told;
use crate::sources::{Arrival, Clock, Kind, Numbers, Sources, Wanted, terminal};
use harmonym_lab::take::Input;
use harmonym_runtime::base::{ControlKind, Kind as Gives, Time};
use harmonym_runtime::controls::{Catalogue, Layout};
use harmonym_runtime::plan::Plan;
use keys::{Ear, Heard, Pressed};
use std::cell::RefCell;
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
        (Some(_), _) | (None, Gives::Switch) => &[""],
        (None, Gives::Axis) => &["the negative side", "the positive side"],
        (None, Gives::Plane) => &["up", "left", "down", "right"],
        (None, kind) => {
            let message = format!("`{address}` is a {}: no press gives that", kind.word());
            let help = format!("name its controls: harmonym bind {address} …");
            return Err(Failure::new(message, help));
        }
    };
    let until = listen.wait.map(until_after);
    expect_terminal(&format!("harmonym bind {address} key.KeyH"))?;
    let (kind, pad) = match loaded.profile.actions[id].kind {
        Gives::Axis => (Some(ControlKind::Axis), "pad.left-stick.x"),
        Gives::Plane => (Some(ControlKind::Stick), "pad.left-stick"),
        _ => (None, "pad.south"),
    };
    let kind = kind.filter(|_| listen.part.is_none());
    let hears = Hears { layout: listen.layout.as_deref(), page: listen.page };
    let listener = Listener::new(&loaded.plan, hears, until, output)?;
    if !listener.hears_pads {
        output.remark(&format!(
            "gamepads can't be read here; name a control of one: harmonym bind {address} {pad}"
        ))?;
    }
    let asked = Asked { address: &address, parts, listener: &listener, kind };
    let Some(expression) = asked.expression(listen.part.as_deref(), output)? else {
        output.remark("nothing was bound")?;
        return Err(Failure::CheckFailed);
    };
    let writing = Writing { dry_run: listen.dry_run, wait: listen.wait, follow: false };
    let mut session = EditSession::open(file, writing, output)?;
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
        return output.remark("nothing changes: that is bound there already");
    }
    session.prove(output)?;
    session.show(output)?;
    output.remark("Enter binds it; any other key leaves all as it is")?;
    if !listener.confirmed() {
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

/// What is listened to besides the terminal.
#[derive(Clone, Copy)]
pub struct Hears<'a> {
    /// The keyboard's layout, by which a character tells its key.
    pub layout: Option<&'a str>,
    /// Whether a page in a browser is heard, too.
    pub page: bool,
}

/// Waits for presses: of this terminal, of gamepads where they can be read, and of a page if that is asked for.
pub struct Listener {
    plan: Arc<Plan>,
    layout: Layout,
    until: Option<Instant>,
    sources: Sources,
    numbers: RefCell<Numbers>,
    /// Whether gamepads are heard.
    pub hears_pads: bool,
    /// Goes on serving for as long as somebody waits.
    _page: Option<PageServer>,
    _presses: Presses,
}

/// Serves a page whose presses are heard, and prints its address.
fn open_page(
    plan: &Arc<Plan>,
    sources: &Sources,
    output: &mut Output,
) -> Result<PageServer, Failure> {
    let config = super::live::page_config(plan);
    let page = |secret: &str| page::live("Press what is meant", secret, &config);
    let (server, said) = PageServer::open(None, page)?;
    sources.listen_to_page(Arc::clone(plan.catalogue()), said);
    output.remark("open this in a browser on this machine, and press it there or here:")?;
    output.remark(&server.address())?;
    Ok(server)
}

impl Listener {
    /// Listens with a keyboard of a layout, up to a moment if one is said.
    pub fn new(
        plan: &Arc<Plan>,
        hears: Hears<'_>,
        until: Option<Instant>,
        output: &mut Output,
    ) -> Result<Self, Failure> {
        let layout = match hears.layout {
            None => Layout::default(),
            Some(word) => Layout::from_word(word).ok_or_else(|| {
                let message = format!("there is no layout `{word}`");
                Failure::new(message, format!("the layouts are {}", Layout::words()))
            })?,
        };
        let sources = Sources::new(Clock::begin());
        let wanted = Wanted { layout, keys: false };
        let hears_pads = sources.open(Kind::Evdev, wanted).is_ok() || hears.page;
        let page = hears.page.then(|| open_page(plan, &sources, output)).transpose()?;
        let presses = Presses::begin().map_err(|error| broken(&error))?;
        sources.open(Kind::Terminal, wanted)?;
        let (plan, numbers) = (Arc::clone(plan), RefCell::default());
        Ok(Self {
            plan,
            layout,
            until,
            sources,
            numbers,
            hears_pads,
            _page: page,
            _presses: presses,
        })
    }

    /// Waits for a control of some kinds; nothing when the hand leaves or the time is over.
    pub fn wait(&self, kinds: &[ControlKind]) -> Option<Pressed> {
        let mut ear = Ear::new(&self.plan, self.layout, kinds);
        let mut numbers = self.numbers.borrow_mut();
        numbers.unplug_all();
        for what in numbers.plugged_on(&self.plan) {
            ear.take(Input { t: Time::ZERO, what });
        }
        while let Some(arrival) = self.next() {
            let heard = match &arrival.heard {
                Told::Terminal(told) => ear.hear(arrival.t, told),
                // Its keys are heard by what it tells of them.
                Told::Report(hardware, ..) if *hardware.identity == *terminal::IDENTITY => continue,
                _ => match numbers.what(&self.plan, &arrival) {
                    Some(what) => ear.take(Input { t: arrival.t, what }),
                    None => continue,
                },
            };
            match heard {
                Heard::Control(pressed) => return Some(pressed),
                Heard::Leave => return None,
                Heard::Nothing => {}
            }
        }
        None
    }

    /// What comes next, or nothing when the time is over.
    fn next(&self) -> Option<Arrival> {
        loop {
            let soon = Instant::now() + Duration::from_secs(1);
            let until = self.until.map_or(soon, |until| until.min(soon));
            let arrival = self.sources.next(until);
            if arrival.is_some() || self.until.is_some_and(|until| Instant::now() >= until) {
                return arrival;
            }
        }
    }

    /// Whether the next key is Enter.
    fn confirmed(&self) -> bool {
        while let Some(arrival) = self.next() {
            if let Told::Terminal(terminal::Told::Key(key)) = &arrival.heard
                && key.does == terminal::Does::Down
            {
                let code = terminal::place(key, self.layout).unwrap_or_default();
                if !keys::is_modifier(code) {
                    return code == "Enter";
                }
            }
        }
        false
    }
}

/// What is waited for.
struct Asked<'a> {
    address: &'a str,
    /// The parts that are asked for one after the other.
    parts: &'a [&'a str],
    listener: &'a Listener,
    /// What would be all of it at once: a stick of a plane.
    kind: Option<ControlKind>,
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
            let stick = match self.kind {
                Some(_) if self.listener.hears_pads => ", or move a stick",
                _ => "",
            };
            output.remark(&format!(
                "{}{what}: press a key or a button{stick}; Ctrl-C leaves all as it is",
                self.address
            ))?;
            let mut kinds = vec![ControlKind::Button, ControlKind::Lever];
            kinds.extend(self.kind.map(|_| ControlKind::Stick));
            let Some(heard) = self.listener.wait(&kinds) else { return Ok(None) };
            if let (ControlKind::Stick, Some(kind)) = (heard.kind, self.kind) {
                let whole = heard.named(&self.listener.plan, kind);
                output.remark(&format!("  {whole}: {}", places(&whole)))?;
                return Ok(Some(whole));
            }
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

fn broken(error: &io::Error) -> Failure {
    let (why, _) = reason(error);
    Failure::new(format!("cannot listen to the terminal: {why}"), "name the control instead")
}
