"""Row of colours, for marking a pad or a profile."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QSizePolicy, QWidget

from nub_shift.model.profile.colours import COLOUR_LABELS, Colour
from nub_shift.translation import tr
from nub_shift.ui.look.drawing import draw_swatch
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import ExclusiveButton, draw_focus
from nub_shift.ui.widgets.plain import set_tooltip


class ColourDots(QWidget):
    """A dot for each colour, and one for none.

    Attributes:
        dots: buttons by colour; the first, "", is for none.

    Signals:
        picked(str): chosen colour, or empty.
    """

    picked = pyqtSignal(str)

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.dots = {colour: ColourDot(theme, colour) for colour in ("", *(colour.value for colour in Colour))}
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(theme.px(1))
        for colour, dot in self.dots.items():
            dot.clicked.connect(lambda _checked, found=colour: self.picked.emit(found))
            row.addWidget(dot)
        row.addStretch(1)

    def show_colour(self, colour: str) -> None:
        """Marks a colour as chosen."""
        self.dots[colour if colour in self.dots else ""].setChecked(True)


class ColourDot(ExclusiveButton):
    """One colour."""

    def __init__(self, theme: Theme, colour: str) -> None:
        super().__init__()
        self.theme = theme
        self._colour = colour
        label = COLOUR_LABELS[Colour(colour)] if colour else tr("No colour")
        self.setAccessibleName(label)
        set_tooltip(self, label)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def sizeHint(self) -> QSize:
        return QSize(self.theme.px(26), self.theme.px(26))

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme = self.theme
        rect = self.rect().toRectF()
        draw_swatch(painter, theme, rect.center(), self._colour)
        if self.isChecked():
            painter.setPen(QPen(theme.colour("ink"), 2))
            y = rect.bottom() - 2
            painter.drawLine(QPointF(rect.x() + theme.px(6), y), QPointF(rect.right() - theme.px(6), y))
        draw_focus(painter, theme, self, rect)
