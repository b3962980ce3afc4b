"""Rumble motors of a pad, by the kernel's force feedback (FF_RUMBLE)."""

from __future__ import annotations

import logging
import time
from collections.abc import Sequence
from queue import SimpleQueue
from threading import Thread
from typing import Final

import evdev
from evdev import ecodes, ff

log = logging.getLogger("nub_shift.pads")

# Strengths, of 65535: the slow motor is felt, the fast one distinguishes signals.
_STRONG: Final = 0x6000
_WEAK: Final = 0x4000


class Rumble:
    """Runs the motors in a thread, started at the first request, since a driver may be as slow as its radio."""

    def __init__(self, path: str) -> None:
        self._path = path
        self._requested: SimpleQueue[tuple[int, ...] | None] = SimpleQueue()
        self._runs = False

    def play(self, pattern: Sequence[int]) -> None:
        """Runs and rests the motors alternately, by milliseconds."""
        if not self._runs:
            self._runs = True
            Thread(target=self._work, daemon=True).start()
        self._requested.put(tuple(pattern))

    def close(self) -> None:
        """Closes the device."""
        if self._runs:
            self._requested.put(None)

    def _work(self) -> None:
        try:
            device = evdev.InputDevice(self._path)
        except OSError as error:
            log.info("%s: no rumble: %s", self._path, error)
            return
        try:
            self._serve(device)
        except OSError as error:  # unplugged, or read-only
            log.info("%s: no rumble: %s", self._path, error)
        finally:
            device.close()

    def _serve(self, device: evdev.InputDevice[str]) -> None:
        if ecodes.FF_RUMBLE not in device.capabilities().get(ecodes.EV_FF, []):
            return
        while (pattern := self._requested.get()) is not None:
            for index, long_ms in enumerate(pattern):
                if index % 2 == 0:
                    _run(device, long_ms)
                else:
                    time.sleep(long_ms / 1000)


def _run(device: evdev.InputDevice[str], long_ms: int) -> None:
    kind = ff.EffectType(ff_rumble_effect=ff.Rumble(strong_magnitude=_STRONG, weak_magnitude=_WEAK))
    effect = ff.Effect(ecodes.FF_RUMBLE, -1, 0, ff.Trigger(0, 0), ff.Replay(long_ms, 0), kind)
    number = device.upload_effect(effect)
    device.write(ecodes.EV_FF, number, 1)
    time.sleep(long_ms / 1000)
    device.erase_effect(number)
