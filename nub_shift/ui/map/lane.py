"""One finger's controls under its name, nearest first, in one column or two."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from nub_shift.model.controls import FINGER_LABELS, Finger
from nub_shift.ui.look.drawing import fitted
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.layouts import take_all

_HEAD = 28


class Lane(QWidget):
    """The lane of one finger.

    Attributes:
        finger: whose lane it is.
        instruments: its controls, nearest first.
    """

    def __init__(self, theme: Theme, finger: Finger, instruments: Sequence[QWidget]) -> None:
        super().__init__()
        self.theme = theme
        self.finger = finger
        self.instruments = instruments
        self._columns = 0
        self.setAccessibleName(FINGER_LABELS[finger])
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(theme.px(4), theme.px(_HEAD), theme.px(4), theme.px(2))
        self._row.setSpacing(theme.px(3))
        self.set_columns(1)

    @property
    def widest(self) -> int:
        """Into how many columns it can be laid out."""
        return min(2, len(self.instruments)) if self.finger in (Finger.LEFT_THUMB, Finger.RIGHT_THUMB) else 1

    def set_columns(self, count: int) -> None:
        """Lays its controls out in one column or in two, which then are as even as their order allows."""
        if count == self._columns:
            return
        self._columns = count
        take_all(self._row)
        heights = [instrument.sizeHint().height() for instrument in self.instruments]
        cut = len(heights)
        if count == 2:
            # Buttons stay together.
            cut = min(
                range(1, len(heights)),
                key=lambda at: (heights[at - 1] == heights[at], max(sum(heights[:at]), sum(heights[at:]))),
            )
        for part in (self.instruments[:cut], self.instruments[cut:])[:count]:
            column = QVBoxLayout()
            column.setSpacing(self.theme.px(2))
            for instrument in part:
                column.addWidget(instrument)
            column.addStretch(1)
            self._row.addLayout(column, 1)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        theme = self.theme
        if event is not None and event.rect().top() > theme.px(_HEAD):
            return  # an instrument moves: the head stands as it was drawn
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(theme.font(0.92, bold=True))
        painter.setPen(theme.colour("ink"))
        room = QRectF(theme.px(11), 0, self.width() - theme.px(14), theme.px(22))
        text = fitted(painter, FINGER_LABELS[self.finger], room.width())
        painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, text)
        painter.setPen(QPen(theme.colour("pad"), 2))
        y = float(theme.px(24))
        painter.drawLine(QPointF(theme.px(6), y), QPointF(self.width() - theme.px(6), y))
