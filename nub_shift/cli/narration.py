"""The demo in words: what the pad did and what the game got, line by line."""

from __future__ import annotations

import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import click

from nub_shift.engine.values import Key, Output, Pointer, Wheel
from nub_shift.model.controls import slot_label
from nub_shift.model.files import read_profile
from nub_shift.model.keys import KEY_BY_CODE
from nub_shift.model.profile import Profile
from nub_shift.runner.client import RunnerClient, RunnerError, runner_command
from nub_shift.runner.messages import Telemetry

PERFORMANCE_S = 60.0
HZ = 20


def narrate(profile: Path, pad: str, seconds: float | None) -> None:
    """Starts a runner in rehearsal and tells what it does, for `seconds` or one whole performance."""
    length = PERFORMANCE_S if seconds is None else seconds
    with tempfile.TemporaryDirectory(prefix="nub-shift-") as folder:
        path = Path(folder) / "runner.sock"
        command = runner_command(profile, pad, "print", path)
        with subprocess.Popen(command, stderr=subprocess.PIPE, text=True) as process:
            assert process.stderr is not None
            line = process.stderr.readline()
            if "ready:" not in line:
                click.echo(line.strip(), err=True)
                return
            try:
                _follow(path, read_profile(profile), length)
            except (KeyboardInterrupt, RunnerError):
                click.echo()
            finally:
                process.send_signal(signal.SIGTERM)


def _follow(path: Path, profile: Profile, length: float) -> None:
    client = RunnerClient(path)
    try:
        client.call("subscribe", {"hz": HZ})
        start = time.monotonic()
        before: frozenset[str] = frozenset()
        layers: tuple[str, ...] = ("base",)
        while (passed := time.monotonic() - start) < length:
            packet = client.telemetry()
            pad = _pad_words(before, packet)
            if packet.layers != layers:
                layers = packet.layers
                pad += f"  [layers: {', '.join(layers)}]"
            game = _game_words(profile, packet.outputs)
            if pad or game:
                click.echo(f"{passed:6.2f} s  {pad:<42} {game}")
                sys.stdout.flush()
            before = frozenset(packet.slots)
    finally:
        client.close()


def _pad_words(before: frozenset[str], packet: Telemetry) -> str:
    words = [slot_label(slot).lower() for slot in packet.slots if slot not in before]
    words += [f"{slot_label(slot).lower()} up" for slot in sorted(before - set(packet.slots))]
    return ", ".join(words)


def _game_words(profile: Profile, outputs: list[Output]) -> str:
    labels = {move.keys: move.label for move in profile.moves}
    words = []
    for output in outputs:
        match output:
            case Key(_, code, down):
                label = KEY_BY_CODE[code].label
                move = labels.get((code,))
                words.append(f"{label} {'down' if down else 'up'}" + (f" ({move})" if move and down else ""))
            case Pointer(_, dx, dy):
                words.append(f"pointer {dx:+d},{dy:+d}")
            case Wheel(_, x, y):
                words.append(f"wheel {x:+d},{y:+d}")
    return ", ".join(words)
