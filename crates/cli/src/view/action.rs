//! One action's whole way from controls to events, a line a station.

use super::profile::{guard_words, rule};
use super::said;
use crate::output::style::{Ink, Look};
use harmonym_lang::model::{
    Action, ActionId, Alternative, Blend, By, Chain, Corner, Cue, Head, Number, Opposed, Pick,
    Profile, Step, StepKind,
};
use harmonym_lang::profile::table;
use harmonym_runtime::base::{Component, ControlName, Kind, shortest};
use harmonym_runtime::controls::Reads;

/// One line of a way: a station, and what happens there.
pub struct Station {
    pub name: String,
    pub says: String,
}

/// The way of one action: that of each binding, and what comes after them.
pub struct Way {
    pub bindings: Vec<Vec<Station>>,
    pub after: Vec<Station>,
}

/// The way of one action as text.
pub fn text(profile: &Profile, id: ActionId, look: Look) -> String {
    let action = &profile.actions[id];
    let mut text = look.paint(Ink::Strong, profile.address(id));
    text.push_str(&format!(" ({})", action.kind.word()));
    text.push_str(&said(action.about.as_deref()));
    text.push('\n');
    let way = way(profile, id);
    let line = |text: &mut String, station: &Station| {
        let name = look.paint(Ink::Faint, format!("{:>10}", station.name));
        text.push_str(&format!("{name}  {}\n", station.says));
    };
    for (binding, stations) in action.bindings.iter().zip(&way.bindings) {
        let name = format!("{}#{}", profile.scheme_name(binding), binding.number);
        let name = look.paint(Ink::Strong, format!("{name:>10}"));
        text.push_str(&format!("\n{name}  {}\n", binding.text));
        stations.iter().for_each(|station| line(&mut text, station));
    }
    if action.bindings.is_empty() {
        let follows = action.fire.iter().any(|one| matches!(one.cue, Cue::Sequence { .. }));
        let says = match follows {
            true => "none: it follows other actions",
            false => "none yet: nothing reaches it",
        };
        line(&mut text, &Station { name: "bindings".to_owned(), says: says.to_owned() });
    }
    text.push('\n');
    way.after.iter().for_each(|station| line(&mut text, station));
    text
}

/// The way of one action.
pub fn way(profile: &Profile, id: ActionId) -> Way {
    let action = &profile.actions[id];
    let mut bindings = Vec::new();
    for binding in &action.bindings {
        let mut stations = Vec::new();
        write_chain(&mut stations, profile, &binding.chain);
        bindings.push(stations);
    }
    let mut text = Vec::new();
    let blend = match action.blend {
        _ if action.bindings.len() < 2 => "there is nothing to choose from",
        Blend::Greatest => "greatest: of all bindings the one of greatest magnitude counts",
        Blend::Oldest => "oldest: the binding that left 0 first keeps the action until it is back",
        Blend::Newest => "newest: the binding that left 0 last counts",
        Blend::LastChange => "last-change: the binding that changed last counts",
        Blend::Sum => "sum: all bindings are added",
    };
    station(&mut text, "blend", blend);
    if action.shape.is_empty() {
        station(&mut text, "shape", "none");
    }
    for step in &action.shape {
        station(&mut text, "shape", &step_words(profile, step, action.kind));
    }
    station(&mut text, "levels", &levels(action));
    station(&mut text, "map", &in_its_map(profile, id));
    let given = if action.fire_given { "" } else { " (not said in the profile)" };
    for other in &action.yields_to {
        let what = format!("waits until {} has given up", profile.address(*other));
        station(&mut text, "yields", &what);
    }
    station(&mut text, "fire rule", &format!("{}{given}", rule(profile, action)));
    for alternative in &action.fire {
        station(&mut text, "", &cue(profile, alternative));
    }
    Way { bindings, after: text }
}

/// Where it lives, what it does to lower maps, and what becomes of controls held at opening.
fn in_its_map(profile: &Profile, id: ActionId) -> String {
    let action = &profile.actions[id];
    let also = profile.maps.iter().filter(|map| map.also.contains(&id));
    let mut maps = vec![profile.maps[action.map].name.as_str()];
    maps.extend(also.map(|map| map.name.as_str()));
    let claim = if action.claim { "claims its controls" } else { "claims nothing" };
    let carry = match action.carry {
        true => "what is held when it opens counts at once",
        false => "what is held when it opens waits",
    };
    let pause = if action.in_pause { "; works while paused" } else { "" };
    format!("{}: {claim}; {carry}{pause}", maps.join(", "))
}

fn station(way: &mut Vec<Station>, name: &str, says: &str) {
    way.push(Station { name: name.to_owned(), says: says.to_owned() });
}

fn write_chain(text: &mut Vec<Station>, profile: &Profile, chain: &Chain) {
    match &chain.head {
        Head::Control { name, kind, reads, device, .. } => {
            let place = place(profile, name, *reads, *device);
            station(text, "control", &format!("{name}: {}, {place}", kind.word()));
        }
        Head::Action { name, kind, .. } => {
            station(text, "action", &format!("{name}, as game code reads it: {}", kind.word()));
        }
        Head::Pair(pair) => {
            station(text, "pair", &format!("{} minus {}", part(&pair.pos), part(&pair.neg)));
            station(text, "opposed", opposed(pair.opposed));
        }
        Head::Four(four) => {
            let (up, down) = (part(&four.y.pos), part(&four.y.neg));
            let (left, right) = (part(&four.x.neg), part(&four.x.pos));
            let parts = format!("up {up}, left {left}, down {down}, right {right}");
            station(text, "four", &parts);
            station(text, "opposed", opposed(four.x.opposed));
            let corner = match four.corner {
                Corner::Round => "round: a diagonal has length 1",
                Corner::Square => "square: a diagonal has length 1.414",
            };
            station(text, "corner", corner);
        }
        Head::Join(parts) => {
            let named = ["x", "y", "z"].iter().zip(parts);
            let parts: Vec<_> =
                named.map(|(name, chain)| format!("{name} {}", part(chain))).collect();
            station(text, "join", &parts.join(", "));
        }
        Head::Any(parts) => {
            let parts: Vec<_> = parts.iter().map(part).collect();
            station(text, "any", &format!("the greatest of {}", parts.join(", ")));
        }
        Head::Sum(parts) => {
            let parts: Vec<_> = parts.iter().map(part).collect();
            if let Some((last, holders)) = parts.split_last() {
                let held = holders.join(" and ");
                station(text, "+", &format!("{last}, only while {held} is held"));
            }
        }
        Head::Group(inner) => write_chain(text, profile, inner),
    }
    let mut kind = chain.head.kind();
    for step in &chain.steps {
        station(text, "step", &step_words(profile, step, kind));
        kind = step.kind.kind_after(kind);
    }
}

/// Where a control lies, and on which device.
fn place(profile: &Profile, name: &str, reads: Reads, device: Option<u8>) -> String {
    let entry = profile.catalogue.find(&ControlName::new(name).plain());
    let place = match (reads, entry) {
        (Reads::Char(c), _) => format!("the key that types {c} on the player's layout"),
        (Reads::Nothing, _) => "nothing, as the player has it".to_owned(),
        (_, Some(entry)) => entry.place.to_string(),
        (_, None) => String::new(),
    };
    let number = device.map_or(String::new(), |device| format!(", device {} only", device + 1));
    format!("{place}{number}")
}

fn part(chain: &Chain) -> String {
    match &chain.head {
        Head::Control { name, .. } => name.clone(),
        Head::Group(inner) => part(inner),
        Head::Pair(_) => "a pair".to_owned(),
        Head::Four(_) => "a four".to_owned(),
        Head::Join(_) => "a join".to_owned(),
        Head::Sum(parts) => parts.iter().map(part).collect::<Vec<_>>().join(" + "),
        Head::Any(parts) => parts.iter().map(part).collect::<Vec<_>>().join(" or "),
        Head::Action { name, .. } => name.clone(),
    }
}

fn opposed(opposed: Opposed) -> &'static str {
    match opposed {
        Opposed::Cancel => "cancel: opposite sides held together give 0",
        Opposed::Newest => "newest: of opposite sides held together the later one counts",
        Opposed::Oldest => "oldest: of opposite sides held together the earlier one counts",
        Opposed::Neg => "neg: of opposite sides held together the negative one counts",
        Opposed::Pos => "pos: of opposite sides held together the positive one counts",
    }
}

/// A number, or the name that stands for one.
fn number(profile: &Profile, number: Number) -> String {
    match number {
        Number::Fixed(value) => shortest(value).to_string(),
        Number::Variable { named, .. } => profile.variables[named].name.clone(),
    }
}

/// What a step does to a value of `kind`, and when.
fn step_words(profile: &Profile, step: &Step, kind: Kind) -> String {
    let mut text = form_words(profile, &step.kind, kind);
    for condition in &step.conditions {
        let name = &profile.variables[condition.named].name;
        let word = if condition.unless { "unless" } else { "when" };
        text.push_str(&format!(", {word} {name}"));
    }
    text
}

fn form_words(profile: &Profile, form: &StepKind, kind: Kind) -> String {
    let number = |n: &Number| number(profile, *n);
    let percent = |n: &Number| match n {
        Number::Fixed(share) => format!("{} %", (share * 1000.0).round() / 10.0),
        named => number(named),
    };
    match form {
        StepKind::Flip([x, y, z]) if kind.components() > 1 => {
            let names: Vec<_> = Component::ALL
                .iter()
                .take(kind.components())
                .zip([x, y, z])
                .filter(|(_, turned)| **turned)
                .map(|(component, _)| component.letter())
                .collect();
            format!("flip: the sign of {} turns", names.join(" and "))
        }
        StepKind::Flip(_) => "flip: the sign turns".to_owned(),
        StepKind::Not => "not: on while the input is off".to_owned(),
        StepKind::Toggle => "toggle: each press changes between on and off".to_owned(),
        StepKind::SwitchAt { on, off } => {
            let off = off.as_ref().map_or("0.8 of that".to_owned(), number);
            format!("switch-at: on from {}, off under {off}", number(on))
        }
        StepKind::Scale(factors) => {
            let all: Vec<_> = factors.iter().map(number).collect();
            format!("scale: {} times as much", all.join(", "))
        }
        StepKind::Deadzone { low, full, by } => {
            let each =
                if *by == By::Axes && kind.components() > 1 { ", each axis by itself" } else { "" };
            let (low, full) = (percent(low), percent(full));
            format!("dead zone: ignores the first {low} of travel, full at {full}{each}")
        }
        StepKind::Curve(Number::Fixed(power)) if *power != 1.0 => {
            let how = if *power > 1.0 { "finer" } else { "quicker" };
            let half = percent(&Number::Fixed(0.5_f64.powf(*power)));
            format!("curve: {how} near the middle (half way gives {half})")
        }
        StepKind::Curve(power) => format!("curve: to the power of {}", number(power)),
        StepKind::Points(points) => {
            let all: Vec<_> = points.iter().map(|(x, y)| format!("({x}, {y})")).collect();
            format!("curve: straight lines from (0, 0) through {}", all.join(", "))
        }
        StepKind::Cap(limit) => format!("cap: no longer than {}", number(limit)),
        StepKind::Clamp(least, most) => {
            format!("clamp: kept within {} and {}", number(least), number(most))
        }
        StepKind::Unit => "unit: always of length 1".to_owned(),
        StepKind::Remap([a, b, c, d]) => {
            let [a, b, c, d] = [a, b, c, d].map(number);
            format!("remap: {a} to {b} becomes {c} to {d}")
        }
        StepKind::Onto(component, _) => {
            format!("onto: becomes the component {}", component.letter())
        }
        StepKind::Pick(Pick::Component(component)) => {
            format!("pick: only the component {}", component.letter())
        }
        StepKind::Pick(Pick::Length) => "pick: only how far, not which way".to_owned(),
        StepKind::Order(order) => {
            let letters: String = order.iter().map(|component| component.letter()).collect();
            format!("order: the components in the order {letters}")
        }
        StepKind::Rotate(angle, around) => {
            let angle = match angle {
                Number::Fixed(radians) => format!("{:.1}°", radians.to_degrees()),
                named => number(named),
            };
            format!("rotate: {angle} counter-clockwise around {}", around.letter())
        }
        StepKind::Ways { count, .. } => {
            format!("ways: to the nearest of {} directions", number(count))
        }
        StepKind::Ease { rise, fall, cut } => {
            let cut = if *cut { ", from 0 when the direction turns" } else { "" };
            let (rise, fall) = (number(rise), number(fall));
            format!("ease: at most {rise} a second up, {fall} a second down{cut}")
        }
        StepKind::Smooth(Number::Fixed(time)) => {
            format!("smooth: follows with a lag of {} s", shortest(*time))
        }
        StepKind::Smooth(time) => format!("smooth: follows with a lag of {}", number(time)),
        StepKind::Travel => "travel: what the speed adds up to over the tick".to_owned(),
        StepKind::Notch(size) => format!("notch: in steps of {}", number(size)),
    }
}

fn levels(action: &Action) -> String {
    let levels = action.levels;
    let plain = |level: f64| (level * 1e9).round() / 1e9;
    let (wake, down, up) = (plain(levels.wake), plain(levels.down), plain(levels.up));
    let given = if action.levels_given { "" } else { " (not said in the profile)" };
    if !action.levels_given && levels.down <= table::SHARE_DOWN {
        return format!("wakes and is down from anything above {down}{given}");
    }
    if levels.wake == levels.down {
        return format!("wakes and is down from {down}, let go under {up}{given}");
    }
    format!("wakes from {wake}, down from {down}, let go under {up}{given}")
}

fn cue(profile: &Profile, alternative: &Alternative) -> String {
    let seconds = |n: &Number| match n {
        Number::Fixed(seconds) => format!("{} s", shortest(*seconds)),
        named => number(profile, *named),
    };
    let words = match &alternative.cue {
        Cue::Press => "press: fires once, when it goes down".to_owned(),
        Cue::Release => "release: fires once, when it comes up".to_owned(),
        Cue::While => "while: fires at every tick as long as it is down".to_owned(),
        Cue::Change => "change: fires whenever its value changes, and when it comes up".to_owned(),
        Cue::Hold(time) => {
            format!(
                "hold: fires once, after {} of being down; let go earlier, it lapses",
                seconds(time)
            )
        }
        Cue::Tap(time) => format!("tap: fires at coming up, within {}", seconds(time)),
        Cue::Charge(time) => {
            format!("charge: fires at coming up, after {} at least", seconds(time))
        }
        Cue::Taps { count, gap } => {
            format!(
                "taps: fires at press {}, each within {} of the last",
                number(profile, *count),
                seconds(gap)
            )
        }
        Cue::Repeat { every, after } => {
            let after = seconds(after.as_ref().unwrap_or(every));
            format!("repeat: fires at once, after {after}, then every {}", seconds(every))
        }
        Cue::Sequence { steps, within } => {
            let steps: Vec<_> = steps.iter().map(|&id| profile.address(id)).collect();
            format!(
                "sequence: fires when {} fired in order within {}",
                steps.join(", "),
                seconds(within)
            )
        }
    };
    let guards =
        alternative.guards.iter().map(|guard| format!(", {}", guard_words(profile, *guard)));
    format!("{words}{}", guards.collect::<String>())
}
