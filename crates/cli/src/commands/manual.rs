//! `manual`: the commands as man pages.

use crate::args;
use crate::escape::named;
use crate::failure::Failure;
use crate::output::Output;
use std::fs;
use std::path::Path;

pub fn run(folder: &Path, output: &mut Output) -> Result<(), Failure> {
    let written =
        fs::create_dir_all(folder).and_then(|()| clap_mangen::generate_to(args::command(), folder));
    written.map_err(|error| {
        let message = format!("{} cannot be written: {error}", named(folder));
        Failure::new(message, "name a folder that is yours: harmonym manual man")
    })?;
    output.line(&format!("wrote a page for each command in {}", named(folder)))?;
    output.remark(&format!("read one: man -l {}", named(&folder.join("harmonym.1"))))
}
