"""A place in a picture that stands for a number: dragged by the mouse, moved by the arrow keys, a slider to others."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import partial

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSlider, QWidget

from nub_shift.translation import number_text
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.plain import set_tip

_SIZE = 18
_LOOKS = {QEvent.Type.Enter, QEvent.Type.Leave, QEvent.Type.FocusIn, QEvent.Type.FocusOut}


_UPRIGHT = (Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_PageUp, Qt.Key.Key_PageDown)


class Knob(QSlider):
    """Counts in steps. Whoever has it says where it lies, and what a place means.

    Attributes:
        step: what one step is.
        two_ways: it is moved across as well as up, and stands for the latter.
        up: by how many steps the key Up lifts it: -1 where it lies lower the larger its number is.

    Signals:
        dragged(QPointF): it is held there, in the coordinates of its parent.
        let_go(): it was dragged, and is no more.
        stepped(int): the number of steps is to be another.
        stepped_across(int): so many steps to the right; only one that is `two_ways` tells that.
        removed(): Delete was pressed.
    """

    dragged = pyqtSignal(QPointF)
    let_go = pyqtSignal()
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
        set_tip(self, f"{name}: {number_text(value)}{unit}")

    def lie_at(self, place: QPointF) -> None:
        """Moves it to a place in its parent."""
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
        self.let_go.emit()

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
        """Its picture says more of it while somebody looks at it."""
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
    let_go: Callable[[], None],
    stepped: Callable[[str, int], None],
    stepped_across: Callable[[str, int], None] | None = None,
    removed: Callable[[str], None] | None = None,
) -> dict[str, Knob]:
    """The knobs of a picture, one for each name in `steps`: those `kept` if they have these names, else new ones.

    Args:
        steps: what one step of each is.
        kept: those that the picture has; they go if there are new ones.
        dragged, stepped, stepped_across, removed: get the name of the knob first. Knobs of a picture that takes
            `stepped_across` are moved two ways.
    """
    if list(kept) == list(steps):
        return kept
    for knob in kept.values():
        knob.hide()
        knob.deleteLater()
    made = {name: Knob(theme, step, picture) for name, step in steps.items()}
    for name, knob in made.items():
        knob.dragged.connect(partial(dragged, name))
        knob.let_go.connect(let_go)
        knob.stepped.connect(partial(stepped, name))
        if stepped_across is not None:
            knob.two_ways = True
            knob.stepped_across.connect(partial(stepped_across, name))
        if removed is not None:
            knob.removed.connect(partial(removed, name))
        knob.show()
    return made


def paint_number(painter: QPainter, knob: Knob, picture: QWidget, text: str, strong: bool, lift: int = 0) -> None:
    """Draws a knob's name and value beside it; `strong` while somebody looks at it, `lift` that much below it."""
    theme = knob.theme
    painter.setFont(theme.font(0.85, bold=strong))
    painter.setPen(theme.colour("ink" if strong else "muted"))
    width = QFontMetricsF(painter.font()).horizontalAdvance(text)
    row = QRectF(knob.geometry().right() + theme.px(3), knob.y() + theme.px(lift), width + 2, knob.height())
    if row.right() > picture.width():
        row.moveRight(knob.x() - theme.px(3))
    painter.fillRect(row, theme.colour("raised", 210))
    painter.drawText(row, Qt.AlignmentFlag.AlignVCenter, text)
