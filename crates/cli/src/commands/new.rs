//! `new`: a profile to begin with, and a first score.

use crate::failure::Failure;
use crate::files::{PROFILE, write_new};
use crate::output::Output;
use std::fs;
use std::path::Path;

const STARTER: &str = include_str!("../starter/harmonym.toml");
const SCORE: &str = include_str!("../starter/first-steps.score");

pub fn run(dir: &Path, output: &mut Output) -> Result<(), Failure> {
    let scores = dir.join("scores");
    let (profile, score) = (dir.join(PROFILE), scores.join("first-steps.score"));
    for path in [&profile, &score] {
        if path.exists() {
            let message = format!("{} is there already", path.display());
            let help = "nothing was written; name another folder: `harmonym new DIR`";
            return Err(Failure::new(message, help));
        }
    }
    fs::create_dir_all(&scores).map_err(|error| Failure::io("make the folder", &scores, &error))?;
    write_new(&profile, STARTER)?;
    write_new(&score, SCORE)?;
    output.line(&format!("wrote {} and {}", profile.display(), score.display()))?;
    let cd = match dir == Path::new(".") {
        true => String::new(),
        false => format!("cd {} && ", dir.display()),
    };
    output.remark(&format!("next: {cd}harmonym play scores/first-steps.score"))
}
