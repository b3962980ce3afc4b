"""A layer's mark with its name: as a heading, and as a chip in the signal bar."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QContextMenuEvent, QFontMetricsF, QKeyEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from nub_shift.editing.words.labels import layer_words
from nub_shift.editing.words.slot_views import LayerMark
from nub_shift.model.profile.profile import BASE_LAYER
from nub_shift.translation import tr
from nub_shift.ui.look import drawing
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import ExclusiveButton, draw_focus
from nub_shift.ui.widgets.plain import set_tooltip


class LayerName(QWidget):
    """A heading: mark and name."""

    def __init__(self, theme: Theme, mark: LayerMark, label: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self._mark = mark
        self._label = label
        self.setAccessibleName(layer_words(label))
        self.setFixedHeight(theme.px(24))

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paint_layer(painter, self.theme, QRectF(self.rect()), self._mark, self._label, False)


class LayerChip(ExclusiveButton):
    """A layer in the signal bar. Checked: shown in the stations. Filled: active.

    Signals:
        tools_requested(): show name and menu of the layer: F2, the menu key or a right click.
    """

    tools_requested = pyqtSignal()

    def __init__(self, theme: Theme, mark: LayerMark, layer_id: str, label: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.layer_id = layer_id
        self.on = layer_id == BASE_LAYER
        self.mark = mark
        self.setText(label)
        self.setAccessibleName(layer_words(label))
        set_tooltip(self, tr("Show layer {label}. Its mark is filled while the layer is on.", label=label))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Maximum, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def set_on(self, on: bool) -> None:
        """Sets whether the layer is active."""
        if on is not self.on:
            self.on = on
            self.setAccessibleDescription(tr("On") if on else "")
            self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_F2:
            self.tools_requested.emit()
            return
        super().keyPressEvent(event)

    def contextMenuEvent(self, _event: QContextMenuEvent | None) -> None:
        self.tools_requested.emit()

    def sizeHint(self) -> QSize:
        metrics = QFontMetricsF(self.theme.font(1.0, bold=True))
        return QSize(round(metrics.horizontalAdvance(self.text())) + self.theme.px(46), self.theme.px(34))

    def minimumSizeHint(self) -> QSize:
        """Returns the width of a letter, enough with many layers."""
        return QSize(self.theme.px(28), self.theme.px(34))

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme = self.theme
        rect = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        hue = theme.hue(self.mark.hue)
        painter.setPen(QPen(hue if self.isChecked() else theme.colour("edge"), 2 if self.isChecked() else 1))
        painter.setBrush(theme.colour("raised"))
        painter.drawRoundedRect(rect, theme.px(5), theme.px(5))
        draw_focus(painter, theme, self, rect.adjusted(2, 2, -2, -2))
        inner = rect.adjusted(theme.px(6), 0, -theme.px(6), 0)
        paint_layer(painter, theme, inner, self.mark, self.text(), self.on)


def paint_layer(painter: QPainter, theme: Theme, rect: QRectF, mark: LayerMark, label: str, on: bool) -> None:
    """Paints mark and name in a row."""
    centre = QPointF(rect.x() + theme.px(11), rect.center().y())
    drawing.draw_layer_mark(painter, theme, centre, mark.letter, mark.hue, on)
    painter.setFont(theme.font(1.0, bold=True))
    painter.setPen(theme.colour("ink"))
    room = rect.adjusted(theme.px(28), 0, 0, 0)
    fitted = QFontMetricsF(painter.font()).elidedText(label, Qt.TextElideMode.ElideRight, room.width())
    painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, fitted)
