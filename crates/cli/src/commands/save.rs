//! Output to a file that was named for it.

use crate::draw::{Form, bytes};
use crate::escape::named;
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

/// A picture that was asked for by the name of its file.
pub struct PictureFile<'a> {
    target: Target<'a>,
    pub form: Form,
}

impl<'a> PictureFile<'a> {
    /// Sees that it can be drawn in one of the forms, and may be written.
    pub fn named(
        (path, force): (&'a Path, bool),
        forms: &[Form],
        profile: Option<&Path>,
        inputs: &[&Path],
    ) -> Result<Self, Failure> {
        let form = Form::of(path, forms)?;
        let kind = match form {
            Form::Svg => Kind::Svg,
            Form::Png => Kind::Png,
            Form::Html => Kind::Html,
            Form::Markdown => Kind::Markdown,
            Form::Pdf => Kind::Pdf,
        };
        let target = target((path, force), kind, profile, inputs)?;
        Ok(Self { target, form })
    }

    /// Writes it, and tells so.
    pub fn save(&self, drawn: String, output: &mut Output) -> Result<(), Failure> {
        save(&self.target, &bytes(self.form, drawn)?, output)?;
        output.remark(&format!("wrote {}", named(self.target.path)))
    }
}
