"""Opens the window with the made-up pad and prints a line once it has painted; for `nub-shift bench` only."""

from __future__ import annotations

import sys
from pathlib import Path

from PyQt6.QtCore import QEvent, QObject
from PyQt6.QtWidgets import QApplication

from nub_shift.editing.document import Document
from nub_shift.store.profile_files import read_profile
from nub_shift.ui.link import RunnerLink
from nub_shift.ui.look.theme import DAY, Theme
from nub_shift.ui.window import Window


class _FirstPaint(QObject):
    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:  # noqa: N802 - Qt's own name
        if event is not None and event.type() == QEvent.Type.Paint and watched is not None:
            watched.removeEventFilter(self)
            print("painted", flush=True)
        return False


def main() -> None:
    """The whole of it."""
    profile = Path(sys.argv[1])
    application = QApplication(sys.argv[:1])
    theme = Theme(DAY)
    theme.apply(application)
    link = RunnerLink(profile, "simulated:tern", "print")
    window = Window(theme, Document(profile, read_profile(profile)), link)
    window.resize(1280, 800)
    first = _FirstPaint()
    window.tape.installEventFilter(first)
    window.show()
    link.start()
    application.exec()


if __name__ == "__main__":
    main()
