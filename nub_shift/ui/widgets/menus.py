"""Entries of menus."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QAction, QIcon
from PyQt6.QtWidgets import QMenu, QWidget


def add_entry(menu: QMenu, text: str, do: Callable[[], object], checked: bool | None = None) -> QAction:
    """Adds what can be done; `checked` is whether it is so now, for what is chosen among several."""
    entry = QAction(text, menu)
    if checked is not None:
        entry.setCheckable(True)
        entry.setChecked(checked)
    entry.triggered.connect(lambda _checked: do())
    menu.addAction(entry)
    return entry


def passing_menu(parent: QWidget) -> QMenu:
    """A menu that goes once it is closed."""
    menu = QMenu(parent)
    menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    return menu


def add_menu(menu: QMenu, text: str) -> QMenu:
    """Adds a menu below a menu."""
    below = menu.addMenu(QIcon(), text)
    assert below is not None
    return below
