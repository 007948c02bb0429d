//! `sheet`: all controls on one page.

use super::load_as;
use super::play::scheme;
use super::save::PictureFile;
use crate::args::SheetArgs;
use crate::draw::{Form, sheet};
use crate::failure::Failure;
use crate::output::Output;
use harmonym_lab::prompt::Sheet;
use std::path::Path;

pub fn run(file: Option<&Path>, args: &SheetArgs, output: &mut Output) -> Result<(), Failure> {
    let forms = [Form::Html, Form::Svg, Form::Pdf, Form::Markdown];
    let inputs: Vec<&Path> = args.player.path.as_deref().into_iter().collect();
    let saved = PictureFile::named((&args.output, args.force), &forms, file, &inputs)?;
    let loaded = load_as(file, &args.player, output)?;
    let only = args.scheme.as_deref().map(|name| scheme(&loaded, name)).transpose()?;
    let drawn = Sheet::new(&loaded.profile, args.layout, only);
    let text = match saved.form {
        Form::Html => sheet::html(&drawn)?,
        Form::Markdown => sheet::markdown(&drawn),
        _ => sheet::svg(&drawn, args.dark),
    };
    saved.save(text, output)
}
