"""Welcome page of a newcomer, with three ways to begin."""

from __future__ import annotations

from typing import Final

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from nub_shift.model.profile.schema_types import MAX_LABEL
from nub_shift.translation import tr
from nub_shift.ui.help.places import set_place
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.layouts import PageScroll
from nub_shift.ui.widgets.plain import PlainLabel

_WIDTH: Final = 640


class Welcome(QWidget):
    """Stands in place of the stations until a way is chosen.

    Attributes:
        title: field for the name of the person's game.

    Signals:
        demo_wanted(), pad_requested(), left(): the chosen way.
        profile_requested(str): title of the new profile.
    """

    demo_requested = pyqtSignal()
    pad_requested = pyqtSignal()
    profile_requested = pyqtSignal(str)
    left = pyqtSignal()

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._theme = theme
        set_place(self, "first-profile")
        self.setAccessibleName(tr("Welcome"))
        self.title = QLineEdit()
        self.title.setPlaceholderText(tr("Name of your game"))
        self.title.setAccessibleName(tr("Name of your game"))
        self.title.setMaxLength(MAX_LABEL)
        self.title.returnPressed.connect(self._on_title)
        head = PlainLabel(tr("Play games for keyboard and mouse with your pad"))
        head.setFont(theme.font(1.6, bold=True))
        help_text = PlainLabel(
            tr(
                "You say what each control of the pad does. Until you turn the switch at the top right to Live, you "
                "are in rehearsal: nothing leaves this window."
            )
        )
        help_text.setWordWrap(True)
        inner = QVBoxLayout()
        inner.setSpacing(theme.px(12))
        inner.addWidget(head)
        inner.addWidget(help_text)
        ways = QGridLayout()
        ways.setHorizontalSpacing(theme.px(14))
        ways.setVerticalSpacing(theme.px(10))
        ways.setColumnStretch(1, 1)
        inner.addLayout(ways)
        self.demo = self._way(
            ways, tr("Look at the demo"), tr("A simulated pad plays an invented game in a window of its own")
        )
        self.demo.clicked.connect(self.demo_requested)
        self.pad = self._way(ways, tr("Set up my pad"), tr("See each control answer, and name what is not known yet"))
        self.pad.clicked.connect(self.pad_requested)
        self.make = self._way(
            ways, tr("Make a profile for my game"), tr("List its moves, then assign them"), self.title
        )
        self.make.clicked.connect(self._on_title)
        self.make.set_main(True)
        skip = TextButton(theme, tr("Go to the window"), tr("Leaves this page"))
        skip.clicked.connect(self.left)
        inner.addSpacing(theme.px(10))
        inner.addWidget(skip)
        box = QWidget()
        box.setLayout(inner)
        box.setMaximumWidth(theme.px(_WIDTH))
        row = QHBoxLayout()
        row.addWidget(box)
        page = QWidget()
        column = QVBoxLayout(page)
        column.addStretch(1)
        column.addLayout(row)
        column.addStretch(2)
        around = QVBoxLayout(self)
        around.setContentsMargins(0, 0, 0, 0)
        around.addWidget(PageScroll(page))

    def _way(self, ways: QGridLayout, text: str, help_text: str, beside: QWidget | None = None) -> TextButton:
        button = TextButton(self._theme, text, help_text)
        words = PlainLabel(help_text)
        words.setFont(self._theme.font(0.92))
        words.setWordWrap(True)
        row = ways.rowCount()
        ways.addWidget(button, row, 0)
        ways.addWidget(words if beside is None else beside, row, 1)
        if beside is not None:
            ways.addWidget(words, row + 1, 1)
        return button

    def _on_title(self) -> None:
        title = self.title.text().strip()
        if title:
            self.profile_requested.emit(title)
        else:
            self.title.setFocus(Qt.FocusReason.OtherFocusReason)
