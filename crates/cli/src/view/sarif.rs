//! SARIF 2.1.0 (OASIS): findings for code hosts and editors.

use harmonym_lab::check::{Diagnostic, Level, RULES, Review};
use harmonym_lang::report::Finding;
use harmonym_lang::source::{Source, Span};
use serde_sarif::sarif::{
    ArtifactLocation, Location, Message, MultiformatMessageString, PhysicalLocation, Region,
    ReportingConfiguration, ReportingDescriptor, Result as SarifResult, ResultLevel, Run, Sarif,
    Tool, ToolComponent,
};
use std::collections::BTreeMap;

/// What was found in a profile and its scores.
pub fn of_review(review: &Review) -> String {
    let results = review.diagnostics.iter().map(|one| of_one(review.source(one), one));
    log(results.collect())
}

/// The faults of a profile.
pub fn of_faults(source: &Source, faults: &[Finding]) -> String {
    let results = faults.iter().map(|fault| {
        let (rule, help) = (fault.rule.name(), fault.help.as_str());
        result(source, rule, Level::Error, (&fault.message, help), fault.span, rule)
    });
    log(results.collect())
}

fn of_one(source: &Source, told: &Diagnostic) -> SarifResult {
    let what = told.address.as_deref().unwrap_or(&told.message);
    let texts = (told.message.as_str(), told.help.as_str());
    result(source, &told.rule, told.level, texts, told.span, what)
}

/// One result; `what` is what it is about, whichever line that stands in.
fn result(
    source: &Source,
    rule: &str,
    level: Level,
    (message, help): (&str, &str),
    span: Span,
    what: &str,
) -> SarifResult {
    let (start, end) = (source.place(span.start), source.place(span.end));
    let number = |n: usize| i64::try_from(n).unwrap_or(i64::MAX);
    let region = Region::builder()
        .start_line(number(start.line))
        .start_column(number(start.column))
        .end_line(number(end.line))
        .end_column(number(end.column))
        .build();
    let file = ArtifactLocation::builder().uri(uri(source.name())).build();
    let place = PhysicalLocation::builder().artifact_location(file).region(region).build();
    let text = if help.is_empty() { message.to_owned() } else { format!("{message}. {help}") };
    let known = RULES.iter().position(|one| one.name == rule);
    let name = source.name();
    let print = fingerprint(&format!("{rule}\n{what}\n{name}"));
    let prints = BTreeMap::from([("harmonym/v1".to_owned(), print)]);
    let mut result = SarifResult::builder()
        .rule_id(rule)
        .level(match level {
            Level::Error => ResultLevel::Error,
            Level::Warning => ResultLevel::Warning,
            Level::Note => ResultLevel::Note,
        })
        .message(Message::builder().text(text).build())
        .locations(vec![Location::builder().physical_location(place).build()])
        .partial_fingerprints(prints)
        .build();
    result.rule_index = known.map(number);
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

fn log(results: Vec<SarifResult>) -> String {
    let words = |text: &str| MultiformatMessageString::builder().text(text).build();
    let rules: Vec<ReportingDescriptor> = RULES
        .iter()
        .map(|rule| {
            let level = serde_json::Value::from(rule.level.word());
            let help = format!("{} See `harmonym check --explain {}`.", rule.why, rule.name);
            ReportingDescriptor::builder()
                .id(rule.name)
                .short_description(words(rule.finds))
                .full_description(words(&format!("{} {}", rule.finds, rule.why)))
                .help(words(&help))
                .default_configuration(ReportingConfiguration::builder().level(level).build())
                .build()
        })
        .collect();
    let driver = ToolComponent::builder()
        .name("harmonym")
        .semantic_version(env!("CARGO_PKG_VERSION"))
        .rules(rules)
        .build();
    let run = Run::builder()
        .tool(Tool::builder().driver(driver).build())
        .column_kind(serde_json::Value::from("unicodeCodePoints"))
        .results(results)
        .build();
    let sarif = Sarif::builder()
        .schema("https://json.schemastore.org/sarif-2.1.0.json")
        .version(serde_json::Value::from("2.1.0"))
        .runs(vec![run])
        .build();
    serde_json::to_string_pretty(&sarif).unwrap_or_default()
}
