"""A window that is killed at any moment leaves the state of the last act on the disk, or of the last but one."""

from __future__ import annotations

import os
import random
import signal
import subprocess
import sys
import time
from pathlib import Path

import msgspec
import pytest

from nub_shift.demo.games import demo_profile_text
from nub_shift.editing.document import Document
from nub_shift.store.atomic import write_text
from nub_shift.store.profile_files import read_profile
from tests.trust.worked_window import State, files_in, state_of

# `NUB_SHIFT_LONG` asks for 300 rounds, in parts of some minutes.
PARTS, ROUNDS = (6, 50) if os.environ.get("NUB_SHIFT_LONG") else (1, 4)
MOST_S = 1.5  # that a window is worked


@pytest.mark.parametrize("part", range(PARTS))
def test_killed_while_it_is_worked_a_window_loses_no_more_than_the_last_act(tmp_path: Path, part: int) -> None:
    folder = tmp_path / "profiles"
    for game in ("saltglass", "dustwake"):
        write_text(folder / f"{game}.toml", "# a comment of mine\n" + demo_profile_text(game))
    acts = 0
    for number in range(part * ROUNDS, (part + 1) * ROUNDS):
        chance = random.Random(number)
        told = _told_until_killed(folder, number, chance.random() * MOST_S)
        acts += len(told) - 1
        last = told[-2:]
        found = [_found(folder, state) for state in last]
        assert any(one == other for one, other in zip(found, last, strict=True)), (number, last, found)
    assert acts > ROUNDS


def _found(folder: Path, state: State) -> State:
    """What is on the disk, with the profile open that a state says."""
    path = folder / state.open
    files = files_in(folder)
    if not path.exists():
        return State(files, "", [], [])
    return state_of(Document(path, read_profile(path)), files, folder)


def _told_until_killed(folder: Path, seed: int, seconds: float) -> list[State]:
    command = [sys.executable, "-m", "tests.trust.worked_window", str(folder), str(seed)]
    with subprocess.Popen(command, stdout=subprocess.PIPE) as process:
        assert process.stdout is not None
        first = process.stdout.readline()
        time.sleep(seconds)
        process.kill()
        lines = [first, *process.stdout.read().splitlines(keepends=True)]
    assert process.returncode == -signal.SIGKILL, "it ended by itself"
    return [msgspec.json.decode(line, type=State) for line in lines if line.endswith(b"\n")]
