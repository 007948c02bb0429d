//! What is left to do for the files of a change, from what they and those beside them hold.

use super::super::place::{exchange, write_in_place};
use super::super::stage::stage;
use super::record::Located;
use super::{Say, Tell};
use crate::escape::named;
use crate::failure::Failure;
use harmonym_lab::edit::Left;
use std::fs;
use std::path::PathBuf;

/// As often somebody may write a file in the moment in which it is placed.
const TRIES: usize = 8;

/// Does what is left to do for each file of a change, and takes away what is beside it; tells what
/// can't be done.
pub fn settle(files: &[Located], tell: Tell<'_>) -> Result<(), Failure> {
    for file in files {
        let mut is_settled = false;
        for _ in 0..TRIES {
            is_settled = file.settle()?;
            if is_settled {
                break;
            }
        }
        if !is_settled {
            tell(Say::Always, &file.told_clash());
        }
        if let Err(error) = fs::remove_file(&file.staged)
            && error.kind() != std::io::ErrorKind::NotFound
        {
            return Err(Failure::io("clear up beside", &file.real, &error));
        }
    }
    Ok(())
}

impl Located {
    /// What is left to do, and what the two files hold.
    fn left(&self) -> (Left, [Option<Vec<u8>>; 2]) {
        let texts = [&self.real, &self.staged].map(|path| fs::read(path).ok());
        let [now, beside] = &texts;
        (self.file.left(now.as_deref(), beside.as_deref()), texts)
    }

    /// What the file will hold when all is done; nothing if that can't be told.
    pub fn outcome(&self) -> Option<String> {
        let (left, [now, beside]) = self.left();
        let text = match left {
            Left::Merge(text) => return Some(text),
            Left::Place => beside,
            Left::Nothing | Left::Clash => now,
        };
        String::from_utf8(text?).ok()
    }

    /// Does what is left to do, once; whether nothing is left.
    fn settle(&self) -> Result<bool, Failure> {
        let Self { file, real, staged } = self;
        let io = |error| Failure::io("write", real, &error);
        let (left, [now, beside]) = self.left();
        match left {
            Left::Nothing => return Ok(true),
            Left::Clash => return Ok(false),
            Left::Place if file.in_place => {
                let target = fs::OpenOptions::new().write(true).open(real).map_err(io)?;
                write_in_place(&target, &beside.unwrap_or_default()).map_err(io)?;
            }
            Left::Place if now.is_none() => {
                fs::rename(staged, real).map_err(io)?;
            }
            Left::Place => exchange(staged, real).map_err(io)?,
            Left::Merge(text) => {
                let merged = stage(real, real, text.as_bytes(), None)?;
                if let Some(target) = &merged.in_place {
                    write_in_place(target, text.as_bytes()).map_err(io)?;
                    return Ok(true);
                }
                exchange(merged.beside.path(), real).map_err(io)?;
                if fs::read(merged.beside.path()).ok() != now {
                    // Again somebody wrote at that moment.
                    exchange(merged.beside.path(), real).map_err(io)?;
                    return Ok(false);
                }
                return Ok(true);
            }
        }
        Ok(false)
    }

    /// What could not be done, and what became of what somebody wrote meanwhile.
    fn told_clash(&self) -> String {
        let Self { file, real, staged } = self;
        let shown = named(real);
        let is_ours = |text: &str| file.edit.is_after(text) || file.edit.is_before(text);
        let theirs = fs::read_to_string(staged).is_ok_and(|text| !is_ours(&text));
        if !theirs {
            return format!("{shown} changed meanwhile, where the change is: it stays as it is");
        }
        let aside = |n: u32| -> PathBuf { real.with_extension(format!("meanwhile-{n}")) };
        let kept = (1..).map(aside).find(|path| fs::symlink_metadata(path).is_err());
        match kept.filter(|kept| fs::rename(staged, kept).is_ok()) {
            Some(kept) => format!(
                "{shown} was written by somebody else at the same moment: what they wrote is in {}",
                named(&kept)
            ),
            None => format!("{shown} was written by somebody else at the same moment"),
        }
    }
}
