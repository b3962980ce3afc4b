"""The least that any program for this job must do: read a pad, write a key or move a mouse. For `nub-shift bench` only.

Bare loops of `os.read`, `struct` and `os.write` in plain Python:

    press PHYS PAD              each event of a button that it reads becomes an event of one key, nothing else
    move PHYS PAD [SENSORS]     keeps what it reads, and moves the mouse by a count each millisecond
"""

from __future__ import annotations

import os
import select
import struct
import sys
import time

import evdev
from evdev import ecodes

_EVENT = struct.Struct("@llHHi")
_REPORT = _EVENT.pack(0, 0, ecodes.EV_SYN, ecodes.SYN_REPORT, 0)
_MOVE = _EVENT.pack(0, 0, ecodes.EV_REL, ecodes.REL_X, 1) + _REPORT


def press(phys: str, pad: int) -> None:
    """Passes buttons on as keys until the pad is gone."""
    keyboard = evdev.UInput({ecodes.EV_KEY: [ecodes.KEY_SPACE]}, name="Bare keyboard", phys=phys)
    os.set_blocking(pad, True)
    print("ready", file=sys.stderr, flush=True)
    while True:
        try:
            data = os.read(pad, 64 * _EVENT.size)
        except OSError:
            return
        for _seconds, _micros, kind, _code, value in _EVENT.iter_unpack(data):
            if kind == ecodes.EV_KEY:
                os.write(keyboard.fd, _EVENT.pack(0, 0, ecodes.EV_KEY, ecodes.KEY_SPACE, value) + _REPORT)


def move(phys: str, devices: list[int]) -> None:
    """Moves the mouse until a device is gone."""
    mouse = evdev.UInput(
        {ecodes.EV_KEY: [ecodes.BTN_LEFT], ecodes.EV_REL: [ecodes.REL_X]}, name="Bare mouse", phys=phys
    )
    print("ready", file=sys.stderr, flush=True)
    values: dict[tuple[int, int], int] = {}
    due = time.monotonic()
    while True:
        now = time.monotonic()
        if now >= due:
            os.write(mouse.fd, _MOVE)
            due = max(due + 0.001, now)
        for device in select.select(devices, [], [], max(0.0, due - time.monotonic()))[0]:
            try:
                data = os.read(device, 64 * _EVENT.size)
            except OSError:
                return
            for _seconds, _micros, kind, code, value in _EVENT.iter_unpack(data):
                values[kind, code] = value


def main() -> None:
    """Runs the loop named by the arguments."""
    loop, phys, *paths = sys.argv[1:]
    devices = [os.open(path, os.O_RDONLY | os.O_NONBLOCK) for path in paths]
    if loop == "press":
        press(phys, devices[0])
    else:
        move(phys, devices)


if __name__ == "__main__":
    main()
