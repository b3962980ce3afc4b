"""How quickly what hands did goes through a changed feel."""

from __future__ import annotations

import numpy as np

from nub_shift.analysis.shaping import shaped
from nub_shift.bench.figures import Figure, best_seconds
from nub_shift.model.feel import StickFeel

_SAMPLES = 1_000_000
# One with a curve, as most have in the end: by a power, and through points.
_FEELS = {"a power": StickFeel(power=1.6), "points": StickFeel(points=((0.3, 0.1), (0.7, 0.5)))}


def what_if_figures(quick: bool) -> list[Figure]:
    """Shaping of a stick's positions, in millions a second."""
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
        figures.append(Figure(f"what if: a stick shaped by {name}", rate, "million a second", 20.0, True, unseen))
    return figures
