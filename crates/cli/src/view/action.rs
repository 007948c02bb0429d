//! One action's whole way from controls to events, a line a station.

use super::profile::rule;
use super::style::{Ink, Look};
use harmonym_core::base::{ActionId, Kind, shortest};
use harmonym_core::controls::Catalogue;
use harmonym_core::model::{
    Action, Binding, By, Chain, Corner, Head, Opposed, Pick, Profile, Step, Trigger,
};

/// The way of one action.
pub fn way(profile: &Profile, id: ActionId, look: Look) -> String {
    let action = &profile.actions[id];
    let mut text = look.paint(Ink::Strong, profile.address(id));
    text.push_str(&format!(" ({})", action.kind.word()));
    if let Some(about) = &action.about {
        text.push_str(&format!(": {about}"));
    }
    text.push('\n');
    for binding in &action.bindings {
        write_binding(&mut text, profile, binding, look);
    }
    if action.bindings.is_empty() {
        station(&mut text, look, "bindings", "none yet: nothing reaches it");
    }
    text.push('\n');
    let blend = match action.bindings.len() {
        0 | 1 => "strongest (there is nothing to choose from)",
        _ => "strongest: of all bindings the one of greatest magnitude counts",
    };
    station(&mut text, look, "blend", blend);
    if action.shape.is_empty() {
        station(&mut text, look, "shape", "none");
    }
    for step in &action.shape {
        station(&mut text, look, "shape", &in_words(step, action.kind));
    }
    station(&mut text, look, "levels", &levels(action));
    let given = if action.fire_given { "" } else { " (not said in the profile)" };
    station(&mut text, look, "fire", &format!("{}{given}", rule(action)));
    for alternative in &action.fire {
        station(&mut text, look, "", &trigger(alternative.trigger));
    }
    text
}

fn station(text: &mut String, look: Look, name: &str, what: &str) {
    let name = look.paint(Ink::Faint, format!("{name:>10}"));
    text.push_str(&format!("{name}  {what}\n"));
}

fn write_binding(text: &mut String, profile: &Profile, binding: &Binding, look: Look) {
    let scheme = &profile.schemes[binding.scheme].name;
    let name = format!("{scheme}#{}", binding.number);
    text.push_str(&format!(
        "\n{:>10}  {}\n",
        look.paint(Ink::Strong, format!("{name:>10}")),
        binding.text
    ));
    write_chain(text, &binding.chain, look);
}

fn write_chain(text: &mut String, chain: &Chain, look: Look) {
    match &chain.head {
        Head::Control { name, kind, .. } => {
            let place = Catalogue::get().find(name).map_or("", |entry| entry.place.as_str());
            station(text, look, "control", &format!("{name}: {}, {place}", kind.word()));
        }
        Head::Pair(pair) => {
            station(text, look, "pair", &format!("{} minus {}", part(&pair.pos), part(&pair.neg)));
            station(text, look, "opposed", opposed(pair.opposed));
        }
        Head::Four(four) => {
            let (up, down) = (part(&four.y.pos), part(&four.y.neg));
            let (left, right) = (part(&four.x.neg), part(&four.x.pos));
            let parts = format!("up {up}, left {left}, down {down}, right {right}");
            station(text, look, "four", &parts);
            station(text, look, "opposed", opposed(four.x.opposed));
            let corner = match four.corner {
                Corner::Round => "round: a diagonal has length 1",
                Corner::Square => "square: a diagonal has length 1.414",
            };
            station(text, look, "corner", corner);
        }
        Head::Group(inner) => write_chain(text, inner, look),
    }
    let mut kind = match &chain.head {
        Head::Control { kind, .. } => kind.yields().unwrap_or(Kind::Axis),
        Head::Pair(_) => Kind::Axis,
        Head::Four(_) => Kind::Plane,
        Head::Group(inner) => inner.kind,
    };
    for step in &chain.steps {
        station(text, look, "step", &in_words(step, kind));
        kind = match step {
            Step::Pick(_) => Kind::Axis,
            Step::Onto { kind, .. } => *kind,
            _ => kind,
        };
    }
}

fn part(chain: &Chain) -> String {
    match &chain.head {
        Head::Control { name, .. } => name.clone(),
        Head::Group(inner) => part(inner),
        Head::Pair(_) => "a pair".to_owned(),
        Head::Four(_) => "a four".to_owned(),
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

/// What a step does to a value of `kind`.
fn in_words(step: &Step, kind: Kind) -> String {
    let percent = |share: f64| format!("{} %", shortest((share * 1000.0).round() / 10.0));
    match *step {
        Step::Flip { x, y } => match (kind, x, y) {
            (Kind::Plane, true, false) => "flip x: left and right change places".to_owned(),
            (Kind::Plane, false, true) => "flip y: up and down change places".to_owned(),
            (Kind::Plane, _, _) => "flip: both directions turn round".to_owned(),
            _ => "flip: the sign turns".to_owned(),
        },
        Step::Scale { x, y } if kind == Kind::Plane && x != y => {
            format!("scale: {} times as far across, {} times up and down", shortest(x), shortest(y))
        }
        Step::Scale { x, .. } => format!("scale: {} times as much", shortest(x)),
        Step::Deadzone { low, full, by } => {
            let each =
                if by == By::Axes && kind == Kind::Plane { ", each axis by itself" } else { "" };
            let (low, full) = (percent(low), percent(full));
            format!("dead zone: ignores the first {low} of travel, full at {full}{each}")
        }
        Step::Curve { power } if power > 1.0 => {
            format!(
                "curve: finer near the middle (half way gives {})",
                percent(0.5_f64.powf(power))
            )
        }
        Step::Curve { power } if power < 1.0 => {
            format!(
                "curve: quicker near the middle (half way gives {})",
                percent(0.5_f64.powf(power))
            )
        }
        Step::Curve { .. } => "curve: changes nothing".to_owned(),
        Step::Cap { limit } => format!("cap: no longer than {}", shortest(limit)),
        Step::Onto { component, .. } => {
            format!("onto: becomes the component {}", component.letter())
        }
        Step::Pick(Pick::Component(component)) => {
            format!("pick: only the component {}", component.letter())
        }
        Step::Pick(Pick::Length) => "pick: only how far, not which way".to_owned(),
    }
}

fn levels(action: &Action) -> String {
    let levels = action.levels;
    let (wake, down, up) = (levels.wake, levels.down, levels.up);
    let given = if action.levels_given { "" } else { " (not said in the profile)" };
    if levels.wake == levels.down {
        return format!("wakes and is down from {down}, up under {up}{given}");
    }
    format!("wakes from {wake}, down from {down}, up under {up}{given}")
}

fn trigger(trigger: Trigger) -> String {
    match trigger {
        Trigger::Press => "press: fires once, when it goes down".to_owned(),
        Trigger::Release => "release: fires once, when it comes up".to_owned(),
        Trigger::While => "while: fires at every tick as long as it is down".to_owned(),
        Trigger::Hold(time) => {
            format!("hold: fires once, after {time} s of being down; let go earlier, it lapses")
        }
    }
}
