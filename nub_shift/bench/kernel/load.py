"""Load of a pad that turns and moves the pointer all the time, against a bare loop with as many wake-ups."""

from __future__ import annotations

import time
from contextlib import AbstractContextManager, suppress
from dataclasses import dataclass
from pathlib import Path

import evdev
from evdev import ecodes

from nub_shift.bench.figures import Figure
from nub_shift.bench.kernel.devices import FULL, PAD_NAME, BenchPad, output_of, running
from nub_shift.compiled import kind
from nub_shift.own_process import PROGRAM, own_command
from nub_shift.store.atomic import write_text

_BARE_PHYS = "bench/bare-mouse"
_SAMPLE_S = 0.004
# Least moves a second for a valid figure; a guest without a counting clock is too slow for any.
LEAST_MOVES = 200
# Pointer speed above a count a millisecond, for an output at every tick.
_PROFILE = """
schema = 4
title = "Bench"
[[layers]]
id = "base"
label = "Base"
[layers.slots]
motion = { turn = {} }
right_stick = { pointer = { x = 3000 } }
"""


def load_figures(folder: Path, quick: bool) -> list[Figure]:
    """Returns the processor time of a runner with motion sensors at 250 Hz and the pointer at 1000 Hz.

    Raises:
        OSError: /dev/uinput is missing or not permitted.
        NotObserved: the event to be measured did not happen.
    """
    seconds = 1.5 if quick else 6.0
    profile = folder / "load.toml"
    write_text(profile, _PROFILE)
    pad = BenchPad(motion=True)
    try:
        pad.turn(0.0)
        bare = own_command("nub_shift.bench.kernel.pass_through", "move", _BARE_PHYS, *pad.paths)
        baseline = _load(running(bare, "ready"), pad, _BARE_PHYS, seconds)
        run = own_command(PROGRAM, "run", str(profile), "--pad", f"evdev:{PAD_NAME}")
        ours = _load(running([*run, "--socket", str(folder / "l")], "ready:"), pad, "nub-shift/mouse", seconds)
    finally:
        pad.close()
    limit = 1.3 if kind() == "compiled" else 2.0
    unseen = baseline.unseen or ours.unseen
    return [
        Figure("bare loop, 250 samples and 1000 moves a second", baseline.share * 100, "% of a core"),
        Figure("runner, motion at 250 Hz and the pointer at 1000 Hz", ours.share * 100, "% of a core"),
        Figure("the same against the bare loop", ours.share / baseline.share, "times", limit, unseen=unseen),
    ]


@dataclass(frozen=True)
class _Load:
    """Part of a core used by a process, and the reason why it does not count, or empty."""

    share: float
    unseen: str


def _load(process: AbstractContextManager[int], pad: BenchPad, phys: str, seconds: float) -> _Load:
    """Turns the pad with a stick held out, while the process moves the mouse with this physical path."""
    with process as pid:
        mouse = output_of(phys)
        pad.write(ecodes.EV_ABS, ecodes.ABS_RX, FULL)
        try:
            _turn(pad, mouse, 1.0)
            start_s, before_s = time.monotonic(), _run_s(pid)
            moves = _turn(pad, mouse, seconds)
            took_s, used_s = time.monotonic() - start_s, _run_s(pid) - before_s
        finally:
            pad.write(ecodes.EV_ABS, ecodes.ABS_RX, 0)
            mouse.close()
    return _Load(used_s / took_s, "" if moves >= LEAST_MOVES * took_s else f"{moves} moves in {took_s:.1f} s")


def _turn(pad: BenchPad, mouse: evdev.InputDevice[str], seconds: float) -> int:
    """Turns the pad slowly; returns the number of mouse moves meanwhile."""
    moves = samples = 0
    start_s = time.monotonic()
    while samples * _SAMPLE_S < seconds:
        time.sleep(max(0.0, start_s + samples * _SAMPLE_S - time.monotonic()))
        pad.turn(10.0)
        samples += 1
        with suppress(BlockingIOError):
            moves += sum(event.type == ecodes.EV_SYN for event in mouse.read())
    return moves


def _run_s(pid: int) -> float:
    """Returns the run time of a process's main thread in seconds, counted by the kernel in nanoseconds."""
    return int(Path(f"/proc/{pid}/schedstat").read_text().split()[0]) / 1e9
