"""Opens the window with a simulated pad, for `nub-shift bench` only.

Prints the processor time until the first paint in seconds, then the observed counts at each request.
"""

from __future__ import annotations

import sys
import time
from pathlib import Path

from PyQt6.QtCore import QEvent, QObject, QSocketNotifier
from PyQt6.QtWidgets import QApplication
from PyQt6.sip import voidptr

from nub_shift.editing.document import Document
from nub_shift.store.profile_files import read_profile
from nub_shift.ui.commands import Station
from nub_shift.ui.link import RunnerLink
from nub_shift.ui.look.theme import DAY, Theme
from nub_shift.ui.runner_start import OwnRunner
from nub_shift.ui.window import Window


class _Witness(QObject):
    """Counts paints of the tape, and packets from the runner. A line of input requests the counts and resets them.

    The line "feel" shows that station, whose lens is counted from then on; "minimise" minimises the window.
    """

    def __init__(self, window: Window) -> None:
        super().__init__()
        self.window = window
        self._painted = False
        self._frames = self._packets = 0

    def eventFilter(self, _watched: QObject | None, event: QEvent | None) -> bool:  # noqa: N802 - Qt's own name
        if event is not None and event.type() == QEvent.Type.Paint:
            self._frames += 1
            if not self._painted:
                self._painted = True
                print(time.process_time(), flush=True)
        return False

    def note_packet(self) -> None:
        """Counts a packet of the runner."""
        self._packets += 1

    def notify(self) -> None:
        """Answers a request."""
        requested = sys.stdin.readline()
        if requested.startswith("minimise"):
            self.window.showMinimized()
        if requested.startswith("feel"):
            self.window.show_station(Station.FEEL)
            self.window.feel.show_control("right_stick")
            self.window.tape.removeEventFilter(self)
            self.window.feel.lens.installEventFilter(self)
        if requested:
            print(self._frames, self._packets, flush=True)
            self._frames = self._packets = 0


def main() -> None:
    """Runs the measurement."""
    profile = Path(sys.argv[1])
    application = QApplication(sys.argv[:1])
    theme = Theme(DAY)
    theme.apply(application)
    link = RunnerLink(OwnRunner(profile, "simulated:tern", "print"))
    window = Window(theme, Document(profile, read_profile(profile)), link)
    window.resize(1280, 800)
    witness = _Witness(window)
    window.tape.installEventFilter(witness)
    link.telemetry.connect(witness.note_packet)
    requested = QSocketNotifier(voidptr(sys.stdin.fileno()), QSocketNotifier.Type.Read, window)
    requested.activated.connect(witness.notify)
    window.show()
    link.start()
    application.exec()


if __name__ == "__main__":
    main()
