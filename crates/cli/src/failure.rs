//! Why a command did not end with exit code 0.

use harmonym_lang::report::Faults;
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

    /// What the system said when `doing` something with a file.
    pub fn io(doing: &str, path: &Path, error: &std::io::Error) -> Self {
        use std::io::ErrorKind;
        let shown = path.display();
        let (why, help) = match error.kind() {
            ErrorKind::NotFound => ("it does not exist".to_owned(), "see that the path is right"),
            ErrorKind::PermissionDenied => {
                ("permission is denied".to_owned(), "see who owns it, and its permissions")
            }
            ErrorKind::IsADirectory => ("it is a folder".to_owned(), "name a file in it"),
            ErrorKind::StorageFull => ("the disk is full".to_owned(), "make room and try again"),
            _ => (error.to_string(), "see that the path is right"),
        };
        Self::new(format!("cannot {doing} {shown}: {why}"), help)
    }
}

impl From<Faults> for Failure {
    fn from(faults: Faults) -> Self {
        Self::Faults(faults)
    }
}
