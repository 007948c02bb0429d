//! The first line of a take.

use super::fault::LineFault;
use super::line::HeaderLine;
use harmonym_lang::report::{did_you_mean, nearest};
use harmonym_runtime::base::{ControlName, MapId, MapKind, Rate, Seat};
use harmonym_runtime::controls::Layout;
use harmonym_runtime::plan::Plan;

/// The format of takes that this version reads.
const FORMAT: u64 = 1;

/// What the first line of a take says.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Header {
    /// What the take is called.
    pub title: Option<String>,
    /// The map that is open at 0, in place of the profile's.
    pub start: Option<MapId>,
    /// Ticks a second.
    pub rate: Option<Rate>,
    /// The player's keyboard layout.
    pub layout: Option<Layout>,
    /// How many players there are, if not as many as the profile says.
    pub seats: Option<u8>,
}

pub(super) fn header(line: &HeaderLine<'_>, plan: &Plan) -> Result<Header, LineFault> {
    if line.take != FORMAT {
        let message = format!("this take is in format {}; this version reads format 1", line.take);
        return Err(LineFault::new(message, "write `\"take\":1`").about(&line.take.to_string()));
    }
    let seats = match line.seats {
        Some(seats) => {
            let known = u8::try_from(seats).ok().and_then(Seat::new);
            let fault = || LineFault::new("there are 1 to 8 seats", "write `\"seats\":2`, say");
            Some(known.ok_or_else(|| fault().about("\"seats\""))?.number())
        }
        None => None,
    };
    let layout = match line.layout.as_deref() {
        Some(word) => Some(Layout::from_word(word).ok_or_else(|| {
            let help = format!("the layouts are {}", Layout::words());
            LineFault::new(format!("there is no layout `{word}`"), help).about(word)
        })?),
        None => None,
    };
    for name in line.devices.iter().flatten() {
        known_device(name, plan)?;
    }
    let start = match line.start.as_deref() {
        Some(name) => {
            let id = map(name, plan)?;
            if plan.maps()[id].kind != MapKind::Solo {
                let message = format!("`{name}` is no solo map: it does not replace the first one");
                let help = "name a solo map, and open this one with a line of its own";
                return Err(LineFault::new(message, help).about(name));
            }
            Some(id)
        }
        None => None,
    };
    let rate = match line.rate {
        Some(raw) => Some(Rate::parse(raw.get()).ok_or_else(|| {
            let help = format!("write {}", Rate::RANGE);
            LineFault::new(format!("`{}` is not a rate", raw.get()), help).about("\"rate\"")
        })?),
        None => None,
    };
    Ok(Header { title: line.title.as_deref().map(str::to_owned), start, rate, layout, seats })
}

/// The map called `name`.
pub(super) fn map(name: &str, plan: &Plan) -> Result<MapId, LineFault> {
    plan.find_map(name).map_err(|_| {
        let help =
            did_you_mean(nearest(name, plan.names().maps.iter().map(String::as_str)), || {
                "name a map of the profile".to_owned()
            });
        LineFault::new(format!("there is no map `{name}`"), help).about(name)
    })
}

fn known_device(device: &str, plan: &Plan) -> Result<(), LineFault> {
    let name = ControlName::new(device);
    let known = plan.catalogue().class(name.class).is_some();
    if known && name.rest.is_none() && name.device().is_ok() {
        return Ok(());
    }
    let help = "devices are named by their class and number: `key#1`, `mouse#1`, `pad#2`";
    Err(LineFault::new(format!("`{device}` is not a device"), help).about(device))
}
