//! `controls`: the catalogue, searched by any word, and where each control is bound.

use crate::args::Format;
use crate::commands::load_profile;
use crate::failure::Failure;
use crate::files::Loaded;
use crate::output::Output;
use crate::view::table::table;
use harmonym_lab::told::{self, Start};
use harmonym_lang::compile::uses::{Touch, reached};
use harmonym_lang::report::{did_you_mean, nearest};
use harmonym_runtime::base::Class;
use harmonym_runtime::controls::{Catalogue, Entry};
use serde::Serialize;
use std::path::Path;
use std::sync::Arc;

#[derive(Serialize)]
struct ControlLine<'a> {
    kind: &'static str,
    control: &'a str,
    control_kind: &'static str,
    place: &'a str,
    bound_to: Vec<String>,
}

pub fn run(
    file: Option<&Path>,
    words: &[String],
    class: Option<&str>,
    format: Format,
    output: &mut Output,
) -> Result<(), Failure> {
    output.page();
    // The catalogue is there without a profile too; one that is named has to be sound.
    let loaded = match (file, load_profile(file, output)) {
        (_, Ok(loaded)) => Some(loaded),
        (None, Err(_)) => None,
        (Some(_), Err(failure)) => return Err(failure),
    };
    let own = loaded.as_ref().map(|loaded| Arc::clone(&loaded.profile.catalogue));
    let catalogue = own.as_deref().unwrap_or(Catalogue::built_in());
    let class = class.map(|word| class_of(catalogue, word)).transpose()?;
    // `controls "left stick"` and `controls left stick` are the same.
    let words: Vec<String> =
        words.iter().flat_map(|w| w.split_whitespace()).map(str::to_owned).collect();
    let wanted = |entry: &&Entry| class.is_none_or(|c| c == entry.class) && entry.matches(&words);
    let mut found: Vec<&Entry> = catalogue.entries().filter(wanted).collect();
    // What has the words side by side comes first.
    found.sort_by_key(|entry| !entry.has_phrase(&words));
    if found.is_empty() {
        let message = format!("no control goes by `{}`", words.join(" "));
        return Err(Failure::new(message, "try fewer words, or a place: `harmonym controls left`"));
    }
    let bound = |entry: &Entry| loaded.as_ref().map_or_else(Vec::new, |l| bound_to(l, entry));
    if format == Format::Json {
        return output.write(|out| {
            told::line(out, &Start::new("controls", None));
            for entry in found {
                let line = ControlLine {
                    kind: "control",
                    control: &entry.name,
                    control_kind: entry.kind.word(),
                    place: &entry.place,
                    bound_to: bound(entry),
                };
                told::line(out, &line);
            }
        });
    }
    let rows: Vec<[String; 4]> = found
        .iter()
        .map(|entry| {
            let (name, kind) = (entry.name.to_string(), entry.kind.word().to_owned());
            [name, kind, entry.place.to_string(), bound(entry).join(", ")]
        })
        .collect();
    let text = match loaded.is_some() {
        true => table(output.look, ["control", "kind", "where", "bound to"], rows),
        false => {
            let rows = rows.into_iter().map(|[name, kind, place, _]| [name, kind, place]);
            table(output.look, ["control", "kind", "where"], rows.collect())
        }
    };
    output.write(|out| out.push_str(&text))?;
    output.remark(&format!("{} of {} controls", found.len(), catalogue.entries().count()))
}

/// The actions that a control reaches, each once.
fn bound_to(loaded: &Loaded, entry: &Entry) -> Vec<String> {
    let touch = Touch::entry(&loaded.profile.catalogue, &loaded.plan, entry);
    let mut names: Vec<String> = Vec::new();
    for reach in touch.iter().flat_map(|touch| reached(&loaded.plan, touch)) {
        let name = &loaded.plan.names().actions[reach.action];
        if !names.contains(name) {
            names.push(name.clone());
        }
    }
    names
}

fn class_of(catalogue: &Catalogue, word: &str) -> Result<Class, Failure> {
    catalogue.class(word).ok_or_else(|| {
        let words = || catalogue.classes().map(|class| catalogue.word(class));
        let help = did_you_mean(nearest(word, words()), || {
            format!("the classes are {}", words().collect::<Vec<_>>().join(", "))
        });
        Failure::new(format!("there is no device class `{word}`"), help)
    })
}
