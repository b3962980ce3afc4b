"""Qt's test hands, untyped: the stubs of QTest take `self` for an argument of its static functions."""

from __future__ import annotations

from typing import Any

import PyQt6.QtTest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QMenu, QWidget

from nub_shift.ui.widgets.tab_order import tab_stops

QTest: Any = PyQt6.QtTest.QTest


def popped(button: QWidget) -> QMenu:
    """The menu that a button opens."""
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)
    menu = QApplication.activePopupWidget()
    assert isinstance(menu, QMenu)
    return menu


def choose(menu: QMenu | None, *path: str) -> None:
    """Chooses from a menu that has been opened."""
    for text in path:
        assert menu is not None
        entry = next(entry for entry in menu.actions() if entry.text().partition("\t")[0] == text)
        if entry.menu() is None:
            entry.trigger()
        menu = entry.menu()


def work_by_keys(window: QWidget, widget: QWidget, *keys: Qt.Key) -> int:
    """Goes to a widget by F6 and Tab, and presses keys there, or the space bar; returns how many keys that took.

    One of many that is no stop of the Tab key is chosen by an arrow from the one that is.
    """
    count = 0
    around = widget.parentWidget()
    near_by = [] if widget.focusPolicy().value & Qt.FocusPolicy.TabFocus.value or around is None else around.children()
    stop = next((one for one in near_by if isinstance(one, QWidget) and [*tab_stops(one)] == [one]), widget)

    def press(key: Qt.Key) -> None:
        nonlocal count
        count += 1
        QApplication.processEvents()
        QTest.keyClick(QApplication.focusWidget() or window, key)
        QApplication.processEvents()
        focus = QApplication.focusWidget()
        assert focus is None or not focus.visibleRegion().isEmpty(), "what has the focus is seen"

    def near() -> int:
        """How many stops of the Tab key are still between."""
        stops = list(tab_stops(window))
        focus = QApplication.focusWidget()
        return (stops.index(stop) - stops.index(focus)) % len(stops) if focus in stops else len(stops)

    while not stop.hasFocus():
        assert count < 60, "it cannot be reached"
        before, distance = QApplication.focusWidget(), near()
        press(Qt.Key.Key_F6)
        if near() < distance:
            continue
        if before is not None:
            before.setFocus()  # who sees that this was too far goes by Tab instead
        press(Qt.Key.Key_Tab)
    if stop is not widget:
        press(Qt.Key.Key_Left)
        assert widget.hasFocus()
        return count
    for key in keys or (Qt.Key.Key_Space,):
        press(key)
    return count
