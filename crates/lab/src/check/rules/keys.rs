//! Which way single controls push an action.

use crate::check::{Context, Interval, Range, Worth};
use harmonym_lang::model::{Action, ActionId, Binding, Head};
use harmonym_runtime::base::{ControlId, ControlKind, Id};
use harmonym_runtime::controls::Layout;

/// A control, and what it makes of an action by itself.
pub struct KeyPush {
    pub binding: usize,
    pub control: String,
    /// The binding as written.
    pub text: String,
    pub push: [f64; 3],
}

/// What a touch gives when it is exactly known.
fn exact(range: Range) -> [f64; 3] {
    range.parts.map(|part| if part.least == part.most { part.most } else { 0.0 })
}

fn press(control: ControlId) -> (ControlId, Range) {
    (control, Range::axis(Interval::only(1.0)))
}

/// The bindings that are a single button with steps, each with its push.
pub fn lone_keys(context: &Context<'_>, id: ActionId, action: &Action) -> Vec<KeyPush> {
    let is_button =
        |one: &Binding| one.chain.single().is_some_and(|(kind, _)| kind == ControlKind::Button);
    let single = action.bindings.iter().enumerate().filter(|(_, one)| is_button(one));
    single
        .filter_map(|(binding, one)| {
            let used = context.uses_of(id, binding).next()?;
            let (control, _) = *used.parts.first()?;
            let push = exact(context.probe(id, binding, vec![press(control)]));
            Some(KeyPush { binding, control: used.name.clone(), text: one.text.clone(), push })
        })
        .collect()
}

/// The bindings that are one pair onto a component, each with its push by the second side.
pub fn lone_pairs(context: &Context<'_>, id: ActionId, action: &Action) -> Vec<KeyPush> {
    let pairs = action.bindings.iter().enumerate().filter_map(|(binding, one)| {
        let Head::Pair(_) = one.chain.head else { return None };
        let used = context.uses_of(id, binding).last()?;
        let (control, _) = *used.parts.first()?;
        let push = exact(context.probe(id, binding, vec![press(control)]));
        let (text, control) = (one.text.clone(), one.text.clone());
        Some(KeyPush { binding, control, text, push })
    });
    pairs.collect()
}

/// Where a key lies: its row from the top, and how far from the left.
fn place(name: &str) -> Option<(f64, f64)> {
    const ROWS: [(&str, f64); 4] = [
        ("Digit1 Digit2 Digit3 Digit4 Digit5 Digit6 Digit7 Digit8 Digit9 Digit0 Minus Equal", 1.0),
        ("KeyQ KeyW KeyE KeyR KeyT KeyY KeyU KeyI KeyO KeyP BracketLeft BracketRight", 1.5),
        ("KeyA KeyS KeyD KeyF KeyG KeyH KeyJ KeyK KeyL Semicolon Quote", 1.75),
        ("KeyZ KeyX KeyC KeyV KeyB KeyN KeyM Comma Period Slash", 2.25),
    ];
    let code = match name.strip_prefix("char.") {
        Some(letter) => Layout::default().key(letter.chars().next()?)?.to_owned(),
        None => name.strip_prefix("key.")?.to_owned(),
    };
    ROWS.iter().enumerate().find_map(|(row, (keys, from))| {
        let column = keys.split(' ').position(|key| key == code)?;
        Some((row as f64, from + column as f64))
    })
}

/// Whether two controls lie as two opposite directions do: beside each other, or at the two ends of a
/// cross, a stick or a pair of triggers.
pub fn lie_as_opposites(a: &str, b: &str) -> bool {
    if let (Some((row, column)), Some((other_row, other_column))) = (place(a), place(b)) {
        return (row - other_row).abs() <= 1.0 && (column - other_column).abs() <= 2.5;
    }
    const ENDS: [(&str, &str); 6] = [
        ("Left", "Right"),
        ("Up", "Down"),
        ("left", "right"),
        ("up", "down"),
        ("Subtract", "Add"),
        ("back", "forward"),
    ];
    let opposite = |a: &str, b: &str| {
        ENDS.iter().any(|(one, other)| a.contains(one) && a.replacen(one, other, 1) == b)
    };
    // Either Shift is no opposite of the other.
    let is_either = ["Shift", "Control", "Alt", "Meta"].iter().any(|key| a.contains(key));
    let numpad = |a: &str, b: &str| {
        [("4", "6"), ("2", "8"), ("8", "2"), ("6", "4")]
            .iter()
            .any(|(x, y)| a == format!("key.Numpad{x}") && b == format!("key.Numpad{y}"))
    };
    !is_either && (opposite(a, b) || opposite(b, a) || numpad(a, b))
}

/// Whether keys lie together: each beside some other.
pub fn lie_together(keys: &[String]) -> bool {
    let mut reached = vec![false; keys.len()];
    let mut next = vec![0];
    while let Some(one) = next.pop() {
        let Some(seen) = reached.get_mut(one) else { continue };
        if std::mem::replace(seen, true) {
            continue;
        }
        next.extend((0..keys.len()).filter(|&other| lie_as_opposites(&keys[one], &keys[other])));
    }
    reached.iter().all(|&seen| seen)
}

/// A motion of a hand or finger.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Motion {
    Up,
    Right,
}

/// Controls that move with the hand, and keys that lie as the directions they stand for.
const UP: &[&str] = &["key.KeyW", "key.ArrowUp", "pad.dpad.up"];
const RIGHT: &[&str] = &["key.KeyD", "key.ArrowRight", "pad.dpad.right"];

/// What each binding makes of a motion: one entry a binding that feels it.
pub fn pushes(
    context: &Context<'_>,
    id: ActionId,
    action: &Action,
    (motion, worth): (Motion, &Worth),
) -> Vec<KeyPush> {
    let catalogue = &context.profile.catalogue;
    let mut all = Vec::new();
    for (binding, one) in action.bindings.iter().enumerate() {
        let mut touched = Vec::new();
        let mut name = None;
        for used in context.uses_of(id, binding).filter(|used| !used.holds) {
            let Some(&(control, _)) = used.parts.first() else { continue };
            let reported = &catalogue.reported()[control.index()];
            touched.extend(context.held_for(used));
            let unit =
                |x: f64, y: f64| Range::of([Interval::only(x), Interval::only(y), Interval::ZERO]);
            let range = match (reported.kind, &*reported.name, motion) {
                (ControlKind::Stick, _, Motion::Up) => unit(0.0, 1.0),
                (ControlKind::Stick, _, Motion::Right) => unit(1.0, 0.0),
                // Counts run down as the hand sees the screen.
                (_, "mouse.move" | "touch.drag", Motion::Up) => unit(0.0, -1.0),
                (_, "mouse.move" | "touch.drag", Motion::Right) => unit(1.0, 0.0),
                (_, known, Motion::Up) if UP.contains(&known) => Range::axis(Interval::only(1.0)),
                (_, known, Motion::Right) if RIGHT.contains(&known) => {
                    Range::axis(Interval::only(1.0))
                }
                _ => continue,
            };
            touched.push((control, range));
            name.get_or_insert_with(|| used.name.clone());
        }
        // The whole cross is bound as one.
        if one.text.contains("pad.dpad") && touched.is_empty() {
            let known = if motion == Motion::Up { "pad.dpad.up" } else { "pad.dpad.right" };
            touched.extend(catalogue.reported_id(known).map(press));
            name = Some("pad.dpad".to_owned());
        }
        let Some(control) = name else { continue };
        let push = exact(context.probe_at(id, binding, touched, Some(worth)));
        if push != [0.0; 3] {
            all.push(KeyPush { binding, control, text: one.text.clone(), push });
        }
    }
    all
}

/// Controls that are touched at once.
pub type Touches = Vec<(ControlId, Range)>;

/// Single touches of a binding: each button and lever at its full, each stick along each axis;
/// those of actions that it reads among them.
pub fn leaves(context: &Context<'_>, id: ActionId, binding: usize) -> Vec<Touches> {
    let mut all = Vec::new();
    match gather(context, id, binding, &mut all) {
        true => all,
        false => Vec::new(),
    }
}

/// Adds the touches of a binding; tells whether all of it can be touched so.
fn gather(context: &Context<'_>, id: ActionId, binding: usize, all: &mut Vec<Touches>) -> bool {
    let reported = context.profile.catalogue.reported();
    for used in context.uses_of(id, binding).filter(|used| !used.holds) {
        for (control, _) in used.parts.iter().take(4) {
            let along = |x: f64, y: f64| {
                let range = Range::of([Interval::only(x), Interval::only(y), Interval::ZERO]);
                vec![(*control, range)]
            };
            let touches = match reported[control.index()].kind {
                ControlKind::Button | ControlKind::Lever => vec![vec![press(*control)]],
                ControlKind::Axis => {
                    [1.0, -1.0].map(|v| vec![(*control, Range::axis(Interval::only(v)))]).to_vec()
                }
                ControlKind::Stick => {
                    vec![along(1.0, 0.0), along(0.0, 1.0), along(-1.0, 0.0), along(0.0, -1.0)]
                }
                _ => return false,
            };
            for touch in touches {
                if !all.contains(&touch) {
                    all.push(touch);
                }
            }
        }
    }
    let mut read = Vec::new();
    context.profile.actions[id].bindings[binding].chain.for_each_head(&mut |head| {
        if let Head::Action { action, .. } = head {
            read.push(*action);
        }
    });
    read.into_iter().all(|other| {
        let bindings = 0..context.profile.actions[other].bindings.len();
        bindings.into_iter().all(|index| gather(context, other, index, all))
    })
}

/// Two touches at once: a stick goes no farther than its rim.
pub fn together(
    one: &[(ControlId, Range)],
    other: &[(ControlId, Range)],
) -> Vec<(ControlId, Range)> {
    let mut both = one.to_vec();
    for (control, range) in other {
        match both.iter_mut().find(|(known, _)| known == control) {
            Some((_, known)) => {
                let sum = known.plus(*range).parts.map(|part| part.most);
                let length = sum.iter().map(|v| v * v).sum::<f64>().sqrt().max(1.0);
                *known = Range::of(sum.map(|v| Interval::only(v / length)));
            }
            None => both.push((*control, *range)),
        }
    }
    both
}
