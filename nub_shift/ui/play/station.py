"""Station Play: who plays what and why, and with which game the profile comes on by itself."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QHideEvent, QShowEvent
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from nub_shift.editing.document import Document
from nub_shift.ui.frame.live import Live
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.play.players import Players
from nub_shift.ui.play.rules import RulesPanel
from nub_shift.ui.play.session_switch import SessionSwitch
from nub_shift.ui.widgets.wrapping_row import Turning


class PlayingStation(QWidget):
    """What happens once the game is in front.

    Signals:
        said(str): a line for the person.
    """

    said = pyqtSignal(str)

    def __init__(
        self,
        theme: Theme,
        document: Document,
        live: Live,
        session: SessionSwitch,
        titles: Callable[[], list[str]],
        parent: QWidget | None = None,
    ) -> None:
        """`session` says whether the runner plays without the window; `titles` are those of the library's profiles."""
        super().__init__(parent)
        self._live = live
        left = QWidget()
        left.setFixedWidth(theme.px(330))
        column = QVBoxLayout(left)
        column.setContentsMargins(0, 0, theme.px(12), 0)
        column.setSpacing(theme.px(8))
        self.players = Players(theme)
        column.addWidget(self.players)
        self.session = session
        self.session.said.connect(self.said)
        column.addWidget(self.session)
        column.addStretch(1)
        self.rules = RulesPanel(theme, document, titles)
        self.rules.said.connect(self.said)
        right = Turning(theme.px(12))
        right.box.addWidget(left)
        right.box.addWidget(self.rules, 1)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(theme.px(14), theme.px(8), theme.px(14), theme.px(8))
        outer.addWidget(right)
        live.state_changed.connect(self._on_state)
        self._on_state()

    @property
    def areas(self) -> tuple[QWidget, ...]:
        """Who plays, the rules, the windows."""
        return self.session, self.rules, self.rules.list

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self.rules.begin()

    def hideEvent(self, event: QHideEvent | None) -> None:
        super().hideEvent(event)
        self.rules.end()

    def _on_state(self) -> None:
        self.players.show_state(self._live.state)
