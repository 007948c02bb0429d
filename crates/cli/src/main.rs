//! `harmonym`: the command line of Harmonym. It has the interface and computes nothing.

mod args;
mod commands;
mod draw;
mod failure;
mod files;
mod output;
mod view;

use args::Args;
use clap::Parser;
use failure::Failure;
use output::Output;
use std::process::ExitCode;

fn main() -> ExitCode {
    let args = Args::parse();
    let mut output = Output::new(args.color, args.quiet, args.verbose);
    let done = commands::run(&args, &mut output).and_then(|()| output.flush());
    match done {
        Ok(()) | Err(Failure::ClosedPipe) => ExitCode::SUCCESS,
        Err(Failure::CheckFailed) => match output.flush() {
            Ok(()) | Err(Failure::ClosedPipe) => ExitCode::FAILURE,
            Err(_) => ExitCode::from(2),
        },
        Err(failure) => {
            // What was told before the fault stays told.
            let _ = output.flush();
            output.error(|out, look| view::diagnostics::write_failure(out, &failure, look));
            ExitCode::from(2)
        }
    }
}
