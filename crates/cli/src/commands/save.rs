//! Output to a file that was named for it.

use crate::draw::Form;
use crate::failure::Failure;
use crate::files::{self, Kind, Target};
use crate::output::Output;
use std::path::Path;

/// Sees that a file may be written, before anything is worked out; `inputs` are read here, and so
/// is the profile.
pub fn target<'a>(
    (path, force): (&'a Path, bool),
    kind: Kind,
    profile: Option<&Path>,
    inputs: &[&Path],
) -> Result<Target<'a>, Failure> {
    let target = Target { path, force, kind };
    let profile = files::profile_path(profile)?;
    let inputs: Vec<&Path> = inputs.iter().copied().chain([&*profile]).collect();
    target.expect_free(&inputs)?;
    Ok(target)
}

/// Writes it.
pub fn save(target: &Target<'_>, content: &[u8], output: &mut Output) -> Result<(), Failure> {
    target.write(content, |content| output.bytes(content))
}

/// What a picture is as a file.
pub fn kind(form: Form) -> Kind {
    match form {
        Form::Svg => Kind::Svg,
        Form::Png => Kind::Png,
        Form::Html => Kind::Html,
    }
}
