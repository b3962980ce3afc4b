"""The first minutes of somebody who has never seen it: from the first start to a pad that plays."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QWidget
from pytestqt.qtbot import QtBot

from nub_shift.editing.document import Document
from nub_shift.editing.first_steps import Step
from nub_shift.model.profile.profile import SCHEMA_VERSION, Profile
from nub_shift.store.profile_files import read_profile, write_profile
from nub_shift.translation import tr
from nub_shift.ui.link import RunnerLink
from nub_shift.ui.look.theme import DAY, Theme
from nub_shift.ui.runner_start import OwnRunner
from nub_shift.ui.widgets.tab_order import bring_into_view
from nub_shift.ui.window import Window
from tests.ui.hands import QTest

LIMIT_MS = 30_000
MOST_TOUCHES = 40
MOVES = {
    "Jump": (Qt.Key.Key_Space, "south"),
    "Duck": (Qt.Key.Key_C, "east"),
    "Open": (Qt.Key.Key_E, "west"),
    "Reload": (Qt.Key.Key_R, "north"),
    "Chart": (Qt.Key.Key_M, "right_shoulder"),
}


def test_a_newcomer_has_a_pad_play_five_moves_in_forty_touches(qtbot: QtBot, tmp_path: Path) -> None:
    path = tmp_path / "first.toml"
    write_profile(path, Profile(schema=SCHEMA_VERSION, title="First profile"))
    document = Document(path, read_profile(path))
    link = RunnerLink(OwnRunner(path, "evdev:none", "print"))
    window = Window(Theme(DAY), document, link)
    qtbot.addWidget(window)
    window.resize(1280, 800)
    window.begin_first_steps(newcomer=True)
    window.show()
    link.start()
    steps, welcome = window.leading.steps, window.leading.welcome
    assert steps is not None and welcome is not None
    touches = 0

    def until(true: Callable[[], bool]) -> None:
        qtbot.waitUntil(true, timeout=LIMIT_MS)

    def click(widget: QWidget) -> None:
        nonlocal touches
        until(lambda: widget.isVisible() and widget.isEnabled())
        QApplication.processEvents()
        if widget.visibleRegion().isEmpty():
            touches += 1  # the wheel
            bring_into_view(widget)
        touches += 1
        QTest.mouseClick(widget, Qt.MouseButton.LeftButton)

    def type_in(text: str, *keys: Qt.Key) -> None:
        """A word is one touch, as is each key besides."""
        nonlocal touches
        focus = QApplication.focusWidget()
        QTest.keyClicks(focus, text)
        for key in keys:
            QTest.keyClick(QApplication.focusWidget(), key)
        touches += 1 + len(keys)

    until(lambda: window.live.state is not None)
    click(welcome.title)
    type_in("Harbour Night", Qt.Key.Key_Return)
    for name, (key, _) in MOVES.items():
        type_in(name, Qt.Key.Key_Return, key)
    click(steps.steps[Step.PAD])
    until(lambda: "tern" in window.pads.list.plugs)
    click(window.pads.list.plugs["tern"])
    until(lambda: window.live.pad_key == "simulated:tern")
    until(window.pads.banner.play_demo.isVisible)
    click(window.pads.banner.play_demo)
    click(steps.steps[Step.ASSIGN])
    for name, (_, control) in MOVES.items():
        click(window.map.lanes.instruments[control])
        assert window.map.opened is not None
        rows = window.map.moves.list
        item = next(iter(rows.findItems(name, Qt.MatchFlag.MatchStartsWith)))
        viewport = rows.viewport()
        assert viewport is not None
        touches += 1
        QTest.mouseClick(viewport, Qt.MouseButton.LeftButton, pos=rows.visualItemRect(item).center())
    click(steps.steps[Step.TRY])
    until(lambda: steps.seen.tried)  # the demo of the simulated pad presses its buttons
    assert window.bar.switch.words == tr("Rehearsal")
    assert {name: document.profile.layers[0].slots[control].move for name, (_, control) in MOVES.items()} == {
        name: next(move.id for move in document.profile.moves if move.label == name) for name in MOVES
    }
    done = {step for step, button in steps.steps.items() if button.isChecked()}
    assert {Step.PAD, Step.MOVES, Step.ASSIGN, Step.TRY} <= done
    assert touches <= MOST_TOUCHES, touches
    window.close()
