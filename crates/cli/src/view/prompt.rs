//! What to tell a player, in words and in parts.

use super::table::table;
use crate::escape::one_line;
use crate::output::style::Look;
use harmonym_lab::prompt::{Phrase, Piece, Prompt, sentence, told};
use harmonym_lab::told::{self, Start};
use harmonym_lang::model::{ActionId, Profile};
use harmonym_runtime::controls::Catalogue;
use serde::Serialize;

/// A line a binding; of one scheme only what to do.
pub fn text(profile: &Profile, id: ActionId, all: &[Prompt], is_one: bool, look: Look) -> String {
    let action = &profile.actions[id];
    if all.is_empty() {
        return format!("nothing is bound to {}\n", profile.address(id));
    }
    let words = |one: &Prompt| match sentence(profile, action, one) {
        words if words.is_empty() => "by another action".to_owned(),
        words => one_line(&words).into_owned(),
    };
    if is_one {
        return all.iter().map(|one| format!("{}\n", words(one))).collect();
    }
    let scheme = |one: &Prompt| one.scheme.map_or("all", |id| &profile.schemes[id].name).to_owned();
    let rows: Vec<[String; 2]> = all.iter().map(|one| [scheme(one), words(one)]).collect();
    table(look, ["scheme", "what to do"], rows)
}

#[derive(Serialize)]
struct PromptLine<'a> {
    kind: &'static str,
    binding: &'a str,
    #[serde(skip_serializing_if = "Option::is_none")]
    scheme: Option<&'a str>,
    #[serde(skip_serializing_if = "Option::is_none")]
    label: Option<&'a str>,
    words: String,
    controls: Part<'a>,
    cues: Vec<CuePart>,
}

#[derive(Serialize)]
struct CuePart {
    cue: String,
    #[serde(skip_serializing_if = "Option::is_none")]
    time: Option<f64>,
    #[serde(skip_serializing_if = "Option::is_none")]
    count: Option<u32>,
}

/// A control, or several and how they go together.
#[derive(Serialize)]
#[serde(untagged)]
enum Part<'a> {
    One {
        control: &'a str,
        class: &'a str,
        control_kind: &'static str,
        place: &'a str,
        #[serde(skip_serializing_if = "Option::is_none")]
        letter: Option<char>,
        #[serde(skip_serializing_if = "Option::is_none")]
        device: Option<u8>,
        words: String,
    },
    Several {
        together: &'static str,
        parts: Vec<Part<'a>>,
    },
}

fn part<'a>(catalogue: &'a Catalogue, phrase: &'a Phrase) -> Part<'a> {
    let all = |together, parts: &'a [Phrase]| Part::Several {
        together,
        parts: parts.iter().map(|one| part(catalogue, one)).collect(),
    };
    match phrase {
        Phrase::One(piece) => {
            let Piece { control, class, kind, place, letter, device } = piece;
            Part::One {
                control,
                class: catalogue.word(*class),
                control_kind: kind.word(),
                place,
                letter: *letter,
                device: device.map(|device| device + 1),
                words: piece.words(),
            }
        }
        Phrase::Any(parts) => all("any", parts),
        Phrase::Together(parts) => all("all", parts),
        Phrase::Join(parts) => all("join", parts),
        Phrase::Pair(parts) => all("pair", &parts[..]),
        Phrase::Four(parts) => all("four", &parts[..]),
        Phrase::Nothing => all("none", &[]),
    }
}

/// The same as JSON Lines.
pub fn json(out: &mut String, profile: &Profile, id: ActionId, all: &[Prompt]) {
    let action = &profile.actions[id];
    told::line(out, &Start::new("prompt", Some(&profile.address(id))));
    for one in all {
        let cues = told(profile, action).into_iter();
        let line = PromptLine {
            kind: "prompt",
            binding: &one.binding,
            scheme: one.scheme.map(|id| profile.schemes[id].name.as_str()),
            label: one.label.as_deref(),
            words: sentence(profile, action, one),
            controls: part(&profile.catalogue, &one.phrase),
            cues: cues
                .map(|told| CuePart { cue: told.cue, time: told.time, count: told.count })
                .collect(),
        };
        told::line(out, &line);
    }
}
