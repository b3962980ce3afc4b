"""One finger's controls under its name, nearest first, in one column or two."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from nub_shift.model.controls import FINGER_LABELS, Finger
from nub_shift.ui.look.drawing import fitted
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.layouts import take_all

HEAD = 28


class Lane(QWidget):
    """The lane of one finger.

    Attributes:
        finger: the finger.
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
        self._row.setContentsMargins(theme.px(4), theme.px(HEAD), theme.px(4), theme.px(2))
        self._row.setSpacing(theme.px(3))
        self._head = LaneHead(theme, finger, self)
        self.set_columns(1)

    @property
    def widest(self) -> int:
        """Largest number of columns."""
        return min(2, len(self.instruments)) if self.finger in (Finger.LEFT_THUMB, Finger.RIGHT_THUMB) else 1

    def set_columns(self, count: int) -> None:
        """Lays out the controls in one column or two, as even as their order allows."""
        if count == self._columns:
            return
        self._columns = count
        take_all(self._row)
        heights = [instrument.sizeHint().height() for instrument in self.instruments]
        cut = len(heights)
        if count == 2:
            # Keeps buttons together.
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
        self._head.raise_()  # above the controls, which became children later

    def keep_head(self, top: int) -> None:
        """Keeps the name visible; the part above `top`, in the lane's own pixels, has been scrolled away."""
        self._head.move(0, min(max(0, top), max(0, self.height() - self._head.height())))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._head.resize(self.width(), self._head.height())


class LaneHead(QWidget):
    """The finger's name above a line; covers what is scrolled below it."""

    def __init__(self, theme: Theme, finger: Finger, parent: QWidget) -> None:
        super().__init__(parent)
        self.theme = theme
        self._label = FINGER_LABELS[finger]
        self.setFixedHeight(theme.px(HEAD))
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        theme = self.theme
        painter = QPainter(self)
        if self.y():
            painter.fillRect(self.rect(), theme.colour("sheet"))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(theme.font(0.92, bold=True))
        painter.setPen(theme.colour("ink"))
        room = QRectF(theme.px(11), 0, self.width() - theme.px(14), theme.px(22))
        painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, fitted(painter, self._label, room.width()))
        painter.setPen(QPen(theme.colour("pad"), 2))
        y = float(theme.px(24))
        painter.drawLine(QPointF(theme.px(6), y), QPointF(self.width() - theme.px(6), y))
