"""Measuring a pad's range: it ends once the sticks have been rolled, and not by a clock that a hand has to race."""

from __future__ import annotations

from math import cos, pi, sin

import pytest
from pytestqt.qtbot import QtBot

from nub_shift.protocol.messages import FrameNews
from nub_shift.ui.pads.measuring import Measuring, Task

LEFT_SEEN, RIGHT_SEEN = "left_stick", "right_stick"


@pytest.mark.parametrize(
    ("turns", "after_s", "ended", "unrolled"),
    [
        ({LEFT_SEEN: 2.3, RIGHT_SEEN: -2.3}, 0.1, True, ()),
        ({LEFT_SEEN: 2.3}, 1.0, False, (RIGHT_SEEN,)),
        ({LEFT_SEEN: 2.3}, 4.0, True, (RIGHT_SEEN,)),
        ({LEFT_SEEN: 2.3, RIGHT_SEEN: 1.0}, 4.0, False, (RIGHT_SEEN,)),
        ({}, 20.0, False, (LEFT_SEEN, RIGHT_SEEN)),
        ({LEFT_SEEN: 1.0}, 40.0, True, (LEFT_SEEN, RIGHT_SEEN)),
    ],
)
def test_the_range_is_measured_until_the_sticks_are_round(
    qtbot: QtBot, turns: dict[str, float], after_s: float, ended: bool, unrolled: tuple[str, ...]
) -> None:
    """At 250 reports a second and one turn in 2 s; then nothing for a while."""
    now = [1_000_000]
    measuring = Measuring(lambda: now[0])
    measuring.start(Task.RIM, (LEFT_SEEN, RIGHT_SEEN), {})
    now[0] += 500_000
    for step in range(1 + round(max(map(abs, turns.values()), default=0.0) * 500)):
        now[0] += 4_000
        values: dict[str, float] = {}
        for stick, turned in turns.items():
            angle = 2 * pi * min(step / 500, abs(turned)) * (1 if turned > 0 else -1)
            values |= {f"{stick}.x": sin(angle), f"{stick}.y": -cos(angle)}
        measuring.take([FrameNews(now[0], values)])
    now[0] += round(after_s * 1e6)
    with qtbot.waitSignal(measuring.done if ended else measuring.went_on, timeout=20_000):
        pass
    assert (measuring.task is None) == ended
    assert measuring.unrolled == unrolled
