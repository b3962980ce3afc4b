"""Settings of the window; each takes effect at once."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from PyQt6.QtCore import QSignalBlocker, Qt, pyqtSignal
from PyQt6.QtGui import QKeySequence, QShortcut, QShowEvent
from PyQt6.QtWidgets import QCheckBox, QGridLayout, QWidget

from nub_shift.editing.words.waiting import listening_words
from nub_shift.translation import tr
from nub_shift.ui import settings
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.settings import LISTENING_MS, TAPE_HEIGHTS, TEXT_SIZES, LookChoice, MotionChoice, StoredSetting
from nub_shift.ui.widgets.help_mark import HelpMark
from nub_shift.ui.widgets.plain import PlainLabel
from nub_shift.ui.widgets.spins import ScrollSafeChoice

_LOOKS = {LookChoice.DESKTOP: tr("As the desktop"), LookChoice.DAY: tr("Day"), LookChoice.NIGHT: tr("Night")}
_MOTIONS = {MotionChoice.DESKTOP: tr("As the desktop"), MotionChoice.ALL: tr("All"), MotionChoice.LESS: tr("Less")}
_TAPES = dict(zip(TAPE_HEIGHTS, (tr("Low"), tr("Usual"), tr("High"), tr("Very high")), strict=True))

V = TypeVar("V")


class SettingsWindow(QWidget):
    """Lies beside the window, so that the effect of a setting is visible.

    Attributes:
        fields: by label.
        size_field: text size.

    Signals:
        changed(): a setting has changed and is saved.
    """

    changed = pyqtSignal()

    def __init__(self, theme: Theme, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Window)
        self.setWindowTitle(tr("Settings"))
        self.theme = theme
        self.fields: dict[str, QWidget] = {}
        self._show: list[Callable[[], None]] = []
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(*(theme.px(14),) * 4)
        self._grid.setHorizontalSpacing(theme.px(14))
        self._grid.setVerticalSpacing(theme.px(6))
        self._add_choice(
            tr("Look"), _LOOKS, settings.look_choice, tr("Light or dark colours, or those that your desktop has.")
        )
        sizes = {size: f"{size} %" for size in TEXT_SIZES}
        self.size_field = self._add_choice(tr("Text size"), sizes, settings.text_size, tr("How large all words are."))
        listening = {time: listening_words(time) for time in LISTENING_MS}
        self._add_choice(
            tr("Wait for a key"),
            listening,
            settings.listening_ms,
            tr("How long a slot listens before it gives up. With your mouth or a switch you may want longer."),
        )
        self._add_choice(
            tr("Tape"), _TAPES, settings.tape_height, tr("How much of the window's height the tape at its foot has.")
        )
        self._add_choice(
            tr("Moving pictures"),
            _MOTIONS,
            settings.motion_choice,
            tr("Less: pictures move in steps, which is calmer."),
        )
        self._add_switch(
            tr("Presses on the pad open their control in Map"),
            settings.follows_presses,
            tr("So that you find a control in the window by pressing it."),
        )
        self._add_switch(
            tr("Begin with what to do first"),
            settings.shows_first_steps,
            tr("A line at the top of the window that ticks off what is done."),
        )
        self._follow()
        QShortcut(QKeySequence.StandardKey.Cancel, self, self.close)
        self._grid.setRowStretch(self._grid.rowCount(), 1)

    def showEvent(self, event: QShowEvent | None) -> None:
        self._follow()  # some can also be changed elsewhere in the window
        super().showEvent(event)

    def _follow(self) -> None:
        """Shows the saved settings."""
        for field, show in zip(self.fields.values(), self._show, strict=True):
            with QSignalBlocker(field):
                show()

    def _add_choice(self, name: str, words: dict[V, str], kept: StoredSetting[V], help_text: str) -> QWidget:
        values = tuple(words)
        field = ScrollSafeChoice(name, tuple(words.values()))
        self._show.append(lambda: field.setCurrentIndex(values.index(kept())))
        field.activated.connect(lambda index: self._keep(kept, values[index]))
        row = self._grid.rowCount()
        self._grid.addWidget(PlainLabel(name), row, 0)
        self._grid.addWidget(field, row, 1)
        self._grid.addWidget(HelpMark(self.theme, name, help_text, field), row, 2)
        self.fields[name] = field
        return field

    def _add_switch(self, name: str, kept: StoredSetting[bool], help_text: str) -> None:
        field = QCheckBox(name)
        self._show.append(lambda: field.setChecked(kept()))
        field.toggled.connect(lambda on: self._keep(kept, on))
        row = self._grid.rowCount()
        self._grid.addWidget(field, row, 0, 1, 2)
        self._grid.addWidget(HelpMark(self.theme, name, help_text, field), row, 2)
        self.fields[name] = field

    def _keep(self, kept: StoredSetting[V], chosen: V) -> None:
        kept.keep(chosen)
        self.changed.emit()
