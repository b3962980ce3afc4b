"""The session's runner starts while what reads profiles is stopped, killed or slow: each game gets its profile still.

`NUB_SHIFT_LONG` asks for two hundred starts.
"""

from __future__ import annotations

import os
import random
import signal
import threading
import time
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from pathlib import Path

import psutil

from nub_shift.model.profile.activation import Front
from nub_shift.protocol.calls import AssignPad, LoadProfile, PlugIn, ReportFront, SetLive, WorkByHand
from nub_shift.protocol.client import RunnerError
from nub_shift.store.atomic import write_text
from tests.runner.resident import Home

STARTS, AT_ONCE = (200, 8) if os.environ.get("NUB_SHIFT_LONG") else (4, 4)
LIMIT_S = 90.0
GAMES = {"tide": "KEY_A", "dust": "KEY_B", "salt": "KEY_C"}
PROFILE = """schema = 4
title = "{name}"
[[layers]]
id = "base"
label = "Base"
[layers.slots]
"left_stick.up" = {{ keys = ["{key}"] }}
[[comes_on.rules]]
window = "{name}"
"""


def test_each_game_gets_its_profile_however_slowly_profiles_are_read_at_the_start(tmp_path: Path) -> None:
    with ThreadPoolExecutor(AT_ONCE) as pool:
        list(pool.map(lambda number: start(tmp_path / str(number), random.Random(number)), range(STARTS)))


def start(folder: Path, chance: random.Random) -> None:
    """One start; the second one of its runner, which knows what it played last."""
    folder.mkdir()
    home = Home(folder)
    texts = {name: PROFILE.format(name=name, key=key) for name, key in GAMES.items()}
    for name, text in texts.items():
        write_text(home.profiles / f"{name}.toml", text)
    kept = chance.choice(list(GAMES))
    home.start()
    path = home.profiles / f"{kept}.toml"
    held = WorkByHand("tern", {"left_stick.y": -1.0})
    home.call(PlugIn("tern"), AssignPad("simulated:tern"), LoadProfile(texts[kept], 0, str(path)), SetLive(True), held)
    home.await_kept(lambda found: found.live)
    home.end()
    home.start()
    assert home.process is not None
    trouble = threading.Thread(target=hinder, args=(home.process.pid, chance.random(), chance.randrange(3)))
    trouble.start()
    try:
        home.call(WorkByHand("tern", {}), held)
        home.call(ReportFront(Front(1, (kept,))))
        await_game(home, kept, kept)  # it needs no list for what it plays
        before = kept
        for window, name in enumerate([*chance.sample(list(GAMES), 2), "desk"], start=2):
            home.call(ReportFront(Front(window, (name,))))
            await_game(home, before, name)
            before = name
    finally:
        trouble.join()
        home.end()


def await_game(home: Home, before: str, name: str) -> None:
    """Waits until the key of that game is down instead of the one before, or none where the window is no game's."""
    end_s = time.monotonic() + LIMIT_S
    wanted = (GAMES[name],) if name in GAMES else ()
    while True:
        with suppress(RunnerError):
            state = home.call()
            assert state.down in {(), wanted, (GAMES[before],)}, (before, name)
            if state.down == wanted and state.seats[0].paused is not bool(wanted):
                return
        assert time.monotonic() < end_s, (before, name, state)
        time.sleep(0.05)


def hinder(runner: int, part: float, kind: int) -> None:
    """Stops the readers for longer than they may take, for less, or kills them again and again, for some seconds."""
    end_s = time.monotonic() + 3.0 + 5.0 * part
    stopped: set[int] = set()
    while time.monotonic() < end_s:
        for reader in readers(runner):
            with suppress(psutil.Error):
                if kind == 0:
                    reader.kill()
                elif reader.pid not in stopped:
                    reader.send_signal(signal.SIGSTOP)
                    stopped.add(reader.pid)
        time.sleep(0.05 + 0.4 * part)
        if kind == 1:
            for pid in stopped:
                with suppress(ProcessLookupError):
                    os.kill(pid, signal.SIGCONT)
    for pid in stopped:
        with suppress(ProcessLookupError):
            os.kill(pid, signal.SIGCONT)


def readers(runner: int) -> list[psutil.Process]:
    """The processes that read profiles for that runner."""
    found = []
    with suppress(psutil.Error):
        for child in psutil.Process(runner).children():
            with suppress(psutil.Error):
                if "nub_shift.runner.profiles.reading" in child.cmdline():
                    found.append(child)
    return found
