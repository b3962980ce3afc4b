"""Guidance of a newcomer: welcome page, first steps, and how to stop at the first live play."""

from __future__ import annotations

from functools import partial

from msgspec.structs import replace
from PyQt6.QtCore import QObject, Qt, pyqtSignal
from PyQt6.QtWidgets import QStackedWidget, QVBoxLayout

from nub_shift.editing.document import Document
from nub_shift.translation import tr
from nub_shift.ui import settings
from nub_shift.ui.commands import Station
from nub_shift.ui.frame.live import Live
from nub_shift.ui.help.first_steps import FirstSteps
from nub_shift.ui.help.welcome import Welcome
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.play.players import halt_words
from nub_shift.ui.widgets.layouts import quiet_scroll


class Guidance(QObject):
    """Hidden until `begin`.

    Attributes:
        steps: line of first steps, once shown.
        welcome: welcome page, once shown.

    Signals:
        station_requested(Station): station to show.
        demo_requested(): start the demo.
        profile_requested(str): create a profile of that title.
        said(str): a line for the person.
        named(): the open profile has got its game's title; its moves come next.
    """

    station_requested = pyqtSignal(object)
    demo_requested = pyqtSignal()
    profile_requested = pyqtSignal(str)
    said = pyqtSignal(str)
    named = pyqtSignal()

    def __init__(self, theme: Theme, document: Document, live: Live, parent: QObject) -> None:
        super().__init__(parent)
        self.steps: FirstSteps | None = None
        self.welcome: Welcome | None = None
        self._theme = theme
        self._document = document
        self._live = live
        live.state_changed.connect(self._on_state)

    def begin(self, column: QVBoxLayout, middle: QStackedWidget, newcomer: bool) -> None:
        """Shows the line above the middle of the window, and for a newcomer the welcome page in place of the middle."""
        self.steps = FirstSteps(self._theme, self._document, self._live)
        self.steps.wanted.connect(self.station_requested)
        self.steps.dismissed.connect(self._on_dismissed)
        column.insertWidget(column.indexOf(middle), self.steps)
        if not newcomer:
            return
        welcome = self.welcome = Welcome(self._theme)
        welcome.demo_requested.connect(self.demo_requested)
        welcome.pad_requested.connect(partial(self.station_requested.emit, Station.PADS))
        welcome.left.connect(partial(self.station_requested.emit, Station.MAP))
        welcome.profile_requested.connect(self._on_title)
        scroll = quiet_scroll(welcome)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        middle.addWidget(scroll)
        middle.setCurrentWidget(scroll)
        welcome.demo.setFocus(Qt.FocusReason.OtherFocusReason)

    def update_settings(self) -> None:
        """Shows or hides the line by the settings."""
        if self.steps is not None:
            self.steps.setVisible(settings.shows_first_steps())

    def note_played(self, station: Station) -> None:
        """Records play, live or rehearsed."""
        if self.steps is not None and station is Station.TRY:
            self.steps.note_tried()

    def _on_state(self) -> None:
        """Explains how to stop everything at the first live play."""
        state = self._live.state
        if state is None or not state.wanted or settings.has_been_live():
            return
        how = halt_words(state)
        if how:
            settings.has_been_live.keep(True)
            self.said.emit(tr("Your game gets keys from now on. {how}", how=how))

    def _on_dismissed(self) -> None:
        settings.shows_first_steps.keep(False)
        self.update_settings()

    def _on_title(self, title: str) -> None:
        """Renames the untouched first profile, or requests a new one."""
        profile = self._document.profile
        if not profile.moves and len(profile.layers) == 1 and not profile.layers[0].slots:
            self._document.edit(tr("Title {title}", title=title), lambda mine: replace(mine, title=title))
        else:
            self.profile_requested.emit(title)
        self.named.emit()
