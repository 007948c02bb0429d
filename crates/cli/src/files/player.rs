//! Players' files.

use super::{Loaded, read_text, see_begun};
use crate::failure::Failure;
use harmonym_lang::compile::compile;
use harmonym_lang::model::Profile;
use harmonym_lang::player::{Applied, Player};
use harmonym_lang::report::Diagnostic;
use harmonym_lang::source::Source;
use std::path::Path;
use std::sync::Arc;

/// A player's file that was read.
pub struct PlayerFile {
    pub source: Source,
    pub player: Player,
}

impl PlayerFile {
    /// Reads one.
    pub fn read(path: &Path) -> Result<Self, Failure> {
        see_begun(path);
        Self::of(read_text(path)?)
    }

    pub fn of(source: Source) -> Result<Self, Failure> {
        let player = Player::read(&source)?;
        Ok(Self { source, player })
    }

    /// The profile as this player has it. A file of which nothing fits is another profile's.
    pub fn apply(&self, profile: &Profile) -> Result<Applied, Failure> {
        Ok(self.player.apply(profile).expect_own(&self.source)?)
    }
}

impl Loaded {
    /// The same profile as a player has it, and what of the player's file is to be told.
    pub fn for_player(self, file: Arc<PlayerFile>) -> Result<(Self, Vec<Diagnostic>), Failure> {
        let applied = file.apply(&self.profile)?;
        let plan = Arc::new(compile(&applied.profile, self.plan.layout()));
        let Self { source, profile, .. } = self;
        let of_player = Some((file, Box::new(profile)));
        Ok((
            Self { source, profile: applied.profile, plan, of_player, built_in: &[] },
            applied.notes,
        ))
    }

    /// Another profile, as the player of this one has it, if it is a player's.
    pub fn with_player_of(self, other: &Self) -> Result<Self, Failure> {
        match &other.of_player {
            None => Ok(self),
            Some((file, _)) => Ok(self.for_player(Arc::clone(file))?.0),
        }
    }
}
