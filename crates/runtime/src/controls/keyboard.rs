//! The keys, by position.
//!
//! Source: W3C *UI Events KeyboardEvent code Values*, sections 3.1 (alphanumeric: writing system
//! and functional keys), 3.2 (control pad), 3.3 (arrow pad), 3.4 (numpad), 3.5 (function), 3.6
//! (media) and 3.7 (legacy, non-standard and special keys); `Unidentified` stands for no key and
//! is left out. F13 to F24 follow the function section's rule for keyboards that have them; their
//! positions are those of USB HID usages 0x68 to 0x73 of the keyboard page.

/// Keys that lie together: what the group is called, then each code with the words for what a US
/// keyboard has there.
pub(super) type Group = (&'static str, &'static [(&'static str, &'static str)]);

#[rustfmt::skip]
pub(super) const GROUPS: &[Group] = &[
    ("letter key", &[
        ("KeyA", "a"), ("KeyB", "b"), ("KeyC", "c"), ("KeyD", "d"), ("KeyE", "e"), ("KeyF", "f"),
        ("KeyG", "g"), ("KeyH", "h"), ("KeyI", "i"), ("KeyJ", "j"), ("KeyK", "k"), ("KeyL", "l"),
        ("KeyM", "m"), ("KeyN", "n"), ("KeyO", "o"), ("KeyP", "p"), ("KeyQ", "q"), ("KeyR", "r"),
        ("KeyS", "s"), ("KeyT", "t"), ("KeyU", "u"), ("KeyV", "v"), ("KeyW", "w"), ("KeyX", "x"),
        ("KeyY", "y"), ("KeyZ", "z"),
    ]),
    ("number row", &[
        ("Digit0", "0"), ("Digit1", "1"), ("Digit2", "2"), ("Digit3", "3"), ("Digit4", "4"),
        ("Digit5", "5"), ("Digit6", "6"), ("Digit7", "7"), ("Digit8", "8"), ("Digit9", "9"),
    ]),
    ("punctuation key", &[
        ("Backquote", "` grave, left of 1"), ("Minus", "- dash"), ("Equal", "= equals"),
        ("BracketLeft", "[ left bracket"), ("BracketRight", "] right bracket"),
        ("Backslash", "\\ backslash"), ("Semicolon", "; semicolon"), ("Quote", "' apostrophe"),
        ("Comma", ", comma"), ("Period", ". full stop, dot"), ("Slash", "/ slash"),
        ("IntlBackslash", "between left Shift and Z on ISO keyboards"),
        ("IntlRo", "right of / on Japanese and Brazilian keyboards"),
        ("IntlYen", "left of Backspace on Japanese keyboards"),
    ]),
    ("working key", &[
        ("Space", "space bar"), ("Enter", "enter, return"), ("Tab", "tabulator"),
        ("Backspace", "rub out backwards"), ("CapsLock", "capitals lock"),
        ("ContextMenu", "menu key"), ("ShiftLeft", "left shift"), ("ShiftRight", "right shift"),
        ("ControlLeft", "left control, ctrl"), ("ControlRight", "right control, ctrl"),
        ("AltLeft", "left alt, option"), ("AltRight", "right alt, option, altgr"),
        ("MetaLeft", "left system key"), ("MetaRight", "right system key"),
        ("Convert", "Japanese conversion"), ("NonConvert", "Japanese without conversion"),
        ("KanaMode", "Japanese kana"), ("Lang1", "Korean Hangul/English, Japanese kana"),
        ("Lang2", "Korean Hanja, Japanese eisu"), ("Lang3", "Japanese katakana"),
        ("Lang4", "Japanese hiragana"), ("Lang5", "Japanese zenkaku/hankaku"),
    ]),
    ("control pad", &[
        ("Insert", "insert"), ("Delete", "delete, rub out forwards"), ("Home", "home"),
        ("End", "end"), ("PageUp", "page up"), ("PageDown", "page down"), ("Help", "help"),
    ]),
    ("arrow pad", &[
        ("ArrowUp", "up arrow"), ("ArrowLeft", "left arrow"), ("ArrowDown", "down arrow"),
        ("ArrowRight", "right arrow"),
    ]),
    ("numpad", &[
        ("NumLock", "number lock"), ("Numpad0", "0"), ("Numpad1", "1"), ("Numpad2", "2"),
        ("Numpad3", "3"), ("Numpad4", "4"), ("Numpad5", "5"), ("Numpad6", "6"), ("Numpad7", "7"),
        ("Numpad8", "8"), ("Numpad9", "9"), ("NumpadAdd", "+ plus"),
        ("NumpadSubtract", "- minus"), ("NumpadMultiply", "* times"),
        ("NumpadDivide", "/ divided by"), ("NumpadDecimal", ". decimal point"),
        ("NumpadEnter", "enter"), ("NumpadEqual", "= equals"), ("NumpadComma", ", thousands"),
        ("NumpadBackspace", "backspace"), ("NumpadClear", "clear"),
        ("NumpadClearEntry", "clear entry"), ("NumpadHash", "# hash, of a telephone pad"),
        ("NumpadStar", "* star, of a telephone pad"), ("NumpadParenLeft", "( left parenthesis"),
        ("NumpadParenRight", ") right parenthesis"), ("NumpadMemoryAdd", "memory add"),
        ("NumpadMemoryClear", "memory clear"), ("NumpadMemoryRecall", "memory recall"),
        ("NumpadMemoryStore", "memory store"), ("NumpadMemorySubtract", "memory subtract"),
    ]),
    ("function row", &[
        ("Escape", "escape, esc"), ("F1", "f1"), ("F2", "f2"), ("F3", "f3"), ("F4", "f4"),
        ("F5", "f5"), ("F6", "f6"), ("F7", "f7"), ("F8", "f8"), ("F9", "f9"), ("F10", "f10"),
        ("F11", "f11"), ("F12", "f12"), ("F13", "f13"), ("F14", "f14"), ("F15", "f15"),
        ("F16", "f16"), ("F17", "f17"), ("F18", "f18"), ("F19", "f19"), ("F20", "f20"),
        ("F21", "f21"), ("F22", "f22"), ("F23", "f23"), ("F24", "f24"), ("Fn", "function shift"),
        ("FnLock", "function lock"), ("PrintScreen", "print screen"),
        ("ScrollLock", "scroll lock"), ("Pause", "pause, break"),
    ]),
    ("media key", &[
        ("BrowserBack", "web page back"), ("BrowserFavorites", "web favourites"),
        ("BrowserForward", "web page forward"), ("BrowserHome", "web home page"),
        ("BrowserRefresh", "web reload"), ("BrowserSearch", "web search"),
        ("BrowserStop", "web stop"), ("Eject", "eject a disc"),
        ("LaunchApp1", "first program key"), ("LaunchApp2", "second program key, calculator"),
        ("LaunchMail", "mail"), ("MediaPlayPause", "play and pause"),
        ("MediaSelect", "choose media"), ("MediaStop", "stop"), ("MediaTrackNext", "next track"),
        ("MediaTrackPrevious", "previous track"), ("Power", "power"), ("Sleep", "sleep"),
        ("WakeUp", "wake the computer"), ("AudioVolumeDown", "quieter"),
        ("AudioVolumeMute", "mute"), ("AudioVolumeUp", "louder"),
    ]),
    ("legacy key", &[
        ("Hyper", "hyper"), ("Super", "super"), ("Turbo", "turbo"), ("Abort", "abort"),
        ("Resume", "resume"), ("Suspend", "suspend"), ("Again", "again"), ("Copy", "copy"),
        ("Cut", "cut"), ("Find", "find"), ("Open", "open"), ("Paste", "paste"),
        ("Props", "properties"), ("Select", "select"), ("Undo", "undo"),
        ("Hiragana", "Japanese hiragana"), ("Katakana", "Japanese katakana"),
    ]),
];

/// Names that stand for the same key on either side, with the two codes they mean.
pub(super) const EITHER: &[(&str, &str, &str)] = &[
    ("Shift", "ShiftLeft", "ShiftRight"),
    ("Control", "ControlLeft", "ControlRight"),
    ("Alt", "AltLeft", "AltRight"),
    ("Meta", "MetaLeft", "MetaRight"),
];
