"""Colours that mark pads and profiles."""

from __future__ import annotations

from enum import Enum

from nub_shift.translation import tr


class Colour(Enum):
    """Colour given by a person as a mark of a pad or a profile."""

    RED = "red"
    AMBER = "amber"
    GREEN = "green"
    BLUE = "blue"
    VIOLET = "violet"
    PINK = "pink"
    WHITE = "white"
    BLACK = "black"


# Names of the colours.
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
