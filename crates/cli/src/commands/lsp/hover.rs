//! What stands at a place, in words.

use super::Refused;
use super::answer::{COLUMNS, Found, markdown, subject};
use super::documents::Documents;
use crate::files::Loaded;
use crate::output::style::Look;
use crate::view::topics::{Topic, find, step_with_example};
use crate::view::{action, profile, things};
use harmonym_lab::assist::Subject;
use harmonym_lab::check::Rule;
use harmonym_lab::edit::{Draft, Thing};
use harmonym_lang::compile::uses::{Touch, reached};
use harmonym_lang::profile::controls::unknown_control;
use harmonym_lang::report::Comparing;
use harmonym_runtime::base::ControlName;
use harmonym_runtime::controls::Catalogue;
use lsp_types::{Hover, HoverContents, HoverParams};

/// Text in an editor is plain, and so wide.
const LOOK: Look = Look { color: false, width: COLUMNS, columns: COLUMNS };

pub fn hover(documents: &mut Documents, params: &HoverParams) -> Result<Option<Hover>, Refused> {
    let Some(Found { document, profile: path, span, what: subjects }) =
        subject(documents, &params.text_document_position_params)?
    else {
        return Ok(None);
    };
    let loaded = documents.last_sound(&path);
    let loaded = loaded.as_deref();
    let written = subjects.iter().find_map(|one| match one {
        Subject::Step(written) => Some(written.as_str()),
        _ => None,
    });
    let texts = subjects.iter().filter_map(|one| match one {
        Subject::Word(entry) if entry.topic == "steps" && written.is_some() => {
            step_with_example(entry.word, written.unwrap_or_default())
        }
        Subject::Word(entry) => {
            let found = find(Topic::named(entry.topic), entry.word);
            found.first().map(|(_, entry)| entry.markdown(COLUMNS))
        }
        Subject::Control(name) => Some(control(name, loaded)),
        Subject::Thing(thing) => loaded.map(|loaded| of_thing(thing, loaded)),
        Subject::Step(_) => None,
        Subject::Rule(name) => {
            let rule = Rule::named(name)?;
            Some(format!("# {}\n\n{}\n\n{}\n", rule.name, rule.finds, rule.why))
        }
    });
    let text = texts.collect::<Vec<_>>().join("\n");
    Ok((!text.is_empty()).then(|| Hover {
        contents: HoverContents::Markup(markdown(text)),
        range: Some(document.lines.range(document.source.text(), span)),
    }))
}

/// A control's kind and place, and what it reaches.
fn control(name: &str, loaded: Option<&Loaded>) -> String {
    let catalogue = loaded.map_or(&**Catalogue::built_in(), |one| &one.profile.catalogue);
    let plain = ControlName::new(name).plain();
    let Some(entry) = catalogue.find(&plain) else {
        if let Some(typed) = plain.strip_prefix("char.") {
            return format!("`{name}`: the key that types {typed} on the player's layout\n");
        }
        return format!(
            "There is no control `{name}`: {}\n",
            unknown_control(&plain, catalogue, &Comparing::default())
        );
    };
    let mut text = format!("`{name}`: {}, {}\n", entry.kind.word(), entry.place);
    if let Some(loaded) = loaded {
        let touch = Touch::entry(catalogue, &loaded.plan, entry);
        let mut names: Vec<&str> = Vec::new();
        for reach in touch.iter().flat_map(|touch| reached(&loaded.plan, touch)) {
            let name = loaded.plan.names().actions[reach.action].as_str();
            if !names.contains(&name) {
                names.push(name);
            }
        }
        if !names.is_empty() {
            text.push_str(&format!("\nbound to {}\n", names.join(", ")));
        }
    }
    text
}

/// A thing as `show` shows it.
fn of_thing(thing: &Thing, loaded: &Loaded) -> String {
    let of = &loaded.profile;
    let text = match thing {
        Thing::Action(map, name) => match of.find_actions(&format!("{map}.{name}")).first() {
            Some(&id) => action::text(of, id, LOOK),
            None => return format!("`{map}.{name}` is an action that is not sound yet\n"),
        },
        Thing::Map(name) => match of.find_map(name) {
            Some(map) => profile::one_map(of, map, false, LOOK),
            None => return format!("`{name}` is a map that is not sound yet\n"),
        },
        _ => things::one(of, thing, &Draft::new(&loaded.source).users(thing), LOOK),
    };
    format!("```\n{}\n```\n", text.trim_end())
}
