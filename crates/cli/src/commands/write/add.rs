//! `add`.

use super::EditSession;
use crate::args::{Add, AddFact, AddMap, AddSetting};
use crate::commands::new::map_of;
use crate::failure::Failure;
use crate::output::Output;
use harmonym_lab::edit::{Draft, Fields, Thing, Value};
use std::path::Path;

/// The fields that were said.
struct Said(Fields);

impl Said {
    fn text(mut self, key: &str, text: Option<&String>) -> Self {
        self.0.extend(text.map(|text| (key.to_owned(), Value::Text(text.clone()))));
        self
    }

    fn number(mut self, key: &str, text: Option<&String>) -> Result<Self, Failure> {
        if let Some(text) = text {
            self.0.push((key.to_owned(), Value::number(text, key)?));
        }
        Ok(self)
    }
}

pub fn add(file: Option<&Path>, what: &Add, output: &mut Output) -> Result<(), Failure> {
    let mut session = EditSession::open(file, what.writing(), output)?;
    let draft = &mut session.draft;
    let added = match what {
        Add::Map(map) => add_map(draft, map)?,
        Add::Action { address, value, fire, shape, blend, about, .. } => {
            let fields = Said(Vec::new())
                .text("value", Some(value))
                .text("about", about.as_ref())
                .text("blend", blend.as_ref())
                .text("shape", shape.as_ref())
                .text("fire", fire.as_ref());
            draft.add_action(address, &fields.0)?
        }
        Add::Scheme { name, devices, about, .. } => {
            let thing = Thing::Scheme(name.clone());
            let devices = vec![("devices".to_owned(), Value::Texts(devices.clone()))];
            draft.add(&thing, &Said(devices).text("about", about.as_ref()).0)?;
            thing
        }
        Add::Setting(setting) => add_setting(draft, setting)?,
        Add::Fact(fact) => add_fact(draft, fact)?,
        Add::Preset { name, steps, .. } => {
            draft.add_preset(name, steps)?;
            Thing::Preset(name.clone())
        }
        Add::Device { name, controls, about, .. } => {
            let thing = Thing::Device(name.clone());
            let controls =
                Value::Table(controls.iter().map(|c| control(c)).collect::<Result<_, _>>()?);
            let fields = Said(vec![("controls".to_owned(), controls)]);
            draft.add(&thing, &fields.text("about", about.as_ref()).0)?;
            thing
        }
    };
    session.finish(&format!("added {}", added.address()), output)
}

fn add_map(draft: &mut Draft, what: &AddMap) -> Result<Thing, Failure> {
    let AddMap { name, kind, rank, start, about, starter, writing: _ } = what;
    let thing = Thing::Map(name.clone());
    if let Some(starter) = starter {
        let block = map_of(starter, name, draft)?;
        draft.add_map_of(&thing, &block)?;
        for (key, value) in [("kind", kind), ("rank", rank), ("about", about)] {
            if let Some(value) = value {
                draft.set(&format!("{}.{key}", thing.address()), std::slice::from_ref(value))?;
            }
        }
        return Ok(thing);
    }
    let mut fields = Said(Vec::new()).text("about", about.as_ref()).text("kind", kind.as_ref());
    fields = fields.number("rank", rank.as_ref())?;
    if *start || (kind.as_deref().is_none_or(|kind| kind == "solo") && draft.raw().maps.is_empty())
    {
        fields.0.push(("start".to_owned(), Value::Plain("true".to_owned())));
    }
    draft.add(&thing, &fields.0)?;
    Ok(thing)
}

fn add_setting(draft: &mut Draft, setting: &AddSetting) -> Result<Thing, Failure> {
    let AddSetting { name, default, range, number } = setting;
    let mut said = Said(Vec::new());
    match default.as_str() {
        "true" | "on" => said.0.push(("default".to_owned(), Value::Plain("true".to_owned()))),
        "false" | "off" => said.0.push(("default".to_owned(), Value::Plain("false".to_owned()))),
        _ => said = said.number("default", Some(default))?,
    }
    if let [least, most] = range.as_slice() {
        let (least, most) = (Value::number(least, "range")?, Value::number(most, "range")?);
        if let (Value::Plain(least), Value::Plain(most)) = (least, most) {
            let range = Value::Plain(format!("[{least}, {most}]"));
            said.0.push(("range".to_owned(), range));
        }
    }
    said = said.text("unit", number.unit.as_ref()).text("about", number.about.as_ref());
    let thing = Thing::Setting(name.clone());
    draft.add(&thing, &said.0)?;
    Ok(thing)
}

fn add_fact(draft: &mut Draft, fact: &AddFact) -> Result<Thing, Failure> {
    let AddFact { name, default, number } = fact;
    let said = Said(Vec::new()).text("about", number.about.as_ref());
    let said = said.text("unit", number.unit.as_ref()).number("default", default.as_ref())?;
    let thing = Thing::Fact(name.clone());
    draft.add(&thing, &said.0)?;
    Ok(thing)
}

/// `ahead=axis`.
fn control(text: &str) -> Result<(String, Value), Failure> {
    let Some((name, kind)) = text.split_once('=') else {
        let help = format!("write its kind too: --control {text}=button");
        return Err(Failure::new(
            format!("`{text}` does not say what kind of control it is"),
            help,
        ));
    };
    Ok((name.to_owned(), Value::Text(kind.to_owned())))
}
