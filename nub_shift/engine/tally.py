"""Counts for the recap of a session; their size does not depend on its length."""

from __future__ import annotations

from dataclasses import dataclass, field


@dataclass
class Tally:
    """Counts since the tally was created.

    Attributes:
        moves: number of starts of each move, by id.
        layers: number of activations of each layer, by id.
        short: number of releases of each slot within a frame of its game, by name.
    """

    moves: dict[str, int] = field(default_factory=dict)
    layers: dict[str, int] = field(default_factory=dict)
    short: dict[str, int] = field(default_factory=dict)


def count(counts: dict[str, int], name: str) -> None:
    """Adds 1 to the count of `name`."""
    counts[name] = counts.get(name, 0) + 1
