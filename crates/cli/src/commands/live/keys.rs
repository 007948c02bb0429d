//! The keys of the view.

use crate::sources::terminal::{Does, Key, Modifiers, Told, place};
use harmonym_runtime::controls::Layout;
use harmonym_runtime::plan::Plan;

/// What a key asks of the view.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Asks {
    /// Keys go to the actions from now on, or to the view.
    Hands,
    Up,
    Down,
    /// Back in time, or less; far with Shift.
    Left(bool),
    Right(bool),
    /// Time stands still, or goes on.
    Still,
    Maps,
    Numbers,
    Take,
    Copy,
    Enter,
    Leave,
    Quit,
}

/// The keys that could hand the keyboard over: the first that the profile does not bind.
const HAND_OVER: &[&str] =
    &["F1", "F10", "F12", "F9", "F8", "F7", "F6", "F5", "F4", "F3", "F2", "F11"];

/// The key that hands the keyboard over.
pub fn hand_over(plan: &Plan) -> &'static str {
    let is_free = |code: &&&str| {
        let control = plan.find_control(&format!("key.{code}"));
        control.is_ok_and(|id| plan.inputs_of().get(id).is_none_or(|own| own.is_empty()))
    };
    HAND_OVER.iter().find(is_free).unwrap_or(&HAND_OVER[0])
}

/// What a key asks for, where the view has the keys or not.
pub fn asks(told: &Told, hand_over: &str, hands_on: bool, layout: Layout) -> Option<Asks> {
    let Told::Key(key) = told else { return None };
    if key.does == Does::Up {
        return None;
    }
    let Key { types, modifiers, .. } = key;
    let Modifiers { shift, control, .. } = *modifiers;
    let code = place(key, layout).unwrap_or_default();
    if control && *types == Some('c') {
        return Some(Asks::Quit);
    }
    if code == hand_over {
        return Some(Asks::Hands).filter(|_| key.does == Does::Down);
    }
    if hands_on {
        return None;
    }
    Some(match (code, types) {
        ("ArrowUp", _) => Asks::Up,
        ("ArrowDown", _) => Asks::Down,
        ("ArrowLeft", _) => Asks::Left(shift),
        ("ArrowRight", _) => Asks::Right(shift),
        ("Space", _) => Asks::Still,
        ("Enter", _) => Asks::Enter,
        ("Escape", _) => Asks::Leave,
        (_, Some('m')) => Asks::Maps,
        (_, Some('n')) => Asks::Numbers,
        (_, Some('t')) => Asks::Take,
        (_, Some('c')) => Asks::Copy,
        (_, Some('q')) => Asks::Quit,
        _ => return None,
    })
}
