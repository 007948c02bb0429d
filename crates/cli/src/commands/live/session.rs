//! Hands at work: sources in, the engine, a take out.

use super::pieces::{Piece, demo_profile, pieces};
use super::recorder::{About, Recorder};
use crate::args::{From, PlayerArg, RealArgs};
use crate::commands::play::{parse_rate, scheme};
use crate::commands::{load_as, settled_profile};
use crate::failure::Failure;
use crate::files::Loaded;
use crate::output::Output;
use crate::servers::page::Said;
use crate::sources::page::Asks;
use crate::sources::terminal::{self, Told};
use crate::sources::{Arrival, Clock, Heard, Kind, Numbers, Sources, Wanted};
use harmonym_lab::live::Live;
use harmonym_lab::take::{Input, Playing, What};
use harmonym_runtime::base::{Class, ControlId, Rate, SchemeId, Time};
use harmonym_runtime::controls::Layout;
use harmonym_runtime::plan::Plan;
use std::collections::VecDeque;
use std::fs;
use std::path::{Path, PathBuf};
use std::sync::Arc;
use std::sync::mpsc::Receiver;
use std::time::{Duration, Instant, SystemTime};

/// The profile is looked at so often, to see whether it was saved.
const LOOKED_AT: Duration = Duration::from_millis(250);

/// No more is heard before somebody may look at it: who tells without end holds nobody up.
const MOST_AT_ONCE: usize = 10_000;

/// Between two scores there is so much time.
const BETWEEN: Time = Time::from_millis(1_500);

/// Real hands and what comes of them.
pub struct Session {
    pub live: Live,
    pub recorder: Option<Recorder>,
    /// Whether somebody takes all that is told.
    pub tells: bool,
    /// What is to be said to the person, in order.
    pub words: Vec<String>,
    /// Whether keys and mouse go to the actions.
    pub hands_on: bool,
    /// Whether what the terminal's own keyboard and mouse do goes to the actions at all.
    pub hears_terminal: bool,
    /// The key that the view keeps for itself.
    pub kept: Option<ControlId>,
    /// How late the latest report of the last second was, and when that began.
    pub late: (Time, Time),
    /// How late any report was at most.
    pub latest: Time,
    /// What pages asked for.
    asked: Vec<Asks>,
    /// What is played now.
    pub title: Option<String>,
    numbers: Numbers,
    sources: Sources,
    layout: Layout,
    /// When this began, by the clock of the sources, and how fast time goes since: what is slower to look at has the
    /// same times.
    zero: Time,
    speed: f64,
    real: RealArgs,
    pieces: VecDeque<Piece>,
    due: VecDeque<Input>,
    is_played: bool,
    profile: Option<Watched>,
    looked: Instant,
    /// Whether anything else than scores is listened to.
    pub has_hardware: bool,
}

/// The files that are read anew when they are saved.
struct Watched {
    path: PathBuf,
    player: PlayerArg,
    stamps: Vec<Option<(SystemTime, u64)>>,
}

impl Watched {
    fn new(path: PathBuf, player: PlayerArg) -> Self {
        let mut own = Self { path, player, stamps: Vec::new() };
        own.stamps = own.now();
        own
    }

    fn now(&self) -> Vec<Option<(SystemTime, u64)>> {
        let stamp = |path: &Path| {
            let about = fs::metadata(path).ok()?;
            Some((about.modified().ok()?, about.len()))
        };
        let player = self.player.path.as_deref();
        [Some(self.path.as_path()), player].into_iter().flatten().map(stamp).collect()
    }

    /// Whether one of them was saved since.
    fn changed(&mut self) -> bool {
        let now = self.now();
        // While it is being written anew it may not be there.
        now.iter().all(Option::is_some) && std::mem::replace(&mut self.stamps, now.clone()) != now
    }
}

impl Session {
    /// Reads the profile, and begins to listen; not to the terminal, which others have.
    pub fn begin_without_terminal(
        file: Option<&Path>,
        real: &RealArgs,
        output: &mut Output,
    ) -> Result<Self, Failure> {
        let mut session = Self::new(file, real, output)?;
        // What the browser tells of pads needs no permission.
        session.listen(real, false)?;
        session.has_hardware = true;
        session.next_piece();
        Ok(session)
    }

    /// Listens to pages.
    pub fn listen_to_page(&mut self, said: Receiver<Said>) {
        self.sources.listen_to_page(Arc::clone(self.live.plan().catalogue()), said);
    }

    /// What pages asked for since this was asked last.
    pub fn asks(&mut self) -> Vec<Asks> {
        std::mem::take(&mut self.asked)
    }

    /// Reads the profile, and begins to listen.
    pub fn begin(
        file: Option<&Path>,
        real: &RealArgs,
        output: &mut Output,
    ) -> Result<Self, Failure> {
        let mut session = Self::new(file, real, output)?;
        session.listen(real, real.from.is_empty())?;
        session.next_piece();
        Ok(session)
    }

    fn new(file: Option<&Path>, real: &RealArgs, output: &mut Output) -> Result<Self, Failure> {
        let is_demo = real.from.contains(&From::Demo);
        let (loaded, profile) = match is_demo && file.is_none() {
            true => (demo_profile()?, None),
            false => {
                let loaded = load_as(file, &real.player, output)?;
                let path = settled_profile(file, output)?;
                (loaded, Some(Watched::new(path, real.player.clone())))
            }
        };
        let (rate, scheme) = asked(&loaded, real)?;
        let pieces = pieces(&loaded, real, (rate, scheme))?;
        let plan = loaded.plan_for(real.layout, None)?;
        let rate = rate.unwrap_or(Rate::DEFAULT);
        let playing = Playing { start: None, rate, scheme, seats: real.seats };
        let sources = Sources::new(Clock::begin());
        let mut live = Live::new(plan, playing);
        live.forget_news();
        let session = Self {
            live,
            recorder: None,
            tells: false,
            words: Vec::new(),
            hands_on: true,
            hears_terminal: real.from.is_empty() || real.from.contains(&From::Terminal),
            kept: None,
            late: (Time::ZERO, Time::ZERO),
            latest: Time::ZERO,
            asked: Vec::new(),
            title: None,
            numbers: Numbers::default(),
            sources,
            layout: real.layout.unwrap_or_default(),
            zero: Time::ZERO,
            speed: real.speed,
            real: real.clone(),
            pieces: pieces.into(),
            due: VecDeque::new(),
            is_played: false,
            profile,
            looked: Instant::now(),
            has_hardware: false,
        };
        Ok(session)
    }

    /// Opens the sources that are named; or the usual ones, the terminal and the pads.
    fn listen(&mut self, real: &RealArgs, default: bool) -> Result<(), Failure> {
        let is_named = |from: &From| real.from.contains(from);
        let terminal = default || is_named(&From::Terminal);
        let layout = self.layout;
        // Whoever names the terminal means its keys, not those of the whole machine.
        let wanted = Wanted { layout, keys: !terminal };
        if is_named(&From::Evdev) {
            self.sources.open(Kind::Evdev, wanted)?;
        } else if default && let Err(failure) = self.sources.open(Kind::Evdev, wanted) {
            self.words.push(format!("gamepads are not read: {}", failure.message()));
        }
        self.has_hardware = default || terminal || is_named(&From::Evdev);
        Ok(())
    }

    /// Listens to the terminal, which is in the state for it.
    pub fn listen_to_terminal(&mut self) -> Result<(), Failure> {
        self.sources.open(Kind::Terminal, Wanted { layout: self.layout, keys: false })
    }

    pub fn plan(&self) -> &Arc<Plan> {
        self.live.plan()
    }

    /// The time of the hands.
    pub fn now(&self) -> Time {
        self.time(self.sources.clock().now())
    }

    /// The time of the hands, by that of the sources.
    fn time(&self, t: Time) -> Time {
        let since = t.since(self.zero);
        if self.speed == 1.0 {
            return since;
        }
        Time::from_nanos((since.nanos() as f64 * self.speed) as u64)
    }

    /// The moment at which that time of the hands is here.
    fn moment(&self, t: Time) -> Instant {
        let nanos = (t.nanos() as f64 / self.speed) as u64;
        let since = if self.speed == 1.0 { t } else { Time::from_nanos(nanos) };
        self.sources.clock().moment(self.zero + since)
    }

    /// The devices that are there, by their names.
    pub fn devices(&self) -> Vec<String> {
        self.numbers.there(self.live.plan())
    }

    /// Whether all that was named to be played is over.
    pub fn is_over(&self) -> bool {
        self.is_played && self.pieces.is_empty() && self.due.is_empty()
    }

    /// Whether nothing goes on any more by itself.
    pub fn has_settled(&mut self) -> bool {
        let since = self.live.now().since(self.live.last_input());
        let mut all = self.live.seats().all();
        since > Time::ZERO && all.all(|seat| self.live.frame(seat).is_settled())
            || since >= Time::from_millis(10_000)
    }

    /// Begins a take, and the hands with it: a take begins where nothing is held and nothing was done.
    pub fn record(&mut self, path: &Path, title: Option<&str>) -> Result<(), Failure> {
        let (plan, playing) = (Arc::clone(self.live.plan()), self.live.playing());
        let about = About { title, playing, plan: &plan };
        self.recorder = Some(Recorder::begin(path, &about)?);
        // A score that was to begin begins with it.
        self.restart(plan, playing)
    }

    /// Begins anew, at time 0.
    fn restart(&mut self, plan: Arc<Plan>, playing: Playing) -> Result<(), Failure> {
        self.begin_at_0(plan, playing);
        self.plug()
    }

    /// Other hands, at time 0, that know of no device.
    fn begin_at_0(&mut self, plan: Arc<Plan>, playing: Playing) {
        self.zero = self.sources.clock().now();
        self.live = Live::new(plan, playing);
        if !self.tells {
            self.live.forget_news();
        }
        self.numbers.unplug_all();
    }

    /// Tells the seats of devices that they have a use for and were not told of.
    fn plug(&mut self) -> Result<(), Failure> {
        let plan = Arc::clone(self.live.plan());
        for what in self.numbers.plugged_on(&plan) {
            self.happens(self.now(), what)?;
        }
        Ok(())
    }

    /// Begins the next score, if there is one.
    fn next_piece(&mut self) {
        let Some(Piece { title, plan, playing, inputs }) = self.pieces.pop_front() else { return };
        self.begin_at_0(plan, playing);
        self.due = inputs.into();
        self.title = Some(title);
        self.is_played = true;
    }

    /// Something happens now: by the person who looks on.
    pub fn act(&mut self, what: What) -> Result<(), Failure> {
        self.happens(self.now(), what)
    }

    fn happens(&mut self, t: Time, what: What) -> Result<(), Failure> {
        // What the seats refuse is nothing that happened.
        let Ok(input) = self.live.input(t, what) else { return Ok(()) };
        match &mut self.recorder {
            Some(recorder) => recorder.write(self.live.plan(), &input),
            None => Ok(()),
        }
    }

    /// Lets go of all keys and buttons of keyboards and mice.
    pub fn let_go(&mut self) -> Result<(), Failure> {
        for what in self.numbers.let_go() {
            self.act(what)?;
        }
        Ok(())
    }

    /// Goes on until something came, or until then; gives what the terminal told.
    pub fn step(&mut self, until: Instant) -> Result<Vec<Told>, Failure> {
        // Before anything comes: all that was told goes by the profile as it was.
        self.look_at_profile()?;
        let mut told = Vec::new();
        let wait = until.min(self.next_due());
        let mut arrival = self.sources.next(wait);
        for _ in 0..MOST_AT_ONCE {
            let Some(one) = arrival else { break };
            self.arrive(&one, &mut told)?;
            arrival = self.sources.next(Instant::now());
        }
        // One moment for both: what a score says is never late.
        let now = self.now();
        while let Some(input) = self.due.front().copied().filter(|input| input.t <= now) {
            self.due.pop_front();
            self.happens(input.t, input.what)?;
        }
        self.live.until(now);
        let rested = self.live.now().since(self.live.last_input()) >= BETWEEN;
        if self.due.is_empty() && rested && !self.pieces.is_empty() {
            self.next_piece();
        }
        self.words.extend(self.numbers.words());
        if let Some(recorder) = &mut self.recorder {
            recorder.tend()?;
        }
        Ok(told)
    }

    /// When there is something to do, whatever comes.
    fn next_due(&self) -> Instant {
        let rests = self.live.rests_until();
        let t = self.due.front().map_or(rests, |input| input.t.min(rests));
        self.moment(t).min(Instant::now() + LOOKED_AT)
    }

    fn arrive(&mut self, arrival: &Arrival, told: &mut Vec<Told>) -> Result<(), Failure> {
        let t = self.time(arrival.t);
        if let Heard::Comes(of) | Heard::Goes(of) | Heard::Report(of, ..) = &arrival.heard
            && *of.identity == *terminal::IDENTITY
            && !self.hears_terminal
        {
            return Ok(());
        }
        match &arrival.heard {
            Heard::Words(words) => self.words.push(words.clone()),
            Heard::Terminal(one) => {
                // A key that is down while the person goes elsewhere is not told of when it comes up.
                if *one == Told::Focus(false) {
                    self.let_go()?;
                }
                told.push(one.clone());
            }
            Heard::Report(hardware, control, _) => {
                let is_desk = matches!(hardware.class, Class::Key | Class::Mouse);
                if is_desk && (!self.hands_on || self.kept == Some(*control)) {
                    return Ok(());
                }
                let late = self.now().since(t);
                self.latest = self.latest.max(late);
                if t.since(self.late.1) > Time::from_millis(1000) {
                    self.late = (late, t);
                } else {
                    self.late.0 = self.late.0.max(late);
                }
            }
            Heard::Page(asks) => self.asked.push(asks.clone()),
            Heard::Comes(_) | Heard::Goes(_) => {}
        }
        let plan = Arc::clone(self.live.plan());
        match self.numbers.what(&plan, arrival) {
            Some(what) => self.happens(t, what),
            None => Ok(()),
        }
    }

    /// Reads the profile again, if it was saved; a fault in it is told, and all goes on as it was.
    fn look_at_profile(&mut self) -> Result<(), Failure> {
        if self.looked.elapsed() < LOOKED_AT {
            return Ok(());
        }
        self.looked = Instant::now();
        let layout = self.live.plan().layout();
        let Some(watched) = &mut self.profile else { return Ok(()) };
        if !watched.changed() {
            return Ok(());
        }
        let again = read_again(watched).and_then(|loaded| {
            // The scores that are still to come go by it, too.
            let all = pieces(&loaded, &self.real, asked(&loaded, &self.real)?)?;
            let to_come = all.len().saturating_sub(self.pieces.len());
            let plan = loaded.plan_for(Some(layout), None)?;
            Ok((plan, all.into_iter().skip(to_come).collect()))
        });
        let plan = again.map(|(plan, to_come)| {
            self.pieces = to_come;
            plan
        });
        match plan {
            Err(failure) => {
                self.words
                    .push(format!("{}: all goes on with the last sound one", failure.message()));
            }
            Ok(plan) if *plan == **self.live.plan() => {}
            Ok(plan) => {
                let (mut live, lost) = self.live.on(&plan);
                // What is played again was told when it happened.
                match self.tells {
                    true => drop(live.news()),
                    false => live.forget_news(),
                }
                self.live = live;
                self.plug()?;
                self.words.push(match lost {
                    0 => {
                        "the profile was saved: the hands so far were played on it again".to_owned()
                    }
                    lost => format!("the profile was saved: it has no names for {lost} inputs"),
                });
            }
        }
        Ok(())
    }
}

/// The rate and the scheme that are asked for.
fn asked(loaded: &Loaded, real: &RealArgs) -> Result<(Option<Rate>, Option<SchemeId>), Failure> {
    let rate = real.rate.as_deref().map(parse_rate).transpose()?;
    let scheme = real.scheme.as_deref().map(|name| scheme(loaded, name)).transpose()?;
    Ok((rate, scheme))
}

fn read_again(watched: &Watched) -> Result<Loaded, Failure> {
    use crate::files::{self, PlayerFile};
    let loaded = files::load(files::read_text(&watched.path)?)?;
    match &watched.player.path {
        None => Ok(loaded),
        Some(player) => Ok(loaded.for_player(Arc::new(PlayerFile::read(player)?))?.0),
    }
}
