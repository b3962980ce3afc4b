"""Looking by stick and by turning the pad: speeds, a full turn that is measured, motion's numbers and hand tests."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial
from math import sin

import pytest
from msgspec.structs import replace
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QApplication, QMenu
from Xlib import X
from Xlib.ext import xtest

from nub_shift.editing.edits.bindings import bind
from nub_shift.engine.engine import Engine
from nub_shift.engine.program import Program
from nub_shift.engine.values import Frame, Output, Pointer
from nub_shift.keyboard.layout import us_layout
from nub_shift.model.profile.effects import PointerSpeed, Turn
from nub_shift.model.profile.reactions import Assignment
from nub_shift.protocol.messages import FrameNews, Telemetry
from nub_shift.store.profile_files import write_profile
from nub_shift.ui.commands import Station
from nub_shift.ui.feel.settings.motion_page import HandTest
from nub_shift.ui.feel.station import FeelStation
from tests.ui.conftest import Bench
from tests.ui.hands import QTest
from tests.ui.test_feel import DEMO, drag
from tests.xserver import XWindow, x_process


@pytest.fixture
def station(bench: Bench) -> FeelStation:
    bench.window.show_station(Station.FEEL)
    bench.link._watching = (True, "", 0)
    return bench.window.feel


def stick_speed(bench: Bench) -> PointerSpeed:
    found = bench.document.profile.layers[0].slots["right_stick"].use
    assert isinstance(found, PointerSpeed)
    return found


@dataclass
class MadeUpGame:
    """Its view turns once round by so many counts, which nobody has been told."""

    counts: int
    turned: float = 0.0

    def take(self, outputs: list[Output]) -> None:
        self.turned += sum(output.dx for output in outputs if isinstance(output, Pointer)) * 360 / self.counts


def test_a_full_turn_is_measured_in_a_game_and_speeds_are_in_degrees_then(bench: Bench, station: FeelStation) -> None:
    game = MadeUpGame(7_654)
    station.show_control("right_stick")
    QTest.mouseClick(station.turn.measure, Qt.MouseButton.LeftButton)
    assert [station.needs_telemetry] == [True], "also while the game is in front"
    engine, t_us = Engine(Program(bench.document.profile, us_layout)), bench.now_us
    engine.feed(Frame(t_us, {"right_stick.x": 0.7}))
    while game.turned < 360.0:
        t_us += 4_000
        outputs = engine.advance(t_us)
        game.take(outputs)
        bench.link.telemetry.emit(Telemetry(t_us, {}, [], outputs, ("base",), ()))
    QTest.mouseClick(station.turn.measure, Qt.MouseButton.LeftButton)
    found = bench.document.profile.game.counts_per_turn
    assert found == pytest.approx(game.counts, rel=0.002)
    assert [station.needs_telemetry, station.turn.measuring] == [False, False]
    before = stick_speed(bench)
    assert station.turn.across.value() == pytest.approx(before.x * 360 / found, abs=0.5)
    line = station.turn.across.lineEdit()
    assert line is not None
    line.setFocus()
    line.selectAll()
    QTest.keyClicks(line, "90,4")
    QTest.keyClick(line, Qt.Key.Key_Return)
    assert stick_speed(bench).x == pytest.approx(90.4 * found / 360, abs=1.0)
    assert stick_speed(bench).y == before.y
    QTest.mouseClick(station.turn.alike, Qt.MouseButton.LeftButton)
    assert stick_speed(bench).x == stick_speed(bench).y


def test_a_full_turn_can_be_measured_with_the_mouse_while_a_game_has_grabbed_it(
    bench: Bench, station: FeelStation, monkeypatch: pytest.MonkeyPatch
) -> None:
    with x_process() as (name, _):
        monkeypatch.setenv("DISPLAY", name)
        said: list[str] = []
        station.said.connect(said.append)
        station.show_control("right_stick")
        QTest.mouseClick(station.turn.measure, Qt.MouseButton.LeftButton)
        game = XWindow(name)
        game.window.grab_pointer(True, 0, X.GrabModeAsync, X.GrabModeAsync, X.NONE, X.NONE, X.CurrentTime)

        def mouse(counts: int) -> None:
            for _ in range(abs(counts) // 10):
                xtest.fake_input(game.display, X.MotionNotify, True, X.CurrentTime, X.NONE, counts // abs(counts) * 10)
            game.display.sync()

        mouse(400)  # on the way to the game
        bench.qtbot.wait(50)
        monkeypatch.setattr(type(station.turn), "isActiveWindow", lambda _self: False)
        mouse(-1230)
        bench.qtbot.waitUntil(lambda: "1230 counts" in said[-1], timeout=5_000)
        QTest.mouseClick(station.turn.measure, Qt.MouseButton.LeftButton)
        game.display.close()
    assert bench.document.profile.game.counts_per_turn == 1230


def test_the_feel_of_another_game_is_carried_over_in_degrees(bench: Bench, station: FeelStation) -> None:
    feel = replace(DEMO.feel, right_stick=replace(DEMO.feel.right_stick, power=2.5))
    game = replace(DEMO.game, counts_per_turn=12_000.0)
    write_profile(bench.document.path.parent / "other.toml", replace(DEMO, title="Other", game=game, feel=feel))
    station.show_control("right_stick")
    before = bench.document.profile
    QTest.mouseClick(station.turn.same, Qt.MouseButton.LeftButton)
    menu = QApplication.activePopupWidget()
    assert isinstance(menu, QMenu)
    (entry,) = menu.actions()
    entry.trigger()
    menu.close()
    factor = before.game.counts_per_turn / 12_000.0
    assert stick_speed(bench).x == pytest.approx(1500 * factor, abs=1)
    assert bench.document.profile.feel.right_stick.power == 2.5


def test_motions_numbers_are_dragged_and_tested_with_the_hand(bench: Bench, station: FeelStation) -> None:
    turn = Assignment.of_use(Turn(on=True))
    bench.document.edit("Turn", partial(bind, layer_id="base", slot="motion", assignment=turn))
    station.show_control("motion")
    page = station.motion
    assert page._sentence.text().startswith("Turning the pad turns the view, always")
    before = bench.document.profile.feel.motion
    drag(page.strip.knobs["Counts as still below"], QPoint(0, -15))
    drag(page.curve.knobs["Fast turns"], QPoint(0, -20))
    drag(page.horizon.knobs["Tilt begins"], QPoint(20, 0))
    motion = bench.document.profile.feel.motion
    assert motion.gate_dps > before.gate_dps and motion.fast_ratio is not None and motion.fast_ratio > motion.ratio
    gap = before.tilt.on_degrees - before.tilt.off_degrees
    assert motion.tilt.on_degrees - motion.tilt.off_degrees == gap and motion.tilt.on_degrees > before.tilt.on_degrees

    def play(seconds: float, dps: float) -> None:
        news = []
        for _ in range(round(seconds * 250)):
            bench.now_us += 4_000
            rate = dps + 0.3 * sin(bench.now_us / 3_000)
            news.append(FrameNews(bench.now_us, {"motion.gyro_y": -rate, "motion.accel_y": 1.0}))
        station.take(news)

    play(2.0, 0.0)
    assert "give or take" in page._rest.text()
    play(2.0, 40.0)
    station.turn_outcome_panel._on_time()
    bench.qtbot.waitUntil(lambda: station.turn_outcome_panel.settled)
    came = [row[1].text() for row in station.turn_outcome_panel.rows[:3]]
    drag(page.curve.knobs["Slow turns"], QPoint(0, -20))
    bench.qtbot.waitUntil(lambda: station.turn_outcome_panel.settled)
    would, was = ([row[column].text() for row in station.turn_outcome_panel.rows[:3]] for column in (2, 1))
    assert came[0] != "none yet" and was == came != would
    QTest.mouseClick(page.tests[HandTest.SLOW], Qt.MouseButton.LeftButton)
    play(5.5, 6.0)
    slow = page._says.text()
    assert "of your slow turn came through" in slow and 90 <= int(slow.split("%")[0]) <= 101
    QTest.mouseClick(page.tests[HandTest.SHAKE], Qt.MouseButton.LeftButton)
    play(5.5, 0.0)
    assert "degrees a second" in page._says.text()


def test_a_wish_that_is_taken_moves_none_of_the_others(bench: Bench, station: FeelStation) -> None:
    station.show_control("left_stick")
    bench.qtbot.waitUntil(lambda: station.wishes.buttons["As it was when I started"].y() > 0)  # it is laid out
    places = {text: button.mapTo(station, QPoint()) for text, button in station.wishes.buttons.items()}
    QTest.mouseClick(station.wishes.buttons["Steadier at rest"], Qt.MouseButton.LeftButton)
    bench.qtbot.wait(50)
    assert station.wishes.buttons["As it was when I started"].isEnabled()
    assert {text: button.mapTo(station, QPoint()) for text, button in station.wishes.buttons.items()} == places
