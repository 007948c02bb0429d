//! Output to a file that was named for it.

use crate::args::MadeArgs;
use crate::draw::{Form, bytes};
use crate::escape::named;
use crate::failure::Failure;
use crate::files::{self, Kind, Target};
use crate::output::Output;
use std::fs;
use std::io::ErrorKind;
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

/// The file that was named for what is made of a profile, and where to write it, if it is to be written.
pub fn place<'a>(
    args: &'a MadeArgs,
    kind: Kind,
    profile: Option<&Path>,
) -> Result<(Option<&'a Path>, Option<Target<'a>>), Failure> {
    let path = args.output.as_deref();
    let to = path.filter(|_| !args.check);
    let to = to.map(|path| target((path, args.force), kind, profile, &[])).transpose()?;
    Ok((path, to))
}

/// What is made of a profile: printed, written, or looked at in a file that is `what` (`names`) of the profile.
pub fn made(
    (path, to): (Option<&Path>, Option<Target<'_>>),
    text: &str,
    (what, command): (&str, &str),
    output: &mut Output,
) -> Result<(), Failure> {
    match (path, to) {
        (None, _) => output.write(|out| out.push_str(text)),
        (Some(path), None) => look(path, text, (what, command), output),
        (Some(_), Some(to)) => {
            save(&to, text.as_bytes(), output)?;
            output.remark(&format!("wrote {}", named(to.path)))
        }
    }
}

/// Sees whether a file is as it would be made now.
fn look(
    path: &Path,
    text: &str,
    (what, command): (&str, &str),
    output: &mut Output,
) -> Result<(), Failure> {
    let name = named(path);
    let now = match fs::read(path) {
        Ok(now) => now,
        Err(error) if error.kind() == ErrorKind::NotFound => Vec::new(),
        Err(error) => return Err(Failure::io("read", path, &error)),
    };
    // A tool that changes the ends of lines changes nothing of them.
    let is_same = String::from_utf8_lossy(&now).replace("\r\n", "\n") == text;
    if is_same {
        return output.remark(&format!("{name} has the {what} of the profile"));
    }
    let is = if now.is_empty() { "is not there" } else { "is stale" };
    output.tell(&format!("{name} {is}: `{command}` makes it anew"));
    Err(Failure::CheckFailed)
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
