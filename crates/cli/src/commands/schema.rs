//! `schema`: the JSON Schemas of our formats.

use crate::failure::Failure;
use crate::output::Output;
use crate::view::schema::{FORMATS, schema};
use crate::view::table::table;
use harmonym_lang::report::{did_you_mean, nearest};

pub fn run(format: Option<&str>, output: &mut Output) -> Result<(), Failure> {
    output.page();
    let Some(name) = format else {
        let rows = FORMATS.iter().map(|one| [one.name.to_owned(), one.about.to_owned()]).collect();
        let text = table(output.look, ["format", "what it is"], rows);
        return output.write(|out| out.push_str(&text));
    };
    let Some(schema) = schema(name) else {
        let near = nearest(name, FORMATS.iter().map(|one| one.name));
        let help = did_you_mean(near, || "`harmonym schema` lists the formats".to_owned());
        return Err(Failure::new(format!("there is no format `{name}`"), help));
    };
    // What was made of numbers, texts and lists can be written.
    let text = serde_json::to_string_pretty(&schema).unwrap_or_default();
    output.write(|out| {
        out.push_str(&text);
        out.push('\n');
    })
}
