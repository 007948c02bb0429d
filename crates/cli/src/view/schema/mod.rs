//! JSON Schemas of what is written and read as JSON Lines: each line is valid by the schema of its format
//! (JSON Schema, draft 2020-12); and that of a profile (draft-07).

mod field;
mod profile;
mod table;

use field::{Field, Format, Lines, Type};
use harmonym_runtime::pack::line::Line;
use schemars::generate::SchemaSettings;
use serde_json::{Map, Value, json};
pub use table::FORMATS;

/// The schema of a line of a format, if there is such a format.
pub fn schema(name: &str) -> Option<Value> {
    let format = FORMATS.iter().find(|format| format.name == name)?;
    let mut schema = match format.lines {
        Lines::Pack => pack(),
        Lines::Profile => profile::schema(),
        Lines::Of(lines) => {
            let lines: Vec<Value> =
                lines.iter().map(|line| object(line.about, line.fields)).collect();
            json!({ "anyOf": lines })
        }
    };
    if let Some(schema) = schema.as_object_mut() {
        let draft = match format.lines {
            // What tools for TOML read.
            Lines::Profile => "http://json-schema.org/draft-07/schema#",
            _ => "https://json-schema.org/draft/2020-12/schema",
        };
        schema.insert("$schema".to_owned(), draft.into());
        schema.insert("title".to_owned(), title(format).into());
        schema.insert("description".to_owned(), format.about.into());
    }
    Some(schema)
}

fn title(format: &Format) -> String {
    match format.lines {
        Lines::Profile => "A profile of Harmonym: harmonym.toml".to_owned(),
        _ => format!("A line of Harmonym's {}", format.name),
    }
}

fn pack() -> Value {
    let generator = SchemaSettings::draft2020_12().for_serialize().into_generator();
    generator.into_root_schema_for::<Line<'_>>().to_value()
}

fn object(about: &str, fields: &[Field]) -> Value {
    let properties: Map<String, Value> =
        fields.iter().map(|field| (field.name.to_owned(), described(field))).collect();
    let needed = fields.iter().filter(|field| !field.may_be_absent);
    json!({
        "type": "object",
        "description": about,
        "properties": properties,
        "required": needed.map(|field| field.name).collect::<Vec<_>>(),
        "additionalProperties": false,
    })
}

fn described(field: &Field) -> Value {
    let mut own = of_type(&field.of);
    if let (Some(own), false) = (own.as_object_mut(), field.about.is_empty()) {
        own.insert("description".to_owned(), field.about.into());
    }
    own
}

fn of_type(of: &Type) -> Value {
    match of {
        Type::Is(word) => json!({ "const": word }),
        Type::IsNumber(number) => json!({ "const": number }),
        Type::OneOf(words) => json!({ "enum": words }),
        Type::Text => json!({ "type": "string" }),
        Type::Flag => json!({ "type": "boolean" }),
        Type::Count => json!({ "type": "integer", "minimum": 0 }),
        Type::Integer => json!({ "type": "integer" }),
        Type::Seat => json!({ "type": "integer", "minimum": 1, "maximum": 8 }),
        Type::Number => json!({ "type": "number" }),
        Type::Seconds => json!({ "type": "number", "minimum": 0 }),
        Type::Share => json!({ "type": "number", "minimum": 0, "maximum": 1 }),
        Type::Components(least) => {
            json!({ "type": "array", "items": { "type": "number" }, "minItems": least, "maxItems": 4 })
        }
        Type::List(of) => json!({ "type": "array", "items": of_type(of) }),
        Type::ByName(of) => json!({ "type": "object", "additionalProperties": of_type(of) }),
        Type::Object(fields) => object("", fields),
        Type::Any(types) => json!({ "anyOf": types.iter().map(of_type).collect::<Vec<_>>() }),
        Type::Null => json!({ "type": "null" }),
        // A part of its own kind: what it is stands at its line's place.
        Type::Anything => json!({ "type": "object" }),
    }
}
