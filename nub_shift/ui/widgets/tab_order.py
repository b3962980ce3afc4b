"""Tab order by the visible layout, independent of the order of creation."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from PyQt6.QtCore import QObject, Qt
from PyQt6.QtWidgets import QApplication, QLayout, QScrollArea, QWidget


def tab_stops(widget: QWidget) -> Iterator[QWidget]:
    """Yields the stops of the Tab key within a widget, or the widget itself."""
    if not widget.isVisible() or not widget.isEnabled():
        return
    if widget.focusPolicy().value & Qt.FocusPolicy.TabFocus.value:
        yield widget
        return
    layout = widget.layout()
    if layout is not None:
        yield from _in_layout(layout)
        return
    for child in widget.children():
        if isinstance(child, QWidget) and not child.isWindow():
            yield from tab_stops(child)


def focus_next(window: QWidget, forward: bool) -> bool:
    """Moves the focus to the next or previous stop of a window; returns whether there is one."""
    stops, focus = list(tab_stops(window)), QApplication.focusWidget()
    if not stops:
        return False
    step = 1 if forward else -1
    at = stops.index(focus) + step if focus in stops else min(step, 0)
    stops[at % len(stops)].setFocus(Qt.FocusReason.TabFocusReason if forward else Qt.FocusReason.BacktabFocusReason)
    return True


def focus_next_area(areas: Sequence[QWidget]) -> None:
    """Moves the focus to the first stop of the next area that has one."""
    focus = QApplication.focusWidget()
    at = next((at for at, area in enumerate(areas) if focus is area or area.isAncestorOf(focus)), -1)
    stops = (next(tab_stops(area), None) for area in (*areas[at + 1 :], *areas))
    stop = next((stop for stop in stops if stop is not None), None)
    if stop is not None:
        stop.setFocus(Qt.FocusReason.TabFocusReason)


def bring_into_view(widget: QWidget) -> None:
    """Scrolls all enclosing areas so that a widget is visible."""
    around = widget.parentWidget()
    while around is not None:
        if isinstance(around, QScrollArea):
            around.ensureWidgetVisible(widget)
        around = around.parentWidget()


def _in_layout(layout: QLayout) -> Iterator[QWidget]:
    for index in range(layout.count()):
        item = layout.itemAt(index)
        if item is None:
            continue
        inner, widget = item.layout(), item.widget()
        if inner is not None:
            yield from _in_layout(inner)
        elif widget is not None:
            yield from tab_stops(widget)


class FollowedFocus(QObject):
    """Scrolls a window to the focused widget, unless the mouse gave the focus."""

    def __init__(self, window: QWidget) -> None:
        super().__init__(window)
        self._window = window
        application = QApplication.instance()
        if isinstance(application, QApplication):
            application.focusChanged.connect(self._on_focus)

    def _on_focus(self, _before: QWidget | None, now: QWidget | None) -> None:
        if now is not None and self._window.isAncestorOf(now) and not QApplication.mouseButtons().value:
            bring_into_view(now)
