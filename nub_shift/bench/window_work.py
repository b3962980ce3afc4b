"""Works on a large profile in the window and prints how long the interface thread was busy; for `nub-shift bench` only.

The profile has 12 layers with 25 slots each. Prints one JSON object: by action, median milliseconds of the interface's
thread in processor time and in wall time.
"""

from __future__ import annotations

import json
import os
import sys
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path
from statistics import median

from msgspec.structs import replace
from PyQt6.QtWidgets import QApplication

from nub_shift.editing.document import Document
from nub_shift.editing.edits.bindings import bind
from nub_shift.model.controls import CONTROLS, MOTION_SLOT, STICK_SLOTS
from nub_shift.model.profile.effects import DoMove, PressKeys
from nub_shift.model.profile.profile import Layer, Profile
from nub_shift.model.profile.reactions import Assignment
from nub_shift.store.profile_files import read_profile, write_profile
from nub_shift.ui.link import RunnerLink
from nub_shift.ui.look.theme import DAY, Theme
from nub_shift.ui.runner_start import OwnRunner
from nub_shift.ui.window import Window
from nub_shift.ui.writing import WritingThread

# Time until the edit is saved.
IN_FILE_S = 0.3
LAYERS = 12
SLOTS = 25


def large(profile: Profile) -> Profile:
    """A profile with 300 effects on 12 layers."""
    whole = (*STICK_SLOTS, MOTION_SLOT)
    slots = [slot for control in CONTROLS for slot in control.slots if slot not in whole][:SLOTS]
    moves = [move.id for move in profile.moves if move.keys]
    layers = []
    for number in range(LAYERS):
        does = {slot: Assignment.of(DoMove(moves[(index + number) % len(moves)])) for index, slot in enumerate(slots)}
        layers.append(Layer(id="base" if number == 0 else f"layer_{number}", label=f"Layer {number}", slots=does))
    return replace(profile, layers=tuple(layers))


def main() -> None:
    """Runs the measurement."""
    path, rounds = Path(sys.argv[1]), int(sys.argv[2])
    profile = large(read_profile(path))
    write_profile(path, profile)
    application = QApplication(sys.argv[:1])
    theme = Theme(DAY)
    theme.apply(application)
    writing = WritingThread()
    document = Document(path, profile, worker=writing)
    window = Window(theme, document, RunnerLink(OwnRunner(path, "simulated:tern", "print")))
    window.resize(1280, 800)
    window.show()
    _settle(application)
    station = window.map
    keys = [PressKeys((f"KEY_{letter}",)) for letter in "ABCDEFGHIJKLMNOPQRSTUVWXYZ"]

    def edit(number: int) -> None:
        does = Assignment.of(keys[number % 26])
        document.edit("south", partial(bind, layer_id="layer_3", slot="south", assignment=does))

    def opened(*slots: str) -> Callable[[int], object]:
        return lambda number: station.open_slot(slots[number % len(slots)], listen=False)

    def edited(number: int) -> bool:
        layer = document.profile.layer("layer_3")
        done = layer is not None and layer.slots["south"] == Assignment.of(keys[number % 26])
        start = time.perf_counter()
        writing.finish()
        in_time = time.perf_counter() - start < IN_FILE_S
        return done and in_time and path.read_text() == document.text

    def is_open(_number: int) -> bool:
        opened = station.opened
        return opened is not None and opened.isVisible()

    found = {
        "an edit": _busy_ms(application, rounds, edit, edited),
        "opening a button": _busy_ms(application, rounds, opened("south", "east"), is_open, station.dock.close_control),
        "opening a stick": _busy_ms(
            application, rounds, opened("left_stick.up", "right_stick.up"), is_open, station.dock.close_control
        ),
    }
    print(json.dumps(found), flush=True)
    os._exit(0)


def _busy_ms(
    application: QApplication,
    rounds: int,
    do: Callable[[int], object],
    is_done: Callable[[int], bool],
    undo: Callable[[], None] | None = None,
) -> tuple[float, float]:
    """Returns how long the thread is busy with an action, including layout and painting, in milliseconds.

    In processor time, and in wall time.

    Ends the program if the action has no effect.
    """
    taken = []
    for number in range(rounds):
        if undo is not None:
            undo()
        _settle(application)
        start, busy = time.perf_counter(), time.thread_time()
        do(number)
        application.processEvents()
        taken.append(((time.thread_time() - busy) * 1000, (time.perf_counter() - start) * 1000))
        if not is_done(number):
            sys.exit("what was to be measured was not done")
    processor, wall = zip(*taken, strict=True)
    return median(processor), median(wall)


def _settle(application: QApplication) -> None:
    for _ in range(5):
        application.processEvents()
        time.sleep(0.02)


if __name__ == "__main__":
    main()
