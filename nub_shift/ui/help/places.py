"""Which place of the guide belongs to which part of the window."""

from __future__ import annotations

from typing import Final

from PyQt6.QtWidgets import QWidget

_PROPERTY: Final = "guide"
FIRST_PLACE: Final = "index"


def set_place(widget: QWidget, place: str) -> None:
    """Gives a part of the window its place: a page of the guide, or `page#heading` with dashes between its words."""
    widget.setProperty(_PROPERTY, place)


def place_of(widget: QWidget | None) -> str:
    """The place of what is around a widget most closely."""
    while widget is not None:
        place = widget.property(_PROPERTY)
        if isinstance(place, str):
            return place
        widget = widget.parentWidget()
    return FIRST_PLACE
