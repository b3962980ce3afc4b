"""Lateness of outputs while clients flood a runner, against the lateness without."""

from __future__ import annotations

import os
import signal
import subprocess
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from itertools import pairwise
from pathlib import Path
from statistics import quantiles

from nub_shift.bench.figures import Figure
from nub_shift.bench.flooder import PATTERNS
from nub_shift.own_process import PROGRAM, own_command
from nub_shift.protocol.calls import SetLive, WorkByHand
from nub_shift.protocol.client import RunnerClient
from nub_shift.store.atomic import write_text

# Pointer speed above a count a millisecond, for an output in each.
_PROFILE = """
schema = 4
title = "Bench"
[[layers]]
id = "base"
label = "Base"
[layers.slots]
right_stick = { pointer = { x = 3000 } }
"""
_LEAST_MOVES = 800
TICK_MS = 1.0


def flood_figures(quick: bool) -> list[Figure]:
    """Returns the 99th percentile of lateness under each pattern."""
    seconds = 1.0 if quick else 5.0
    figures: list[Figure] = []
    idle_ms = 0.0
    with tempfile.TemporaryDirectory(prefix="nub-shift-bench-") as name, _runner(Path(name)) as process:
        for pattern in PATTERNS:
            found = _lateness_ms(process, Path(name) / "s", pattern, seconds)
            unseen = "" if len(found) >= _LEAST_MOVES * seconds else f"{len(found)} outputs in {seconds:g} s"
            late_ms = quantiles(found, n=100)[98] if len(found) > 1 else 0.0
            if pattern == "idle":
                idle_ms = late_ms
                figures.append(Figure("lateness of outputs, 99th percentile, idle", late_ms, "ms", unseen=unseen))
            else:
                figures.append(Figure(f"against idle: {pattern}", late_ms / idle_ms, "times", 2.0, unseen=unseen))
    return figures


@contextmanager
def _runner(folder: Path) -> Iterator[subprocess.Popen[bytes]]:
    """Runs a live runner whose stick is held, so that the pointer moves all the time."""
    profile = folder / "flood.toml"
    write_text(profile, _PROFILE)
    command = own_command(PROGRAM, "run", str(profile), "--pad", "simulated:tern", "--output", "print")
    with subprocess.Popen(
        [*command, "--socket", str(folder / "s")], stdout=subprocess.PIPE, stderr=subprocess.PIPE
    ) as process:
        assert process.stderr is not None
        process.stderr.readline()  # waits for the runner to be ready
        client = RunnerClient(folder / "s")
        client.call(WorkByHand("simulated:tern", {"right_stick.x": 1.0}))
        client.call(SetLive(True))
        try:
            yield process
        finally:
            process.send_signal(signal.SIGTERM)
            client.close()
            process.communicate()


def _lateness_ms(process: subprocess.Popen[bytes], path: Path, pattern: str, seconds: float) -> list[float]:
    """Returns the lateness of each pointer output against one tick after the one before."""
    assert process.stdout is not None
    flood = subprocess.Popen(own_command("nub_shift.bench.flooder", pattern, str(path)))
    try:
        _read_for(process.stdout.fileno(), 1.0)  # skips the start
        found = _read_for(process.stdout.fileno(), seconds)
    finally:
        flood.kill()
        flood.wait()
    _read_for(process.stdout.fileno(), 0.5)  # empties the pipe for the next pattern
    return [max(0.0, (after - before) * 1e3 - TICK_MS) for before, after in pairwise(found)]


def _read_for(fd: int, seconds: float) -> list[float]:
    """Returns the time of each pointer output, in seconds."""
    found: list[float] = []
    rest = b""
    end_s = time.monotonic() + seconds
    while time.monotonic() < end_s:
        *lines, rest = (rest + os.read(fd, 65536)).split(b"\n")
        now_s = time.monotonic()
        found += [now_s for line in lines if b'"pointer"' in line]
    return found
