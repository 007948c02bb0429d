//! Everything that is read or written through a pointer of the caller's.
//!
//! What is checked: null, and alignment. What the caller promises: that as much memory as the call says is there, and
//! that nothing else writes to it during the call.

use crate::status::{Failure, HNY_BAD_POINTER, HNY_BAD_TEXT, HNY_TOO_SMALL};
use std::ffi::{CStr, c_char};
use std::marker::PhantomData;
use std::ptr::NonNull;

/// The longest text that is read.
const LONGEST: usize = 64 * 1024 * 1024;

fn bad(what: &str) -> Failure {
    Failure::new(HNY_BAD_POINTER, format!("a pointer {what}"))
}

/// Where something is written to.
pub(crate) struct Out<'a, T> {
    to: NonNull<T>,
    of: PhantomData<&'a mut T>,
}

impl<T: Copy> Out<'_, T> {
    /// Where a result goes; `at` leads to a `T`, as the caller of the interface promises.
    pub fn new(at: *mut T) -> Result<Self, Failure> {
        let to = NonNull::new(at).ok_or_else(|| bad("is null"))?;
        match to.is_aligned() {
            true => Ok(Self { to, of: PhantomData }),
            false => Err(bad("is not aligned")),
        }
    }

    /// The same for a result that the caller may not want.
    pub fn maybe(at: *mut T) -> Result<Option<Self>, Failure> {
        if at.is_null() { Ok(None) } else { Self::new(at).map(Some) }
    }

    pub fn set(self, value: T) {
        // SAFETY: it is not null and aligned, and leads to a `T`, as the caller of the interface promised; what
        // was there is not read, so that it need not be a value.
        unsafe { self.to.write(value) }
    }
}

/// A text of so many bytes.
///
/// # Safety
/// `at` leads to `length` bytes that stay as they are for as long as the text is used, or is null.
pub(crate) unsafe fn text<'a>(at: *const c_char, length: usize) -> Result<&'a str, Failure> {
    let at = NonNull::new(at.cast_mut()).ok_or_else(|| bad("is null"))?;
    if length > LONGEST {
        return Err(Failure::new(HNY_BAD_TEXT, format!("a text of more than {LONGEST} bytes")));
    }
    // SAFETY: it is not null, bytes have no alignment, and there are as many, as the caller promises.
    let bytes = unsafe { std::slice::from_raw_parts(at.as_ptr().cast::<u8>(), length) };
    str::from_utf8(bytes).map_err(|error| Failure::new(HNY_BAD_TEXT, error.to_string()))
}

/// A name that ends with a 0.
///
/// # Safety
/// `at` leads to bytes with a 0 at their end that stay as they are for as long as the name is used, or is null.
pub(crate) unsafe fn name<'a>(at: *const c_char) -> Result<&'a str, Failure> {
    let at = NonNull::new(at.cast_mut()).ok_or_else(|| bad("is null"))?;
    // SAFETY: it is not null, and a 0 is at the end, as the caller promises.
    let name = unsafe { CStr::from_ptr(at.as_ptr()) };
    name.to_str().map_err(|error| Failure::new(HNY_BAD_TEXT, error.to_string()))
}

/// A list that the caller holds.
///
/// # Safety
/// `at` leads to `count` entries that stay as they are for as long as the list is used, or is null.
pub(crate) unsafe fn list<'a, T: Copy>(at: *const T, count: usize) -> Result<&'a [T], Failure> {
    if count == 0 {
        return Ok(&[]);
    }
    let at = NonNull::new(at.cast_mut()).ok_or_else(|| bad("is null"))?;
    if !at.is_aligned() {
        return Err(bad("is not aligned"));
    }
    if count > isize::MAX as usize / size_of::<T>().max(1) {
        return Err(bad("leads to more than there is memory"));
    }
    // SAFETY: it is not null, aligned, within what can be addressed, and there are as many, as the caller promises.
    Ok(unsafe { std::slice::from_raw_parts(at.as_ptr(), count) })
}

/// A buffer of the caller's with room for so many.
pub(crate) struct Buffer<T> {
    at: *mut T,
    room: usize,
    filled: usize,
}

impl<T: Copy> Buffer<T> {
    /// A buffer that leads to `room` entries, as the caller of the interface promises; it may be null if there is none.
    pub fn new(at: *mut T, room: usize) -> Result<Self, Failure> {
        match at.is_null() {
            true if room > 0 => Err(bad("is null")),
            false if !at.is_aligned() => Err(bad("is not aligned")),
            _ => Ok(Self { at, room, filled: 0 }),
        }
    }

    pub fn is_full(&self) -> bool {
        self.filled == self.room
    }

    /// Puts an entry behind the others; without room, nothing.
    pub fn push(&mut self, entry: T) {
        if !self.is_full() {
            // SAFETY: fewer are filled than there is room for, which the caller of the interface promised is there.
            unsafe { self.at.add(self.filled).write(entry) };
            self.filled += 1;
        }
    }

    pub fn len(&self) -> usize {
        self.filled
    }
}

/// Writes a text with a 0 behind it, and its length without that.
///
/// # Safety
/// `buffer` leads to `capacity` bytes, or is null if that is 0; `length` to a number, or is null.
pub(crate) unsafe fn write_text(
    text: &str,
    buffer: *mut c_char,
    capacity: usize,
    length: *mut usize,
) -> Result<(), Failure> {
    let length = Out::maybe(length)?;
    let mut to = Buffer::new(buffer.cast::<u8>(), capacity)?;
    if let Some(length) = length {
        length.set(text.len());
    }
    if text.len() >= capacity {
        let message = format!("the buffer has {capacity} bytes, and {} are needed", text.len() + 1);
        return Err(Failure::new(HNY_TOO_SMALL, message));
    }
    text.bytes().chain([0]).for_each(|byte| to.push(byte));
    Ok(())
}
