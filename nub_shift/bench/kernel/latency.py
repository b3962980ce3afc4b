"""Cost of play through a real kernel: latency, regularity of the pointer, load at rest.

Latencies are meaningful where the clock counts instructions (see `tools/kernel-guest`), elsewhere only as ratios.
"""

from __future__ import annotations

import select
import subprocess
import tempfile
import time
from contextlib import closing
from itertools import pairwise
from pathlib import Path
from statistics import quantiles

import evdev
from evdev import ecodes

from nub_shift.bench.figures import Figure
from nub_shift.bench.kernel.devices import (
    FULL,
    LIMIT_S,
    PAD_NAME,
    BenchPad,
    NotObserved,
    await_word,
    ended,
    low_priority,
    output_of,
    running,
)
from nub_shift.bench.kernel.load import LEAST_MOVES, load_figures
from nub_shift.bench.processes import cpu_s
from nub_shift.bench.session import home_of
from nub_shift.compiled import kind
from nub_shift.own_process import PROGRAM, own_command
from nub_shift.protocol.calls import WatchSigns
from nub_shift.protocol.client import RunnerClient
from nub_shift.store.atomic import write_text

BARE_PHYS = "bench/bare"
WARM_UP = 20
_ADDED = "added latency against the bare loop"
# Pointer speed above a count a millisecond, for an output at every tick.
_PROFILE = """
schema = 4
title = "Bench"
[game]
frame_rate_hz = 60
[[layers]]
id = "base"
label = "Base"
[layers.slots]
south = { keys = ["KEY_SPACE"] }
right_stick = { pointer = { x = 3000 } }
"""


def kernel_figures(quick: bool) -> list[Figure]:
    """Returns latency and load against bare loops, jitter of the pointer's ticks, and load at rest.

    Raises:
        OSError: /dev/uinput is missing or not permitted.
        NotObserved: the event to be measured did not happen.
    """
    presses = 40 if quick else 400
    with tempfile.TemporaryDirectory(prefix="nub-shift-bench-") as name:
        profile = Path(name) / "bench.toml"
        write_text(profile, _PROFILE)
        pad = BenchPad()
        try:
            bare = own_command("nub_shift.bench.kernel.pass_through", "press", BARE_PHYS, *pad.paths)
            with running(bare, "ready"), low_priority():
                baseline = _latencies_us(pad, BARE_PHYS, presses)
            runner = own_command(PROGRAM, "run", str(profile), "--pad", f"evdev:{PAD_NAME}")
            with running([*runner, "--socket", str(Path(name) / "s")], "ready:") as pid:
                with low_priority():
                    ours = _latencies_us(pad, "nub-shift/keyboard", presses)
                    with closing(RunnerClient(Path(name) / "s", LIMIT_S)) as client:
                        client.call(WatchSigns())
                        told = _latencies_us(pad, "nub-shift/keyboard", presses)
                jitter = _jitter(pad, 1.0 if quick else 5.0)
                wakes, load = _rest(pid, 2.0 if quick else 10.0)
                release_us = _release_us(pad)
        finally:
            pad.close()
        resident_wakes, resident_load = _resident_rest(Path(name), quick)
        first_us = min(_first_press_us(profile, Path(name) / "f") for _ in range(1 if quick else 3))
        loads = load_figures(Path(name), quick)
    compiled = kind() == "compiled"
    (bare_median, bare_late), (median, late) = _spread(baseline), _spread(ours)
    return [
        Figure("bare loop, event to event, median", bare_median, "µs"),
        Figure("runner, event to event, median", median, "µs"),
        Figure(f"{_ADDED}, median", median / bare_median, "times", 1.2 if compiled else 2.0),
        Figure(f"{_ADDED}, 99th percentile", late / bare_late, "times", 1.3 if compiled else 2.0),
        Figure("with signs told against without, median", _spread(told)[0] / median, "times", 1.05),
        jitter,
        Figure("runner's wake-ups a second, pad at rest", wakes, "", 0.0),
        Figure("runner's load, pad at rest", load * 100, "% of a core", 0.2),
        Figure("session's runner: wake-ups a second, pad at rest", resident_wakes, "", 0.0),
        Figure("session's runner: load, pad at rest", resident_load * 100, "% of a core", 0.2),
        Figure("from unplugging to the release of what was held", release_us / 1000, "ms", 50.0),
        Figure("the first press, made as soon as it says ready, to its key", first_us / 1000, "ms", 20.0),
        *loads,
    ]


def _latencies_us(pad: BenchPad, phys: str, presses: int) -> list[float]:
    """Returns the times from the write of a button's press to the kernel's time of the key's press.

    The first presses, while processes still start, are left out; they have a figure of their own.
    """
    device = output_of(phys)
    found = []
    try:
        for number in range(-WARM_UP, presses):
            start_us = time.monotonic_ns() / 1000
            pad.write(ecodes.EV_KEY, ecodes.BTN_SOUTH, 1)
            found.append(_next_key_us(device, 1) - start_us)
            # Intervals of a hand: longer than the shortest time and gap, without a common period.
            time.sleep(0.030 + 0.0007 * (number % 11))
            pad.write(ecodes.EV_KEY, ecodes.BTN_SOUTH, 0)
            _next_key_us(device, 0)
            time.sleep(0.030 + 0.0003 * (number % 13))
    finally:
        device.close()
    return found[WARM_UP:]


def _next_key_us(device: evdev.InputDevice[str], value: int) -> float:
    end = time.monotonic() + LIMIT_S
    while select.select([device.fd], [], [], max(0.0, end - time.monotonic()))[0]:
        for event in device.read():
            if event.type == ecodes.EV_KEY and event.value == value:
                return event.sec * 1e6 + event.usec
    raise NotObserved("no key came")


def _jitter(pad: BenchPad, seconds: float) -> Figure:
    """Returns the deviation from 1 ms between two pointer outputs, with a stick held out."""
    device = output_of("nub-shift/mouse")
    pad.write(ecodes.EV_ABS, ecodes.ABS_RX, FULL)
    times: list[float] = []
    end = time.monotonic() + seconds
    try:
        while (left := end - time.monotonic()) > 0:
            if select.select([device.fd], [], [], left)[0]:
                times += [event.sec * 1e6 + event.usec for event in device.read() if event.type == ecodes.EV_SYN]
    finally:
        pad.write(ecodes.EV_ABS, ecodes.ABS_RX, 0)
        device.close()
    unseen = "" if len(times) >= LEAST_MOVES * seconds else f"the pointer moved {len(times)} times in {seconds:g} s"
    off_us = [abs(after - before - 1000.0) for before, after in pairwise(times)]
    late_us = 0.0 if unseen else _spread(off_us[20:])[1]
    return Figure("pointer ticks, 99th percentile of the jitter", late_us / 1000, "ms", 0.3, unseen=unseen)


def _rest(pid: int, seconds: float) -> tuple[float, float]:
    """Returns wake-ups a second and the part of a core used while the pad rests."""
    time.sleep(1.0)
    wakes, busy_s = _woken(pid), cpu_s(pid)
    time.sleep(seconds)
    return (_woken(pid) - wakes) / seconds, (cpu_s(pid) - busy_s) / seconds


def _resident_rest(folder: Path, quick: bool) -> tuple[float, float]:
    """Returns the same for a session's runner, whose pad is reported by udev."""
    pad = BenchPad()
    try:
        with running(own_command(PROGRAM, "resident"), "ready:", home_of(folder)) as pid:
            time.sleep(1.0 if quick else 5.0)
            return _rest(pid, 2.0 if quick else 10.0)
    finally:
        pad.close()


def _release_us(pad: BenchPad) -> float:
    """Returns the time from the unplug of a pad to the release of a key held by one of its buttons."""
    device = output_of("nub-shift/keyboard")
    try:
        pad.write(ecodes.EV_KEY, ecodes.BTN_SOUTH, 1)
        _next_key_us(device, 1)
        time.sleep(0.2)
        start_us = time.monotonic_ns() / 1000
        pad.close()
        return _next_key_us(device, 0) - start_us
    finally:
        device.close()


def _first_press_us(profile: Path, socket: Path) -> float:
    """Returns the time from a press, made as soon as a runner is ready, to its output line."""
    pad = BenchPad()
    run = own_command(PROGRAM, "run", str(profile), "--pad", f"evdev:{PAD_NAME}", "--output", "print")
    try:
        command = [*run, "--socket", str(socket)]
        with ended(subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE)) as runner:
            assert runner.stdout is not None
            await_word(runner, "ready:")
            start_us = time.monotonic_ns() / 1000
            pad.write(ecodes.EV_KEY, ecodes.BTN_SOUTH, 1)
            if not select.select([runner.stdout], [], [], LIMIT_S)[0]:
                raise NotObserved("no key came after the first press")
            return time.monotonic_ns() / 1000 - start_us
    finally:
        pad.close()


def _woken(pid: int) -> int:
    for line in Path(f"/proc/{pid}/status").read_text().splitlines():
        if line.startswith("voluntary_ctxt_switches:"):
            return int(line.split()[1])
    return 0


def _spread(values: list[float]) -> tuple[float, float]:
    """Returns median and 99th percentile."""
    found = quantiles(values, n=100)
    return found[49], found[98]
