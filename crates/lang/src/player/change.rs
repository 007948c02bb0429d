//! What players change: one control, one setting, and what is taken back.

use super::apply::{extra, replacement, worth};
use super::choice::{Found, Not, Owned};
use super::conflict::{meet, touched};
use super::{Choice, Conflict, Extra, NONE, Player, Replacement, SettingChange, Worth, conflicts};
use crate::model::{Head, Profile};
use crate::source::Span;
use crate::syntax::Word;

/// What happens where another action has a control already.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum OnConflict {
    /// Nothing is changed, and the other is told.
    Refuse,
    /// The other gets the control that becomes free.
    Swap,
    /// The other loses it.
    Steal,
}

fn word(text: &str) -> Word {
    Word { text: text.to_owned(), span: Span::default() }
}

impl Player {
    /// A control takes the place of one that an action has in a scheme (`quay.hail@desk`): `old` is that of
    /// the profile, or the one that the player has in its place. [`NONE`] for no control; the profile's own
    /// takes the change back.
    ///
    /// # Errors
    /// When it cannot be: a message, and what to do. Nothing is changed then.
    pub fn bind(
        &mut self,
        profile: &Profile,
        of: &str,
        (old, new): (&str, &str),
        on: OnConflict,
    ) -> Result<(), Not> {
        let found = Found::new(profile);
        let owned = found.owned(of)?;
        let old = self.of_profile(profile, owned, of, old);
        let mut changed = self.clone();
        let one = Replacement { of: word(of), old: word(&old), new: word(new) };
        let (_, choice) = replacement(&found, &one)?;
        if let Some(choice) = &choice {
            let had = self.in_place_of(of, &old);
            changed.make_room(profile, owned, choice, Some(had), on)?;
            changed.expect_new(profile, of, owned, choice, &old)?;
        }
        changed.put(one);
        changed.expect_no_circles()?;
        *self = changed;
        Ok(())
    }

    /// A control counts for an action in a scheme besides those of the profile.
    ///
    /// # Errors
    /// When it cannot be: a message, and what to do. Nothing is changed then.
    pub fn also(
        &mut self,
        profile: &Profile,
        of: &str,
        control: &str,
        on: OnConflict,
    ) -> Result<(), Not> {
        let one = Extra { of: word(of), control: word(control) };
        let (owned, choice) = extra(&Found::new(profile), &one)?;
        let mut changed = self.clone();
        changed.make_room(profile, owned, &choice, None, on)?;
        changed.expect_new(profile, of, owned, &choice, "")?;
        changed.also.push(one);
        *self = changed;
        Ok(())
    }

    /// A control counts for an action in a scheme no more: one of the profile, one in its place, or one
    /// besides.
    ///
    /// # Errors
    /// When the action has no such control, or it cannot be changed: a message, and what to do.
    pub fn clear(&mut self, profile: &Profile, of: &str, control: &str) -> Result<(), Not> {
        let before = self.also.len();
        self.also.retain(|one| one.of.text != of || one.control.text != control);
        match self.also.len() < before {
            true => Ok(()),
            false => self.bind(profile, of, (control, NONE), OnConflict::Refuse),
        }
    }

    /// A setting becomes a value: a number, or `on` and `off`.
    ///
    /// # Errors
    /// When there is no such setting, or it cannot have the value: a message, and what to do.
    pub fn set(&mut self, profile: &Profile, setting: &str, value: &str) -> Result<(), Not> {
        let mut settings = profile.variables.iter().filter(|one| one.is_setting);
        let Some(variable) = settings.clone().find(|one| one.name == setting) else {
            let names = settings.by_ref().map(|one| one.name.as_str());
            let help = super::near(setting, names, "the profile has no settings");
            return Err((format!("there is no setting `{setting}`"), help));
        };
        let value = match value {
            "on" | "true" => Worth::Switch(true),
            "off" | "false" => Worth::Switch(false),
            number => Worth::Number(
                number.parse().ok().filter(|n: &f64| n.is_finite()).ok_or_else(|| {
                    (
                        format!("`{setting}` cannot be `{number}`"),
                        "write a number, on or off".to_owned(),
                    )
                })?,
            ),
        };
        worth(variable, value)?;
        let change = SettingChange { name: word(setting), value, span: Span::default() };
        match self.settings.iter_mut().find(|one| one.name.text == setting) {
            Some(one) => *one = change,
            None => self.settings.push(change),
        }
        Ok(())
    }

    /// Takes back what was changed of an action (in one scheme, or in all), or of a setting; all if
    /// nothing is named. Gives whether there was anything.
    pub fn reset(&mut self, what: Option<&str>) -> bool {
        let before = self.clone();
        let is_meant = |of: &str| match what {
            None => true,
            Some(what) => of == what || of.split('@').next() == Some(what),
        };
        self.replaced.retain(|one| !is_meant(&one.of.text));
        self.also.retain(|one| !is_meant(&one.of.text));
        self.settings.retain(|one| what.is_some_and(|what| one.name.text != what));
        *self != before
    }

    /// The control of the profile that a name means: itself, or the one whose place it has taken.
    fn of_profile(&self, profile: &Profile, owned: Owned, of: &str, name: &str) -> String {
        let mut has = false;
        for binding in &profile.actions[owned.action].bindings {
            if binding.scheme == Some(owned.scheme) {
                binding.chain.for_each_head(&mut |head| {
                    has |= matches!(head, Head::Control { name: own, .. } if own == name);
                });
            }
        }
        let mut own = self.replaced.iter().filter(|one| one.of.text == of);
        match own.find(|one| one.new.text == name).filter(|_| !has) {
            Some(one) => one.old.text.clone(),
            None => name.to_owned(),
        }
    }

    /// Puts a replacement in, or takes it back where a control takes its own place.
    fn put(&mut self, new: Replacement) {
        let is_same =
            |one: &Replacement| one.of.text == new.of.text && one.old.text == new.old.text;
        if new.old.text == new.new.text {
            return self.replaced.retain(|one| !is_same(one));
        }
        match self.replaced.iter_mut().find(|one| is_same(one)) {
            Some(one) => *one = new,
            None => {
                // Those of one action stand together.
                let last = self.replaced.iter().rposition(|one| one.of.text == new.of.text);
                self.replaced.insert(last.map_or(self.replaced.len(), |last| last + 1), new);
            }
        }
    }

    /// Sees to other actions that have a control which `of` gets; `free` is the one that it gives up.
    fn make_room(
        &mut self,
        profile: &Profile,
        of: Owned,
        choice: &Choice,
        free: Option<&str>,
        on: OnConflict,
    ) -> Result<(), Not> {
        let applied = self.apply(profile).profile;
        for Conflict { action, control, is_open } in conflicts(profile, &applied, of, choice) {
            let address = profile.address(action);
            let taken = format!("`{}` is {address}'s", choice.name);
            if on == OnConflict::Refuse {
                let help = "choose another, or say what becomes of that: \
                            `--on-conflict swap` or `steal`";
                return Err((taken, help.to_owned()));
            }
            if !is_open {
                return Err((
                    format!("{taken}, which cannot be rebound"),
                    "choose another".to_owned(),
                ));
            }
            let theirs = format!("{address}@{}", profile.schemes[of.scheme].name);
            let is_extra =
                self.also.iter().any(|one| one.of.text == theirs && one.control.text == control);
            self.also.retain(|one| one.of.text != theirs || one.control.text != control);
            let new = match (on, free) {
                (OnConflict::Swap, Some(free)) if free != NONE => free,
                (OnConflict::Swap, _) => {
                    let message = format!("{taken}, and there is nothing to give in return");
                    return Err((
                        message,
                        "write `--on-conflict steal`, or choose another".to_owned(),
                    ));
                }
                _ => NONE,
            };
            if is_extra && new == NONE {
                continue;
            }
            if is_extra {
                self.also.push(Extra { of: word(&theirs), control: word(new) });
                continue;
            }
            let owned = Owned { action, scheme: of.scheme };
            let old = self.of_profile(profile, owned, &theirs, &control);
            let one = Replacement { of: word(&theirs), old: word(&old), new: word(new) };
            replacement(&Found::new(profile), &one)?;
            self.put(one);
        }
        Ok(())
    }

    /// Sees that an action does not have a control already, elsewhere than in the place of `old`.
    fn expect_new(
        &self,
        profile: &Profile,
        of: &str,
        owned: Owned,
        choice: &Choice,
        old: &str,
    ) -> Result<(), Not> {
        let mut without = self.clone();
        without.put(Replacement { of: word(of), old: word(old), new: word(NONE) });
        let applied = without.apply(profile).profile;
        let wanted = touched(profile, &choice.head);
        let mut has = false;
        for binding in &applied.actions[owned.action].bindings {
            if binding.scheme == Some(owned.scheme) {
                binding
                    .chain
                    .for_each_head(&mut |head| has |= meet(&wanted, &touched(profile, head)));
            }
        }
        match has {
            false => Ok(()),
            true => Err((
                format!("{of} has `{}` already", choice.name),
                format!(
                    "give that another control first, or take it away: `harmonym player clear {of} {}`",
                    choice.name
                ),
            )),
        }
    }

    fn expect_no_circles(&self) -> Result<(), Not> {
        match super::read::circles(self).into_iter().next() {
            Some(fault) => Err((fault.message, fault.help)),
            None => Ok(()),
        }
    }
}
