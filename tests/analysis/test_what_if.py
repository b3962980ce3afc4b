"""What another feel would have made of what hands did, held to what the engine makes of the same frames."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from nub_shift.analysis.figures import look_figures, pull_figures, walk_figures
from nub_shift.analysis.hands import ROWS, Hands, Piece
from nub_shift.analysis.reshaping import sectors, stick_motion, turned
from nub_shift.engine.engine import Engine
from nub_shift.engine.program import Program
from nub_shift.engine.values import Frame, Pointer
from nub_shift.keyboard.layout import us_layout
from nub_shift.model.controls import CONTROL_BY_NAME
from nub_shift.model.profile.feel import Directions, Feel, MotionFeel, Ramp, Smoothing, Stage, StickFeel, sound_feel
from nub_shift.store.profile_files import parse_profile
from tests.analysis.test_shaping import FEELS
from tests.engine.playing import START_US, profile_text

STICK = ("left_stick.x", "left_stick.y")
SMOOTHINGS = st.none() | st.builds(Smoothing, min_cutoff_hz=st.floats(0.5, 20.0), beta=st.floats(0.0, 10.0))
RAMPS = st.none() | st.builds(Ramp, start=st.floats(0.0, 1.0), full_ms=st.integers(1, 800))
SPEED = "left_stick = { pointer = { x = 1500, y = -900 } }"
KEYS = {"up": "W", "right": "D", "down": "S", "left": "A"}
WAYS = "\n".join(f'"left_stick.{way}" = {{ keys = ["KEY_{key}"] }}' for way, key in KEYS.items())


def hand(seed: int, count: int, step_us: int = 4_000) -> list[Frame]:
    """A stick that wanders, rests and jumps, at times that stray from the grid."""
    random = np.random.default_rng(seed)
    times = START_US + np.cumsum(random.integers(step_us // 2, step_us * 2, count))
    goals = np.repeat(
        random.uniform(-1.0, 1.0, (count // 10 + 1, 2)) * random.integers(0, 2, (count // 10 + 1, 1)), 10, 0
    )
    places = np.clip(goals[:count] + random.normal(0.0, 0.01, (count, 2)), -1.0, 1.0)
    return [
        Frame(int(t_us), dict(zip(STICK, place, strict=True)))
        for t_us, place in zip(times, places.tolist(), strict=True)
    ]


def piece_of(frames: list[Frame], channels: tuple[str, ...] = STICK, seconds: float = 600.0) -> Piece:
    hands = Hands()
    hands.take(frames)
    return hands.piece(channels, seconds)


def played(
    frames: list[Frame], slots: str, feel: StickFeel
) -> tuple[list[tuple[int, int, int]], list[tuple[int, tuple[str, ...]]]]:
    """All counts that the engine sends, and which slots are pressed after each frame."""
    profile = parse_profile(profile_text(slots), layout=us_layout)
    engine = Engine(Program(replace(profile, feel=replace(profile.feel, left_stick=feel)), us_layout))
    outputs, pressed = [], []
    for frame in frames:
        while (due := engine.deadline()) is not None and due <= frame.t_us:
            outputs += engine.advance(due)
        outputs += engine.feed(frame)
        pressed.append((frame.t_us, engine.state().slots))
    return [(out.t_us, out.dx, out.dy) for out in outputs if isinstance(out, Pointer)], pressed


@settings(max_examples=60)
@given(feel=FEELS, smoothing=SMOOTHINGS, ramp=RAMPS, seed=st.integers(0, 2**32 - 1))
def test_the_way_is_the_engines_to_the_count(
    feel: StickFeel, smoothing: Smoothing | None, ramp: Ramp | None, seed: int
) -> None:
    feel = sound_feel(Feel(left_stick=replace(feel, smoothing=smoothing, ramp=ramp))).left_stick
    frames = hand(seed, 120)
    sent, _ = played(frames, SPEED, feel)
    motion = stick_motion(feel, piece_of(frames))
    ways = motion.way(1500.0, -900.0)
    for axis, way in enumerate(ways):
        at = np.searchsorted(motion.t_us, [frame.t_us for frame in frames], side="right") - 1
        for frame, wanted in zip(frames, way[at], strict=True):
            counts = sum(counted[1 + axis] for counted in sent if counted[0] <= frame.t_us)
            # A count that is due waits for its tick of a millisecond.
            assert abs(counts - wanted) <= 1.0 + 1e-6 + 0.001 * (1500.0, 900.0)[axis]


@settings(max_examples=60)
@given(feel=FEELS, width=st.floats(10.0, 80.0), seed=st.integers(0, 2**32 - 1))
def test_directions_are_the_engines(feel: StickFeel, width: float, seed: int) -> None:
    feel = sound_feel(Feel(left_stick=replace(feel, directions=Directions(diagonal_degrees=width)))).left_stick
    frames = hand(seed, 200)
    _, pressed = played(frames, WAYS, feel)
    found = sectors(feel, piece_of(frames))
    ways = [
        (),
        ("up",),
        ("right", "up"),
        ("right",),
        ("down", "right"),
        ("down",),
        ("down", "left"),
        ("left",),
        ("left", "up"),
    ]
    made = [tuple(sorted(slot.removeprefix("left_stick.") for slot in slots)) for _, slots in pressed]
    assert made == [ways[sector + 1] for sector in found.tolist()]


@settings(max_examples=30)
@given(
    ratio=st.floats(0.5, 8.0),
    fast=st.none() | st.floats(0.5, 12.0),
    gate=st.floats(0.0, 3.0),
    seed=st.integers(0, 10**6),
)
def test_turning_is_the_engines_to_the_count(ratio: float, fast: float | None, gate: float, seed: int) -> None:
    feel = MotionFeel(ratio=ratio, fast_ratio=fast, gate_dps=gate)
    random = np.random.default_rng(seed)
    rates = np.repeat(random.normal(0.0, 60.0, 12), 20)
    frames = [
        Frame(
            START_US + 4_000 * at,
            {"motion.gyro_y": float(rate), "motion.gyro_x": float(rate) / 3, "motion.accel_y": 1.0},
        )
        for at, rate in enumerate(rates)
    ]
    profile = parse_profile(profile_text("motion = { turn = {} }"), layout=us_layout)
    engine = Engine(Program(replace(profile, feel=replace(profile.feel, motion=feel)), us_layout))
    engine.set_bias((0.0, 0.0, 0.0))
    sent = []
    for frame in frames:
        while (due := engine.deadline()) is not None and due <= frame.t_us:
            sent += engine.advance(due)
        sent += engine.feed(frame)
    made = turned(feel, piece_of(frames, CONTROL_BY_NAME["motion"].channels), (0.0, 0.0, 0.0))
    for axis, way in (("dx", made.x), ("dy", made.y)):
        counts = sum(getattr(out, axis) for out in sent if isinstance(out, Pointer))
        assert abs(counts - way[-1] * 10.0) <= 1.0 + 0.01 * made.view.max()  # 3600 counts a turn; a tick may be due


def test_figures_of_looking_tell_a_drifting_stick_and_a_rim_that_is_not_reached() -> None:
    """At rest off the middle for 4 s, then four pushes to 0.86 of half a second each."""
    places = [0.06] * 1000 + [*([0.86] * 125), *([0.06] * 125)] * 4
    frames = [Frame(START_US + 4_000 * at, {"left_stick.x": x, "left_stick.y": 0.0}) for at, x in enumerate(places)]
    piece = piece_of(frames)
    bad = StickFeel(dead_zone=0.02, edge_zone=0.0)
    good = StickFeel(dead_zone=0.08, edge_zone=0.15)
    drifting, steady = (look_figures(piece, stick_motion(feel, piece), 1000.0, 1000.0) for feel in (bad, good))
    assert drifting.jitter == pytest.approx(1000.0 * (0.04 / 0.98) * 60.0, rel=1e-6)
    assert steady.jitter == 0.0
    assert (drifting.pushes, drifting.full, drifting.full_s) == (4, 0, None)
    assert (steady.pushes, steady.full, steady.full_s) == (4, 4, 0.0)
    assert drifting.speed < steady.speed == pytest.approx(1000.0)


def test_figures_of_directions_and_stages() -> None:
    angles = np.radians([0.0] * 50 + [90.0] * 25 + [0.0] * 5 + [90.0] * 20)
    frames = [
        Frame(START_US + 10_000 * at, {"left_stick.x": float(np.sin(angle)), "left_stick.y": float(-np.cos(angle))})
        for at, angle in enumerate(angles)
    ]
    piece = piece_of(frames)
    figures = walk_figures(piece, sectors(StickFeel(), piece))
    assert figures.shares[0] == pytest.approx(55 / 99) and figures.shares[2] == pytest.approx(44 / 99)
    assert (figures.short, round(figures.changes)) == (1, round(3 * 60 / 0.99))
    pulls = [0.0, 0.5, 0.0, 0.5, 0.3, 0.5, 0.0, 0.2, 0.0, 0.0]
    frames = [Frame(START_US + 100_000 * at, {"left_trigger": pull}) for at, pull in enumerate(pulls)]
    found = pull_figures(piece_of(frames, ("left_trigger",)), Stage(on=0.45, off=0.4), None, 1)
    assert (found.pulls, len(found.presses), found.missed, found.doubled) == (3, 3, 1, 1)


def test_hands_keep_the_last_of_a_pad_and_leave_out_what_nobody_watched() -> None:
    hands = Hands()
    assert hands.piece(STICK, 60.0).seconds == 0.0
    hands.take(Frame(START_US + 4_000 * at, {"left_stick.x": at / ROWS}) for at in range(ROWS + 500))
    hands.take([Frame(START_US + 4_000 * (ROWS + 500), {"south": 1.0})])  # no hand's way
    piece = hands.piece(("left_stick.x",), 10_000.0)
    assert len(piece.t_us) == ROWS and piece.values[-1, 0] == (ROWS + 499) / ROWS
    assert hands.piece(("left_stick.x",), 60.0).seconds == pytest.approx(60.0, abs=0.004)
    before = piece.t_us[-1]
    hands.pause()
    hands.take([Frame(START_US + 4_000 * ROWS + 900_000_000, {"left_stick.y": 0.5})])
    again = hands.piece(STICK, 1.0)
    assert again.t_us[-1] - before == 4_000 and again.values[-1].tolist() == [(ROWS + 499) / ROWS, 0.5]
