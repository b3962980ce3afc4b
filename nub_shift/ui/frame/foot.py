"""Foot of the window: the tape, or a choice in its place."""

from __future__ import annotations

from PyQt6.QtWidgets import QSizePolicy, QStackedWidget

from nub_shift.ui import settings
from nub_shift.ui.frame.both_changed import BothChanged
from nub_shift.ui.frame.tape import LEAST_TAPE, LOW_TAPE, Tape
from nub_shift.ui.look.theme import Theme

# Least height of a window with a tape.
_LOWEST = 300


class Foot(QStackedWidget):
    """Shows the tape, unless a profile was changed in two places."""

    def __init__(self, theme: Theme, tape: Tape, both_changed: BothChanged) -> None:
        super().__init__()
        self._theme = theme
        self._tape = tape
        self._both_changed = both_changed
        self._percent = settings.tape_height()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Maximum)
        self.addWidget(tape)
        self.addWidget(both_changed)

    def fit(self, height: int, is_low: bool) -> None:
        """Takes the chosen part of a window's height; a higher tape takes room from the station."""
        part = height * self._percent // 100
        self.setMaximumHeight(max(self._theme.px(LOW_TAPE if is_low else LEAST_TAPE), part))
        self.setMinimumHeight(part if self._percent > settings.USUAL_TAPE else 0)

    def update_settings(self) -> None:
        """Reads the chosen height; `fit` applies it."""
        self._percent = settings.tape_height()

    def show_part(self, height: int) -> None:
        """Shows the choice if there is one, else the tape if the window is high enough."""
        asks = self._both_changed.follow_document()
        self.setCurrentWidget(self._both_changed if asks else self._tape)
        self.setVisible(asks or height >= self._theme.px(_LOWEST))
