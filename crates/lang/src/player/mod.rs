//! What a player changed: the file of a player, and the profile as that player has it.
//!
//! Guarantees to every later stage: a [`Player`] is what its file says, each entry with its place; what
//! does not fit a profile is told and left out, and never deleted by reading; the profile that comes of
//! it is as sound as the one it is made of, and its actions, maps and settings are the same.
//!
//! ```toml
//! harmonym-player = 1
//!
//! [setting]
//! gaze-speed = 1.4
//!
//! [replace."quay.hail@desk"]
//! "key.KeyH" = "key.KeyG"
//!
//! [also]
//! "quay.hail@desk" = ["key.KeyJ"]
//! ```
//!
//! A screen on which a player binds a control catches it, changes the player's file, and lets the game go
//! on with the plan that comes of it:
//!
//! ```
//! use harmonym_lang::player::{OnConflict, Open, Player};
//! use harmonym_lang::{compile::compile, load, source::Source};
//! use harmonym_runtime::{Contact, Layout, Seat, Seats, Start, Time, Vector};
//! use std::sync::Arc;
//!
//! let text = r#"
//! harmonym = 1
//! scheme.desk.devices = ["key"]
//! [map.quay]
//! start = true
//! [map.quay.hail]
//! value = "switch"
//! bind.desk = "key.KeyH"
//! "#;
//! let (profile, plan) = load(&Source::new("harmonym.toml", text)).expect("a sound profile");
//! let key = |name| Contact::first(plan.find_control(name).unwrap());
//! let (g, hail) = (key("key.KeyG"), plan.find_action("quay.hail").unwrap());
//! let tell = &mut |_| {};
//! let mut seats = Seats::start(Arc::new(plan), 1, Start::default(), tell);
//!
//! // What may take the place of the only control that may be changed?
//! let open = &Open::all(&profile, None)[0];
//! let (old, kind) = &open.controls[0];
//! seats.catch(Seat::FIRST, &open.kinds(&profile, *kind)).unwrap();
//! // The player presses G, and lets it go.
//! seats.report(Time::from_millis(5), g, Vector::axis(1.0), tell).unwrap();
//! seats.report(Time::from_millis(90), g, Vector::axis(0.0), tell).unwrap();
//! let new = seats.caught().expect("a key").name(seats.plan(), *kind);
//!
//! let mut player = Player::default();
//! let of = open.of.text(&profile);
//! player.bind(&profile, &of, (old, &new), OnConflict::Refuse).expect("nobody else has it");
//! let applied = player.apply(&profile);
//! let plan = compile(&applied.profile, Layout::default());
//! seats.replan(Time::from_millis(100), Arc::new(plan), tell).expect("the same devices");
//!
//! seats.report(Time::from_millis(200), g, Vector::axis(1.0), tell).unwrap();
//! seats.tick(Time::from_millis(210), tell);
//! assert_eq!(seats.frame(Seat::FIRST).fired(hail), 1);
//! ```

mod apply;
mod change;
mod choice;
mod conflict;
mod open;
mod read;

pub use apply::Applied;
pub use change::OnConflict;
pub use choice::{Choice, NONE, Owned};
pub use conflict::{Conflict, conflicts};
pub use open::Open;

use crate::report::{Faults, nearest};
use crate::source::{Source, Span};
use crate::syntax::Word;
use std::fmt::Write;

/// The version of the format that this version reads and writes.
pub const FORMAT: i64 = 1;

/// What a player changed.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Player {
    /// What settings are worth, in the order of the file.
    pub settings: Vec<SettingChange>,
    /// Controls that take the place of others.
    pub replaced: Vec<Replacement>,
    /// Controls besides those of the profile.
    pub also: Vec<Extra>,
}

/// A setting that a player changed.
#[derive(Clone, Debug, PartialEq)]
pub struct SettingChange {
    /// The setting's name.
    pub name: Word,
    /// What it is worth.
    pub value: Worth,
    /// Where the value stands.
    pub span: Span,
}

/// What a setting is worth.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Worth {
    /// A number, in the setting's own unit.
    Number(f64),
    /// On or off.
    Switch(bool),
}

/// A control that takes the place of another in an action's bindings in a scheme.
#[derive(Clone, Debug, PartialEq)]
pub struct Replacement {
    /// The action and the scheme: `quay.hail@desk`.
    pub of: Word,
    /// The control that the profile has, as it writes it.
    pub old: Word,
    /// The control in its place; [`NONE`] where it no longer counts.
    pub new: Word,
}

/// A control besides those of the profile.
#[derive(Clone, Debug, PartialEq)]
pub struct Extra {
    /// The action and the scheme: `quay.hail@desk`.
    pub of: Word,
    /// The control.
    pub control: Word,
}

impl Player {
    /// Reads a player's file.
    ///
    /// # Errors
    /// Everything that is wrong with it, in order of place: what is no TOML, a newer format, unknown
    /// keys, controls that take each other's place in a circle. Whether it fits a profile shows when
    /// it is [applied](Self::apply).
    pub fn read(source: &Source) -> Result<Self, Faults> {
        read::read(source)
    }

    /// Whether nothing is changed.
    pub fn is_empty(&self) -> bool {
        self.settings.is_empty() && self.replaced.is_empty() && self.also.is_empty()
    }

    /// The file, for whoever keeps no text of it: settings, then replacements, then additions.
    pub fn text(&self) -> String {
        let mut out = format!("harmonym-player = {FORMAT}\n");
        if !self.settings.is_empty() {
            out.push_str("\n[setting]\n");
        }
        for one in &self.settings {
            // Writing to memory does not fail.
            let _ = match one.value {
                Worth::Number(number) => {
                    let number = harmonym_runtime::base::shortest(number);
                    writeln!(out, "{} = {number}", one.name.text)
                }
                Worth::Switch(on) => writeln!(out, "{} = {on}", one.name.text),
            };
        }
        let mut before = None;
        for one in &self.replaced {
            if before != Some(&one.of.text) {
                let _ = writeln!(out, "\n[replace.{}]", quoted(&one.of.text));
            }
            before = Some(&one.of.text);
            let _ = writeln!(out, "{} = {}", quoted(&one.old.text), quoted(&one.new.text));
        }
        let mut owners: Vec<&str> = Vec::new();
        for one in &self.also {
            if !owners.contains(&&*one.of.text) {
                owners.push(&one.of.text);
            }
        }
        if !owners.is_empty() {
            out.push_str("\n[also]\n");
        }
        for owner in owners {
            let own = self.also.iter().filter(|one| one.of.text == owner);
            let own: Vec<String> = own.map(|one| quoted(&one.control.text)).collect();
            let _ = writeln!(out, "{} = [{}]", quoted(owner), own.join(", "));
        }
        out
    }
}

/// A text in quotes.
fn quoted(text: &str) -> String {
    toml_writer::ToTomlValue::to_toml_value(&toml_writer::TomlStringBuilder::new(text).as_basic())
}

/// The nearest of some names, as a help.
fn near<'a>(name: &str, known: impl Iterator<Item = &'a str>, otherwise: &str) -> String {
    match nearest(name, known) {
        Some(near) => format!("did you mean `{near}`?"),
        None => otherwise.to_owned(),
    }
}
