//! A run as a page that needs nothing else: to zoom, to move along, to read values off.

use super::time::{Picture, Shown};
use crate::escape::{shown, shown_json};
use crate::failure::Failure;
use crate::view::of_seat;
use base64::prelude::{BASE64_STANDARD, Engine};
use harmonym_lab::trace::{ControlLane, Drawn, Lane, Mark, State};
use harmonym_runtime::base::{Component, ControlKind, Seat, Time, Vector};
use harmonym_runtime::plan::Plan;
use minijinja::{Environment, Value, context};
use serde::Serialize;
use sha2::{Digest, Sha256};
use std::borrow::Cow;

/// The whole run is parted into so many stretches, fewer where there are many rows; of each, a curve
/// keeps the first value, the least, the greatest and the last.
const STRETCHES: f64 = 6_000.0;
/// Over all rows there are so many stretches.
const ALL_STRETCHES: f64 = 80_000.0;

#[derive(Serialize)]
struct Run<'a> {
    from: f64,
    to: f64,
    pauses: Vec<Span>,
    /// Which scheme came into use when.
    schemes: Vec<(f64, Cow<'a, str>)>,
    rows: Vec<Row<'a>>,
}

type Span = (f64, f64);

#[derive(Serialize)]
#[serde(tag = "kind", rename_all = "lowercase")]
enum Row<'a> {
    Device {
        name: String,
        spans: Vec<Span>,
    },
    Map {
        name: Cow<'a, str>,
        spans: Vec<Span>,
    },
    Control {
        name: String,
        #[serde(skip_serializing_if = "Option::is_none")]
        spans: Option<Vec<Span>>,
        #[serde(skip_serializing_if = "Option::is_none")]
        curves: Option<Vec<Curve>>,
        /// Of a turn, the components of its axis.
        #[serde(skip_serializing_if = "Option::is_none")]
        around: Option<Vec<Curve>>,
    },
    Action {
        name: Cow<'a, str>,
        pressed: Vec<Span>,
        pending: Vec<Span>,
        live: Vec<Span>,
        events: Vec<(f64, &'static str, &'static str)>,
        levels: [f64; 3],
        #[serde(skip_serializing_if = "Option::is_none")]
        curves: Option<Vec<Curve>>,
        #[serde(skip_serializing_if = "Option::is_none")]
        around: Option<Vec<Curve>>,
    },
}

#[derive(Serialize)]
struct Curve {
    name: String,
    /// Whether each value is a movement from 0 and back.
    moved: bool,
    points: Vec<(f64, f64)>,
}

/// The page.
pub fn html(picture: &Picture<'_>) -> Result<String, Failure> {
    let fault = |error: String| {
        Failure::new(format!("the page cannot be written: {error}"), "write .svg instead")
    };
    let run = data(picture)?;
    let mut pages = Environment::new();
    pages.add_template("page.html", include_str!("page.html")).map_err(|e| fault(e.to_string()))?;
    let page = pages.get_template("page.html").map_err(|e| fault(e.to_string()))?;
    // Inside of a script only its own end means something.
    let run = Value::from_safe_string(run.replace("</", "<\\/"));
    let script = concat!(include_str!("lanes.js"), include_str!("page.js"));
    let styles = include_str!("page.css");
    let policy = Value::from_safe_string(policy(script, styles));
    let [script, styles] = [script, styles].map(|text| Value::from_safe_string(text.to_owned()));
    let title = shown(picture.title);
    let page = page.render(context! { title, policy, run, script, styles });
    page.map_err(|error| fault(error.to_string()))
}

/// What the page draws, as JSON.
pub fn data(picture: &Picture<'_>) -> Result<String, Failure> {
    let json = serde_json::to_string(&run(picture));
    let json = json.map_err(|error| {
        Failure::new(format!("the run can't be told: {error}"), "write .svg instead")
    })?;
    Ok(shown_json(&json).into_owned())
}

/// The page that shows hands at work; `secret` leads to its socket, and `config` says what the profile has.
pub fn live(title: &str, secret: &str, config: &str) -> Result<String, Failure> {
    let fault = |error: minijinja::Error| {
        Failure::new(format!("the page cannot be made: {error}"), "try again")
    };
    let mut pages = Environment::new();
    pages.add_template("live.html", include_str!("live.html")).map_err(fault)?;
    let page = pages.get_template("live.html").map_err(fault)?;
    let script = concat!(include_str!("lanes.js"), include_str!("live.js"));
    let styles = concat!(include_str!("page.css"), include_str!("live.css"));
    let policy = format!("{}; connect-src 'self'", policy(script, styles));
    let policy = Value::from_safe_string(policy);
    let config = shown_json(config).replace("</", "<\\/");
    let [script, styles, config] =
        [script, styles, &config].map(|text| Value::from_safe_string(text.to_owned()));
    let title = shown(title);
    page.render(context! { title, policy, script, styles, config, secret }).map_err(fault)
}

/// What the page may do, as its Content Security Policy (W3C, level 3): run its own script, look
/// as its own styles say, and nothing else. Both are named by their SHA-256.
pub fn policy(script: &str, styles: &str) -> String {
    let hash = |text: &str| BASE64_STANDARD.encode(Sha256::digest(text));
    format!(
        "default-src 'none'; script-src 'sha256-{}'; style-src 'sha256-{}'; base-uri 'none'; \
         form-action 'none'",
        hash(script),
        hash(styles)
    )
}

fn run<'a>(picture: &Picture<'a>) -> Run<'a> {
    let rows = picture.runs.first().map_or(0, |run| run.lanes.lanes.len());
    let stretches = (ALL_STRETCHES / rows.max(1) as f64).clamp(1_000.0, STRETCHES);
    let stretch = (picture.to.seconds() - picture.from.seconds()) / stretches;
    let seen = Seen { from: picture.from, to: picture.to, stretch };
    let mut rows = Vec::new();
    let (mut pauses, mut schemes) = (Vec::new(), Vec::new());
    if let Some(&Shown { lanes, plan }) = picture.runs.first() {
        pauses = seen.spans(lanes.around.pauses.iter().copied());
        let named = |seat: Seat| Some(seat).filter(|_| lanes.seats > 1);
        let changes = lanes.around.schemes.iter().filter(|(_, seat, _)| picture.shows_seat(*seat));
        schemes.extend(changes.map(|(t, seat, scheme)| {
            (t.seconds(), of_seat(named(*seat), &plan.names().schemes[*scheme]))
        }));
        for (seat, map, spans) in &lanes.around.maps {
            if picture.shows_seat(*seat) {
                let spans = seen.spans(spans.iter().copied());
                rows.push(Row::Map {
                    name: of_seat(named(*seat), &plan.names().maps[*map]),
                    spans,
                });
            }
        }
        for (device, spans) in lanes.around.devices_there(lanes.end) {
            let spans = seen.spans(spans.iter().map(|(from, to, _)| (*from, *to)));
            rows.push(Row::Device { name: plan.catalogue().device_name(device), spans });
        }
        let controls = lanes.around.controls.iter().filter(|one| one.moves());
        rows.extend(controls.map(|one| seen.control(plan, one)));
        for lane in &lanes.lanes {
            if picture.shows(lane, !lane.is_quiet()) {
                rows.push(seen.action(plan, lane, named(lane.seat)));
            }
        }
    }
    Run { from: picture.from.seconds(), to: picture.to.seconds(), pauses, schemes, rows }
}

/// What part of a run is seen, and how finely.
struct Seen {
    from: Time,
    to: Time,
    stretch: f64,
}

impl Seen {
    /// Stretches; such as cannot be told apart are one.
    fn spans(&self, spans: impl Iterator<Item = (Time, Time)>) -> Vec<Span> {
        let mut all: Vec<Span> = Vec::new();
        for (from, to) in spans.filter(|(from, to)| *to >= self.from && *from <= self.to) {
            let (from, to) = (from.seconds(), to.seconds());
            match all.last_mut().filter(|last| to - last.0 < self.stretch) {
                Some(last) => last.1 = to,
                None => all.push((from, to)),
            }
        }
        all
    }

    fn control<'a>(&self, plan: &'a Plan, control: &ControlLane) -> Row<'a> {
        let name = control.name(plan);
        let kind = plan.controls()[control.control].kind;
        if kind == ControlKind::Button {
            let spans = Some(self.spans(control.held(self.to).into_iter()));
            return Row::Control { name, spans, curves: None, around: None };
        }
        let drawn = Drawn::of(kind.yields(), &control.values);
        let curves = self.curves(&drawn.values, drawn.count, kind == ControlKind::Relative);
        let around = self.around(&drawn);
        Row::Control { name, spans: None, curves: Some(curves), around }
    }

    fn action<'a>(&self, plan: &'a Plan, lane: &Lane, seat: Option<Seat>) -> Row<'a> {
        let spec = &plan.actions()[lane.action];
        let of = |state: State| {
            let spans = lane.spans.iter().filter(move |(.., one)| *one == state);
            self.spans(spans.map(|(from, to, _)| (*from, *to)))
        };
        let drawn = Drawn::of(spec.kind, &lane.values);
        let curves = self.curves(&drawn.values, drawn.count, false);
        Row::Action {
            name: of_seat(seat, &plan.names().actions[lane.action]),
            pressed: self.spans(lane.pressed.iter().copied()),
            pending: of(State::Pending),
            live: of(State::Live),
            events: self.events(lane),
            levels: [spec.wake, spec.down, spec.up],
            curves: Some(curves).filter(|_| !lane.values.is_empty()),
            around: self.around(&drawn),
        }
    }

    /// Of a turn, the components of its axis.
    fn around(&self, drawn: &Drawn<'_>) -> Option<Vec<Curve>> {
        Some(self.curves(drawn.axes.as_deref()?, 3, false))
    }

    fn events(&self, lane: &Lane) -> Vec<(f64, &'static str, &'static str)> {
        let mut all: Vec<(f64, &'static str, &'static str)> = Vec::new();
        let seen = lane.marks.iter().filter(|(t, _)| *t >= self.from && *t <= self.to);
        for (t, mark) in seen {
            let (kind, cause) = match mark {
                Mark::Wake => ("wake", ""),
                Mark::Fire => ("fire", ""),
                Mark::Lapse(cause) => ("lapse", cause.word()),
                Mark::Rest(cause) => ("rest", cause.word()),
            };
            let t = t.seconds();
            let mut last = all.iter().rev().take(8);
            if !last.any(|(at, of, _)| *of == kind && t - at < self.stretch) {
                all.push((t, kind, cause));
            }
        }
        all
    }

    fn curves(&self, values: &[(Time, Vector)], count: usize, moved: bool) -> Vec<Curve> {
        let curve = |component: Component| Curve {
            name: if count > 1 { component.letter().to_string() } else { String::new() },
            moved,
            points: self.points(values.iter().map(|(t, v)| {
                let rounded = (v.component(component) * 1e6).round() / 1e6;
                (t.seconds(), rounded)
            })),
        };
        Component::ALL.into_iter().take(count).map(curve).collect()
    }

    /// A curve's points, four for a stretch at most.
    fn points(&self, values: impl Iterator<Item = (f64, f64)>) -> Vec<(f64, f64)> {
        let mut all: Vec<(f64, f64)> = Vec::new();
        let mut begun = 0;
        for (t, value) in values {
            if all.last().is_some_and(|last| last.1 == value) {
                continue;
            }
            if all.get(begun).is_none_or(|first| t - first.0 >= self.stretch) {
                begun = all.len();
            } else if all.len() - begun >= 4 {
                // Least and greatest stay in the middle, the last one at the end.
                let last = all.len() - 1;
                for place in [begun + 1, begun + 2] {
                    let is_least = place == begun + 1;
                    if (all[last].1 < all[place].1) == is_least && all[last].1 != all[place].1 {
                        all[place].1 = all[last].1;
                    }
                }
                all[last] = (t, value);
                continue;
            }
            all.push((t, value));
        }
        all
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use harmonym_lab::take::{Playing, Reader};
    use harmonym_lab::trace::Lanes;
    use harmonym_lang::source::Source;
    use std::sync::Arc;

    const PROFILE: &str = "harmonym = 1\nscheme.pad.devices = [\"pad\"]\n[map.quay]\nstart = true\n\
                           [map.quay.walk]\nvalue = \"plane\"\nbind.pad = \"pad.left-stick\"\n\
                           [map.quay.hail]\nvalue = \"switch\"\nbind.pad = \"pad.south\"\n\
                           fire = \"hold 0.5s\"\n";

    /// The page of some hands, and the run in it.
    fn page(title: &str, lines: impl Iterator<Item = String>) -> (String, serde_json::Value) {
        let (_, plan) = harmonym_lang::load(&Source::new("t", PROFILE)).expect("sound");
        let plan = Arc::new(plan);
        let (mut reader, _) = Reader::new("t", "{\"take\":1}", &plan).expect("a header");
        let inputs: Vec<_> = lines.filter_map(|line| reader.line(&line).expect("a line")).collect();
        let rate = harmonym_runtime::base::Rate::DEFAULT;
        let lanes = Lanes::of_inputs(&plan, Playing::at(rate), inputs);
        let runs = [Shown { lanes: &lanes, plan: &plan }];
        let (from, to) = (Time::ZERO, lanes.end);
        let picture =
            Picture { title, runs: &runs, names: ["", ""], from, to, only: None, seat: None };
        let page = html(&picture).unwrap_or_else(|failure| panic!("{failure:?}"));
        let data = page.split("id=\"run\">").nth(1).expect("a run");
        let data = data.split("</script>").next().expect("its end");
        let run = serde_json::from_str(data).expect("JSON");
        (page, run)
    }

    fn row<'r>(run: &'r serde_json::Value, name: &str) -> &'r serde_json::Value {
        let rows = run["rows"].as_array().expect("rows");
        rows.iter().find(|row| row["name"] == name).expect(name)
    }

    fn numbers(points: &serde_json::Value) -> Vec<(f64, f64)> {
        let all = points.as_array().expect("points").iter();
        all.map(|p| (p[0].as_f64().unwrap(), p[1].as_f64().unwrap())).collect()
    }

    #[test]
    fn peaks_of_very_many_values_stay() {
        let value = |i: u32| match i {
            77_777 => 1.0,
            55_555 => -1.0,
            i => f64::from(i % 13) / 26.0,
        };
        let lines = (0..100_000_u32).map(|i| {
            let t = Time::from_nanos(u64::from(i) * 1_000_000);
            format!("{{\"t\":{t},\"control\":\"pad.left-stick\",\"value\":[{},0.5]}}", value(i))
        });
        let (_, run) = page("Many", lines);
        for name in ["pad.left-stick", "quay.walk"] {
            let curves = row(&run, name)["curves"].as_array().expect("curves");
            assert_eq!(curves.len(), 2, "x and y");
            let points = numbers(&curves[0]["points"]);
            assert!(points.len() < 30_000, "{}", points.len());
            assert!(points.windows(2).all(|pair| pair[0].0 <= pair[1].0), "in order of time");
            let most = points.iter().map(|p| p.1).fold(0.0, f64::max);
            let least = points.iter().map(|p| p.1).fold(0.0, f64::min);
            if name == "pad.left-stick" {
                assert_eq!((least, most), (-1.0, 1.0));
            }
            // What does not change is one point.
            assert!(numbers(&curves[1]["points"]).len() <= 2);
        }
    }

    #[test]
    fn episodes_and_their_ends_are_in_it() {
        let at =
            |t: &str, on: u8| format!("{{\"t\":{t},\"control\":\"pad.south\",\"value\":{on}}}");
        let lines = [at("0.2", 1), at("0.9", 0), at("1.5", 1), at("1.6", 0)];
        let (_, run) = page("Two", lines.into_iter());
        let hail = row(&run, "quay.hail");
        assert_eq!(numbers(&hail["pending"]), [(0.2, 0.7), (1.5, 1.6)]);
        assert_eq!(numbers(&hail["live"]), [(0.7, 0.9)]);
        assert_eq!(numbers(&hail["pressed"]), [(0.2, 0.9), (1.5, 1.6)]);
        let events: Vec<String> =
            hail["events"].as_array().unwrap().iter().map(ToString::to_string).collect();
        assert_eq!(
            events,
            [
                "[0.2,\"wake\",\"\"]",
                "[0.7,\"fire\",\"\"]",
                "[0.9,\"rest\",\"released\"]",
                "[1.5,\"wake\",\"\"]",
                "[1.6,\"lapse\",\"too-short\"]",
            ]
        );
        assert_eq!(numbers(&row(&run, "pad.south")["spans"]), [(0.2, 0.9), (1.5, 1.6)]);
        let rows = run["rows"].as_array().unwrap();
        assert!(rows.iter().all(|row| row["name"] != "quay.walk"), "nothing happened to it");
    }

    #[test]
    fn a_title_is_only_a_title() {
        let (page, _) = page("</script><b>&\"", std::iter::empty());
        assert!(!page.contains("<b>"), "it is escaped");
        let (turned, _) = self::page("\u{202e}\u{1b}[2J\u{ffff}", std::iter::empty());
        assert!(turned.contains("\\u{202e}\\u{1b}[2J\\u{ffff}"), "it is written out");
        assert_eq!(page.matches("</script>").count(), 2);
    }

    #[test]
    fn the_page_runs_its_own_script_and_nothing_else() {
        let (page, _) = page("One", std::iter::empty());
        // What stands between the tags is what the policy names, to the byte.
        for (tag, directive) in [("script", "script-src"), ("style", "style-src")] {
            let (_, inside) = page.split_once(&format!("<{tag}>")).expect(tag);
            let (inside, _) = inside.split_once(&format!("</{tag}>")).expect("its end");
            let hash = BASE64_STANDARD.encode(Sha256::digest(inside));
            assert!(page.contains(&format!("{directive} 'sha256-{hash}'")), "{tag}");
        }
        assert!(page.contains("default-src 'none'"));
        let attributes = page.split('<').filter_map(|tag| tag.split_once('>')).map(|(tag, _)| tag);
        assert!(!attributes.clone().any(|tag| tag.contains(" style=")), "styles have a class");
        assert!(!attributes.clone().any(|tag| tag.contains(" on")), "handlers are in the script");
    }
}
