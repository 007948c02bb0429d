//! A player's changes put over a profile.

use super::choice::{self, Found, Not, Owned};
use super::conflict::{Readers, conflicts_with};
use super::{Choice, Conflict, Extra, NONE, Player, Replacement, SettingChange, Worth};
use crate::model::{Binding, Chain, Head, Profile, Variable};
use crate::report::{Comparing, Diagnostic, FaultKind, Faults, Level};
use crate::source::{Source, Span};
use harmonym_runtime::base::ControlKind;
use harmonym_runtime::base::{Kind, VariableId, shortest};
use harmonym_runtime::controls::Reads;
use std::collections::HashMap;

/// With so many others that read a control one is compared that is to read it, too.
const MOST_MET: usize = 256;

/// A profile as a player has it.
#[derive(Clone, Debug)]
pub struct Applied {
    /// The profile.
    pub profile: Profile,
    /// What no longer fits and is left out, each at its place in the player's file; then, as notes, what
    /// reaches other actions as well.
    pub notes: Vec<Diagnostic>,
    /// Whether nothing at all fits, though there is something: the file may be another game's.
    pub is_foreign: bool,
}

impl Applied {
    /// The same, unless nothing at all of the file fits.
    ///
    /// # Errors
    /// Then it is another game's.
    pub fn expect_own(self, source: &Source) -> Result<Self, Faults> {
        if !self.is_foreign {
            return Ok(self);
        }
        let first = self.notes.first().map_or(Span::default(), |note| note.span);
        let message = "nothing in this file fits this profile: it is another game's";
        let help = "name the profile that it is of, or this one's player's file";
        let fault = Diagnostic::fault(FaultKind::UnknownName, first, message, help);
        Err(Faults::new(source.clone(), vec![fault]))
    }
}

impl Player {
    /// The profile as this player has it. What does not fit is left out, and told.
    pub fn apply(&self, profile: &Profile) -> Applied {
        let mut applied = profile.clone();
        let found = Found::new(profile);
        let mut notes = Vec::new();
        let mut fits = 0;
        for change in &self.settings {
            match setting(&applied, change, &found.comparing) {
                Ok((id, worth)) => {
                    if let Some(variable) = applied.variables.get_mut(id) {
                        variable.default = worth;
                    }
                    fits += 1;
                }
                Err(not) => notes.push(left_out(change.name.span.to(change.span), not)),
            }
        }
        let mut settled: Vec<(Owned, &Replacement, Option<Choice>)> = Vec::new();
        for one in &self.replaced {
            match replacement(&found, one) {
                Ok((of, choice)) => settled.push((of, one, choice)),
                Err(not) => notes.push(left_out(one.old.span.to(one.new.span), not)),
            }
        }
        fits += settled.len();
        for (of, own) in by_owner(&settled) {
            let Some(action) = applied.actions.get_mut(of.action) else { continue };
            let is_open = |binding: &Binding| choice::is_open(binding, of.scheme);
            for binding in action.bindings.iter_mut().filter(|binding| is_open(binding)) {
                exchange(&mut binding.chain, &own);
                binding.text = written(&binding.text, &own);
            }
            // What reads nothing any more is no binding.
            action.bindings.retain(|binding| !is_open(binding) || !reads_nothing(&binding.chain));
        }
        let mut added = Vec::new();
        for one in &self.also {
            match extra(&found, one) {
                Ok((of, choice)) => {
                    add(&mut applied, of, &choice);
                    added.push((of, choice, one.control.span));
                }
                Err(not) => notes.push(left_out(one.control.span, not)),
            }
        }
        fits += added.len();
        let chosen =
            settled.into_iter().filter_map(|(of, one, choice)| Some((of, choice?, one.new.span)));
        let readers = Readers::of(&applied);
        for (of, choice, span) in chosen.chain(added) {
            notes.extend(met((profile, &applied), &readers, (of, &choice), span));
        }
        notes.sort_by_key(|note| (std::cmp::Reverse(note.level), note.span));
        Applied { profile: applied, notes, is_foreign: fits == 0 && !self.is_empty() }
    }
}

fn left_out(span: Span, (message, help): Not) -> Diagnostic {
    let fault = Diagnostic::fault(FaultKind::UnknownName, span, message, help);
    Diagnostic { rule: "left-out", level: Level::Warning, ..fault }
}

/// What a setting becomes.
fn setting(
    profile: &Profile,
    change: &SettingChange,
    comparing: &Comparing,
) -> Result<(VariableId, f64), Not> {
    let name = &change.name.text;
    let mut settings = profile.variables.entries().filter(|(_, one)| one.is_setting);
    let Some((id, variable)) = settings.find(|(_, one)| one.name == *name) else {
        let names = profile.variables.iter().filter(|one| one.is_setting);
        let names = comparing.of(names.map(|one| one.name.as_str()));
        let help = super::near(name, names, "it may have been in an earlier version");
        return Err((format!("there is no setting `{name}`"), help));
    };
    worth(variable, change.value).map(|worth| (id, worth))
}

/// A value as a setting can have it.
pub(super) fn worth(variable: &Variable, value: Worth) -> Result<f64, Not> {
    let name = &variable.name;
    match (value, variable.is_switch) {
        (Worth::Switch(on), true) => Ok(f64::from(u8::from(on))),
        (Worth::Switch(_), false) => {
            Err((format!("`{name}` is a number"), format!("write `{name} = 1`")))
        }
        (Worth::Number(_), true) => {
            Err((format!("`{name}` is on or off"), format!("write `{name} = true`")))
        }
        (Worth::Number(number), false) => match variable.range {
            Some((least, most)) if !(least..=most).contains(&number) => {
                let message = format!("`{name}` cannot be {}", shortest(number));
                Err((message, format!("it is {least} to {most}")))
            }
            _ => Ok(number),
        },
    }
}

/// What takes a control's place, nothing where it no longer counts.
pub(super) fn replacement(
    found: &Found<'_>,
    one: &Replacement,
) -> Result<(Owned, Option<Choice>), Not> {
    let (profile, comparing) = (found.profile, &found.comparing);
    let of = found.owned(&one.of.text)?;
    let action = &profile.actions[of.action];
    let address = &one.of.text;
    if !choice::may_change(action) {
        let message = format!("{} cannot be rebound", profile.address(of.action));
        return Err((message, "the profile says `rebind = false`".to_owned()));
    }
    let old = &one.old.text;
    let (mut found, mut is_fixed, mut names): (Option<(ControlKind, Kind)>, _, _) =
        (None, false, Vec::new());
    for binding in action.bindings.iter().filter(|one| one.scheme == Some(of.scheme)) {
        binding.chain.for_each_head(&mut |head| {
            let Head::Control { name, kind, gives, .. } = head else { return };
            names.push(name.clone());
            if name == old {
                is_fixed |= !binding.rebind;
                found = found.or(binding.rebind.then_some((*kind, *gives)));
            }
        });
    }
    let Some((kind, gives)) = found else {
        if is_fixed {
            let message = format!("`{old}` cannot be rebound in {address}");
            return Err((message, "its binding says `rebind = false`".to_owned()));
        }
        let message = format!("{address} has no `{old}`");
        let help = match names.is_empty() {
            true => "nothing is bound there".to_owned(),
            false => super::near(
                old,
                comparing.of(names.iter().map(String::as_str)),
                &format!("it has {}", names.join(", ")),
            ),
        };
        return Err((message, help));
    };
    if one.new.text == NONE {
        return Ok((of, None));
    }
    let choice = Choice::of(profile, &one.new.text, comparing)?;
    choice.expect_free(profile, of.scheme)?;
    if !choice::fits(action, kind, choice.kind) || choice.head.kind() != gives {
        let message = format!(
            "`{}` is {}, and cannot take the place of `{old}`, which is {}",
            choice.name,
            choice.kind.a_word(),
            kind.a_word()
        );
        let help = match choice.head.kind() == gives {
            true => format!("choose {}, as `{old}` is", kind.a_word()),
            false => format!("choose what gives {}, as `{old}` does", gives.a_word()),
        };
        return Err((message, help));
    }
    Ok((of, Some(choice)))
}

/// A control besides those of the profile.
pub(super) fn extra(found: &Found<'_>, one: &Extra) -> Result<(Owned, Choice), Not> {
    let profile = found.profile;
    let of = found.owned(&one.of.text)?;
    let action = &profile.actions[of.action];
    if !choice::may_change(action) {
        let message = format!("{} cannot be rebound", profile.address(of.action));
        return Err((message, "the profile says `rebind = false`".to_owned()));
    }
    let choice = Choice::of(profile, &one.control.text, &found.comparing)?;
    choice.expect_free(profile, of.scheme)?;
    if !choice::drives(action, choice.kind) {
        let address = profile.address(of.action);
        let message =
            format!("`{}` is {}, which cannot drive {address}", choice.name, choice.kind.a_word());
        let help = format!("{address} is {}: replace what it has", action.kind.a_word());
        return Err((message, help));
    }
    Ok((of, choice))
}

/// Controls and what takes their places.
type Exchanged<'p> = Vec<(&'p str, Option<&'p Choice>)>;

/// What is exchanged of each action in each scheme.
fn by_owner<'p>(
    settled: &'p [(Owned, &Replacement, Option<Choice>)],
) -> HashMap<Owned, Exchanged<'p>> {
    let mut all: HashMap<Owned, Exchanged<'p>> = HashMap::new();
    for (of, one, choice) in settled {
        all.entry(*of).or_default().push((one.old.text.as_str(), choice.as_ref()));
    }
    all
}

/// Puts controls in the places of others, all at once.
fn exchange(chain: &mut Chain, own: &[(&str, Option<&Choice>)]) {
    chain.for_each_head_mut(&mut |head| {
        let Head::Control { name, reads, .. } = head else { return };
        let Some((_, new)) = own.iter().find(|(old, _)| old == name) else { return };
        match new {
            Some(choice) => *head = choice.head.clone(),
            None => {
                (*name, *reads) = (NONE.to_owned(), Reads::Nothing);
            }
        }
    });
}

/// The text of a binding with its controls exchanged.
fn written(text: &str, own: &[(&str, Option<&Choice>)]) -> String {
    let mut out = String::new();
    let mut rest = text;
    while let Some(first) = rest.chars().next() {
        let is_begin = out.chars().next_back().is_none_or(|c| " (,|+=".contains(c));
        let found = own.iter().find(|(old, _)| {
            let after = rest.strip_prefix(old).map(|after| after.chars().next());
            is_begin && after.is_some_and(|c| c.is_none_or(|c| " ),|+".contains(c)))
        });
        match found {
            Some((old, new)) => {
                out.push_str(new.map_or(NONE, |choice| &choice.name));
                rest = &rest[old.len()..];
            }
            None => {
                out.push(first);
                rest = &rest[first.len_utf8()..];
            }
        }
    }
    out
}

/// Whether a chain is a control that no longer counts, whatever steps it goes through.
fn reads_nothing(chain: &Chain) -> bool {
    match &chain.head {
        Head::Control { reads, .. } => *reads == Reads::Nothing,
        Head::Group(inner) => reads_nothing(inner),
        _ => false,
    }
}

fn add(profile: &mut Profile, of: Owned, choice: &Choice) {
    let Some(action) = profile.actions.get_mut(of.action) else { return };
    let in_scheme = |binding: &&Binding| binding.scheme == Some(of.scheme);
    let last = action.bindings.iter().filter(in_scheme).map(|one| one.number).max();
    let (head, text) = (choice.head.clone(), choice.name.clone());
    let kind = head.kind();
    let binding = Binding {
        scheme: Some(of.scheme),
        number: last.unwrap_or(0) + 1,
        text,
        chain: Chain { head, steps: Vec::new(), kind },
        rebind: true,
        label: None,
    };
    // Bindings stand grouped by scheme, in the order of the file.
    let at = action.bindings.iter().rposition(|one| one.scheme == Some(of.scheme));
    let at = at.map_or(action.bindings.len(), |at| at + 1);
    action.bindings.insert(at, binding);
}

/// What a chosen control reaches besides its action.
fn met(
    (shipped, profile): (&Profile, &Profile),
    readers: &Readers,
    (of, choice): (Owned, &Choice),
    span: Span,
) -> Option<Diagnostic> {
    let all = readers.of_control(profile, choice).take(MOST_MET);
    let Conflict { action, .. } =
        all.flat_map(|id| conflicts_with(shipped, profile, (of, choice), id)).next()?;
    let (own, other) = (profile.address(of.action), profile.address(action));
    let message = format!("`{}` reaches {other} as well as {own}", choice.name);
    let help = format!("choose another control for one of them: `harmonym player bind {other} …`");
    let note = Diagnostic::fault(FaultKind::UsedTwice, span, message, help);
    Some(Diagnostic { rule: "shared", level: Level::Note, ..note })
}
