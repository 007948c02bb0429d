//! `record`: hands at work become a take.

use super::recorder::expect_free;
use super::session::Session;
use crate::args::{From, RecordArgs};
use crate::commands::time;
use crate::escape::named;
use crate::failure::Failure;
use crate::output::Output;
use crate::output::terminal::Presses;
use crate::sources::terminal::{Key, Told};
use harmonym_lab::take::End;
use harmonym_lab::told::Lines;
use harmonym_runtime::base::Time;
use std::io::{self, IsTerminal};
use std::path::Path;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::{Duration, Instant};

/// Whether somebody wants the end is looked at so often.
const LOOKS_UP: Duration = Duration::from_millis(100);

pub fn record(file: Option<&Path>, args: &RecordArgs, output: &mut Output) -> Result<(), Failure> {
    let length = args.length.as_deref().map(|text| time("--for", text)).transpose()?;
    expect_free(&args.take, file, &args.real)?;
    let only_one =
        args.real.from.iter().filter(|from| !matches!(from, From::Terminal | From::Evdev));
    if args.real.from.contains(&From::Demo) || only_one.count() > 1 {
        let message = "a take has one beginning, and so has each score";
        return Err(Failure::new(message, "name one score: --from scores/cast-a-line.score"));
    }
    let mut session = Session::begin(file, &args.real, output)?;
    let wants_terminal = args.real.from.is_empty() || args.real.from.contains(&From::Terminal);
    let has_terminal = io::stdin().is_terminal();
    if wants_terminal && !has_terminal {
        let message = "there is no terminal to listen to";
        return Err(Failure::new(message, "name what to listen to: --from evdev"));
    }
    let ends = ends_asked()?;
    for words in session.words.drain(..) {
        output.remark(&words)?;
    }
    let until = match length {
        Some(length) => format!("for {length} s"),
        None if session.has_hardware => "Ctrl-C ends it".to_owned(),
        None => "it ends with the score".to_owned(),
    };
    output.remark(&format!("recording {}; {until}", named(&args.take)))?;
    let presses = match wants_terminal {
        true => {
            let presses = Presses::begin()
                .map_err(|error| Failure::io("read", Path::new("the terminal"), &error))?;
            session.listen_to_terminal()?;
            Some(presses)
        }
        false => None,
    };
    session.tells = args.events;
    session.record(&args.take, args.title.as_deref())?;
    if args.events {
        let (plan, rate) = (session.plan().clone(), session.live.playing().rate);
        output.write(|out| Lines { plan: &plan }.start(out, args.title.as_deref(), rate))?;
    }
    let done = go_on(&mut session, (length, args.events), &ends, output);
    drop(presses);
    let plan = session.plan().clone();
    let lines = Lines { plan: &plan };
    session.live.stop();
    if args.events {
        for told in session.live.news() {
            output.write(|out| lines.notice(out, told))?;
        }
        let (t, tick) = (session.live.now(), session.live.seats().ticks());
        output.write(|out| lines.end(out, End { t, tick, is_cut: false }))?;
        output.flush()?;
    }
    let Some(recorder) = session.recorder.take() else { return done };
    let ended = recorder.end()?;
    done?;
    if ended.is_kept {
        return output.remark(&ended.told());
    }
    let (name, inputs) = (named(&ended.path), ended.inputs);
    let late = match session.latest {
        Time::ZERO => String::new(),
        late => format!(", none more than {:.1} ms late", late.seconds() * 1e3 + 0.05),
    };
    output.remark(&format!("wrote {name} ({inputs} inputs{late})"))?;
    output.remark(&format!("  harmonym play {name}       what comes of it"))?;
    output.remark(&format!(
        "  harmonym score {name}      the same as a score, to edit and to test with"
    ))
}

/// Goes on until the end: the time is over, the scores are, or somebody wants it.
fn go_on(
    session: &mut Session,
    (length, events): (Option<Time>, bool),
    ends: &AtomicBool,
    output: &mut Output,
) -> Result<(), Failure> {
    loop {
        let now = session.now();
        let is_over = session.is_over() && !session.has_hardware && session.has_settled();
        if ends.load(Ordering::Relaxed) || is_over || length.is_some_and(|length| now >= length) {
            return Ok(());
        }
        let left =
            length.map_or(LOOKS_UP, |length| Duration::from(length.since(now)).min(LOOKS_UP));
        let told = session.step(Instant::now() + left)?;
        if events {
            let plan = session.plan().clone();
            for told in session.live.news() {
                output.write(|out| Lines { plan: &plan }.notice(out, told))?;
            }
            output.flush()?;
        }
        for words in session.words.drain(..) {
            output.remark(&words)?;
        }
        if told.iter().any(is_ctrl_c) {
            return Ok(());
        }
    }
}

/// Ctrl-C, where the terminal tells of it like of any other key.
pub fn is_ctrl_c(told: &Told) -> bool {
    match told {
        Told::Key(Key { types: Some('c'), modifiers, .. }) => modifiers.control,
        _ => false,
    }
}

/// Set when a signal asks for the end.
pub fn ends_asked() -> Result<Arc<AtomicBool>, Failure> {
    let ends = Arc::new(AtomicBool::new(false));
    #[cfg(unix)]
    for signal in [signal_hook::consts::SIGINT, signal_hook::consts::SIGTERM] {
        signal_hook::flag::register(signal, Arc::clone(&ends)).map_err(|error| {
            Failure::new(format!("cannot wait for signals: {error}"), "try again")
        })?;
    }
    Ok(ends)
}
