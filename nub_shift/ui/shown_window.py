"""The shown window, which is replaced after a change of the text size."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, QTimer, pyqtSignal
from PyQt6.QtWidgets import QApplication

from nub_shift.editing.document import Document
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.settings import shows_first_steps, text_size
from nub_shift.ui.window import Window


class ShownWindow(QObject):
    """Holds the present window.

    Fixed sizes are computed from the text size when a widget is created. Another text size therefore creates a new
    window on the same document and link, which keeps the undo history and the runner.

    Attributes:
        window: present window.

    Signals:
        settings_changed(): a setting has changed, or a new window has to be given all of them.
    """

    settings_changed = pyqtSignal()

    def __init__(self, application: QApplication, theme: Theme, document: Document, make: Callable[[], Window]) -> None:
        """`make` creates a window; `theme` has the present text size."""
        super().__init__(application)
        self._application = application
        self._theme = theme
        self._document = document
        self._make = make
        self._percent = text_size()
        self._base_points = theme.points * 100 / self._percent
        self.window = make()
        self.window.help.settings_changed.connect(self._follow_settings)

    def show_again(self, profile: str) -> str:
        """Brings the window to the front, with a profile if given; returns the reason of a failure."""
        return self.window.show_again(profile)

    def close(self) -> None:
        """Closes the window, which ends the application."""
        self.window.close()

    def _follow_settings(self) -> None:
        if text_size() != self._percent:
            self._percent = text_size()
            QTimer.singleShot(0, self._replace_window)  # after its list has closed
        self.settings_changed.emit()

    def _replace_window(self) -> None:
        old = self.window
        self._theme.points = self._base_points * self._percent / 100
        self._theme.apply(self._application)
        self._document.forget_listeners()
        new = self.window = self._make()
        new.help.settings_changed.connect(self._follow_settings)
        if old.live.state is not None:
            new.live.take_state(old.live.state)
        new.resize(old.size())
        new.move(old.pos())
        new.setWindowState(old.windowState())
        if old.leading.steps is not None and shows_first_steps():
            new.begin_first_steps(newcomer=False)
        new.show_station(old.station)
        new.map.show_layer(old.map.layer_id)
        opened = old.map.opened
        if opened is not None and opened.edits.cell is not None:
            new.map.open_slot(opened.edits.cell.slot, listen=False)
        new.show()
        settings_at = old.help.settings_place
        old.retire()
        if settings_at is not None:
            new.help.show_text_size(settings_at)
        self.settings_changed.emit()
