"""Every way to end, and what was held, on the real kernel: nothing stays down. The same as on an X server."""

from __future__ import annotations

import os
import signal
import threading
import time
from pathlib import Path

import psutil
import pytest
from evdev import ecodes

from nub_shift.protocol.calls import GetState, LoadProfile, SetLive, WorkByHand
from nub_shift.protocol.client import RunnerClient, RunnerError
from tests.kernel.devices import LIMIT_S, Reader, open_own
from tests.runner.processes import RunnerProcess
from tests.trust.test_ways_to_die import HELD, PAD, PROFILE, WAYS

pytestmark = pytest.mark.kernel

# `NUB_SHIFT_LONG` asks for all of them: a runner takes seconds to start in the guest.
LONG = bool(os.environ.get("NUB_SHIFT_LONG"))
HUNG_S = 3.0
ASKED = WAYS if LONG else [(signal.SIGKILL, "turbo"), (signal.SIGTERM, "ring")]


def test_a_runner_that_hangs_holds_nothing(tmp_path: Path) -> None:
    runner, reader = playing(tmp_path, "key")
    runner.client().close()  # it has gone on since the press, so its watcher knows of that
    runner.process.send_signal(signal.SIGSTOP)
    reader.wait(lambda _: not down(reader))
    runner.end(signal.SIGKILL)
    reader.until(lambda: reader.gone)  # its watcher has the devices open too, and ends with it


@pytest.mark.parametrize("number", [signal.SIGKILL, signal.SIGSTOP])
@pytest.mark.parametrize("held", list(HELD) if LONG else ["key"])
def test_a_watcher_that_goes_takes_the_keys_up_with_it_and_is_replaced(tmp_path: Path, held: str, number: int) -> None:
    runner, reader = playing(tmp_path, held)
    (watcher,) = (
        child
        for child in psutil.Process(runner.process.pid).children()
        if "nub_shift.outputs.uinput_watcher" in child.cmdline()
    )
    watcher.send_signal(number)
    reader.until(lambda: reader.gone)  # the devices go with the output
    client = runner.client()
    while not client.call(GetState()).live:
        time.sleep(0.1)
    reader = open_own("keyboard")
    client.call(WorkByHand(PAD, {}))
    client.call(WorkByHand(PAD, HELD["stick key"]))
    reader.wait(lambda _: bool(down(reader)))
    client.close()
    runner.end()
    reader.until(lambda: reader.gone or not down(reader))


@pytest.mark.parametrize("way", ["killed", "stopped", "hung"] if LONG else ["killed"])
@pytest.mark.parametrize("held", list(HELD) if LONG else ["toggle"])
def test_who_reads_profiles_may_go_and_nothing_stays_down(tmp_path: Path, held: str, way: str) -> None:
    runner, reader = playing(tmp_path, held)
    client = RunnerClient(runner.socket, 60.0)
    path = str(tmp_path / "ends.toml")
    load_at_last(client, LoadProfile(PROFILE, 0, path))
    (reading,) = (
        child
        for child in psutil.Process(runner.process.pid).children()
        if "nub_shift.runner.profiles.reading" in child.cmdline()
    )
    reading.send_signal(signal.SIGKILL if way == "killed" else signal.SIGSTOP)
    if way == "hung":
        continuing = threading.Timer(HUNG_S, lambda: reading.send_signal(signal.SIGCONT))
        continuing.start()
    edit = LoadProfile(PROFILE.replace("Ends", "Ends again"), 0, path)
    if way == "stopped":
        with pytest.raises(RunnerError):  # it is given up after its time
            client.call(edit)
    load_at_last(client, edit)
    client.call(WorkByHand(PAD, {}))
    client.call(SetLive(False))
    reader.until(lambda: not down(reader))
    client.call(SetLive(True))
    client.call(WorkByHand(PAD, HELD[held]))
    reader.until(lambda: bool(down(reader)))
    client.close()
    runner.end()
    reader.until(lambda: reader.gone or not down(reader))


def load_at_last(client: RunnerClient, load: LoadProfile) -> None:
    """Loads a profile, again where it takes longer to start reading here than a runner waits."""
    end_s = time.monotonic() + LIMIT_S
    while True:
        try:
            client.call(load)
            return
        except RunnerError:
            assert time.monotonic() < end_s


def down(reader: Reader) -> set[int]:
    """What is down by what has been seen."""
    held: set[int] = set()
    for kind, code, value in reader.seen:
        if kind == ecodes.EV_KEY:
            (held.add if value else held.discard)(code)
    return held


@pytest.mark.parametrize(("number", "held"), ASKED)
def test_no_end_leaves_anything_down(tmp_path: Path, number: int, held: str) -> None:
    runner, reader = playing(tmp_path, held)
    runner.end(number)
    reader.until(lambda: reader.gone or not down(reader))  # what a device held that has gone the kernel has released


def playing(tmp_path: Path, held: str) -> tuple[RunnerProcess, Reader]:
    """A runner that holds something down, and who reads its device."""
    tmp_path.chmod(0o700)
    profile = tmp_path / "ends.toml"
    profile.write_text(PROFILE)
    runner = RunnerProcess(tmp_path, "--pad", PAD, "--output", "uinput", profile=profile)
    reader = open_own("mouse" if held == "mouse button" else "keyboard")
    client = runner.client()
    client.call(WorkByHand(PAD, {}))
    client.call(SetLive(True))
    client.call(WorkByHand(PAD, HELD[held]))
    reader.wait(lambda _: bool(down(reader)))
    client.close()
    return runner, reader
