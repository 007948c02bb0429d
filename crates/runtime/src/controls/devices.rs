//! The controls of everything but the keyboard, by their place under the hand.
//!
//! Sources: gamepad positions after the Linux kernel's gamepad documentation and the *standard
//! gamepad* layout of W3C *Gamepad*; mouse buttons after the `buttons` order of W3C *UI Events*
//! (left, right, middle, back, forward); headsets and tracked hands after W3C *WebXR Device API*: places
//! are in metres in a right-handed frame (x right, y up, z towards the person), turns are unit
//! quaternions (x, y, z, w) in the same frame; the controls of a hand by the places of its *xr-standard*
//! gamepad (trigger, squeeze, touchpad, thumb stick, then buttons).

use super::ControlKind;
use crate::base::Component;

/// Name, kind, where it lies, further words it is looked up by.
pub(super) type Row = (&'static str, ControlKind, &'static str, &'static str);

use ControlKind::{Button, Lever, Place, Relative, Spot, Stick, Turn};

pub(super) const MOUSE: &[Row] = &[
    ("left", Button, "under the index finger", "primary click"),
    ("middle", Button, "under the wheel", "wheel click"),
    ("right", Button, "under the middle finger", "secondary click"),
    ("back", Button, "on the thumb's side, nearer the hand", "side thumb fourth"),
    ("forward", Button, "on the thumb's side, farther away", "side thumb fifth"),
];

pub(super) const PAD: &[Row] = &[
    ("south", Button, "lowest of the right thumb's four buttons", "bottom face lower action thumb"),
    ("east", Button, "right one of the right thumb's four buttons", "face action thumb"),
    ("west", Button, "left one of the right thumb's four buttons", "face action thumb"),
    ("north", Button, "highest of the right thumb's four buttons", "top face upper action thumb"),
    (
        "left-shoulder",
        Button,
        "left edge, upper, under the index finger",
        "bumper shoulder top front",
    ),
    (
        "right-shoulder",
        Button,
        "right edge, upper, under the index finger",
        "bumper shoulder top front",
    ),
    ("select", Button, "middle, left of centre", "back menu"),
    ("start", Button, "middle, right of centre", "menu pause"),
    ("mode", Button, "middle", "home system"),
    ("left-stick.click", Button, "the left stick, pressed in", "thumb button push press in"),
    ("right-stick.click", Button, "the right stick, pressed in", "thumb button push press in"),
    ("dpad.up", Button, "up on the left thumb's cross", "d-pad direction hat"),
    ("dpad.left", Button, "left on the left thumb's cross", "d-pad direction hat"),
    ("dpad.down", Button, "down on the left thumb's cross", "d-pad direction hat"),
    ("dpad.right", Button, "right on the left thumb's cross", "d-pad direction hat"),
    (
        "left-trigger",
        Lever,
        "left edge, lower, pulled by the index finger",
        "analog shoulder bumper lower",
    ),
    (
        "right-trigger",
        Lever,
        "right edge, lower, pulled by the index finger",
        "analog shoulder bumper lower",
    ),
    ("left-stick", Stick, "under the left thumb", "analog thumb"),
    ("right-stick", Stick, "under the right thumb", "analog thumb"),
];

/// The mouse and what else reports relative movement or a point; the wheel's notches come last.
pub(super) const POINTERS: &[Row] = &[
    ("move", Relative, "the mouse on the table, in counts, right and towards the hand", "motion"),
    ("wheel", Relative, "the wheel in notches, right and away from the hand", "scroll"),
    ("at", Spot, "where the pointer is in the window, from its upper left", "position cursor"),
];

/// The wheel's notches: the name, which half of the wheel it is, and where it goes.
pub(super) const NOTCHES: &[(&str, Component, bool, &str)] = &[
    ("wheel.up", Component::Y, true, "a notch away from the hand"),
    ("wheel.down", Component::Y, false, "a notch towards the hand"),
    ("wheel.left", Component::X, false, "a notch to the left"),
    ("wheel.right", Component::X, true, "a notch to the right"),
];

pub(super) const TOUCH: &[Row] = &[
    ("down", Button, "a finger is on the screen", "tap contact"),
    ("at", Spot, "where the first finger is on the screen, from its upper left", "position"),
    ("drag", Relative, "the first finger's way over the screen, right and down", "swipe motion"),
];

pub(super) const HEAD: &[Row] = &[
    ("at", Place, "where the head is, in metres: right, up, backwards", "position headset"),
    ("turn", Turn, "which way the head is turned", "orientation headset look"),
];

pub(super) const HAND: &[Row] = &[
    ("left.trigger", Lever, "left hand, under the index finger", "pull"),
    ("left.squeeze", Lever, "left hand, under the other fingers", "grip"),
    ("left.stick", Stick, "left hand, under the thumb", ""),
    ("left.stick.click", Button, "left hand, the stick pressed in", ""),
    ("left.touchpad", Stick, "left hand, the thumb's touch surface", ""),
    ("left.lower", Button, "left hand, the thumb's lower button", ""),
    ("left.upper", Button, "left hand, the thumb's upper button", ""),
    ("left.at", Place, "where the left hand is, in metres", "position"),
    ("left.turn", Turn, "which way the left hand is turned", "orientation"),
    ("right.trigger", Lever, "right hand, under the index finger", "pull"),
    ("right.squeeze", Lever, "right hand, under the other fingers", "grip"),
    ("right.stick", Stick, "right hand, under the thumb", ""),
    ("right.stick.click", Button, "right hand, the stick pressed in", ""),
    ("right.touchpad", Stick, "right hand, the thumb's touch surface", ""),
    ("right.lower", Button, "right hand, the thumb's lower button", ""),
    ("right.upper", Button, "right hand, the thumb's upper button", ""),
    ("right.at", Place, "where the right hand is, in metres", "position"),
    ("right.turn", Turn, "which way the right hand is turned", "orientation"),
];
