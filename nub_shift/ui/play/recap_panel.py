"""Recaps of the last sessions with the profile."""

from __future__ import annotations

from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from nub_shift.editing.document import Document
from nub_shift.editing.words.recap import recap_lines, session_words, used_moves
from nub_shift.store.played import Recap, forget_played, read_played
from nub_shift.translation import tr
from nub_shift.ui.look.drawing import fitted
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.entry_rows import EntryPainter
from nub_shift.ui.widgets.layouts import quiet_scroll
from nub_shift.ui.widgets.plain import PlainLabel
from nub_shift.ui.widgets.wrapping_row import Turning

_NONE = tr("No session yet. Each time you play live, what you did is counted here.")
_OFF = tr("Sessions with this profile are not counted.")


class RecapPanel(QWidget):
    """A list of sessions, and the recap of the selected one."""

    def __init__(self, theme: Theme, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.document = document
        self._recaps: list[Recap] = []
        left = QWidget()
        column = QVBoxLayout(left)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(theme.px(6))
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Last sessions"))
        self.list.setItemDelegate(EntryPainter(theme, self.list))
        self.list.currentRowChanged.connect(self._show_chosen)
        self.list.setMinimumSize(theme.px(240), theme.px(120))
        column.addWidget(self.list, 1)
        row = QHBoxLayout()
        self.counted = TextButton(theme, tr("Count sessions"), tr("Kept on this computer, and sent nowhere"))
        self.counted.setCheckable(True)
        self.counted.clicked.connect(self._on_counted)
        row.addWidget(self.counted)
        self.forget = TextButton(theme, tr("Delete all"), tr("Deletes what was counted with this profile"))
        self.forget.clicked.connect(self._on_forget)
        row.addWidget(self.forget)
        row.addStretch(1)
        column.addLayout(row)
        found = QWidget()
        inner = QVBoxLayout(found)
        inner.setContentsMargins(theme.px(8), 0, theme.px(8), 0)
        inner.setSpacing(theme.px(8))
        self.lines = PlainLabel()
        self.lines.setWordWrap(True)
        inner.addWidget(self.lines)
        self.bars = MoveBars(theme)
        inner.addWidget(self.bars)
        inner.addStretch(1)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        parts = Turning(theme.px(14))
        parts.box.addWidget(left, 2)
        parts.box.addWidget(quiet_scroll(found), 3)
        outer.addWidget(parts)

    def show_profile(self) -> None:
        """Reads the stored sessions of the profile."""
        profile = self.document.profile
        self._recaps = list(reversed(read_played(self._path)))
        self.counted.setChecked(profile.game.recap)
        self.forget.setEnabled(bool(self._recaps))
        self.list.blockSignals(True)
        self.list.clear()
        for recap in self._recaps:
            when, _, long = session_words(recap).partition(" · ")
            self.list.addItem(QListWidgetItem(f"{when}\n{long}"))
        self.list.blockSignals(False)
        self.list.setCurrentRow(0 if self._recaps else -1)
        self._show_chosen()

    @property
    def _path(self) -> Path:
        return self.document.path

    def _show_chosen(self) -> None:
        row = self.list.currentRow()
        profile = self.document.profile
        if not 0 <= row < len(self._recaps):
            self.lines.setText(_NONE if profile.game.recap else _OFF)
            self.bars.show_counts([])
            return
        self.lines.setText("\n".join(recap_lines(profile, self._recaps[row])))
        self.bars.show_counts(used_moves(profile, self._recaps[row]))

    def _on_counted(self) -> None:
        on = self.counted.isChecked()
        words = tr("Sessions are counted") if on else tr("Sessions are not counted")
        self.document.edit(words, lambda profile: replace(profile, game=replace(profile.game, recap=on)))
        self.show_profile()

    def _on_forget(self) -> None:
        forget_played(self._path)
        self.show_profile()


class MoveBars(QWidget):
    """Uses of each move as a bar with its number."""

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._theme = theme
        self._counts: list[tuple[str, int]] = []

    def show_counts(self, counts: list[tuple[str, int]]) -> None:
        """Shows these counts, the first at the top."""
        self._counts = counts
        said = ", ".join(f"{label} {times}" for label, times in counts)
        self.setAccessibleName(tr("Moves that were used: {said}", said=said) if said else tr("No move was used"))
        self.setFixedHeight(self._theme.px(22) * len(counts) + self._theme.px(4))
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        theme = self._theme
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        tall, names, numbers = theme.px(22), theme.px(150), theme.px(50)
        most = max((times for _, times in self._counts), default=1)
        room = max(self.width() - names - numbers, 1)
        for row, (label, times) in enumerate(self._counts):
            y = row * tall
            painter.setFont(theme.font())
            painter.setPen(theme.colour("ink"))
            name = QRectF(0, y, names - theme.px(8), tall)
            painter.drawText(name, Qt.AlignmentFlag.AlignVCenter, fitted(painter, label, name.width()))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.colour("game"))
            bar = QRectF(names, y + theme.px(5), max(room * times / most, theme.px(2)), tall - theme.px(10))
            painter.drawRect(bar)
            painter.setPen(theme.colour("muted"))
            beside = QRectF(bar.right() + theme.px(6), y, numbers, tall)
            painter.drawText(beside, Qt.AlignmentFlag.AlignVCenter, str(times))
        painter.end()
