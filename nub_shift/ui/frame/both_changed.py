"""Choice for a place changed both here and elsewhere."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from nub_shift.editing.document import Document
from nub_shift.translation import tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.layouts import quiet_scroll
from nub_shift.ui.widgets.plain import PlainLabel


class BothChanged(QWidget):
    """Stands in place of the tape while a choice is needed, so that nothing moves.

    Attributes:
        mine, theirs: the two choices.
        words: the differences, a line each.
    """

    def __init__(self, theme: Theme, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self._document = document
        self.setAccessibleName(tr("Changed here and elsewhere"))
        title = PlainLabel(tr("Changed here and elsewhere"))
        title.setFont(theme.font(1.15, bold=True))
        hint = PlainLabel(
            tr(
                "This profile was changed here and in another window or program. "
                "The other version counts until you choose."
            )
        )
        hint.setWordWrap(True)
        self.words = PlainLabel()
        self.words.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByKeyboard)
        scroll = quiet_scroll(self.words)
        self.words.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.mine = TextButton(theme, tr("Use mine"), tr("Keeps the version from this window"))
        self.mine.clicked.connect(lambda: document.settle(mine=True))
        self.theirs = TextButton(theme, tr("Use the other"), tr("Keeps the version saved elsewhere"))
        self.theirs.clicked.connect(lambda: document.settle(mine=False))
        head = QHBoxLayout()
        head.setSpacing(theme.px(10))
        for widget in (title, self.mine, self.theirs):
            head.addWidget(widget)
        head.addStretch()
        column = QVBoxLayout(self)
        column.setContentsMargins(theme.px(14), theme.px(6), theme.px(14), theme.px(4))
        column.setSpacing(theme.px(4))
        column.addLayout(head)
        column.addWidget(hint)
        column.addWidget(scroll, 1)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Ignored)

    def follow_document(self) -> bool:
        """Shows the present choice; returns whether there is one."""
        lines = [f"{found.head} – {found.text}" for found in self._document.disputed]
        self.words.setText("\n".join([tr("The other → yours"), *lines]))
        return bool(lines)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), self.theme.colour("raised"))
        painter.setPen(QPen(self.theme.colour("ink"), 1))
        painter.drawLine(0, 0, self.width(), 0)
