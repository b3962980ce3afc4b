"""Nothing that a person aims at moves because of what they did."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator
from contextlib import contextmanager, suppress
from datetime import date
from functools import partial

import pytest
from PyQt6.QtCore import QPoint, QRect, Qt
from PyQt6.QtWidgets import QAbstractButton, QAbstractItemView, QAbstractSpinBox, QApplication, QLineEdit, QWidget

from nub_shift.editing.edits import layers as layer_edits
from nub_shift.editing.waiting import WaitEvent
from nub_shift.editing.words.effects import Menu, choices
from nub_shift.model.messages import Code, Message
from nub_shift.model.pad.measures import Measured, StickRest
from nub_shift.model.pad.trim import PadTrim
from nub_shift.model.profile.actions import Action, Manner
from nub_shift.model.profile.activation import Front
from nub_shift.model.profile.effects import Effect
from nub_shift.model.profile.reactions import Reaction
from nub_shift.pads.made_up.shapes import TERN
from nub_shift.protocol.messages import ConnectedPads, Introducing, PadsNews
from nub_shift.runner.pads.pad_registry import PadRegistry
from nub_shift.ui.commands import Station
from nub_shift.ui.map.editor.cell import Cell
from nub_shift.ui.map.editor.control_editor import ControlEditor
from nub_shift.ui.map.editor.slot_grid import SlotGrid
from nub_shift.ui.map.instrument import Instrument
from nub_shift.ui.pads.pad_list import PadRow
from tests.ui.conftest import Bench
from tests.ui.hands import QTest

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
        thing: object = widget
        if isinstance(widget, Cell):  # it stands for one slot after another, and a layer more is a column more
            grid = widget.parent()
            thing = (widget.layer_id, widget.slot, tuple(grid.layers) if isinstance(grid, SlotGrid) else ())
        found[thing] = QRect(corner, widget.size())
        model = widget.model() if isinstance(widget, QAbstractItemView) else None
        if isinstance(widget, QAbstractItemView) and model is not None:
            for row in range(model.rowCount()):
                index = model.index(row, 0)
                found[widget, index.data()] = widget.visualRect(index).translated(corner)
    return found


@contextmanager
def still(bench: Bench, what: str, only: Collection[object] | None = None) -> Iterator[None]:
    """Whatever was there before and is there after is in the same place; of some things `only`, where it says so."""
    before = places(bench)
    yield
    after = places(bench)
    moved = {
        (getattr(thing, "accessibleName", lambda thing=thing: thing)(), before[thing].getRect(), after[thing].getRect())
        for thing in before.keys() & after.keys()
        if (only is None or thing in only) and before[thing].topLeft() != after[thing].topLeft()
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
            bench.window.map.waiting.handle_event(WaitEvent.CANCELLED)
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
        ("a rarer manner", partial(opened.edits.set_manner, Manner.TOGGLE_TURBO, 10.0)),
        *((text, partial(opened.edits.give, Action.of(effect))) for text, effect in effects(bench)),
        ("nothing", click(opened.bar.silence)),
        ("clear", click(opened.bar.empty)),
        ("look around", lambda: bench.window.map.lanes.move_given.emit("left_stick", "look")),
        ("to check", click(bench.window.map.clashes.head)),
        ("checked", click(bench.window.map.clashes.head)),
        ("a layer", lambda: bench.document.edit("More", partial(layer_edits.add, layer_id="more", label="More"))),
        ("another layer", lambda: bench.window.map.show_layer("lamp")),
        ("undo", bench.document.undo),
        ("redo", bench.document.redo),
        ("elsewhere", lambda: bench.document.path.write_text(bench.document.text.replace("Saltglass", "Sand"))),
        ("looked", bench.document.check_file),
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


def pressed_at(window: QWidget, point: QPoint) -> QWidget | None:
    """What a click there would press."""
    found = window.childAt(point)
    while found is not None and not isinstance(found, _AIMED_AT):
        found = found.parentWidget()
    return found


def settle(bench: Bench) -> None:
    """Waits until nothing is laid out any more."""
    before = None
    while (now := places(bench)) != before:
        before = now
        bench.qtbot.wait(40)


def plugged(bench: Bench, course: Introducing | None = None) -> None:
    """Two pads are there, the first one played; one of them may be in its set-up."""
    registry = PadRegistry()
    for pad in ("teasel", "plank"):
        registry.plug(pad)
    infos = [entry.info((0,) if at == 0 else (), has_twin=False) for at, entry in enumerate(registry.entries())]
    connected = ConnectedPads(tuple(infos), {"tern": "Tern two-stick pad"}, course)
    bench.link.pads.emit(PadsNews(bench.now_us, {}, connected=connected))


@pytest.mark.parametrize("station", list(Station))
def test_no_click_in_any_station_moves_anything(bench: Bench, station: Station) -> None:
    """Also nothing else is under the pointer afterwards. What is opened to look at brings its own things."""
    window = bench.window
    window.show_station(station)
    plugged(bench)
    window.play.rules.windows.listed.emit([Front(11, ("Tidefold",), "Tidefold", ("tidefold",), "/games/tidefold")])
    subjects: tuple[type[QWidget], ...] = (PadRow, Instrument)
    chosen = set(window.feel.choice.buttons.values())
    heads = {window.feel.back, window.feel.start, window.feel.numbers, *window.feel.both.choices}
    settle(bench)

    def stays(clicked: QAbstractButton) -> None:
        point = clicked.mapTo(window, clicked.rect().center())
        if pressed_at(window, point) is not clicked:
            return  # it is scrolled away
        chooses = isinstance(clicked, subjects) or clicked in chosen
        with still(bench, clicked.text() or clicked.accessibleName(), heads if chooses else None):
            QTest.mouseClick(clicked, Qt.MouseButton.LeftButton)
            settle(bench)
            while (menu := QApplication.activePopupWidget()) is not None:
                menu.close()
            assert pressed_at(window, point) in (clicked, None), f"what is under the pointer after {clicked.text()}"

    for _again in range(2):
        found = [button for area in window._pages.areas(station) for button in area.findChildren(QAbstractButton)]
        for button in found:
            with suppress(RuntimeError):  # it has gone with what it belonged to
                if button.isVisible() and button.isEnabled() and not button.text().endswith("…"):
                    stays(button)


def test_setting_up_and_measuring_move_nothing(bench: Bench) -> None:
    station = bench.window.pads
    bench.window.show_station(Station.PADS)
    plugged(bench)
    key = station.chosen
    plugged(bench, Introducing(key, "south", None, {}, ""))
    settle(bench)
    long = Message(Code.TOUCH_AS_ASKED, {"control": "right_shoulder"})
    for requested, note in (("left_stick", long), ("", None), ("right_trigger", long)):
        with still(bench, f"{requested or 'nothing'} is asked for"):
            plugged(bench, Introducing(key, requested, note, {"south": "understood"}, ""))
    plugged(bench)
    settle(bench)
    with still(bench, "measuring"):
        QTest.mouseClick(station.strip.rest, Qt.MouseButton.LeftButton)
    assert station.measuring.task is not None
    rest = StickRest(x=0.05, y=0.03, noise=0.01, spread=0.02, drift=0.0, dead_zone=0.09, seconds=3.0)
    measured = Measured(date(2026, 12, 1), rest={"left_stick": rest})
    with still(bench, "measured"):
        QTest.mouseClick(station.strip.cancel, Qt.MouseButton.LeftButton)
        station.strip.show_measured(TERN.controls, [measured], PadTrim())
    assert station.strip.offers
