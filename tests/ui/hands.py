"""Qt's test hands, untyped: the stubs of QTest take `self` for an argument of its static functions."""

from __future__ import annotations

from typing import Any

import PyQt6.QtTest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QMenu, QWidget

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
