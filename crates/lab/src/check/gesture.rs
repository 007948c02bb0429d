//! Which fire rules come true in one gesture of the hand: one press, let go after some time, or a
//! few presses.

use super::context::Context;
use harmonym_lang::model::{Action, ActionId, Alternative, Cue, Guard};

/// The presses after which a cue fires: how many, and how long the last one lasted.
#[derive(Clone, Copy, Debug, PartialEq)]
struct Gesture {
    presses: u32,
    least: f64,
    most: f64,
}

fn gesture(context: &Context<'_>, cue: &Cue) -> Option<Gesture> {
    let time = |number| context.at_first(number);
    let one = |least, most| Some(Gesture { presses: 1, least, most });
    match cue {
        Cue::Press | Cue::Release | Cue::Repeat { .. } => one(0.0, f64::INFINITY),
        Cue::Hold(after) | Cue::Charge(after) => one(time(*after), f64::INFINITY),
        Cue::Tap(within) => one(0.0, time(*within)),
        Cue::Taps { count, .. } => {
            let presses = time(*count).round() as u32;
            Some(Gesture { presses, least: 0.0, most: f64::INFINITY })
        }
        Cue::While | Cue::Change | Cue::Sequence { .. } => None,
    }
}

/// Whether both come true in some gesture.
fn meet(a: Gesture, b: Gesture) -> bool {
    // With several presses, one that wants a single one has had it; but a long one is none of them.
    let is_short = |one: Gesture| one.least <= 0.0 || one.presses > 1;
    match a.presses == b.presses {
        true => a.least.max(b.least) <= a.most.min(b.most),
        false => is_short(a) && is_short(b),
    }
}

/// Whether an alternative that is not to fire while another action is live never fires in one gesture with
/// an alternative of that: the other has to be live already, and still, when this one would fire.
fn keeps_out(own: &Alternative, other: ActionId, of_other: &Cue) -> bool {
    let is_live_from_the_press = match of_other {
        Cue::Press | Cue::While | Cue::Change | Cue::Repeat { .. } => true,
        Cue::Release
        | Cue::Hold(_)
        | Cue::Tap(_)
        | Cue::Charge(_)
        | Cue::Taps { .. }
        | Cue::Sequence { .. } => false,
    };
    // What fires at coming up finds it over.
    let fires_while_down = match own.cue {
        Cue::Press | Cue::While | Cue::Change | Cue::Hold(_) | Cue::Repeat { .. } => true,
        Cue::Taps { .. } => true,
        Cue::Release | Cue::Tap(_) | Cue::Charge(_) | Cue::Sequence { .. } => false,
    };
    own.guards.contains(&Guard::Without(other)) && is_live_from_the_press && fires_while_down
}

/// Whether guards keep two alternatives from both firing.
fn exclude((a_id, a): (ActionId, &Alternative), (b_id, b): (ActionId, &Alternative)) -> bool {
    if keeps_out(a, b_id, &b.cue) || keeps_out(b, a_id, &a.cue) {
        return true;
    }
    a.guards.iter().any(|one| {
        b.guards.iter().any(|other| match (one, other) {
            (Guard::With(x), Guard::Without(y)) | (Guard::Without(x), Guard::With(y)) => x == y,
            (Guard::When(x), Guard::Unless(y)) | (Guard::Unless(x), Guard::When(y)) => x == y,
            _ => false,
        })
    })
}

/// Two alternatives of two actions that both fire in one gesture.
pub fn both<'a>(
    context: &Context<'_>,
    (a_id, a): (ActionId, &'a Action),
    (b_id, b): (ActionId, &'a Action),
) -> Option<(&'a Alternative, &'a Alternative)> {
    let pairs = a.fire.iter().flat_map(|one| b.fire.iter().map(move |other| (one, other)));
    let mut pairs = pairs.filter(|(one, other)| !exclude((a_id, one), (b_id, other)));
    pairs.find(|(one, other)| {
        let (a, b) = (gesture(context, &one.cue), gesture(context, &other.cue));
        a.zip(b).is_some_and(|(a, b)| meet(a, b))
    })
}

/// Whether some alternatives of two actions fire as long as they are held, and nothing tells them
/// apart.
pub fn go_on_together((a_id, a): (ActionId, &Action), (b_id, b): (ActionId, &Action)) -> bool {
    let goes_on = |one: &Alternative| matches!(one.cue, Cue::While | Cue::Change);
    let mut pairs = a.fire.iter().flat_map(|one| b.fire.iter().map(move |other| (one, other)));
    pairs.any(|(one, other)| {
        (goes_on(one) || goes_on(other)) && !exclude((a_id, one), (b_id, other))
    })
}

/// How late in a gesture a cue fires: the earlier one is the one that can wait.
pub fn lateness(cue: &Cue) -> u32 {
    match cue {
        Cue::Press | Cue::Repeat { .. } => 0,
        Cue::Tap(_) => 1,
        Cue::Release => 2,
        Cue::Taps { .. } => 3,
        Cue::While | Cue::Change | Cue::Hold(_) | Cue::Charge(_) | Cue::Sequence { .. } => 4,
    }
}

/// Whether one cue fires in every gesture in which the other does.
pub fn covers(context: &Context<'_>, one: &Cue, other: &Cue) -> bool {
    let (Some(one), Some(other)) = (gesture(context, one), gesture(context, other)) else {
        return false;
    };
    // A press of several has been one press already.
    let is_any_press = one.presses == 1 && one.least <= 0.0 && one.most == f64::INFINITY;
    is_any_press
        || (one.presses == other.presses && one.least <= other.least && one.most >= other.most)
}
