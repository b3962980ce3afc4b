"""Question mark beside a number or a choice: a click shows its explanation."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QSizePolicy, QToolTip, QWidget

from nub_shift.translation import tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.plain import set_tooltip

# Size of the mark, and of its clickable area.
_SIDE, TARGET = 18, 24


class HelpMark(QAbstractButton):
    """For keyboard users the sentence is also the description of the field, and F1 opens the guide there."""

    def __init__(
        self, theme: Theme, about: str, text: str, field: QWidget | None = None, parent: QWidget | None = None
    ) -> None:
        """`about` names what is explained; a field gets the sentence as its description and tooltip, too."""
        super().__init__(parent)
        self.theme = theme
        self.setAccessibleName(tr("What {about} does", about=about))
        self.setAccessibleDescription(text)
        set_tooltip(self, text)
        if field is not None:
            field.setAccessibleDescription(text)
            set_tooltip(field, text)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.WhatsThisCursor)
        self.clicked.connect(self._say)

    def sizeHint(self) -> QSize:
        side = self.theme.px(TARGET)
        return QSize(side, side)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        side = self.theme.px(_SIDE) - 3.0
        rect = QRectF(0, 0, side, side)
        rect.moveCenter(QRectF(self.rect()).center())
        strong = self.underMouse() or self.isDown()
        painter.setPen(QPen(self.theme.colour("ink" if strong else "edge"), 1))
        painter.drawEllipse(rect)
        painter.setFont(self.theme.font(0.8))
        painter.setPen(self.theme.colour("ink" if strong else "muted"))
        painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, "?")

    def _say(self) -> None:
        QToolTip.showText(self.mapToGlobal(QPoint(0, self.height())), self.toolTip(), self)
