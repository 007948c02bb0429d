//! A profile and a take in, events as lines out.

use harmonym_lab::take::{Input, Playing, Reader, Run, Watcher};
use harmonym_lang::model::Profile;
use harmonym_lang::source::Source;
use harmonym_runtime::base::{Id, Kind, Rate, Seat, Time, Vector, shortest};
use harmonym_runtime::engine::{EpisodeState, Event, EventKind, Frame, Notice};
use harmonym_runtime::plan::Plan;
use harmonym_runtime::seats::Told;
use std::sync::Arc;

/// What every profile of the tests begins with.
pub const HEAD: &str = "harmonym = 1\nscheme.desk.devices = [\"key\", \"mouse\"]\n\
                        scheme.pad.devices = [\"pad\"]\nscheme.slate.devices = [\"slate\"]\n\
                        device.slate.controls = { thumb = \"stick\", tap = \"button\" }\n\
                        device.slate.as = { thumb = \"pad.left-stick\", tap = \"pad.south\" }\n\
                        map.quay.start = true\n";

/// Compiles a profile without faults.
pub fn load(text: &str) -> (Profile, Arc<Plan>) {
    let source = Source::new("harmonym.toml", text);
    match harmonym_lang::load(&source) {
        Ok((profile, plan)) => (profile, Arc::new(plan)),
        Err(faults) => panic!("{faults}\n{text}"),
    }
}

/// Reads the lines of a take, the header left out.
pub fn inputs(lines: &str, plan: &Plan) -> Vec<Input> {
    let (mut reader, _) = Reader::new("t", "{\"take\":1}", plan).unwrap();
    lines.lines().filter_map(|line| reader.line(line.trim()).expect(line)).collect()
}

/// A tick, and the values that changed at it, by the number of the action.
pub type Changed = (Time, u64, Vec<(usize, Vector)>);

/// An action's value, its state and how often it fired.
pub type Read = (Vector, EpisodeState, u32);

/// Everything that a run tells, in order.
#[derive(Default)]
pub struct Log {
    pub notices: Vec<Notice>,
    /// The tick, and the values that changed at it.
    pub values: Vec<Changed>,
    /// The tick, and what is read of each action at it.
    pub read: Vec<(u64, Vec<Read>)>,
}

impl Watcher for Log {
    fn notice(&mut self, told: Told) {
        self.notices.push(told.notice);
    }

    fn tick(&mut self, _: Seat, frame: Frame<'_>, t: Time) {
        let ids = frame.plan().actions().ids();
        let all = ids.map(|id| (frame.value(id), frame.state(id), frame.fired(id))).collect();
        self.read.push((frame.ticks(), all));
        let changed: Vec<_> = frame.changed().map(|id| (id.index(), frame.value(id))).collect();
        if !changed.is_empty() {
            self.values.push((t, frame.ticks(), changed));
        }
    }
}

/// Runs reports at a rate, and gives everything told and the last tick.
pub fn run(plan: &Arc<Plan>, inputs: &[Input], rate: &str) -> (Log, u64) {
    let mut log = Log::default();
    let playing = Playing::at(Rate::parse(rate).unwrap());
    let mut run = Run::new(Arc::clone(plan), playing, None, &mut log);
    for input in inputs {
        assert!(run.input(*input, &mut log).is_continue());
    }
    let end = run.finish(&mut log);
    (log, end.tick)
}

/// An event as a line: time, tick, action, event, value, then what else it says.
pub fn line(plan: &Plan, event: &Event) -> String {
    let names = plan.names();
    let value = match plan.actions()[event.action].kind {
        Kind::Switch => if event.value.x == 0.0 { "off" } else { "on" }.to_owned(),
        Kind::Axis => shortest(event.value.x).to_string(),
        kind => {
            let components = event.value.shown(kind);
            let all: Vec<_> = components
                .iter()
                .take(kind.components())
                .map(|c| shortest(*c).to_string())
                .collect();
            all.join(",")
        }
    };
    let action = names.actions[event.action].trim_start_matches("quay.");
    let mut text = format!("{} #{} {action} {} {value}", event.t, event.tick, event.kind.word());
    if let EventKind::Fire(by, since) = event.kind {
        let kept = since.map_or(String::new(), |since| format!(" since {since}"));
        text.push_str(&format!(" by {}{kept}", names.alternatives[by]));
    }
    if let Some(cause) = event.kind.cause() {
        text.push_str(&format!(" {}", cause.word()));
    }
    text.push_str(&format!(" held {}", Time::from(event.held)));
    if let Some(fired_for) = event.fired_for {
        text.push_str(&format!(" live {}", Time::from(fired_for)));
    }
    if event.progress > 0.0 && event.progress < 1.0 {
        text.push_str(&format!(" at {}", shortest(event.progress)));
    }
    let from = event.from.map_or("–", |b| names.bindings[b].split_once('@').map_or("", |x| x.1));
    format!("{text} from {from}")
}

/// The events of a run as lines.
pub fn lines(plan: &Plan, log: &Log) -> Vec<String> {
    let events = log.notices.iter().map(|notice| match notice {
        Notice::Event(event) => line(plan, event),
        Notice::Scheme { t, tick, scheme } => {
            format!("{t} #{tick} scheme {}", plan.names().schemes[*scheme])
        }
        Notice::Map { t, tick, map, open } => {
            let how = if *open { "opens" } else { "closes" };
            format!("{t} #{tick} {} {how}", plan.names().maps[*map])
        }
        Notice::Pause { t, tick, paused } => format!("{t} #{tick} paused {paused}"),
        Notice::Plan { t, tick } => format!("{t} #{tick} another plan"),
        Notice::Device { t, tick, device, plugged } => {
            format!("{t} #{tick} {} there {plugged}", plan.catalogue().device_name(*device))
        }
        Notice::Seat { t, tick, device } => {
            format!("{t} #{tick} {} given", plan.catalogue().device_name(*device))
        }
    });
    events.collect()
}
