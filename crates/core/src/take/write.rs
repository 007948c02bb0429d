//! Inputs to lines.

use super::{Input, What};
use crate::base::{Rate, shortest};
use crate::plan::{ControlKind, Plan};
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
    out.write_char('}')
}

/// Writes an input, as one line without its break.
///
/// # Errors
/// When `out` can't be written to.
pub fn write_input(out: &mut impl Write, plan: &Plan, input: &Input) -> fmt::Result {
    write!(out, "{{\"t\":{},", input.t)?;
    match input.what {
        What::Report(control, value) => {
            write!(out, "\"control\":\"{}\",\"value\":", plan.names.controls[control])?;
            match plan.controls[control].kind {
                ControlKind::Stick => {
                    write!(out, "[{},{}]}}", shortest(value.x), shortest(value.y))
                }
                _ => write!(out, "{}}}", shortest(value.x)),
            }
        }
        What::Number(named, value) => {
            let key = if plan.named[named].is_setting { "setting" } else { "fact" };
            let name = &plan.names.named[named];
            write!(out, "\"{key}\":\"{name}\",\"value\":{}}}", shortest(value))
        }
    }
}
