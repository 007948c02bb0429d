//! Numbers inside of expressions, addressed by the step or cue they belong to.

use super::address::find_action;
use super::names::mentions;
use super::text::Splice;
use super::{Address, Draft, Thing};
use harmonym_lang::report::{Diagnostics, Faults, nearest};
use harmonym_lang::source::{Quoted, Span};
use harmonym_lang::syntax::{self, Arg, ArgValue, Step};

/// A step or cue with its numbers.
struct Word<'t> {
    name: &'t str,
    args: &'t [Arg],
    /// Where it ends, for a number that is not there yet.
    end: usize,
}

impl Draft {
    /// Sets a number of a step or cue, if the address is that of one; tells whether it was.
    pub(super) fn set_number(
        &mut self,
        text: &str,
        address: &Address,
        value: &str,
    ) -> Result<bool, Faults> {
        let Some(splice) = self.number_splice(text, address, value)? else { return Ok(false) };
        self.text.splice(vec![splice]);
        Ok(true)
    }

    /// What stands at an address now, as it is written; nothing where the profile leaves it out.
    ///
    /// # Errors
    /// When nothing goes by the address.
    pub fn present(&self, address: &str) -> Result<Option<String>, Faults> {
        let parsed = Address::parse(&self.raw, address)?;
        let span = match self.number_splice(address, &parsed, "0")? {
            Some((span, _)) => Some(span),
            None => {
                let mut path = parsed.thing.as_ref().map(Thing::path).unwrap_or_default();
                path.extend(parsed.keys.iter().map(String::as_str));
                self.text.outline.value(&path).map(|node| node.span)
            }
        };
        Ok(span.map(|span| self.text.slice(span).to_owned()).filter(|text| !text.is_empty()))
    }

    /// What has to be written where for a number of a step or cue, if the address is that of
    /// one.
    fn number_splice(
        &self,
        text: &str,
        address: &Address,
        value: &str,
    ) -> Result<Option<Splice>, Faults> {
        let keys: Vec<&str> = address.keys.iter().map(String::as_str).collect();
        let action = match &address.thing {
            Some(Thing::Action(map, name)) => find_action(&self.raw, map, name),
            _ => None,
        };
        let preset = match &address.thing {
            Some(Thing::Preset(name)) => self.raw.presets.iter().find(|p| p.name.text == *name),
            _ => None,
        };
        let splice = match (&address.binding, action, preset, keys.as_slice()) {
            (Some((scheme, number)), Some(action), _, [_, ..]) => {
                let binds = action.binds.iter().find(|(name, _)| name.text == *scheme);
                let list = binds.map(|(_, list)| list);
                let binding = list.and_then(|list| list.get(number.unwrap_or(1) - 1));
                binding.map(|binding| in_binding(text, &binding.from, &keys, value))
            }
            (None, Some(action), _, ["shape", rest @ ..]) if !rest.is_empty() => {
                let shape = action.shape.as_ref().ok_or_else(|| nothing(text, "shape"))?;
                Some(in_steps(text, shape, rest, value))
            }
            (None, Some(action), _, ["fire", rest @ ..]) if !rest.is_empty() => {
                let fire = action.fire.as_ref().ok_or_else(|| nothing(text, "fire"))?;
                Some(in_fire(text, fire, rest, value))
            }
            (None, _, Some(preset), keys @ [_, ..]) => {
                Some(in_steps(text, &preset.steps, keys, value))
            }
            _ => None,
        };
        splice.transpose().map_err(|told| self.in_preset(text, address, value).unwrap_or(told))
    }

    /// Tells of a step that stands in a preset that the binding or shape uses.
    fn in_preset(&self, text: &str, address: &Address, value: &str) -> Option<Faults> {
        let Some(Thing::Action(map, name)) = &address.thing else { return None };
        let inside = format!("{map}.{name}");
        let (step, keys) = match (&address.binding, address.keys.as_slice()) {
            (None, [key, step, keys @ ..]) if key == "shape" => (step, keys),
            (Some(_), [step, keys @ ..]) => (step, keys),
            _ => return None,
        };
        let used = mentions(&self.raw).into_iter().filter(|one| one.inside == inside);
        let names = used.flat_map(|one| one.things).filter_map(|(thing, _)| match thing {
            Thing::Preset(name) => Some(name),
            _ => None,
        });
        let own = names.filter_map(|name| self.raw.presets.iter().find(|p| p.name.text == name));
        let named = step.split('#').next().unwrap_or(step);
        let has = |chain: &Quoted| {
            let steps = syntax::parse_steps(chain, &mut Diagnostics::new()).unwrap_or_default();
            steps.iter().any(|step| !step.is_preset && step.name.text == named)
        };
        let preset = own.into_iter().find(|preset| has(&preset.steps))?;
        let mut place = vec!["preset", &preset.name.text, step];
        place.extend(keys.iter().map(String::as_str));
        let message = format!("`{text}`: `{named}` comes from the preset @{}", preset.name.text);
        let help = format!(
            "write `harmonym set {} {value}`; it holds wherever the preset is used",
            place.join(".")
        );
        Some(Faults::refused(message, help))
    }
}

fn nothing(text: &str, key: &str) -> Faults {
    let message = format!("`{text}`: no `{key}` is written there");
    let whole = text.split_once(&format!(".{key}")).map_or(text, |(before, _)| before);
    Faults::refused(message, format!("set all of it: harmonym set {whole}.{key} \"…\""))
}

fn in_binding(text: &str, from: &Quoted, keys: &[&str], value: &str) -> Result<Splice, Faults> {
    let tree = syntax::parse_binding(from, &mut Diagnostics::new());
    let steps = tree.as_ref().map_or_else(Vec::new, syntax::Binding::all_steps);
    place(text, &words(steps), keys, value, "step")
}

fn in_steps(text: &str, chain: &Quoted, keys: &[&str], value: &str) -> Result<Splice, Faults> {
    let steps = syntax::parse_steps(chain, &mut Diagnostics::new()).unwrap_or_default();
    place(text, &words(steps.iter().collect()), keys, value, "step")
}

fn in_fire(text: &str, rule: &Quoted, keys: &[&str], value: &str) -> Result<Splice, Faults> {
    let fire = syntax::parse_fire(rule, &mut Diagnostics::new());
    let alternatives = fire.iter().flat_map(|fire| &fire.alternatives);
    let words: Vec<Word<'_>> = alternatives
        .map(|one| Word { name: &one.cue.text, args: &one.args, end: one.span.end })
        .collect();
    place(text, &words, keys, value, "cue")
}

fn words<'t>(steps: Vec<&'t Step>) -> Vec<Word<'t>> {
    let end = |step: &Step| {
        let last = step.args.last().map(|arg| arg.span.end);
        last.unwrap_or(step.name.span.end)
    };
    let own = steps.into_iter().filter(|step| !step.is_preset);
    own.map(|step| Word { name: &step.name.text, args: &step.args, end: end(step) }).collect()
}

/// Where the number goes that `keys` name: `deadzone`, `deadzone.full`, `scale#2`, `scale.2`.
fn place(
    text: &str,
    words: &[Word<'_>],
    keys: &[&str],
    value: &str,
    what: &str,
) -> Result<Splice, Faults> {
    let (name, nth) = match keys[0].split_once('#') {
        Some((name, nth)) => (name, nth.parse::<usize>().unwrap_or(0)),
        None => (keys[0], 1),
    };
    let of_name: Vec<&Word<'_>> = words.iter().filter(|word| word.name == name).collect();
    let Some(word) = nth.checked_sub(1).and_then(|i| of_name.get(i)) else {
        let all: Vec<&str> = words.iter().map(|word| word.name).collect();
        let help = match (nearest(name, all.iter().copied()), all.as_slice()) {
            _ if !of_name.is_empty() => format!("there are {} of the name {name}", of_name.len()),
            (Some(near), _) => format!("did you mean `{near}`?"),
            (None, []) => format!("no {what} is written there"),
            (None, all) => format!("what is written there: {}", all.join(", ")),
        };
        return Err(Faults::refused(format!("`{text}`: there is no such {what}"), help));
    };
    let plain: Vec<&Arg> = word.args.iter().filter(|arg| arg.name.is_none()).collect();
    let arg = match keys.get(1) {
        None => plain.first().copied(),
        Some(key) => match key.parse::<usize>() {
            Ok(nth) => nth.checked_sub(1).and_then(|i| plain.get(i)).copied(),
            Err(_) => {
                let named = |arg: &&Arg| arg.name.as_ref().is_some_and(|name| name.text == *key);
                match word.args.iter().find(named) {
                    Some(arg) => Some(arg),
                    None => {
                        let span = Span::new(word.end, word.end);
                        return Ok((span, format!(" {key}={value}")));
                    }
                }
            }
        },
    };
    let span = arg.and_then(|arg| match &arg.value {
        ArgValue::Number(number) => Some(number.span),
        ArgValue::Word(word) => Some(word.span),
        ArgValue::Point(_) => None,
    });
    match span {
        Some(span) => Ok((span, value.to_owned())),
        None => Err(Faults::refused(
            format!("`{text}`: `{name}` has no such number"),
            format!("set the whole {what}: the binding, `shape` or `fire` it stands in"),
        )),
    }
}
