"""A game reads its keys once a frame: each tap lasts for a frame, and what it sees of a turbo is computed rightly."""

from __future__ import annotations

from bisect import bisect_right
from itertools import pairwise

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from nub_shift.engine.engine import Engine
from nub_shift.engine.program import Program
from nub_shift.engine.values import Frame, Key
from nub_shift.model.profile.actions import Action, Manner
from nub_shift.model.profile.game import Game
from nub_shift.model.profile.profile import SCHEMA_VERSION, Layer, Profile
from nub_shift.model.profile.reactions import Assignment
from tests.engine.playing import START_US

SECONDS = 6
PHASES = 128
rates_hz = st.one_of(st.none(), st.integers(10, 240))
shortest_ms = st.one_of(st.none(), st.integers(0, 60))


def pressed(game: Game, action: Action, seconds: float) -> list[int]:
    """The times at which the key of `action` goes down and up in turn, while its slot is held for some seconds."""
    slots = {"south": Assignment(**{name: getattr(action, name) for name in ("keys", "manner", "rate_hz", "duty")})}
    layer = Layer(id="base", label="Base", slots=slots)
    engine = Engine(Program(Profile(schema=SCHEMA_VERSION, title="T", layers=(layer,), game=game)))
    end_us = START_US + round(seconds * 1_000_000)
    outputs = engine.feed(Frame(START_US, {"south": 1.0}))
    while (deadline := engine.deadline()) is not None and deadline < end_us:
        outputs += engine.advance(deadline)
    outputs += engine.feed(Frame(end_us, {"south": 0.0}))
    while (deadline := engine.deadline()) is not None:
        outputs += engine.advance(deadline)
    keys = [output for output in outputs if isinstance(output, Key)]
    assert [key.down for key in keys] == [True, False] * (len(keys) // 2)
    return [key.t_us for key in keys]


def seen(changes: list[int], rate_hz: int, phase: float) -> int:
    """The presses that a game sees that reads `rate_hz` times a second, first at a part of its frame."""
    count, was_down, reading = 0, False, 0
    while (t_us := START_US + round((reading + phase) * 1_000_000 / rate_hz)) < changes[-1]:
        down = bisect_right(changes, t_us) % 2 == 1
        count += down and not was_down
        was_down, reading = down, reading + 1
    return count


@example(None, None, 0, 50, 0.2)
@settings(max_examples=40)
@given(rates_hz, shortest_ms, shortest_ms, st.integers(1, 60), st.sampled_from((0.2, 0.5, 0.7)))
def test_the_presses_that_a_game_sees_of_a_turbo_are_computed_as_they_are_read(
    frame_rate_hz: int | None, key_ms: int | None, gap_ms: int | None, rate_hz: float, duty: float
) -> None:
    game = Game(frame_rate_hz=frame_rate_hz, shortest_key_ms=key_ms, shortest_gap_ms=gap_ms)
    changes = pressed(game, Action(keys=("KEY_A",), manner=Manner.TURBO, rate_hz=rate_hz, duty=duty), SECONDS)
    gaps = [after - before for before, after in pairwise(changes)]
    assert min(gaps[::2]) >= game.key_ms * 1000 and min(gaps[1::2], default=1 << 30) >= game.gap_ms * 1000
    counts = [seen(changes, game.rate_hz, part / PHASES) for part in range(PHASES)]
    wanted = game.presses_seen(rate_hz, duty)
    # A press more or less at the end, and each edge of a window of phases may lie between two of them.
    assert sum(counts) / PHASES / SECONDS == pytest.approx(wanted, abs=1 / SECONDS + 2 * game.rate_hz / PHASES)
    if key_ms is None and gap_ms is None:
        down_ms, up_ms = game.repeat_times(rate_hz, duty)
        assert wanted == pytest.approx(1000 / (down_ms + up_ms)), "each press lasts for a frame, so each is seen"


@pytest.mark.parametrize(
    ("game", "lasts_ms"),
    [
        (Game(), 34),
        (Game(frame_rate_hz=60), 17),
        (Game(frame_rate_hz=144), 7),
        (Game(frame_rate_hz=60, shortest_key_ms=50), 50),
        (Game(shortest_key_ms=0), 2),
    ],
)
def test_a_short_tap_lasts_for_a_frame_of_its_game(game: Game, lasts_ms: int) -> None:
    down_us, up_us = pressed(game, Action(keys=("KEY_A",)), 0.002)
    assert up_us - down_us == lasts_ms * 1000
