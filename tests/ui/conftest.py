"""A window on the demo profile with a runner that a test plays by hand."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from msgspec.structs import replace
from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from nub_shift.demo.games import demo_profile_text
from nub_shift.editing.document import Document
from nub_shift.engine.values import Output
from nub_shift.pads.made_up.shapes import TERN
from nub_shift.protocol.clock import monotonic_us
from nub_shift.protocol.codec import PROTOCOL
from nub_shift.protocol.messages import ChannelChange, PadState, SeatState, State, Telemetry
from nub_shift.store.atomic import write_text
from nub_shift.store.profile_files import parse_profile
from nub_shift.ui.link import RunnerLink
from nub_shift.ui.look.theme import DAY, Theme
from nub_shift.ui.runner_start import OwnRunner
from nub_shift.ui.window import Window
from tests.engine.playing import START_US


class HandLink(RunnerLink):
    """A link without a runner: notes what it is asked, and tells what a test wants told."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(OwnRunner(Path("none.toml"), "simulated", "print"), parent=parent)
        self.loaded: list[str] = []
        self.wanted = self.in_front = False
        self.pad_key = ""
        self.x11_only = False
        self.is_automatic = False
        self.pressed: tuple[str, ...] = ()
        self.layers: tuple[str, ...] = ("base",)
        self.toggles: tuple[str, ...] = ()

    def start(self) -> None:
        self.tell_state()

    def load(self, toml: str) -> None:
        self.loaded.append(toml)

    def go(self, live: bool) -> None:
        self.wanted = live
        self.tell_state()

    def hold_back(self, in_front: bool) -> None:
        self.in_front = in_front
        self.tell_state()

    @property
    def live(self) -> bool:
        """Whether outputs go to the system."""
        return self.wanted and not self.in_front

    def end(self) -> None:
        """There is nothing to end."""

    def tell_state(self) -> None:
        """The runner's state, as it would tell it."""
        pad = PadState(TERN.name, TERN.controls, key=self.pad_key)
        seat = SeatState("Game", pad, self.layers, self.pressed)
        state = State(
            PROTOCOL, "0", self.live, "print", (seat,), (), x11_only=self.x11_only, wanted=self.wanted, follows=True
        )
        self.state_changed.emit(state)

    def touch(self, *slots: str, outputs: list[Output] | None = None) -> None:
        """The person touches the controls of these slots, and lets go of all others."""
        now_us = monotonic_us()
        touches = [ChannelChange(now_us, slot, True) for slot in slots if "." not in slot]
        self.pressed = slots
        values = {"left_stick.y": -1.0 if "left_stick.up" in slots else 0.0}
        played = Telemetry(now_us, values, touches, outputs or [], self.layers, slots, self.is_automatic)
        self.telemetry.emit(replace(played, toggles=self.toggles))


class Bench:
    """The window, what is behind it, and the ways in which a person acts on it."""

    def __init__(self, qtbot: QtBot, path: Path, theme: Theme) -> None:
        self.now_us = START_US
        write_text(path, demo_profile_text())
        self.qtbot = qtbot
        self.document = Document(path, parse_profile(demo_profile_text()))
        self.link = HandLink()
        self.window = Window(theme, self.document, self.link, lambda: self.now_us)
        self.window.resize(1280, 800)
        qtbot.addWidget(self.window)
        self.window.show()
        self.window.activateWindow()
        qtbot.waitActive(self.window)
        qtbot.waitUntil(self.window.isActiveWindow)
        self.link.start()

    def assigned(self, slot: str, layer: str = "base") -> object:
        """What a slot has in a layer."""
        found = self.document.profile.layer(layer)
        assert found is not None
        return found.slots.get(slot)


@pytest.fixture
def bench(qtbot: QtBot, tmp_path: Path) -> Iterator[Bench]:
    theme = Theme(DAY)
    yield Bench(qtbot, tmp_path / "game.toml", theme)


@pytest.fixture
def make_bench(qtbot: QtBot, tmp_path: Path) -> Callable[[Theme], Bench]:
    return lambda theme: Bench(qtbot, tmp_path / "game.toml", theme)


@pytest.fixture
def application(qapp: QApplication) -> Iterator[QApplication]:
    """The application, which has its own look back after the test."""
    palette, sheet, font = qapp.palette(), qapp.styleSheet(), qapp.font()
    yield qapp
    qapp.setPalette(palette)
    qapp.setStyleSheet(sheet)
    qapp.setFont(font)
