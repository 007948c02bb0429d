//! SARIF 2.1.0 (OASIS): diagnostics for code hosts and editors.

use crate::escape::shown_json;
use harmonym_lab::check::RULES;
use harmonym_lang::report::Diagnostic;
use harmonym_lang::source::Source;
use serde_json::{Value, json};
use std::collections::HashMap;

/// Where the schema of the format is, as SARIF files say.
const SCHEMA: &str = "https://json.schemastore.org/sarif-2.1.0.json";

/// What names the tool; there is no page of it.
const INFORMATION: &str = "urn:harmonym:check";

/// What was found, each with the text that it stands in.
pub fn log<'a>(all: impl Iterator<Item = (&'a Source, &'a Diagnostic)>) -> String {
    let mut seen = HashMap::new();
    let results: Vec<Value> = all.map(|(source, one)| result(source, one, &mut seen)).collect();
    let log = json!({
        "$schema": SCHEMA,
        "version": "2.1.0",
        "runs": [{
            "tool": { "driver": driver() },
            "columnKind": "unicodeCodePoints",
            "results": results,
        }],
    });
    shown_json(&serde_json::to_string_pretty(&log).unwrap_or_default()).into_owned()
}

/// One result; `seen` counts how often one of its kind was.
fn result(source: &Source, told: &Diagnostic, seen: &mut HashMap<String, usize>) -> Value {
    let Diagnostic { rule, level, address, span, message, help, .. } = told;
    // What it is about, whichever line that stands in.
    let what = address.as_deref().unwrap_or(message);
    let (start, end) = (source.place(span.start), source.place(span.end));
    let name = source.name();
    // Of several of a kind each has its own: the lines between them don't count.
    let kind = format!("{rule}\n{what}\n{name}");
    let count = seen.entry(kind.clone()).and_modify(|count| *count += 1).or_insert(0);
    let mark = match *count {
        0 => fingerprint(&kind),
        count => fingerprint(&format!("{kind}\n{count}")),
    };
    let text = if help.is_empty() { message.clone() } else { format!("{message}. {help}") };
    let mut result = json!({
        "ruleId": rule,
        "level": level.word(),
        "message": { "text": text },
        "locations": [{ "physicalLocation": {
            "artifactLocation": { "uri": uri(name) },
            "region": {
                "startLine": start.line,
                "startColumn": start.column,
                "endLine": end.line,
                "endColumn": end.column,
            },
        }}],
        "partialFingerprints": { "harmonym/v1": mark },
    });
    if let Some(index) = RULES.iter().position(|one| one.name == *rule) {
        result["ruleIndex"] = index.into();
    }
    result
}

/// A path as a URI reference, a relative one where it is (RFC 3986): parts between slashes, what is
/// not allowed in one escaped.
fn uri(path: &str) -> String {
    let scheme = if path.starts_with('/') { "file://" } else { "" };
    let plain = |b: u8| b.is_ascii_alphanumeric() || b"-._~/".contains(&b);
    let bytes = path.replace('\\', "/").into_bytes();
    let parts = bytes
        .into_iter()
        .map(|b| if plain(b) { char::from(b).to_string() } else { format!("%{b:02X}") });
    std::iter::once(scheme.to_owned()).chain(parts).collect()
}

/// FNV-1a over 64 bits: the same on every machine, whatever else changes in the file.
fn fingerprint(text: &str) -> String {
    let hash = text.bytes().fold(0xcbf2_9ce4_8422_2325_u64, |hash, byte| {
        (hash ^ u64::from(byte)).wrapping_mul(0x0100_0000_01b3)
    });
    format!("{hash:016x}")
}

/// The tool, with all of its rules.
fn driver() -> Value {
    let rules = RULES.iter().map(|rule| {
        let help = format!("{} See `harmonym check --explain {}`.", rule.why, rule.name);
        json!({
            "id": rule.name,
            "shortDescription": { "text": rule.finds },
            "fullDescription": { "text": format!("{} {}", rule.finds, rule.why) },
            "help": { "text": help },
            "defaultConfiguration": { "level": rule.level.word() },
        })
    });
    json!({
        "name": "harmonym",
        "informationUri": INFORMATION,
        "semanticVersion": env!("CARGO_PKG_VERSION"),
        "rules": rules.collect::<Vec<_>>(),
    })
}
