"""Makes the pictures in docs/screenshots from the demo, on Qt's offscreen platform.

usage: .venv/bin/python tools/screenshots.py                all of them
       LANGUAGE=de .venv/bin/python tools/screenshots.py    those of the German guide, in docs/screenshots/de
"""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
from collections.abc import Callable
from functools import partial
from math import cos, radians, sin
from pathlib import Path

os.environ["QT_QPA_PLATFORM"] = "offscreen"

from PyQt6.QtCore import QEventLoop, QTimer
from PyQt6.QtWidgets import QApplication

from nub_shift.demo.games import demo_profile_text
from nub_shift.editing.document import Document
from nub_shift.model.pad.labels import LabelStyle
from nub_shift.model.profile.activation import Front
from nub_shift.model.profile.profile import SCHEMA_VERSION
from nub_shift.protocol.calls import PlayDemo, WorkByHand
from nub_shift.store.atomic import write_text
from nub_shift.store.profile_files import read_profile
from nub_shift.translation import tr
from nub_shift.ui.commands import Station
from nub_shift.ui.language import speak
from nub_shift.ui.link import RunnerLink
from nub_shift.ui.look.theme import DAY, NIGHT, Look, Theme
from nub_shift.ui.runner_start import OwnRunner
from nub_shift.ui.window import Window

IS_GERMAN = os.environ.get("LANGUAGE") == "de"
FOLDER = Path(__file__).parents[1] / "docs" / "screenshots" / ("de" if IS_GERMAN else "")
SIZE = (1280, 800)


def wait(seconds: float) -> None:
    """Lets the application run."""
    loop = QEventLoop()
    QTimer.singleShot(round(seconds * 1000), loop.quit)
    loop.exec()


def until(true: Callable[[], bool]) -> None:
    """Lets the application run until something is so; a busy machine may need a while."""
    for _ in range(100):
        if true():
            return
        wait(0.2)
    raise SystemExit("the runner does not tell what the picture needs")


def show(
    application: QApplication, look: Look, profile: Path, pad: str = "simulated:tern"
) -> tuple[Window, RunnerLink]:
    """The demo's window, its performance just begun."""
    theme = Theme(look)
    theme.apply(application)
    link = RunnerLink(OwnRunner(profile, pad, "print"))
    window = Window(theme, Document(profile, read_profile(profile)), link)
    window.map_tools.set_follow(False)
    window.resize(*SIZE)
    window.show()
    link.start()
    return window, link


def plug(window: Window, *keys: str) -> None:
    """Station Pads with some made-up pads plugged in."""
    window.show_station(Station.PADS)
    wait(1.5)
    for key in keys:
        until(partial(lambda wanted: wanted in window.pads.list.plugs, key))
        window.pads.list.plugs[key].click()
        wait(0.6)


def introduce(window: Window, link: RunnerLink) -> None:
    """Half-way through introducing an arcade stick."""
    plug(window, "reed", "plank")
    window.pads.banner.introduce.click()
    wait(0.6)
    for angle in range(0, 375, 15):
        way = {"left_stick.x": sin(radians(angle)), "left_stick.y": -cos(radians(angle))}
        link.notify(WorkByHand("simulated:plank", way))
        wait(0.03)
    for channel in ("", "south", "", "east", "", "west", ""):
        link.notify(WorkByHand("simulated:plank", {channel: 1.0} if channel else {}))
        wait(0.15)


def measure(window: Window, link: RunnerLink) -> None:
    """A pad whose reach and rest were measured, with marks of its owner."""
    pads = window.pads
    plug(window, "left", "gorse")
    pads.choose("simulated:tern")
    wait(0.5)
    for colour in (pads.marks.colours.dots["blue"], pads.marks.styles[LabelStyle.LETTERS], pads.strip.rim):
        colour.click()
        wait(0.5)
    for angle in range(0, 1500, 8):
        turn, connected = radians(angle), 0.95 + 0.04 * abs(sin(2 * radians(angle)))
        left = {"left_stick.x": connected * sin(turn), "left_stick.y": -connected * cos(turn)}
        right = {"right_stick.x": 0.92 * sin(turn), "right_stick.y": 0.92 * cos(turn)}
        link.notify(WorkByHand("simulated:tern", left | right))
        wait(0.03)
    wait(3)
    pads.strip.rest.click()
    wait(5)
    link.call(PlayDemo("simulated:tern"))
    wait(3)


def compare(window: Window, profile: Path) -> None:
    """The library, with the open profile held against a point that was named before two edits."""
    for game in ("tidefold", "dustwake"):
        write_text(profile.with_name(f"{game}.toml"), demo_profile_text(game))
    window.show_station(Station.LIBRARY)
    window.library.name.setText("Before the storm")
    window.library.buttons["point"].click()
    window.layers.table.click()
    window.show_station(Station.MAP)
    for slot in ("home", "south"):
        window.map.open_slot(slot, listen=False)
        wait(0.2)
        opened = window.map.opened
        assert opened is not None
        opened.written.entry.setText("F9")
        opened.written.entry.returnPressed.emit()
    window.show_station(Station.LIBRARY)
    window.library.compare.click()
    window.library.past.setCurrentRow(window.library.past.count() - 1)
    wait(0.3)


def feel(application: QApplication, profile: Path) -> None:
    """Station Feel with a worn stick that looks."""
    window, _ = show(application, DAY, profile, "simulated:teasel")
    window.show_station(Station.FEEL)
    window.feel.show_control("right_stick")
    wait(23)
    for wish in (
        tr("Steadier at rest"),
        tr("Full speed before the rim"),
        tr("Full speed before the rim"),
        tr("Softer near the centre"),
    ):
        window.feel.wishes.buttons[wish].click()
        wait(0.2)
    wait(2.2)
    window.grab().save(str(FOLDER / "feel.png"))
    window.close()


def play(application: QApplication, profile: Path) -> None:
    """Station Play: two windows with which the profile comes on, and another one pointed at."""
    other = profile.with_name("profiles") / "dustwake.toml"
    write_text(other, demo_profile_text("dustwake"))
    window, _ = show(application, DAY, profile)
    window.show_station(Station.PLAY)
    rules = window.play.rules
    rules.windows.is_available = True
    rules.windows.listed.emit(
        [
            Front(1, ("Saltglass", "saltglass"), "Saltglass Keeper", ("saltglass",), "/opt/saltglass/saltglass"),
            Front(2, ("loader",), "Keeper's tale", ("loader",), "/usr/bin/loader", (r"C:\games\keeper.exe",)),
            Front(3, ("loader",), "Dustwake", ("loader",), "/usr/bin/loader", (r"C:\games\dustwake.exe",)),
            Front(4, ("Letters", "letters"), "Letters", ("letters",), "/usr/bin/letters"),
        ]
    )
    for row in (0, 1):
        rules.list.setCurrentRow(row)
        rules.add.click()
    rules.list.setCurrentRow(2)
    wait(8.7)
    window.say("")
    wait(0.3)
    rules.follow(None)  # as where a session tells of windows
    wait(0.05)
    window.grab().save(str(FOLDER / "play.png"))
    window.close()


def newcomer(application: QApplication, folder: Path) -> None:
    """What the first start shows."""
    profile = folder / "first.toml"
    write_text(profile, f'schema = {SCHEMA_VERSION}\ntitle = "First profile"\n')
    window, _ = show(application, DAY, profile, "evdev:none")
    window.begin_first_steps(newcomer=True)
    window.say("")
    wait(1.0)
    window.grab().save(str(FOLDER / "first-start.png"))
    window.close()


def map_and_library(application: QApplication, profile: Path) -> None:
    """Station Map as it is, with a stick opened, and all layers; then the library."""
    window, _ = show(application, DAY, profile)
    wait(8.7)
    window.grab().save(str(FOLDER / "map.png"))
    window.map.show_layer("lamp")
    window.map.open_slot("left_stick.up", listen=False)
    wait(15.5)
    window.grab().save(str(FOLDER / "map-opened.png"))
    window.layers.table.click()
    window.map.clashes.head.click()
    wait(0.5)
    window.grab().save(str(FOLDER / "layers.png"))
    compare(window, profile)
    window.grab().save(str(FOLDER / "library.png"))
    window.close()


def set_up(application: QApplication, profile: Path) -> None:
    """Station Pads with a pad that is set up."""
    window, link = show(application, DAY, profile)
    introduce(window, link)
    window.grab().save(str(FOLDER / "pads-introducing.png"))
    window.close()


def measured(application: QApplication, profile: Path) -> None:
    """Station Pads with a pad that is measured."""
    window, link = show(application, NIGHT, profile)
    measure(window, link)
    window.grab().save(str(FOLDER / "pads.png"))
    window.close()


def try_it(application: QApplication, profile: Path) -> None:
    """Station Try by night."""
    window, _ = show(application, NIGHT, profile)
    window.show_station(Station.TRY)
    wait(12.2)
    window.grab().save(str(FOLDER / "try.png"))
    window.close()


def main() -> None:
    """Takes all pictures; the seconds are those of the performance."""
    application = QApplication([])
    speak(application)
    FOLDER.mkdir(exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        os.environ.update(dict.fromkeys(("XDG_DATA_HOME", "XDG_STATE_HOME", "XDG_CONFIG_HOME"), folder))
        profile = Path(folder) / "saltglass.toml"
        for take in (map_and_library, set_up, feel, try_it, play):
            write_text(profile, demo_profile_text())
            take(application, profile)
        if IS_GERMAN:
            return
        write_text(profile, demo_profile_text())
        measured(application, profile)
        newcomer(application, Path(folder))
    subprocess.run([sys.executable, __file__], env={**os.environ, "LANGUAGE": "de"}, check=True)


if __name__ == "__main__":
    main()
