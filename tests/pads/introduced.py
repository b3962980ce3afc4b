"""A made-up pad in the hands of a person who is asked to touch its controls."""

from __future__ import annotations

from collections.abc import Iterable
from itertools import pairwise
from math import cos, radians, sin

from nub_shift.pads.made_up.shapes import simulated_pad

Held = dict[str, float]


def pressing(channel: str, value: float = 1.0) -> list[Held]:
    """A press of a button, a pull of a trigger."""
    return [{channel: value}, {}]


def sweeping(stick: str) -> list[Held]:
    """Up, once round to the right along the rim, and let go."""
    angles = [radians(angle) for angle in range(0, 366, 15)]
    return [*({f"{stick}.x": sin(angle), f"{stick}.y": -cos(angle)} for angle in angles), {}]


def rolling() -> list[Held]:
    """The D-pad: up, once round to the right, and let go."""
    ways = ("up", "right", "down", "left", "up")
    pairs = [{f"dpad.{one}": 1.0, f"dpad.{two}": 1.0} for one, two in pairwise(ways)]
    return [{"dpad.up": 1.0}, *pairs, {}]


class Hands:
    """Holds a made-up pad and lets time pass."""

    def __init__(self, name: str, seconds: float = 0.05) -> None:
        self.pad = simulated_pad(name, 0)
        self.pad.hold({})
        self.now_us = 0
        self.touches = 0
        self._step_us = round(seconds * 1e6)
        self.wait()

    def wait(self, seconds: float = 0.5) -> dict[str, float]:
        """Lets time pass; returns what the pad reported."""
        self.now_us += round(seconds * 1e6)
        return {channel: value for frame in self.pad.read(self.now_us) for channel, value in frame.values.items()}

    def touch(self, moments: Iterable[Held]) -> None:
        """One touch: what is held from moment to moment."""
        self.touches += 1
        for held in moments:
            self.pad.hold(held)
            self.wait(self._step_us / 1e6)
