"""What the people who play are called."""

from __future__ import annotations


def player_words(seat: int) -> str:
    """The one of that seat, which is counted from 0."""
    return f"Player {seat + 1}"
