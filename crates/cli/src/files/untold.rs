//! What there is to say of how files were found and read; whoever has the output tells it in the end.

use std::sync::{Mutex, PoisonError};

static UNTOLD: Mutex<Vec<String>> = Mutex::new(Vec::new());

/// Keeps something to be told; what is kept already is told once.
pub fn keep(text: String) {
    let mut all = UNTOLD.lock().unwrap_or_else(PoisonError::into_inner);
    if !all.contains(&text) {
        all.push(text);
    }
}

/// Gives what was kept.
pub fn take() -> Vec<String> {
    std::mem::take(&mut UNTOLD.lock().unwrap_or_else(PoisonError::into_inner))
}
