"""Drags a line in Feel over a minute of hands and prints how long that takes to be seen and to be played.

For `nub-shift bench` only. Prints one JSON object: milliseconds by what was done, the median of all.
"""

from __future__ import annotations

import json
import os
import select
import sys
import time
from collections.abc import Callable
from math import sin
from pathlib import Path
from statistics import median
from threading import Thread

from PyQt6.QtCore import QPointF
from PyQt6.QtWidgets import QApplication

from nub_shift.editing.document import Document
from nub_shift.engine.values import Frame
from nub_shift.store.profile_files import read_profile
from nub_shift.ui.commands import Station
from nub_shift.ui.link import RunnerLink
from nub_shift.ui.look.theme import DAY, Theme
from nub_shift.ui.window import Window

_LIMIT_S = 20.0
_HANDS_S, _HANDS_HZ = 60, 250


def main() -> None:
    """The whole of it."""
    path, rounds = Path(sys.argv[1]), int(sys.argv[2])
    application = QApplication(sys.argv[:1])
    theme = Theme(DAY)
    theme.apply(application)
    link = RunnerLink(path, "simulated:tern", "print")
    window = Window(theme, Document(path, read_profile(path)), link)
    window.resize(1280, 800)
    window.show()
    link.start()
    _until(application, lambda: window.live.seat is not None, "the runner did not come")
    window.show_station(Station.FEEL)
    station = window.feel
    station.show_control("right_stick")
    period_us = 1_000_000 // _HANDS_HZ
    station.hands.take(
        Frame(at * period_us, {"right_stick.x": 0.9 * sin(at / 80), "right_stick.y": 0.5 * sin(at / 31)})
        for at in range(_HANDS_S * _HANDS_HZ)
    )
    station.hands.pause()  # the made-up pad goes on by another clock
    station.what_if.lengths["60 s"].click()
    knob = station.lens.knobs["Dead zone"]
    places = [QPointF(knob.geometry().center()) + QPointF(ahead, 0.0) for ahead in (12.0, 36.0)]
    seen = []
    for number in range(rounds):
        _settle(application)
        before = [row[2].text() for row in station.what_if.rows]
        start = time.perf_counter()
        knob.dragged.emit(places[number % 2])
        while not station.what_if.settled:
            application.processEvents()
        application.processEvents()
        seen.append((time.perf_counter() - start) * 1000)
        if before == [row[2].text() for row in station.what_if.rows]:
            sys.exit(f"the figures stayed as they were: {before}")
    # Told nothing else, the socket is next readable as the runner has it and says so; the window is busy meanwhile.
    link.set_seen(False)
    played = []
    for number in range(rounds):
        _settle(application)
        heard: list[float] = []
        ear = Thread(target=_listen, args=(link.descriptor, heard))
        start = time.perf_counter()
        ear.start()
        knob.dragged.emit(places[number % 2])
        ear.join()
        if not heard:
            sys.exit("the runner did not play it")
        played.append((heard[0] - start) * 1000)
    print(json.dumps({"seen": median(seen), "played": median(played)}), flush=True)
    link.end()
    os._exit(0)


def _settle(application: QApplication) -> None:
    for _ in range(8):
        application.processEvents()
        time.sleep(0.01)


def _listen(descriptor: int, heard: list[float]) -> None:
    """Notes when something can be read."""
    if select.select([descriptor], [], [], _LIMIT_S)[0]:
        heard.append(time.perf_counter())


def _until(application: QApplication, is_so: Callable[[], bool], why_not: str) -> None:
    end = time.monotonic() + _LIMIT_S
    while not is_so():
        application.processEvents()
        time.sleep(0.001)
        if time.monotonic() > end:
            sys.exit(why_not)


if __name__ == "__main__":
    main()
