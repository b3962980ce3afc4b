"""On a real X server: a window that another one covers is seen by nobody."""

from __future__ import annotations

import os
import subprocess
import sys

from tests.xserver import XWindow, x_process

SCRIPT = """
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication, QWidget
from nub_shift.ui.visibility import Seen
application = QApplication([])
window = QWidget()
window.setGeometry(100, 100, 200, 200)
seen = Seen(window)
seen.changed.connect(lambda now: print(now, flush=True))
window.show()
QTimer.singleShot(500, lambda: print("shown", flush=True))
QTimer.singleShot(20000, application.quit)
application.exec()
"""


def test_a_covered_window_is_not_seen_and_an_uncovered_one_is() -> None:
    with x_process() as (name, _):
        environment = {**os.environ, "DISPLAY": name, "QT_QPA_PLATFORM": "xcb"}
        command = [sys.executable, "-c", SCRIPT]
        with subprocess.Popen(command, stdout=subprocess.PIPE, text=True, env=environment) as process:
            assert process.stdout is not None
            lines = iter(process.stdout)
            while next(lines) != "shown\n":
                pass
            above = XWindow(name)
            assert next(lines) == "False\n"
            above.window.unmap()
            above.display.sync()
            assert next(lines) == "True\n"
            above.close()
            process.terminate()
