//! `harmonym`: the command line of Harmonym. It has the interface and computes nothing.

mod args;
mod commands;
mod draw;
mod escape;
mod failure;
mod files;
mod output;
mod servers;
mod sources;

mod view;

use clap_complete::CompleteEnv;
use escape::shown;
use failure::Failure;
use output::Output;
use std::borrow::Cow;
use std::ffi::OsString;
use std::process::ExitCode;

/// Prints a help text, or what is wrong with the arguments.
fn tell_usage(told: &clap::Error) -> ExitCode {
    let code = ExitCode::from(u8::try_from(told.exit_code()).unwrap_or(2));
    let is_plain = |word: OsString| matches!(shown(&word.to_string_lossy()), Cow::Borrowed(_));
    if told.use_stderr() && !std::env::args_os().all(is_plain) {
        // It repeats words that would command the terminal.
        let mut output = Output::new(args::Color::Never, false, false);
        output.error(|out, _| out.push_str(&told.render().to_string()));
        return code;
    }
    match told.print().map_err(|error| Failure::unwritten(&error)) {
        Ok(()) | Err(Failure::ClosedPipe) => code,
        Err(failure) => {
            let mut output = Output::new(args::Color::Auto, false, false);
            tell_failure(&failure, &mut output)
        }
    }
}

fn main() -> ExitCode {
    CompleteEnv::with_factory(commands::completions::command)
        .var(commands::completions::VARIABLE)
        .complete();
    let args = match args::parse() {
        Ok(args) => args,
        Err(told) => return tell_usage(&told),
    };
    let mut output = Output::new(args.color, args.quiet, args.verbose);
    let done = commands::run(&args, &mut output).and_then(|()| output.finish());
    // What there is to say of how files were read.
    files::untold::take().iter().for_each(|text| output.tell(text));
    match done {
        Ok(()) | Err(Failure::ClosedPipe) => ExitCode::SUCCESS,
        Err(Failure::CheckFailed) => match output.finish() {
            Ok(()) | Err(Failure::ClosedPipe) => ExitCode::FAILURE,
            Err(failure) => tell_failure(&failure, &mut output),
        },
        Err(failure) => {
            // What was told before the fault stays told.
            let _ = output.finish();
            tell_failure(&failure, &mut output)
        }
    }
}

fn tell_failure(failure: &Failure, output: &mut Output) -> ExitCode {
    output.error(|out, look| view::diagnostics::write_failure(out, failure, look));
    ExitCode::from(2)
}
