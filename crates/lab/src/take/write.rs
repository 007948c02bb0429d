//! Inputs to lines.

use super::{Input, What};
use harmonym_runtime::base::{ControlKind, Rate, Seat, shortest};
use harmonym_runtime::controls::Layout;
use harmonym_runtime::plan::Plan;
use std::fmt::{self, Write};

/// Writes the header of a take, as one line without its break.
///
/// # Errors
/// When `out` can't be written to.
pub fn write_header(
    out: &mut impl Write,
    title: Option<&str>,
    start: Option<&str>,
    rate: Option<Rate>,
    layout: Option<Layout>,
    seats: Option<u8>,
) -> fmt::Result {
    write!(out, "{{\"take\":1")?;
    for (key, text) in [("title", title), ("start", start)] {
        if let Some(text) = text {
            write!(out, ",\"{key}\":{}", serde_json::Value::from(text))?;
        }
    }
    if let Some(rate) = rate {
        write!(out, ",\"rate\":{rate}")?;
    }
    if let Some(layout) = layout {
        write!(out, ",\"layout\":\"{}\"", layout.word())?;
    }
    if let Some(seats) = seats {
        write!(out, ",\"seats\":{seats}")?;
    }
    out.write_char('}')
}

/// Writes an input, as one line without its break.
///
/// # Errors
/// When `out` can't be written to.
pub fn write_input(out: &mut impl Write, plan: &Plan, input: &Input) -> fmt::Result {
    write!(out, "{{\"t\":{},", input.t)?;
    match input.what {
        What::Report(contact, value) => {
            let (kind, name) =
                (plan.controls()[contact.control].kind, &plan.names().controls[contact.control]);
            let key = if kind == ControlKind::Relative { "by" } else { "value" };
            match (contact.device, name.split_once('.')) {
                (1.., Some((class, rest))) => {
                    write!(out, "\"control\":\"{class}#{}.{rest}\"", contact.device + 1)?;
                }
                _ => write!(out, "\"control\":\"{name}\"")?,
            }
            write!(out, ",\"{key}\":")?;
            let numbers = value.shown(kind.yields()).map(shortest);
            match (kind.yields().components(), numbers) {
                (1, [x, ..]) => write!(out, "{x}}}"),
                (2, [x, y, ..]) => write!(out, "[{x},{y}]}}"),
                (3, [x, y, z, _]) => write!(out, "[{x},{y},{z}]}}"),
                (_, [x, y, z, w]) => write!(out, "[{x},{y},{z},{w}]}}"),
            }
        }
        What::Map(seat, map, open) => {
            let key = if open { "open" } else { "close" };
            write!(out, "\"{key}\":\"{}\"{}", plan.names().maps[map], end(seat))
        }
        What::Pause(paused) => write!(out, "\"pause\":{paused}}}"),
        What::Narrow(seat, None) => write!(out, "\"scheme\":null{}", end(seat)),
        What::Narrow(seat, Some(scheme)) => {
            write!(out, "\"scheme\":\"{}\"{}", plan.names().schemes[scheme], end(seat))
        }
        What::Plug(device, plugged) => {
            let key = if plugged { "plug" } else { "unplug" };
            write!(out, "\"{key}\":\"{}\"}}", plan.catalogue().device_name(device))
        }
        What::Give(device, seat) => {
            let name = plan.catalogue().device_name(device);
            write!(out, "\"give\":\"{name}\"{}", end(Some(seat)))
        }
        What::Number(seat, named, value) => {
            let key = if plan.variables()[named].is_setting { "setting" } else { "fact" };
            let name = &plan.names().variables[named];
            let value = shortest(value);
            write!(out, "\"{key}\":\"{name}\",\"value\":{value}{}", end(seat))
        }
    }
}

/// The end of a line that is for one seat, or for all.
fn end(seat: Option<Seat>) -> String {
    seat.map_or("}".to_owned(), |seat| format!(",\"seat\":{seat}}}"))
}
