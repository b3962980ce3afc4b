"""The colours that things are known by."""

from __future__ import annotations

from enum import Enum


class Colour(Enum):
    """What colour a person gives a pad or a profile, to know it by."""

    RED = "red"
    AMBER = "amber"
    GREEN = "green"
    BLUE = "blue"
    VIOLET = "violet"
    PINK = "pink"
    WHITE = "white"
    BLACK = "black"
