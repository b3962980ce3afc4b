"""The least that any program for this job must do: read a pad, write a key. For `nub-shift bench` only.

A bare loop in plain Python: each event of a button that it reads becomes an event of one key, nothing else.
"""

from __future__ import annotations

import os
import select
import struct
import sys

import evdev
from evdev import ecodes

_EVENT = struct.Struct("@llHHi")


def main() -> None:
    """Reads the device whose path is the argument, until it is gone."""
    keyboard = evdev.UInput({ecodes.EV_KEY: [ecodes.KEY_SPACE]}, name="Bare keyboard", phys=sys.argv[2])
    pad = os.open(sys.argv[1], os.O_RDONLY | os.O_NONBLOCK)
    print("ready", file=sys.stderr, flush=True)
    while True:
        select.select([pad], [], [])
        try:
            data = os.read(pad, 64 * _EVENT.size)
        except OSError:
            return
        for _seconds, _micros, kind, _code, value in _EVENT.iter_unpack(data):
            if kind == ecodes.EV_KEY:
                keyboard.write(ecodes.EV_KEY, ecodes.KEY_SPACE, value)
                keyboard.syn()


if __name__ == "__main__":
    main()
