"""A quiet line of first steps in the order of work, ticked automatically; can be dismissed for good."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from typing import Final

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from nub_shift.advice.move_coverage import Coverage
from nub_shift.editing.document import Document
from nub_shift.editing.first_steps import Seen, Step, steps_done
from nub_shift.translation import tr
from nub_shift.ui.commands import Station
from nub_shift.ui.frame.live import Live
from nub_shift.ui.help.places import set_place
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.flow import Flow
from nub_shift.ui.widgets.plain import PlainLabel

_WORDS: Final = {
    Step.PAD: (tr("Pad"), tr("Plug in your pad and see each control answer"), Station.PADS),
    Step.MOVES: (tr("Moves"), tr("List the moves of your game with their keys"), Station.MAP),
    Step.ASSIGN: (tr("Assign"), tr("Press a control on the pad, then click a move"), Station.MAP),
    Step.FEEL: (tr("Feel"), tr("Tune the sticks until they feel right"), Station.FEEL),
    Step.TRY: (tr("Try"), tr("See here what your game would get"), Station.TRY),
    Step.PLAY: (tr("Play"), tr("Turn the switch at the top right to Live and go to your game"), Station.PLAY),
    Step.COMES_ON: (tr("With the game"), tr("Have the profile come on by itself with its game"), Station.PLAY),
}


class FirstSteps(QWidget):
    """One button for each step, ticked when done.

    Attributes:
        steps: the buttons.
        dismiss: dismisses the line.
        seen: events observed until now.

    Signals:
        wanted(Station): station of a chosen step.
        dismissed(): the person has dismissed the line.
    """

    wanted = pyqtSignal(object)
    dismissed = pyqtSignal()

    def __init__(self, theme: Theme, document: Document, live: Live, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._document = document
        self._live = live
        self._coverage = Coverage()
        self.seen = Seen()
        self.steps = {step: TextButton(theme, text, help_text) for step, (text, help_text, _) in _WORDS.items()}
        column = QVBoxLayout(self)
        column.setContentsMargins(theme.px(14), 0, theme.px(14), 0)
        row = Flow(theme.px(4), grows=True)  # two lines with a large font
        column.addLayout(row)
        head = PlainLabel(tr("To do first:"))
        row.addWidget(head)
        for step, button in self.steps.items():
            button.setCheckable(True)
            button.clicked.connect(partial(self._on_step, step))
            row.addWidget(button)
        self.dismiss = TextButton(theme, tr("Hide for good"), tr("Settings can bring this line back"))
        self.dismiss.clicked.connect(self.dismissed)
        row.addWidget(self.dismiss)
        head.setFixedHeight(self.dismiss.sizeHint().height())
        self.setAccessibleName(tr("What to do first"))
        set_place(self, "first-profile")
        document.on_change(self.follow)
        live.state_changed.connect(self._on_state)
        self._on_state()
        self.follow()

    def follow(self) -> None:
        """Ticks the completed steps."""
        done = steps_done(self._document.profile, self._coverage.of(self._document.profile), self.seen)
        for step, button in self.steps.items():
            text, help_text, _ = _WORDS[step]
            button.setChecked(step in done)
            button.setAccessibleName(f"{text}: {(tr('done') if step in done else tr('to do'))}")
            button.setAccessibleDescription(help_text)

    def note_tried(self) -> None:
        """Records a press in station Try."""
        if not self.seen.tried:
            self.seen = replace(self.seen, tried=True)
            self.follow()

    def _on_state(self) -> None:
        state, seat = self._live.state, self._live.seat
        if state is None or seat is None:
            return
        seen = Seen(self.seen.pad or bool(seat.pad.name), self.seen.tried, self.seen.played or state.live)
        if seen != self.seen:
            self.seen = seen
            self.follow()

    def _on_step(self, step: Step) -> None:
        self.follow()  # clicks do not tick a step
        self.wanted.emit(_WORDS[step][2])
