"""Switch for playing with the desktop session, without the window."""

from __future__ import annotations

from threading import Thread

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from nub_shift.editing.words.messages import message_words
from nub_shift.model.messages import MessageError
from nub_shift.model.plain_text import system_fault
from nub_shift.tasks.session_start import switch_off, switch_on
from nub_shift.translation import tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.plain import PlainLabel

_ON = tr("Pads play with your desktop session, also while this window is closed.")
_OFF = tr("Your pad works while this window is open. To play without it:")
_DEMO = tr("This is the demo: its pad plays while this window is open.")


class SessionSwitch(QWidget):
    """A sentence and a button; slow work is done in the background.

    Signals:
        begins(): the runner is about to change; connections to the present one must be closed.
        switched(bool): whether the session's runner plays now.
        said(str): reason of a failure.
    """

    begins = pyqtSignal()
    switched = pyqtSignal(bool)
    said = pyqtSignal(str)
    _done = pyqtSignal(bool, str)

    def __init__(self, theme: Theme, stays: bool, can_switch: bool, parent: QWidget | None = None) -> None:
        """`stays` is whether the session's runner plays; with `can_switch` there is a button."""
        super().__init__(parent)
        self._stays = stays
        self._can_switch = can_switch
        column = QVBoxLayout(self)
        column.setContentsMargins(0, theme.px(12), 0, 0)
        column.setSpacing(theme.px(6))
        self._label = PlainLabel()
        self._label.setWordWrap(True)
        self._label.setAlignment(Qt.AlignmentFlag.AlignTop)
        self._label.setMinimumHeight(theme.px(54))  # keeps the button in place
        column.addWidget(self._label)
        self.button = TextButton(theme, tr("Play with my desktop session"))
        column.addWidget(self.button)
        self.button.clicked.connect(self._on_clicked)
        self._done.connect(self._on_done)
        self._show()

    def _show(self) -> None:
        self._label.setText(_DEMO if not self._can_switch else _ON if self._stays else _OFF)
        self.button.setText(tr("Play only with this window") if self._stays else tr("Play with my desktop session"))
        self.button.setAccessibleName(self.button.text())
        self.button.setVisible(self._can_switch)
        self.button.updateGeometry()

    def _on_clicked(self) -> None:
        self.button.setEnabled(False)
        self.begins.emit()
        Thread(target=self._switch, args=(not self._stays,), daemon=True).start()

    def _switch(self, on: bool) -> None:
        fault = ""
        try:
            if on:
                switch_on()
            else:
                switch_off()
        except MessageError as error:
            fault = message_words(error.message)
        except OSError as error:
            fault = system_fault(error)
        self._done.emit(on, fault)

    def _on_done(self, on: bool, fault: str) -> None:
        self.button.setEnabled(True)
        if fault:
            self.said.emit(fault)
        self._stays = on if not fault else self._stays
        self._show()
        self.switched.emit(self._stays)
