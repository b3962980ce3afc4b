"""Helpers for layouts and scroll areas."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QLayout, QScrollArea, QScrollBar, QWidget

from nub_shift.translation import tr


def quiet_scroll(widget: QWidget | None = None) -> QScrollArea:
    """Returns an area that scrolls vertically if necessary, without a frame and without a stop of the Tab key."""
    scroll = QScrollArea()
    scroll.setWidgetResizable(True)
    scroll.setFrameShape(QScrollArea.Shape.NoFrame)
    scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    if widget is not None:
        scroll.setWidget(widget)
    return scroll


def name_scroll_bars(around: QWidget) -> None:
    """Names the scroll bars of all areas and lists in a window, which assistive tools list beside its controls."""
    # Searching for children would make PyQt wrap sockets and timers of Qt's own.
    bars = (bar for bar in QApplication.allWidgets() if isinstance(bar, QScrollBar) and around.isAncestorOf(bar))
    for bar in bars:
        if not bar.accessibleName():
            upright = bar.orientation() is Qt.Orientation.Vertical
            bar.setAccessibleName(tr("Scrolls up and down") if upright else tr("Scrolls sideways"))


class PageScroll(QScrollArea):
    """Scroll area of a whole page, with room reserved for its scroll bar, so that the content keeps its width."""

    def __init__(self, page: QWidget) -> None:
        super().__init__()
        self.setWidgetResizable(True)
        self.setFrameShape(QScrollArea.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setWidget(page)
        bar = self.verticalScrollBar()
        assert bar is not None
        bar.rangeChanged.connect(self._on_range)
        self._on_range(0, bar.maximum())

    def _on_range(self, _least: int, most: int) -> None:
        bar = self.verticalScrollBar()
        self.setViewportMargins(0, 0, bar.sizeHint().width() if not most and bar is not None else 0, 0)


def keep_room(widget: QWidget) -> None:
    """Keeps the room of a hidden widget, so that nothing moves when it appears."""
    policy = widget.sizePolicy()
    policy.setRetainSizeWhenHidden(True)
    widget.setSizePolicy(policy)


def take_all(layout: QLayout) -> None:
    """Removes rows or columns from a layout; their widgets stay for reuse."""
    while (item := layout.takeAt(0)) is not None:
        inner = item.layout()
        if inner is not None:
            take_all(inner)
            inner.deleteLater()
