"""The colours that things are known by."""

from __future__ import annotations

from enum import Enum

from nub_shift.translation import tr


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
    Colour.RED: tr("Red"),
    Colour.AMBER: tr("Amber"),
    Colour.GREEN: tr("Green"),
    Colour.BLUE: tr("Blue"),
    Colour.VIOLET: tr("Violet"),
    Colour.PINK: tr("Pink"),
    Colour.WHITE: tr("White"),
    Colour.BLACK: tr("Black"),
}
