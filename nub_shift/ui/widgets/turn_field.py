"""Field for the counts of a full turn of the view."""

from __future__ import annotations

from PyQt6.QtWidgets import QSpinBox

from nub_shift.translation import tr
from nub_shift.ui.widgets.spins import make_spin

# Limits of a profile.
LEAST_COUNTS, MOST_COUNTS = 100, 200_000
FULL_TURN_HELP = tr("How many counts turn the view round once in this game. Once it is known, speeds are in degrees.")


def make_turn_spin(unit: str) -> QSpinBox:
    """Returns a field for the counts of a full turn."""
    return make_spin(tr("counts for a full turn of the view"), LEAST_COUNTS, MOST_COUNTS, unit)
