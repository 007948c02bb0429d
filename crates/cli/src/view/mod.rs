//! How things are shown.

pub mod action;
pub mod coverage;
pub mod curve;
pub mod diagnostics;
pub mod diff;
pub mod events;
pub mod json;
pub mod junit;
pub mod lanes;
pub mod lines;
pub mod profile;
pub mod sarif;
pub mod shown;
pub mod summary;
pub mod sweep;
pub mod table;
pub mod tests;
pub mod why;
