"""Entries of menus."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QAction, QIcon
from PyQt6.QtWidgets import QMenu, QWidget


def add_entry(menu: QMenu, text: str, do: Callable[[], object], checked: bool | None = None) -> QAction:
    """Adds an entry; `checked` is its state in a choice, None for an ordinary entry."""
    entry = QAction(text, menu)
    if checked is not None:
        entry.setCheckable(True)
        entry.setChecked(checked)
    entry.triggered.connect(lambda _checked: do())
    menu.addAction(entry)
    return entry


def passing_menu(parent: QWidget) -> QMenu:
    """Returns a menu that is deleted after closing."""
    menu = QMenu(parent)
    menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    return menu


def add_menu(menu: QMenu, text: str) -> QMenu:
    """Adds a submenu."""
    below = menu.addMenu(QIcon(), text)
    assert below is not None
    return below
