//! What players are told to press: of each binding the controls with their places and letters, how
//! they go together, and when the action fires; in words, and in parts for whoever draws them.
//!
//! Guarantees to the caller: what counts for the player is told and nothing else; letters are those of the
//! keyboard layout, places those of the device, never what one maker prints on it.

mod sheet;
mod words;

pub use sheet::{Cell, Row, Sheet, Situation};
pub use words::sentence;

use harmonym_lang::model::{Action, ActionId, Binding, Chain, Cue, Head, Number, Profile};
use harmonym_runtime::base::{Class, ControlKind, ControlName, Id, SchemeId};
use harmonym_runtime::controls::{Layout, Reads};

/// One control, as players are told of it.
#[derive(Clone, Debug, PartialEq)]
pub struct Piece {
    /// Its name: `key.KeyW`, `pad.south`.
    pub control: String,
    /// The class of its device.
    pub class: Class,
    /// What kind of thing it is.
    pub kind: ControlKind,
    /// Where it is on its device, in words.
    pub place: String,
    /// Of a key that types one, the character on the player's layout.
    pub letter: Option<char>,
    /// The device of its class that it has to be on, from 0, if only one will do.
    pub device: Option<u8>,
}

/// Controls and how they go together.
#[derive(Clone, Debug, PartialEq)]
pub enum Phrase {
    /// One control.
    One(Piece),
    /// Any of several.
    Any(Vec<Phrase>),
    /// The last, while the others are held.
    Together(Vec<Phrase>),
    /// Opposite sides: negative, positive.
    Pair(Box<[Phrase; 2]>),
    /// Up, left, down, right.
    Four(Box<[Phrase; 4]>),
    /// One a component.
    Join(Vec<Phrase>),
    /// Nothing: what a player took away, or what comes of another action.
    Nothing,
}

impl Phrase {
    /// The controls in it, in the order of the file.
    pub fn pieces(&self) -> Vec<&Piece> {
        match self {
            Self::One(piece) => vec![piece],
            Self::Any(parts) | Self::Together(parts) | Self::Join(parts) => {
                parts.iter().flat_map(Self::pieces).collect()
            }
            Self::Pair(parts) => parts.iter().flat_map(Self::pieces).collect(),
            Self::Four(parts) => parts.iter().flat_map(Self::pieces).collect(),
            Self::Nothing => Vec::new(),
        }
    }
}

/// One alternative of a fire rule, as players are told of it.
#[derive(Clone, Debug, PartialEq)]
pub struct Told {
    /// The cue as written.
    pub cue: String,
    /// How long, in seconds, where it takes a time.
    pub time: Option<f64>,
    /// How often, where that counts.
    pub count: Option<u32>,
}

/// What to tell of one binding.
#[derive(Clone, Debug, PartialEq)]
pub struct Prompt {
    /// The binding's address.
    pub binding: String,
    /// The scheme, nothing for one that always counts.
    pub scheme: Option<SchemeId>,
    /// What the profile calls it.
    pub label: Option<String>,
    /// The controls.
    pub phrase: Phrase,
}

/// What to tell of an action: its bindings that count in a scheme (all if none is named), in the order of
/// the file.
pub fn prompts(
    profile: &Profile,
    action: ActionId,
    scheme: Option<SchemeId>,
    layout: Layout,
) -> Vec<Prompt> {
    let counts = |binding: &&Binding| {
        scheme.is_none_or(|scheme| binding.scheme.is_none_or(|own| own == scheme))
    };
    let spec = &profile.actions[action];
    let prompt = |binding: &Binding, phrase: Phrase| Prompt {
        binding: profile.binding_address(action, binding),
        scheme: binding.scheme,
        label: binding.label.clone(),
        phrase,
    };
    let own = spec.bindings.iter().filter(counts);
    let mut all: Vec<Prompt> =
        own.map(|binding| prompt(binding, phrase(profile, &binding.chain, layout))).collect();
    // What stands in for a control of another scheme does what that does.
    let others = spec.bindings.iter().filter(|binding| !counts(binding));
    all.extend(others.filter_map(|binding| {
        let phrase = stood_in(profile, &phrase(profile, &binding.chain, layout), scheme?)?;
        Some(Prompt { scheme, ..prompt(binding, phrase) })
    }));
    if let (true, Some(Cue::Sequence { .. })) = (all.is_empty(), spec.fire.first().map(|f| &f.cue))
    {
        let binding = profile.address(action);
        all.push(Prompt { binding, scheme: None, label: None, phrase: Phrase::Nothing });
    }
    all
}

/// A phrase in which each control is one that stands in for it on a device of a scheme; nothing where
/// some control has none.
fn stood_in(profile: &Profile, phrase: &Phrase, scheme: SchemeId) -> Option<Phrase> {
    let all = |parts: &[Phrase]| -> Option<Vec<Phrase>> {
        parts.iter().map(|part| stood_in(profile, part, scheme)).collect()
    };
    Some(match phrase {
        Phrase::One(piece) => {
            let reported = profile.catalogue.reported();
            let own = reported.iter().enumerate().filter_map(|(place, one)| {
                let standard = reported.get(one.stands_for?.index())?;
                let is_whole = *standard.name == *piece.control;
                let is_part = piece.control.strip_prefix(&*standard.name);
                let part = is_part.filter(|rest| rest.starts_with('.') || rest.is_empty())?;
                let has_class = profile.schemes[scheme].classes.contains(&one.class);
                (has_class && (is_whole || standard.kind == ControlKind::Stick))
                    .then_some((place, part))
            });
            let (place, part) = own.into_iter().next()?;
            let one = &reported[place];
            Phrase::One(Piece {
                control: format!("{}{part}", one.name),
                class: one.class,
                kind: piece.kind,
                place: profile
                    .catalogue
                    .find(&one.name)
                    .map_or(String::new(), |e| e.place.to_string()),
                letter: None,
                device: piece.device,
            })
        }
        Phrase::Any(parts) => Phrase::Any(all(parts)?),
        Phrase::Together(parts) => Phrase::Together(all(parts)?),
        Phrase::Join(parts) => Phrase::Join(all(parts)?),
        Phrase::Pair(parts) => Phrase::Pair(Box::new(all(&parts[..])?.try_into().ok()?)),
        Phrase::Four(parts) => Phrase::Four(Box::new(all(&parts[..])?.try_into().ok()?)),
        Phrase::Nothing => return None,
    })
}

/// When an action fires, alternative by alternative.
pub fn told(profile: &Profile, action: &Action) -> Vec<Told> {
    let worth = |number: &Number| match number {
        Number::Fixed(value) => *value,
        Number::Variable { named, least, most } => {
            let variable = &profile.variables[*named];
            (variable.default * variable.factor).clamp(*least, *most)
        }
    };
    let one = |alternative: &harmonym_lang::model::Alternative| {
        let (time, count) = match &alternative.cue {
            Cue::Press | Cue::Release | Cue::While | Cue::Change => (None, None),
            Cue::Hold(time) | Cue::Tap(time) | Cue::Charge(time) => (Some(worth(time)), None),
            Cue::Taps { count, gap } => (Some(worth(gap)), Some(worth(count) as u32)),
            Cue::Repeat { every, .. } => (Some(worth(every)), None),
            Cue::Sequence { steps, within } => (Some(worth(within)), Some(steps.len() as u32)),
        };
        Told { cue: alternative.text.clone(), time, count }
    };
    action.fire.iter().map(one).collect()
}

fn phrase(profile: &Profile, chain: &Chain, layout: Layout) -> Phrase {
    let part = |chain: &Chain| phrase(profile, chain, layout);
    match &chain.head {
        Head::Control { reads: Reads::Nothing, .. } | Head::Action { .. } => Phrase::Nothing,
        Head::Control { name, kind, reads, device, .. } => {
            Phrase::One(piece(profile, name, (*kind, *reads), *device, layout))
        }
        Head::Pair(pair) => Phrase::Pair(Box::new([part(&pair.neg), part(&pair.pos)])),
        Head::Four(four) => {
            let [up, down] = [&four.y.pos, &four.y.neg].map(part);
            let [left, right] = [&four.x.neg, &four.x.pos].map(part);
            Phrase::Four(Box::new([up, left, down, right]))
        }
        Head::Join(parts) => Phrase::Join(parts.iter().map(part).collect()),
        Head::Any(parts) => Phrase::Any(parts.iter().map(part).collect()),
        Head::Sum(parts) => Phrase::Together(parts.iter().map(part).collect()),
        Head::Group(inner) => part(inner),
    }
}

fn piece(
    profile: &Profile,
    name: &str,
    (kind, reads): (ControlKind, Reads),
    device: Option<u8>,
    layout: Layout,
) -> Piece {
    let plain = ControlName::new(name).plain().into_owned();
    // The key that types a character has its place by the layout.
    let plain = match reads {
        Reads::Char(c) => {
            let key = profile.catalogue.key_of(c, layout);
            let reported = profile.catalogue.reported();
            let id = key.map(Id::index);
            id.and_then(|id| reported.get(id)).map_or(plain, |one| one.name.to_string())
        }
        _ => plain,
    };
    let entry = profile.catalogue.find(&plain);
    let letter = plain.strip_prefix("key.").and_then(|code| layout.letter(code));
    Piece {
        class: entry.map_or(Class::Key, |entry| entry.class),
        place: entry.map_or(String::new(), |entry| entry.place.to_string()),
        control: plain,
        kind,
        letter,
        device,
    }
}
