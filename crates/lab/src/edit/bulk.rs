//! Many rows of a table made part of a profile, in a time that grows with the rows and not with rows
//! times text: each action is changed in a small draft of its own, and all of them go into the text
//! at once.

use super::address::exists;
use super::outline::Section;
use super::rows::Devices;
use super::text::Splice;
use super::{Done, Draft, Row, Thing, Value};
use harmonym_lang::report::Faults;
use harmonym_lang::source::{Source, Span};
use std::collections::{HashMap, HashSet};

/// After so many rows that were refused one by one, those of actions with faults are not tried any more.
const MOST_REFUSED: usize = 50;

/// What came of a row, or why it was refused.
type Took = Result<Done, String>;

/// The rows of one action, by their places.
struct Group<'r> {
    map: &'r str,
    action: &'r str,
    rows: Vec<(usize, &'r Row)>,
}

impl Draft {
    /// Makes rows part of the profile; those that would make it faulty are left out, with those of the
    /// same action that go with them. What came of each is told at its place.
    pub(super) fn take_many(
        &mut self,
        rows: &[(usize, &Row)],
        devices: &Devices,
    ) -> Vec<(usize, Took)> {
        let mut took: Vec<(usize, Took)> = Vec::new();
        let (mut together, mut apart) = (groups(rows), Vec::new());
        // What is faulty is found by where the faults are; what is left is sound after a few rounds.
        while !together.is_empty() {
            let mut whole = self.clone();
            let done = whole.take_groups(&together, devices);
            let Err(faults) = whole.load() else {
                *self = whole;
                took.extend(done);
                break;
            };
            let faulty = whole.actions_at(&faults);
            let is_faulty = |group: &Group<'_>| {
                faulty.is_empty()
                    || faulty.contains(&(group.map.to_owned(), group.action.to_owned()))
            };
            let (out, kept): (Vec<_>, Vec<_>) =
                together.into_iter().partition(|one| is_faulty(one));
            // Faults that stand elsewhere come of any of them.
            let (out, kept) = if out.is_empty() { (kept, Vec::new()) } else { (out, kept) };
            together = kept;
            apart.extend(out);
        }
        let mut refused = 0;
        for group in &apart {
            for &(place, row) in &group.rows {
                let done = match refused >= MOST_REFUSED {
                    true => {
                        Err(format!("not tried, as {MOST_REFUSED} were refused: mend those first"))
                    }
                    false => self.take_alone(row, devices),
                };
                refused += usize::from(done.is_err());
                took.push((place, done));
            }
        }
        took
    }

    fn load(&self) -> Result<(), Faults> {
        harmonym_lang::load(&self.source()).map(drop)
    }

    fn take_alone(&mut self, row: &Row, devices: &Devices) -> Took {
        let mut tried = self.clone();
        let done = tried.take_row_of(row, devices).map_err(|faults| faults.first())?;
        tried.load().map_err(|faults| faults.first())?;
        *self = tried;
        Ok(done)
    }

    /// The actions, by map and name, in which faults stand.
    fn actions_at(&self, faults: &Faults) -> HashSet<(String, String)> {
        let sections = &self.text.outline.sections;
        let begins: Vec<usize> = sections
            .iter()
            .map(|one| one.header.as_ref().map_or(0, |head| head.span.start))
            .collect();
        let at = |fault: Span| {
            let index = begins.partition_point(|begin| *begin <= fault.start).checked_sub(1)?;
            match *sections[index].path() {
                ["map", map, action, ..] => Some((map.to_owned(), action.to_owned())),
                _ => None,
            }
        };
        faults.list().iter().filter_map(|fault| at(fault.span)).collect()
    }

    /// Makes rows part of the profile, sound or not; a row that is refused by itself changes nothing.
    fn take_groups(&mut self, groups: &[Group<'_>], devices: &Devices) -> Vec<(usize, Took)> {
        let mut added = self.add_schemes(groups, devices);
        let layout = Layout::of(self);
        let head = self.head_of_small();
        let (mut splices, mut took) = (Vec::new(), Vec::new());
        let mut new: Vec<(&str, Vec<String>)> = Vec::new();
        let mut slow = Vec::new();
        for group in groups {
            let (map, action) = (group.map, group.action);
            let is_there = exists(&self.raw, &Thing::Action(map.to_owned(), action.to_owned()));
            let own = layout.stretch_of(self, map, action);
            let is_new_map = !exists(&self.raw, &Thing::Map(map.to_owned()));
            let before = match (own, is_there) {
                (Some(span), true) => self.text.slice(span).to_owned(),
                (None, false) if is_new_map || layout.is_by_header(map) => {
                    format!("[map.{map}]{}", self.text.newline)
                }
                _ => {
                    slow.push(group);
                    continue;
                }
            };
            let mut small = self.small(&head, &before);
            for &(place, row) in &group.rows {
                let kept = small.clone();
                let done = small.take_row_of(row, devices).map_err(|faults| faults.first());
                if done.is_err() {
                    small = kept;
                }
                took.push((place, done));
            }
            let after = &small.text()[head.len()..];
            match own {
                Some(span) if after != before => splices.push((span, after.to_owned())),
                Some(_) => {}
                None => {
                    let block = after.strip_prefix(&before).unwrap_or(after).trim();
                    if block.is_empty() {
                        continue;
                    }
                    match new.iter_mut().find(|(other, _)| *other == map) {
                        Some((_, blocks)) => blocks.push(block.to_owned()),
                        None => new.push((map, vec![block.to_owned()])),
                    }
                }
            }
        }
        added.extend(self.put_all(splices, &new, &layout));
        for group in slow {
            for &(place, row) in &group.rows {
                let kept = self.clone();
                let done = self.take_row_of(row, devices).map_err(|faults| faults.first());
                if done.is_err() {
                    *self = kept;
                }
                took.push((place, done));
            }
        }
        took.sort_by_key(|(place, _)| *place);
        with_added(&mut took, groups, added);
        took
    }

    /// Adds the schemes that rows name and the profile has not; by name.
    fn add_schemes(&mut self, groups: &[Group<'_>], devices: &Devices) -> Vec<Thing> {
        let mut added = Vec::new();
        let mut seen: HashSet<&str> = HashSet::from(["", "all"]);
        for (_, row) in groups.iter().flat_map(|group| &group.rows) {
            let thing = Thing::Scheme(row.scheme.clone());
            let is_bound = !row.binding.is_empty() && seen.insert(&row.scheme);
            let Some(all) = devices.get(&row.scheme).filter(|all| is_bound && !all.is_empty())
            else {
                continue;
            };
            let fields = vec![("devices".to_owned(), Value::Texts(all.clone()))];
            if !exists(&self.raw, &thing) && self.add(&thing, &fields).is_ok() {
                added.push(thing);
            }
        }
        added
    }

    /// What a small draft has besides its action: the schemes, and devices of the profile's own.
    fn head_of_small(&self) -> String {
        let mut head = "harmonym = 1\n".to_owned();
        for scheme in &self.raw.schemes {
            let devices =
                scheme.devices.iter().flatten().map(|one| one.value().to_owned()).collect();
            let devices = Value::Texts(devices).written(None);
            head.push_str(&format!("[scheme.{}]\ndevices = {devices}\n", scheme.name.text));
        }
        for device in &self.raw.devices {
            head.push_str(&format!("[device.{}]\n", device.name.text));
        }
        head.replace('\n', self.text.newline)
    }

    fn small(&self, head: &str, own: &str) -> Self {
        Self::new(&Source::new(self.original.name(), format!("{head}{own}")))
    }

    /// Puts what was changed in its place and what is new behind what its map has; gives the maps that
    /// are new.
    fn put_all(
        &mut self,
        mut splices: Vec<Splice>,
        new: &[(&str, Vec<String>)],
        layout: &Layout,
    ) -> Vec<Thing> {
        let gap = if self.text.is_dense() { "\n" } else { "\n\n" };
        let mut added = Vec::new();
        let mut behind_all = Vec::new();
        for (map, blocks) in new {
            let thing = Thing::Map((*map).to_owned());
            if exists(&self.raw, &thing) {
                let at = layout.end_of(map).unwrap_or(self.text.text.len());
                splices.push(self.text.section_splice(at, &format!("{}\n", blocks.join(gap))));
                continue;
            }
            let is_first = self.raw.maps.is_empty() && added.is_empty();
            let start = if is_first { "start = true\n" } else { "" };
            let header = format!("[map.{map}]\n{start}");
            behind_all.push([&[header.trim_end().to_owned()], &blocks[..]].concat().join(gap));
            added.push(thing);
        }
        if !behind_all.is_empty() {
            let at = self.place_for(&["map", "new"]);
            splices.push(self.text.section_splice(at, &format!("{}\n", behind_all.join(gap))));
        }
        if !splices.is_empty() {
            self.text.splice(splices);
            self.read();
        }
        added
    }
}

/// The rows of each action, the actions in the order in which they come.
fn groups<'r>(rows: &[(usize, &'r Row)]) -> Vec<Group<'r>> {
    let mut places: HashMap<(&str, &str), usize> = HashMap::new();
    let mut all: Vec<Group<'r>> = Vec::new();
    for &(place, row) in rows {
        let (map, action) = (row.map.as_str(), row.action.as_str());
        let index = *places.entry((map, action)).or_insert_with(|| {
            all.push(Group { map, action, rows: Vec::new() });
            all.len() - 1
        });
        all[index].rows.push((place, row));
    }
    all
}

/// Tells of maps and schemes that are new where the first row is of them.
fn with_added(took: &mut [(usize, Took)], groups: &[Group<'_>], added: Vec<Thing>) {
    let rows: HashMap<usize, &Row> = groups.iter().flat_map(|group| &group.rows).copied().collect();
    for thing in added {
        let is_of = |row: &Row| match &thing {
            Thing::Map(name) => row.map == *name,
            thing => row.scheme == thing.name() && !row.binding.is_empty(),
        };
        let first = took.iter_mut().find(|(place, done)| done.is_ok() && is_of(rows[place]));
        let Some((_, Ok(done))) = first else { continue };
        let all = match std::mem::replace(done, Done::Nothing) {
            Done::Nothing => vec![thing.address()],
            Done::Added(mut all) => {
                // A map before its action, a scheme before its binding.
                let at = all.iter().position(|one| one.contains('@')).unwrap_or(all.len());
                let at = if matches!(thing, Thing::Map(_)) { 0 } else { at };
                all.insert(at, thing.address());
                all
            }
            Done::Changed(mut all) => {
                all.push(thing.address());
                *done = Done::Changed(all);
                continue;
            }
        };
        *done = Done::Added(all);
    }
}

/// Where the sections of maps and actions are.
struct Layout {
    /// Of each action the first of its sections and the last, where they follow each other.
    actions: HashMap<(String, String), Option<(usize, usize)>>,
    /// Of each map that has a section, where the last one ends.
    ends: HashMap<String, usize>,
    /// The maps that are written otherwise somewhere: with dots, or in braces.
    otherwise: HashSet<String>,
}

impl Layout {
    fn of(draft: &Draft) -> Self {
        let (mut actions, mut ends) = (HashMap::new(), HashMap::new());
        let mut otherwise = HashSet::new();
        for (index, section) in draft.text.outline.sections.iter().enumerate() {
            match *section.path() {
                ["map", map] => {
                    ends.insert(map.to_owned(), index);
                    if section.entries.iter().any(|entry| is_action(&entry.keys[0].text)) {
                        otherwise.insert(map.to_owned());
                    }
                }
                ["map", map, action, ..] => {
                    ends.insert(map.to_owned(), index);
                    let own = actions.entry((map.to_owned(), action.to_owned()));
                    own.and_modify(|span: &mut Option<(usize, usize)>| {
                        *span = span
                            .filter(|(_, last)| last + 1 == index)
                            .map(|(first, _)| (first, index));
                    })
                    .or_insert(Some((index, index)));
                }
                _ => otherwise.extend(maps_in(section)),
            }
        }
        let ends =
            ends.into_iter().map(|(map, index)| (map, draft.text.section_end(index))).collect();
        Self { actions, ends, otherwise }
    }

    /// Where an action stands, if all of it stands in sections of its own, one behind the other.
    fn stretch_of(&self, draft: &Draft, map: &str, action: &str) -> Option<Span> {
        let own = self.actions.get(&(map.to_owned(), action.to_owned())).copied().flatten();
        let (first, last) = own.filter(|_| !self.otherwise.contains(map))?;
        Some(Span::new(draft.text.section_start(first), draft.text.statements_end(last)))
    }

    /// Whether new actions of a map have headers of their own, as those that it has.
    fn is_by_header(&self, map: &str) -> bool {
        self.ends.contains_key(map) && !self.otherwise.contains(map)
    }

    fn end_of(&self, map: &str) -> Option<usize> {
        self.ends.get(map).copied()
    }
}

/// Whether a key of a map is the name of an action.
fn is_action(key: &str) -> bool {
    !harmonym_lang::profile::table::MAP.iter().any(|known| known.name == key)
}

/// The maps of which something stands in a section that is none of theirs.
fn maps_in(section: &Section) -> Vec<String> {
    use super::outline::Form;
    let path = section.path();
    let names = section.entries.iter().flat_map(|entry| {
        let keys: Vec<&str> =
            path.iter().copied().chain(entry.keys.iter().map(|key| key.text.as_str())).collect();
        match (keys.as_slice(), &entry.value.form) {
            (["map", map, ..], _) => vec![(*map).to_owned()],
            (["map"], Form::Table(maps)) => {
                maps.iter().filter_map(|one| Some(one.keys.first()?.text.clone())).collect()
            }
            _ => Vec::new(),
        }
    });
    names.collect()
}
