//! The errors for which something was not done.

use super::Diagnostic;
use crate::source::Source;
use std::fmt;

/// The errors for which something was not done, with the text they stand in: at least one.
#[derive(Clone, Debug, PartialEq)]
pub struct Faults {
    source: Option<Source>,
    list: Vec<Diagnostic>,
}

impl Faults {
    /// What is wrong with a text, in order of place.
    pub fn new(source: Source, list: Vec<Diagnostic>) -> Self {
        Self { source: Some(source), list }
    }

    /// Why something can't be done, whatever text it is about.
    pub fn refused(message: impl Into<String>, help: impl Into<String>) -> Self {
        Self { source: None, list: vec![Diagnostic::refused(message, help)] }
    }

    /// The text they stand in; none for what is asked for and can't be done.
    pub fn source(&self) -> Option<&Source> {
        self.source.as_ref()
    }

    /// What is wrong, in order of place.
    pub fn list(&self) -> &[Diagnostic] {
        &self.list
    }

    /// What is wrong, the text left behind.
    pub fn into_list(self) -> Vec<Diagnostic> {
        self.list
    }

    /// The first thing that is wrong, as one line without its place.
    pub fn first(&self) -> String {
        self.list.first().map_or_else(String::new, ToString::to_string)
    }
}

/// A line for each, with its place.
impl fmt::Display for Faults {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        for (index, one) in self.list.iter().enumerate() {
            if index > 0 {
                f.write_str("\n")?;
            }
            match &self.source {
                Some(source) => write!(f, "{}", one.in_source(source))?,
                None => write!(f, "{one}")?,
            }
        }
        Ok(())
    }
}

impl std::error::Error for Faults {}
