//! Scores after an edit of their profile: what they name goes with it, and what they said stays.

use super::Draft;
use super::names::{Gatherer, Thing};
use super::text::{Splice, spliced};
use crate::score::{self, Mention, Named, means_something_else, mentions};
use harmonym_lang::profile::{Profile, read};
use harmonym_lang::report::{Diagnostic, Diagnostics, FaultKind, Faults};
use harmonym_lang::source::{Quoted, Source, Span};
use harmonym_lang::syntax::print_cue;
use harmonym_runtime::base::ControlName;
use harmonym_runtime::plan::Plan;

/// A score after an edit.
#[derive(Clone, Debug, PartialEq)]
pub struct Followed {
    /// Its text.
    pub text: String,
    /// What it expects that no hands can bring about any more, in a line each.
    pub unmet: Vec<String>,
}

/// What an edit did to the names of a profile.
#[derive(Clone, Debug)]
pub(super) enum NameChange {
    /// A thing has another name.
    Renamed(Thing, Thing),
    /// A thing is gone; by `force` also what names it.
    Removed { thing: Thing, force: bool },
}

/// What became of a thing that a score names.
pub(super) enum Fate<'d> {
    Is(Thing),
    Gone { thing: &'d Thing, force: bool },
}

impl Draft {
    /// A score's text as it has to be after the changes of this draft: new names where things were
    /// renamed, the map written out where a name alone is no longer clear, lines left out that
    /// name what was removed by force. `before` and `after` are the plans of the profile.
    ///
    /// # Errors
    /// When the score still names something that was removed, or could be read and no longer can.
    pub fn follow(&self, score: &Source, before: &Plan, after: &Plan) -> Result<Followed, Faults> {
        let text = self.follow_mentions(score, mentions(score), Some((before, after)))?;
        let Ok(old) = score::read(score, before) else {
            return Ok(Followed { text, unmet: Vec::new() });
        };
        let source = Source::new(score.name(), text.as_str());
        let new = score::read(&source, after)?;
        let unmet_before = |at: usize| {
            let same = old.expectations.len() == new.expectations.len();
            let old = old.expectations.get(at).filter(|_| same);
            old.is_some_and(|old| score::impossible(before, old).is_some())
        };
        let all = new.expectations.iter().enumerate().filter(|(at, _)| !unmet_before(*at));
        let unmet = all.filter_map(|(_, expectation)| {
            let told = score::impossible(after, expectation)?;
            Some(told.in_source(&source).to_string())
        });
        let unmet = unmet.collect();
        Ok(Followed { text, unmet })
    }

    /// The text of hands with the names of today in the place of those they mention.
    pub(super) fn follow_mentions(
        &self,
        hands: &Source,
        all: Vec<Mention<'_>>,
        plans: Option<(&Plan, &Plan)>,
    ) -> Result<String, Faults> {
        let known = read(&self.original, &mut Diagnostics::new());
        let mut following = Following {
            draft: self,
            known: &known,
            score: hands,
            plans,
            splices: Vec::new(),
            lines_gone: Vec::new(),
            diagnostics: Diagnostics::new(),
        };
        for mention in all {
            following.mention(&mention);
        }
        let Following { mut splices, mut lines_gone, diagnostics, .. } = following;
        lines_gone.dedup();
        splices.retain(|(span, _)| {
            !lines_gone.iter().any(|line| line.start <= span.start && span.end <= line.end)
        });
        splices.extend(lines_gone.into_iter().map(|line| (line, String::new())));
        match diagnostics.is_empty() {
            true => Ok(spliced(hands.text(), splices)),
            false => Err(diagnostics.of(hands)),
        }
    }

    /// What a thing of the profile as it was is now.
    pub(super) fn fate(&self, mut thing: Thing) -> Fate<'_> {
        for change in &self.changes {
            match change {
                NameChange::Renamed(old, new) => match (&mut thing, old) {
                    (Thing::Action(map, _), Thing::Map(old)) if map == old => {
                        new.name().clone_into(map);
                    }
                    (thing, old) if thing == old => thing.clone_from(new),
                    _ => {}
                },
                NameChange::Removed { thing: gone, force } => {
                    let inside = matches!((&thing, gone), (Thing::Action(map, _), Thing::Map(of)) if map == of);
                    if thing == *gone || inside {
                        return Fate::Gone { thing: gone, force: *force };
                    }
                }
            }
        }
        Fate::Is(thing)
    }
}

/// A score on its way.
struct Following<'a> {
    draft: &'a Draft,
    /// The profile as it was.
    known: &'a Profile,
    score: &'a Source,
    /// The plans before and after.
    plans: Option<(&'a Plan, &'a Plan)>,
    splices: Vec<Splice>,
    /// The lines that go with what they name.
    lines_gone: Vec<Span>,
    diagnostics: Diagnostics,
}

impl Following<'_> {
    fn mention(&mut self, mention: &Mention<'_>) {
        let Mention { text, span, what } = *mention;
        let name = text.to_owned();
        match what {
            Named::Map => self.plain(Thing::Map(name), span),
            Named::Scheme => self.plain(Thing::Scheme(name), span),
            Named::Setting => self.plain(Thing::Setting(name), span),
            Named::Fact => self.plain(Thing::Fact(name), span),
            Named::Control => {
                let class = ControlName::new(text).class;
                let span = Span::new(span.start, span.start + class.len());
                self.plain(Thing::Device(class.to_owned()), span);
            }
            Named::Action => self.action(text, span),
            Named::CueOf(action) => self.cue(action, text, span),
        }
    }

    /// A name that stands for itself.
    fn plain(&mut self, thing: Thing, span: Span) {
        if let Some(thing) = self.kept(thing, span) {
            self.write(span, thing.name().to_owned());
        }
    }

    /// An action: with its map if it was, or has to be to be found.
    fn action(&mut self, text: &str, span: Span) {
        let Some((map, own)) = meant(self.known, text) else { return };
        let Some(thing) = self.kept(Thing::Action(map, own), span) else { return };
        let own = thing.name();
        let is_clear = meant(&self.draft.raw, own).is_some() && !means_something_else(own);
        let is_short = !text.contains('.') && is_clear;
        self.write(span, if is_short { own.to_owned() } else { thing.address() });
    }

    /// The names in a cue of an action.
    fn cue(&mut self, action: &str, text: &str, span: Span) {
        let Some((map, own)) = meant(self.known, action) else { return };
        if let Some(cue) = self.cue_in_place((&map, &own), text) {
            // The mention is what stands between the quotes.
            return self.write(span, format!("\"{cue}\""));
        }
        let quoted = Quoted::new(self.score.text(), span, text);
        let mut gatherer = Gatherer::new(self.known, &map);
        gatherer.fire(&quoted);
        for mention in gatherer.all {
            let mut new = mention.text;
            for (thing, (from, to)) in mention.things.into_iter().rev() {
                let Some(thing) = self.kept(thing, mention.span) else { return };
                new.replace_range(from..to, thing.name());
            }
            self.write(mention.span, new);
        }
    }

    /// The cue of an action whose rule changed: the one that stands in its place now.
    fn cue_in_place(&self, (map, own): (&str, &str), text: &str) -> Option<String> {
        let (before, after) = self.plans?;
        let Fate::Is(thing) = self.draft.fate(Thing::Action(map.to_owned(), own.to_owned())) else {
            return None;
        };
        let old = before.find_action(&format!("{map}.{own}")).ok()?;
        let new = after.find_action(&thing.address()).ok()?;
        let cues = |plan: &Plan, action| {
            let all = plan.actions()[action].alternatives.iter();
            all.map(|id| plan.names().alternatives[id].clone()).collect::<Vec<_>>()
        };
        let (was, is) = (cues(before, old), cues(after, new));
        let written = print_cue(text)?;
        let is_it = |cue: &String| print_cue(cue).as_ref() == Some(&written);
        let at = was.iter().position(is_it)?;
        let stays = was.len() != is.len() || is.iter().any(is_it) || is_it(&is[at]);
        (!stays).then(|| is[at].clone())
    }

    fn write(&mut self, span: Span, new: String) {
        if self.score.slice(span) != new {
            self.splices.push((span, new));
        }
    }

    /// What a thing is now; if it is gone its line goes too, or it is told.
    fn kept(&mut self, thing: Thing, span: Span) -> Option<Thing> {
        let (thing, force) = match self.draft.fate(thing) {
            Fate::Is(thing) => return Some(thing),
            Fate::Gone { thing, force } => (thing, force),
        };
        let number = self.score.place(span.start).line;
        if !force || self.is_header(number) {
            let (kind, address) = (thing.kind(), thing.address());
            let message = format!("this still names the {kind} `{address}`");
            let help = "change the line first, or take it out with it: --force";
            self.diagnostics.push(Diagnostic::fault(FaultKind::UnknownName, span, message, help));
        } else if self.is_counted_from(number) {
            let message =
                format!("the line goes with `{}`, and a later one counts from it", thing.address());
            let help = "write the later line's time from the start: `at 1.5s`";
            self.diagnostics.push(Diagnostic::fault(FaultKind::UnknownName, span, message, help));
        } else {
            let line = self.score.line(number);
            let rest = &self.score.text()[line.end..];
            let end = line.end + rest.find('\n').map_or(rest.len(), |i| i + 1);
            self.lines_gone.push(Span::new(line.start, end));
        }
        None
    }

    /// Whether a line is the first of a take, without which it is none.
    fn is_header(&self, number: usize) -> bool {
        number == 1 && self.score.text().starts_with('{')
    }

    /// Whether the next instruction after this line has its time from this one.
    fn is_counted_from(&self, number: usize) -> bool {
        let first = |line: &str| line.split_whitespace().next().map(str::to_owned);
        let is_timed = |word: &String| matches!(word.as_str(), "at" | "after");
        let mut lines = self.score.lines().skip(number - 1).map(|(_, line)| first(line));
        let own = lines.next().flatten();
        let next = lines.flatten().find(is_timed);
        own.as_ref().is_some_and(is_timed) && next.is_some_and(|word| word == "after")
    }
}

/// The map and the action that a name means, if it is clear.
fn meant(raw: &Profile, name: &str) -> Option<(String, String)> {
    let (of, own) = name.split_once('.').map_or((None, name), |(map, own)| (Some(map), own));
    let mut maps = raw.maps.iter().filter(|map| {
        of.is_none_or(|of| map.name.text == of)
            && map.actions.iter().any(|action| action.name.text == own)
    });
    match (maps.next(), maps.next()) {
        (Some(map), None) => Some((map.name.text.clone(), own.to_owned())),
        _ => None,
    }
}
