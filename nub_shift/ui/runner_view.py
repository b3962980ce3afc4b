"""State of the runner in head and tape; and the choice of the runner."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from nub_shift.editing.document import Document
from nub_shift.model.profile.activation import Away
from nub_shift.protocol.messages import State
from nub_shift.ui.frame.signal_bar import SignalBar
from nub_shift.ui.frame.tape import Tape
from nub_shift.ui.link import RunnerLink
from nub_shift.ui.play.session_switch import SessionSwitch
from nub_shift.ui.runner_start import RunnerStart, SessionRunner


class RunnerView(QObject):
    """Shows the state of the runner, and changes to another one.

    Signals:
        said(str): a line for the person.
        elsewhere(str): the runner plays the profile of this file, not requested here.
    """

    elsewhere = pyqtSignal(str)
    said = pyqtSignal(str)

    def __init__(
        self,
        link: RunnerLink,
        document: Document,
        bar: SignalBar,
        tape: Tape,
        session: SessionSwitch,
        own_runner: Callable[[Path], RunnerStart] | None,
    ) -> None:
        """`own_runner` returns the start of a runner of the window's own for a file."""
        super().__init__()
        self._link = link
        self._document = document
        self._bar = bar
        self._tape = tape
        self._own_runner = own_runner
        self._adopts = False
        self._missing = ""
        session.begins.connect(link.leave)
        session.switched.connect(self._on_switched)
        bar.switch.clicked.connect(self._on_switch)
        link.elsewhere.connect(self.elsewhere)
        link.gone.connect(self._on_gone)
        link.file = str(document.path.absolute())

    def request_live(self, wanted: bool) -> None:
        """Closes or opens the switch. Outputs go out only while another window is in front."""
        self._bar.switch.setChecked(wanted)
        self._link.go(wanted)

    def show(self, state: State, missing: str) -> None:
        """Shows a state; reports a missing pad once, since repeating it would hide other lines."""
        if missing != self._missing:
            self._missing = missing
            if missing:
                self.said.emit(missing)
        self._bar.switch.setChecked(state.wanted)
        plays = state.away is Away.NO and any(not seat.paused for seat in state.seats)
        self._show_flow(state.live, state.x11_only, state.live and not plays)
        self._tape.printed = [each.pad.printed for each in state.seats]

    def load(self) -> None:
        """Sends the present document to the runner."""
        self._link.file = str(self._document.path.absolute())
        if self._adopts:
            self._link.adopt(self._document.text)
        else:
            self._link.load(self._document.text)

    @contextmanager
    def adopting(self) -> Iterator[None]:
        """Suspends sending while a document is opened that the runner already plays."""
        self._adopts = True
        try:
            yield
        finally:
            self._adopts = False

    def _on_switch(self) -> None:
        self._link.go(self._bar.switch.isChecked())

    def _on_switched(self, stays: bool) -> None:
        """Changes to the session's runner, or to one of our own."""
        if self._own_runner is not None:
            self.load()
            self._link.change(SessionRunner() if stays else self._own_runner(self._document.path))

    def _on_gone(self) -> None:
        self._show_flow(False, False)

    def _show_flow(self, live: bool, x11_only: bool, paused: bool = False) -> None:
        self._bar.switch.set_flowing(live, x11_only, paused)
        self._bar.update()
        self._tape.set_live(live)
