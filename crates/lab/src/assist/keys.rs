//! What each key of a profile holds, by its path.

use super::expression::Expression;
use harmonym_lang::profile::table::{Holds, Key, Keyword, keys_at};

/// The key that a path ends in.
pub(super) fn key_at(path: &[&str]) -> Option<&'static Key> {
    let (name, before) = path.split_last()?;
    keys_at(before).iter().find(|key| key.name == *name)
}

/// The topic of the reference that tells of the key at a path.
pub(super) fn topic_of_key(path: &[&str]) -> &'static str {
    if matches!(path, ["map", _, _]) { "maps" } else { "profile" }
}

/// The topic of the reference that tells of the words that the key at a path holds.
pub(super) fn topic_of_words(path: &[&str]) -> &'static str {
    if path.last() == Some(&"blend") { "bindings" } else { topic_of_key(path) }
}

/// What a value is.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) enum Holding {
    Expression(Expression),
    Words(&'static [Keyword]),
    /// Names of actions.
    Actions,
    /// Classes of devices.
    Classes,
    /// Controls alone.
    Controls,
    /// Kinds of control.
    Kinds,
    /// Rules of the checker.
    Rules,
    Switch,
    Other,
}

/// What the value at a path is.
pub(super) fn holding(path: &[&str]) -> Holding {
    use Expression::{Binding, Fire, Steps};
    match path {
        ["map", _, _, "bind", _] | ["map", _, _, "bind", _, "from"] => Holding::Expression(Binding),
        ["map", _, _, "shape"] | ["preset", _] => Holding::Expression(Steps),
        ["map", _, _, "fire"] => Holding::Expression(Fire),
        ["map", _, "also"] | ["map", _, _, "yields-to"] => Holding::Actions,
        ["scheme", _, "devices"] => Holding::Classes,
        ["reserved"] | ["device", _, "as", _] => Holding::Controls,
        ["device", _, "controls", _] => Holding::Kinds,
        [.., "waive"] => Holding::Rules,
        _ => match key_at(path).map(|key| key.holds) {
            Some(Holds::Word(words)) => Holding::Words(words),
            Some(Holds::Switch | Holds::Either) => Holding::Switch,
            _ => Holding::Other,
        },
    }
}
