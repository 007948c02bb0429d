//! How long a command takes that does next to nothing, against a program that does nothing: the
//! shortest of many starts of each, in turns, told as ratios. Needs `/bin/true`.
//! `cargo bench -p harmonym --bench start`

use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

const ROUNDS: usize = 400;
const DEMO: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/harmonym.toml");
const TOOL: &str = env!("CARGO_BIN_EXE_harmonym");

/// What is started.
const PROGRAMS: &[(&str, &[&str])] = &[
    ("/bin/true", &[]),
    (TOOL, &["--version"]),
    (TOOL, &["check", "--file", DEMO]),
    (TOOL, &["show", "quay.walk", "--file", DEMO]),
];

fn start((program, args): (&str, &[&str])) -> Duration {
    let start = Instant::now();
    let status = Command::new(program).args(args).stdout(Stdio::null()).status();
    let took = start.elapsed();
    assert!(status.expect("it starts").success(), "{program} {args:?}");
    took
}

fn main() {
    let mut least = vec![Duration::MAX; PROGRAMS.len()];
    for _ in 0..ROUNDS {
        for (least, program) in least.iter_mut().zip(PROGRAMS) {
            *least = start(*program).min(*least);
        }
    }
    let nothing = least[0].as_secs_f64();
    for (took, (_, args)) in least.iter().zip(PROGRAMS).skip(1) {
        let words: Vec<&str> = args.iter().copied().take_while(|word| *word != "--file").collect();
        let ratio = took.as_secs_f64() / nothing;
        println!("`harmonym {}`: {ratio:.2} times /bin/true", words.join(" "));
    }
}
