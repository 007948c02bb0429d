//! The form that nearly every line of a take has, read without a JSON parser.

use super::line::Components;

/// A line as it is written: its time, its control and its value.
pub(super) struct Plain<'a> {
    pub t: &'a str,
    pub control: &'a str,
    pub value: Components,
    /// Whether that is what it moved by.
    pub is_by: bool,
}

/// Reads `{"t":NUMBER,"control":"NAME","value":NUMBER or [NUMBER,…]}`, or `"by"` in place of
/// `"value"`, without spaces or escapes.
/// `None` for every other line: it may be sound all the same, or have a fault.
pub(super) fn plain_report(line: &str) -> Option<Plain<'_>> {
    let (t, rest) = number(line.strip_prefix("{\"t\":")?)?;
    let rest = rest.strip_prefix(",\"control\":\"")?;
    let end = rest.bytes().position(|b| b == b'"' || b == b'\\' || b < b' ')?;
    let (control, rest) = rest.split_at(end);
    let (is_by, mut rest) = match rest.strip_prefix("\",\"value\":") {
        Some(rest) => (false, rest),
        None => (true, rest.strip_prefix("\",\"by\":")?),
    };
    let mut value = Components { numbers: [0.0; 4], len: 0, is_list: false };
    if let Some(list) = rest.strip_prefix('[') {
        value.is_list = true;
        rest = list;
    }
    loop {
        let (text, after) = number(rest)?;
        *value.numbers.get_mut(value.len)? = text.parse().ok().filter(|n: &f64| n.is_finite())?;
        value.len += 1;
        rest = after;
        match value.is_list.then(|| rest.strip_prefix(',')).flatten() {
            Some(more) => rest = more,
            None => break,
        }
    }
    let close = if value.is_list { "]}" } else { "}" };
    (rest == close).then_some(Plain { t, control, value, is_by })
}

/// Splits off a number as JSON writes it (RFC 8259, section 6), without an exponent.
fn number(text: &str) -> Option<(&str, &str)> {
    let digits = |from: usize| text[from..].bytes().take_while(u8::is_ascii_digit).count();
    let start = usize::from(text.starts_with('-'));
    let whole = digits(start);
    if whole == 0 || (whole > 1 && text[start..].starts_with('0')) {
        return None;
    }
    let mut end = start + whole;
    if text[end..].starts_with('.') {
        let fraction = digits(end + 1);
        if fraction == 0 {
            return None;
        }
        end += 1 + fraction;
    }
    (!text[end..].starts_with(['e', 'E'])).then_some(text.split_at(end))
}

#[cfg(test)]
mod tests {
    use super::super::line::Line;
    use super::*;
    use serde_json::value::RawValue;

    /// Whatever the quick way reads, the JSON parser reads too, and as the same.
    #[test]
    fn it_reads_nothing_that_the_parser_would_not() {
        let mut quick = 0;
        for line in [
            r#"{"t":0.25,"control":"key.KeyA","value":1}"#,
            r#"{"t":12,"control":"pad.left-stick","value":[-0.5,0.75]}"#,
            r#"{"t":1e3,"control":"key.KeyA","value":1}"#,
            r#"{"t":01,"control":"key.KeyA","value":1}"#,
            r#"{"t":1.,"control":"key.KeyA","value":1}"#,
            r#"{"t":-,"control":"key.KeyA","value":1}"#,
            r#"{"t":1,"control":"key.\u004beyA","value":1}"#,
            r#"{"t":1,"control":"key.KeyA","value":[1,2,3,4,5]}"#,
            r#"{"t":1,"control":"key.KeyA","value":[]}"#,
            r#"{"t":1,"control":"key.KeyA","value":[1,]}"#,
            r#"{"t":1,"control":"key.KeyA","value":1}}"#,
            r#"{"t":1,"control":"key.KeyA","value":1"#,
            r#"{"t":1,"value":1,"control":"key.KeyA"}"#,
            r#"{"t":1,"control":"mouse.move","by":[3,-1]}"#,
        ] {
            let Some(plain) = plain_report(line) else { continue };
            quick += 1;
            let slow: Line<'_> = serde_json::from_str(line).expect(line);
            assert_eq!(slow.t.map(RawValue::get), Some(plain.t));
            assert_eq!(slow.control.as_deref(), Some(plain.control));
            assert_eq!(if plain.is_by { slow.by } else { slow.value }, Some(plain.value));
        }
        assert_eq!(quick, 3);
    }
}
