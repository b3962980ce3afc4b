"""Where the Tab key goes: through what is seen, in the order in which it is laid out, whenever it was made."""

from __future__ import annotations

from collections.abc import Iterator

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLayout, QScrollArea, QWidget


def tab_stops(widget: QWidget) -> Iterator[QWidget]:
    """What the Tab key stops at within a widget, or the widget itself."""
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


def bring_into_view(widget: QWidget) -> None:
    """Scrolls whatever a widget lies in so that it is seen."""
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
