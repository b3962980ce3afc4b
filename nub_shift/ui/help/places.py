"""Places of the guide for parts of the window."""

from __future__ import annotations

from typing import Final

from PyQt6.QtWidgets import QWidget

_PROPERTY: Final = "guide"
FIRST_PLACE: Final = "index"


def set_place(widget: QWidget, place: str) -> None:
    """Sets the place of a part of the window: a page of the guide, or `page#heading` with dashes between words."""
    widget.setProperty(_PROPERTY, place)


def place_of(widget: QWidget | None) -> str:
    """Returns the place of the nearest ancestor that has one."""
    while widget is not None:
        place = widget.property(_PROPERTY)
        if isinstance(place, str):
            return place
        widget = widget.parentWidget()
    return FIRST_PLACE
