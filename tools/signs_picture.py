"""Makes the pictures of signs and of the pad's menu above a game, in a real Wayland session without a screen.

usage: tools/wayland-session -- .venv/bin/python tools/signs_picture.py
"""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
from contextlib import closing
from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QLinearGradient, QPainter, QPaintEvent, QPolygonF
from PyQt6.QtWidgets import QApplication, QWidget

from nub_shift.demo.games import demo_profile_text
from nub_shift.protocol.calls import AssignPad, LoadProfile, PlugIn, SetLive, WorkByHand
from nub_shift.protocol.client import RunnerClient
from nub_shift.store.atomic import write_text

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"
PAD = "simulated:reed"


class Scene(QWidget):
    """An invented game: folded paper hills by a sea, in the evening."""

    def paintEvent(self, _event: QPaintEvent | None) -> None:  # noqa: N802 - as Qt calls it
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        sky = QLinearGradient(0, 0, 0, self.height())
        for at, colour in ((0.0, "#2e3f63"), (0.55, "#c98a6b"), (0.56, "#35566b"), (1.0, "#142433")):
            sky.setColorAt(at, QColor(colour))
        painter.fillRect(self.rect(), sky)
        painter.setPen(Qt.PenStyle.NoPen)
        wide, low = self.width() / 9, self.height() * 0.56
        for fold in range(9):
            tall = self.height() * (0.16 + 0.05 * ((fold * 5) % 4))
            for side, colour in ((0.0, "#566b4f"), (0.5, "#41533f")):
                left = fold * wide + side * wide
                slope = [QPointF(left, low), QPointF(left + wide * 0.5, low)]
                top = QPointF(fold * wide + wide * 0.5, low - tall)
                painter.setBrush(QColor(colour))
                painter.drawPolygon(QPolygonF([*slope, top]))
        painter.setBrush(QColor(255, 236, 190, 60))
        painter.drawEllipse(QRectF(self.width() * 0.62, low + 40, 260, 26))
        painter.end()


def main() -> None:
    """Takes both pictures."""
    if sys.argv[1:] == ["game"]:
        application = QApplication([])
        application.setDesktopFileName("org.tidefold.Tidefold")
        scene = Scene()
        scene.setWindowTitle("Tidefold")
        scene.showFullScreen()
        application.exec()
        return
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        (folder / "run").mkdir(mode=0o700)
        homes = {f"XDG_{kind}_HOME": str(folder / kind.lower()) for kind in ("STATE", "DATA", "CONFIG", "CACHE")}
        environment = {**os.environ, **homes, "XDG_RUNTIME_DIR": str(folder / "run"), "QT_QPA_PLATFORM": "wayland"}
        file = folder / "data" / "nub-shift" / "profiles" / "tidefold.toml"
        for title in ("tidefold", "saltglass", "dustwake"):
            text = demo_profile_text(title)
            write_text(
                file.with_stem(title), text + ('\n[signs]\nbadge = "top_right"\n' if title == "tidefold" else "")
            )
        game = subprocess.Popen([sys.executable, __file__, "game"], env=environment)
        command = [sys.executable, "-m", "nub_shift", "resident", "--output", "print"]
        environment.pop("QT_QPA_PLATFORM")
        runner = subprocess.Popen(command, env=environment, stdout=subprocess.DEVNULL)
        try:
            time.sleep(4)
            with closing(RunnerClient(folder / "run" / "nub-shift" / "resident.sock")) as client:
                for call in (
                    PlugIn("reed"),
                    AssignPad(PAD),
                    LoadProfile(file.read_text(), 0, str(file)),
                    SetLive(True),
                ):
                    client.call(call)
                time.sleep(3)
                client.call(WorkByHand(PAD, {"slider_1": -1.0}))
                time.sleep(0.2)
                client.call(WorkByHand(PAD, {"slider_1": -1.0, "left_stick.x": 0.7, "left_stick.y": -0.15}))
                picture("signs.png")
        finally:
            for process in (runner, game):
                process.terminate()
                process.wait(20)


def picture(name: str) -> None:
    """What is on the screen."""
    time.sleep(0.4)
    subprocess.run(["grim", str(FOLDER / name)], check=True)


if __name__ == "__main__":
    main()
