"""Correction of a stick for the faults of its pad: rest in the middle, rim at 1."""

from __future__ import annotations

from math import atan2, cos, hypot, pi, sin

from nub_shift.model.pad.trim import LEAST_REACH, StickTrim


class Trimming:
    """A compiled trim. Positions have x to the right and y downwards, -1 to 1."""

    def __init__(self, trim: StickTrim) -> None:
        self._rest_x, self._rest_y = trim.rest_x, trim.rest_y
        self._dead = trim.dead_zone
        self._reach = self._from_the_middle(trim.reach)

    def place(self, x: float, y: float) -> tuple[float, float]:
        """Returns the corrected position; the middle itself while the stick only trembles there."""
        x, y = self.moved(x, y)
        return (x, y) if hypot(x, y) > self._dead else (0.0, 0.0)

    def moved(self, x: float, y: float) -> tuple[float, float]:
        """Returns the position with the rest in the middle and the rim at 1."""
        x, y = _from_rest(x, self._rest_x), _from_rest(y, self._rest_y)
        if not self._reach:
            return x, y
        step = (atan2(x, -y) / (2.0 * pi)) % 1.0 * len(self._reach)
        before = int(step) % len(self._reach)
        part = step - int(step)
        reach = self._reach[before] * (1.0 - part) + self._reach[(before + 1) % len(self._reach)] * part
        return x / reach, y / reach

    def _from_the_middle(self, reach: tuple[float, ...]) -> tuple[float, ...]:
        """Returns the rim as seen from the rest, at the same angles; the card measures it about 0."""
        if not reach or not (self._rest_x or self._rest_y):
            return reach
        count = len(reach)
        points = []
        for index, radius in enumerate(reach):
            angle = 2.0 * pi * index / count
            x, y = _from_rest(radius * sin(angle), self._rest_x), _from_rest(-radius * cos(angle), self._rest_y)
            points.append(((atan2(x, -y) / (2.0 * pi)) % 1.0 * count, hypot(x, y)))
        points.sort()
        around = [(points[-1][0] - count, points[-1][1]), *points, (points[0][0] + count, points[0][1])]
        made = []
        for index in range(count):
            after = next(at for at in range(1, len(around)) if around[at][0] >= index)
            (low, near), (high, far) = around[after - 1], around[after]
            part = (index - low) / (high - low) if high > low else 0.0
            made.append(max(near + (far - near) * part, LEAST_REACH))
        return tuple(made)


def _from_rest(value: float, rest: float) -> float:
    """Returns a value from -1..1, stretched so that `rest` becomes 0 and the ends stay."""
    offset = value - rest
    return offset / ((1.0 - rest) if offset > 0 else (1.0 + rest))
