"""Tab bar of the stations, in the order of work."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QRectF, QSize, Qt
from PyQt6.QtGui import QCursor, QFont, QFontMetricsF, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QTabBar, QWidget

from nub_shift.translation import tr
from nub_shift.ui.look.theme import Theme


class StationBar(QTabBar):
    """One stop of the Tab key; arrows move between stations. The present one has a bold line."""

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self._low = False
        self.setDrawBase(False)
        self.setExpanding(False)
        self.setUsesScrollButtons(False)
        self.setAccessibleName(tr("Stations"))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setMouseTracking(True)

    def set_low(self, low: bool) -> None:
        """Adapts to a low window."""
        if low is not self._low:
            self._low = low
            self.setFont(self._font)  # causes a layout of the tabs
            self.updateGeometry()

    @property
    def _font(self) -> QFont:
        return self.theme.font(1.0 if self._low else 1.35, bold=True)

    def tabSizeHint(self, index: int) -> QSize:
        width = round(QFontMetricsF(self._font).horizontalAdvance(self.tabText(index)))
        return QSize(width + self.theme.px(16 if self._low else 20), self.theme.px(29 if self._low else 36))

    def minimumTabSizeHint(self, index: int) -> QSize:
        return self.tabSizeHint(index)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme = self.theme
        under = self.tabAt(self.mapFromGlobal(QCursor.pos())) if self.underMouse() else -1
        painter.setFont(self._font)
        for index in range(self.count()):
            rect = QRectF(self.tabRect(index)).adjusted(1, 1, -1, -2)
            present = index == self.currentIndex()
            painter.setPen(theme.colour("ink" if present or index == under else "muted"))
            painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, self.tabText(index))
            if not present:
                continue
            painter.setPen(QPen(theme.colour("ink"), 3))
            inset, y = theme.px(10), int(rect.bottom())
            painter.drawLine(QPoint(int(rect.x()) + inset, y), QPoint(int(rect.right()) - inset, y))
            if self.hasFocus():
                painter.setPen(QPen(theme.colour("ink"), 1.4, Qt.PenStyle.DashLine))
                painter.drawRoundedRect(rect.adjusted(1, 1, -1, -1), theme.px(4), theme.px(4))
