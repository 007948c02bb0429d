//! Addresses: what commands call the things of a profile.

use super::Draft;
use super::names::Thing;
use harmonym_lang::profile::{Profile, table};
use harmonym_lang::report::{Faults, did_you_mean, nearest};
use harmonym_runtime::base::{corrected_name, is_name};

/// What an address names: a thing, one or all of its bindings in a scheme, and a key of it.
#[derive(Clone, Debug, PartialEq)]
pub struct Address {
    /// The thing; none for a key of the profile itself.
    pub thing: Option<Thing>,
    /// The scheme of a binding, and which one of it, from 1.
    pub binding: Option<(String, Option<usize>)>,
    /// What comes after it.
    pub keys: Vec<String>,
}

impl Address {
    /// Reads an address: `quay`, `map.quay`, `quay.walk`, `walk` where one map has it,
    /// `quay.walk@pad#1`, `scheme.pad`, `setting.gaze-speed.default`, `quay.gaze.shape.scale`.
    ///
    /// # Errors
    /// When nothing goes by that name: with the nearest one that does.
    pub fn parse(raw: &Profile, text: &str) -> Result<Self, Faults> {
        let (main, scheme) = match text.split_once('@') {
            Some((main, rest)) => (main, Some(rest)),
            None => (text, None),
        };
        let mut words: Vec<&str> = main.split('.').collect();
        let thing = Self::thing(raw, text, &mut words)?;
        let mut keys: Vec<String> = words.iter().map(|&word| word.to_owned()).collect();
        let mut binding = None;
        if let Some(rest) = scheme {
            let mut rest = rest.split('.');
            let first = rest.next().unwrap_or_default();
            let Some(Thing::Action(map, action)) = &thing else {
                return Err(Faults::refused(
                    format!("`{main}` has no bindings"),
                    "name an action before the `@`: quay.walk@pad",
                ));
            };
            binding = Some(binding_of(raw, map, action, first)?);
            keys.extend(rest.map(str::to_owned));
        }
        Ok(Self { thing, binding, keys })
    }

    /// Takes the words of the thing off `words`.
    fn thing(raw: &Profile, text: &str, words: &mut Vec<&str>) -> Result<Option<Thing>, Faults> {
        let owned = |name: &str| name.to_owned();
        let first = words[0];
        if let ("scheme" | "setting" | "fact" | "preset" | "device", Some(name)) =
            (first, words.get(1))
            && let Some(thing) = Thing::at(&[first, name])
        {
            if !exists(raw, &thing) {
                return Err(unknown(raw, text));
            }
            words.drain(..2);
            return Ok(Some(thing));
        }
        let at = usize::from(first == "map" && words.len() > 1);
        if let Some(map) = raw.maps.iter().find(|map| map.name.text == words[at]) {
            words.drain(..=at);
            let Some(&next) = words.first() else {
                return Ok(Some(Thing::Map(owned(&map.name.text))));
            };
            if map.actions.iter().any(|action| action.name.text == next) {
                words.remove(0);
                return Ok(Some(Thing::Action(owned(&map.name.text), owned(next))));
            }
            if !table::MAP.iter().any(|key| key.name == next) {
                return Err(unknown(raw, text));
            }
            return Ok(Some(Thing::Map(owned(&map.name.text))));
        }
        let of =
            |map: &harmonym_lang::profile::Map| map.actions.iter().any(|a| a.name.text == first);
        let maps: Vec<&str> =
            raw.maps.iter().filter(|m| of(m)).map(|m| m.name.text.as_str()).collect();
        match (maps.as_slice(), words.len()) {
            ([map], _) => {
                words.remove(0);
                Ok(Some(Thing::Action(owned(map), owned(first))))
            }
            ([], 1) if table::TOP.iter().any(|key| key.name == first) => Ok(None),
            ([], _) => Err(unknown(raw, text)),
            (several, _) => {
                let all: Vec<String> = several.iter().map(|map| format!("{map}.{first}")).collect();
                let message = format!("`{first}` is an action of several maps");
                Err(Faults::refused(message, format!("write one of {}", all.join(", "))))
            }
        }
    }
}

/// `pad` or `pad#2` of an action.
fn binding_of(
    raw: &Profile,
    map: &str,
    action: &str,
    text: &str,
) -> Result<(String, Option<usize>), Faults> {
    let (scheme, number) = match text.split_once('#') {
        Some((scheme, number)) => (scheme, Some(number)),
        None => (text, None),
    };
    let bindings = bindings(raw, map, action, scheme);
    if bindings == 0 {
        let action_of = find_action(raw, map, action);
        let has: Vec<String> = action_of
            .iter()
            .flat_map(|a| &a.binds)
            .filter(|(_, list)| !list.is_empty())
            .map(|(scheme, _)| format!("{map}.{action}@{}", scheme.text))
            .collect();
        let help = match has.as_slice() {
            [] => format!("bind it first: harmonym bind {map}.{action} …"),
            has => format!("there is {}", has.join(", ")),
        };
        let message = format!("`{map}.{action}` has no bindings in `{scheme}`");
        return Err(Faults::refused(message, help));
    }
    let Some(number) = number else { return Ok((scheme.to_owned(), None)) };
    match number.parse::<usize>() {
        Ok(n) if (1..=bindings).contains(&n) => Ok((scheme.to_owned(), Some(n))),
        _ => Err(Faults::refused(
            format!("there is no binding `{map}.{action}@{scheme}#{number}`"),
            format!("they are numbered from #1 to #{bindings}"),
        )),
    }
}

pub(super) fn find_action<'r>(
    raw: &'r Profile,
    map: &str,
    name: &str,
) -> Option<&'r harmonym_lang::profile::Action> {
    let map = raw.maps.iter().find(|one| one.name.text == map)?;
    map.actions.iter().find(|action| action.name.text == name)
}

/// How many bindings an action has in a scheme.
pub(super) fn bindings(raw: &Profile, map: &str, action: &str, scheme: &str) -> usize {
    let binds = find_action(raw, map, action).map(|action| &action.binds);
    let own = binds.into_iter().flatten().find(|(name, _)| name.text == scheme);
    own.map_or(0, |(_, list)| list.len())
}

/// Whether the profile has a thing.
pub(super) fn exists(raw: &Profile, thing: &Thing) -> bool {
    thing.definition(raw).is_some()
}

/// Every thing of a profile.
pub(super) fn things(raw: &Profile) -> Vec<Thing> {
    let mut all = Vec::new();
    for map in &raw.maps {
        all.push(Thing::Map(map.name.text.clone()));
        let own = map.actions.iter();
        all.extend(own.map(|a| Thing::Action(map.name.text.clone(), a.name.text.clone())));
    }
    all.extend(raw.schemes.iter().map(|one| Thing::Scheme(one.name.text.clone())));
    all.extend(raw.variables.iter().map(|one| match one.is_setting {
        true => Thing::Setting(one.name.text.clone()),
        false => Thing::Fact(one.name.text.clone()),
    }));
    all.extend(raw.presets.iter().map(|one| Thing::Preset(one.name.text.clone())));
    all.extend(raw.devices.iter().map(|one| Thing::Device(one.name.text.clone())));
    all
}

fn unknown(raw: &Profile, text: &str) -> Faults {
    let all = things(raw);
    let (first, rest) = text.split_once('.').map_or((text, ""), |(first, rest)| (first, rest));
    if let Some(thing) = all.iter().find(|thing| thing.name() == first && thing.path()[0] != "map")
    {
        let address = thing.address();
        let help = match (thing, rest) {
            (Thing::Setting(_) | Thing::Fact(_), "") => {
                format!("its address is `{address}`, and that of its value `{address}.default`")
            }
            (_, "") => format!("its address is `{address}`"),
            _ => format!("write `{address}.{rest}`"),
        };
        return Faults::refused(format!("`{first}` is a {}", thing.kind()), help);
    }
    let addresses: Vec<String> = all.iter().map(Thing::address).collect();
    let bare = all.iter().filter(|t| matches!(t, Thing::Map(_) | Thing::Action(..)));
    let keys = match text.split_once('.') {
        Some((map, _)) if raw.maps.iter().any(|one| one.name.text == map) => {
            table::MAP.iter().map(|key| format!("{map}.{}", key.name)).collect()
        }
        _ => Vec::new(),
    };
    let known = addresses.iter().map(String::as_str);
    let known = known.chain(bare.map(Thing::name)).chain(keys.iter().map(String::as_str));
    // Keys behind a thing say nothing of which thing it is.
    let thing: Vec<&str> = text.split(['.', '@']).collect();
    let thing = thing[..thing.len().min(2)].join(".");
    let near = nearest(&thing, known.clone()).or_else(|| nearest(text, known));
    let help = did_you_mean(near, || "`harmonym show` lists all maps and actions".to_owned());
    Faults::refused(format!("nothing in the profile goes by `{text}`"), help)
}

/// A name for something new: one that is a name, and not taken.
pub(super) fn new_name(raw: &Profile, thing: &Thing) -> Result<(), Faults> {
    let name = thing.name();
    if !is_name(name) {
        let help = match corrected_name(name) {
            Some(corrected) => format!("write `{corrected}`"),
            None => "names are lower-case letters, digits and single hyphens".to_owned(),
        };
        return Err(Faults::refused(format!("`{name}` is not a name"), help));
    }
    let twin = match thing {
        Thing::Setting(name) => Some(Thing::Fact(name.clone())),
        Thing::Fact(name) => Some(Thing::Setting(name.clone())),
        _ => None,
    };
    if let Some(taken) = [Some(thing.clone()), twin].into_iter().flatten().find(|t| exists(raw, t))
    {
        let (kind, address) = (taken.kind(), taken.address());
        let article = if kind == "action" { "an" } else { "a" };
        let message = format!("there is {article} {kind} `{address}` already");
        return Err(Faults::refused(message, "take another name, or change that one with `set`"));
    }
    Ok(())
}

impl Draft {
    /// Everything of the profile that has a name: maps with their actions, schemes, settings and
    /// facts, presets, devices.
    pub fn things(&self) -> Vec<Thing> {
        things(&self.raw)
    }

    /// `quay.hail` for a new action: the map and the name.
    pub(super) fn new_action(&self, text: &str) -> Result<Thing, Faults> {
        let text = text.strip_prefix("map.").unwrap_or(text);
        let Some((map, name)) = text.split_once('.') else {
            let maps: Vec<&str> = self.raw.maps.iter().map(|m| m.name.text.as_str()).collect();
            let help = match maps.as_slice() {
                [] => format!("add a map first: harmonym add map quay; then name it quay.{text}"),
                maps => format!("name the map too: {}.{text}", maps.join(&format!(".{text}, "))),
            };
            return Err(Faults::refused(format!("`{text}` doesn't say which map it is for"), help));
        };
        if !exists(&self.raw, &Thing::Map(map.to_owned())) {
            let maps = || self.raw.maps.iter().map(|m| m.name.text.as_str());
            let help =
                did_you_mean(nearest(map, maps()).map(|near| format!("{near}.{name}")), || {
                    format!("add the map first: harmonym add map {map}")
                });
            return Err(Faults::refused(format!("there is no map `{map}`"), help));
        }
        let thing = Thing::Action(map.to_owned(), name.to_owned());
        if table::MAP.iter().any(|key| key.name == name) {
            let message = format!("`{name}` is a key of maps and can't be the name of an action");
            return Err(Faults::refused(
                message,
                format!("name what the player does: {name}-it, say"),
            ));
        }
        new_name(&self.raw, &thing).map(|()| thing)
    }
}
