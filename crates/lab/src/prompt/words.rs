//! Prompts in words.

use super::sheet::spoken;
use super::{Phrase, Piece, Prompt, Told};
use harmonym_lang::model::{Action, Cue, Profile};
use harmonym_runtime::base::{Class, ControlKind, Kind, shortest};

/// What to tell a player, as a sentence without a full stop: `hold T for 0.8 s`.
pub fn sentence(profile: &Profile, action: &Action, prompt: &Prompt) -> String {
    let what = prompt.label.clone().unwrap_or_else(|| prompt.phrase.words());
    let all = super::told(profile, action);
    if let Some(Cue::Sequence { steps, .. }) = action.fire.first().map(|one| &one.cue) {
        let name = |id: &harmonym_lang::model::ActionId| {
            let step = &profile.actions[*id];
            spoken(step.label.as_deref(), &step.name)
        };
        return steps.iter().map(name).collect::<Vec<_>>().join(", then ");
    }
    if what.is_empty() {
        return String::new();
    }
    let said = action.fire.iter().zip(&all).map(|(one, told)| cue(action, &one.cue, told, &what));
    let mut said: Vec<String> = said.collect();
    said.dedup();
    said.join(", or ")
}

fn cue(action: &Action, cue: &Cue, told: &Told, what: &str) -> String {
    let time = told.time.map_or(String::new(), |time| format!("{} s", shortest(time)));
    match cue {
        // What is moved is only named.
        Cue::While | Cue::Change if action.kind != Kind::Switch => what.to_owned(),
        Cue::While | Cue::Change => format!("hold {what}"),
        Cue::Press => format!("press {what}"),
        Cue::Release => format!("press {what} and let go"),
        Cue::Hold(_) => format!("hold {what} for {time}"),
        Cue::Tap(_) => format!("tap {what}"),
        Cue::Charge(_) => format!("hold {what} for {time} or longer, and let go"),
        Cue::Taps { .. } => match told.count {
            Some(2) => format!("press {what} twice"),
            count => format!("press {what} {} times", count.unwrap_or(1)),
        },
        Cue::Repeat { .. } => format!("press {what} or hold it to go on"),
        Cue::Sequence { .. } => told.cue.clone(),
    }
}

impl Phrase {
    /// In words: `W, A, S and D`; `left stick`.
    pub fn words(&self) -> String {
        match self {
            Self::One(piece) => piece.words(),
            Self::Any(parts) => listed(parts.iter().map(Self::words), "or"),
            Self::Together(parts) => parts.iter().map(Self::words).collect::<Vec<_>>().join(" + "),
            Self::Pair(parts) => listed(parts.iter().map(Self::words), "and"),
            Self::Four(parts) => listed(parts.iter().map(Self::words), "and"),
            Self::Join(parts) => listed(parts.iter().map(Self::words), "with"),
            Self::Nothing => String::new(),
        }
    }
}

fn listed(parts: impl Iterator<Item = String>, word: &str) -> String {
    let parts: Vec<String> = parts.filter(|part| !part.is_empty()).collect();
    match parts.split_last() {
        Some((last, before)) if !before.is_empty() => {
            format!("{} {word} {last}", before.join(", "))
        }
        _ => parts.concat(),
    }
}

impl Piece {
    /// In words: a key's letter, or what a control is called by its place.
    pub fn words(&self) -> String {
        let number = self.device.filter(|device| *device > 0);
        let number =
            number.map_or(String::new(), |device| format!(" of the {}. device", device + 1));
        let name = match self.letter {
            // A mark alone would be lost in a sentence.
            Some(mark) if !mark.is_alphanumeric() => format!("“{mark}”"),
            _ => self.name(),
        };
        format!("{name}{number}")
    }

    /// What is written on its outline: a key's letter, or its name.
    pub fn name(&self) -> String {
        let rest = self.control.split_once('.').map_or("", |(_, rest)| rest);
        match self.class {
            Class::Key => self.letter.map_or_else(|| key(rest), String::from),
            Class::Mouse => mouse(rest),
            Class::Pad => pad(rest),
            Class::Touch => match rest {
                "down" => "a finger".to_owned(),
                rest => format!("finger {}", spaced(rest)),
            },
            Class::Head => format!("head {}", spaced(rest)),
            Class::Hand => hand(rest, self.kind),
            Class::Own(_) => self.control.replace(['.', '-'], " "),
        }
    }
}

fn spaced(name: &str) -> String {
    name.replace(['.', '-'], " ")
}

/// A key without a letter: `PageUp` is `Page up`, `ShiftLeft` is `left Shift`.
fn key(code: &str) -> String {
    for (side, word) in [("Left", "left"), ("Right", "right")] {
        if let Some(name) = code.strip_suffix(side).filter(|name| !name.ends_with("Arrow")) {
            return format!("{word} {name}");
        }
    }
    if let Some(way) = code.strip_prefix("Arrow") {
        return format!("arrow {}", way.to_lowercase());
    }
    let mut out = String::new();
    for (at, c) in code.char_indices() {
        let before = code[..at].chars().next_back();
        let parts = before.is_some_and(|before| {
            (c.is_uppercase() && before.is_lowercase()) || (c.is_numeric() && before.is_lowercase())
        });
        match parts {
            true => {
                out.push(' ');
                out.extend(c.to_lowercase());
            }
            false => out.push(c),
        }
    }
    out
}

fn mouse(rest: &str) -> String {
    match rest {
        "move" | "at" => "the mouse".to_owned(),
        "move.x" | "at.x" => "the mouse, sideways".to_owned(),
        "move.y" | "at.y" => "the mouse, up and down".to_owned(),
        "wheel" | "wheel.y" => "the mouse wheel".to_owned(),
        "wheel.x" => "the mouse wheel, sideways".to_owned(),
        "left" | "middle" | "right" | "back" | "forward" => format!("{rest} mouse button"),
        rest => format!("mouse {}", spaced(rest)),
    }
}

fn pad(rest: &str) -> String {
    match rest {
        "south" | "east" | "west" | "north" => format!("{rest} button"),
        "select" | "start" | "mode" => format!("{rest} button"),
        "dpad" => "D-pad".to_owned(),
        rest => match rest.split_once('.') {
            Some(("dpad", way)) => format!("D-pad {way}"),
            Some((stick, "click")) => format!("{}, pressed in", spaced(stick)),
            Some((stick, "x")) => format!("{}, sideways", spaced(stick)),
            Some((stick, "y")) => format!("{}, up and down", spaced(stick)),
            Some((stick, way)) => format!("{} {way}", spaced(stick)),
            None => spaced(rest),
        },
    }
}

fn hand(rest: &str, kind: ControlKind) -> String {
    let (side, rest) = rest.split_once('.').unwrap_or((rest, ""));
    match (rest, kind) {
        ("at", _) => format!("{side} hand"),
        ("turn", _) => format!("turn of the {side} hand"),
        ("lower" | "upper", _) => format!("{side} hand's {rest} button"),
        ("stick.click", _) => format!("{side} hand's stick, pressed in"),
        (rest, _) => format!("{side} hand's {}", spaced(rest)),
    }
}
