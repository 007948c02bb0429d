//! Scores and takes that are played at their own pace.

use crate::args::{From, RealArgs};
use crate::commands::demo;
use crate::commands::hands::{About, Hands};
use crate::escape::one_line;
use crate::failure::Failure;
use crate::files::{self, Loaded};
use harmonym_lab::score;
use harmonym_lab::take::{Input, Playing};
use harmonym_lang::source::Source;
use harmonym_runtime::base::{Rate, SchemeId};
use harmonym_runtime::plan::Plan;
use std::path::Path;
use std::sync::Arc;

/// One score or take.
pub struct Piece {
    pub title: String,
    pub plan: Arc<Plan>,
    pub playing: Playing,
    pub inputs: Vec<Input>,
}

/// The profile of the demo.
pub fn demo_profile() -> Result<Loaded, Failure> {
    let mut loaded = files::load(Source::new("demo/harmonym.toml", demo::PROFILE))?;
    loaded.built_in = demo::PLAYERS;
    Ok(loaded)
}

/// The scores and takes that are named, in their order.
pub fn pieces(
    loaded: &Loaded,
    real: &RealArgs,
    (rate, scheme): (Option<Rate>, Option<SchemeId>),
) -> Result<Vec<Piece>, Failure> {
    let mut all = Vec::new();
    let mut add = |name: &str, hands: Hands| {
        let plan = hands.about.plan(loaded)?;
        let playing = hands.playing((rate, scheme))?;
        let title = hands.about.title.as_deref().map_or(name.into(), one_line).into_owned();
        all.push(Piece { title, plan, playing, inputs: hands.inputs });
        Ok::<(), Failure>(())
    };
    for from in &real.from {
        match from {
            From::File(path) => add(&path.display().to_string(), Hands::read(path, loaded)?)?,
            From::Demo => {
                for (name, text) in demo::SCORES {
                    let score = score::read(&Source::new(*name, *text), &loaded.plan)?;
                    let about = About::of(&score, Path::new(""));
                    add(name, Hands { about, inputs: score.perform().collect() })?;
                }
            }
            From::Terminal | From::Evdev => {}
        }
    }
    Ok(all)
}
