"""Throughput of a changed feel over recorded movements."""

from __future__ import annotations

import numpy as np
from msgspec.structs import replace

from nub_shift.analysis.shaping import shaped
from nub_shift.bench.figures import Figure, best_seconds
from nub_shift.model.profile.feel import AxisFeel, DeadZoneShape, StickFeel

_SAMPLES = 1_000_000
_LEAST = 20.0  # million positions a second
_POINTS = ((0.3, 0.1), (0.7, 0.5))
_AXIS = AxisFeel(dead_zone=0.02, points=_POINTS)
_TUNED = StickFeel(
    square_off=0.4,
    dead_zone_shape=DeadZoneShape.BOTH,
    axial_dead_zone=0.05,
    anti_dead_zone=0.1,
    points=_POINTS,
)
_EVERYTHING = replace(_TUNED, rotation_degrees=4.0, x=_AXIS, y=_AXIS)
# With a curve, as usual: by a power, and through points; with all settings of a measurement and wishes; and the worst
# case.
_FEELS = {
    "a power": StickFeel(power=1.6),
    "points": StickFeel(points=_POINTS),
    "a fit and wishes": _TUNED,
    "every stage there is": _EVERYTHING,
}


def what_if_figures(quick: bool) -> list[Figure]:
    """Returns the rate of shaping, in million positions a second."""
    random = np.random.default_rng(1)
    x, y = random.uniform(-1.0, 1.0, (2, _SAMPLES))
    works = [lambda feel=feel: shaped(feel, x, y) for feel in _FEELS.values()]
    times = best_seconds(works, 1, 5 if quick else 20)
    figures = []
    for (name, feel), seconds in zip(_FEELS.items(), times, strict=True):
        made = np.hypot(*shaped(feel, x[:1000], y[:1000]))
        seen = made.min() == 0.0 and made.max() > 0.99
        unseen = "" if seen else "nothing was shaped"
        rate = _SAMPLES / seconds / 1e6
        figures.append(Figure(f"what if: a stick shaped by {name}", rate, "million a second", _LEAST, True, unseen))
    return figures
