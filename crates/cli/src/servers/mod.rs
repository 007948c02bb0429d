//! What others on this machine talk to.

pub mod page;
