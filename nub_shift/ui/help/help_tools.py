"""Help beside the work: guide, settings and first steps, created at first use."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QPoint, Qt, pyqtSignal
from PyQt6.QtWidgets import QApplication, QMenu, QWidget

from nub_shift.own_process import start_program
from nub_shift.translation import tr
from nub_shift.ui.commands import TEXTS, Command
from nub_shift.ui.help.places import place_of
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.menus import add_entry, passing_menu

if TYPE_CHECKING:
    from nub_shift.ui.help.guide import GuideWindow
    from nub_shift.ui.help.settings_window import SettingsWindow


class HelpTools(QObject):
    """Opens help from the menu and by keys.

    Attributes:
        more: button with the menu.

    Signals:
        hand_pad_requested(): open the simulated pad in a window of its own.
        settings_changed(): a setting of the window has changed.
        said(str): a line for the person.
        more_opened(QMenu): the menu is about to be shown, and accepts more entries.
    """

    settings_changed = pyqtSignal()
    hand_pad_requested = pyqtSignal()
    said = pyqtSignal(str)
    more_opened = pyqtSignal(QMenu)

    def __init__(self, theme: Theme, window: QWidget) -> None:
        super().__init__(window)
        self._theme = theme
        self._window = window
        self.more = TextButton(theme, tr("More …"), tr("Guide, shortcuts, settings, and about this program"))
        self.more.clicked.connect(self._open_menu)

    def show_guide(self) -> None:
        """Shows the guide at the place of the focused part."""
        self.guide.show_place(place_of(QApplication.focusWidget()))

    def show_settings(self) -> None:
        """Shows the settings."""
        self.settings.show()
        self.settings.raise_()
        self.settings.activateWindow()

    @property
    def settings_place(self) -> QPoint | None:
        """Position of the open settings on the screen; None while closed."""
        made: SettingsWindow | None = vars(self).get("settings")
        return made.pos() if made is not None and made.isVisible() else None

    def show_text_size(self, place: QPoint) -> None:
        """Opens the settings at a position, with the focus on the text size."""
        self.settings.move(place)
        self.show_settings()
        self.settings.size_field.setFocus(Qt.FocusReason.OtherFocusReason)

    def show_demo(self) -> None:
        """Starts the demo in a process of its own."""
        start_program("demo")
        self.said.emit(tr("The demo opens in a window of its own"))

    @cached_property
    def guide(self) -> GuideWindow:
        """The window of the guide."""
        from nub_shift.ui.help.guide import GuideWindow

        return GuideWindow(self._theme, self._window)

    @cached_property
    def settings(self) -> SettingsWindow:
        """The window of the settings."""
        from nub_shift.ui.help.settings_window import SettingsWindow

        made = SettingsWindow(self._theme, self._window)
        made.changed.connect(self.settings_changed)
        return made

    def _open_menu(self) -> None:
        from nub_shift.ui.help.guide import ABOUT, SHORTCUTS

        menu = passing_menu(self.more)
        self.more_opened.emit(menu)
        for text, do, command in (
            (tr("Guide"), self.guide.show_place, Command.GUIDE),
            (tr("Keyboard shortcuts"), lambda: self.guide.show_place(SHORTCUTS), None),
            (tr("Simulated pad"), self.hand_pad_requested.emit, Command.HAND_PAD),
            (tr("Settings …"), self.show_settings, Command.SETTINGS),
            (tr("Look at the demo"), self.show_demo, None),
            (tr("About Nub Shift"), lambda: self.guide.show_place(ABOUT), None),
        ):
            entry = add_entry(menu, text, do)
            if command is not None:
                entry.setShortcut(TEXTS[command].shortcut)
        menu.popup(self.more.mapToGlobal(QPoint(0, self.more.height())))
