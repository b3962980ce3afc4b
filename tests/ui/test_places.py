"""Nothing that a person aims at moves because of what they did."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import partial

import pytest
from PyQt6.QtCore import QPoint, QRect, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractButton, QAbstractItemView, QAbstractSpinBox, QApplication, QLineEdit, QWidget

from nub_shift.editing.edits import layers as layer_edits
from nub_shift.editing.waiting import Heard
from nub_shift.editing.words.effects import Menu, choices
from nub_shift.model.actions import Action, Manner
from nub_shift.model.effects import Effect
from nub_shift.model.reactions import Reaction
from nub_shift.ui.map.editor.control_editor import ControlEditor
from tests.ui.conftest import Bench

_AIMED_AT = (QAbstractButton, QLineEdit, QAbstractSpinBox, QAbstractItemView)


def places(bench: Bench) -> dict[object, QRect]:
    """Where all that can be clicked is in the window, rows of lists included."""
    bench.window.map.clashes.look()  # it looks a moment after an edit, which may be after the next one here
    QApplication.processEvents()
    window = bench.window
    found: dict[object, QRect] = {}
    for widget in window.findChildren(QWidget):
        if not widget.isVisibleTo(window) or not isinstance(widget, _AIMED_AT):
            continue
        corner = widget.mapTo(window, QPoint(0, 0))
        found[widget] = QRect(corner, widget.size())
        model = widget.model() if isinstance(widget, QAbstractItemView) else None
        if isinstance(widget, QAbstractItemView) and model is not None:
            for row in range(model.rowCount()):
                index = model.index(row, 0)
                found[widget, index.data()] = widget.visualRect(index).translated(corner)
    return found


@contextmanager
def still(bench: Bench, what: str) -> Iterator[None]:
    """Whatever was there before and is there after is in the same place."""
    before = places(bench)
    yield
    after = places(bench)
    moved = {
        (getattr(thing, "accessibleName", lambda thing=thing: thing)(), before[thing].getRect(), after[thing].getRect())
        for thing in before.keys() & after.keys()
        if before[thing].topLeft() != after[thing].topLeft()
    }
    assert not moved, what


@pytest.fixture
def opened(bench: Bench) -> ControlEditor:
    return bench.window.map.open_slot("right_trigger.deep", listen=False)


def test_opening_and_closing_and_listening_moves_nothing(bench: Bench) -> None:
    for slot in ("south", "left_stick.up", "motion.tilt_left", "right_trigger.light", "dpad.up"):
        with still(bench, f"{slot} opened"):
            bench.window.map.open_slot(slot, listen=False)
        with still(bench, f"{slot} listens"):
            bench.window.map.open_slot(slot, listen=True)
        with still(bench, f"{slot} is given up"):
            bench.window.map.waiting.heard(Heard.CANCELLED)
    with still(bench, "closed"):
        bench.window.map.dock.close_control()
    with still(bench, "said"):
        bench.window.say("Something that is long enough not to fit beside the names of the stations, as some texts are")


def effects(bench: Bench) -> list[tuple[str, Effect]]:
    found = [
        choice
        for menu in Menu
        if menu is not Menu.WHOLE
        for choice in choices(menu, bench.document.profile, "right_trigger.deep", ["Another"])
    ]
    return [(text, effect) for text, effect in found if isinstance(effect, Effect)]


def test_no_edit_moves_anything(bench: Bench, opened: ControlEditor) -> None:
    def click(button: QWidget) -> Callable[[], None]:
        return partial(QTest.mouseClick, button, Qt.MouseButton.LeftButton)

    does: list[tuple[str, Callable[[], object]]] = [
        ("a key", lambda: opened.edits.give(Action(keys=("KEY_LEFTCTRL", "KEY_LEFTSHIFT", "KEY_F12")))),
        *((manner.value, click(button)) for manner, button in opened.bar.manners.items()),
        *((reaction.value, click(button)) for reaction, button in opened.bar.reactions.items()),
        ("a hold besides", lambda: opened.edits.give(Action(move="leap"))),
        ("a rarer reaction", partial(opened.bar._on_reaction, Reaction.DOUBLE_TAP)),
        ("a double tap", lambda: opened.edits.give(Action(keys=("KEY_B",), manner=Manner.TOGGLE))),
        ("a rarer manner", partial(opened.bar.manner_picked.emit, Manner.TOGGLE_TURBO, 10.0)),
        *((text, partial(opened.edits.give, Action.of(effect))) for text, effect in effects(bench)),
        ("nothing", click(opened.bar.silence)),
        ("clear", click(opened.bar.empty)),
        ("look around", lambda: bench.window.map.lanes.move_given.emit("left_stick", "look")),
        ("to check", click(bench.window.map.clashes.head)),
        ("checked", click(bench.window.map.clashes.head)),
        ("a layer", lambda: bench.document.edit("More", partial(layer_edits.added, layer_id="more", label="More"))),
        ("another layer", lambda: bench.window.map.show_layer("lamp")),
        ("undo", bench.document.undo),
        ("redo", bench.document.redo),
        ("elsewhere", lambda: bench.document.path.write_text(bench.document.text.replace("Saltglass", "Sand"))),
        ("looked", bench.document.look),
    ]
    for what, do in does:
        with still(bench, what):
            do()


def test_lanes_have_the_room_until_a_control_is_opened(bench: Bench) -> None:
    window, station = bench.window, bench.window.map
    window.resize(1024, 640)
    bench.qtbot.waitUntil(lambda: station.dock.height() < 120)
    assert "Read the tide" in station.dock.overview.text() and "home" in station.dock.overview.text()
    top = station.lanes.instruments["left_trigger"].mapTo(window, QPoint())
    station.open_slot("left_trigger.light", listen=False)
    bench.qtbot.waitUntil(lambda: station.dock.height() > 120)
    assert station.lanes.instruments["left_trigger"].mapTo(window, QPoint()) == top and station.dock.overview.isHidden()
    station.dock.close_control()
    bench.qtbot.waitUntil(lambda: station.dock.height() < 120)


def test_the_sentence_stays_in_sight_beside_many_slots(bench: Bench) -> None:
    opened = bench.window.map.open_slot("left_stick.up", listen=False)
    bench.qtbot.waitUntil(lambda: bench.window.map.dock.height() > 200)
    bench.qtbot.wait(100)
    dock = bench.window.map.dock
    for widget in (opened.about, opened.bar.reactions[Reaction.PRESS], opened.bar.empty):
        place = QRect(widget.mapTo(dock, QPoint()), widget.size())
        assert dock.rect().contains(place), widget
