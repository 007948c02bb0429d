//! A player's file changed; comments, order and all that did not change stay.

use super::Draft;
use super::names::Thing;
use super::scores::Fate;
use harmonym_lang::player::{FORMAT, Player, Worth};
use harmonym_lang::source::{Source, Span};
use toml_edit::{Array, DocumentMut, Item, Table, Value};

/// The text of a player's file, sound or empty, so that it says what `after` is.
pub fn player_text(before: &str, after: &Player) -> String {
    let (mark, body) = match before.strip_prefix('\u{feff}') {
        Some(body) => ("\u{feff}", body),
        None => ("", before),
    };
    let Ok(mut document) = body.parse::<DocumentMut>() else { return after.text() };
    if !document.contains_key("harmonym-player") {
        document.insert("harmonym-player", toml_edit::value(FORMAT));
    }
    settings(document.as_table_mut(), after);
    replaced(document.as_table_mut(), after);
    also(document.as_table_mut(), after);
    let text = document.to_string();
    let is_windows = body.contains("\r\n");
    let text = if is_windows { text.replace("\r\n", "\n").replace('\n', "\r\n") } else { text };
    format!("{mark}{text}")
}

/// The table called `name`, made where it is missing.
fn table<'t>(top: &'t mut Table, name: &str) -> Option<&'t mut dyn toml_edit::TableLike> {
    let item = top.entry(name).or_insert_with(|| Item::Table(Table::new()));
    item.as_table_like_mut()
}

/// Puts a value in the place of another, with what stands around it; an equal one stays as written.
fn put(table: &mut dyn toml_edit::TableLike, key: &str, new: Value) {
    match table.get_mut(key).and_then(Item::as_value_mut) {
        Some(old) if same(old, &new) => {}
        Some(old) => {
            let decor = old.decor().clone();
            *old = new;
            *old.decor_mut() = decor;
        }
        None => drop(table.insert(key, Item::Value(new))),
    }
}

fn same(old: &Value, new: &Value) -> bool {
    let number = |value: &Value| value.as_float().or(value.as_integer().map(|n| n as f64));
    match (old, new) {
        (Value::String(a), Value::String(b)) => a.value() == b.value(),
        (Value::Boolean(a), Value::Boolean(b)) => a.value() == b.value(),
        _ => number(old).is_some() && number(old) == number(new),
    }
}

/// Takes out the keys that are not meant any more.
fn keep(table: &mut dyn toml_edit::TableLike, is_meant: impl Fn(&str) -> bool) {
    let keys: Vec<String> = table.iter().map(|(key, _)| key.to_owned()).collect();
    for key in keys.iter().filter(|key| !is_meant(key)) {
        table.remove(key);
    }
}

fn settings(top: &mut Table, after: &Player) {
    if after.settings.is_empty() {
        top.remove("setting");
        return;
    }
    let Some(table) = table(top, "setting") else { return };
    keep(table, |key| after.settings.iter().any(|one| one.name.text == key));
    for one in &after.settings {
        let value = match one.value {
            Worth::Switch(on) => Value::from(on),
            Worth::Number(n) if n.fract() == 0.0 && n.abs() < 1e15 => Value::from(n as i64),
            Worth::Number(n) => Value::from(n),
        };
        put(table, &one.name.text, value);
    }
}

fn replaced(top: &mut Table, after: &Player) {
    if after.replaced.is_empty() {
        top.remove("replace");
        return;
    }
    let owners = top.entry("replace").or_insert_with(|| {
        let mut table = Table::new();
        table.set_implicit(true);
        Item::Table(table)
    });
    let Some(owners) = owners.as_table_like_mut() else { return };
    keep(owners, |of| after.replaced.iter().any(|one| one.of.text == of));
    for one in &after.replaced {
        if !owners.contains_key(&one.of.text) {
            owners.insert(&one.of.text, Item::Table(Table::new()));
        }
        let own = owners.get_mut(&one.of.text).and_then(Item::as_table_like_mut);
        let Some(own) = own else { continue };
        let is_meant = |old: &str| {
            after.replaced.iter().any(|other| other.of.text == one.of.text && other.old.text == old)
        };
        keep(own, is_meant);
        put(own, &one.old.text, Value::from(one.new.text.as_str()));
    }
}

fn also(top: &mut Table, after: &Player) {
    if after.also.is_empty() {
        top.remove("also");
        return;
    }
    let Some(table) = table(top, "also") else { return };
    keep(table, |of| after.also.iter().any(|one| one.of.text == of));
    let mut owners: Vec<&str> = after.also.iter().map(|one| one.of.text.as_str()).collect();
    owners.dedup();
    for of in owners {
        let own = after.also.iter().filter(|one| one.of.text == of);
        let controls: Vec<&str> = own.map(|one| one.control.text.as_str()).collect();
        match table.get_mut(of).and_then(Item::as_value_mut) {
            Some(Value::Array(list)) => {
                list.retain(|one| one.as_str().is_some_and(|one| controls.contains(&one)));
                for control in controls {
                    if !list.iter().any(|one| one.as_str() == Some(control)) {
                        list.push(control);
                    }
                }
            }
            Some(old) if controls.len() == 1 && old.as_str() == Some(controls[0]) => {}
            _ => drop(table.insert(of, Item::Value(Value::Array(Array::from_iter(controls))))),
        }
    }
}

impl Draft {
    /// The text of a player's file as it has to be after the changes of this draft: what was renamed goes by
    /// its new name, what is gone stays, as whatever no longer fits. Nothing where the text cannot be read.
    pub fn follow_player(&self, text: &Source) -> Option<String> {
        let player = Player::read(text).ok()?;
        let mut edits: Vec<(Span, String)> = Vec::new();
        let mut rename = |span: Span, old: &str, new: String| {
            if old != new && !edits.iter().any(|(other, _)| *other == span) {
                edits.push((span, text.slice(span).replace(old, &new)));
            }
        };
        for one in &player.settings {
            rename(
                one.name.span,
                &one.name.text,
                self.name_now(Thing::Setting(one.name.text.clone())),
            );
        }
        let owners =
            player.replaced.iter().map(|one| &one.of).chain(player.also.iter().map(|one| &one.of));
        for of in owners {
            let (action, scheme) = of.text.split_once('@')?;
            let (map, name) = action.split_once('.')?;
            let action = self.name_now(Thing::Action(map.to_owned(), name.to_owned()));
            let scheme = self.name_now(Thing::Scheme(scheme.to_owned()));
            rename(of.span, &of.text, format!("{action}@{scheme}"));
        }
        let replaced = player.replaced.iter().flat_map(|one| [&one.old, &one.new]);
        for control in replaced.chain(player.also.iter().map(|one| &one.control)) {
            let Some((device, rest)) = control.text.split_once('.') else { continue };
            let (class, number) =
                device.split_once('#').map_or((device, None), |(c, n)| (c, Some(n)));
            let class = self.name_now(Thing::Device(class.to_owned()));
            let number = number.map_or(String::new(), |number| format!("#{number}"));
            rename(control.span, &control.text, format!("{class}{number}.{rest}"));
        }
        edits.sort_by_key(|(span, _)| std::cmp::Reverse(span.start));
        let mut out = text.text().to_owned();
        for (span, new) in edits {
            out.replace_range(span.start..span.end, &new);
        }
        Some(out)
    }

    /// What a thing goes by now; of what is gone, its old name.
    fn name_now(&self, thing: Thing) -> String {
        let said = |thing: &Thing| match thing {
            Thing::Action(map, name) => format!("{map}.{name}"),
            other => other.name().to_owned(),
        };
        let old = said(&thing);
        match self.fate(thing) {
            Fate::Is(thing) => said(&thing),
            Fate::Gone { .. } => old,
        }
    }
}
