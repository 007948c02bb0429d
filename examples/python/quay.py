"""A small game: a keeper on the quay, a boat that can be hailed, a bell that can be rung.

`quay.py PROFILE` is played with the keyboard, in a terminal. `quay.py PROFILE TAKE` plays a take and prints what
`harmonym play --format json` prints of it. HARMONYM names the library, libharmonym.so or the like.
"""

import ctypes
import os
import select
import sys
import time
from ctypes import POINTER, Structure, byref, c_char_p, c_double, c_int32, c_size_t, c_uint32, c_uint64
from pathlib import Path

# How long the quay is, in steps, and how many of them a second are walked.
LENGTH, PACE = 40, 8
# A terminal tells of keys that go down, not of keys that come up: so long after the last it did, in nanoseconds.
KEY = 150_000_000

# As in harmonym.h.
ACTION, CONTROL = 0, 4
STEP_TICK, STEP_END = 1, 2


class Vector(Structure):
    _fields_ = [("x", c_double), ("y", c_double), ("z", c_double), ("w", c_double)]


class Reader(Structure):
    _fields_ = [("seen", c_uint64), ("missed", c_uint64)]


CALLS = {
    "message": [c_char_p, c_size_t, POINTER(c_size_t)],
    "game_read": [c_char_p, c_char_p, c_size_t, POINTER(c_uint64)],
    "game_free": [c_uint64],
    "find": [c_uint64, c_int32, c_char_p, POINTER(c_uint32)],
    "hands_start": [c_uint64, c_uint32, POINTER(c_uint64)],
    "hands_free": [c_uint64],
    "report": [c_uint64, c_uint64, c_uint32, c_uint32, POINTER(Vector)],
    "tick": [c_uint64, c_uint64],
    "stop": [c_uint64],
    "value": [c_uint64, c_uint32, c_uint32, POINTER(Vector)],
    "fired": [c_uint64, c_uint32, c_uint32, POINTER(c_uint32)],
    "event_lines": [c_uint64, POINTER(Reader), c_char_p, c_size_t, POINTER(c_size_t)],
    "replay_read": [c_uint64, c_char_p, c_char_p, c_size_t, POINTER(c_uint64)],
    "replay_free": [c_uint64],
    "replay_hands": [c_uint64, POINTER(c_uint64)],
    "replay_step": [c_uint64, c_uint64, POINTER(c_int32), POINTER(c_uint64)],
    "replay_start_line": [c_uint64, c_char_p, c_size_t, POINTER(c_size_t)],
    "replay_end_line": [c_uint64, c_char_p, c_size_t, POINTER(c_size_t)],
}


class Harmonym:
    """The library; a call that did nothing is an exception with what there is to say of it."""

    def __init__(self, path):
        library = ctypes.CDLL(path)
        for name, types in CALLS.items():
            call = getattr(library, f"hny_{name}")
            call.argtypes, call.restype = types, c_int32
            if name != "message":
                call.errcheck = self.check
            setattr(self, name, call)

    def check(self, status, _call, _args):
        if status != 0:
            text = ctypes.create_string_buffer(1024)
            self.message(text, len(text), None)
            raise ValueError(text.value.decode())


class Quay:
    """The game: it knows actions, and nothing of keys."""

    def __init__(self, hny, game):
        self.hny, self.keeper, self.boat, self.says = hny, 5.0, LENGTH - 5, ""
        self.walk, self.hail, self.ring = (c_uint32(), c_uint32(), c_uint32())
        hny.find(game, ACTION, b"quay.walk", byref(self.walk))
        hny.find(game, ACTION, b"quay.hail", byref(self.hail))
        hny.find(game, ACTION, b"harbour.ring-bell", byref(self.ring))

    def frame(self, hands, seconds):
        way, hailed, rung = Vector(), c_uint32(), c_uint32()
        self.hny.value(hands, 1, self.walk, byref(way))
        self.hny.fired(hands, 1, self.hail, byref(hailed))
        self.hny.fired(hands, 1, self.ring, byref(rung))
        self.keeper = min(max(self.keeper + way.x * PACE * seconds, 0), LENGTH - 1)
        if hailed.value > 0:
            self.boat, self.says = self.keeper, "The boat comes alongside."
        if rung.value > 0:
            self.boat, self.says = LENGTH - 5, "The bell rings, and the boat leaves."

    def draw(self):
        water, stone = ["~"] * LENGTH, ["="] * LENGTH
        water[round(self.boat)], stone[round(self.keeper)] = "B", "@"
        title = "Lantern Quay: A and D walk, H hails, Ctrl-T rings, Q ends"
        rows = [title, "".join(water), "".join(stone), self.says]
        print("\033[H" + "".join(f"{row}\033[K\r\n" for row in rows), end="", flush=True)


def of_take(hny, game, path):
    """Plays a take, and prints its events."""
    take = Path(path).read_bytes()
    replay, hands, reader = c_uint64(), c_uint64(), Reader()
    step, at, last, length = c_int32(), c_uint64(), 0, c_size_t()
    text = ctypes.create_string_buffer(8192)

    def print_events():
        length.value = 1
        while length.value > 0:
            hny.event_lines(hands, byref(reader), text, len(text), byref(length))
            sys.stdout.buffer.write(text.raw[: length.value])

    hny.replay_read(game, path.encode(), take, len(take), byref(replay))
    hny.replay_hands(replay, byref(hands))
    hny.replay_start_line(replay, text, len(text), None)
    sys.stdout.buffer.write(text.value)
    quay = Quay(hny, game)
    while step.value != STEP_END:
        hny.replay_step(replay, hands, byref(step), byref(at))
        if step.value == STEP_TICK:
            hny.tick(hands, at)
            quay.frame(hands, (at.value - last) / 1e9)
            last = at.value
        print_events()
    hny.stop(hands)
    print_events()
    hny.replay_end_line(replay, text, len(text), None)
    sys.stdout.buffer.write(text.value)
    hny.hands_free(hands)
    hny.replay_free(replay)


def by_hand(hny, game):
    """Plays with the keyboard."""
    import termios
    import tty

    hands, down, begun, last = c_uint64(), {}, time.monotonic_ns(), 0
    hny.hands_start(game, 1, byref(hands))
    quay, before = Quay(hny, game), termios.tcgetattr(sys.stdin)

    def press(at, name):
        control = c_uint32()
        try:
            hny.find(game, CONTROL, name.encode(), byref(control))
        except ValueError:
            return
        hny.report(hands, at, control, 0, Vector(x=1))
        down[control.value] = at + KEY

    try:
        tty.setraw(sys.stdin)
        print("\033[2J\033[?25l", end="")
        while True:
            at = time.monotonic_ns() - begun
            typed = os.read(0, 64) if select.select([0], [], [], 0)[0] else b""
            for byte in typed:
                if byte in b"q\x03":
                    return
                # With Control, a letter comes as its place in the alphabet.
                if 1 <= byte <= 26:
                    press(at, "key.ControlLeft")
                    byte += ord("A") - 1
                press(at, "key.Key" + chr(byte).upper())
            for control in [control for control, until in down.items() if until <= at]:
                hny.report(hands, at, control, 0, Vector())
                del down[control]
            hny.tick(hands, at)
            quay.frame(hands, (at - last) / 1e9)
            last = at
            quay.draw()
            time.sleep(0.016)
    finally:
        termios.tcsetattr(sys.stdin, termios.TCSANOW, before)
        print("\033[?25h", end="")
        hny.hands_free(hands)


def main():
    if len(sys.argv) not in (2, 3):
        sys.exit("usage: quay.py PROFILE [TAKE]")
    hny, game = Harmonym(os.environ.get("HARMONYM", "libharmonym.so")), c_uint64()
    profile = Path(sys.argv[1]).read_bytes()
    hny.game_read(sys.argv[1].encode(), profile, len(profile), byref(game))
    if len(sys.argv) == 3:
        of_take(hny, game, sys.argv[2])
    else:
        by_hand(hny, game)
    hny.game_free(game)


if __name__ == "__main__":
    main()
