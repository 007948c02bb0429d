//! What a page in a browser tells, as reports of devices.

use super::{Arrival, Clock, Hardware, Heard};
use crate::servers::page::Said;
use harmonym_runtime::base::{Time, Vector};
use harmonym_runtime::controls::Catalogue;
use serde::Deserialize;
use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;
use std::sync::mpsc::{Receiver, Sender};
use std::thread;

/// What a page asks for besides.
#[derive(Clone, Debug, PartialEq)]
pub enum Asks {
    Choose(String),
    Map(String, bool),
    Number(String, f64),
    Still(bool),
    Take,
}

/// A message of a page.
#[derive(Deserialize)]
#[serde(untagged, deny_unknown_fields)]
enum Message {
    Clock {
        clock: f64,
    },
    Reports {
        reports: Vec<(String, String, Value, f64)>,
    },
    Comes {
        comes: Comes,
    },
    Goes {
        goes: String,
    },
    Says {
        says: String,
    },
    Choose {
        choose: Option<String>,
    },
    Map {
        map: String,
        open: bool,
    },
    Number {
        number: String,
        value: f64,
    },
    Still {
        still: bool,
    },
    Take {
        #[allow(dead_code, reason = "that it is there says all")]
        take: bool,
    },
}

#[derive(Deserialize)]
struct Comes {
    device: String,
    class: String,
    /// What the page calls it: nothing that is kept.
    #[serde(rename = "name")]
    _name: Option<String>,
}

#[derive(Deserialize)]
#[serde(untagged)]
enum Value {
    One(f64),
    Two(f64, f64),
}

/// The longest that a page may name a device.
const LONGEST: usize = 200;

/// So many devices a page may have.
const MOST: usize = 64;

/// One page: its clock, and its devices.
#[derive(Default)]
struct Page {
    /// What has to be added to its times, in milliseconds, to have those of the hands: the least that was seen.
    offset: Option<f64>,
    /// Whether a report came: from then on it stays as it is.
    is_set: bool,
    devices: BTreeMap<String, Hardware>,
}

/// Goes on for as long as pages say something.
pub fn listen(
    clock: Clock,
    catalogue: Arc<Catalogue>,
    said: Receiver<Said>,
    tell: Sender<Arrival>,
) {
    thread::spawn(move || {
        let mut hear = Hear { catalogue, pages: BTreeMap::new(), told: BTreeSet::new() };
        for said in said {
            let now = clock.now();
            let mut all = Vec::new();
            hear.take(said, now, &mut all);
            if all.into_iter().any(|arrival| tell.send(arrival).is_err()) {
                return;
            }
        }
    });
}

struct Hear {
    catalogue: Arc<Catalogue>,
    pages: BTreeMap<u64, Page>,
    /// The words that were told.
    told: BTreeSet<String>,
}

impl Hear {
    fn take(&mut self, said: Said, now: Time, all: &mut Vec<Arrival>) {
        match said {
            Said::Joined(page) => {
                self.pages.insert(page, Page::default());
            }
            Said::Left(page) => {
                let gone = self.pages.remove(&page).map(|page| page.devices).unwrap_or_default();
                all.extend(
                    gone.into_values().map(|one| Arrival { t: now, heard: Heard::Goes(one) }),
                );
            }
            Said::Words(words) => self.say(words, now, all),
            Said::Text(page, text) => match serde_json::from_str(&text) {
                Ok(message) => self.message(page, message, now, all),
                Err(_) => self.say("a page says what nobody understands".to_owned(), now, all),
            },
        }
    }

    /// Says something once.
    fn say(&mut self, words: String, now: Time, all: &mut Vec<Arrival>) {
        if self.told.len() < 100 && self.told.insert(words.clone()) {
            all.push(Arrival { t: now, heard: Heard::Words(words) });
        }
    }

    fn message(&mut self, number: u64, message: Message, now: Time, all: &mut Vec<Arrival>) {
        let mut words = None;
        let Self { catalogue, pages, .. } = self;
        let Some(page) = pages.get_mut(&number) else { return };
        match message {
            Message::Clock { clock } => page.set(clock, now),
            Message::Comes { comes: Comes { device, class, .. } } => {
                let is_known = catalogue.class(&class);
                match is_known.filter(|_| device.len() <= LONGEST && page.devices.len() < MOST) {
                    None => words = Some("a page has a device that nobody knows".to_owned()),
                    Some(class) => {
                        let hardware =
                            Hardware { class, identity: format!("page:{device}").into() };
                        page.devices.insert(device, hardware.clone());
                        all.push(Arrival { t: now, heard: Heard::Comes(hardware) });
                    }
                }
            }
            Message::Goes { goes } => {
                let gone = page.devices.remove(&goes);
                all.extend(gone.map(|one| Arrival { t: now, heard: Heard::Goes(one) }));
            }
            Message::Reports { reports } => {
                let mut last = None;
                for (device, control, value, t) in reports {
                    let Some(hardware) = page.devices.get(&device).cloned() else { continue };
                    let found = catalogue.reported_id(&control).filter(|id| {
                        catalogue.reported()[harmonym_runtime::base::Id::index(*id)].class
                            == hardware.class
                    });
                    let Some(id) = found else {
                        // A key without a place, such as one of a language.
                        continue;
                    };
                    let value = match value {
                        Value::One(x) => Vector::axis(x),
                        Value::Two(x, y) => Vector::new(x, y),
                    };
                    let t = page.time(t, now);
                    if last.is_some_and(|last| t < last) && words.is_none() {
                        words =
                            Some("a page's time goes back: what is late counts late".to_owned());
                    }
                    last = last.max(Some(t));
                    all.push(Arrival { t, heard: Heard::Report(hardware, id, value) });
                }
            }
            Message::Says { says } => {
                words = Some(says.chars().filter(|c| !c.is_control()).take(LONGEST).collect());
            }
            Message::Choose { choose: Some(name) } => ask(Asks::Choose(name), now, all),
            Message::Choose { choose: None } => {}
            Message::Map { map, open } => ask(Asks::Map(map, open), now, all),
            Message::Number { number, value } => ask(Asks::Number(number, value), now, all),
            Message::Still { still } => ask(Asks::Still(still), now, all),
            Message::Take { .. } => ask(Asks::Take, now, all),
        }
        if let Some(words) = words {
            self.say(words, now, all);
        }
    }
}

fn ask(asks: Asks, now: Time, all: &mut Vec<Arrival>) {
    all.push(Arrival { t: now, heard: Heard::Page(asks) });
}

impl Page {
    /// Learns of the page's clock: of several messages the one that was quickest says best what it is.
    fn set(&mut self, stamp: f64, now: Time) {
        if self.is_set || !stamp.is_finite() {
            return;
        }
        let offset = now.seconds() * 1e3 - stamp;
        self.offset = Some(self.offset.map_or(offset, |known| known.min(offset)));
    }

    /// When something with that stamp happened, that was heard now.
    fn time(&mut self, stamp: f64, now: Time) -> Time {
        self.set(stamp, now);
        self.is_set = true;
        let t = stamp + self.offset.unwrap_or_default();
        // Stamps are told to a tenth of a millisecond or so; and what is to come cannot have happened.
        let t = if t.is_finite() { t.max(0.0) } else { now.seconds() * 1e3 };
        Time::from_nanos((t * 1e6).round() as u64).min(now)
    }
}
