//! The JSON Schema of `harmonym.toml`, for editors and linters of TOML: its keys and values. What stands
//! inside of expressions is text to it. Only words that JSON Schema has had since draft-07.

use harmonym_lang::profile::number::Number;
use harmonym_lang::profile::table::{self, Holds, Key, Keyword};
use harmonym_runtime::base::{ControlKind, MAX_NAME, MOST_SEATS};
use serde_json::{Map, Value, json};

/// The schema of a whole profile.
pub fn schema() -> Value {
    let mut whole = object(table::TOP, top);
    whole["required"] = json!(["harmonym"]);
    whole
}

/// A table of keys; what each holds is told by `of`, or else by the key itself.
fn object(keys: &[Key], of: fn(&str) -> Option<Value>) -> Value {
    let property = |key: &Key| {
        let mut value = of(key.name).unwrap_or_else(|| held(key));
        if let Some(value) = value.as_object_mut() {
            value.insert("description".to_owned(), described(key).into());
        }
        (key.name.to_owned(), value)
    };
    let properties: Map<String, Value> = keys.iter().map(property).collect();
    let needed: Vec<&str> =
        keys.iter().filter(|key| key.otherwise == "required").map(|key| key.name).collect();
    json!({
        "type": "object",
        "properties": properties,
        "required": needed,
        "additionalProperties": false,
    })
}

fn described(key: &Key) -> String {
    match key.otherwise {
        "required" => key.says.to_owned(),
        otherwise => format!("{}; if left out: {otherwise}", key.says),
    }
}

/// What a key holds, by the kind of that.
fn held(key: &Key) -> Value {
    match key.holds {
        Holds::Text => json!({ "type": "string" }),
        Holds::Word(words) => one_of(words),
        Holds::Number => json!({ "type": "number" }),
        Holds::Switch => json!({ "type": "boolean" }),
        Holds::Either => json!({ "type": ["number", "boolean"] }),
        Holds::Texts => texts(&json!({ "type": "string" })),
        Holds::Range => json!({
            "type": "array",
            "items": { "type": "number" },
            "minItems": 2,
            "maxItems": 2,
        }),
        Holds::Table => json!({ "type": "object" }),
    }
}

fn one_of(words: &[Keyword]) -> Value {
    json!({ "enum": words.iter().map(|word| word.name).collect::<Vec<_>>() })
}

fn texts(of: &Value) -> Value {
    json!({ "type": "array", "items": of })
}

fn rules() -> Value {
    texts(&json!({ "enum": table::RULES }))
}

/// A table whose keys are names.
fn named(of: &Value) -> Value {
    json!({
        "type": "object",
        "propertyNames": name(),
        "additionalProperties": of,
    })
}

fn name() -> Value {
    json!({ "pattern": "^[a-z][a-z0-9]*(-[a-z0-9]+)*$", "maxLength": MAX_NAME })
}

fn top(key: &str) -> Option<Value> {
    Some(match key {
        "harmonym" => json!({ "const": 1 }),
        "seats" => json!({ "type": "integer", "minimum": 1, "maximum": MOST_SEATS }),
        "waive" => rules(),
        "scheme" => named(&object(table::SCHEME, |_| None)),
        "device" => named(&object(table::DEVICE, device)),
        "setting" => named(&object(table::SETTING, |_| None)),
        "fact" => named(&object(table::FACT, |_| None)),
        "preset" => named(&json!({ "type": "string" })),
        "map" => {
            let mut map = object(table::MAP, map);
            map["additionalProperties"] = object(table::ACTION, action);
            named(&map)
        }
        _ => return None,
    })
}

fn device(key: &str) -> Option<Value> {
    let kinds: Vec<&str> = ControlKind::ALL.iter().map(|kind| kind.word()).collect();
    Some(match key {
        "controls" => named(&json!({ "enum": kinds })),
        "as" => named(&json!({ "type": "string" })),
        _ => return None,
    })
}

fn map(key: &str) -> Option<Value> {
    Some(match key {
        "rank" => {
            let Number { least, most, .. } = table::RANK;
            json!({ "type": "integer", "minimum": least, "maximum": most })
        }
        "waive" => rules(),
        _ => return None,
    })
}

fn action(key: &str) -> Option<Value> {
    Some(match key {
        "bind" => {
            let binding =
                json!({ "anyOf": [{ "type": "string" }, object(table::BINDING, |_| None)] });
            named(&json!({ "anyOf": [binding, texts(&binding)] }))
        }
        "levels" => object(table::LEVELS, |_| {
            let Number { least, most, .. } = table::LEVEL;
            Some(json!({ "type": "number", "exclusiveMinimum": least, "maximum": most }))
        }),
        "waive" => rules(),
        _ => return None,
    })
}
