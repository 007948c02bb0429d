//! The devices of a Linux machine, as the kernel tells of them.

mod decode;
#[cfg(test)]
mod tests;

use super::{Arrival, Clock, Hardware, Heard, Source};
use crate::failure::Failure;
use ::evdev::{Device, InputEvent};
use decode::{Decoder, Description, Event};
use harmonym_runtime::base::{Class, Time};
use rustix::event::{PollFd, PollFlags, Timespec, poll};
use rustix::fs::inotify;
use rustix::io::Errno;
use std::collections::{BTreeMap, BTreeSet};
use std::fs;
use std::io::{self, ErrorKind};
use std::mem::MaybeUninit;
use std::os::fd::OwnedFd;
use std::path::{Path, PathBuf};
use std::time::{Duration, Instant, SystemTime};

/// Where the kernel has its devices.
const FOLDER: &str = "/dev/input";

/// What is there but may not be read yet is tried again after this, so often: rules that let it be read may come later
/// than the device.
const AGAIN: (Duration, u32) = (Duration::from_millis(100), 20);

/// Without anybody to tell of it, the folder is looked at so often.
const LOOKED_AT: Duration = Duration::from_millis(500);

/// A stamp further from now than this is no lateness: a clock was set.
const FAR: Duration = Duration::from_secs(1);

/// All devices there are, and those that come.
pub struct Evdev {
    clock: Clock,
    /// Whether keyboards and mice are read too.
    keys: bool,
    /// Tells what comes and goes; without it the folder is looked at once in a while.
    folder: Option<OwnedFd>,
    looked: Instant,
    open: BTreeMap<PathBuf, Open>,
    /// What came and could not be opened yet: how often that was tried, and when it is tried next.
    waiting: BTreeMap<PathBuf, (u32, Instant)>,
    /// What is there and is no device of hands.
    idle: BTreeSet<PathBuf>,
    /// What is to be told before anything else.
    told: Vec<Arrival>,
}

/// A device that is read.
struct Open {
    device: Device,
    hardware: Vec<Hardware>,
    decoder: Decoder,
    stamps: Stamps,
}

/// The times of one source, brought to those of the hands once: reports stay as far from each other as they were.
#[derive(Clone, Copy, Debug, Default)]
pub(super) struct Stamps(Option<(SystemTime, Time)>);

impl Stamps {
    /// When something with that stamp happened that is read now; whether a clock was set in between.
    pub fn time(&mut self, stamp: SystemTime, now: Time) -> (Time, bool) {
        let (first, then) = *self.0.get_or_insert((stamp, now));
        let t = match stamp.duration_since(first) {
            Ok(later) => then + Time::from(later),
            Err(earlier) => then.since(Time::from(earlier.duration())),
        };
        let apart = Duration::from(t.max(now).since(t.min(now)));
        if apart <= FAR {
            return (t, false);
        }
        self.0 = Some((stamp, now));
        (now, true)
    }
}

impl Evdev {
    /// Opens all that may be read.
    ///
    /// # Errors
    /// When there are no devices, or none of them may be read.
    pub fn open(clock: Clock, keys: bool) -> Result<Self, Failure> {
        if !Path::new(FOLDER).is_dir() {
            let message = format!("this machine has no devices in {FOLDER}");
            return Err(Failure::new(
                message,
                "read them through a browser instead: harmonym page",
            ));
        }
        let (open, waiting) = (BTreeMap::new(), BTreeMap::new());
        let (folder, told) = (watched().ok(), Vec::new());
        let mut all = Self {
            clock,
            keys,
            folder,
            open,
            waiting,
            idle: BTreeSet::new(),
            told,
            looked: Instant::now(),
        };
        let mut refused = None;
        for path in nodes() {
            if let Err(error) = all.add(&path)
                && error.kind() == ErrorKind::PermissionDenied
            {
                refused = Some(path);
            }
        }
        match refused {
            Some(path) if all.open.is_empty() => Err(no_permission(&path)),
            _ if all.open.is_empty() && keys => {
                let words = format!("there are no devices of hands in {FOLDER} yet: plug one in");
                all.told.push(Arrival { t: clock.now(), heard: Heard::Words(words) });
                Ok(all)
            }
            _ => Ok(all),
        }
    }

    /// Opens a device, and tells of it.
    fn add(&mut self, path: &Path) -> io::Result<()> {
        if self.open.contains_key(path) {
            return Ok(());
        }
        let device = Device::open(path)?;
        device.set_nonblocking(true)?;
        let about = describe(&device);
        let decoder = Decoder::new(&about);
        let own = |class: &&Class| self.keys || **class == Class::Pad;
        let identity = format!("{}:{:04x}:{:04x}", about.own, about.ids.0, about.ids.1);
        let hardware =
            |class: &Class| Hardware { class: *class, identity: identity.as_str().into() };
        let hardware: Vec<Hardware> = decoder.classes().iter().filter(own).map(hardware).collect();
        if hardware.is_empty() {
            self.idle.insert(path.to_owned());
            return Ok(());
        }
        let t = self.clock.now();
        self.told.extend(decoder.left_out.iter().map(|words| {
            let words =
                format!("{words}; give it a class of your own in the profile, or use a browser");
            Arrival { t, heard: Heard::Words(words) }
        }));
        for one in &hardware {
            self.told.push(Arrival { t, heard: Heard::Comes(one.clone()) });
        }
        let open = Open { device, hardware, decoder, stamps: Stamps::default() };
        self.open.insert(path.to_owned(), open);
        Ok(())
    }

    /// A device is gone.
    fn remove(&mut self, path: &Path) {
        self.waiting.remove(path);
        self.idle.remove(path);
        let Some(open) = self.open.remove(path) else { return };
        let t = self.clock.now();
        for one in open.hardware {
            self.told.push(Arrival { t, heard: Heard::Goes(one) });
        }
    }

    /// What comes and goes in the folder.
    fn changes(&mut self) {
        let Some(folder) = &self.folder else { return self.look() };
        let mut buffer = [MaybeUninit::uninit(); 4096];
        let mut reader = inotify::Reader::new(folder, &mut buffer);
        let mut changed = Vec::new();
        while let Ok(event) = reader.next() {
            let Some(name) = event.file_name().and_then(|name| name.to_str().ok()) else {
                continue;
            };
            if name.starts_with("event") {
                let is_gone = event.events().contains(inotify::ReadFlags::DELETE);
                changed.push((Path::new(FOLDER).join(name), is_gone));
            }
        }
        for (path, is_gone) in changed {
            match is_gone {
                true => self.remove(&path),
                false => self.try_again(path, 0),
            }
        }
    }

    /// Looks at what is in the folder now.
    fn look(&mut self) {
        if self.looked.elapsed() < LOOKED_AT {
            return;
        }
        self.looked = Instant::now();
        let now = nodes();
        let gone: Vec<PathBuf> =
            self.open.keys().filter(|path| !now.contains(path)).cloned().collect();
        gone.iter().for_each(|path| self.remove(path));
        self.idle.retain(|path| now.contains(path));
        for path in now {
            if !self.open.contains_key(&path) && !self.idle.contains(&path) {
                self.try_again(path, 0);
            }
        }
    }

    fn try_again(&mut self, path: PathBuf, times: u32) {
        match self.add(&path) {
            Ok(()) => {
                self.waiting.remove(&path);
            }
            Err(error) if times < AGAIN.1 && error.kind() != ErrorKind::NotFound => {
                self.waiting.insert(path, (times + 1, Instant::now() + AGAIN.0));
            }
            Err(error) => {
                self.waiting.remove(&path);
                if error.kind() == ErrorKind::PermissionDenied {
                    let words = format!("{} came, and may not be read", path.display());
                    self.told.push(Arrival { t: self.clock.now(), heard: Heard::Words(words) });
                }
            }
        }
    }

    /// Waits for something to read; the paths of what has it, or is gone.
    fn wait(&self, until: Instant) -> Vec<PathBuf> {
        let next = self.waiting.values().map(|(_, at)| *at).min();
        let look = self.folder.is_none().then(|| self.looked + LOOKED_AT);
        let until = [next, look].into_iter().flatten().fold(until, Instant::min);
        let left = until.saturating_duration_since(Instant::now());
        let timeout = Timespec::try_from(left).ok();
        let paths: Vec<&PathBuf> = self.open.keys().collect();
        let folder = self.folder.iter().map(|folder| PollFd::new(folder, PollFlags::IN));
        let devices = self.open.values().map(|open| PollFd::new(&open.device, PollFlags::IN));
        let mut all: Vec<PollFd<'_>> = devices.chain(folder).collect();
        if poll(&mut all, timeout.as_ref()).is_err() {
            return Vec::new();
        }
        let ready = all.iter().zip(paths).filter(|(fd, _)| !fd.revents().is_empty());
        ready.map(|(_, path)| path.clone()).collect()
    }
}

impl Open {
    /// Tells what it has to tell; an error when it is gone.
    fn read(&mut self, clock: Clock, tell: &mut dyn FnMut(Arrival)) -> io::Result<()> {
        let now = clock.now();
        let events: Vec<InputEvent> = match self.device.fetch_events() {
            Ok(events) => events.collect(),
            Err(error) if error.kind() == ErrorKind::WouldBlock => return Ok(()),
            Err(error) => return Err(error),
        };
        for event in events {
            let (t, was_set) = self.stamps.time(event.timestamp(), now);
            if was_set {
                let words = "a device's clock was set: its times go on from now";
                tell(Arrival { t: now, heard: Heard::Words(words.to_owned()) });
            }
            let hardware = &self.hardware;
            let event =
                Event { kind: event.event_type().0, code: event.code(), value: event.value() };
            self.decoder.take(event, &mut |class, control, value| {
                if let Some(own) = hardware.iter().find(|own| own.class == class) {
                    tell(Arrival { t, heard: Heard::Report(own.clone(), control, value) });
                }
            });
        }
        Ok(())
    }
}

impl Source for Evdev {
    fn poll(&mut self, until: Instant, tell: &mut dyn FnMut(Arrival)) -> Result<bool, String> {
        self.told.drain(..).for_each(&mut *tell);
        let ready = self.wait(until);
        self.changes();
        let due: Vec<(PathBuf, u32)> = self
            .waiting
            .iter()
            .filter(|(_, (_, at))| *at <= Instant::now())
            .map(|(path, (times, _))| (path.clone(), *times))
            .collect();
        for (path, times) in due {
            self.try_again(path, times);
        }
        self.told.drain(..).for_each(&mut *tell);
        for path in ready {
            let Some(open) = self.open.get_mut(&path) else { continue };
            if open.read(self.clock, tell).is_err() {
                self.remove(&path);
            }
        }
        self.told.drain(..).for_each(&mut *tell);
        Ok(true)
    }
}

/// What tells of changes in the folder.
fn watched() -> Result<OwnedFd, Errno> {
    let flags = inotify::CreateFlags::NONBLOCK | inotify::CreateFlags::CLOEXEC;
    let folder = inotify::init(flags)?;
    let events =
        inotify::WatchFlags::CREATE | inotify::WatchFlags::ATTRIB | inotify::WatchFlags::DELETE;
    inotify::add_watch(&folder, FOLDER, events)?;
    Ok(folder)
}

/// What a device says of itself.
fn describe(device: &Device) -> Description {
    let id = device.input_id();
    let own = [device.physical_path(), device.unique_name()];
    let own: Vec<&str> = own.into_iter().flatten().collect();
    let keys = device.supported_keys().map(|keys| keys.iter().map(|key| key.0).collect());
    let relative = device.supported_relative_axes();
    let relative = relative.map(|axes| axes.iter().map(|axis| axis.0).collect());
    let ranges = device
        .get_absinfo()
        .map(|all| all.map(|(axis, about)| (axis.0, (about.minimum(), about.maximum()))).collect());
    Description {
        name: device.name().unwrap_or("a device").to_owned(),
        ids: (id.vendor(), id.product()),
        own: own.join("/"),
        keys: keys.unwrap_or_default(),
        relative: relative.unwrap_or_default(),
        absolute: ranges.unwrap_or_default(),
    }
}

/// The nodes of devices, in the order of their numbers.
fn nodes() -> Vec<PathBuf> {
    let number = |path: &PathBuf| -> Option<u32> {
        path.file_name()?.to_str()?.strip_prefix("event")?.parse().ok()
    };
    let entries = fs::read_dir(FOLDER).into_iter().flatten().flatten();
    let mut all: Vec<(u32, PathBuf)> =
        entries.filter_map(|entry| Some((number(&entry.path())?, entry.path()))).collect();
    all.sort();
    all.into_iter().map(|(_, path)| path).collect()
}

fn no_permission(path: &Path) -> Failure {
    let message = format!("no permission to read {}", path.display());
    let help = "join the group that may, and sign in anew: sudo usermod -aG input $USER; or use a browser, which \
                needs none: harmonym page";
    Failure::new(message, help)
}
