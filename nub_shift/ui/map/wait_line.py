"""Line of the present wait, with its remaining time."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QPoint, QRectF, Qt, QTimer
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from nub_shift.editing.document import Document
from nub_shift.editing.waiting import Awaited, WaitEvent, Waiting
from nub_shift.editing.words.waiting import listening_words, waiting_words
from nub_shift.translation import tr
from nub_shift.ui.commands import TEXTS, Command
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.settings import LISTENING_MS, listening_ms
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.layouts import keep_room
from nub_shift.ui.widgets.menus import add_entry, passing_menu
from nub_shift.ui.widgets.plain import ElidedLabel, set_tooltip

# Interval of drawing and checking the remaining time.
TICK_MS = 100


class WaitLine(QWidget):
    """Has a constant height, with or without a wait.

    Attributes:
        text: text of the wait.
        time: time limit for keys.
        cancel: ends the wait.
    """

    def __init__(self, theme: Theme, waiting: Waiting, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self._waiting = waiting
        self._document = document
        self._follows = True
        self._opened = False
        self.text = ElidedLabel()
        self.text.setFont(theme.font(0.92))
        self.time = TextButton(theme, _time_text(waiting.listen_ms), tr("How long to wait for a key"))
        self.time.setFocusPolicy(Qt.FocusPolicy.TabFocus)  # clicks must not take the focus from a listening widget
        self.time.clicked.connect(self._choose_time)
        self.cancel = TextButton(theme, tr("Cancel"), TEXTS[Command.STOP_LISTENING].shortcut)
        self.cancel.setFocusPolicy(Qt.FocusPolicy.NoFocus)  # likewise; the shortcut does the same
        self.cancel.clicked.connect(lambda: waiting.handle_event(WaitEvent.CANCELLED))
        for button in (self.time, self.cancel):
            keep_room(button)
        row = QHBoxLayout(self)
        row.setContentsMargins(theme.px(10), 0, theme.px(6), theme.px(2))
        row.addWidget(self.text, 1)
        row.addWidget(self.time)
        row.addWidget(self.cancel)
        self._timer = QTimer(self)
        self._timer.setInterval(TICK_MS)
        self._timer.timeout.connect(waiting.check_time)
        waiting.on_change(self._show)
        self._show()

    def update_profile(self) -> None:
        """Updates names after an edit."""
        self._show()

    def _choose_time(self) -> None:
        menu = passing_menu(self)
        for milliseconds in LISTENING_MS:
            chosen = milliseconds == self._waiting.listen_ms
            add_entry(menu, listening_words(milliseconds), partial(self._on_time, milliseconds), chosen)
        menu.popup(self.time.mapToGlobal(QPoint(0, -menu.sizeHint().height())))

    def _on_time(self, milliseconds: int) -> None:
        listening_ms.keep(milliseconds)
        self.choose_time(milliseconds)

    def choose_time(self, milliseconds: int) -> None:
        """Sets the time limit for keys."""
        self.time.setText(_time_text(milliseconds))
        self.time.setAccessibleName(self.time.text())
        self.time.updateGeometry()
        self._waiting.choose_time(milliseconds)

    def set_follows(self, on: bool) -> None:
        """Sets whether a press on the pad opens its control."""
        self._follows = on
        self._show()

    def set_opened(self, opened: bool) -> None:
        """Sets whether a control is open."""
        self._opened = opened
        self._show()

    def _show(self) -> None:
        wait = self._waiting.wait
        waits = wait.awaited is not Awaited.NOTHING
        text = waiting_words(self._document.profile, wait, self._follows, self._opened, self._document.layout())
        if text != self.text.text():
            self.text.setText(text)
            self.text.setAccessibleName(text)
            set_tooltip(self.text, text)
        palette = self.text.palette()
        palette.setColor(self.text.foregroundRole(), self.theme.colour("ink" if waits else "muted"))
        self.text.setPalette(palette)
        self.cancel.setVisible(waits)
        self.time.setVisible(waits and (self._waiting.timed or not self._waiting.listen_ms))
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


def _time_text(milliseconds: int) -> str:
    return tr("Waits {seconds} s", seconds=milliseconds // 1000) if milliseconds else tr("Waits until you cancel")
