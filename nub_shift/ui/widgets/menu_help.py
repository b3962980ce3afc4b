"""Explanations of choices and numbers in menus."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QWidget, QWidgetAction

from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.help_mark import HelpMark
from nub_shift.ui.widgets.menus import add_menu
from nub_shift.ui.widgets.plain import PlainLabel

_WIDTH = 250


def add_help(menu: QMenu, theme: Theme, about: str, help_text: str) -> None:
    """Adds a sentence about choices in the menu; arrow keys skip it."""
    line = QWidget()
    row = QHBoxLayout(line)
    row.setContentsMargins(theme.px(4), theme.px(2), theme.px(4), theme.px(2))
    row.setSpacing(theme.px(6))
    label = PlainLabel(help_text)
    label.setFont(theme.font(0.88))
    label.setWordWrap(True)
    width = theme.px(_WIDTH)
    label.setFixedSize(width, label.heightForWidth(width))  # menus ignore the height for a width
    row.addWidget(HelpMark(theme, about, help_text), 0, Qt.AlignmentFlag.AlignTop)
    row.addWidget(label)
    _add(menu, line, help_text).setEnabled(False)


def add_choices(menu: QMenu, theme: Theme, text: str, help_text: str) -> QMenu:
    """Adds a submenu that begins with an explanation."""
    below = add_menu(menu, text)
    add_help(below, theme, text, help_text)
    return below


def add_field(menu: QMenu, theme: Theme, field: QWidget, about: str, help_text: str) -> None:
    """Adds a field with a question mark."""
    line = QWidget()
    row = QHBoxLayout(line)
    row.setContentsMargins(theme.px(4), 0, theme.px(4), 0)
    row.setSpacing(theme.px(6))
    row.addWidget(field, 1)
    row.addWidget(HelpMark(theme, about, help_text, field))
    line.setFocusPolicy(field.focusPolicy())
    line.setFocusProxy(field)
    _add(menu, line, field.accessibleName())


def _add(menu: QMenu, line: QWidget, text: str) -> QWidgetAction:
    made = QWidgetAction(menu)
    made.setText(text)  # for screen readers
    made.setDefaultWidget(line)
    menu.addAction(made)
    return made
