//! What tools need around profiles: checks, edits, scripted and recorded hands, and what came of
//! them. Nothing here touches a terminal, a file, a clock or a network.

pub mod assist;
pub mod check;
pub mod compare;
pub mod edit;
pub mod example;
pub mod explain;
pub mod live;
pub mod mend;
pub mod prompt;
pub mod score;
pub mod survey;
pub mod take;
pub mod told;
pub mod trace;
pub mod transcribe;
