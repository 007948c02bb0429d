//! What calls return, and what is kept of it for a thread.

use std::cell::RefCell;
use std::panic::{AssertUnwindSafe, catch_unwind};

/// What every call returns: `HNY_OK`, or why it did nothing.
pub type hny_status = i32;

/// It is done.
pub const HNY_OK: i32 = 0;
/// The handle stands for nothing: it is 0, of another kind, or was freed.
pub const HNY_NO_HANDLE: i32 = 1;
/// Another call is at work on it at this moment, in another thread.
pub const HNY_BUSY: i32 = 2;
/// A pointer is null where it must not be, or is not aligned.
pub const HNY_BAD_POINTER: i32 = 3;
/// A text is not UTF-8, or too long.
pub const HNY_BAD_TEXT: i32 = 4;
/// A profile, pack, player's file or take has faults: `hny_message` tells them, `hny_fault` their places.
pub const HNY_FAULTY: i32 = 5;
/// A name or number of nothing.
pub const HNY_UNKNOWN: i32 = 6;
/// It cannot be done; `hny_message` says why.
pub const HNY_REFUSED: i32 = 7;
/// The buffer is too small; the length that is needed was told, and nothing else was done.
pub const HNY_TOO_SMALL: i32 = 8;
/// There are as many handles of the kind as there can be: 1,024.
pub const HNY_FULL: i32 = 9;
/// A fault of this library's: please report it with `hny_message`. What the handle stands for is gone.
pub const HNY_BROKEN: i32 = 10;

/// A place in a text that has a fault, from 1; columns are characters. 0 where there is none.
#[repr(C)]
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct hny_place {
    /// The line it begins in.
    pub line: u32,
    /// The column it begins at.
    pub column: u32,
    /// The line it ends in.
    pub end_line: u32,
    /// The column behind its end.
    pub end_column: u32,
}

/// Why a call did nothing.
pub(crate) struct Failure {
    pub status: hny_status,
    pub message: String,
    /// Of a faulty text, each fault.
    pub faults: Vec<(hny_place, String)>,
}

impl Failure {
    pub fn new(status: hny_status, message: impl Into<String>) -> Self {
        Self { status, message: message.into(), faults: Vec::new() }
    }

    pub fn unknown(told: impl std::fmt::Display) -> Self {
        Self::new(HNY_UNKNOWN, told.to_string())
    }
}

impl From<harmonym_runtime::Refused> for Failure {
    fn from(refused: harmonym_runtime::Refused) -> Self {
        use harmonym_runtime::Refused;
        let status = match refused {
            Refused::UnknownControl
            | Refused::UnknownDevice
            | Refused::UnknownMap
            | Refused::UnknownScheme
            | Refused::UnknownVariable
            | Refused::UnknownSeat => HNY_UNKNOWN,
            Refused::OtherControls | Refused::AlwaysOpen | Refused::NotANumber => HNY_REFUSED,
        };
        Self::new(status, refused.to_string())
    }
}

/// What the last call of this thread that did nothing has to say.
struct Last {
    message: String,
    faults: Vec<(hny_place, String)>,
}

thread_local! {
    static LAST: RefCell<Last> = const { RefCell::new(Last { message: String::new(), faults: Vec::new() }) };
}

/// Does what a call does; what goes wrong becomes its status and is kept for `hny_message`.
pub(crate) fn call(act: impl FnOnce() -> Result<(), Failure>) -> hny_status {
    // Whatever a panic left half done is behind a handle, which is taken away with it.
    let failure = match catch_unwind(AssertUnwindSafe(act)) {
        Ok(Ok(())) => return HNY_OK,
        Ok(Err(failure)) => failure,
        Err(panic) => Failure::new(HNY_BROKEN, said(&*panic)),
    };
    keep(failure)
}

#[cold]
fn keep(Failure { status, message, faults }: Failure) -> hny_status {
    remember(message, faults);
    status
}

/// Keeps what there is to say for `hny_message` and `hny_fault`.
pub(crate) fn remember(message: String, faults: Vec<(hny_place, String)>) {
    // While a thread ends there is nobody to tell.
    let _ = LAST.try_with(|last| *last.borrow_mut() = Last { message, faults });
}

fn said(panic: &(dyn std::any::Any + Send)) -> String {
    let text = panic.downcast_ref::<&str>().map(|text| (*text).to_owned());
    let text = text.or_else(|| panic.downcast_ref::<String>().cloned());
    text.unwrap_or_else(|| "a panic without a word".to_owned())
}

/// What the last call of this thread that did nothing has to say.
pub(crate) fn last<T>(read: impl FnOnce(&str, &[(hny_place, String)]) -> T) -> T {
    LAST.with(|last| {
        let last = last.borrow();
        read(&last.message, &last.faults)
    })
}
