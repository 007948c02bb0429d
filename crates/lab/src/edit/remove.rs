//! Taking things out, with what still names them or not at all.

use super::names::{Mention, Role, Thing, mentions};
use super::scores::NameChange;
use super::text::Splice;
use super::{Address, Draft};
use harmonym_lang::profile;
use harmonym_lang::report::Faults;
use harmonym_lang::source::Span;

impl Draft {
    /// Takes a thing, a key or bindings out. With `force`, what names the thing goes too: list
    /// entries, guards, bindings and steps; a number stays as its default was.
    ///
    /// # Errors
    /// When nothing goes by the address, or something still names the thing.
    pub fn remove(&mut self, address: &str, force: bool) -> Result<(), Faults> {
        let parsed = Address::parse(&self.raw, address)?;
        if parsed.binding.is_some() {
            return self.unbind(address);
        }
        let mut path = parsed.thing.as_ref().map(Thing::path).unwrap_or_default();
        let keys: Vec<&str> = parsed.keys.iter().map(String::as_str).collect();
        if !keys.is_empty() {
            path.extend(keys);
            if !self.text.outline.has(&path) {
                let message = format!("`{address}` is not written in the profile");
                return Err(Faults::refused(message, "there is nothing to remove"));
            }
            self.text.remove(&path);
            self.read();
            return Ok(());
        }
        let Some(thing) = parsed.thing.clone() else { return Ok(()) };
        while let Some(mention) = self.first_mention(&thing) {
            if !force {
                return Err(self.still_named(&thing));
            }
            self.drop_mention(&thing, &mention)?;
            self.read();
        }
        self.text.remove(&thing.path());
        if let Thing::Preset(_) = thing {
            self.text.remove_bare("preset");
        }
        self.changes.push(NameChange::Removed { thing, force });
        self.read();
        Ok(())
    }

    /// The mentions of a thing from outside of it.
    fn mentions_of(&self, thing: &Thing) -> Vec<Mention> {
        let inside = match thing {
            Thing::Map(name) => format!("{name}."),
            other => other.address(),
        };
        let names = |mention: &Mention| {
            mention.things.iter().any(|(one, _)| {
                one == thing
                    || matches!((thing, one), (Thing::Map(m), Thing::Action(of, _)) if m == of)
            })
        };
        let own = |mention: &Mention| match thing {
            Thing::Map(_) => {
                mention.inside.starts_with(&inside) || mention.inside == thing.address()
            }
            _ => mention.inside == inside,
        };
        mentions(&self.raw).into_iter().filter(|m| names(m) && !own(m)).collect()
    }

    fn first_mention(&self, thing: &Thing) -> Option<Mention> {
        self.mentions_of(thing).into_iter().next()
    }

    fn still_named(&self, thing: &Thing) -> Faults {
        let source = self.source();
        let mut places: Vec<String> = Vec::new();
        for mention in self.mentions_of(thing) {
            let place = source.place(mention.span.start);
            let (name, inside) = (source.name(), &mention.inside);
            places.push(format!("{name}:{}:{} ({inside})", place.line, place.column));
        }
        places.dedup();
        let (kind, address) = (thing.kind(), thing.address());
        let verb = if places.len() == 1 { "names" } else { "name" };
        let message = format!(
            "{} still {verb} the {kind} `{address}`: {}",
            count(places.len()),
            places.join(", ")
        );
        let help = "change those first, or take them out with it: --force";
        Faults::refused(message, help)
    }

    /// Takes out what stands at a mention.
    fn drop_mention(&mut self, thing: &Thing, mention: &Mention) -> Result<(), Faults> {
        fn strs(path: &[String]) -> Vec<&str> {
            path.iter().map(String::as_str).collect()
        }
        match &mention.role {
            Role::Item(path, index) => {
                let path = strs(path);
                match path.as_slice() {
                    ["scheme", name, "devices"] if self.has_one_device(name) => {
                        // A scheme without a device is none.
                        return self.remove(&format!("scheme.{name}"), true);
                    }
                    path => self.text.drop_item(path, *index),
                }
            }
            Role::Binding(path, index) => self.text.drop_binding(&strs(path), *index),
            Role::Key(path) => self.text.remove(&strs(path)),
            Role::Guard(span) => self.text.splice(vec![self.with_space_before(*span)]),
            Role::Step(span) => self.drop_step(*span),
            Role::Condition { condition, step, unless } => {
                let holds = (self.default_of(thing) != 0.0) != *unless;
                match holds {
                    true => self.text.splice(vec![self.with_space_before(*condition)]),
                    false => self.drop_step(*step),
                }
            }
            Role::Number(unit) => {
                let number = self.default_in(thing, unit);
                self.text.splice(vec![(mention.span, number)]);
            }
            Role::SequenceStep(count) if *count > 2 => {
                let (span, all) = (mention.span, self.text());
                let (before, after) = (&all[..span.start], &all[span.end..]);
                let rest = after.trim_start();
                let span = match rest.starts_with(',') {
                    true => {
                        let gone = after.len() - rest[1..].trim_start().len();
                        Span::new(span.start, span.end + gone)
                    }
                    false => Span::new(before.trim_end().trim_end_matches(',').len(), span.end),
                };
                self.text.splice(vec![(span, String::new())]);
            }
            Role::SequenceStep(_) => {
                let message =
                    format!("`{}` is a sequence that would have one step left", mention.inside);
                let help =
                    format!("give it another rule first: harmonym set {}.fire …", mention.inside);
                return Err(Faults::refused(message, help));
            }
        }
        Ok(())
    }

    fn has_one_device(&self, scheme: &str) -> bool {
        let own = self.raw.schemes.iter().find(|one| one.name.text == scheme);
        own.and_then(|one| one.devices.as_ref()).is_some_and(|devices| devices.len() == 1)
    }

    fn with_space_before(&self, span: Span) -> Splice {
        let start = self.text()[..span.start].trim_end().len();
        (Span::new(start, span.end), String::new())
    }

    /// Takes a step out of its chain; the key with the last one.
    fn drop_step(&mut self, span: Span) {
        let (before, after) = (&self.text()[..span.start], &self.text()[span.end..]);
        let (left, right) = (before.trim_end(), after.trim_start());
        let gone = if let Some(left) = left.strip_suffix('|') {
            Span::new(left.trim_end().len(), span.end)
        } else if let Some(rest) = right.strip_prefix('|') {
            Span::new(span.start, span.end + after.len() - rest.trim_start().len())
        } else {
            let entries = self.text.outline.entries();
            let own = entries.iter().rfind(|found| {
                let value = found.entry.value.span;
                value.start <= span.start && span.end <= value.end
            });
            let path: Vec<String> = own
                .map(|f| f.path().iter().map(|&key| key.to_owned()).collect())
                .unwrap_or_default();
            let path: Vec<&str> = path.iter().map(String::as_str).collect();
            return self.text.remove(&path);
        };
        self.text.splice(vec![(gone, String::new())]);
    }

    /// The default of a setting or fact, as a number.
    fn default_of(&self, thing: &Thing) -> f64 {
        let named = self.raw.variables.iter().find(|named| named.name.text == thing.name());
        match named.and_then(|named| named.default) {
            Some(profile::Default::Number(number, _)) => number,
            Some(profile::Default::Switch(on)) => f64::from(u8::from(on)),
            None => 0.0,
        }
    }

    /// The same as it is written in an expression, with `unit` where it names none itself.
    fn default_in(&self, thing: &Thing, unit: &str) -> String {
        let named = self.raw.variables.iter().find(|named| named.name.text == thing.name());
        let own = named.and_then(|named| named.unit.as_ref()).map(|unit| unit.value().to_owned());
        let number = harmonym_runtime::base::shortest(self.default_of(thing));
        format!("{number}{}", own.as_deref().unwrap_or(unit))
    }
}

fn count(places: usize) -> String {
    match places {
        1 => "one place".to_owned(),
        n => format!("{n} places"),
    }
}
