//! Takes after an edit of their profile: what they name goes with it.

use super::Draft;
use super::names::Thing;
use super::scores::NameChange;
use crate::score::{Mention, Named};
use crate::take::Reader;
use harmonym_lang::report::Faults;
use harmonym_lang::source::{Source, Span};
use harmonym_runtime::plan::Plan;
use serde_json::value::RawValue;
use std::collections::HashMap;

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

/// Every place of a take that names something of the profile, in order; what is no line of a take
/// names nothing.
fn mentions(take: &Source) -> Vec<Mention<'_>> {
    let mut all = Vec::new();
    for (start, line) in take.lines() {
        let Ok(keys) = serde_json::from_str::<HashMap<&str, &RawValue>>(line) else { continue };
        let named = keys.into_iter().flat_map(|(key, value)| {
            let what = match key {
                "start" | "open" | "close" => Named::Map,
                "fact" => Named::Fact,
                "setting" => Named::Setting,
                "scheme" => Named::Scheme,
                "control" | "plug" | "unplug" | "give" | "devices" => Named::Control,
                _ => return Vec::new(),
            };
            let all = serde_json::from_str(value.get()).unwrap_or_else(|_| vec![value]);
            all.into_iter().map(|value: &RawValue| (value, what)).collect()
        });
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
