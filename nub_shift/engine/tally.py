"""What was done while playing, in counts of what a profile has: they take no more room however long that is."""

from __future__ import annotations

from dataclasses import dataclass, field


@dataclass
class Tally:
    """Counts since they were taken last.

    Attributes:
        moves: how often each move began, by its id.
        layers: how often each layer came on, by its id.
        short: how often each slot was released within a frame of its game, by its name.
    """

    moves: dict[str, int] = field(default_factory=dict)
    layers: dict[str, int] = field(default_factory=dict)
    short: dict[str, int] = field(default_factory=dict)


def count(counts: dict[str, int], name: str) -> None:
    """Once more."""
    counts[name] = counts.get(name, 0) + 1
