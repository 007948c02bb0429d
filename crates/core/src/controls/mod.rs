//! The catalogue of devices and controls: what there is to bind, and what each device reports.
//!
//! Guarantees to every later stage: each control that a device reports itself has one
//! [`ControlId`], the same in every run; every other control is a way to read one or two of those.

mod hands;
mod keyboard;

use crate::base::{Component, ControlId, Id, Kind};
use std::collections::HashMap;
use std::sync::OnceLock;

/// A class of devices.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Class {
    /// Keyboards.
    Key,
    /// Mice.
    Mouse,
    /// Gamepads.
    Pad,
    /// Touch screens.
    Touch,
    /// Headsets.
    Head,
    /// Controllers held in two tracked hands.
    Hand,
}

impl Class {
    /// All of them.
    pub const ALL: [Self; 6] =
        [Self::Key, Self::Mouse, Self::Pad, Self::Touch, Self::Head, Self::Hand];

    /// The word before the dot.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Key => "key",
            Self::Mouse => "mouse",
            Self::Pad => "pad",
            Self::Touch => "touch",
            Self::Head => "head",
            Self::Hand => "hand",
        }
    }

    /// The class that `word` names.
    pub fn from_word(word: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|class| class.word() == word)
    }

    /// Whether this version reads such devices.
    pub const fn is_supported(self) -> bool {
        matches!(self, Self::Key | Self::Mouse | Self::Pad)
    }
}

/// What kind of thing a control is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum ControlKind {
    /// 0 or 1.
    Button,
    /// 0 to 1.
    Lever,
    /// −1 to 1.
    Axis,
    /// Two components, each −1 to 1.
    Stick,
    /// What adds up between ticks.
    Relative,
    /// A point, each component 0 to 1.
    Spot,
    /// A point in metres.
    Place,
    /// A rotation.
    Turn,
}

impl ControlKind {
    /// The kind's word.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Button => "button",
            Self::Lever => "lever",
            Self::Axis => "axis",
            Self::Stick => "stick",
            Self::Relative => "relative",
            Self::Spot => "spot",
            Self::Place => "place",
            Self::Turn => "turn",
        }
    }

    /// What a binding of it yields: `None` for what this version can't bind.
    pub const fn yields(self) -> Option<Kind> {
        match self {
            Self::Button | Self::Lever | Self::Axis => Some(Kind::Axis),
            Self::Stick => Some(Kind::Plane),
            Self::Relative | Self::Spot | Self::Place | Self::Turn => None,
        }
    }

    /// The least and most that a component of it may report.
    pub const fn range(self) -> (f64, f64) {
        match self {
            Self::Button | Self::Lever | Self::Spot => (0.0, 1.0),
            _ => (-1.0, 1.0),
        }
    }
}

/// How a control is read from what devices report.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Reads {
    /// A control that a device reports itself.
    Whole(ControlId),
    /// One component of a stick.
    Component(ControlId, Component),
    /// One half of a component, 0 to 1; `true` for the positive half.
    Half(ControlId, Component, bool),
    /// Either of two.
    Either(ControlId, ControlId),
    /// A plane of four buttons: up, left, down, right.
    Four([ControlId; 4]),
}

/// One control of the catalogue.
#[derive(Clone, Debug)]
pub struct Entry {
    /// The class of its device.
    pub class: Class,
    /// The name, class included: `pad.left-stick.x`.
    pub name: String,
    /// What kind of thing it is.
    pub kind: ControlKind,
    /// Where it is on the device.
    pub place: String,
    /// How it is read; `None` for what this version can't bind.
    pub reads: Option<Reads>,
    words: String,
}

impl Entry {
    /// Whether every one of `words` begins a word of its name, kind, place or other names.
    pub fn matches(&self, words: &[String]) -> bool {
        words.iter().all(|word| {
            let word = word.to_lowercase();
            self.words.split_whitespace().any(|known| known.starts_with(&word))
        })
    }

    /// Whether `words` stand side by side in its name or place.
    pub fn has_phrase(&self, words: &[String]) -> bool {
        self.words.contains(&words.join(" ").to_lowercase())
    }
}

/// A control that a device reports itself.
#[derive(Clone, Debug)]
pub struct Reported {
    /// The class of its device.
    pub class: Class,
    /// The name, class included.
    pub name: String,
    /// What kind of thing it is.
    pub kind: ControlKind,
}

/// All controls there are.
#[derive(Debug, Default)]
pub struct Catalogue {
    entries: Vec<Entry>,
    by_name: HashMap<String, usize>,
    reported: Vec<Reported>,
}

impl Catalogue {
    /// The one catalogue, made at first use.
    pub fn get() -> &'static Self {
        static ONE: OnceLock<Catalogue> = OnceLock::new();
        ONE.get_or_init(Self::build)
    }

    /// Every control, in the order of the catalogue.
    pub fn entries(&self) -> &[Entry] {
        &self.entries
    }

    /// The control called `name` (`key.KeyW`).
    pub fn find(&self, name: &str) -> Option<&Entry> {
        self.by_name.get(name).map(|&i| &self.entries[i])
    }

    /// Every control that devices report themselves, in the order of their ids.
    pub fn reported(&self) -> &[Reported] {
        &self.reported
    }

    /// The control called `name`, if a device reports it itself.
    pub fn reported_id(&self, name: &str) -> Option<ControlId> {
        match self.find(name)?.reads? {
            Reads::Whole(id) => Some(id),
            _ => None,
        }
    }

    fn build() -> Self {
        let mut all = Self::default();
        for (group, keys) in keyboard::GROUPS {
            for (code, us) in *keys {
                let (name, place) = (format!("key.{code}"), format!("{group}: {us}"));
                all.report(Class::Key, &name, ControlKind::Button, &place, "key keyboard");
            }
        }
        for (name, left, right) in keyboard::EITHER {
            let reads =
                Reads::Either(all.id(&format!("key.{left}")), all.id(&format!("key.{right}")));
            let place = format!("either {name} key");
            let name = format!("key.{name}");
            all.add(Class::Key, &name, ControlKind::Button, &place, Some(reads), "both sides");
        }
        for (class, rows) in [(Class::Mouse, hands::MOUSE), (Class::Pad, hands::PAD)] {
            for &(name, kind, place, words) in rows {
                let name = format!("{}.{name}", class.word());
                all.report(class, &name, kind, place, words);
            }
        }
        all.add_stick_parts();
        for (class, rows) in hands::LATER {
            for &(name, kind, place, words) in *rows {
                let name = format!("{}.{name}", class.word());
                all.add(*class, &name, kind, place, None, words);
            }
        }
        all
    }

    fn add_stick_parts(&mut self) {
        use Component::{X, Y};
        for stick in ["left-stick", "right-stick"] {
            let id = self.id(&format!("pad.{stick}"));
            let thumb = stick.trim_end_matches("-stick");
            for (part, kind, reads, way) in [
                ("x", ControlKind::Axis, Reads::Component(id, X), "across, right is positive"),
                ("y", ControlKind::Axis, Reads::Component(id, Y), "up and down, up is positive"),
                ("up", ControlKind::Lever, Reads::Half(id, Y, true), "the upper half"),
                ("down", ControlKind::Lever, Reads::Half(id, Y, false), "the lower half"),
                ("left", ControlKind::Lever, Reads::Half(id, X, false), "the left half"),
                ("right", ControlKind::Lever, Reads::Half(id, X, true), "the right half"),
            ] {
                let (name, place) =
                    (format!("pad.{stick}.{part}"), format!("{thumb} stick, {way}"));
                self.add(Class::Pad, &name, kind, &place, Some(reads), "analog thumb");
            }
        }
        let four = ["up", "left", "down", "right"].map(|way| self.id(&format!("pad.dpad.{way}")));
        let (place, words) = ("the left thumb's cross", "d-pad directions hat");
        self.add(Class::Pad, "pad.dpad", ControlKind::Stick, place, Some(Reads::Four(four)), words);
    }

    /// The id of a control that the tables hold.
    fn id(&self, name: &str) -> ControlId {
        self.reported_id(name).unwrap_or(ControlId::new(usize::MAX))
    }

    fn report(&mut self, class: Class, name: &str, kind: ControlKind, place: &str, words: &str) {
        let id = ControlId::new(self.reported.len());
        self.reported.push(Reported { class, name: name.to_owned(), kind });
        self.add(class, name, kind, place, Some(Reads::Whole(id)), words);
    }

    fn add(
        &mut self,
        class: Class,
        name: &str,
        kind: ControlKind,
        place: &str,
        reads: Option<Reads>,
        words: &str,
    ) {
        self.by_name.insert(name.to_owned(), self.entries.len());
        let separators = ['.', '-', ',', ':', '/'];
        let apart = format!("{name} {place} {words}").replace(separators, " ");
        let words = format!("{name} {apart} {place} {}", kind.word()).to_lowercase();
        let (name, place) = (name.to_owned(), place.to_owned());
        self.entries.push(Entry { class, name, kind, place, reads, words });
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn controls_are_found_by_any_of_their_words() {
        let catalogue = Catalogue::get();
        let found = |words: &str| {
            let words: Vec<String> = words.split(' ').map(str::to_owned).collect();
            let hits = catalogue.entries().iter().filter(|e| e.matches(&words));
            hits.map(|e| e.name.as_str()).collect::<Vec<_>>()
        };
        assert_eq!(found("numpad plus"), ["key.NumpadAdd"]);
        assert_eq!(found("bumper"), ["pad.left-shoulder", "pad.right-shoulder"]);
        assert!(found("left stick").contains(&"pad.left-stick"));
        assert_eq!(found("lowest button"), ["pad.south"]);
        assert!(found("wheel").contains(&"mouse.wheel"));
        assert!(found("nothing-like-it").is_empty());
    }

    #[test]
    fn every_reported_control_is_an_entry_that_reads_itself() {
        let catalogue = Catalogue::get();
        for (i, reported) in catalogue.reported().iter().enumerate() {
            let entry = catalogue.find(&reported.name).expect("an entry");
            assert_eq!(entry.reads, Some(Reads::Whole(ControlId::new(i))), "{}", entry.name);
            assert_eq!(entry.kind, reported.kind);
        }
        assert_eq!(catalogue.by_name.len(), catalogue.entries.len(), "a name is used twice");
        let keys = catalogue.reported().iter().filter(|r| r.class == Class::Key);
        assert_eq!(keys.count(), 183);
    }
}
