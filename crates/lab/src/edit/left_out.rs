//! What of a profile the rows of a table can't hold.

use super::Draft;
use super::address::find_action;
use super::outline::Form;
use super::rows::COLUMNS;
use harmonym_lang::profile::table;

impl Draft {
    /// What the profile says that no row of a table does, a phrase each: the keys of actions and
    /// bindings with the first that has them, the keys of maps, and the other tables.
    pub fn left_out(&self) -> Vec<String> {
        let mut keys = Keys::default();
        let mut of_maps = Keys::default();
        let mut tables = Keys::default();
        for found in self.text.outline.entries() {
            let is_empty = matches!(self.text.slice(found.entry.value.span), "\"\"" | "''" | "[]");
            match found.path()[..] {
                ["harmonym"] => {}
                ["map", map, key] if find_action(&self.raw, map, key).is_none() => {
                    of_maps.add(key, map.to_owned());
                }
                ["map", map, action, "bind", scheme] => {
                    let holds_more = |form: &Form| match form {
                        Form::Table(entries) => entries.len() > 1,
                        _ => false,
                    };
                    let node = &found.entry.value.form;
                    let is_more = match node {
                        Form::Array(items) => items.iter().any(|item| holds_more(&item.form)),
                        form => holds_more(form),
                    };
                    if is_more || is_empty {
                        let what = if is_more {
                            "`label` and `rebind` of bindings"
                        } else {
                            "empty lists"
                        };
                        keys.add(what, format!("{map}.{action}@{scheme}"));
                    }
                }
                ["map", map, action, key, ..] if key != "bind" => {
                    let is_held = COLUMNS.contains(&key) && !is_empty;
                    // `levels.down` and `levels = { down = … }` are one.
                    if !is_held && table::ACTION.iter().any(|known| known.name == key) {
                        keys.add(key, format!("{map}.{action}"));
                    }
                }
                [first @ ("scheme" | "setting" | "fact" | "preset" | "device"), ..] => {
                    tables.add(first, String::new());
                }
                [key] => tables.add(key, String::new()),
                _ => {}
            }
        }
        let mut all: Vec<String> =
            keys.0.iter().map(|(key, of)| format!("{key} ({})", several(of))).collect();
        all.extend(of_maps.0.iter().map(|(key, of)| format!("{key} of maps ({})", several(of))));
        all.extend(tables.0.into_iter().map(|(key, _)| match key.as_str() {
            "scheme" => "the schemes' texts, and devices that nothing is bound to".to_owned(),
            "setting" | "fact" | "preset" | "device" => format!("the {key}s"),
            _ => key,
        }));
        all
    }
}

/// Keys, each with what has it, in order of place.
#[derive(Default)]
struct Keys(Vec<(String, Vec<String>)>);

impl Keys {
    fn add(&mut self, key: &str, of: String) {
        match self.0.iter_mut().find(|(known, _)| known == key) {
            Some((_, all)) if all.contains(&of) => {}
            Some((_, all)) => all.push(of),
            None => self.0.push((key.to_owned(), vec![of])),
        }
    }
}

/// The first, and how many more.
fn several(all: &[String]) -> String {
    match all {
        [] => String::new(),
        [one] => one.clone(),
        [first, rest @ ..] => format!("{first} and {} more", rest.len()),
    }
}
