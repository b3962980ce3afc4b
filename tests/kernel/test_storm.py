"""Pads that come and go at any moment: play goes on."""

from __future__ import annotations

import os
import random
import time

import pytest
from evdev import ecodes

from tests.kernel.devices import Runner, TestMotion, TestPad, open_own

pytestmark = pytest.mark.kernel

# `NUB_SHIFT_LONG` asks for the whole storm.
PLUGS = 500 if os.environ.get("NUB_SHIFT_LONG") else 40


def test_a_storm_of_plugs_and_unplugs_ends_with_a_playing_pad() -> None:
    chance = random.Random(13)
    pad = TestPad()
    runner = Runner("--output", "uinput")
    try:
        keyboard = open_own("keyboard")
        for _ in range(PLUGS):
            pad.press(ecodes.BTN_SOUTH, True)
            time.sleep(chance.choice((0.0, 0.001, 0.01, 0.05)))
            pad.unplug()
            other = TestMotion("test/storm/input1")  # a part that comes, is looked at, and has gone
            time.sleep(chance.choice((0.0, 0.001, 0.01, 0.05)))
            other.unplug()
            pad = TestPad()
            assert runner.process.poll() is None
        deadline = time.monotonic() + 60.0
        while ecodes.KEY_SPACE not in keyboard.device.active_keys():
            assert time.monotonic() < deadline and runner.process.poll() is None
            pad.press(ecodes.BTN_SOUTH, False)
            pad.press(ecodes.BTN_SOUTH, True)
            time.sleep(0.1)
        pad.press(ecodes.BTN_SOUTH, False)
        keyboard.wait_down()
    finally:
        pad.unplug()
        assert runner.end() == 0
