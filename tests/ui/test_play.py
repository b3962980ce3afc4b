"""Station Play: with which windows the profile comes on, by pointing at them; touches are those of a person."""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest
from msgspec.structs import replace
from PyQt6.QtCore import Qt
from pytestqt.qtbot import QtBot

from nub_shift.demo.games import demo_profile_text
from nub_shift.model.profile.activation import Away, Front, Leaving, Rule
from nub_shift.model.profile.signs import Place, SignKind, Signs
from nub_shift.protocol.messages import PadState, SeatState, State
from nub_shift.store.atomic import write_text
from nub_shift.store.library import library_folder
from nub_shift.store.played import Recap, keep_played, read_played
from nub_shift.ui.commands import Station
from nub_shift.ui.play.activation import RulesPanel
from nub_shift.ui.play.players import guess_words, player_words
from nub_shift.ui.play.session_windows import SessionWindows
from tests.ui.conftest import Bench
from tests.ui.hands import QTest
from tests.xserver import window_manager

LIMIT_MS = 20_000
GAME = Path(__file__).parents[1] / "game_window.py"
TIDE = Front(11, ("Tidefold", "tidefold"), "Tidefold - Old harbour", ("tidefold",), "/games/tidefold")
LOADED = Front(12, ("Loader",), "Dustwake", ("loader",), "/usr/bin/loader", ("-x", r"C:\games\dustwake.exe"))
OTHER = Front(13, ("Loader",), "Other", ("loader",), "/usr/bin/loader", (r"C:\games\other.exe",))


def said(bench: Bench) -> tuple[Rule, ...]:
    """What the profile says now."""
    return bench.document.profile.comes_on.rules


@pytest.fixture
def rules(bench: Bench) -> RulesPanel:
    write_text(library_folder() / "tidefold.toml", demo_profile_text("tidefold"))
    bench.window.show_station(Station.PLAY)
    panel = bench.window.play.rules
    panel.windows.listed.emit([TIDE, LOADED, OTHER])
    return panel


def test_a_rule_is_made_by_pointing_at_a_window_and_taken_back(bench: Bench, rules: RulesPanel) -> None:
    assert not rules.add.isEnabled() and not rules.leaving[Leaving.PAUSE].isEnabled()
    rules.list.setFocus()
    QTest.keyClick(rules.list, Qt.Key.Key_Down)
    assert [field for field, button in rules.parts.items() if button.isChecked()] == ["window"]
    QTest.keyClick(rules.add, Qt.Key.Key_Return)
    assert said(bench) == (Rule(window="Tidefold"),)
    assert rules._head.text() == "Saltglass Keeper comes on by itself"
    assert not rules.add.isEnabled(), "it is there"
    QTest.keyClick(rules.parts["title"], Qt.Key.Key_Space)
    assert rules.add.isEnabled()
    (remove,) = rules.removers
    assert remove.accessibleName() == "Remove: window Tidefold"
    remove.click()
    assert said(bench) == ()
    bench.document.undo()
    assert said(bench) == (Rule(window="Tidefold"),)


def test_a_game_that_a_loader_starts_is_known_by_what_that_was_given(rules: RulesPanel, bench: Bench) -> None:
    rules.list.setCurrentRow(1)
    assert [field for field, button in rules.parts.items() if button.isChecked()] == ["argument"]
    assert rules._count.text() == "Matches only this window"
    rules.parts["argument"].click()
    assert rules._count.text() == "Choose what has to match" and not rules.add.isEnabled()
    rules.parts["window"].click()
    assert rules._count.text() == "Matches this window and 1 other"
    rules.parts["window"].click()
    rules.parts["argument"].click()
    rules.add.click()
    assert said(bench) == (Rule(argument="*dustwake.exe"),)


def test_what_happens_in_other_windows_is_one_choice(rules: RulesPanel, bench: Bench) -> None:
    rules.list.setCurrentRow(0)
    rules.add.click()
    bench.qtbot.wait(100)
    place = rules.leaving[Leaving.STAY].pos()
    rules.leaving[Leaving.STAY].click()
    assert bench.document.profile.comes_on.when_left is Leaving.STAY
    rules.leaving[Leaving.OTHER].click()
    comes_on = bench.document.profile.comes_on
    assert (comes_on.when_left, comes_on.other) == (Leaving.OTHER, "Tidefold") and rules.other.isVisible()
    rules.leaving[Leaving.BACK].click()
    assert bench.document.profile.comes_on == replace(comes_on, when_left=Leaving.BACK, other="")
    bench.qtbot.wait(100)
    assert rules.leaving[Leaving.STAY].pos() == place, "nothing has moved"


def test_what_play_says_is_what_the_runner_does(rules: RulesPanel, bench: Bench) -> None:
    rules.list.setCurrentRow(0)
    rules.add.click()
    requested: list[Front] = []
    rules.tried.connect(requested.append)
    rules.test.click()
    assert requested == [TIDE]
    state = State(1, "", False, "print", (), (), follows=False)
    rules.follow(state)
    assert rules._head.text() == "Saltglass Keeper cannot come on by itself here" and rules._hint.text()
    assert not rules.test.isEnabled()
    rules.follow(replace(state, follows=True))
    assert rules._head.text() == "Saltglass Keeper comes on by itself" and rules.test.isEnabled()


def test_each_player_is_told_with_the_reason() -> None:
    seat = SeatState("Tidefold", PadState("Tern", ()), ("base",), ())
    assert player_words(1, seat) == ("Player 1: Tern", "Tidefold", "Chosen by hand")
    assert player_words(2, replace(seat, rule=Rule(window="tide")))[2] == "Came on by itself: window tide"
    assert player_words(1, replace(seat, paused=True))[1:] == ("Tidefold, paused", "The game is not in front")
    known = State(1, "", False, "print", (seat,), ())
    assert guess_words(known) == ""
    guessed = replace(known, seats=(seat, replace(seat, pad=PadState("Plank", ("south",), is_guessed=True))))
    assert guess_words(guessed) == "Plank is not set up, so its button names are a guess. Set it up in Pads."
    assert player_words(1, seat, away=Away.LOCKED)[1:] == ("Tidefold, paused", "The screen is locked")


@pytest.fixture
def shown_game(x_server: str, monkeypatch: pytest.MonkeyPatch) -> Iterator[int]:
    """A made-up game in a real window, with a window manager."""
    monkeypatch.setenv("DISPLAY", x_server)
    environment = {**os.environ, "DISPLAY": x_server}
    with (
        window_manager(x_server),
        subprocess.Popen(
            [sys.executable, str(GAME), "tidegame", "Tide"],
            env=environment,
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
        ) as process,
    ):
        assert process.stdin is not None and process.stdout is not None
        yield int(process.stdout.readline())
        process.stdin.close()
        process.wait(20)


def test_real_windows_are_listed_and_the_next_in_front_is_noted(qtbot: QtBot, shown_game: int) -> None:
    windows = SessionWindows()
    listed: list[list[Front]] = []
    came: list[Front] = []
    windows.listed.connect(listed.append)
    windows.came.connect(came.append)

    def is_listed() -> None:
        windows.list()
        assert listed and [front.title for front in listed[-1]] == ["Tide"], listed[-3:]

    qtbot.waitUntil(is_listed, timeout=LIMIT_MS)
    assert listed[-1][0].names == ("Tidegame", "tidegame")
    assert "game_window.py" in listed[-1][0].arguments[0]
    subprocess.run(["xdotool", "windowminimize", str(shown_game)], check=True, timeout=20)
    assert windows.await_next()

    def comes() -> bool:
        """Asked again: a window manager that is still busy with hiding it may let that go."""
        subprocess.run(["xdotool", "windowactivate", str(shown_game)], check=True, timeout=20)
        qtbot.wait(200)
        return bool(came)

    qtbot.waitUntil(comes, timeout=LIMIT_MS)
    assert came[0].window == shown_game


def test_what_is_shown_on_the_screen_is_chosen_in_play_and_seen_at_once(bench: Bench) -> None:
    bench.window.show_station(Station.PLAY)
    station = bench.window.play
    QTest.mouseClick(station.parts[1], Qt.MouseButton.LeftButton)
    panel = station.signs
    assert panel.isVisible()
    before = panel.preview.grab().toImage()
    QTest.mouseClick(panel.kinds[SignKind.TOGGLE], Qt.MouseButton.LeftButton)
    (layer,) = panel.layers
    QTest.mouseClick(panel.layers[layer], Qt.MouseButton.LeftButton)
    panel.place.setFocus()
    QTest.keyClick(panel.place, Qt.Key.Key_Home)
    panel.place.activated.emit(panel.place.currentIndex())
    panel.size_of.setFocus()
    QTest.keyClick(panel.size_of, Qt.Key.Key_Up)
    said = bench.document.profile
    assert said.signs == Signs(silent=(SignKind.TOGGLE,), place=Place.TOP_LEFT, size=1.1)
    assert said.layers[1].silent
    assert panel.preview.grab().toImage() != before
    bench.document.undo()
    assert panel.size_of.value() == 100.0
    QTest.mouseClick(panel.shown, Qt.MouseButton.LeftButton)
    assert not bench.document.profile.signs.shown
    assert not panel.kinds[SignKind.LAYER].isEnabled()


def test_the_last_sessions_are_told_and_can_be_deleted_and_left_uncounted(bench: Bench) -> None:
    move = bench.document.profile.moves[0]
    keep_played(bench.document.path, Recap(0.0, 3600.0, 3600.0, {move.id: 7}, losses=2))
    bench.window.show_station(Station.PLAY)
    station = bench.window.play
    QTest.mouseClick(station.parts[2], Qt.MouseButton.LeftButton)
    panel = station.recap
    assert panel.isVisible() and panel.list.count() == 1
    assert f"{move.label} 7" in panel.bars.accessibleName()
    assert "The pad was lost 2 times" in panel.lines.text()
    QTest.mouseClick(panel.counted, Qt.MouseButton.LeftButton)
    assert not bench.document.profile.game.recap
    QTest.mouseClick(panel.forget, Qt.MouseButton.LeftButton)
    assert panel.list.count() == 0 and read_played(bench.document.path) == []


def test_the_switch_says_that_what_is_live_is_paused(bench: Bench) -> None:
    bench.window.set_live_requested(True)
    seat = SeatState("Game", PadState("Tern", ()), ("base",), (), paused=True)
    state = State(1, "", True, "print", (seat,), (), wanted=True)
    for shown, words in (
        (state, "Live, paused"),
        (replace(state, seats=(replace(seat, paused=False),)), "Live"),
        (replace(state, seats=(replace(seat, paused=False),), away=Away.LOCKED), "Live, paused"),
    ):
        bench.window._runner.show(shown, "")
        assert bench.window.bar.switch.words == words
