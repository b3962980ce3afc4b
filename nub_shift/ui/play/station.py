"""Station Play: players with their profiles, activation of the profile, signs and recaps."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QHideEvent, QShowEvent
from PyQt6.QtWidgets import QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from nub_shift.editing.document import Document
from nub_shift.protocol.calls import Call, TryFront
from nub_shift.translation import tr
from nub_shift.ui.frame.live import Live
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.play.activation import RulesPanel
from nub_shift.ui.play.players import Players
from nub_shift.ui.play.recap_panel import RecapPanel
from nub_shift.ui.play.session_switch import SessionSwitch
from nub_shift.ui.play.signs_panel import SignsPanel
from nub_shift.ui.widgets.buttons import Choice
from nub_shift.ui.widgets.wrapping_row import Turning


class PlayingStation(QWidget):
    """Station for settings of play.

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
        call: Callable[[Call], None],
        parent: QWidget | None = None,
    ) -> None:
        """`session` is the switch for playing without the window; `titles` returns the titles in the library.

        `call` sends a call to the runner.
        """
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
        self.rules.tried.connect(lambda front: call(TryFront(front)))
        self.signs = SignsPanel(theme, document)
        self.recap = RecapPanel(theme, document)
        right = Turning(theme.px(12))
        right.box.addWidget(left)
        right.box.addWidget(self._make_parts(theme), 1)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(theme.px(14), theme.px(8), theme.px(14), theme.px(8))
        outer.addWidget(right)
        live.state_changed.connect(self._on_state)
        self._on_state()

    def _make_parts(self, theme: Theme) -> QWidget:
        """Returns the tabs of the parts."""
        box = QWidget()
        column = QVBoxLayout(box)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(theme.px(8))
        row = QHBoxLayout()
        row.setSpacing(theme.px(6))
        self._stack = QStackedWidget()
        self.parts: list[Choice] = []
        for text, tip, part in (
            (tr("With which game"), tr("The windows with which this profile comes on by itself"), self.rules),
            (tr("On the screen"), tr("What you see on the screen while you play"), self.signs),
            (tr("Last sessions"), tr("How long you played, and what you used how often"), self.recap),
        ):
            choice = Choice(theme, text, tip)
            choice.clicked.connect(partial(self._show_part, part))
            self.parts.append(choice)
            row.addWidget(choice)
            self._stack.addWidget(part)
        row.addStretch(1)
        self.parts[0].setChecked(True)
        column.addLayout(row)
        column.addWidget(self._stack, 1)
        return box

    def _show_part(self, part: QWidget) -> None:
        self._stack.setCurrentWidget(part)
        self._show_profile()

    def _show_profile(self) -> None:
        self.signs.show_profile()
        self.recap.show_profile()

    @property
    def areas(self) -> tuple[QWidget, ...]:
        """Areas for the keyboard: players, rules and windows."""
        return self.session, self.rules, self.rules.list, self.signs, self.recap

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self.rules.begin()
        self._show_profile()

    def hideEvent(self, event: QHideEvent | None) -> None:
        super().hideEvent(event)
        self.rules.end()

    def _on_state(self) -> None:
        self.players.show_state(self._live.state)
        self.rules.follow(self._live.state)
