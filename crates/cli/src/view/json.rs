//! JSON Lines.

use harmonym_lab::check::Diagnostic;
use harmonym_lab::take::End;
use harmonym_lang::report::Finding;
use harmonym_lang::source::{Source, Span};
use harmonym_runtime::base::{Kind, Rate, Time, Vector, shortest};
use harmonym_runtime::engine::{Event, EventKind, Frame, Notice};
use harmonym_runtime::plan::Plan;
use std::fmt::Write;

/// Lines about one run. Every line is written to memory, which does not fail.
pub struct Lines<'a> {
    pub plan: &'a Plan,
}

fn quoted(text: &str) -> String {
    serde_json::Value::from(text).to_string()
}

impl Lines<'_> {
    pub fn start(&self, out: &mut String, title: Option<&str>, rate: Rate) {
        let _ = write!(out, "{{\"kind\":\"start\",\"format\":1");
        if let Some(title) = title {
            let _ = write!(out, ",\"title\":{}", quoted(title));
        }
        let _ = writeln!(out, ",\"rate\":{rate}}}");
    }

    pub fn notice(&self, out: &mut String, notice: Notice) {
        match notice {
            Notice::Event(event) => self.event(out, &event),
            Notice::Scheme { t, tick, scheme } => {
                let scheme = &self.plan.names().schemes[scheme];
                let head = r#"{"kind":"scheme","t":"#;
                let _ =
                    writeln!(out, "{head}{t},\"tick\":{tick},\"seat\":1,\"scheme\":\"{scheme}\"}}");
            }
            Notice::Map { t, tick, map, open } => {
                let map = &self.plan.names().maps[map];
                let head = r#"{"kind":"map","t":"#;
                let _ = write!(out, "{head}{t},\"tick\":{tick},\"seat\":1,\"map\":\"{map}\"");
                let _ = writeln!(out, ",\"open\":{open}}}");
            }
            Notice::Pause { t, tick, paused } => {
                let head = r#"{"kind":"pause","t":"#;
                let _ = writeln!(out, "{head}{t},\"tick\":{tick},\"paused\":{paused}}}");
            }
        }
    }

    fn event(&self, out: &mut String, event: &Event) {
        let names = self.plan.names();
        let _ = write!(out, "{{\"kind\":\"event\",\"t\":{},\"tick\":{}", event.t, event.tick);
        out.push_str(",\"seat\":1,\"action\":\"");
        out.push_str(&names.actions[event.action]);
        out.push_str("\",\"event\":\"");
        out.push_str(event.kind.word());
        out.push_str("\",\"value\":");
        write_value(out, event.value, self.plan.actions()[event.action].kind);
        let _ = write!(out, ",\"held\":{}", Time::from(event.held));
        if let Some(fired_for) = event.fired_for {
            let _ = write!(out, ",\"fired_for\":{}", Time::from(fired_for));
        }
        let _ = write!(out, ",\"progress\":{}", shortest(event.progress));
        if let Some(binding) = event.from {
            let _ = write!(out, ",\"from\":\"{}\"", names.bindings[binding]);
        }
        if let EventKind::Fire(by, since) = event.kind {
            let _ = write!(out, ",\"by\":{}", quoted(&names.alternatives[by]));
            if let Some(since) = since {
                let _ = write!(out, ",\"since\":{since}");
            }
        }
        if let Some(cause) = event.kind.cause() {
            let _ = write!(out, ",\"cause\":\"{}\"", cause.word());
        }
        out.push_str("}\n");
    }

    /// The values of `shown` that differ from the tick before; nothing if there are none.
    pub fn values(
        &self,
        out: &mut String,
        frame: Frame<'_>,
        t: Time,
        shown: impl Fn(harmonym_runtime::base::ActionId) -> bool,
    ) {
        let mut before = "{";
        let in_order = self.plan.by_file().iter().copied();
        for action in in_order.filter(|&action| frame.has_changed(action) && shown(action)) {
            if before == "{" {
                let tick = frame.ticks();
                let _ = write!(
                    out,
                    "{{\"kind\":\"values\",\"t\":{t},\"tick\":{tick},\"seat\":1,\"values\":"
                );
            }
            let _ = write!(out, "{before}\"{}\":", self.plan.names().actions[action]);
            write_value(out, frame.value(action), self.plan.actions()[action].kind);
            before = ",";
        }
        if before == "," {
            out.push_str("}}\n");
        }
    }

    pub fn end(&self, out: &mut String, end: End) {
        let _ = writeln!(out, "{{\"kind\":\"end\",\"t\":{},\"tick\":{}}}", end.t, end.tick);
    }
}

fn write_value(out: &mut String, value: Vector, kind: Kind) {
    let _ = match kind {
        Kind::Switch => write!(out, "{}", value.x != 0.0),
        Kind::Axis => write!(out, "{}", shortest(value.x)),
        Kind::Plane => write!(out, "[{},{}]", shortest(value.x), shortest(value.y)),
        Kind::Space => {
            let [x, y, z] = value.xyz().map(shortest);
            write!(out, "[{x},{y},{z}]")
        }
        Kind::Turn => {
            let [x, y, z, w] = value.shown(kind).map(shortest);
            write!(out, "[{x},{y},{z},{w}]")
        }
    };
}

/// One fault, as a line.
pub fn write_finding(out: &mut String, source: &Source, finding: &Finding) {
    let _ = write!(out, "{{\"rule\":\"{}\",\"level\":\"error\"", finding.rule.name());
    write_rest(out, source, finding.span, &finding.message, &finding.help);
}

/// One thing that the checker tells, as a line.
pub fn write_diagnostic(out: &mut String, source: &Source, told: &Diagnostic) {
    let _ = write!(out, "{{\"rule\":\"{}\",\"level\":\"{}\"", told.rule, told.level.word());
    if let Some(address) = &told.address {
        let _ = write!(out, ",\"address\":{}", quoted(address));
    }
    write_rest(out, source, told.span, &told.message, &told.help);
}

fn write_rest(out: &mut String, source: &Source, span: Span, message: &str, help: &str) {
    let (start, end) = (source.place(span.start), source.place(span.end));
    let _ = write!(out, ",\"message\":{}", quoted(message));
    if !help.is_empty() {
        let _ = write!(out, ",\"help\":{}", quoted(help));
    }
    let file = quoted(source.name());
    let _ = write!(out, ",\"file\":{file},\"line\":{},\"column\":{}", start.line, start.column);
    let _ = writeln!(out, ",\"end_line\":{},\"end_column\":{}}}", end.line, end.column);
}
