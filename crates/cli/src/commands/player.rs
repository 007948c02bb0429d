//! `player`: a player's own file over the profile.

use super::listen::{Hears, Listener, expect_terminal, places, until_after};
use super::show::{Found, find};
use super::write::{hold, part};
use super::{load_profile, tell_notes};
use crate::args::{PlayerChange, PlayerDo, PlayerPath};
use crate::escape::named;
use crate::failure::Failure;
use crate::files::{Change, Held, Loaded, PlayerFile, is_in_folder_of, outside, write_all_new};
use crate::output::Output;
use crate::sources::{Clock, Sources};
use crate::view::{diff, player};
use harmonym_lab::check::lost;
use harmonym_lab::edit::player_text;
use harmonym_lang::model::{ActionId, Profile};
use harmonym_lang::player::{Choice, NONE, Open, Player};
use harmonym_lang::report::Diagnostic;
use harmonym_lang::source::Source;
use harmonym_runtime::base::ControlKind;
use std::path::{Path, PathBuf};

/// The file's name where none is named.
const PLAYER: &str = "player.toml";

pub fn run(file: Option<&Path>, what: &PlayerDo, output: &mut Output) -> Result<(), Failure> {
    match what {
        PlayerDo::Show { action, player, format } => {
            let loaded = load_profile(file, output)?;
            let path = path_of(player, &loaded);
            let file = match path.exists() || player.path.is_some() {
                true => PlayerFile::read(&path)?,
                false => PlayerFile::of(Source::new(path.display().to_string(), EMPTY))?,
            };
            let only = action.as_deref().map(|one| action_of(&loaded.profile, one)).transpose()?;
            let applied = file.apply(&loaded.profile)?;
            let told =
                player::Told { profile: &loaded.profile, file: &file.player, applied: &applied };
            match format {
                crate::args::Format::Json => {
                    output.write(|out| player::json(out, &told, &file.source, only))
                }
                crate::args::Format::Text => {
                    let text = player::text(&told, only, output.look);
                    output.prose(&text)?;
                    tell_notes(&file.source, &applied.notes, output)
                }
            }
        }
        PlayerDo::Bind { of, controls, change } => edit(file, change, output, |loaded, player| {
            let mut done = Vec::new();
            for pair in controls {
                let (old, new) = pair.split_once('=').ok_or_else(|| {
                    let message = format!("`{pair}` does not say what takes whose place");
                    Failure::new(message, "write OLD=NEW: key.KeyH=key.KeyG")
                })?;
                let of = owner(&loaded.profile, of, &[old, new])?;
                player
                    .bind(&loaded.profile, &of, (old, new), change.on_conflict.into())
                    .map_err(not)?;
                done.push(format!("{of}: {new} for {old}"));
            }
            Ok(done.join(", "))
        }),
        PlayerDo::Catch { of, controls, layout, page, change } => {
            let hears = Hears { layout: layout.as_deref(), page: *page };
            let caught = catch(file, (of, controls), hears, change, output)?;
            edit(file, change, output, |loaded, player| {
                let (of, pairs) = &caught;
                let on = change.on_conflict.into();
                let mut done = Vec::new();
                for (old, new) in pairs {
                    player.bind(&loaded.profile, of, (old, new), on).map_err(not)?;
                    done.push(format!("{of}: {new} for {old}"));
                }
                Ok(done.join(", "))
            })
        }
        PlayerDo::Also { of, controls, change } => edit(file, change, output, |loaded, player| {
            let mut done = Vec::new();
            for control in controls {
                let of = owner(&loaded.profile, of, &[control])?;
                let on = change.on_conflict.into();
                player.also(&loaded.profile, &of, control, on).map_err(not)?;
                done.push(format!("{of}: also {control}"));
            }
            Ok(done.join(", "))
        }),
        PlayerDo::Clear { of, controls, change } => edit(file, change, output, |loaded, player| {
            let mut done = Vec::new();
            for control in controls {
                let of = owner(&loaded.profile, of, &[control])?;
                player.clear(&loaded.profile, &of, control).map_err(not)?;
                done.push(format!("{of}: no more {control}"));
            }
            Ok(done.join(", "))
        }),
        PlayerDo::Set { setting, value, change } => edit(file, change, output, |loaded, player| {
            let name = setting.strip_prefix("setting.").unwrap_or(setting);
            player.set(&loaded.profile, name, value).map_err(not)?;
            Ok(format!("{name} is {value}"))
        }),
        PlayerDo::Reset { what, change } => edit(file, change, output, |loaded, player| {
            let meant = what.as_deref().map(|what| reset_of(&loaded.profile, player, what));
            let meant = meant.transpose()?;
            player.reset(meant.as_deref());
            Ok(meant.map_or("all is as the profile has it".to_owned(), |one| {
                format!("{one} is as the profile has it")
            }))
        }),
    }
}

/// Waits for what takes the place of controls of an action in a scheme, one after the other: the action and
/// the scheme, and each control with the one in its place.
fn catch(
    file: Option<&Path>,
    (of, controls): (&str, &[String]),
    hears: Hears<'_>,
    change: &PlayerChange,
    output: &mut Output,
) -> Result<(String, Vec<(String, String)>), Failure> {
    let loaded = load_profile(file, output)?;
    let profile = &loaded.profile;
    let named: Vec<&str> = controls.iter().map(String::as_str).collect();
    let of = owner(profile, of, if named.is_empty() { &["key.KeyA"] } else { &named })?;
    let all = Open::all(profile, None).into_iter().find(|one| one.of.text(profile) == of);
    let Some(open) = all else {
        let message = format!("nothing of {of} may be changed");
        return Err(Failure::new(message, "`harmonym player show ACTION` says what may"));
    };
    let of_name = |name: &&str| {
        open.controls.iter().find(|one| one.0 == **name).ok_or_else(|| {
            let has: Vec<&str> = open.controls.iter().map(|(name, _)| name.as_str()).collect();
            let message = format!("{of} has no `{name}` that may be changed");
            Failure::new(message, format!("it has {}", has.join(", ")))
        })
    };
    let meant: Vec<_> = match named.is_empty() {
        true => open.controls.iter().collect(),
        false => named.iter().map(of_name).collect::<Result<_, _>>()?,
    };
    let hears_pads = hears.page || Sources::new(Clock::begin()).hears_pads();
    let is_heard = |kind| hears_pads || open.kinds(profile, kind).contains(&ControlKind::Button);
    if let Some((name, kind)) = meant.iter().find(|(_, kind)| !is_heard(*kind)) {
        let message = format!(
            "`{name}` is {}, and a terminal tells only of keys and the buttons of a mouse",
            kind.a_word()
        );
        let help = format!("name what takes its place: harmonym player bind {of} {name}=…");
        return Err(Failure::new(message, help));
    }
    expect_terminal(&format!("harmonym player bind {of} {}=key.KeyG", meant[0].0))?;
    let path = path_of(&change.player, &loaded);
    let player = if path.exists() { PlayerFile::read(&path)?.player } else { Player::default() };
    let until = change.writing.wait.map(until_after);
    let listener = Listener::new(&loaded.plan, hears, until, output)?;
    let mut pairs = Vec::new();
    for (old, kind) in meant {
        let now = player.in_place_of(&of, old);
        let place = places(now);
        output.remark(&format!(
            "{of}, {now}{}: press what takes its place, or it itself to keep it; Ctrl-C leaves all \
             as it is",
            if place.is_empty() { String::new() } else { format!(" ({place})") }
        ))?;
        let Some(pressed) = listener.wait(&open.kinds(profile, *kind)) else {
            output.remark("nothing was changed")?;
            return Err(Failure::CheckFailed);
        };
        let new = pressed.named(&loaded.plan, *kind);
        output.remark(&format!("  {new}: {}", places(&new)))?;
        if new != now {
            pairs.push((old.clone(), new));
        }
    }
    Ok((of, pairs))
}

const EMPTY: &str = "harmonym-player = 1\n";

fn not((message, help): (String, String)) -> Failure {
    Failure::new(message, help)
}

/// The player's file that is meant.
fn path_of(named: &PlayerPath, loaded: &Loaded) -> PathBuf {
    let beside = || Path::new(loaded.source.name()).with_file_name(PLAYER);
    named.path.clone().unwrap_or_else(beside)
}

fn action_of(profile: &Profile, name: &str) -> Result<ActionId, Failure> {
    match find(profile, name)? {
        Found::Action(id) => Ok(id),
        Found::Map(_) => {
            Err(Failure::new(format!("`{name}` is a map"), "name an action: quay.hail"))
        }
    }
}

/// The action and scheme that are meant, as a player's file writes them: the scheme is the one that has the
/// devices of the controls, where only one does.
fn owner(profile: &Profile, of: &str, controls: &[&str]) -> Result<String, Failure> {
    let (action, scheme) = match of.split_once('@') {
        Some((action, scheme)) => (action, Some(scheme)),
        None => (of, None),
    };
    let address = profile.address(action_of(profile, action)?);
    if let Some(scheme) = scheme {
        return Ok(format!("{address}@{scheme}"));
    }
    let named = controls.iter().filter(|name| **name != NONE);
    let choices = named.map(|name| Choice::named(profile, name).map_err(not));
    let classes: Vec<_> = choices.map(|one| Ok(one?.class)).collect::<Result<_, Failure>>()?;
    let has_all = |scheme: &&harmonym_lang::model::Scheme| {
        classes.iter().all(|class| scheme.classes.contains(class))
    };
    let schemes: Vec<&str> =
        profile.schemes.iter().filter(has_all).map(|one| one.name.as_str()).collect();
    match schemes[..] {
        [one] => Ok(format!("{address}@{one}")),
        [] => {
            let message = format!("no scheme has the devices of {}", controls.join(" and "));
            Err(Failure::new(message, "`harmonym show` lists the schemes"))
        }
        [first, ..] => {
            let message =
                format!("{} schemes have these devices: {}", schemes.len(), schemes.join(", "));
            Err(Failure::new(message, format!("write which: {address}@{first}")))
        }
    }
}

/// What is to be reset, as a player's file names it.
fn reset_of(profile: &Profile, player: &Player, what: &str) -> Result<String, Failure> {
    let name = what.strip_prefix("setting.").unwrap_or(what);
    let is_setting = profile.variables.iter().any(|one| one.is_setting && one.name == name);
    if is_setting || player.settings.iter().any(|one| one.name.text == name) {
        return Ok(name.to_owned());
    }
    // What is gone from the profile may still be in the file.
    let own =
        player.replaced.iter().map(|one| &one.of).chain(player.also.iter().map(|one| &one.of));
    let mut known = own.map(|of| of.text.as_str());
    if known.any(|of| of == what || of.split('@').next() == Some(what)) {
        return Ok(what.to_owned());
    }
    let (action, scheme) = what.split_once('@').unwrap_or((what, ""));
    let address = profile.address(action_of(profile, action)?);
    Ok(if scheme.is_empty() { address } else { format!("{address}@{scheme}") })
}

/// Changes a player's file: proved, shown and written whole, or not at all.
fn edit(
    file: Option<&Path>,
    change: &PlayerChange,
    output: &mut Output,
    act: impl FnOnce(&Loaded, &mut Player) -> Result<String, Failure>,
) -> Result<(), Failure> {
    let loaded = load_profile(file, output)?;
    let path = path_of(&change.player, &loaded);
    let is_there = path.symlink_metadata().is_ok();
    if change.player.path.is_none()
        && !change.writing.follow
        && !is_in_folder_of(&path, Path::new(loaded.source.name()))
    {
        return Err(outside(&path));
    }
    let held: Option<Held> = match is_there && !change.writing.dry_run {
        true => Some(hold(&path, change.writing.wait, output)?),
        false => None,
    };
    let before = match (&held, is_there) {
        (Some(held), _) => PlayerFile::of(held.source.clone())?,
        (None, true) => PlayerFile::read(&path)?,
        (None, false) => PlayerFile::of(Source::new(path.display().to_string(), EMPTY))?,
    };
    // A file of another game is left alone.
    before.apply(&loaded.profile)?;
    let mut player = before.player.clone();
    let done = act(&loaded, &mut player)?;
    let old = if is_there { before.source.text() } else { "" };
    let new = player_text(old, &player);
    let name = named(&path);
    if player == before.player || new == old {
        return output.remark(&format!("nothing changes: {name} says that already"));
    }
    let after = PlayerFile::of(Source::new(path.display().to_string(), new.as_str()))?;
    let applied = after.apply(&loaded.profile)?;
    let look = output.look;
    let show = |output: &mut Output| {
        if output.is_quiet() && !change.writing.dry_run {
            return Ok(());
        }
        output.write(|out| diff::write(out, &path.display().to_string(), old, &new, look))
    };
    if change.writing.dry_run {
        show(output)?;
        return output.remark("a dry run: nothing was written");
    }
    match &held {
        Some(held) => {
            let change = Change { profile: &held.real, done: &done, parts: vec![part(held, &new)] };
            change.write(&mut |say, text| output.say(say, text))?;
        }
        None => write_all_new(&[(path.clone(), new.as_str())])?,
    }
    let told = show(output).and_then(|()| output.flush());
    output.tell(&format!("{done} in {name}"));
    told?;
    for lost in lost(&before.apply(&loaded.profile)?.profile, &applied.profile) {
        output.remark(&format!("warning: {lost}"))?;
    }
    tell_notes(&after.source, &new_notes(&before, &loaded.profile, &applied.notes)?, output)
}

/// The notes that were not there before.
fn new_notes(
    before: &PlayerFile,
    profile: &Profile,
    notes: &[Diagnostic],
) -> Result<Vec<Diagnostic>, Failure> {
    let told: Vec<String> =
        before.apply(profile)?.notes.iter().map(|one| one.message.clone()).collect();
    Ok(notes.iter().filter(|one| !told.contains(&one.message)).cloned().collect())
}
