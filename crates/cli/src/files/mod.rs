//! Reading and writing files: what is read is bounded, what is written is whole or not at all.

pub mod around;
mod change;
mod fresh;
mod lock;
mod open;
mod place;
mod player;
mod stage;
mod target;
pub mod untold;

pub use change::{Change, Part, Say, journal_of, open_settled, own, see_begun};
pub use fresh::Fresh;
pub use lock::{Held, Patience};
pub use place::write_all_new;
pub use player::PlayerFile;
pub use stage::{folder, sweep_folder};
pub use target::{Kind, Target};

use crate::escape;
use crate::failure::Failure;
use harmonym_lang::compile::compile;
use harmonym_lang::model::Profile;
use harmonym_lang::report::{Diagnostic, FaultKind, Faults};
use harmonym_lang::source::{Source, Span};
use harmonym_runtime::controls::Layout;
use harmonym_runtime::plan::Plan;
use std::fs;
use std::io::Read;
use std::path::{Path, PathBuf};
use std::sync::Arc;

/// The profile's name.
pub const PROFILE: &str = "harmonym.toml";
const MIB: u64 = 1024 * 1024;
/// A profile has at most so many bytes: some 25,000 actions.
const LARGEST_PROFILE: u64 = 4 * MIB;
/// A larger text is no score, take or table either.
const LARGEST: u64 = 64 * MIB;

/// A profile that has no faults.
pub struct Loaded {
    pub source: Source,
    pub profile: Profile,
    pub plan: Arc<Plan>,
    /// Where this is one as a player has it: that player's file, and the profile as the game ships it.
    of_player: Option<(Arc<PlayerFile>, Box<Profile>)>,
    /// Players' files that are built in with it: name and text.
    pub built_in: &'static [(&'static str, &'static str)],
}

impl Loaded {
    /// The plan for a keyboard layout, and as a player has it, if a file of one is named.
    pub fn plan_for(
        &self,
        layout: Option<Layout>,
        player: Option<&Path>,
    ) -> Result<Arc<Plan>, Failure> {
        let layout = layout.unwrap_or_default();
        let Some(player) = player else {
            return Ok(match layout == self.plan.layout() {
                true => Arc::clone(&self.plan),
                false => Arc::new(compile(&self.profile, layout)),
            });
        };
        let shipped = self.of_player.as_ref().map_or(&self.profile, |(_, shipped)| shipped);
        let own = self.built_in.iter().find(|(name, _)| player.ends_with(name));
        let file = match own {
            Some((name, text)) => PlayerFile::of(Source::new(*name, *text))?,
            None => PlayerFile::read(player)?,
        };
        let applied = file.apply(shipped)?;
        Ok(Arc::new(compile(&applied.profile, layout)))
    }
}

/// Resolves and compiles a profile that was read.
pub fn load(source: Source) -> Result<Loaded, Failure> {
    expect_at_most(source.text().len() as u64, LARGEST_PROFILE, source.name())?;
    let (profile, plan) = harmonym_lang::load(&source)?;
    Ok(Loaded { source, profile, plan: Arc::new(plan), of_player: None, built_in: &[] })
}

/// The profile that is meant: the one named, or the nearest one.
pub fn profile_path(named: Option<&Path>) -> Result<PathBuf, Failure> {
    named.map_or_else(find_profile, |path| Ok(path.to_owned()))
}

fn find_profile() -> Result<PathBuf, Failure> {
    let here = std::env::current_dir()
        .map_err(|error| Failure::io("look into", Path::new("."), &error))?;
    for (up, folder) in here.ancestors().enumerate() {
        let path = folder.join(PROFILE);
        // One that can't be read is meant all the same, rather than another above it.
        let is_there = fs::symlink_metadata(&path).is_ok() || change::is_begun(&path);
        if is_there {
            tell_owner(&path);
            let above: PathBuf = std::iter::repeat_n("..", up).collect();
            return Ok(above.join(PROFILE));
        }
    }
    let message = format!("there is no {PROFILE} here or in a folder above");
    Err(Failure::new(message, "begin one with `harmonym new`, or name one with `--file PATH`"))
}

/// A profile that was found and is another user's is no surprise to anybody.
fn tell_owner(path: &Path) {
    #[cfg(unix)]
    {
        use std::os::unix::fs::MetadataExt;
        let owner = fs::symlink_metadata(path).ok().map(|about| about.uid());
        if owner.is_some_and(|owner| owner != rustix::process::geteuid().as_raw()) {
            let name = escape::named(path);
            untold::keep(format!("{name} is another user's; `--file PATH` names one of yours"));
        }
    }
    #[cfg(not(unix))]
    let _ = path;
}

/// Reads a text whole: as it will be, where a change of it was stopped in the middle.
pub fn read_text(path: &Path) -> Result<Source, Failure> {
    let (file, _) = open_settled(path)?;
    text_of(&path.display().to_string(), read_bounded(file, path)?)
}

/// Reads a text whole that is about to be written.
pub fn read_as_it_is(path: &Path) -> Result<Source, Failure> {
    text_of(&path.display().to_string(), read_bounded(open::open(path)?, path)?)
}

/// A folder was named where a file is read.
fn folder_instead(path: &Path) -> Failure {
    let help = match path.join(PROFILE).is_file() {
        true => format!("name the file in it: {}", path.join(PROFILE).display()),
        false => "name a file in it".to_owned(),
    };
    Failure::new(format!("{} is a folder", path.display()), help)
}

/// Somebody else changed a file that is about to be written.
pub fn changed_since(path: &Path) -> Failure {
    let message = format!("{} changed since it was read", path.display());
    Failure::new(message, "nothing was written; run the command again")
}

/// A file would change that is not the profile's own.
pub fn outside(path: &Path) -> Failure {
    let real = place::real(path);
    let leads =
        if real == path { String::new() } else { format!(" is {} and", escape::named(&real)) };
    let message = format!("{}{leads} lies outside of the profile's folder", path.display());
    Failure::new(message, "nothing was written; say --follow if it is to be changed, too")
}

/// All bytes of a file, as long as they are not too many for a text.
pub fn read_bounded(file: impl Read, path: &Path) -> Result<Vec<u8>, Failure> {
    let mut bytes = Vec::new();
    let read = file.take(LARGEST + 1).read_to_end(&mut bytes);
    read.map_err(|error| Failure::io("read", path, &error))?;
    expect_at_most(bytes.len() as u64, LARGEST, &path.display().to_string())?;
    Ok(bytes)
}

fn expect_at_most(bytes: u64, most: u64, name: &str) -> Result<(), Failure> {
    if bytes <= most {
        return Ok(());
    }
    let message = format!("{name} is larger than {} MiB", most / MIB);
    Err(Failure::new(message, "see that it is the file you mean"))
}

/// The text that bytes are, called `name`.
pub fn text_of(name: &str, bytes: Vec<u8>) -> Result<Source, Failure> {
    match String::from_utf8(bytes) {
        Ok(text) => Ok(Source::new(name, text)),
        Err(error) => {
            let valid = error.utf8_error().valid_up_to();
            let text = String::from_utf8_lossy(error.as_bytes()).into_owned();
            let span = Span::new(valid, valid + char::REPLACEMENT_CHARACTER.len_utf8());
            let message = "this is not UTF-8";
            let help = "save the file in the encoding UTF-8";
            let fault = Diagnostic::fault(FaultKind::Syntax, span, message, help);
            Err(Faults::new(Source::new(name, text), vec![fault]).into())
        }
    }
}

/// Whether a file lies in a folder or below, whatever links lead there.
pub fn is_below(path: &Path, folder: &Path) -> bool {
    fs::canonicalize(folder).is_ok_and(|folder| place::real(path).starts_with(folder))
}

/// Whether a file lies in the folder of a profile or below.
pub fn is_in_folder_of(path: &Path, profile: &Path) -> bool {
    let real = place::real(profile);
    [profile, &*real].iter().any(|profile| is_below(path, folder(profile)))
}

/// Whether two paths lead to one file.
pub fn is_same(a: &Path, b: &Path) -> bool {
    matches!((fs::canonicalize(a), fs::canonicalize(b)), (Ok(a), Ok(b)) if a == b)
}
