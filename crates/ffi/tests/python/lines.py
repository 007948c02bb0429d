"""Plays takes through the C interface and writes what was told from its structs alone.

lines.py LIBRARY PROFILE TAKE... prints, of each take, the lines of `harmonym play --format json` but for the first and last,
and fails where a reading says something else than the events.
"""

import ctypes
import json
import sys
from ctypes import POINTER, Structure, byref, c_char_p, c_double, c_int32, c_size_t, c_uint32, c_uint64
from pathlib import Path

NONE, NEVER = 2**32 - 1, 2**64 - 1
ACTION, MAP, SCHEME, BINDING, CUE, CLASS = 0, 1, 2, 5, 6, 7
WAKE, FIRE, LAPSE, REST, SCHEME_IN_USE, MAP_OPEN, PAUSE, PLAN, DEVICE, SEAT = range(10)
KINDS = {WAKE: "wake", FIRE: "fire", LAPSE: "lapse", REST: "rest"}


class Vector(Structure):
    _fields_ = [(name, c_double) for name in "xyzw"]


class Reader(Structure):
    _fields_ = [("seen", c_uint64), ("missed", c_uint64)]


class Told(Structure):
    _fields_ = [
        ("at", c_uint64),
        ("tick", c_uint64),
        ("kind", c_int32),
        ("seat", c_uint32),
        ("action", c_uint32),
        ("cue", c_uint32),
        ("from_", c_uint32),
        ("cause", c_int32),
        ("value", Vector),
        ("held", c_uint64),
        ("fired_for", c_uint64),
        ("since", c_uint64),
        ("progress", c_double),
        ("map", c_uint32),
        ("scheme", c_uint32),
        ("device_class", c_uint32),
        ("device", c_uint32),
        ("on", c_int32),
        ("reserved", c_int32),
    ]


class Reading(Structure):
    _fields_ = [
        ("value", Vector),
        ("held", c_uint64),
        ("fired_for", c_uint64),
        ("progress", c_double),
        ("fired", c_uint32),
        ("state", c_int32),
        ("woke", c_int32),
        ("ended", c_int32),
        ("cause", c_int32),
        ("reserved", c_int32),
    ]


def seconds(nanos):
    """Exact, without trailing zeros, as a number of JSON."""
    whole, rest = divmod(nanos, 10**9)
    return Raw(f"{whole}.{rest:09}".rstrip("0").rstrip("."))


def plain(number):
    """A number in its shortest form."""
    if number == int(number) and abs(number) < 1e15:
        return int(number)
    return number


class Raw(float):
    """A number that is written as it stands."""

    def __new__(cls, text):
        self = super().__new__(cls, text)
        self.text = text
        return self

    def __repr__(self):
        return self.text


def line(row):
    parts = []
    for key, value in row.items():
        if value is None:
            continue
        text = value.text if isinstance(value, Raw) else json.dumps(value, separators=(",", ":"), ensure_ascii=False)
        parts.append(f'"{key}":{text}')
    return "{" + ",".join(parts) + "}"


class Game:
    def __init__(self, library, profile):
        self.hny = ctypes.CDLL(library)
        self.hny.hny_cause_word.restype = c_char_p
        self.handle, text = c_uint64(), Path(profile).read_bytes()
        self.do("game_read", profile.encode(), text, c_size_t(len(text)), byref(self.handle))
        self.names = {}

    def do(self, name, *args):
        status = getattr(self.hny, f"hny_{name}")(*args)
        assert status == 0, (name, status)

    def name(self, what, number):
        if number == NONE:
            return None
        if (what, number) not in self.names:
            text = ctypes.create_string_buffer(256)
            self.do("name", self.handle, what, number, text, c_size_t(len(text)), None)
            self.names[what, number] = text.value.decode()
        return self.names[what, number]

    def value(self, action, vector):
        kind = c_int32()
        self.do("kind", self.handle, action, byref(kind))
        x, y, z, w = (plain(part) for part in (vector.x, vector.y, vector.z, vector.w))
        turn = [x, y, z, w] if any((x, y, z, w)) else [0, 0, 0, 1]
        return [x != 0, x, [x, y], [x, y, z], turn][kind.value]

    def told(self, one):
        row = {"kind": "event", "t": seconds(one.at), "tick": one.tick, "seat": one.seat or None}
        if one.kind in KINDS:
            row["action"] = self.name(ACTION, one.action)
            row["event"] = KINDS[one.kind]
            row["value"] = self.value(one.action, one.value)
            row["held"] = seconds(one.held)
            row["fired_for"] = seconds(one.fired_for) if one.fired_for != NEVER else None
            row["progress"] = plain(one.progress)
            row["from"] = self.name(BINDING, one.from_)
            row["by"] = self.name(CUE, one.cue)
            row["since"] = seconds(one.since) if one.since != NEVER else None
            row["cause"] = self.hny.hny_cause_word(one.cause).decode() if one.cause >= 0 else None
        elif one.kind == SCHEME_IN_USE:
            row |= {"kind": "scheme", "scheme": self.name(SCHEME, one.scheme)}
        elif one.kind == MAP_OPEN:
            row |= {"kind": "map", "map": self.name(MAP, one.map), "open": bool(one.on)}
        elif one.kind == PAUSE:
            row |= {"kind": "pause", "seat": None, "paused": bool(one.on)}
        else:
            device = f"{self.name(CLASS, one.device_class)}#{one.device + 1}"
            row |= {"kind": "seat" if one.kind == SEAT else "device", "device": device}
            row["plugged"] = bool(one.on) if one.kind == DEVICE else None
        return line(row)

    def play(self, path):
        take, replay, hands = Path(path).read_bytes(), c_uint64(), c_uint64()
        self.do("replay_read", self.handle, path.encode(), take, c_size_t(len(take)), byref(replay))
        self.do("replay_hands", replay, byref(hands))
        reader, told, count = Reader(), (Told * 3)(), c_size_t(3)
        step, at, new = c_int32(), c_uint64(), []

        def take_events():
            count.value = 3
            while count.value == 3:
                self.do("events", hands, byref(reader), told, c_size_t(3), byref(count))
                for one in told[: count.value]:
                    print(self.told(one))
                    new.append((one.kind, one.seat, one.action, one.cause))

        while step.value != 2:
            self.do("replay_step", replay, hands, byref(step), byref(at))
            if step.value == 1:
                self.do("tick", hands, at)
            take_events()
            if step.value == 1:
                self.compare(hands, new)
                new.clear()
        self.do("stop", hands)
        take_events()
        self.do("hands_free", hands)
        self.do("replay_free", replay)

    def compare(self, hands, new):
        """What is read of each action at a tick is what was told since the tick before."""
        for seat, action in {(seat, action) for kind, seat, action, _ in new if kind in KINDS}:
            own = [(kind, cause) for kind, *who, cause in new if who == [seat, action]]
            reading, fired = Reading(), c_uint32()
            self.do("read", hands, seat, action, byref(reading))
            self.do("fired", hands, seat, action, byref(fired))
            readings, count = (Reading * 100)(), c_size_t()
            self.do("read_all", hands, seat, readings, c_size_t(100), byref(count))
            assert bytes(readings[action]) == bytes(reading) and count.value > action
            fires = sum(kind == FIRE for kind, _ in own)
            ends = [one for one in own if one[0] in (LAPSE, REST)]
            assert reading.fired == fired.value == fires, (own, reading.fired)
            assert reading.woke == any(kind == WAKE for kind, _ in own)
            assert (reading.ended, reading.cause) == (ends[-1] if ends else (-1, -1)), own
            assert (reading.state == 0) == (own[-1][0] in (LAPSE, REST)), own


def main():
    library, profile, *takes = sys.argv[1:]
    game = Game(library, profile)
    for take in takes:
        game.play(take)


main()
