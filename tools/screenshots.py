"""Makes the pictures in docs/screenshots from the demo, on Qt's offscreen platform.

usage: .venv/bin/python tools/screenshots.py
"""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

os.environ["QT_QPA_PLATFORM"] = "offscreen"

from PyQt6.QtCore import QEventLoop, QTimer
from PyQt6.QtWidgets import QApplication

from nub_shift.demo.games import demo_profile_text
from nub_shift.model.files import read_profile, write_text
from nub_shift.ui.document import Document
from nub_shift.ui.link import RunnerLink
from nub_shift.ui.theme import DAY, NIGHT, Look, Theme
from nub_shift.ui.window import Window

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"
SIZE = (1280, 800)


def wait(seconds: float) -> None:
    """Lets the application run."""
    loop = QEventLoop()
    QTimer.singleShot(round(seconds * 1000), loop.quit)
    loop.exec()


def show(application: QApplication, look: Look, profile: Path) -> tuple[Window, RunnerLink]:
    """The demo's window, its performance just begun."""
    theme = Theme(look)
    theme.apply(application)
    link = RunnerLink(profile, "simulated:tern", "print")
    window = Window(theme, Document(profile, read_profile(profile)), link)
    window.follow.setChecked(False)
    window.resize(*SIZE)
    window.show()
    link.start()
    return window, link


def main() -> None:
    """Takes all pictures; the seconds are those of the performance."""
    application = QApplication([])
    with tempfile.TemporaryDirectory() as folder:
        profile = Path(folder) / "saltglass.toml"
        write_text(profile, demo_profile_text())
        window, _ = show(application, DAY, profile)
        wait(8.7)
        window.grab().save(str(FOLDER / "map.png"))
        window.map.show_layer("lamp")
        window.map.open_slot("left_stick.up", listen=False)
        wait(15.5)
        window.grab().save(str(FOLDER / "map-opened.png"))
        window.close()
        window, _ = show(application, NIGHT, profile)
        window.show_station("try")
        wait(12.2)
        window.grab().save(str(FOLDER / "try.png"))
        window.close()


if __name__ == "__main__":
    main()
