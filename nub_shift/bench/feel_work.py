"""Drags a line in Feel over a minute of recorded movements and measures the delay until it is visible and in play.

Then plays hours of movements. For `nub-shift bench` only. Prints one JSON object: median milliseconds by action, and
the growth of memory in an hour, in MB.
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

from PyQt6.QtCore import QEvent, QPointF
from PyQt6.QtWidgets import QApplication

from nub_shift.bench.processes import resident_mb_of
from nub_shift.editing.document import Document
from nub_shift.engine.values import Frame
from nub_shift.model.controls import STICKS
from nub_shift.protocol.messages import FrameNews
from nub_shift.store.profile_files import read_profile
from nub_shift.ui.commands import Station
from nub_shift.ui.feel.station import FeelStation
from nub_shift.ui.link import RunnerLink
from nub_shift.ui.look.theme import DAY, Theme
from nub_shift.ui.runner_start import OwnRunner
from nub_shift.ui.window import Window

_LIMIT_S = 20.0
_HANDS_S, _HANDS_HZ = 60, 250
# Frames per packet, time shown in between, and number of drags.
_TOLD = 10
_LOOKED_AT_S = 8
_BEGUN_US = 1_000_000_000
_SHOWN = ("right_stick", "right_trigger", "left_stick", "motion")


def main() -> None:
    """Runs the measurement."""
    path, rounds, minutes = Path(sys.argv[1]), int(sys.argv[2]), int(sys.argv[3])
    application = QApplication(sys.argv[:1])
    theme = Theme(DAY)
    theme.apply(application)
    link = RunnerLink(OwnRunner(path, "simulated:tern", "print"))
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
    station.hands.pause()  # the simulated pad continues by another clock
    station.outcome_panel.lengths["60 s"].click()
    knob = station.lens.knobs["Dead zone"]
    places = [QPointF(knob.geometry().center()) + QPointF(ahead, 0.0) for ahead in (12.0, 36.0)]
    seen = []
    for number in range(rounds):
        _settle(application)
        before = [row[2].text() for row in station.outcome_panel.rows]
        start = time.perf_counter()
        knob.dragged.emit(places[number % 2])
        while not station.outcome_panel.settled:
            application.processEvents()
        application.processEvents()
        seen.append((time.perf_counter() - start) * 1000)
        if before == [row[2].text() for row in station.outcome_panel.rows]:
            sys.exit(f"the figures stayed as they were: {before}")
    # Without other packets, the socket is next readable with the runner's acknowledgement; the window is busy
    # meanwhile.
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
    grown = _grown(application, station, minutes) if minutes else 0.0
    print(json.dumps({"seen": median(seen), "played": median(played), "grown": grown}), flush=True)
    link.end()
    os._exit(0)


def _grown(application: QApplication, station: FeelStation, minutes: int) -> float:
    """Returns the growth of the station's peak memory between two stretches of minutes, in MB.

    Peaks are compared, since memory of pictures comes and goes.
    """
    most = [0.0, 0.0]
    for minute in range(2 * minutes):
        station.show_control(_SHOWN[minute // 3 % len(_SHOWN)])
        for second in range(minute * 60, minute * 60 + 60):
            for at in range(second * _HANDS_HZ, (second + 1) * _HANDS_HZ, _TOLD):
                station.take(_hands(now) for now in range(at, at + _TOLD))
            if second % _LOOKED_AT_S == 0:
                station.outcome_panel.refresh()
                application.processEvents()
                # Deletes widgets as the application's own loop would.
                application.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)
        most[minute // minutes] = max(most[minute // minutes], resident_mb_of(os.getpid()))
    return most[1] - most[0]


def _hands(at: int) -> FrameNews:
    """Returns a frame of movements of every control."""
    sticks = {f"{name}.x": 0.9 * sin(at / 80) for name in STICKS} | {f"{name}.y": 0.5 * sin(at / 31) for name in STICKS}
    motion = {"motion.gyro_x": sin(at / 7), "motion.gyro_y": 20.0 * sin(at / 100), "motion.accel_y": 1.0}
    t_us = _BEGUN_US + at * (1_000_000 // _HANDS_HZ)
    return FrameNews(t_us, {**sticks, "right_trigger": abs(sin(at / 99)), **motion})


def _settle(application: QApplication) -> None:
    for _ in range(8):
        application.processEvents()
        time.sleep(0.01)


def _listen(descriptor: int, heard: list[float]) -> None:
    """Records when a descriptor becomes readable."""
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
