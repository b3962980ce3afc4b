"""Output of another feel for recorded movements: path of the pointer, directions, stages.

Tested against the engine's own output for the same frames.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot

import numpy as np
from numpy.typing import NDArray

from nub_shift.analysis.hands import Piece, Samples, Times
from nub_shift.analysis.shaping import oriented, shaped
from nub_shift.analysis.turning import Turning
from nub_shift.engine.drive import RESTLESS_US
from nub_shift.engine.effect_context import EffectContext
from nub_shift.engine.ledger import Ledger
from nub_shift.engine.readers import StickReader
from nub_shift.engine.shaping.bias import Vector
from nub_shift.engine.shaping.directions import Sectors
from nub_shift.engine.shaping.motion import SILENCE_US
from nub_shift.engine.stage_readers import Threshold
from nub_shift.engine.values import US_PER_SECOND, Frame
from nub_shift.model.controls import CONTROL_BY_NAME, MOTION_SLOT
from nub_shift.model.profile.feel import MotionFeel, Stage, StickFeel

_SENSORS = CONTROL_BY_NAME[MOTION_SLOT].channels


@dataclass(frozen=True)
class Motion:
    """Output of a stick over a piece; each value is valid until the next time.

    Attributes:
        t_us: times (n); the last one only ends the value before.
        x, y: shaped position from each time on (n).
    """

    t_us: Times
    x: Samples
    y: Samples

    def way(self, across: float, down: float) -> tuple[Samples, Samples]:
        """Returns the path of the pointer in counts at each time, for speeds in counts a second at full deflection."""
        seconds = np.diff(self.t_us) / US_PER_SECOND
        x, y = (
            np.concatenate(([0.0], np.cumsum(values[:-1] * speed * seconds)))
            for values, speed in ((self.x, across), (self.y, down))
        )
        return x, y


def depends_on_time(feel: StickFeel) -> bool:
    """Returns whether a feel smooths or ramps, which needs the engine's own steps one by one."""
    axes = (feel.x, feel.y)
    return feel.smoothing is not None or feel.ramp is not None or any(axis and axis.ramp for axis in axes)


def stick_motion(feel: StickFeel, piece: Piece) -> Motion:
    """Returns the engine's output for a stick's two axes."""
    x, y = np.ascontiguousarray(piece.values.T)
    if not depends_on_time(feel):
        return Motion(piece.t_us, *shaped(feel, x, y))
    return _step_by_step(feel, piece.t_us.tolist(), x.tolist(), y.tolist())


def _step_by_step(feel: StickFeel, t_us: list[int], xs: list[float], ys: list[float]) -> Motion:
    """Runs the engine's own reader at the engine's times: at each frame, and every 4 ms while time changes the
    output.
    """
    context = EffectContext(Ledger())
    reader = StickReader("left_stick", frozenset(), False, [], context)
    reader.use(feel)
    reader.counts = True
    found: list[tuple[int, float, float]] = []
    tick_us = None

    def act(now_us: int) -> int | None:
        found.append((now_us, *reader.output(now_us)))
        return now_us + RESTLESS_US if reader.restless else None

    for now_us, x, y in zip(t_us, xs, ys, strict=True):
        while tick_us is not None and tick_us <= now_us:
            tick_us = act(tick_us)
        context.stale = False
        reader.take({"left_stick.x": x, "left_stick.y": y}, now_us)
        if context.stale:
            following = act(now_us)
            tick_us = tick_us if tick_us is not None else following
    found.append((t_us[-1], *(found[-1][1:] if found else (0.0, 0.0))))
    times, x_out, y_out = zip(*found, strict=True)
    return Motion(np.array(times, dtype=np.int64), np.array(x_out), np.array(y_out))


def sectors(feel: StickFeel, piece: Piece) -> NDArray[np.int64]:
    """Returns the engine's sector from each row on; -1 for none."""
    x, y = oriented(feel, *np.ascontiguousarray(piece.values.T))
    borders = Sectors(feel.directions)
    found = np.empty(len(x), dtype=np.int64)
    current: int | None = None
    for index, (at_x, at_y) in enumerate(zip(x.tolist(), y.tolist(), strict=True)):
        current = borders.next(current, at_x, at_y, hypot(at_x, at_y))
        found[index] = -1 if current is None else current
    return found


def stage_pressed(piece: Piece, stage: Stage, ease: float | None, side: int) -> NDArray[np.bool_]:
    """Returns whether a stage of a trigger or sensor is pressed from each row on.

    Args:
        piece: piece of one channel.
        ease: `ease` of quick mode, or None.
        side: -1 for a stage below rest.
    """
    threshold = Threshold()
    threshold.use(stage, ease)
    pull = np.maximum(0.0, side * piece.values[:, 0])
    return np.fromiter((threshold.take(value) for value in pull.tolist()), dtype=bool, count=len(pull))


@dataclass(frozen=True)
class Turned:
    """Output of turning the pad over a piece.

    Attributes:
        x, y: angle of the view in degrees, to the right and down, at each row (n).
        hand: rate of the hand in degrees a second, at each row (n).
        view: rate of the view (n).
    """

    x: Samples
    y: Samples
    hand: Samples
    view: Samples


def turned(feel: MotionFeel, piece: Piece, bias: Vector | None) -> Turned:
    """Returns the engine's output for the six channels of motion sensors, sample by sample.

    `bias` is the known bias of the gyro.
    """
    turning = Turning(bias)
    turning.use(feel)
    rates = np.zeros((len(piece.t_us), 4))
    for index, (t_us, row) in enumerate(zip(piece.t_us.tolist(), piece.values.tolist(), strict=True)):
        turning.take(Frame(t_us, dict(zip(_SENSORS, row, strict=True))))
        rates[index] = (*turning.view, *turning.raw)
    seconds = np.minimum(np.diff(piece.t_us), SILENCE_US) / US_PER_SECOND
    x, y = (np.concatenate(([0.0], np.cumsum(rates[:-1, axis] * seconds))) for axis in (0, 1))
    return Turned(x, y, np.hypot(rates[:, 2], rates[:, 3]), np.hypot(rates[:, 0], rates[:, 1]))
