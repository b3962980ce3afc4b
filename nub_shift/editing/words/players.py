"""Names of the players."""

from __future__ import annotations

from nub_shift.translation import tr


def player_words(seat: int) -> str:
    """Returns the name of the player of a seat, counted from 0."""
    return tr("Player {number}", number=seat + 1)
