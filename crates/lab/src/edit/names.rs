//! Every place where a profile or a score names something of the profile.

use harmonym_lang::profile::Profile;
use harmonym_lang::report::Diagnostics;
use harmonym_lang::source::{Quoted, Span};
use harmonym_lang::syntax::{self, Arg, ArgValue, Head, Step, Word};
use harmonym_runtime::base::ControlName;

/// Something that has a name.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Thing {
    /// A map.
    Map(String),
    /// An action of a map.
    Action(String, String),
    /// A scheme.
    Scheme(String),
    /// A setting.
    Setting(String),
    /// A fact.
    Fact(String),
    /// A preset.
    Preset(String),
    /// A device class of the profile's own.
    Device(String),
}

impl Thing {
    /// Where it is written.
    pub fn path(&self) -> Vec<&str> {
        match self {
            Self::Map(name) => vec!["map", name],
            Self::Action(map, name) => vec!["map", map, name],
            Self::Scheme(name) => vec!["scheme", name],
            Self::Setting(name) => vec!["setting", name],
            Self::Fact(name) => vec!["fact", name],
            Self::Preset(name) => vec!["preset", name],
            Self::Device(name) => vec!["device", name],
        }
    }

    /// What is written at a path: of its keys, the first two, or three for an action.
    pub fn at(path: &[&str]) -> Option<Self> {
        let owned = |name: &str| name.to_owned();
        Some(match *path {
            ["map", name] => Self::Map(owned(name)),
            ["map", map, name] => Self::Action(owned(map), owned(name)),
            ["scheme", name] => Self::Scheme(owned(name)),
            ["setting", name] => Self::Setting(owned(name)),
            ["fact", name] => Self::Fact(owned(name)),
            ["preset", name] => Self::Preset(owned(name)),
            ["device", name] => Self::Device(owned(name)),
            _ => return None,
        })
    }

    /// Where it is defined: the place of its name.
    pub fn definition(&self, raw: &Profile) -> Option<Span> {
        fn of<'r>(mut names: impl Iterator<Item = &'r Word>, name: &str) -> Option<Span> {
            names.find(|word| word.text == name).map(|word| word.span)
        }
        // Settings and facts share their names, since both stand bare in expressions.
        let variables = |is_setting: bool| {
            let own = raw.variables.iter().filter(move |one| one.is_setting == is_setting);
            own.map(|one| &one.name)
        };
        match self {
            Self::Map(name) => of(raw.maps.iter().map(|one| &one.name), name),
            Self::Action(map, name) => {
                let map = raw.maps.iter().find(|one| one.name.text == *map)?;
                of(map.actions.iter().map(|one| &one.name), name)
            }
            Self::Scheme(name) => of(raw.schemes.iter().map(|one| &one.name), name),
            Self::Setting(name) => of(variables(true), name),
            Self::Fact(name) => of(variables(false), name),
            Self::Preset(name) => of(raw.presets.iter().map(|one| &one.name), name),
            Self::Device(name) => of(raw.devices.iter().map(|one| &one.name), name),
        }
    }

    /// The setting or fact that a bare name means in an expression.
    pub fn number(raw: &Profile, name: &str) -> Option<Self> {
        let found = raw.variables.iter().find(|named| named.name.text == name)?;
        Some(match found.is_setting {
            true => Self::Setting(name.to_owned()),
            false => Self::Fact(name.to_owned()),
        })
    }

    /// Its own name.
    pub fn name(&self) -> &str {
        match self {
            Self::Map(name)
            | Self::Action(_, name)
            | Self::Scheme(name)
            | Self::Setting(name)
            | Self::Fact(name)
            | Self::Preset(name)
            | Self::Device(name) => name,
        }
    }

    /// The same kind of thing with another name.
    #[must_use]
    pub fn named(&self, new: &str) -> Self {
        let new = new.to_owned();
        match self {
            Self::Map(_) => Self::Map(new),
            Self::Action(map, _) => Self::Action(map.clone(), new),
            Self::Scheme(_) => Self::Scheme(new),
            Self::Setting(_) => Self::Setting(new),
            Self::Fact(_) => Self::Fact(new),
            Self::Preset(_) => Self::Preset(new),
            Self::Device(_) => Self::Device(new),
        }
    }

    /// What it is, for people.
    pub fn kind(&self) -> &'static str {
        match self {
            Self::Map(_) => "map",
            Self::Action(..) => "action",
            Self::Scheme(_) => "scheme",
            Self::Setting(_) => "setting",
            Self::Fact(_) => "fact",
            Self::Preset(_) => "preset",
            Self::Device(_) => "device",
        }
    }

    /// The address that commands take: `map.quay`, `quay.walk`, `setting.gaze-speed`.
    pub fn address(&self) -> String {
        match self {
            Self::Action(map, name) => format!("{map}.{name}"),
            _ => self.path().join("."),
        }
    }
}

/// What stands at a place that names something, and so has to go with it.
#[derive(Clone, Debug, PartialEq)]
pub(super) enum Role {
    /// An item of the list at a path.
    Item(Vec<String>, usize),
    /// All of a binding: path and number in its list.
    Binding(Vec<String>, usize),
    /// A key with all it holds.
    Key(Vec<String>),
    /// A guard of a fire rule.
    Guard(Span),
    /// A step of a chain.
    Step(Span),
    /// A condition of a step, with the step; whether it is `unless`.
    Condition { condition: Span, step: Span, unless: bool },
    /// A number of a step or cue, with the unit that is meant where none is said.
    Number(&'static str),
    /// A step of a `sequence`, with how many there are.
    SequenceStep(usize),
}

/// One place that names things: a word, of which each thing has a part.
#[derive(Clone, Debug)]
pub(super) struct Mention {
    pub span: Span,
    pub text: String,
    /// Each thing with the part of the text that is its name.
    pub things: Vec<(Thing, (usize, usize))>,
    pub role: Role,
    /// The action in which it stands, for people.
    pub inside: String,
}

impl Mention {
    /// The word with another name for `thing`; nothing when it doesn't name it.
    pub fn renamed(&self, thing: &Thing, new: &str) -> Option<String> {
        let (_, (start, end)) = self.things.iter().find(|(one, _)| one == thing)?;
        Some(format!("{}{new}{}", &self.text[..*start], &self.text[*end..]))
    }
}

/// All mentions of a profile, in order of place.
pub(super) fn mentions(raw: &Profile) -> Vec<Mention> {
    let mut gatherer = Gatherer::new(raw, "");
    gatherer.profile();
    gatherer.all.sort_by_key(|mention| mention.span);
    gatherer.all
}

pub(super) struct Gatherer<'a> {
    raw: &'a Profile,
    pub all: Vec<Mention>,
    /// The map that short names of actions belong to.
    map: &'a str,
    inside: String,
}

/// The whole of what a string says, as a word.
fn word(text: &Quoted) -> Word {
    let value = text.value();
    Word { text: value.to_owned(), span: text.file_span(0, value.len()) }
}

fn path(keys: &[&str]) -> Vec<String> {
    keys.iter().map(|&key| key.to_owned()).collect()
}

impl<'a> Gatherer<'a> {
    pub fn new(raw: &'a Profile, map: &'a str) -> Self {
        Self { raw, all: Vec::new(), map, inside: String::new() }
    }

    fn add(&mut self, word: &Word, things: Vec<(Thing, (usize, usize))>, role: Role) {
        if !things.is_empty() {
            let (span, text) = (word.span, word.text.clone());
            self.all.push(Mention { span, text, things, role, inside: self.inside.clone() });
        }
    }

    fn profile(&mut self) {
        let raw = self.raw;
        for (index, control) in raw.reserved.iter().enumerate() {
            self.inside = "reserved".to_owned();
            self.control(&word(control), &Role::Item(path(&["reserved"]), index));
        }
        for scheme in &raw.schemes {
            let name = scheme.name.text.as_str();
            self.inside = format!("scheme.{name}");
            for (index, class) in scheme.devices.iter().flatten().enumerate() {
                let role = Role::Item(path(&["scheme", name, "devices"]), index);
                let class = word(class);
                let things = self.device(&class.text).into_iter().collect();
                self.add(&class, things, role);
            }
        }
        for preset in &raw.presets {
            self.inside = format!("preset.{}", preset.name.text);
            self.steps_of(&preset.steps);
        }
        for map in &raw.maps {
            self.map = &map.name.text;
            self.inside = format!("map.{}", self.map);
            for (index, also) in map.also.iter().enumerate() {
                let role = Role::Item(path(&["map", self.map, "also"]), index);
                self.action_word(&word(also), role);
            }
            for action in &map.actions {
                self.inside = format!("{}.{}", self.map, action.name.text);
                self.action(action);
            }
        }
    }

    fn action(&mut self, action: &'a harmonym_lang::profile::Action) {
        let own = |key: &str| path(&["map", self.map, &action.name.text, key]);
        for (index, other) in action.yields_to.iter().enumerate() {
            self.action_word(&word(other), Role::Item(own("yields-to"), index));
        }
        for (scheme, bindings) in &action.binds {
            let mut at = own("bind");
            at.push(scheme.text.clone());
            let thing = Thing::Scheme(scheme.text.clone());
            let things = vec![(thing, (0, scheme.text.len()))];
            self.add(scheme, things, Role::Key(at.clone()));
            for (index, binding) in bindings.iter().enumerate() {
                let role = Role::Binding(at.clone(), index);
                let tree = syntax::parse_binding(&binding.from, &mut Diagnostics::new());
                if let Some(tree) = tree {
                    self.binding(&tree, &role);
                }
            }
        }
        if let Some(shape) = &action.shape {
            self.steps_of(shape);
        }
        if let Some(fire) = &action.fire {
            self.fire(fire);
        }
    }

    pub fn fire(&mut self, text: &Quoted) {
        let Some(fire) = syntax::parse_fire(text, &mut Diagnostics::new()) else { return };
        for alternative in &fire.alternatives {
            let list = alternative.list.iter().flatten();
            let count = alternative.list.as_ref().map_or(0, Vec::len);
            for step in list {
                self.action_word(step, Role::SequenceStep(count));
            }
            self.args(&alternative.cue.text, &alternative.args);
            for guard in &alternative.guards {
                let role = Role::Guard(guard.span);
                match guard.word {
                    syntax::GuardWord::With | syntax::GuardWord::Without => {
                        self.action_word(&guard.name, role);
                    }
                    syntax::GuardWord::When | syntax::GuardWord::Unless => {
                        self.number(&guard.name, role);
                    }
                }
            }
        }
    }

    fn binding(&mut self, binding: &syntax::Binding, role: &Role) {
        self.head(&binding.head, role);
        self.steps(&binding.steps);
    }

    fn head(&mut self, head: &Head, role: &Role) {
        match head {
            Head::Control(word) => self.control(word, role),
            Head::Combination(combination) => {
                combination.parts.iter().for_each(|part| self.binding(&part.binding, role));
            }
            Head::Sum(parts, _) => parts.iter().for_each(|part| self.head(part, role)),
            Head::Group(inner) => self.binding(inner, role),
        }
    }

    /// A control of a device of the profile's own, or `act.NAME`.
    fn control(&mut self, word: &Word, role: &Role) {
        let things = match word.text.strip_prefix("act.") {
            Some(name) => self.actions(name, "act.".len()),
            None => self.device(ControlName::new(&word.text).class).into_iter().collect(),
        };
        self.add(word, things, role.clone());
    }

    fn device(&self, class: &str) -> Option<(Thing, (usize, usize))> {
        let is_own = self.raw.devices.iter().any(|device| device.name.text == class);
        is_own.then(|| (Thing::Device(class.to_owned()), (0, class.len())))
    }

    fn action_word(&mut self, word: &Word, role: Role) {
        let things = self.actions(&word.text, 0);
        self.add(word, things, role);
    }

    /// The action, and the map if it is said, that `name` means; it stands at byte `at`.
    fn actions(&self, name: &str, at: usize) -> Vec<(Thing, (usize, usize))> {
        let Some((map, own)) = name.split_once('.') else {
            let thing = Thing::Action(self.map.to_owned(), name.to_owned());
            return vec![(thing, (at, at + name.len()))];
        };
        let start = at + map.len() + 1;
        vec![
            (Thing::Map(map.to_owned()), (at, at + map.len())),
            (Thing::Action(map.to_owned(), own.to_owned()), (start, start + own.len())),
        ]
    }

    fn steps_of(&mut self, text: &Quoted) {
        let steps = syntax::parse_steps(text, &mut Diagnostics::new());
        self.steps(&steps.unwrap_or_default());
    }

    fn steps(&mut self, steps: &[Step]) {
        for step in steps {
            if step.is_preset {
                let thing = Thing::Preset(step.name.text.clone());
                let things = vec![(thing, (0, step.name.text.len()))];
                self.add(&step.name, things, Role::Step(step.span));
            } else if step.name.text != "order" {
                self.args(&step.name.text, &step.args);
            }
            for condition in &step.conditions {
                let (unless, span) = (condition.unless, condition.span);
                let role = Role::Condition { condition: span, step: step.span, unless };
                self.number(&condition.name, role);
            }
        }
    }

    /// The numbers of the step or cue `of`.
    fn args(&mut self, of: &str, args: &[Arg]) {
        for arg in args {
            let unit = match (of, &arg.name) {
                ("rotate", _) | ("ways", Some(_)) => "rad",
                ("ease", _) => "/s",
                ("smooth" | "hold" | "tap" | "charge" | "repeat" | "sequence", _)
                | ("taps", Some(_)) => "s",
                _ => "",
            };
            if let ArgValue::Word(word) = &arg.value {
                self.number(word, Role::Number(unit));
            }
        }
    }

    /// A setting or fact by its bare name.
    fn number(&mut self, word: &Word, role: Role) {
        let things = Thing::number(self.raw, &word.text).map(|thing| (thing, (0, word.text.len())));
        self.add(word, things.into_iter().collect(), role);
    }
}
