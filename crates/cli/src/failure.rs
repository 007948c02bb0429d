//! Why a command did not end with exit code 0.

use harmonym_lang::report::Faults;
use std::io::ErrorKind;
use std::path::Path;

/// Why a command did not end with exit code 0.
#[derive(Debug)]
pub enum Failure {
    /// Faults in a text, shown at their places, or why something can't be done.
    Faults(Faults),
    /// It was done, and what was asked about fell short: exit code 1, all is told already.
    CheckFailed,
    /// Nobody reads the output any more: no fault at all.
    ClosedPipe,
}

impl Failure {
    /// A message and what to do about it.
    pub fn new(message: impl Into<String>, help: impl Into<String>) -> Self {
        Self::Faults(Faults::refused(message, help))
    }

    /// What is wrong first, in a sentence without what to do about it.
    pub fn message(&self) -> String {
        match self {
            Self::Faults(faults) => {
                faults.to_string().lines().next().unwrap_or_default().to_owned()
            }
            Self::CheckFailed => "it fell short".to_owned(),
            Self::ClosedPipe => "nobody reads it any more".to_owned(),
        }
    }

    /// What the system said when `doing` something with a file.
    pub fn io(doing: &str, path: &Path, error: &std::io::Error) -> Self {
        let (why, help) = reason(error);
        Self::new(format!("cannot {doing} {}: {why}", path.display()), help)
    }

    /// What the system said when the output was written; nobody reading it any more is no fault.
    pub fn unwritten(error: &std::io::Error) -> Self {
        if error.kind() == ErrorKind::BrokenPipe {
            return Self::ClosedPipe;
        }
        let (why, _) = reason(error);
        Self::new(format!("cannot write the output: {why}"), "see where it goes")
    }
}

/// What the system said, and what to do about it.
pub fn reason(error: &std::io::Error) -> (String, &'static str) {
    match error.kind() {
        ErrorKind::NotFound => ("it does not exist".to_owned(), "see that the path is right"),
        ErrorKind::PermissionDenied => {
            ("permission is denied".to_owned(), "see who owns it, and its permissions")
        }
        ErrorKind::IsADirectory => ("it is a folder".to_owned(), "name a file in it"),
        ErrorKind::NotADirectory => {
            ("a part of the path is no folder".to_owned(), "see that the path is right")
        }
        ErrorKind::StorageFull => ("the disk is full".to_owned(), "make room and try again"),
        ErrorKind::ReadOnlyFilesystem => {
            ("the disk is read-only".to_owned(), "name a file on another disk")
        }
        _ => {
            let text = error.to_string();
            let said = text.split(" (os error").next().unwrap_or_default();
            (said.to_lowercase(), "see that the path is right")
        }
    }
}

impl From<Faults> for Failure {
    fn from(faults: Faults) -> Self {
        Self::Faults(faults)
    }
}
