"""The plain pressable things of the window: text buttons and station tabs, drawn in the sheet's own hand."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QAction, QFont, QFontMetricsF, QKeyEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QSizePolicy, QWidget

from nub_shift.ui.look.drawing import fitted
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.plain import set_tip


class Pressable(QAbstractButton):
    """A button that Enter presses as well as the space bar."""

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
            return
        super().keyPressEvent(event)


class TextButton(Pressable):
    """A word on a plate; its edge darkens under the pointer, a frame shows the focus. One that is off has no plate."""

    def __init__(self, theme: Theme, text: str, help_text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.setText(text)
        self.setAccessibleName(text)
        if help_text:
            set_tip(self, help_text)
            self.setAccessibleDescription(help_text)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def follow(self, action: QAction) -> None:
        """Does what an action does, and is enabled and checked as it is."""

        def on_changed() -> None:
            self.setEnabled(action.isEnabled())
            self.setChecked(action.isChecked())
            set_tip(self, action.toolTip())

        self.setCheckable(action.isCheckable())
        self.clicked.connect(action.trigger)
        action.changed.connect(on_changed)
        self.setAccessibleDescription(action.toolTip())
        on_changed()

    def sizeHint(self) -> QSize:
        metrics = QFontMetricsF(self.theme.font())
        socket = self.theme.px(16) if self.isCheckable() else 0
        return QSize(round(metrics.horizontalAdvance(self.text())) + self.theme.px(18) + socket, self.theme.px(28))

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme = self.theme
        rect = QRectF(self.rect()).adjusted(1, 1, -1, -2)
        able = self.isEnabled()
        ink = theme.colour("ink" if able else "muted")
        strong = able and (self.underMouse() or self.isDown())
        if able:
            painter.setPen(QPen(theme.colour("ink" if strong else "edge"), 1.6 if strong else 1))
            painter.setBrush(theme.colour("grid" if self.isDown() else "raised"))
        else:
            painter.setPen(QPen(theme.colour("line"), 1, Qt.PenStyle.DotLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(rect.adjusted(1, 1, -1, -1), theme.px(4), theme.px(4))
        draw_focus(painter, theme, self, rect.adjusted(1, 1, -1, -1))
        painter.setFont(theme.font())
        painter.setPen(ink)
        if self.isCheckable():
            room = rect.adjusted(theme.px(19), 0, -theme.px(3), 0)
            painter.drawText(room, Qt.AlignmentFlag.AlignCenter, fitted(painter, self.text(), room.width() + 2))
            painter.setBrush(ink if self.isChecked() else Qt.BrushStyle.NoBrush)
            painter.drawEllipse(QPointF(rect.x() + theme.px(13), rect.center().y()), theme.px(4), theme.px(4))
        else:
            painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, self.text())


class StationTab(Pressable):
    """The name of a station with its number in the order of work; the present one stands on a bold line."""

    def __init__(self, theme: Theme, text: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.setText(text)
        self.setCheckable(True)
        self.setAccessibleName(f"Station {text}")
        self._low = False
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def sizeHint(self) -> QSize:
        metrics = QFontMetricsF(self._font)
        width = round(metrics.horizontalAdvance(self.text()))
        return QSize(width + self.theme.px(20), self.theme.px(29 if self._low else 36))

    def set_low(self, low: bool) -> None:
        """Whether there is little room."""
        if low is not self._low:
            self._low = low
            self.updateGeometry()

    @property
    def _font(self) -> QFont:
        return self.theme.font(1.1 if self._low else 1.35, bold=True)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme = self.theme
        rect = QRectF(self.rect()).adjusted(1, 1, -1, -2)
        painter.setFont(self._font)
        painter.setPen(theme.colour("ink" if self.isChecked() or self.underMouse() else "muted"))
        painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, self.text())
        if self.isChecked():
            painter.setPen(QPen(theme.colour("ink"), 3))
            inset = theme.px(10)
            painter.drawLine(
                rect.bottomLeft().toPoint().x() + inset,
                int(rect.bottom()),
                int(rect.right()) - inset,
                int(rect.bottom()),
            )
        draw_focus(painter, theme, self, rect)


def draw_focus(painter: QPainter, theme: Theme, widget: QWidget, rect: QRectF) -> None:
    """The frame that shows where the keyboard is."""
    if widget.hasFocus():
        painter.setPen(QPen(theme.colour("ink"), 1.4, Qt.PenStyle.DashLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(rect.adjusted(1, 1, -1, -1), theme.px(4), theme.px(4))
