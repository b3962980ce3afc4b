"""Roving focus: one stop of the Tab key for many widgets, with arrow keys between them."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QWidget

_STEPS = {
    Qt.Key.Key_Up: (0, -1),
    Qt.Key.Key_Down: (0, 1),
    Qt.Key.Key_Left: (-1, 0),
    Qt.Key.Key_Right: (1, 0),
}


def step_of(event: QKeyEvent | None) -> tuple[int, int] | None:
    """Returns the step to the right and down of an arrow key; None for any other key."""
    return _STEPS.get(Qt.Key(event.key())) if event is not None else None


def make_stop(widgets: Iterable[QWidget], stop: QWidget | None) -> None:
    """Makes one widget the stop of the Tab key; the others get the focus by arrows and clicks."""
    for widget in widgets:
        widget.setFocusPolicy(Qt.FocusPolicy.StrongFocus if widget is stop else Qt.FocusPolicy.ClickFocus)
