"""What several parts of the window do with layouts and with areas that scroll."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QLayout, QScrollArea, QScrollBar, QWidget

from nub_shift.translation import tr


def quiet_scroll(widget: QWidget | None = None) -> QScrollArea:
    """An area that scrolls up and down where there is no room, without a frame and without a stop of the Tab key."""
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
    # To look for children would have PyQt take hold of sockets and timers of Qt's own among them.
    bars = (bar for bar in QApplication.allWidgets() if isinstance(bar, QScrollBar) and around.isAncestorOf(bar))
    for bar in bars:
        if not bar.accessibleName():
            upright = bar.orientation() is Qt.Orientation.Vertical
            bar.setAccessibleName(tr("Scrolls up and down") if upright else tr("Scrolls sideways"))


class PageScroll(QScrollArea):
    """An area for a whole page, which keeps the room of its scroll bar free: what it shows stays as wide as it is."""

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
    """It keeps its place while it is hidden, so that nothing moves as it comes and goes."""
    policy = widget.sizePolicy()
    policy.setRetainSizeWhenHidden(True)
    widget.setSizePolicy(policy)


def take_all(layout: QLayout) -> None:
    """Takes rows or columns out of a layout; what stood in them stays, to be put elsewhere."""
    while (item := layout.takeAt(0)) is not None:
        inner = item.layout()
        if inner is not None:
            take_all(inner)
            inner.deleteLater()
