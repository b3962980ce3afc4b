"""The line that says what the window waits for, and how long."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt, QTimer
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QSizePolicy, QWidget

from nub_shift.editing.waiting import Awaited, Heard, Waiting
from nub_shift.editing.words.waiting import waiting_words
from nub_shift.model.profile import Profile
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.plain import PlainLabel

# How often the time that is left is drawn, and looked at.
TICK_MS = 100


class WaitLine(QWidget):
    """Has its height whether something is waited for or not.

    Attributes:
        text: what it says.
        cancel: ends the wait.
    """

    def __init__(self, theme: Theme, waiting: Waiting, profile: Profile, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self._waiting = waiting
        self._profile = profile
        self._follows = True
        self.text = PlainLabel()
        self.text.setFont(theme.font(0.92))
        self.text.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.cancel = TextButton(theme, "Cancel", "Esc")
        self.cancel.setFocusPolicy(Qt.FocusPolicy.NoFocus)  # Escape does the same, and the focus stays where it is
        self.cancel.clicked.connect(lambda: waiting.heard(Heard.CANCELLED))
        policy = self.cancel.sizePolicy()
        policy.setRetainSizeWhenHidden(True)
        self.cancel.setSizePolicy(policy)
        row = QHBoxLayout(self)
        row.setContentsMargins(theme.px(10), 0, theme.px(6), theme.px(2))
        row.addWidget(self.text, 1)
        row.addWidget(self.cancel)
        self._timer = QTimer(self)
        self._timer.setInterval(TICK_MS)
        self._timer.timeout.connect(waiting.look_at_clock)
        waiting.on_change(self._show)
        self._show()

    def show_profile(self, profile: Profile) -> None:
        """Names things as this profile does."""
        self._profile = profile
        self._show()

    def set_follows(self, on: bool) -> None:
        """Whether a press on the pad opens its control."""
        self._follows = on
        self._show()

    def _show(self) -> None:
        wait = self._waiting.wait
        waits = wait.awaited is not Awaited.NOTHING
        text = waiting_words(self._profile, wait, self._follows)
        if text != self.text.text():
            self.text.setText(text)
            self.text.setAccessibleName(text)
        palette = self.text.palette()
        palette.setColor(self.text.foregroundRole(), self.theme.colour("ink" if waits else "muted"))
        self.text.setPalette(palette)
        self.cancel.setVisible(waits)
        if self._waiting.timed and not self._timer.isActive():
            self._timer.start()
        elif not self._waiting.timed:
            self._timer.stop()
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        if self._waiting.wait.awaited is Awaited.NOTHING:
            return
        theme = self.theme
        painter = QPainter(self)
        height = theme.px(3)
        room = QRectF(0, self.height() - height, self.width(), height)
        painter.fillRect(room, theme.colour("line"))
        painter.fillRect(QRectF(0, room.y(), self.width() * self._waiting.time_left, height), theme.colour("pad"))
