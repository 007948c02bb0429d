//! The keys and the mouse of this terminal.
//!
//! Where the terminal speaks the keyboard protocol, keys go down and come up; without it each character is a short
//! press, and one that repeats is held.

#[cfg(any(not(unix), test))]
mod other;
mod parse;

pub use parse::{Does, Key, Modifiers, Told};

use super::{Arrival, Clock, Hardware, Heard, Source};
use harmonym_runtime::base::{Class, ControlId, Vector};
use harmonym_runtime::controls::{Catalogue, Layout};
use parse::Parser;
use std::time::{Duration, Instant};

/// How long a key is held that the terminal tells of once.
const SHORT: Duration = Duration::from_millis(80);

/// After this an escape that nothing follows is the key.
const ALONE: Duration = Duration::from_millis(25);

/// The terminal that this program runs in. It has to be in the state in which it tells of each press.
pub struct Terminal {
    clock: Clock,
    layout: Layout,
    parser: Parser,
    has_begun: bool,
    /// Keys that nobody tells of when they come up, and when they are taken for let go.
    held: Vec<(ControlId, Instant)>,
}

impl Terminal {
    pub fn new(clock: Clock, layout: Layout) -> Self {
        Self { clock, layout, parser: Parser::default(), has_begun: false, held: Vec::new() }
    }

    fn hear(&mut self, told: Told, tell: &mut dyn FnMut(Arrival)) {
        let now = Instant::now();
        match &told {
            Told::Key(key) => self.key(key, now, tell),
            Told::Button(name, is_down, _) => {
                let value = Vector::axis(f64::from(u8::from(*is_down)));
                self.report(Class::Mouse, &format!("mouse.{name}"), value, now, tell);
            }
            Told::Notch(across, up, _) => {
                let by = Vector::new(f64::from(*across), f64::from(*up));
                self.report(Class::Mouse, "mouse.wheel", by, now, tell);
            }
            Told::Focus(_) => {}
        }
        tell(Arrival { t: self.clock.at(now), heard: Heard::Terminal(told) });
    }

    fn key(&mut self, key: &Key, now: Instant, tell: &mut dyn FnMut(Arrival)) {
        // Whoever listens ends with it.
        if key.types == Some('c') && key.modifiers.control {
            return;
        }
        let Some(code) = place(key, self.layout) else { return };
        let down = match key.does {
            Does::Down => 1.0,
            Does::Up => 0.0,
            Does::Repeat => return,
        };
        let name = format!("key.{code}");
        if key.is_told_whole {
            return self.report(Class::Key, &name, Vector::axis(down), now, tell);
        }
        let Modifiers { shift, alt, control, meta } = key.modifiers;
        let flags = [
            (control, "key.ControlLeft"),
            (alt, "key.AltLeft"),
            (shift, "key.ShiftLeft"),
            (meta, "key.MetaLeft"),
        ];
        let with = flags.into_iter().filter(|(held, _)| *held).map(|(_, name)| name);
        for name in with.chain([name.as_str()]) {
            let Some(control) = Catalogue::built_in().reported_id(name) else { continue };
            match self.held.iter_mut().find(|(held, _)| *held == control) {
                Some((_, until)) => *until = now + SHORT,
                None => {
                    self.held.push((control, now + SHORT));
                    self.report(Class::Key, name, Vector::axis(1.0), now, tell);
                }
            }
        }
    }

    fn report(
        &self,
        class: Class,
        name: &str,
        value: Vector,
        now: Instant,
        tell: &mut dyn FnMut(Arrival),
    ) {
        // What has no place on a keyboard is not heard.
        if let Some(control) = Catalogue::built_in().reported_id(name) {
            let heard = Heard::Report(hardware(class), control, value);
            tell(Arrival { t: self.clock.at(now), heard });
        }
    }

    /// Lets go of what was not told of again.
    fn let_go(&mut self, now: Instant, tell: &mut dyn FnMut(Arrival)) {
        let clock = self.clock;
        // The last that went down comes up first.
        for place in (0..self.held.len()).rev() {
            let (control, until) = self.held[place];
            if until <= now {
                self.held.remove(place);
                let heard = Heard::Report(hardware(Class::Key), control, Vector::ZERO);
                tell(Arrival { t: clock.at(until), heard });
            }
        }
    }
}

/// The identity of the terminal's keyboard and mouse.
pub const IDENTITY: &str = "terminal";

/// The terminal's keyboard, or its mouse.
fn hardware(class: Class) -> Hardware {
    Hardware { class, identity: IDENTITY.into() }
}

/// The place of a key by its W3C UI Events code: as told, else that of the key that types it on the layout.
pub fn place(key: &Key, layout: Layout) -> Option<&str> {
    key.code.as_deref().or_else(|| layout.key(key.types?))
}

impl Source for Terminal {
    fn poll(&mut self, until: Instant, tell: &mut dyn FnMut(Arrival)) -> Result<bool, String> {
        if !std::mem::replace(&mut self.has_begun, true) {
            for class in [Class::Key, Class::Mouse] {
                tell(Arrival { t: self.clock.now(), heard: Heard::Comes(hardware(class)) });
            }
        }
        let next = self.held.iter().map(|(_, until)| *until).min();
        let alone = self.parser.is_open().then(|| Instant::now() + ALONE);
        let until = [next, alone].into_iter().flatten().fold(until, Instant::min);
        let mut all = Vec::new();
        let is_open = self.read(until, &mut all)?;
        for told in all {
            self.hear(told, tell);
        }
        self.let_go(Instant::now(), tell);
        Ok(is_open)
    }
}

#[cfg(unix)]
impl Terminal {
    /// Reads what is there, once there is something; whether there can be more.
    fn read(&mut self, until: Instant, all: &mut Vec<Told>) -> Result<bool, String> {
        use rustix::event::{PollFd, PollFlags, Timespec, poll};
        use rustix::io::Errno;
        let input = rustix::stdio::stdin();
        let left = until.saturating_duration_since(Instant::now());
        let mut fds = [PollFd::new(&input, PollFlags::IN)];
        match poll(&mut fds, Timespec::try_from(left).ok().as_ref()) {
            Ok(0) => {
                if self.parser.is_open() {
                    self.parser.close(&mut |told| all.push(told));
                }
                return Ok(true);
            }
            Ok(_) => {}
            Err(Errno::INTR) => return Ok(true),
            Err(error) => return Err(error.to_string()),
        }
        let mut bytes = [0; 1024];
        match rustix::io::read(input, &mut bytes) {
            Ok(0) => Ok(false),
            Ok(count) => {
                self.parser.take(&bytes[..count], &mut |told| all.push(told));
                Ok(true)
            }
            Err(Errno::INTR | Errno::AGAIN) => Ok(true),
            Err(error) => Err(error.to_string()),
        }
    }
}

#[cfg(not(unix))]
impl Terminal {
    /// Reads what is there, once there is something; whether there can be more.
    fn read(&mut self, until: Instant, all: &mut Vec<Told>) -> Result<bool, String> {
        use crossterm::event;
        let left = until.saturating_duration_since(Instant::now());
        let told = |error: std::io::Error| error.to_string();
        if event::poll(left).map_err(told)? {
            all.extend(other::told(&event::read().map_err(told)?));
        }
        Ok(true)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn key(types: char, modifiers: Modifiers) -> Told {
        let types = Some(types);
        Told::Key(Key { code: None, types, does: Does::Down, modifiers, is_told_whole: false })
    }

    fn reports(all: &[Arrival]) -> Vec<(String, f64)> {
        let name = |id: &ControlId| {
            Catalogue::built_in().reported()[harmonym_runtime::base::Id::index(*id)]
                .name
                .to_string()
        };
        let report = |arrival: &Arrival| match &arrival.heard {
            Heard::Report(_, id, value) => Some((name(id), value.x)),
            _ => None,
        };
        all.iter().filter_map(report).collect()
    }

    #[test]
    fn without_the_protocol_a_key_is_a_short_press_and_is_held_while_it_repeats() {
        let mut terminal = Terminal::new(Clock::begin(), Layout::US);
        let mut all = Vec::new();
        let begun = Instant::now();
        terminal.hear(key('w', Modifiers::default()), &mut |one| all.push(one));
        terminal.hear(key('w', Modifiers::default()), &mut |one| all.push(one));
        assert_eq!(reports(&all), [("key.KeyW".to_owned(), 1.0)]);
        terminal.let_go(begun + SHORT / 2, &mut |one| all.push(one));
        assert_eq!(reports(&all).len(), 1);
        terminal.let_go(Instant::now() + SHORT, &mut |one| all.push(one));
        assert_eq!(reports(&all)[1..], [("key.KeyW".to_owned(), 0.0)]);
    }

    #[test]
    fn modifiers_that_are_told_with_a_key_go_down_before_it_and_up_after_it() {
        let mut terminal =
            Terminal::new(Clock::begin(), Layout::from_word("fr").expect("a layout"));
        let mut all = Vec::new();
        let control = Modifiers { control: true, ..Modifiers::default() };
        terminal.hear(key('z', control), &mut |one| all.push(one));
        terminal.let_go(Instant::now() + SHORT, &mut |one| all.push(one));
        let wanted = [
            ("key.ControlLeft", 1.0),
            ("key.KeyW", 1.0),
            ("key.KeyW", 0.0),
            ("key.ControlLeft", 0.0),
        ];
        let wanted = wanted.map(|(name, value)| (name.to_owned(), value));
        assert_eq!(reports(&all), wanted);
    }
}
