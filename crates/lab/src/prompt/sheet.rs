//! All that a player can do on one sheet: by situation and action, a column a scheme.

use super::{Prompt, prompts, sentence};
use harmonym_lang::model::Profile;
use harmonym_runtime::base::SchemeId;
use harmonym_runtime::controls::Layout;

/// A whole sheet.
#[derive(Clone, Debug, PartialEq)]
pub struct Sheet {
    /// What the game is called.
    pub title: String,
    /// The keyboard layout's name.
    pub layout: &'static str,
    /// The schemes that have a column, by the names that players read.
    pub schemes: Vec<String>,
    /// The maps that have actions to tell of, in file order.
    pub situations: Vec<Situation>,
}

/// A map's actions.
#[derive(Clone, Debug, PartialEq)]
pub struct Situation {
    /// What players read.
    pub label: String,
    /// What it is about.
    pub about: Option<String>,
    /// Its actions.
    pub rows: Vec<Row>,
}

/// An action.
#[derive(Clone, Debug, PartialEq)]
pub struct Row {
    /// What players read.
    pub label: String,
    /// What it is about.
    pub about: Option<String>,
    /// What does it, in each scheme.
    pub cells: Vec<Cell>,
}

/// What does an action in a scheme: each binding, and in words what to do with it.
pub type Cell = Vec<(Prompt, String)>;

impl Sheet {
    /// The sheet of a profile, of one scheme or of all that bind something.
    pub fn new(profile: &Profile, layout: Layout, only: Option<SchemeId>) -> Self {
        let asked = profile.schemes.ids().filter(|scheme| only.is_none_or(|only| only == *scheme));
        let binds = |scheme: &SchemeId| {
            let mut all = profile.maps.iter().flat_map(|map| &map.actions);
            all.any(|&id| {
                let own = prompts(profile, id, Some(*scheme), layout);
                own.iter().any(|one| one.scheme == Some(*scheme))
            })
        };
        let mut schemes: Vec<Option<SchemeId>> = asked.filter(binds).map(Some).collect();
        if schemes.is_empty() {
            schemes.push(None);
        }
        let cell = |id, scheme: Option<SchemeId>| -> Cell {
            let all = prompts(profile, id, scheme, layout).into_iter();
            let with_words = all.map(|one| (sentence(profile, &profile.actions[id], &one), one));
            with_words
                .filter(|(words, one)| !one.phrase.pieces().is_empty() || !words.is_empty())
                .map(|(words, one)| (one, words))
                .collect()
        };
        let mut situations = Vec::new();
        for map in profile.maps.iter() {
            let rows = map.actions.iter().map(|&id| {
                let action = &profile.actions[id];
                Row {
                    label: spoken(action.label.as_deref(), &action.name),
                    about: action.about.clone(),
                    cells: schemes.iter().map(|&scheme| cell(id, scheme)).collect(),
                }
            });
            let rows: Vec<Row> =
                rows.filter(|row| row.cells.iter().any(|cell| !cell.is_empty())).collect();
            if !rows.is_empty() {
                let label = spoken(map.label.as_deref(), &map.name);
                situations.push(Situation { label, about: map.about.clone(), rows });
            }
        }
        let name = |scheme: &Option<SchemeId>| match scheme {
            Some(id) => {
                let of = &profile.schemes[*id];
                spoken(of.label.as_deref(), &of.name)
            }
            None => "controls".to_owned(),
        };
        Self {
            title: profile.title.clone().unwrap_or_else(|| "Controls".to_owned()),
            layout: layout.title(),
            schemes: schemes.iter().map(name).collect(),
            situations,
        }
    }
}

/// A label, or a name as people say it: `tie-knot` is `Tie knot`.
pub(super) fn spoken(label: Option<&str>, name: &str) -> String {
    if let Some(label) = label {
        return label.to_owned();
    }
    let mut letters = name.chars();
    let first = letters.next().map(|c| c.to_uppercase().to_string()).unwrap_or_default();
    format!("{first}{}", letters.as_str().replace('-', " "))
}
