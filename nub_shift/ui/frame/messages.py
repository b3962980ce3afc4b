"""Line of messages for the person, read out by assistive tools."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPoint, QRect, Qt, QTimer
from PyQt6.QtGui import QFont, QFontMetrics, QFontMetricsF, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QStatusBar, QWidget

from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.plain import set_tooltip

# Time of a line, enough to read it twice.
SAID_MS = 10_000
# Time of a cut line's whole text: per letter, and at least.
_LETTER_MS = 60
_LEAST_MS = 4_000


class Messages(QStatusBar):
    """Line of messages. A text that does not fit is cut, and shown whole over the tape for its reading time.

    Announcements are for assistive tools alone, since they are visible elsewhere.

    Attributes:
        whole: shows the whole text of a cut line.
        over: timer of the shown line.
    """

    def __init__(self, theme: Theme, tape: QWidget, standing: Callable[[], str]) -> None:
        """`standing` returns the line to show after others have expired; may be empty."""
        super().__init__()
        self.theme = theme
        self.whole = WholeLine(theme, tape)
        self._said = ""
        self._lines: list[str] = []
        self._turn = QTimer(self)
        self._turn.setSingleShot(True)
        self._turn.timeout.connect(self._on_turn)
        self._standing = standing
        self.over = QTimer(self)
        self.over.setSingleShot(True)
        self.over.setInterval(SAID_MS)
        self.over.timeout.connect(self._on_over)
        self.setSizeGripEnabled(False)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)

    def say(self, text: str) -> None:
        """Shows a line for some time; clears it for an empty text."""
        self.over.start()
        self._said = text
        set_tooltip(self, text)
        self.announce(text)
        fits = QFontMetricsF(self._font).horizontalAdvance(text) <= self._room.width()
        self.whole.notify("" if fits else text)
        self.update()

    def rest(self) -> None:
        """Stops all timers, since the window closes."""
        self.over.stop()

    def _on_over(self) -> None:
        self.say(self._standing())

    def announce(self, text: str) -> None:
        """Announces a line that is not shown; lines announced at once are read together."""
        self._lines = [*self._lines, text] if text else []
        self.showMessage(". ".join(line.removesuffix(".") for line in self._lines))
        self._turn.start()

    def _on_turn(self) -> None:
        self._lines.clear()

    @property
    def _room(self) -> QRect:
        return self.rect().adjusted(4, 0, -4, 0)

    @property
    def _font(self) -> QFont:
        return self.theme.font(0.92)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setFont(self._font)
        painter.setPen(self.theme.colour("ink"))
        elide = QFontMetricsF(self._font).elidedText
        text = elide(self._said, Qt.TextElideMode.ElideRight, self._room.width())
        painter.drawText(self._room, Qt.AlignmentFlag.AlignVCenter, text)


class WholeLine(QWidget):
    """A line on a plate over the end of the tape; closes by itself or by a click."""

    def __init__(self, theme: Theme, tape: QWidget) -> None:
        super().__init__()
        self.theme = theme
        self.text = ""
        self._tape = tape
        self._over = QTimer(self)
        self._over.setSingleShot(True)
        self._over.timeout.connect(self.hide)
        self.hide()

    def notify(self, text: str) -> None:
        """Shows a text, or nothing."""
        window = self._tape.window()
        self.text = text
        if not text or window is None or not window.isVisible():
            self.hide()
            return
        self.setParent(window)
        px = self.theme.px
        metrics = QFontMetrics(self.theme.font(0.92))
        most = QRect(0, 0, window.width() - 4 * px(14), window.height())
        needs = metrics.boundingRect(most, Qt.TextFlag.TextWordWrap.value, text)
        self.resize(needs.width() + px(22), needs.height() + px(14))
        above = self._tape.mapTo(window, QPoint(0, 0)).y() if self._tape.isVisible() else window.height()
        below = above + px(4) if self._tape.isVisible() else above - self.height() - px(6)
        self.move(window.width() - self.width() - px(14), below)  # over the tape, where nothing can be clicked
        self.show()
        self.raise_()
        self.update()
        self._over.start(max(_LEAST_MS, _LETTER_MS * len(text)))

    def mousePressEvent(self, _event: QMouseEvent | None) -> None:
        self.hide()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        theme = self.theme
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(theme.colour("ink"), 1))
        painter.setBrush(theme.colour("raised"))
        painter.drawRoundedRect(self.rect().adjusted(1, 1, -1, -1), theme.px(5), theme.px(5))
        painter.setFont(theme.font(0.92))
        room = self.rect().adjusted(theme.px(11), theme.px(7), -theme.px(11) + 1, -theme.px(7) + 1)
        painter.drawText(room, Qt.TextFlag.TextWordWrap.value, self.text)
