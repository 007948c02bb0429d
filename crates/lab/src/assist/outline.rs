//! What is in a profile's text, and what holds where it says nothing.

use crate::edit::{Thing, stretches};
use harmonym_lang::model;
use harmonym_lang::profile::steps::StepWord;
use harmonym_lang::profile::table::SHARE_DOWN;
use harmonym_lang::profile::{Action, Profile};
use harmonym_lang::report::Diagnostics;
use harmonym_lang::source::{Quoted, Source, Span};
use harmonym_lang::syntax::{self, Arg, ArgValue, Number, Step};
use harmonym_runtime::base::shortest;

/// Something that has a name, with its place in the text.
#[derive(Clone, Debug, PartialEq)]
pub struct Symbol {
    /// What it is.
    pub thing: Thing,
    /// Its kind of value or map, if it says one.
    pub detail: String,
    /// All of it.
    pub whole: Span,
    /// Its name.
    pub name: Span,
    /// What is in it.
    pub children: Vec<Symbol>,
}

/// Everything that a profile defines, in the order of the text; actions stand in their maps.
pub fn symbols(source: &Source, raw: &Profile) -> Vec<Symbol> {
    let mut all: Vec<Symbol> = Vec::new();
    for stretch in stretches(source.text()) {
        let path: Vec<&str> = stretch.path.iter().map(String::as_str).collect();
        let Some(thing) = Thing::at(&path) else { continue };
        let detail = detail(raw, &thing);
        let symbol =
            Symbol { detail, whole: stretch.whole, name: stretch.key, children: Vec::new(), thing };
        match &symbol.thing {
            Thing::Action(map, _) => {
                let of = Thing::Map(map.clone());
                match all.iter_mut().find(|one| one.thing == of) {
                    Some(map) => {
                        map.whole = Span::new(
                            map.whole.start.min(symbol.whole.start),
                            map.whole.end.max(symbol.whole.end),
                        );
                        map.children.push(symbol);
                    }
                    None => all.push(symbol),
                }
            }
            _ => all.push(symbol),
        }
    }
    all
}

fn detail(raw: &Profile, thing: &Thing) -> String {
    let said = match thing {
        Thing::Map(name) => {
            raw.maps.iter().find(|one| one.name.text == *name).and_then(|one| one.kind.as_ref())
        }
        Thing::Action(map, name) => {
            let map = raw.maps.iter().find(|one| one.name.text == *map);
            let action = map.and_then(|map| map.actions.iter().find(|one| one.name.text == *name));
            action.and_then(|action| action.value.as_ref())
        }
        _ => None,
    };
    said.map_or_else(|| thing.kind().to_owned(), |text| text.value().to_owned())
}

/// What holds where the file says nothing, with the place behind which to tell it, in order of place.
pub fn left_out(raw: &Profile, profile: &model::Profile) -> Vec<(usize, String)> {
    let mut hints = Vec::new();
    for preset in &raw.presets {
        of_steps(&preset.steps, &mut hints);
    }
    // Both have all actions in the order of the file.
    let written = raw.maps.iter().flat_map(|map| &map.actions);
    for (action, of) in written.zip(profile.actions.iter()) {
        if let Some(value) = &action.value {
            let said = of_action(action, of);
            if !said.is_empty() {
                hints.push((value.span().end, said.join("; ")));
            }
        }
        for binding in action.binds.iter().flat_map(|(_, list)| list) {
            let tree = syntax::parse_binding(&binding.from, &mut Diagnostics::new());
            let steps = tree.as_ref().map_or_else(Vec::new, syntax::Binding::all_steps);
            steps.into_iter().for_each(|step| hints.extend(of_step(step)));
        }
        if let Some(shape) = &action.shape {
            of_steps(shape, &mut hints);
        }
        if let Some(fire) = &action.fire {
            let tree = syntax::parse_fire(fire, &mut Diagnostics::new());
            for cue in tree.iter().flat_map(|tree| &tree.alternatives) {
                let every = number(&cue.args, None).filter(|_| cue.cue.text == "repeat");
                if let (Some(every), None) = (every, number(&cue.args, Some("after"))) {
                    hints.push((every.span.end, format!("after={}", every.text)));
                }
            }
        }
    }
    hints.sort();
    hints
}

fn of_action(action: &Action, of: &model::Action) -> Vec<String> {
    let mut said = Vec::new();
    if !of.fire_given {
        let rule: Vec<&str> = of.fire.iter().map(|one| one.text.as_str()).collect();
        said.push(format!("fire = \"{}\"", rule.join(" or ")));
    }
    if action.blend.is_none() && of.bindings.len() > 1 {
        said.push("blend = \"greatest\"".to_owned());
    }
    if !of.levels_given && !of.bindings.is_empty() {
        said.push(match of.levels.down <= SHARE_DOWN {
            true => "down whenever it is not 0".to_owned(),
            false => {
                let [down, up] = [of.levels.down, of.levels.up].map(shortest);
                format!("down {down}, up {up}")
            }
        });
    }
    said
}

fn of_steps(text: &Quoted, hints: &mut Vec<(usize, String)>) {
    let steps = syntax::parse_steps(text, &mut Diagnostics::new()).unwrap_or_default();
    hints.extend(steps.iter().filter_map(of_step));
}

/// An option that a step leaves out, with its value.
fn of_step(step: &Step) -> Option<(usize, String)> {
    let first = number(&step.args, None);
    let (option, value) = match StepWord::named(&step.name.text)? {
        StepWord::Deadzone => ("full", "1".to_owned()),
        StepWord::SwitchAt => ("off", shortest(0.8 * first?.value).to_string()),
        StepWord::Ease => ("fall", number(&step.args, Some("rise"))?.text.clone()),
        _ => return None,
    };
    let is_there = step.args.iter().any(|arg| is_called(arg, Some(option)));
    let end = step.args.last().map_or(step.name.span.end, |arg| arg.span.end);
    (!is_there).then(|| (end, format!("{option}={value}")))
}

fn is_called(arg: &Arg, name: Option<&str>) -> bool {
    arg.name.as_ref().map(|name| name.text.as_str()) == name
}

/// The first number that is called so, or goes without a name.
fn number<'t>(args: &'t [Arg], name: Option<&str>) -> Option<&'t Number> {
    args.iter().filter(|arg| is_called(arg, name)).find_map(|arg| match &arg.value {
        ArgValue::Number(number) => Some(number),
        _ => None,
    })
}
