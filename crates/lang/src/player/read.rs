//! A player's file to what it says.

use super::{Extra, FORMAT, NONE, Player, Replacement, SettingChange, Worth};
use crate::profile::{Reader, Value, entries, not_toml};
use crate::report::{Diagnostic, Diagnostics, FaultKind, Faults};
use crate::source::{Source, Span};
use crate::syntax::Word;
use toml::de::{DeTable, DeValue};

/// The keys of a player's file.
const KEYS: [&str; 4] = ["harmonym-player", "setting", "replace", "also"];

pub(super) fn read(source: &Source) -> Result<Player, Faults> {
    let (table, errors) = DeTable::parse_recoverable(source.text());
    let mut diagnostics = Diagnostics::new();
    let mut reader = Reader { source, diagnostics: &mut diagnostics };
    let player = reader.player(table.get_ref());
    let broken = errors.iter().map(|error| {
        let span = error.span().map_or(Span::new(0, 0), Span::from);
        let line = source.line(source.place(span.start).line);
        (line, not_toml(error.message(), span, source.slice(span)))
    });
    let broken: Vec<_> = broken.collect();
    diagnostics.drop_follow_ups(broken);
    if diagnostics.is_empty() {
        circles(&player).into_iter().for_each(|circle| diagnostics.push(circle));
    }
    if diagnostics.is_empty() { Ok(player) } else { Err(diagnostics.of(source)) }
}

impl Reader<'_> {
    fn player(&mut self, top: &DeTable<'_>) -> Player {
        let mut player = Player::default();
        if !self.is_player_format(top) {
            return player;
        }
        for (key, value) in entries(top) {
            match key.text.as_str() {
                "harmonym-player" => {}
                "setting" => {
                    let Some(table) = self.table("setting", value) else { continue };
                    for (name, value) in entries(table) {
                        player.settings.extend(self.setting_change(name, value));
                    }
                }
                "replace" => {
                    let Some(table) = self.table("replace.ACTION@SCHEME", value) else { continue };
                    for (of, value) in entries(table) {
                        self.replacements(&of, value, &mut player.replaced);
                    }
                }
                "also" => {
                    let Some(table) = self.table("also", value) else { continue };
                    for (of, value) in entries(table) {
                        if !self.is_owner(&of) {
                            continue;
                        }
                        for control in self.texts(&of.text, value) {
                            let control =
                                Word { text: control.value().to_owned(), span: control.span() };
                            player.also.push(Extra { of: of.clone(), control });
                        }
                    }
                }
                other => {
                    let message = format!("`{other}` is not a key of a player's file");
                    let help =
                        super::near(other, KEYS.into_iter(), "its keys are setting, replace, also");
                    self.diagnostics.fault(FaultKind::UnknownKey, key.span, message, help);
                }
            }
        }
        player
    }

    /// Whether it is a player's file that this version reads; if not, that is told.
    fn is_player_format(&mut self, top: &DeTable<'_>) -> bool {
        let first = format!("write `harmonym-player = {FORMAT}` as the first line");
        let Some(value) = top.get("harmonym-player") else {
            let (message, help) = match top.contains_key("harmonym") {
                true => ("this is a profile, not a player's file", "name the player's own file"),
                false => ("this is no player's file", first.as_str()),
            };
            self.diagnostics.fault(FaultKind::Missing, Span::new(0, 0), message, help);
            return false;
        };
        let version = match value.get_ref() {
            DeValue::Integer(number) => i64::from_str_radix(number.as_str(), number.radix()).ok(),
            _ => None,
        };
        let (kind, message, help) = match version {
            Some(FORMAT) => return true,
            Some(newer) if newer > FORMAT => (
                FaultKind::OutOfRange,
                format!(
                    "this player's file is in format {newer}; this version reads format {FORMAT}"
                ),
                "use a newer version of harmonym; the file stays as it is".to_owned(),
            ),
            _ => (FaultKind::WrongKind, "`harmonym-player` is a format's number".to_owned(), first),
        };
        self.diagnostics.fault(kind, value.span().into(), message, help);
        false
    }

    fn setting_change(&mut self, name: Word, value: &Value<'_>) -> Option<SettingChange> {
        let (worth, span) = match value.get_ref() {
            DeValue::Boolean(on) => (Worth::Switch(*on), value.span().into()),
            _ => {
                let (number, span) = self.number(&name.text, value)?;
                (Worth::Number(number), span)
            }
        };
        Some(SettingChange { name, value: worth, span })
    }

    fn replacements(&mut self, of: &Word, value: &Value<'_>, all: &mut Vec<Replacement>) {
        if !self.is_owner(of) {
            return;
        }
        let Some(table) = self.table(format_args!("replace.\"{}\"", of.text), value) else {
            return;
        };
        for (old, value) in entries(table) {
            let Some(new) = self.text(&old.text, value) else { continue };
            let new = Word { text: new.value().to_owned(), span: new.span() };
            all.push(Replacement { of: of.clone(), old, new });
        }
    }

    /// Whether `of` names an action and a scheme.
    fn is_owner(&mut self, of: &Word) -> bool {
        let is_one = of.text.split_once('@').is_some_and(|(action, scheme)| {
            action.split('.').count() == 2 && !scheme.is_empty() && !scheme.contains('#')
        });
        if !is_one {
            let message = format!("`{}` does not name an action and a scheme", of.text);
            let help = "write it in quotes, with its map and its scheme: \"quay.hail@desk\"";
            self.diagnostics.fault(FaultKind::BadName, of.span, message, help);
        }
        is_one
    }
}

/// Controls of one action and scheme that take each other's place in a circle.
pub(super) fn circles(player: &Player) -> Vec<Diagnostic> {
    let mut circles = Vec::new();
    let mut told: Vec<&Replacement> = Vec::new();
    for first in &player.replaced {
        let next = |one: &Replacement| {
            let mut all = player.replaced.iter();
            all.find(|other| other.of.text == first.of.text && other.old.text == one.new.text)
        };
        let (mut at, mut circle) = (first, vec![first]);
        while let Some(other) = next(at).filter(|_| circle.len() <= player.replaced.len()) {
            if std::ptr::eq(other, first) {
                break;
            }
            (at, circle) = (other, [circle, vec![other]].concat());
        }
        let closes = at.new.text == first.old.text && at.new.text != NONE;
        if !closes || told.iter().any(|one| circle.iter().any(|other| std::ptr::eq(*one, *other))) {
            continue;
        }
        told.extend(&circle);
        let names: Vec<&str> = circle.iter().map(|one| one.old.text.as_str()).collect();
        let message = match names[..] {
            [one] => format!("`{one}` takes its own place"),
            _ => format!("these take each other's place in a circle: {}", names.join(", ")),
        };
        let help = "take one of the lines out, or name a control that is not among them";
        let fault = Diagnostic::fault(FaultKind::Loop, first.old.span, message, help);
        let others = circle.iter().skip(1);
        circles.push(others.fold(fault, |fault, one| {
            fault.with_place(one.old.span, format!("takes the place of `{}`", one.old.text))
        }));
    }
    circles
}
