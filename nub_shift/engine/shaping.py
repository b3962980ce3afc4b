"""How a raw stick position becomes a shaped one. Pure functions."""

from __future__ import annotations

from math import hypot

from nub_shift.model.profile import StickFeel


def shaped_stick(x: float, y: float, feel: StickFeel) -> tuple[float, float]:
    """A stick position with radial dead zone, edge zone and response curve.

    The radius r becomes ((r - dead) / (1 - edge - dead)) ** power, held to 0 and 1; the angle stays.

    Args:
        x: -1 to 1, to the right.
        y: -1 to 1, downwards.

    Returns:
        A position inside the unit circle.
    """
    radius = hypot(x, y)
    if radius <= feel.dead_zone:
        return 0.0, 0.0
    reach = min((radius - feel.dead_zone) / (1.0 - feel.edge_zone - feel.dead_zone), 1.0)
    factor = reach**feel.power / radius
    return x * factor, y * factor
