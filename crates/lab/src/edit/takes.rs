//! Takes after an edit of their profile: what they name goes with it.

use super::Draft;
use super::names::Thing;
use super::scores::NameChange;
use crate::score::{Mention, Named};
use crate::take::Reader;
use harmonym_lang::report::Faults;
use harmonym_lang::source::{Source, Span};
use harmonym_runtime::plan::Plan;
use serde::Deserialize;
use serde_json::value::RawValue;

impl Draft {
    /// Whether a take may name something that has another name now, or is gone.
    pub fn reaches_takes(&self) -> bool {
        self.changes.iter().any(|change| {
            let (NameChange::Renamed(thing, _) | NameChange::Removed { thing, .. }) = change;
            !matches!(thing, Thing::Action(..) | Thing::Preset(_))
        })
    }

    /// A take's text as it has to be after the changes of this draft; `before` and `after` are the
    /// plans of the profile.
    ///
    /// # Errors
    /// When the take still names something that was removed, or could be read and no longer can.
    pub fn follow_take(
        &self,
        take: &Source,
        before: &Plan,
        after: &Plan,
    ) -> Result<String, Faults> {
        let text = self.follow_mentions(take, mentions(take), None)?;
        if text != take.text() && read_through(take, before).is_ok() {
            read_through(&Source::new(take.name(), text.as_str()), after)?;
        }
        Ok(text)
    }
}

/// Reads a take from its first line to its last.
fn read_through(take: &Source, plan: &Plan) -> Result<(), Faults> {
    let mut lines = take.lines().map(|(_, line)| line);
    let (mut reader, _) = Reader::new(take.name(), lines.next().unwrap_or_default(), plan)?;
    lines.try_for_each(|line| reader.line(line).map(drop))
}

/// What a line of a take may name of the profile.
#[derive(Deserialize)]
struct Names<'a> {
    #[serde(borrow)]
    start: Option<&'a RawValue>,
    #[serde(borrow)]
    open: Option<&'a RawValue>,
    #[serde(borrow)]
    close: Option<&'a RawValue>,
    #[serde(borrow)]
    fact: Option<&'a RawValue>,
    #[serde(borrow)]
    setting: Option<&'a RawValue>,
    #[serde(borrow)]
    scheme: Option<&'a RawValue>,
    #[serde(borrow)]
    control: Option<&'a RawValue>,
    #[serde(borrow)]
    plug: Option<&'a RawValue>,
    #[serde(borrow)]
    unplug: Option<&'a RawValue>,
    #[serde(borrow)]
    give: Option<&'a RawValue>,
    #[serde(borrow)]
    devices: Option<Vec<&'a RawValue>>,
}

/// Every place of a take that names something of the profile, in order; what is no line of a take
/// names nothing.
fn mentions(take: &Source) -> Vec<Mention<'_>> {
    let mut all = Vec::new();
    for (start, line) in take.lines() {
        let Ok(names) = serde_json::from_str::<Names<'_>>(line) else { continue };
        let controls = [names.control, names.plug, names.unplug, names.give];
        let controls = controls.into_iter().flatten().chain(names.devices.into_iter().flatten());
        let maps = [names.start, names.open, names.close].into_iter().flatten();
        let named = maps
            .map(|value| (value, Named::Map))
            .chain(names.fact.map(|value| (value, Named::Fact)))
            .chain(names.setting.map(|value| (value, Named::Setting)))
            .chain(names.scheme.map(|value| (value, Named::Scheme)))
            .chain(controls.map(|value| (value, Named::Control)));
        for (value, what) in named {
            // A name has nothing that would have to be escaped.
            let name = value.get().strip_prefix('"').and_then(|rest| rest.strip_suffix('"'));
            let Some(text) = name.filter(|name| !name.contains('\\')) else { continue };
            let at = start + (text.as_ptr() as usize - line.as_ptr() as usize);
            all.push(Mention { text, span: Span::new(at, at + text.len()), what });
        }
    }
    all.sort_by_key(|mention| mention.span.start);
    all
}
