"""Buttons of the window."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QAction, QKeyEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QRadioButton, QSizePolicy, QWidget

from nub_shift.ui.look.drawing import fitted
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.plain import set_tooltip
from nub_shift.ui.widgets.roving import make_stop


class Pressable(QAbstractButton):
    """A button pressed by Enter as well as by the space bar."""

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
            return
        super().keyPressEvent(event)


class TextButton(Pressable):
    """A word on a plate; the edge darkens under the pointer, a frame shows the focus, a disabled button has no plate.

    Attributes:
        is_main: whether this is the main action, with a coloured plate.
    """

    def __init__(self, theme: Theme, text: str, help_text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.is_main = False
        self.setText(text)
        self.setAccessibleName(text)
        if help_text:
            set_tooltip(self, help_text)
            self.setAccessibleDescription(help_text)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def follow(self, action: QAction) -> None:
        """Triggers an action, and mirrors its enabled and checked states."""

        def on_changed() -> None:
            self.setEnabled(action.isEnabled())
            self.setChecked(action.isChecked())
            set_tooltip(self, action.toolTip())

        self.setCheckable(action.isCheckable())
        self.clicked.connect(action.trigger)
        action.changed.connect(on_changed)
        self.setAccessibleDescription(action.toolTip())
        on_changed()

    def sizeHint(self) -> QSize:
        return _plate_size(self, self.theme)

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        _paint_plate(self, self.theme, self.is_main)

    def set_main(self, on: bool) -> None:
        """Sets whether the plate is coloured."""
        self.is_main = on
        self.update()


class ExclusiveButton(QRadioButton):
    """One of exclusive buttons: arrows move between them, Tab passes them all."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.toggled.connect(self._on_toggled)

    def _on_toggled(self, on: bool) -> None:
        """Makes the checked button the stop of the Tab key, also when checked by the program."""
        if on:
            group, around = self.group(), self.parentWidget()
            near = around.children() if around is not None else []
            make_stop(
                group.buttons() if group is not None else [one for one in near if isinstance(one, ExclusiveButton)],
                self,
            )

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
            return
        super().keyPressEvent(event)

    def hitButton(self, pos: QPoint) -> bool:
        return self.rect().contains(pos)


class Choice(ExclusiveButton):
    """A word on a plate, one of several choices."""

    def __init__(self, theme: Theme, text: str, help_text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.setText(text)
        self.setAccessibleName(text)
        if help_text:
            set_tooltip(self, help_text)
            self.setAccessibleDescription(help_text)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def sizeHint(self) -> QSize:
        return _plate_size(self, self.theme)

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        _paint_plate(self, self.theme)


def _plate_size(button: QAbstractButton, theme: Theme) -> QSize:
    socket = theme.px(16) if button.isCheckable() else 0
    width = round(theme.text_width(button.text()))
    return QSize(width + theme.px(18) + socket, theme.px(28))


def _paint_plate(button: QAbstractButton, theme: Theme, is_main: bool = False) -> None:
    """Paints the word on its plate, after a socket that is filled if checked."""
    painter = QPainter(button)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    rect = QRectF(button.rect()).adjusted(1, 1, -1, -2)
    able = button.isEnabled()
    ink = theme.colour("ink" if able else "muted")
    strong = able and (button.underMouse() or button.isDown())
    if able:
        edge = "ink" if strong else "pad" if is_main else "edge"
        painter.setPen(QPen(theme.colour(edge), 1.6 if strong or is_main else 1))
        painter.setBrush(theme.colour("grid" if button.isDown() else "pad_soft" if is_main else "raised"))
    else:
        painter.setPen(QPen(theme.colour("line"), 1, Qt.PenStyle.DotLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRoundedRect(rect.adjusted(1, 1, -1, -1), theme.px(4), theme.px(4))
    draw_focus(painter, theme, button, rect.adjusted(1, 1, -1, -1))
    painter.setFont(theme.font())
    painter.setPen(ink)
    if button.isCheckable():
        room = rect.adjusted(theme.px(19), 0, -theme.px(3), 0)
        painter.drawText(room, Qt.AlignmentFlag.AlignCenter, fitted(painter, button.text(), room.width() + 2))
        painter.setBrush(ink if button.isChecked() else Qt.BrushStyle.NoBrush)
        painter.drawEllipse(QPointF(rect.x() + theme.px(13), rect.center().y()), theme.px(4), theme.px(4))
    else:
        painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, fitted(painter, button.text(), rect.width()))


def draw_focus(painter: QPainter, theme: Theme, widget: QWidget, rect: QRectF) -> None:
    """Paints the frame of the keyboard focus."""
    if widget.hasFocus():
        painter.setPen(QPen(theme.colour("ink"), 1.4, Qt.PenStyle.DashLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(rect.adjusted(1, 1, -1, -1), theme.px(4), theme.px(4))
