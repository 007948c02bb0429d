//! Bindings: added to the scheme that has their devices, and taken away.

use super::address::{bindings, find_action};
use super::names::Thing;
use super::{Address, Draft};
use harmonym_lang::profile::controls::unknown_control;
use harmonym_lang::report::{Comparing, Diagnostics, FaultKind, Faults, did_you_mean, nearest};
use harmonym_lang::source::{Quoted, Source, Span};
use harmonym_lang::syntax::{self, Head, Word};
use harmonym_runtime::base::ControlName;
use harmonym_runtime::controls::Catalogue;

/// What came of expressions that were to be bound.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Bound {
    /// The addresses of the new bindings.
    pub new: Vec<String>,
    /// What was bound there before, with the address at which it stands.
    pub before: Vec<(String, String)>,
}

impl Draft {
    /// Binds expressions to an action, each in `scheme`, or in the one that has its devices. What
    /// is bound there before stays as it is.
    ///
    /// # Errors
    /// When an expression can't be read, no scheme or more than one could hold it, or all of them
    /// are bound there already.
    pub fn bind(
        &mut self,
        address: &str,
        expressions: &[String],
        scheme: Option<&str>,
    ) -> Result<Bound, Faults> {
        let Address { thing: Some(Thing::Action(map, action)), binding: None, keys } =
            Address::parse(&self.raw, address)?
        else {
            return Err(no_action(address));
        };
        if !keys.is_empty() {
            return Err(no_action(address));
        }
        let mut bound = Bound::default();
        for expression in expressions {
            let scheme = match scheme {
                Some(scheme) => self.known_scheme(scheme)?,
                None => self.scheme_of(expression)?,
            };
            let address = |number: usize| format!("{map}.{action}@{scheme}#{number}");
            if let Some(index) = self.place_of(&map, &action, &scheme, expression) {
                bound.before.push((expression.clone(), address(index + 1)));
                continue;
            }
            let count = bindings(&self.raw, &map, &action, &scheme);
            self.text.append(&["map", &map, &action, "bind", &scheme], expression);
            self.read();
            bound.new.push(address(count + 1));
        }
        if let ([], [(first, at), ..]) = (bound.new.as_slice(), bound.before.as_slice()) {
            let message = match bound.before.len() {
                1 => format!("`{first}` is bound there already, as {at}"),
                n => format!("all {n} are bound there already: `{first}` as {at}"),
            };
            let help = format!("see `harmonym show {map}.{action}`");
            return Err(Faults::refused(message, help));
        }
        Ok(bound)
    }

    /// Puts another control in the place of one part of a combination (`up`, `neg`, `x`), in the
    /// first binding of a scheme that has it; what steps the part has stay.
    ///
    /// # Errors
    /// When no binding of the scheme has that part.
    pub fn set_part(
        &mut self,
        address: &str,
        part: &str,
        expression: &str,
        scheme: Option<&str>,
    ) -> Result<String, Faults> {
        let Address { thing: Some(Thing::Action(map, action)), .. } =
            Address::parse(&self.raw, address)?
        else {
            return Err(no_action(address));
        };
        let scheme = match scheme {
            Some(scheme) => self.known_scheme(scheme)?,
            None => self.scheme_of(expression)?,
        };
        let found = find_action(&self.raw, &map, &action);
        let binds = found.iter().flat_map(|one| &one.binds).filter(|(name, _)| name.text == scheme);
        let place = binds.flat_map(|(_, list)| list).enumerate().find_map(|(index, binding)| {
            let tree = syntax::parse_binding(&binding.from, &mut Diagnostics::new())?;
            part_span(&tree.head, part).map(|span| (index, span))
        });
        let Some((index, span)) = place else {
            let message = format!("no binding of `{address}` in {scheme} has a part `{part}`");
            let help = "the parts are neg and pos of `pair`, up, left, down, right of `four`, \
                        x, y, z of `join`; without --part all of them are asked for";
            return Err(Faults::refused(message, help));
        };
        self.text.splice(vec![(span, expression.to_owned())]);
        self.read();
        Ok(format!("{map}.{action}@{scheme}#{}", index + 1))
    }

    /// Which binding of a scheme says the same, however it is spaced.
    pub(super) fn place_of(
        &self,
        map: &str,
        action: &str,
        scheme: &str,
        expression: &str,
    ) -> Option<usize> {
        let plain = |text: &Quoted| {
            let tree = syntax::parse_binding(text, &mut Diagnostics::new());
            tree.map_or_else(|| text.value().to_owned(), |tree| tree.to_string())
        };
        let wanted = plain(&Quoted::bare(expression));
        let found = find_action(&self.raw, map, action);
        let binds = found.iter().flat_map(|one| &one.binds).filter(|(name, _)| name.text == scheme);
        let mut all = binds.flat_map(|(_, list)| list);
        all.position(|binding| plain(&binding.from) == wanted)
    }

    pub(super) fn known_scheme(&self, name: &str) -> Result<String, Faults> {
        let names = || self.raw.schemes.iter().map(|s| s.name.text.as_str()).chain(["all"]);
        if names().any(|known| known == name) {
            return Ok(name.to_owned());
        }
        let help = did_you_mean(nearest(name, names()), || {
            format!("add it first: harmonym add scheme {name} --device …")
        });
        Err(Faults::refused(format!("there is no scheme `{name}`"), help))
    }

    /// The only scheme that has all devices of an expression.
    pub(super) fn scheme_of(&self, expression: &str) -> Result<String, Faults> {
        let classes = classes(expression)?;
        let has = |scheme: &&harmonym_lang::profile::Scheme| {
            let devices = || scheme.devices.iter().flatten().map(Quoted::value);
            classes.iter().all(|class| devices().any(|device| device == class))
        };
        let fit: Vec<&str> =
            self.raw.schemes.iter().filter(has).map(|s| s.name.text.as_str()).collect();
        match (fit.as_slice(), classes.as_slice()) {
            (_, []) => Err(Faults::refused(
                "no device tells which scheme this is for",
                "say `--scheme NAME`, or `--scheme all` for every scheme",
            )),
            ([one], _) => Ok((*one).to_owned()),
            ([], _) => {
                self.expect_classes(expression)?;
                let devices = classes.join(" and ");
                let help = match classes.as_slice() {
                    [one] => format!("add one: harmonym add scheme {one} --device {one}"),
                    _ => "bind the devices' controls apart, each in its scheme".to_owned(),
                };
                Err(Faults::refused(format!("no scheme has {devices}"), help))
            }
            (several, _) => {
                let message = format!("{} could all hold this", several.join(" and "));
                let help = format!("say which: --scheme {}", several.join(" or --scheme "));
                Err(Faults::refused(message.replace(" all hold", " both hold"), help))
            }
        }
    }

    /// Sees that each control of an expression begins with a class of devices that there is.
    fn expect_classes(&self, expression: &str) -> Result<(), Faults> {
        let built_in = Catalogue::built_in();
        let is_known = |word: &&Word| {
            let class = ControlName::new(&word.text).class;
            let is_own = self.raw.devices.iter().any(|one| one.name.text == class);
            is_own || matches!(class, "act" | "char") || built_in.class(class).is_some()
        };
        let controls = controls(expression)?;
        let Some(unknown) = controls.iter().find(|word| !is_known(word)) else { return Ok(()) };
        let mut diagnostics = Diagnostics::new();
        let message = format!("there is no control `{}`", unknown.text);
        let help = unknown_control(&unknown.text, built_in, &Comparing::default());
        diagnostics.fault(FaultKind::UnknownControl, unknown.span, message, help);
        Err(diagnostics.of(&Source::new("the command line", expression)))
    }

    /// Takes bindings of an action away: one, or all of a scheme.
    ///
    /// # Errors
    /// When the address is not that of bindings.
    pub fn unbind(&mut self, address: &str) -> Result<(), Faults> {
        let parsed = Address::parse(&self.raw, address)?;
        let Address { thing: Some(Thing::Action(map, action)), binding, keys } = parsed else {
            return Err(no_action(address));
        };
        let (Some((scheme, number)), true) = (binding, keys.is_empty()) else {
            let message = format!("`{address}` doesn't say which bindings");
            let help =
                format!("name the scheme: {map}.{action}@pad, or one of it: {map}.{action}@pad#1");
            return Err(Faults::refused(message, help));
        };
        let path = ["map", &map, &action, "bind", &scheme];
        match number {
            Some(number) => self.text.drop_binding(&path, number - 1),
            None => self.text.remove(&path),
        }
        self.read();
        Ok(())
    }
}

/// Where the head of a combination's part stands.
fn part_span(head: &Head, part: &str) -> Option<Span> {
    match head {
        Head::Combination(all) => {
            let names: &[&str] = match all.name.text.as_str() {
                "pair" => &["neg", "pos"],
                "four" => &["up", "left", "down", "right"],
                "join" => &["x", "y", "z"],
                _ => &[],
            };
            let place = names.iter().position(|name| *name == part);
            let by_name = |one: &&syntax::Part| one.name.as_ref().is_some_and(|n| n.text == part);
            let by_place = || place.and_then(|i| all.parts.get(i)).filter(|p| p.name.is_none());
            let own = all.parts.iter().find(by_name).or_else(by_place);
            let inner = || all.parts.iter().find_map(|one| part_span(&one.binding.head, part));
            own.map(|one| one.binding.head.span()).or_else(inner)
        }
        Head::Group(inner) => part_span(&inner.head, part),
        Head::Sum(parts, _) => parts.iter().find_map(|one| part_span(one, part)),
        Head::Control(_) => None,
    }
}

fn no_action(address: &str) -> Faults {
    Faults::refused(format!("`{address}` is not an action"), "name an action: quay.walk")
}

/// The device classes of an expression, as schemes name them.
pub(super) fn classes(expression: &str) -> Result<Vec<String>, Faults> {
    let controls = controls(expression)?;
    let class = |word: &Word| match ControlName::new(&word.text).class {
        "act" => None,
        "char" => Some("key".to_owned()),
        class => Some(class.to_owned()),
    };
    let mut classes: Vec<String> = controls.iter().filter_map(class).collect();
    classes.sort();
    classes.dedup();
    Ok(classes)
}

/// The controls that an expression names.
fn controls(expression: &str) -> Result<Vec<Word>, Faults> {
    let source = Source::new("the command line", expression);
    let mut diagnostics = Diagnostics::new();
    let quoted = Quoted::bare(expression);
    let Some(tree) = syntax::parse_binding(&quoted, &mut diagnostics) else {
        return Err(diagnostics.of(&source));
    };
    let mut controls = Vec::new();
    gather_head(&tree.head, &mut controls);
    Ok(controls)
}

fn gather_head(head: &Head, controls: &mut Vec<Word>) {
    match head {
        Head::Control(word) => controls.push(word.clone()),
        Head::Combination(all) => {
            all.parts.iter().for_each(|part| gather_head(&part.binding.head, controls));
        }
        Head::Sum(parts, _) => parts.iter().for_each(|part| gather_head(part, controls)),
        Head::Group(inner) => gather_head(&inner.head, controls),
    }
}
