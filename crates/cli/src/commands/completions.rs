//! `completions`: what a shell needs to complete our words.

use crate::args::Args;
use crate::failure::Failure;
use crate::output::Output;
use clap::CommandFactory;
use clap_complete::Shell;

pub fn run(shell: Shell, output: &mut Output) -> Result<(), Failure> {
    let mut text = Vec::new();
    clap_complete::generate(shell, &mut Args::command(), "harmonym", &mut text);
    output.bytes(&text)
}
