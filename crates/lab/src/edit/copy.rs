//! Renaming and copying, with every place that names the thing.

use super::add::Fields;
use super::address::new_name;
use super::names::{Role, Thing, mentions};
use super::scores::NameChange;
use super::text::{Beside, Splice, Value};
use super::{Address, Draft};
use harmonym_lang::report::Faults;
use harmonym_lang::source::Span;

impl Draft {
    /// Gives a thing another name, and every place that names it.
    ///
    /// # Errors
    /// When nothing goes by the address, or the new name is none or is taken.
    pub fn rename(&mut self, address: &str, new: &str) -> Result<(Thing, Thing), Faults> {
        let thing = self.whole(address, "renamed")?;
        let new = new_word(&thing, new)?;
        let renamed = thing.named(new);
        new_name(&self.raw, &renamed)?;
        let mut splices = self.text.key_splices(&thing.path(), new);
        for mention in mentions(&self.raw) {
            let Some(text) = mention.renamed(&thing, new) else { continue };
            let is_key = matches!(mention.role, Role::Key(_));
            let text = if is_key { self.text.renamed(mention.span, new) } else { text };
            splices.push((mention.span, text));
        }
        splices.sort_by_key(|(span, _)| *span);
        splices.dedup();
        self.text.splice(splices);
        self.changes.push(NameChange::Renamed(thing.clone(), renamed.clone()));
        self.read();
        Ok((thing, renamed))
    }

    /// The thing of an address that is no key and no binding.
    pub(super) fn whole(&self, address: &str, done: &str) -> Result<Thing, Faults> {
        let parsed = Address::parse(&self.raw, address)?;
        match (parsed.thing, parsed.binding, parsed.keys.is_empty()) {
            (Some(thing), None, true) => Ok(thing),
            _ => Err(Faults::refused(
                format!("`{address}` can't be {done}"),
                "name a map, action, scheme, setting, fact, preset or device",
            )),
        }
    }

    /// Copies a thing under another name; an action also into another map.
    ///
    /// # Errors
    /// When nothing goes by the address, or the new name is none or is taken.
    pub fn copy(&mut self, address: &str, new: &str) -> Result<Thing, Faults> {
        let thing = self.whole(address, "copied")?;
        let copy = match (&thing, new.contains('.')) {
            (Thing::Action(..), true) => self.new_action(new)?,
            _ => thing.named(new_word(&thing, new)?),
        };
        new_name(&self.raw, &copy)?;
        self.copy_text(&thing, &copy);
        self.read();
        self.lead_to_copy(&thing, &copy);
        self.read();
        Ok(copy)
    }

    fn copy_text(&mut self, thing: &Thing, copy: &Thing) {
        let (old, new) = (thing.path(), copy.path());
        let sections = &self.text.outline.sections;
        let own: Vec<usize> = (0..sections.len())
            .filter(|&i| sections[i].header.is_some() && sections[i].path().starts_with(&old))
            .collect();
        let mut block = String::new();
        for &index in &own {
            if !block.is_empty() {
                block.push('\n');
            }
            block.push_str(self.copied_section(index, &new).trim_end());
            block.push('\n');
        }
        let beside = old[..old.len() - 1] == new[..new.len() - 1];
        let lines: Vec<(String, Beside)> = match beside {
            true => self.copied_lines(&old, new[new.len() - 1]),
            false => Vec::new(),
        };
        if let (Some(&last), true) = (own.last(), beside) {
            let at = self.text.section_end(last);
            self.text.add_section(at, &block);
        } else if !own.is_empty() {
            let at = self.place_for(&new);
            self.text.add_section(at, &block);
        } else if lines.is_empty() {
            let fields = self.fields(&old);
            self.add_table(copy, &fields);
        }
        for (line, beside) in lines.into_iter().rev() {
            self.text.add_beside(&beside, &line);
        }
    }

    /// A section's text under another path.
    fn copied_section(&self, index: usize, new: &[&str]) -> String {
        let (start, end) = (self.text.section_start(index), self.text.statements_end(index));
        let mut text = self.text.slice(Span::new(start, end)).replace("\r\n", "\n");
        let section = &self.text.outline.sections[index];
        let Some(header) = &section.header else { return text };
        let keys: Vec<&str> =
            new.iter().copied().chain(section.path().into_iter().skip(new.len())).collect();
        let old = self.text.slice(header.span).to_owned();
        text = text.replacen(&old, &format!("[{}]", keys.join(".")), 1);
        text
    }

    /// The lines of a thing that is written without a header of its own, each with where its copy
    /// goes.
    fn copied_lines(&self, old: &[&str], name: &str) -> Vec<(String, Beside)> {
        let entries = self.text.outline.entries();
        let found: Vec<_> = entries.iter().filter(|found| found.defines(old)).collect();
        let Some(last) = found.last() else { return Vec::new() };
        let beside = |found: &super::outline::Found<'_>| Beside::from(found.clone());
        let lines = found.iter().map(|one| {
            let (span, key) = (one.entry.span(), one.key_of(old).span);
            let before = self.text.slice(Span::new(span.start, key.start));
            let after = self.text.slice(Span::new(key.end, span.end));
            (format!("{before}{name}{after}"), beside(last))
        });
        lines.collect()
    }

    /// What is written of a thing, as fields.
    fn fields(&self, path: &[&str]) -> Fields {
        let entries = self.text.outline.entries();
        let own =
            entries.iter().filter(|f| f.path().len() > path.len() && f.path().starts_with(path));
        let outer = own.filter(|f| f.before.len() <= path.len());
        let field = |f: &super::outline::Found<'_>| {
            let key = f.path()[path.len()..].join(".");
            (key, Value::Plain(self.text.slice(f.entry.value.span).to_owned()))
        };
        outer.map(field).collect()
    }

    /// In a copied map, what named the map names the copy; a copied scheme gets the bindings too;
    /// two maps can't both be the solo map that starts; an action in another map says the map of
    /// those it named.
    fn lead_to_copy(&mut self, thing: &Thing, copy: &Thing) {
        match (thing, copy) {
            (Thing::Action(from, _), Thing::Action(to, _)) if from != to => {
                let inside = copy.address();
                let mut splices: Vec<Splice> = Vec::new();
                for mention in mentions(&self.raw).into_iter().filter(|m| m.inside == inside) {
                    if let [(Thing::Action(..), (at, _))] = mention.things[..] {
                        let mut text = mention.text;
                        text.insert_str(at, &format!("{from}."));
                        splices.push((mention.span, text));
                    }
                }
                self.text.splice(splices);
            }
            (Thing::Map(_), Thing::Map(new)) => {
                self.text.remove(&["map", new, "start"]);
                self.read();
                let inside = format!("{new}.");
                let mut splices: Vec<Splice> = Vec::new();
                for mention in mentions(&self.raw) {
                    let own =
                        mention.inside.starts_with(&inside) || mention.inside == copy.address();
                    if let (true, Some(text)) = (own, mention.renamed(thing, new)) {
                        splices.push((mention.span, text));
                    }
                }
                self.text.splice(splices);
            }
            (Thing::Scheme(_), Thing::Scheme(new)) => {
                let keys =
                    mentions(&self.raw).into_iter().filter_map(|mention| match mention.role {
                        Role::Key(path) if mention.things.iter().any(|(one, _)| one == thing) => {
                            Some(path)
                        }
                        _ => None,
                    });
                for mut path in keys.collect::<Vec<_>>() {
                    let old: Vec<&str> = path.iter().map(String::as_str).collect();
                    let Some(node) = self.text.outline.value(&old) else { continue };
                    let value = Value::Plain(self.text.slice(node.span).to_owned());
                    path.pop();
                    path.push(new.clone());
                    let new: Vec<&str> = path.iter().map(String::as_str).collect();
                    self.text.put(&new, &value);
                }
            }
            _ => {}
        }
    }
}

/// The new name of a thing; an action's may come with its own map.
fn new_word<'n>(thing: &Thing, new: &'n str) -> Result<&'n str, Faults> {
    let own = match thing {
        Thing::Action(map, _) => format!("{map}."),
        other => format!("{}.", other.kind()),
    };
    let name = new.strip_prefix(&own).unwrap_or(new);
    match name.split_once('.') {
        None => Ok(name),
        Some((_, last)) => Err(Faults::refused(
            format!("`{new}` would be in another place"),
            format!("write the new name alone: {last}; or `copy` it there, then `remove` it here"),
        )),
    }
}
