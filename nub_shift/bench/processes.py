"""Start-up, memory and processor time of whole processes."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from nub_shift.bench.figures import Figure
from nub_shift.demo.games import demo_profile_text
from nub_shift.store.atomic import write_text

_TICK_S = 1 / os.sysconf("SC_CLK_TCK")


def process_figures(quick: bool) -> list[Figure]:
    """The runner's start, memory and load, and the window's."""
    with tempfile.TemporaryDirectory(prefix="nub-shift-bench-") as name:
        folder = Path(name)
        profile = folder / "game.toml"
        write_text(profile, demo_profile_text())
        rounds = 2 if quick else 7
        _runner(folder, profile, "simulated:tern", 0.0)  # the first start compiles the modules
        starts = [_runner(folder, profile, "simulated:tern", 0.0) for _ in range(rounds)]
        python = min(_python_start() for _ in range(rounds))
        ready = min(start.ready_s for start in starts)
        playing = _runner(folder, profile, "simulated:tern", 2.0 if quick else 8.0)
        return [
            Figure("bare Python from a cold command", python, "s"),
            Figure("runner ready from a cold command", ready, "s", 0.25),
            Figure("runner's resident memory, playing", playing.resident_mb, "MB", 32.0),
            Figure("runner's load, simulated pad at 250 Hz and pointer", playing.load * 100, "% of a core", 8.0),
            *_window_figures(profile, 3.0 if quick else 8.0),
            *_work_figures(profile, 3 if quick else 15),
        ]


class _Measured:
    """What one process showed."""

    def __init__(self, ready_s: float, resident_mb: float, load: float) -> None:
        self.ready_s = ready_s
        self.resident_mb = resident_mb
        self.load = load


def _runner(folder: Path, profile: Path, pad: str, seconds: float) -> _Measured:
    command = [sys.executable, "-m", "nub_shift", "run", str(profile), "--pad", pad, "--output", "print"]
    start = time.perf_counter()
    with subprocess.Popen(
        [*command, "--socket", str(folder / "s")],
        stdout=subprocess.DEVNULL,
        stderr=subprocess.PIPE,
        text=True,
        env=_environment(),
    ) as process:
        assert process.stderr is not None
        process.stderr.readline()
        ready_s = time.perf_counter() - start
        measured = _watch(process.pid, ready_s, seconds)
        process.send_signal(signal.SIGTERM)
    return measured


def _watch(pid: int, ready_s: float, seconds: float) -> _Measured:
    before = cpu_s(pid)
    time.sleep(seconds)
    load = (cpu_s(pid) - before) / seconds if seconds else 0.0
    return _Measured(ready_s, _resident_mb(pid), load)


def _window_figures(profile: Path, seconds: float) -> list[Figure]:
    """The window's start, memory and load."""
    environment = _window_environment()
    command = [sys.executable, "-m", "nub_shift.bench.first_paint", str(profile)]
    start = time.perf_counter()
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True, env=environment) as process:
        assert process.stdout is not None
        process.stdout.readline()
        painted_s = time.perf_counter() - start
        time.sleep(1.0)
        measured = _watch(process.pid, painted_s, seconds)
        process.send_signal(signal.SIGTERM)
    return [
        Figure("first paint of the window", painted_s, "s", 1.0),
        Figure("window's resident memory", measured.resident_mb, "MB", 160.0),
        Figure("window's load with the tape moving", measured.load * 100, "% of a core", 30.0),
    ]


def _work_figures(profile: Path, rounds: int) -> list[Figure]:
    """How long the window's thread is busy with a profile of 12 layers and 300 effects."""
    command = [sys.executable, "-m", "nub_shift.bench.window_work", str(profile), str(rounds)]
    done = subprocess.run(command, capture_output=True, text=True, env=_window_environment(), check=True)
    limits = {"an edit": 50.0, "opening a button": 50.0, "opening a stick": 100.0}
    return [
        Figure(f"window busy with {what}, 300 effects", taken_ms, "ms", limits[what])
        for what, taken_ms in json.loads(done.stdout).items()
    ]


def _window_environment() -> dict[str, str]:
    """On Qt's offscreen platform, or on the display if there is one."""
    environment = _environment()
    if not environment.get("DISPLAY"):
        environment["QT_QPA_PLATFORM"] = "offscreen"
    return environment


def _environment() -> dict[str, str]:
    """The environment of an ordinary user, whose Python keeps what it has compiled."""
    return {name: value for name, value in os.environ.items() if name != "PYTHONDONTWRITEBYTECODE"}


def _python_start() -> float:
    start = time.perf_counter()
    subprocess.run([sys.executable, "-c", "pass"], check=True)
    return time.perf_counter() - start


def cpu_s(pid: int) -> float:
    """Processor time that a process has used, in seconds."""
    fields = Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()
    return (int(fields[11]) + int(fields[12])) * _TICK_S


def _resident_mb(pid: int) -> float:
    for line in Path(f"/proc/{pid}/status").read_text().splitlines():
        if line.startswith("VmRSS:"):
            return int(line.split()[1]) / 1024
    return 0.0
