//! Setting one key or number.

use super::names::Thing;
use super::text::Value;
use super::{Address, Draft};
use harmonym_lang::profile::cues::CueWord;
use harmonym_lang::profile::steps::StepWord;
use harmonym_lang::profile::table::{self, Holds, Key};
use harmonym_lang::report::{Faults, nearest};

impl Draft {
    /// Sets one key or number.
    ///
    /// # Errors
    /// When nothing goes by the address, or the value is not what it holds.
    pub fn set(&mut self, address: &str, values: &[String]) -> Result<(), Faults> {
        let parsed = Address::parse(&self.raw, address)?;
        let text = values.join(" ");
        if self.set_number(address, &parsed, &text)? {
            self.read();
            return Ok(());
        }
        let keys: Vec<&str> = parsed.keys.iter().map(String::as_str).collect();
        let mut path = parsed.thing.as_ref().map(Thing::path).unwrap_or_default();
        match (&parsed.thing, &parsed.binding, keys.as_slice()) {
            (Some(Thing::Preset(_)), _, []) => self.text.put(&path, &Value::Text(text)),
            (_, Some((scheme, number)), []) => {
                path.extend(["bind", scheme]);
                self.text.set_item(&path, number.unwrap_or(1) - 1, &text);
            }
            (_, None, ["bind", scheme]) => {
                let scheme = self.known_scheme(scheme)?;
                path.extend(["bind", scheme.as_str()]);
                let value = match values {
                    [one] => Value::Text(one.clone()),
                    several => Value::Texts(several.to_vec()),
                };
                self.text.put(&path, &value);
            }
            (Some(thing @ (Thing::Setting(_) | Thing::Fact(_))), None, []) => {
                return Err(Faults::refused(
                    format!("`{address}` says no key of the {}", thing.kind()),
                    format!("write `harmonym set {}.default {text}`", thing.address()),
                ));
            }
            (thing, None, keys) => {
                let value = value_for(thing.as_ref(), keys, values)?;
                path.extend(keys);
                self.text.put(&path, &value);
            }
            _ => {
                return Err(Faults::refused(
                    format!("`{address}` can't be set"),
                    "name a binding, or a number in one",
                ));
            }
        }
        self.read();
        Ok(())
    }
}

/// The keys of a thing, and what has them.
fn keys_of(thing: Option<&Thing>) -> (&'static [Key], String) {
    let path = thing.map(Thing::path).unwrap_or_default();
    let of = match thing {
        None => "a profile".to_owned(),
        Some(Thing::Action(..)) => "an action".to_owned(),
        Some(thing) => format!("a {}", thing.kind()),
    };
    (table::keys_at(&path), of)
}

/// The value that a key holds, read from words.
fn value_for(thing: Option<&Thing>, keys: &[&str], values: &[String]) -> Result<Value, Faults> {
    let (known, of) = keys_of(thing);
    let names = || known.iter().map(|key| key.name);
    let all = names().collect::<Vec<_>>().join(", ");
    let Some(&key) = keys.first() else {
        return Err(Faults::refused("this says no key", format!("the keys of {of} are {all}")));
    };
    let text = values.join(" ");
    match (key, keys.get(1)) {
        ("levels", Some(level)) if table::LEVELS.iter().any(|key| key.name == *level) => {
            return Value::number(&text, level);
        }
        ("levels", _) => {
            let help = "set one: levels.wake, levels.down or levels.up";
            return Err(Faults::refused("`levels` is three numbers", help));
        }
        ("controls" | "as", Some(_)) => return Ok(Value::Text(text)),
        _ => {}
    }
    let Some(found) = known.iter().find(|one| one.name == key).filter(|_| keys.len() == 1) else {
        let address = thing.map_or(String::new(), Thing::address);
        let is_action = matches!(thing, Some(Thing::Action(..)));
        let help = match nearest(key, names()) {
            _ if is_action && CueWord::named(key).is_some() => {
                format!("a number of a cue stands in the fire rule: write `{address}.fire.{key}`")
            }
            _ if is_action && StepWord::named(key).is_some() => format!(
                "a number of a step stands in a binding or in the shape: write \
                 `{address}@SCHEME#1.{key}` or `{address}.shape.{key}`"
            ),
            Some(near) if near != key => {
                format!("did you mean `{near}`? The keys of {of} are {all}")
            }
            _ => format!("the keys of {of} are {all}"),
        };
        return Err(Faults::refused(format!("`{}` is not a key of {of}", keys.join(".")), help));
    };
    let switch = |text: &str| match text {
        "true" | "on" => Some(Value::Plain("true".to_owned())),
        "false" | "off" => Some(Value::Plain("false".to_owned())),
        _ => None,
    };
    match found.holds {
        Holds::Text | Holds::Word(_) => Ok(Value::Text(text)),
        Holds::Number => Value::number(&text, key),
        Holds::Switch => switch(&text).ok_or_else(|| {
            Faults::refused(
                format!("`{key}` is true or false, not `{text}`"),
                "write true or false",
            )
        }),
        Holds::Either => match switch(&text) {
            Some(value) => Ok(value),
            None => Value::number(&text, key),
        },
        Holds::Texts => Ok(Value::Texts(words(values))),
        Holds::Range => match words(values).as_slice() {
            [least, most] => {
                let (Value::Plain(least), Value::Plain(most)) =
                    (Value::number(least, key)?, Value::number(most, key)?)
                else {
                    return Err(Faults::refused(
                        "`range` is two numbers",
                        "write the least and the most: 0.2 4",
                    ));
                };
                Ok(Value::Plain(format!("[{least}, {most}]")))
            }
            _ => Err(Faults::refused(
                "`range` is two numbers",
                "write the least and the most: 0.2 4",
            )),
        },
        Holds::Table => Err(Faults::refused(
            format!("`{key}` holds keys of its own"),
            match key {
                "bind" => "name the scheme: bind.pad; or use `harmonym bind`".to_owned(),
                _ => format!("name one of them: {key}.NAME"),
            },
        )),
    }
}

/// The words of a list, however it is parted: `a b`, `a, b`, `["a", "b"]`.
fn words(values: &[String]) -> Vec<String> {
    let parts = values.iter().flat_map(|value| value.split([',', ' ', '[', ']']));
    let bare = parts.map(|word| word.trim().trim_matches(['"', '\'']));
    bare.filter(|word| !word.is_empty()).map(str::to_owned).collect()
}
