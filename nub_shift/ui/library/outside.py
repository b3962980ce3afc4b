"""Bar above a profile from elsewhere, with its file and buttons."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from nub_shift.translation import tr, trn
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.plain import PlainLabel, set_tooltip


class OutsideBar(QWidget):
    """Shows the name of the file.

    Attributes:
        add, close_button: buttons.

    Signals:
        added(): add to the library.
        closed(): close without adding.
    """

    added = pyqtSignal()
    closed = pyqtSignal()

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._words = PlainLabel()
        self._words.setFont(theme.font(1.05, bold=True))
        self.add = TextButton(theme, tr("Add to library"), tr("Adds the profile shown below"))
        self.add.clicked.connect(self.added)
        self.add.set_main(True)
        self.close_button = TextButton(theme, tr("Close"), tr("Closes it without adding it"))
        self.close_button.clicked.connect(self.closed)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self._words, 1)
        row.addWidget(self.add)
        row.addWidget(self.close_button)
        self.hide()

    def show_file(self, name: str, path: str, can_be_read: bool, more: int = 0) -> None:
        """Shows a file's name; `more` is the number of files that follow."""
        words = tr("Not in your library yet: {name}", name=name)
        if more:
            words = trn("{words} ({more} more file)", "{words} ({more} more files)", more, words=words, more=more)
        self._words.setText(words)
        set_tooltip(self._words, path)
        self.add.setEnabled(can_be_read)
        self.show()
