"""A draggable position in a picture that stands for a number: worked by mouse or arrow keys, a slider for assistive
tools.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import partial

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSlider, QWidget

from nub_shift.translation import number_text
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.plain import set_tooltip

_SIZE = 18
_LOOKS = {QEvent.Type.Enter, QEvent.Type.Leave, QEvent.Type.FocusIn, QEvent.Type.FocusOut}


_UPRIGHT = (Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_PageUp, Qt.Key.Key_PageDown)


class Knob(QSlider):
    """Counts in steps. The owner converts between positions and values.

    Attributes:
        step: value of one step.
        two_ways: moves horizontally as well as vertically, with the vertical number as its value.
        up: steps for the key Up: -1 if larger numbers lie lower.

    Signals:
        dragged(QPointF): dragged position, in the coordinates of its parent.
        drag_ended(): end of a drag.
        stepped(int): new number of steps.
        stepped_across(int): steps to the right, if `two_ways`.
        removed(): Delete was pressed.
    """

    dragged = pyqtSignal(QPointF)
    drag_ended = pyqtSignal()
    stepped = pyqtSignal(int)
    stepped_across = pyqtSignal(int)
    removed = pyqtSignal()

    def __init__(self, theme: Theme, step: float, parent: QWidget) -> None:
        super().__init__(Qt.Orientation.Horizontal, parent)
        self.theme = theme
        self.step = step
        self.two_ways = False
        self.up = 1
        self._picture = parent
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.OpenHandCursor)
        self.resize(self.sizeHint())

    def show_number(self, name: str, unit: str, value: float, low: float, high: float) -> None:
        """Shows a number."""
        self.setRange(round(low / self.step), round(high / self.step))
        self.setValue(round(value / self.step))
        self.setAccessibleName(name)
        self.setAccessibleDescription(f"{number_text(value)}{unit}")
        set_tooltip(self, f"{name}: {number_text(value)}{unit}")

    def lie_at(self, place: QPointF) -> None:
        """Moves the knob to a position in its parent."""
        self.move((place - QPointF(self.width() / 2, self.height() / 2)).toPoint())

    def sizeHint(self) -> QSize:
        return QSize(self.theme.px(_SIZE), self.theme.px(_SIZE))

    def mousePressEvent(self, _event: QMouseEvent | None) -> None:
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        self.setCursor(Qt.CursorShape.ClosedHandCursor)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.buttons() & Qt.MouseButton.LeftButton:
            self.dragged.emit(self.mapToParent(event.position()))

    def mouseReleaseEvent(self, _event: QMouseEvent | None) -> None:
        self.setCursor(Qt.CursorShape.OpenHandCursor)
        self.drag_ended.emit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        steps = {
            Qt.Key.Key_Right: 1,
            Qt.Key.Key_Up: 1,
            Qt.Key.Key_Left: -1,
            Qt.Key.Key_Down: -1,
            Qt.Key.Key_PageUp: 10,
            Qt.Key.Key_PageDown: -10,
        }
        across = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1}
        if event is not None and self.two_ways and event.key() in across:
            self.stepped_across.emit(across[Qt.Key(event.key())])
            return
        if event is not None and event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.removed.emit()
            return
        if event is not None and event.key() in steps:
            way = self.up if event.key() in _UPRIGHT else 1
            to = self.value() + way * steps[Qt.Key(event.key())]
            self.stepped.emit(min(max(to, self.minimum()), self.maximum()))
            return
        if event is not None:
            event.ignore()

    def event(self, event: QEvent | None) -> bool:
        """Repaints the picture, which shows more of the knob under the mouse or with the focus."""
        if event is not None and event.type() in _LOOKS:
            self._picture.update()
        return super().event(event)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        rect = QRectF(self.rect()).adjusted(3, 3, -3, -3)
        strong = self.hasFocus() or self.underMouse()
        painter.setPen(QPen(self.theme.colour("ink"), 2.6 if strong else 1.6))
        painter.setBrush(self.theme.colour("raised"))
        painter.drawRoundedRect(rect, self.theme.px(3), self.theme.px(3))
        if self.hasFocus():
            painter.setBrush(self.theme.colour("ink"))
            painter.drawEllipse(rect.center(), 2, 2)


def knobs_for(
    steps: Mapping[str, float],
    kept: dict[str, Knob],
    picture: QWidget,
    theme: Theme,
    *,
    dragged: Callable[[str, QPointF], None],
    drag_ended: Callable[[], None],
    stepped: Callable[[str, int], None],
    stepped_across: Callable[[str, int], None] | None = None,
    removed: Callable[[str], None] | None = None,
) -> dict[str, Knob]:
    """Returns the knobs of a picture, one for each name in `steps`: those `kept` if the names are equal, else new ones.

    Args:
        steps: value of one step by name.
        kept: present knobs, deleted if replaced.
        dragged, stepped, stepped_across, removed: receive the name of the knob first. Knobs with `stepped_across` move
            two ways.
    """
    if list(kept) == list(steps):
        return kept
    for knob in kept.values():
        knob.hide()
        knob.deleteLater()
    made = {name: Knob(theme, step, picture) for name, step in steps.items()}
    for name, knob in made.items():
        knob.dragged.connect(partial(dragged, name))
        knob.drag_ended.connect(drag_ended)
        knob.stepped.connect(partial(stepped, name))
        if stepped_across is not None:
            knob.two_ways = True
            knob.stepped_across.connect(partial(stepped_across, name))
        if removed is not None:
            knob.removed.connect(partial(removed, name))
        knob.show()
    return made


def paint_number(painter: QPainter, knob: Knob, picture: QWidget, text: str, strong: bool, lift: int = 0) -> None:
    """Draws a knob's name and value beside it; `strong` under the mouse or with the focus, `lift` pixels below it."""
    theme = knob.theme
    painter.setFont(theme.font(0.85, bold=strong))
    painter.setPen(theme.colour("ink" if strong else "muted"))
    width = QFontMetricsF(painter.font()).horizontalAdvance(text)
    row = QRectF(knob.geometry().right() + theme.px(3), knob.y() + theme.px(lift), width + 2, knob.height())
    if row.right() > picture.width():
        row.moveRight(knob.x() - theme.px(3))
    painter.fillRect(row, theme.colour("raised", 210))
    painter.drawText(row, Qt.AlignmentFlag.AlignVCenter, text)
