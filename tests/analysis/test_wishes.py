"""Each wish makes better what it is about, on a made-up hand that has the trouble."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
import pytest

from nub_shift.analysis.figures import look_figures, pull_figures, walk_figures
from nub_shift.analysis.hands import Hands, Piece
from nub_shift.analysis.reshaping import sectors, stick_motion
from nub_shift.analysis.turning import Turning
from nub_shift.demo.games import demo_profile_text
from nub_shift.editing.edits.bindings import set_feel
from nub_shift.editing.feel.look_speed import speed
from nub_shift.editing.feel.wishes import Wish, wishes
from nub_shift.engine.values import Frame
from nub_shift.model.profile.profile import Profile
from nub_shift.store.profile_files import parse_profile
from tests.engine.playing import START_US

DEMO = parse_profile(demo_profile_text())
TICKS = 1_000
Figure = Callable[[Profile], float]


def piece(channels: tuple[str, ...], *columns: np.ndarray) -> Piece:
    hands = Hands()
    rows = np.stack(columns, axis=1).tolist()
    hands.take(Frame(START_US + 4_000 * at, dict(zip(channels, row, strict=True))) for at, row in enumerate(rows))
    return hands.piece(channels, 60.0)


def stick(name: str, x: np.ndarray, y: np.ndarray | float = 0.0) -> Piece:
    return piece((f"{name}.x", f"{name}.y"), x, np.broadcast_to(y, x.shape))


def noise(size: float) -> np.ndarray:
    return np.random.default_rng(5).normal(0.0, size, TICKS)


def pushes(radius: float) -> np.ndarray:
    """Half a second out, half a second in the middle."""
    return np.where(np.arange(TICKS) % 250 < 125, radius, 0.0)


def look(did: Piece, figure: str) -> Figure:
    def found(profile: Profile) -> float:
        use = speed(profile, "base", "right_stick")
        assert use is not None
        motion = stick_motion(profile.feel.right_stick, did)
        value = getattr(look_figures(did, motion, use.x, use.y), figure)
        return float(value if value is not None else 0.0)

    return found


def walk(did: Piece, diagonal: bool) -> Figure:
    def found(profile: Profile) -> float:
        return sum(walk_figures(did, sectors(profile.feel.left_stick, did)).shares[int(diagonal) :: 2])

    return found


def pulled(did: Piece, figure: str) -> Figure:
    return lambda profile: float(getattr(pull_figures(did, profile.feel.right_trigger.light, None, 1), figure))


def pressed(did: Piece) -> Figure:
    return lambda profile: float(len(pull_figures(did, profile.feel.right_trigger.light, None, 1).presses))


def turned(dps: float, tremor: float, figure: Callable[[Turning], float]) -> Figure:
    def found(profile: Profile) -> float:
        turning = Turning()
        turning.use(profile.feel.motion)
        shaken = np.random.default_rng(3).normal(0.0, tremor, TICKS)
        for at in range(2 * TICKS):  # at rest first, so that its bias is known
            rate = dps + shaken[at - TICKS] if at >= TICKS else 0.0
            if at == TICKS:
                turning.begin()
            turning.take(Frame(START_US + 4_000 * at, {"motion.gyro_y": -rate, "motion.accel_y": 1.0}))
        return figure(turning)

    return found


AT_REST = stick("right_stick", 0.06 + noise(0.01), 0.02 + noise(0.01))
WOBBLE = 4.0 * np.sin(np.arange(TICKS) / 40)


def slanted(degrees: float) -> Piece:
    angle = np.radians(degrees + WOBBLE)
    return stick("left_stick", np.sin(angle), -np.cos(angle))


SHORT = stick("right_stick", pushes(0.92))
KNOCKED = piece(("right_trigger",), pushes(0.34))


@pytest.mark.parametrize(
    ("wish", "trouble", "figure", "grows"),
    [
        ("Steadier at rest", {"dead_zone": 0.06}, look(AT_REST, "jitter"), False),
        ("Reacts sooner", {"dead_zone": 0.15}, look(stick("right_stick", pushes(0.145)), "speed"), True),
        (
            "Full speed before the rim",
            {"edge_zone": 0.0, "power": 1.0},
            look(stick("right_stick", pushes(0.92)), "full"),
            True,
        ),
        ("Softer near the centre", {"power": 1.0}, look(stick("right_stick", pushes(0.3)), "speed"), False),
        ("Softer near the centre", {"points": ((0.5, 0.6),)}, look(stick("right_stick", pushes(0.3)), "speed"), False),
        ("Stronger near the centre", {"power": 2.5}, look(stick("right_stick", pushes(0.3)), "speed"), True),
        ("Quicker at the edge", {"power": 1.5}, look(stick("right_stick", pushes(1.0)), "speed"), True),
        ("No jump at the start", {"anti_dead_zone": 0.2}, look(stick("right_stick", pushes(0.14)), "speed"), False),
        ("Look faster", {}, look(stick("right_stick", pushes(0.9)), "speed"), True),
        ("Look slower", {}, look(stick("right_stick", pushes(0.9)), "speed"), False),
        ("Easier diagonals", {}, walk(slanted(20.0), True), True),
        ("Easier straight lines", {}, walk(slanted(24.0), False), True),
        (
            "Fewer presses by accident",
            {},
            pressed(KNOCKED),
            False,
        ),
        ("Trigger reacts sooner", {}, pulled(piece(("right_trigger",), pushes(0.28)), "missed"), False),
        ("Less shake when pressing buttons", {}, turned(0.0, 0.5, lambda found: found.moved), False),
        ("Slow turns must not be lost", {"gate_dps": 2.0}, turned(0.8, 0.0, lambda found: found.steady_way), True),
    ],
)
def test_a_wish_makes_it_better(wish: str, trouble: dict[str, Any], figure: Figure, grows: bool) -> None:
    control = {"Easier": "left_stick", "Fewer": "right_trigger", "Trigger": "right_trigger", "Less": "motion"}.get(
        wish.split()[0], "motion" if "turns" in wish else "right_stick"
    )
    profile = set_feel(DEMO, control, **trouble)
    (found,) = [one for one in wishes(profile, "base", control) if one.text == wish]
    assert isinstance(found, Wish)
    before, after = figure(profile), figure(found.edit(profile))
    assert (after > before) if grows else (after < before), (before, after)
