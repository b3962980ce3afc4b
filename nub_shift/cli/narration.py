"""The demo as text: lines with the movements of the pad and the outputs to the game."""

from __future__ import annotations

import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from typing import assert_never

import click

from nub_shift.engine.values import Key, Output, Place, PlaceBack, Pointer, ProfileRequest, Wheel
from nub_shift.keyboard.layout import Layout
from nub_shift.keyboard.session import SessionLayout
from nub_shift.model.controls import slot_label
from nub_shift.model.profile.profile import Profile
from nub_shift.own_process import PROGRAM, start_own
from nub_shift.protocol.calls import Subscribe
from nub_shift.protocol.client import RunnerClient, RunnerError, runner_words
from nub_shift.protocol.messages import Telemetry
from nub_shift.protocol.sockets import READY
from nub_shift.store.profile_files import read_profile
from nub_shift.translation import inside, tr

PERFORMANCE_S = 60.0
HZ = 20


def narrate(profile: Path, pad: str, seconds: float | None) -> None:
    """Starts a runner in rehearsal and prints its telemetry, for `seconds` or one whole demo."""
    length = PERFORMANCE_S if seconds is None else seconds
    with tempfile.TemporaryDirectory(prefix="nub-shift-") as folder:
        path = Path(folder) / "runner.sock"
        words = runner_words(profile, pad, "print", path)
        with start_own(PROGRAM, *words, stderr=subprocess.PIPE) as process:
            assert process.stderr is not None
            line = process.stderr.readline().decode()
            if READY not in line:
                click.echo(line.strip(), err=True)
                return
            try:
                layout = SessionLayout()
                _follow(path, read_profile(profile, layout), layout(), length)
            except (KeyboardInterrupt, RunnerError):
                click.echo()
            finally:
                process.send_signal(signal.SIGTERM)


def _follow(path: Path, profile: Profile, layout: Layout, length: float) -> None:
    client = RunnerClient(path)
    try:
        client.call(Subscribe(HZ))
        start = time.monotonic()
        teller = _Teller(profile, layout)
        while (passed := time.monotonic() - start) < length:
            line = teller.line(client.telemetry(), passed)
            if line:
                click.echo(line)
                sys.stdout.flush()
    finally:
        client.close()


class _Teller:
    """Formats telemetry as lines. Pointer motion is summed and printed twice a second at most."""

    def __init__(self, profile: Profile, layout: Layout) -> None:
        self._layout = layout
        self._labels = {move.keys: move.label for move in profile.moves}
        self._slots: frozenset[str] = frozenset()
        self._layers: tuple[str, ...] = ("base",)
        self._counts = (0, 0)
        self._told_s = 0.0

    def line(self, packet: Telemetry, passed_s: float) -> str:
        """Returns the line for a packet, empty if there is nothing to print yet."""
        pad = [inside(slot_label(slot)) for slot in packet.slots if slot not in self._slots]
        pad += [tr("{slot} let go", slot=inside(slot_label(slot))) for slot in sorted(self._slots - set(packet.slots))]
        self._slots = frozenset(packet.slots)
        if packet.layers != self._layers:
            self._layers = packet.layers
            pad.append(tr("layers now: {layers}", layers=", ".join(packet.layers)))
        game = [words for output in packet.outputs if (words := self._words(output))]
        if self._counts != (0, 0) and (game or pad or passed_s - self._told_s > 0.5):
            game.append(tr("pointer {x:+d}, {y:+d}", x=self._counts[0], y=self._counts[1]))
            self._counts = (0, 0)
        if not pad and not game:
            return ""
        self._told_s = passed_s
        return f"{passed_s:6.2f} s  {'; '.join(pad):<44} {'; '.join(game)}".rstrip()

    def _words(self, output: Output) -> str:
        match output:
            case Key(_, code, down):
                label = self._layout.label(code)
                move = self._labels.get((code,)) if down else None
                words = tr("{key} down", key=label) if down else tr("{key} up", key=label)
                return f"{words} ({move})" if move else words
            case Wheel(_, x, y):
                return tr("wheel {x:+d}, {y:+d}", x=x, y=y)
            case Pointer(_, dx, dy):
                self._counts = (self._counts[0] + dx, self._counts[1] + dy)
                return ""
            case Place(_, x, y):
                return tr("pointer to {x:.0f} %, {y:.0f} %", x=x * 100, y=y * 100)
            case PlaceBack():
                return tr("pointer back")
            case ProfileRequest():
                return ""
            case _:
                assert_never(output)
