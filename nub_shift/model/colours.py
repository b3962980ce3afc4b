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


# What the colours are called.
COLOUR_LABELS: dict[Colour, str] = {
    Colour.RED: "Red",
    Colour.AMBER: "Amber",
    Colour.GREEN: "Green",
    Colour.BLUE: "Blue",
    Colour.VIOLET: "Violet",
    Colour.PINK: "Pink",
    Colour.WHITE: "White",
    Colour.BLACK: "Black",
}
