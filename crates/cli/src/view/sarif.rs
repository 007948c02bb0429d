//! SARIF 2.1.0 (OASIS): diagnostics for code hosts and editors.

use harmonym_lab::check::RULES;
use harmonym_lang::report::Diagnostic;
use harmonym_lang::source::Source;
use serde_json::{Value, json};

/// Where the schema of the format is, as SARIF files say.
const SCHEMA: &str = "https://json.schemastore.org/sarif-2.1.0.json";

/// What was found, each with the text that it stands in.
pub fn log<'a>(all: impl Iterator<Item = (&'a Source, &'a Diagnostic)>) -> String {
    let results: Vec<Value> = all.map(|(source, one)| result(source, one)).collect();
    let log = json!({
        "$schema": SCHEMA,
        "version": "2.1.0",
        "runs": [{
            "tool": { "driver": driver() },
            "columnKind": "unicodeCodePoints",
            "results": results,
        }],
    });
    serde_json::to_string_pretty(&log).unwrap_or_default()
}

/// One result.
fn result(source: &Source, told: &Diagnostic) -> Value {
    let Diagnostic { rule, level, address, span, message, help, .. } = told;
    // What it is about, whichever line that stands in.
    let what = address.as_deref().unwrap_or(message);
    let (start, end) = (source.place(span.start), source.place(span.end));
    let name = source.name();
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
        "partialFingerprints": { "harmonym/v1": fingerprint(&format!("{rule}\n{what}\n{name}")) },
    });
    if let Some(index) = RULES.iter().position(|one| one.name == *rule) {
        result["ruleIndex"] = index.into();
    }
    result
}

/// A path as a relative reference: parts between slashes, what is not allowed in one escaped.
fn uri(path: &str) -> String {
    let plain = |b: u8| b.is_ascii_alphanumeric() || b"-._~/".contains(&b);
    let bytes = path.replace('\\', "/").into_bytes();
    bytes
        .into_iter()
        .map(|b| if plain(b) { char::from(b).to_string() } else { format!("%{b:02X}") })
        .collect()
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
        "semanticVersion": env!("CARGO_PKG_VERSION"),
        "rules": rules.collect::<Vec<_>>(),
    })
}
