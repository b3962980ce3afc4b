"""What the people who play are called."""

from __future__ import annotations

from nub_shift.translation import tr


def player_words(seat: int) -> str:
    """The one of that seat, which is counted from 0."""
    return tr("Player {number}", number=seat + 1)
