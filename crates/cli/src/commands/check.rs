//! `check`: every fault at its place.

use crate::args::Format;
use crate::failure::Failure;
use crate::files::load_profile;
use crate::output::Output;
use crate::view::{json, profile};
use std::path::Path;

pub fn run(file: Option<&Path>, format: Format, output: &mut Output) -> Result<(), Failure> {
    match (load_profile(file, output), format) {
        (Ok(loaded), Format::Text) => {
            let counts = profile::counts(&loaded.profile);
            output.line(&format!("{}: no faults ({counts})", loaded.source.name()))
        }
        (Ok(_), Format::Json) => Ok(()),
        (Err(Failure::Findings(source, findings)), Format::Json) => {
            for finding in &findings {
                output.write(|out| json::write_finding(out, &source, finding))?;
            }
            output.flush()?;
            let help = "each line of the output is one of them";
            Err(Failure::new(format!("{} faults in {}", findings.len(), source.name()), help))
        }
        (Err(failure), _) => Err(failure),
    }
}
