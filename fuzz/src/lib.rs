//! What the fuzz targets share: whatever is written is refused at a place, or runs to its end.

use harmonym_runtime::base::{Rate, Time};
use harmonym_runtime::engine::Notice;
use harmonym_runtime::seats::Told;
use harmonym_runtime::plan::Plan;
use harmonym_lang::report::Faults;
use harmonym_lab::edit::{Draft, Thing, in_words, read_sheet};
use harmonym_lab::score;
use harmonym_lang::source::Source;
use harmonym_lab::take::{Input, Reader, Playing, Run, Watcher};
use std::sync::Arc;

const DEMO: &str = include_str!("../../demo/harmonym.toml");

/// Hands for every profile: a key, two, a stick, the mouse; and maps and a pause.
const HANDS: &str = "{\"take\":1}
{\"t\":0.1,\"control\":\"key.KeyE\",\"value\":1}
{\"t\":0.1,\"control\":\"key.KeyA\",\"value\":1}
{\"t\":0.3,\"control\":\"key.KeyE\",\"value\":0}
{\"t\":0.4,\"control\":\"pad.left-stick\",\"value\":[0.7,-1]}
{\"t\":0.5,\"control\":\"mouse.move\",\"by\":[3,4]}
{\"t\":0.6,\"pause\":true}
{\"t\":0.7,\"pause\":false}
{\"t\":0.8,\"control\":\"key.KeyA\",\"value\":0}
{\"t\":0.9,\"control\":\"pad.left-stick\",\"value\":[0,0]}";

struct Finite;

impl Watcher for Finite {
    fn notice(&mut self, told: Told) {
        if let Notice::Event(event) = told.notice {
            assert!(event.value.components().iter().all(|c| c.is_finite()));
            assert!((0.0..=1.0).contains(&event.progress));
        }
    }
}

/// The demo's plan.
pub fn demo() -> Arc<Plan> {
    let (_, plan) = harmonym_lang::load(&Source::new("demo", DEMO)).expect("sound");
    Arc::new(plan)
}

/// Reads a profile; if it is sound, hands play on it.
pub fn profile(text: &str) {
    let source = Source::new("harmonym.toml", text);
    match harmonym_lang::load(&source) {
        Ok((_, plan)) => take(HANDS, &Arc::new(plan)),
        Err(faults) => check_places(text, &faults),
    }
}

/// Every fault lies in the text, and is told.
fn check_places(text: &str, faults: &Faults) {
    assert!(!faults.list().is_empty());
    assert!(faults.list().iter().all(|fault| fault.span.end <= text.len()));
    assert!(!faults.to_string().is_empty());
}

fn play(plan: &Arc<Plan>, inputs: impl IntoIterator<Item = Input>) {
    let playing = Playing::at(Rate::DEFAULT);
    let mut run = Run::new(Arc::clone(plan), playing, Some(Time::from_millis(20_000)), &mut Finite);
    for input in inputs.into_iter().take(10_000) {
        if run.input(input, &mut Finite).is_break() {
            break;
        }
    }
    run.finish(&mut Finite);
}

/// Reads a take line by line, and plays what came before its first fault.
pub fn take(text: &str, plan: &Arc<Plan>) {
    let mut lines = text.lines();
    let Ok((mut reader, _)) = Reader::new("a.jsonl", lines.next().unwrap_or_default(), plan) else { return };
    let mut inputs = Vec::new();
    for line in lines {
        match reader.line(line) {
            Ok(input) => inputs.extend(input),
            Err(_) => break,
        }
    }
    play(plan, inputs);
}

/// Reads a pack; hands play on what comes of it, with whatever numbers it has.
pub fn pack(text: &str) {
    let Ok(plan) = harmonym_runtime::pack::read(text) else { return };
    struct Any;
    impl Watcher for Any {
        fn notice(&mut self, _told: Told) {}
    }
    let plan = Arc::new(plan);
    let playing = Playing::at(Rate::DEFAULT);
    let mut run = Run::new(Arc::clone(&plan), playing, Some(Time::from_millis(2_000)), &mut Any);
    let mut lines = HANDS.lines();
    let Ok((mut reader, _)) = Reader::new("a.jsonl", lines.next().unwrap_or_default(), &plan) else { return };
    for input in lines.filter_map(|line| reader.line(line).ok().flatten()) {
        if run.input(input, &mut Any).is_break() {
            break;
        }
    }
    run.finish(&mut Any);
}

/// Reads a score; if it is sound, it is performed.
pub fn score(text: &str, plan: &Arc<Plan>) {
    match score::read(&Source::new("a.score", text), plan) {
        Ok(score) => play(plan, score.perform()),
        Err(faults) => check_places(text, &faults),
    }
}

/// A profile and lines of commands behind `---`: whatever they ask for, what comes of it is a
/// profile or has its faults at places, also as faults of what was asked for.
pub fn edit(text: &str) {
    let (profile, commands) = text.split_once("\n---\n").unwrap_or((DEMO, text));
    let source = Source::new("harmonym.toml", profile);
    if harmonym_lang::load(&source).is_err() {
        return;
    }
    let mut draft = Draft::new(&source);
    for line in commands.lines().take(50) {
        let words: Vec<String> = line.split(' ').map(str::to_owned).collect();
        let [word, address, rest @ ..] = words.as_slice() else { continue };
        let said = rest.join(" ");
        let before = draft.clone();
        let done = match word.as_str() {
            "bind" => draft.bind(address, &[said], None).map(drop),
            "unbind" => draft.unbind(address),
            "set" => draft.set(address, rest),
            "remove" => draft.remove(address, rest.is_empty()),
            "rename" => draft.rename(address, &said).map(drop),
            "copy" => draft.copy(address, &said).map(drop),
            "map" => draft.add(&Thing::Map(address.clone()), &Vec::new()),
            "fact" => draft.add(&Thing::Fact(address.clone()), &Vec::new()),
            "preset" => draft.add_preset(address, &said),
            "part" => draft.set_part(address, rest.first().map_or("", |w| w), &said, None).map(drop),
            _ => {
                draft.tidy();
                Ok(())
            }
        };
        let after = Source::new("harmonym.toml", draft.text());
        let sound = harmonym_lang::load(&after).map(drop);
        if let Err(faults) = &sound {
            check_places(draft.text(), faults);
            if let Some(own) = in_words(faults, before.text(), &words) {
                check_places(own.source().map_or("", Source::text), &own);
            }
        }
        // As the commands do: only what is sound goes on.
        if done.is_err() || sound.is_err() {
            draft = before;
        }
    }
}

/// A table of actions, taken over into the demo.
pub fn sheet(text: &str) {
    match read_sheet(&Source::new("a.csv", text)) {
        Ok(sheet) => {
            let mut draft = Draft::new(&Source::new("demo", DEMO));
            draft.take_rows(&sheet.rows);
            if let Err(faults) = harmonym_lang::load(&Source::new("demo", draft.text())) {
                check_places(draft.text(), &faults);
            }
        }
        Err(faults) => check_places(text, &faults),
    }
}
