"""Start-up, memory and processor time of whole processes."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import tempfile
import time
from dataclasses import dataclass
from pathlib import Path

from nub_shift.bench.figures import Figure
from nub_shift.demo.games import demo_profile_text
from nub_shift.own_process import PROGRAM, own_command
from nub_shift.protocol.sockets import READY
from nub_shift.store.atomic import write_text

# Least outputs a second of a runner and a window with the demo's pad, for a valid figure.
_LEAST_OUTPUTS = 20
_LEAST_FRAMES = 10
# Prints its processor time after painting an empty window.
_EMPTY_WINDOW = """
import os, time
from PyQt6.QtWidgets import QApplication, QWidget

class Empty(QWidget):
    def paintEvent(self, event):
        print(time.process_time(), flush=True)
        os._exit(0)

application = QApplication([])
window = Empty()
window.resize(1280, 800)
window.show()
application.exec()
"""
_TICK_S = 1 / os.sysconf("SC_CLK_TCK")


def process_figures(quick: bool) -> list[Figure]:
    """Returns start, memory and load of the runner and of the window."""
    with tempfile.TemporaryDirectory(prefix="nub-shift-bench-") as name:
        folder = Path(name)
        profile = folder / "game.toml"
        write_text(profile, demo_profile_text())
        rounds = 2 if quick else 7
        _runner(folder, profile, "simulated:tern", 0.0)  # compiles the modules at the first start
        starts = [_runner(folder, profile, "simulated:tern", 0.0) for _ in range(rounds)]
        python = min(_python_start() for _ in range(rounds))
        ready = min(start.ready_s for start in starts)
        never = next((start.unseen for start in starts if start.unseen), "")
        playing = _runner(folder, profile, "simulated:tern", 2.0 if quick else 8.0)
        load = playing.load * 100
        idle = playing.unseen
        return [
            Figure("bare Python from a cold command", python, "s"),
            Figure("runner ready from a cold command", ready, "s", unseen=never),
            Figure("runner ready against bare Python", ready / python, "times", 6.0, unseen=never),
            Figure("runner's resident memory, playing", playing.resident_mb, "MB", 32.0, unseen=idle),
            Figure("runner's load, simulated pad at 250 Hz and pointer", load, "% of a core", 8.0, unseen=idle),
            *_window_figures(profile, 3.0 if quick else 8.0),
            *_work_figures(profile, 3 if quick else 15),
            *_feel_figures(folder, quick),
        ]


@dataclass(frozen=True)
class _Measured:
    """Measurements of one process.

    Attributes:
        unseen: expected work that was not observed; empty if it was.
    """

    ready_s: float
    resident_mb: float
    load: float
    unseen: str


def _runner(folder: Path, profile: Path, pad: str, seconds: float) -> _Measured:
    """Runs a live runner with outputs into a file, which show its work."""
    command = own_command(PROGRAM, "run", str(profile), "--pad", pad, "--output", "print")
    sent = folder / "outputs"
    start = time.perf_counter()
    with (
        sent.open("wb") as stream,
        subprocess.Popen(
            [*command, "--socket", str(folder / "s")],
            stdout=stream,
            stderr=subprocess.PIPE,
            text=True,
            env=_environment(),
        ) as process,
    ):
        assert process.stderr is not None
        line = process.stderr.readline()
        ready_s = time.perf_counter() - start
        if READY not in line:
            process.kill()
            return _Measured(ready_s, 0.0, 0.0, f"the runner said: {line.strip()}")
        before = _lines(sent)
        load, resident_mb = _watch(process.pid, seconds)
        count = _lines(sent) - before
        process.send_signal(signal.SIGTERM)
    unseen = "" if count >= seconds * _LEAST_OUTPUTS else f"{count} outputs in {seconds:g} s"
    return _Measured(ready_s, resident_mb, load, unseen)


def _lines(path: Path) -> int:
    return path.read_bytes().count(b"\n")


def _watch(pid: int, seconds: float) -> tuple[float, float]:
    """Returns the part of a core that a process uses in the next seconds, and its resident memory in megabytes."""
    before = cpu_s(pid)
    time.sleep(seconds)
    return (cpu_s(pid) - before) / seconds if seconds else 0.0, resident_mb_of(pid)


def _window_figures(profile: Path, seconds: float) -> list[Figure]:
    """Returns start, memory and load of the window, which counts paints and packets."""
    environment = _window_environment()
    command = own_command("nub_shift.bench.first_paint", str(profile))
    start = time.perf_counter()
    with subprocess.Popen(
        command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, env=environment
    ) as process:
        assert process.stdout is not None and process.stdin is not None
        painted_cpu_s = _number(process.stdout.readline())
        painted_s = time.perf_counter() - start
        time.sleep(1.0)
        _told(process)
        load, resident_mb = _watch(process.pid, seconds)
        frames, packets = _told(process)
        _told(process, b"feel\n")
        time.sleep(3.0)  # waits for the station and its movements
        _told(process)
        feel, _ = _watch(process.pid, seconds)
        lens_frames, _ = _told(process)
        _told(process, b"minimise\n")
        time.sleep(5.0)  # lets pending packets pass
        _told(process)
        low, _ = _watch(process.pid, seconds)
        _, low_packets = _told(process)
        process.send_signal(signal.SIGTERM)
    empty = min(_number(_output_of(_EMPTY_WINDOW, environment)) for _ in range(3))
    never = "" if painted_cpu_s and empty else "nothing was painted"
    ratio = painted_cpu_s / empty if empty else 0.0
    still = "" if frames >= seconds * _LEAST_FRAMES else f"{frames} frames of the tape in {seconds:g} s"
    deaf = "" if packets >= seconds * _LEAST_FRAMES else f"{packets} packets from the runner in {seconds:g} s"
    heard = f"{low_packets} packets came though nobody looked" if low_packets else ""
    return [
        Figure("first paint of the window, wall time", painted_s, "s", unseen=never),
        Figure("first paint against an empty window, processor time", ratio, "times", 4.0, unseen=never),
        Figure("window's resident memory", resident_mb, "MB", 110.0, unseen=deaf),
        Figure("window's load with the tape moving", load * 100, "% of a core", 15.0, unseen=deaf or still),
        Figure("Feel: pictures of the lens a second", lens_frames / seconds, "a second", 55.0, True, unseen=deaf),
        Figure("Feel: load with lens, density, trail, curve and tape", feel * 100, "% of a core", 25.0, unseen=deaf),
        Figure("window's load minimised", low * 100, "% of a core", 1.0, unseen=deaf or heard),
    ]


def _told(process: subprocess.Popen[str], line: bytes = b"\n") -> tuple[int, int]:
    """Returns the paints of the tape and the packets since the last request."""
    assert process.stdout is not None and process.stdin is not None
    try:
        os.write(process.stdin.fileno(), line)  # unbuffered: a buffered line would be written again at closing
        frames, packets = process.stdout.readline().split()
        return int(frames), int(packets)
    except (BrokenPipeError, ValueError):
        return 0, 0


def _work_figures(profile: Path, rounds: int) -> list[Figure]:
    """Returns how long edits of a profile with 12 layers and 300 effects keep the window's thread busy."""
    command = own_command("nub_shift.bench.window_work", str(profile), str(rounds))
    done = subprocess.run(command, capture_output=True, text=True, env=_window_environment(), check=False)
    if done.returncode != 0:
        why = done.stderr.strip().rpartition("\n")[2] or "the window ended"
        return [Figure("window busy with an edit, 300 effects", 0.0, "ms", 16.0, unseen=why)]
    limits = {"an edit": 16.0, "opening a button": 50.0, "opening a stick": 50.0}
    figures = []
    for what, (processor_ms, wall_ms) in json.loads(done.stdout).items():
        name = f"window busy with {what}, 300 effects"
        figures += [Figure(f"{name}, processor time", processor_ms, "ms", limits[what])]
        figures += [Figure(f"{name}, wall time", wall_ms, "ms")]
    return figures


def _feel_figures(folder: Path, quick: bool) -> list[Figure]:
    """Returns the delays of a dragged line over a minute of movements, and the growth of memory in an hour."""
    profile = folder / "feel.toml"
    write_text(profile, demo_profile_text())
    rounds, minutes = ("4", "0") if quick else ("20", "60")
    command = own_command("nub_shift.bench.feel_work", str(profile), rounds, minutes)
    done = subprocess.run(command, capture_output=True, text=True, env=_window_environment(), check=False)
    taken = json.loads(done.stdout) if done.returncode == 0 else {"seen": 0.0, "played": 0.0, "grown": 0.0}
    why = "" if done.returncode == 0 else done.stderr.strip().rpartition("\n")[2] or "the window ended"
    drags = [Figure(f"Feel: a drag is {what}", taken[what], "ms", 33.0, unseen=why) for what in ("seen", "played")]
    if quick:
        return drags
    return [*drags, Figure("Feel: memory that an hour in it adds", taken["grown"], "MB", 5.0, unseen=why)]


def _window_environment() -> dict[str, str]:
    """Returns the environment for Qt's offscreen platform, or for the display if there is one."""
    environment = _environment()
    if not environment.get("DISPLAY"):
        environment["QT_QPA_PLATFORM"] = "offscreen"
    return environment


def _environment() -> dict[str, str]:
    """Returns the environment of an ordinary user, in which Python stores compiled modules."""
    return {name: value for name, value in os.environ.items() if name != "PYTHONDONTWRITEBYTECODE"}


def _number(line: str) -> float:
    """Returns the number printed by a process; 0 if there is none."""
    try:
        return float(line)
    except ValueError:
        return 0.0


def _output_of(program: str, environment: dict[str, str]) -> str:
    done = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True, env=environment, check=False)
    return done.stdout


def _python_start() -> float:
    start = time.perf_counter()
    subprocess.run([sys.executable, "-c", "pass"], check=True)
    return time.perf_counter() - start


def cpu_s(pid: int) -> float:
    """Returns the processor time of a process, in seconds."""
    fields = Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()
    return (int(fields[11]) + int(fields[12])) * _TICK_S


def resident_mb_of(pid: int) -> float:
    """Returns the resident memory of a process, in megabytes."""
    for line in Path(f"/proc/{pid}/status").read_text().splitlines():
        if line.startswith("VmRSS:"):
            return int(line.split()[1]) / 1024
    return 0.0
