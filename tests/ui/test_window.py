"""The window as a person works it: touches on the pad, keys, clicks."""

from __future__ import annotations

import os
import re
from collections.abc import Callable, Iterator
from functools import partial

import pytest
from PyQt6.QtCore import QEvent, QPoint, Qt
from PyQt6.QtGui import QKeyEvent, QKeySequence
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractSpinBox,
    QApplication,
    QComboBox,
    QFileDialog,
    QLabel,
    QLineEdit,
    QListWidget,
    QMenu,
    QScrollArea,
    QScrollBar,
    QWidget,
)

from nub_shift.demo.games import demo_profile_text
from nub_shift.editing.edits import bindings as edits
from nub_shift.engine.values import Key, Pointer
from nub_shift.keyboard.xkb import Names, compile_layout
from nub_shift.model.messages import Code, Message
from nub_shift.model.pad.card import PadCard
from nub_shift.model.profile.effects import PointerSpeed, Turn
from nub_shift.model.profile.reactions import Assignment
from nub_shift.pads.made_up.shapes import TERN
from nub_shift.protocol.calls import AssignPad, Call
from nub_shift.protocol.codec import PROTOCOL
from nub_shift.protocol.messages import PadState, SeatState, SparePad, State
from nub_shift.store.card_files import find_cards
from nub_shift.store.profile_files import format_profile, parse_profile, read_profile
from nub_shift.ui import settings
from nub_shift.ui.commands import Command, Station
from nub_shift.ui.frame.station_bar import StationBar
from nub_shift.ui.look.theme import BASE_POINTS, DAY, NIGHT, Theme
from nub_shift.ui.map.editor.cell import Cell
from nub_shift.ui.map.editor.control_editor import ControlEditor
from nub_shift.ui.map.instrument import Instrument
from nub_shift.ui.map.move_rows import MoveRows
from nub_shift.ui.widgets.layer_name import LayerChip
from tests.ui.conftest import Bench
from tests.ui.hands import QTest, choose, popped


def opened(bench: Bench) -> ControlEditor:
    found = bench.window.map.opened
    assert found is not None
    return found


def listening(bench: Bench) -> Cell:
    cells = [cell for cell in opened(bench).grid.cells.values() if cell.listening]
    assert len(cells) == 1
    return cells[0]


def pick_move(bench: Bench, label: str) -> None:
    """Clicks a move in the list."""
    moves = bench.window.map.moves.list
    (item,) = moves.findItems(label, Qt.MatchFlag.MatchExactly)
    moves.scrollToItem(item)
    viewport = moves.viewport()
    assert viewport is not None
    QTest.mouseClick(viewport, Qt.MouseButton.LeftButton, pos=moves.visualItemRect(item).center())


def pick_from_menu(bench: Bench, button: QWidget, text: str) -> None:
    """Clicks an entry of a menu of the opened control."""
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)
    popup = QApplication.activePopupWidget()
    assert isinstance(popup, QMenu)
    (entry,) = (action for action in popup.actions() if action.text() == text)
    QTest.mouseClick(popup, Qt.MouseButton.LeftButton, pos=popup.actionGeometry(entry).center())


def type_keys(widget: QWidget, *keys: Qt.Key) -> None:
    """Presses keys together and lets them go."""
    for key in keys:
        QTest.keyPress(widget, key)
    for key in reversed(keys):
        QTest.keyRelease(widget, key)


def test_two_touches_make_a_binding_that_is_kept_and_plays_at_once(bench: Bench) -> None:
    bench.link.touch("home")
    type_keys(listening(bench), Qt.Key.Key_F)
    assert bench.assigned("home") == Assignment(keys=("KEY_F",))
    assert read_profile(bench.document.path) == bench.document.profile
    assert parse_profile(bench.link.loaded[-1]) == bench.document.profile


def test_a_key_that_a_move_expects_binds_the_move(bench: Bench) -> None:
    bench.link.touch("home")
    type_keys(listening(bench), Qt.Key.Key_T)
    assert bench.assigned("home") == Assignment(move="tide")
    assert bench.window.map.moves.heading.text() == "24 moves, all assigned"


def test_touch_and_move_bind_too(bench: Bench) -> None:
    bench.link.touch("home")
    pick_move(bench, "Read the tide")
    assert bench.assigned("home") == Assignment(move="tide")


def test_a_move_goes_to_an_empty_slot_by_two_clicks_and_replaces_nothing(bench: Bench) -> None:
    instruments, line = bench.window.map.lanes.instruments, bench.window._message
    QTest.mouseClick(instruments["home"], Qt.MouseButton.LeftButton)
    pick_move(bench, "Read the tide")
    assert bench.assigned("home") == Assignment(move="tide")
    before = bench.document.profile
    QTest.mouseClick(instruments["south"], Qt.MouseButton.LeftButton)
    pick_move(bench, "Read the tide")
    assert bench.document.profile is before
    # The line above is too narrow for what is said then; all of it stands over the tape.
    tape = bench.window.tape.mapTo(bench.window, QPoint(0, 0)).y()
    assert line.whole.isVisible() and line.whole.text.startswith("To have a control do Read the tide:")
    assert tape <= line.whole.geometry().top() and line.whole.geometry().bottom() < tape + 60, "over nothing to click"
    bench.window.say("Short")
    assert not line.whole.isVisible()


def test_three_keys_held_together_are_one_touch(bench: Bench) -> None:
    bench.link.touch("home")
    type_keys(listening(bench), Qt.Key.Key_Control, Qt.Key.Key_Shift, Qt.Key.Key_K)
    assert bench.assigned("home") == Assignment(keys=("KEY_LEFTCTRL", "KEY_LEFTSHIFT", "KEY_K"))


@pytest.mark.parametrize(
    "key", [Qt.Key.Key_Tab, Qt.Key.Key_Escape, Qt.Key.Key_Space, Qt.Key.Key_Left, Qt.Key.Key_Return]
)
def test_a_listening_cell_takes_keys_that_otherwise_move_about(bench: Bench, key: Qt.Key) -> None:
    bench.link.touch("home")
    cell = listening(bench)
    QApplication.sendEvent(cell, _key(QEvent.Type.KeyPress, key))
    QApplication.sendEvent(cell, _key(QEvent.Type.KeyRelease, key))
    assert isinstance(bench.assigned("home"), Assignment)
    assert not cell.listening


def test_a_stick_becomes_movement_or_looking_in_two_touches(bench: Bench) -> None:
    bench.link.touch("right_stick.up")
    QTest.mouseClick(opened(bench).whole.movement, Qt.MouseButton.LeftButton)
    assert bench.assigned("right_stick.left") == Assignment(move="left")
    assert bench.assigned("right_stick") is None
    bench.link.touch()
    bench.link.touch("left_stick.right")
    QTest.mouseClick(opened(bench).whole.look, Qt.MouseButton.LeftButton)
    assert bench.assigned("left_stick") == Assignment(pointer=PointerSpeed())
    assert bench.assigned("left_stick.up") is None


def test_what_a_slot_cannot_do_is_refused_and_said(bench: Bench) -> None:
    control = bench.window.map.open_slot("left_stick", listen=True)
    assert not control.grid.cells["base", "left_stick"].listening
    pick_move(bench, "Leap")
    assert bench.assigned("left_stick") is None
    assert "a whole stick takes no press" in bench.document.fault
    pick_move(bench, "Look around")
    assert bench.assigned("left_stick") == Assignment(pointer=PointerSpeed())
    assert bench.document.fault == ""


def test_turning_the_pad_is_given_the_view(bench: Bench) -> None:
    bench.window.map.open_slot("motion", listen=True)
    pick_move(bench, "Look around")
    assert bench.assigned("motion") == Assignment(turn=Turn())
    assert "Turn the view" in bench.window.map.lanes.instruments["motion"].accessibleName()


def test_a_touch_while_a_layer_is_on_is_meant_for_that_layer(bench: Bench) -> None:
    bench.link.layers = ("base", "lamp")
    bench.link.touch("left_shoulder")
    assert bench.window.map.opened is None  # it only brought the layer on
    bench.link.touch("left_shoulder", "south")
    type_keys(listening(bench), Qt.Key.Key_F5)
    assert bench.assigned("south", "lamp") == Assignment(keys=("KEY_F5",))
    assert bench.assigned("south") == Assignment(move="leap")


def test_touches_do_nothing_while_live_or_when_told_not_to_follow(bench: Bench) -> None:
    bench.window.tools.follow.click()
    bench.link.touch("south")
    assert bench.window.map.opened is None
    bench.window.tools.follow.click()
    bench.link.hold_back(False)  # another window is in front
    bench.link.go(True)
    bench.link.touch()
    bench.link.touch("east")
    assert bench.window.map.opened is None


def test_undo_and_redo_go_through_every_edit_and_give_the_same_bytes(bench: Bench) -> None:
    versions = [format_profile(bench.document.profile)]
    for slot, key in (("home", Qt.Key.Key_F), ("south", Qt.Key.Key_G), ("east", Qt.Key.Key_H)):
        bench.link.touch()
        bench.link.touch(slot)
        type_keys(listening(bench), key)
        versions.append(format_profile(bench.document.profile))
    for version in reversed(versions[:-1]):
        QTest.keyClick(bench.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        assert bench.document.path.read_text() == version
    for version in versions[1:]:
        QTest.keySequence(bench.window, QKeySequence("Ctrl+Shift+Z"))
        assert bench.document.path.read_text() == version


def test_the_windows_own_shortcut_is_never_bound(bench: Bench) -> None:
    bench.link.touch("home")
    cell = listening(bench)
    QTest.keyPress(cell, Qt.Key.Key_Control)
    QTest.keyClick(cell, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    QTest.keyRelease(cell, Qt.Key.Key_Control)
    assert bench.document.profile == parse_profile(demo_profile_text())
    assert cell.listening


def test_a_key_can_be_named_and_a_wrong_name_is_told(bench: Bench) -> None:
    bench.link.touch("home")
    by_name = opened(bench).written.entry
    QTest.keyClicks(by_name, "ctrl + f13")
    QTest.keyClick(by_name, Qt.Key.Key_Return)
    assert bench.assigned("home") == Assignment(keys=("KEY_LEFTCTRL", "KEY_F13"))
    by_name.setText("anykey")
    QTest.keyClick(by_name, Qt.Key.Key_Return)
    assert "There is no key 'anykey'" in by_name.toolTip()


def test_a_slot_is_silenced_emptied_and_made_to_hold_a_layer(bench: Bench) -> None:
    bench.window.map.show_layer("lamp")
    bench.window.map.open_slot("east", listen=True)
    buttons = {button.text(): button for button in opened(bench).findChildren(QAbstractButton) if button.text()}
    QTest.mouseClick(buttons["Do nothing"], Qt.MouseButton.LeftButton)
    assert bench.assigned("east", "lamp") == Assignment(silence=True)
    pick_from_menu(bench, opened(bench).bar.layer, "Lamp while held")
    assert bench.assigned("east", "lamp") == Assignment(layer="lamp")
    cell = opened(bench).grid.cells["lamp", "east"]
    cell.setFocus()
    QTest.keyClick(cell, Qt.Key.Key_Delete)
    assert bench.assigned("east", "lamp") is None
    assert "from the base layer" in cell.accessibleName()


def test_everything_can_be_done_from_the_keyboard(bench: Bench) -> None:
    instruments = bench.window.map.lanes.instruments
    instruments["left_stick"].setFocus()
    for key in (Qt.Key.Key_Right, Qt.Key.Key_Right, Qt.Key.Key_Down, Qt.Key.Key_Down, Qt.Key.Key_Down):
        focused = QApplication.focusWidget()
        assert focused is not None
        QTest.keyClick(focused, key)
    instrument = instruments["north"]
    assert instrument.hasFocus()
    QTest.keyClick(instrument, Qt.Key.Key_Return)
    cell = opened(bench).grid.cells["base", "north"]
    type_keys(cell, Qt.Key.Key_F7)  # to look at a control replaces nothing
    type_keys(cell, Qt.Key.Key_Return)
    type_keys(cell, Qt.Key.Key_F8)
    assert bench.assigned("north") == Assignment(keys=("KEY_F8",))
    type_keys(cell, Qt.Key.Key_Return)
    assert cell.listening
    type_keys(cell, Qt.Key.Key_F9)
    assert bench.assigned("north") == Assignment(keys=("KEY_F9",))
    QTest.keyClick(cell, Qt.Key.Key_Escape)
    assert bench.window.map.opened is None
    QTest.keyClick(bench.window, Qt.Key.Key_4, Qt.KeyboardModifier.ControlModifier)
    assert bench.window.try_field.isVisible()


def test_everything_that_takes_the_focus_has_a_name(bench: Bench) -> None:
    bench.window.map.open_slot("left_stick.up", listen=False)
    kinds = (QAbstractButton, QLineEdit, QListWidget)
    found = [widget for kind in kinds for widget in bench.window.findChildren(kind) if widget.focusPolicy()]
    assert len(found) > 40
    for station in Station:
        bench.window.show_station(station)
    found += [bar for bar in bench.window.findChildren(QScrollBar) if bar.window() is bench.window]
    assert [widget for widget in found if not widget.accessibleName()] == []


def test_live_flows_only_while_the_window_is_not_in_front(bench: Bench, monkeypatch: pytest.MonkeyPatch) -> None:
    def activate(window: QWidget | None) -> None:
        monkeypatch.setattr(QApplication, "activeWindow", lambda: window)
        QApplication.sendEvent(bench.window, QEvent(QEvent.Type.ActivationChange))

    QTest.keyClick(bench.window, Qt.Key.Key_L, Qt.KeyboardModifier.ControlModifier)
    assert not bench.link.live
    assert bench.window.bar.switch.words == "Live behind this window"
    activate(None)  # no window of ours, as when a game has the keyboard
    bench.qtbot.waitUntil(lambda: bench.link.live)
    assert bench.window.bar.switch.words == "Live"
    bench.link.x11_only = True
    bench.link.tell_state()
    assert bench.window.bar.switch.words == "Live, X11 programs only" and "doctor" in bench.window.bar.switch.toolTip()
    activate(bench.window)
    assert not bench.link.live


def test_nothing_goes_out_while_any_window_or_dialog_of_ours_is_in_front(bench: Bench) -> None:
    bench.link.go(True)
    bench.window.help.show_guide()
    bench.qtbot.waitUntil(bench.window.help.guide.isActiveWindow)
    assert not bench.link.live, "the guide has the keyboard"
    bench.window.help.guide.hide()
    bench.window.show_station(Station.LIBRARY)
    bench.window.activateWindow()
    bench.window.library.buttons["export"].click()
    (dialog,) = bench.window.library.findChildren(QFileDialog)
    bench.qtbot.waitUntil(dialog.isVisible)
    assert not bench.link.live, "a press would be typed into the file's name"
    dialog.hide()  # as the desktop's own dialog is no window of ours
    dialog.setAttribute(Qt.WidgetAttribute.WA_DontShowOnScreen)
    dialog.open()
    assert not bench.link.live
    dialog.reject()
    bench.window.hide()
    bench.qtbot.waitUntil(lambda: bench.link.live)


def test_a_write_that_fails_is_told_and_nothing_is_lost(bench: Bench, monkeypatch: pytest.MonkeyPatch) -> None:
    def full(_handle: int) -> None:
        raise OSError(28, "No space left on device")

    before = bench.document.path.read_bytes()
    monkeypatch.setattr(os, "fsync", full)
    bench.link.touch("home")
    type_keys(listening(bench), Qt.Key.Key_F)
    assert bench.document.fault == "game.toml cannot be written: no space left on device"
    assert bench.document.path.read_bytes() == before
    monkeypatch.undo()
    bench.document.undo()
    bench.document.redo()
    assert bench.document.fault == ""
    assert read_profile(bench.document.path) == bench.document.profile


def test_the_practice_field_reacts(bench: Bench) -> None:
    field = bench.window.try_field
    bench.link.touch(outputs=[Key(1, "KEY_W", True), Pointer(2, 40, -30), Key(3, "BTN_LEFT", True)])
    assert (field.typed.text, field.typed.down) == ("w", ["KEY_W", "BTN_LEFT"])
    assert field.trail.points[-1][0] > 0 > field.trail.points[-1][1]
    assert len(field.trail.clicks) == 1
    bench.qtbot.waitUntil(lambda: field.walker.y < -0.01)
    field.clear()
    assert field.typed.text == "" and len(field.trail.points) == 1


@pytest.mark.parametrize(("look", "points"), [(DAY, 8.0), (NIGHT, 10.0), (DAY, 20.0)])
def test_both_looks_paint_at_any_font_size(
    make_bench: Callable[[Theme], Bench], qapp: QApplication, look: object, points: float
) -> None:
    theme = Theme(NIGHT if look is NIGHT else DAY, points)
    before = qapp.palette(), qapp.font()
    theme.apply(qapp)
    try:
        _paint_all(make_bench(theme), theme)
    finally:
        qapp.setStyleSheet("")
        qapp.setPalette(before[0])
        qapp.setFont(before[1])


def _paint_all(bench: Bench, theme: Theme) -> None:
    bench.window.resize(1280, 800)
    assert (bench.window.width(), bench.window.height()) == (1280, 800)
    bench.window.map.open_slot("left_stick.up", listen=True)
    bench.link.touch("south", outputs=[Key(1, "KEY_SPACE", True), Pointer(2, 4, 4)])
    for station in Station:
        bench.window.show_station(station)
        image = bench.window.grab().toImage()
        colours = {
            image.pixelColor(x, y).name() for x in range(0, image.width(), 7) for y in range(0, image.height(), 7)
        }
        assert {theme.look.sheet, theme.look.raised} <= colours
        assert len(colours) > 12


def _key(kind: QEvent.Type, key: Qt.Key) -> QEvent:
    return QKeyEvent(kind, key.value, Qt.KeyboardModifier.NoModifier)


def test_a_cell_that_loses_the_focus_stops_listening(bench: Bench) -> None:
    bench.link.touch("south")
    cell = listening(bench)
    bench.window.map.moves.list.setFocus()
    assert not cell.listening
    type_keys(bench.window.map.moves.list, Qt.Key.Key_J)
    assert bench.assigned("south") == parse_profile(demo_profile_text()).layers[0].slots["south"]


def test_undo_takes_back_what_was_done_last_in_the_station_where_one_is_and_names_it(bench: Bench) -> None:
    card = PadCard(schema=1, identity="0003-1234-5678", name="Mine")
    before = bench.document.text
    bench.document.edit("South", partial(edits.bind, layer_id="base", slot="south", assignment=None))
    bench.window.pads.book.edit("Card", card)
    undo = bench.window.actions_of[Command.UNDO]
    assert undo.toolTip().startswith("Undo: South (")
    bench.window.show_station(Station.PADS)
    assert undo.toolTip().startswith("Undo: Card (")
    QTest.keyClick(bench.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert find_cards([card.identity]) == [] and bench.document.text != before
    bench.window.pads.book.edit("Card", card)
    bench.window.show_station(Station.MAP)
    QTest.keyClick(bench.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert bench.document.text == before and find_cards([card.identity]) == [card]
    bench.window._message.over.timeout.emit()
    assert bench.window._message.currentMessage() == ""  # what was said does not stay for ever


def test_what_one_menu_changes_does_not_undo_what_it_changed_before(bench: Bench) -> None:
    bench.window.map.show_layer("lamp")
    tools = bench.window.layers
    tools.open_tools()
    assert tools.pace is not None and tools.menu is not None
    tools.pace.setValue(40)
    tools.pace.editingFinished.emit()
    (hues,) = (entry.menu() for entry in tools.menu.actions() if entry.text() == "Colour")
    assert hues is not None
    next(entry for entry in hues.actions() if entry.text() == "Olive").trigger()
    lamp = bench.document.profile.layer("lamp")
    assert lamp is not None and (lamp.pace, lamp.hue) == (0.4, 3)


def test_keys_are_named_by_the_layout_that_the_person_changes_to(bench: Bench) -> None:
    bench.link.touch("home")
    type_keys(listening(bench), Qt.Key.Key_Y)
    cell = opened(bench).grid.cells["base", "home"]
    assert cell.accessibleName().endswith(": Y")
    bench.document.layout = lambda: compile_layout(Names(layout="de"))
    bench.window.update_layout()
    assert cell.accessibleName().endswith(": Z")


def test_what_nobody_sees_is_not_asked_for(bench: Bench, monkeypatch: pytest.MonkeyPatch) -> None:
    requested: list[bool] = []
    monkeypatch.setattr(bench.link, "set_seen", requested.append)
    bench.window.showMinimized()
    bench.qtbot.waitUntil(lambda: requested == [False])
    bench.window.showNormal()
    bench.qtbot.waitUntil(lambda: requested == [False, True])


def test_what_a_pad_lacks_is_unassigned_and_all_players_pads_stand_in_the_head(
    bench: Bench, monkeypatch: pytest.MonkeyPatch
) -> None:
    def notify(*pads: PadState) -> None:
        seats = tuple(SeatState("Game", pad, ("base",), ()) for pad in pads)
        bench.link.state_changed.emit(State(PROTOCOL, "0", False, "print", seats, ()))

    heading = bench.window.map.moves.heading
    assert heading.text() == "24 moves, 1 unassigned"
    few = tuple(control for control in TERN.controls if control not in ("south", "dpad"))
    notify(PadState("Half", few, key="a"), PadState("Other", TERN.controls, key="b"))
    assert heading.text() == "24 moves, 7 unassigned"
    head = bench.window.bar._pad.accessibleName()
    assert head.startswith("Pads of 2 players: Half + Other")
    notify(PadState("", few), PadState("Other", TERN.controls))
    assert bench.window.bar._pad.accessibleName().startswith("Pads of 2 players: Other")
    assert bench.window.map.lanes.instruments["east"].accessibleDescription() == "Unplugged"
    notify(PadState("", few))
    bar = bench.window.bar
    assert bar._pad.accessibleName().startswith("Pad: Unplugged")
    place = bar._pad.mapTo(bench.window, QPoint())
    notify(PadState("", few, Message(Code.NOT_CONNECTED, {"pad": "Half"}), spare=SparePad("c", "Third")))
    requested: list[Call] = []
    monkeypatch.setattr(bench.link, "call", requested.append)
    assert bar.spare.mapTo(bench.window, QPoint()) == place
    assert "Half is not connected. Third is here" in bench.window._message._said
    QTest.mouseClick(bar.spare, Qt.MouseButton.LeftButton)
    assert requested == [AssignPad("c")]
    notify(PadState("Third", few, key="c"))
    assert bar._pad.isVisible()


def test_the_tab_key_stops_once_in_each_group_and_f6_goes_from_area_to_area(bench: Bench) -> None:
    station = bench.window.map
    station.open_slot("left_stick.up", listen=False)

    def stops() -> list[QWidget]:
        first = found = QApplication.focusWidget()
        seen: list[QWidget] = []
        while found is not None and found not in seen:
            seen.append(found)
            QTest.keyClick(found, Qt.Key.Key_Tab)
            found = QApplication.focusWidget()
        assert found is first
        return seen

    found = stops()
    assert len(found) <= 30
    for kind in (Cell, Instrument, LayerChip, StationBar):
        assert len([stop for stop in found if isinstance(stop, kind)]) == 1, kind
    cells = opened(bench).grid.cells
    cells["base", "left_stick.up"].setFocus()
    QTest.keyClick(cells["base", "left_stick.up"], Qt.Key.Key_Right)
    assert QApplication.focusWidget() is cells["lamp", "left_stick.up"]
    areas = []
    for _ in range(4):
        bench.window.actions_of[Command.NEXT_AREA].trigger()
        areas.append(type(QApplication.focusWidget()))
    assert areas == [StationBar, LayerChip, MoveRows, Instrument]


def test_the_tape_is_held_still_to_be_read(bench: Bench) -> None:
    tape = bench.window.tape
    bench.link.touch("south")
    QTest.mouseClick(tape, Qt.MouseButton.LeftButton)
    assert tape.accessibleDescription() == "Paused"
    still = tape.grab().toImage()
    bench.link.touch("east")
    bench.qtbot.wait(60)
    assert tape.grab().toImage() == still
    bench.window.actions_of[Command.PAUSE].trigger()
    assert tape.accessibleDescription() == "" and tape.grab().toImage() != still


@pytest.mark.parametrize(
    ("size", "scale"),
    [((1280, 800), 2.0), ((1024, 700), 2.0), ((1024, 700), 1.0), ((1280, 760), 0.8), ((2560, 1440), 1.0)],
)
def test_nothing_scrolls_sideways(make_bench: Callable[[Theme], Bench], size: tuple[int, int], scale: float) -> None:
    bench = make_bench(Theme(DAY, BASE_POINTS * scale))
    window = bench.window
    window.resize(*size)

    def spilling() -> list[QScrollArea]:
        found = []
        for area in window.findChildren(QScrollArea):
            inner = area.widget()
            if inner is None or not area.isVisibleTo(window):
                continue
            if not inner.minimumSizeHint().width() <= inner.width() <= area.width():
                found.append(area)
        return found

    for station in Station:
        window.show_station(station)
        window.map.open_slot("left_stick.up", listen=False)
        assert (window.width(), window.height()) == size, "it fits the screen"
        bench.qtbot.wait(100)
        bench.qtbot.waitUntil(lambda: not spilling(), timeout=3_000)  # a busy machine lays out late


@pytest.mark.parametrize("size", [(1280, 800), (1024, 700)])
def test_large_text_leaves_room_for_three_rows_of_lanes_and_the_tape(
    make_bench: Callable[[Theme], Bench], size: tuple[int, int]
) -> None:
    theme = Theme(DAY, BASE_POINTS * 2)
    bench = make_bench(theme)
    window = bench.window
    window.resize(*size)
    scrolled = window.map._scroll
    bench.qtbot.waitUntil(lambda: scrolled.height() >= 3 * window.map.lanes.instruments["south"].height())
    assert window.tape.isVisible() and window.tape.height() >= theme.px(40)
    assert not window.layers.isVisible(), "its tools are in the menu"
    menu = popped(window.help.more)
    assert [entry.text() for entry in menu.actions()][:4] == ["Side by side", "New layer", "Layer …", "Follow presses"]
    choose(menu, "New layer")
    bench.qtbot.waitUntil(lambda: window.map.dock.height() >= theme.px(20))
    assert window.map.dock.wait_line.isVisible(), "what is waited for is said"


def test_whatever_is_aimed_at_is_at_least_24_pixels_large(
    application: QApplication, make_bench: Callable[[Theme], Bench]
) -> None:
    theme = Theme(DAY)
    theme.apply(application)
    window = make_bench(theme).window
    window.map.open_slot("left_stick.up", listen=False)
    window.feel.show_control("right_stick")
    window.feel.numbers.setChecked(True)
    small = []
    for station in Station:
        window.show_station(station)
        for _ in range(2):  # a station that is created now is laid out in a second turn
            QApplication.processEvents()
        for kind in (QAbstractButton, QLineEdit, QAbstractSpinBox, QComboBox):
            inner = (widget for widget in window.findChildren(kind) if widget.isVisible())
            small += [
                (station, widget.accessibleName(), widget.width(), widget.height())
                for widget in inner
                if min(widget.width(), widget.height()) < 24
                and not isinstance(widget.parent(), QAbstractSpinBox | QComboBox | QLineEdit)
            ]
    assert small == []


def test_what_comes_on_in_play_and_what_is_waited_for_is_announced_and_not_shown(bench: Bench) -> None:
    settings.has_been_live.keep(True)
    line = bench.window._message
    announced: list[str] = []
    line.messageChanged.connect(announced.append)

    def turn() -> None:
        QApplication.processEvents()

    bench.link.layers, bench.link.toggles = ("base", "lamp"), ("right_shoulder",)
    bench.link.touch("left_shoulder")
    turn()
    assert announced == ["Layer Lamp on. Right shoulder: toggle on"] and line._said == ""
    bench.link.layers, bench.link.toggles = ("base",), ()
    bench.link.touch()
    turn()
    assert announced[1:] == ["Layer Lamp off. Right shoulder: toggle off"]
    bench.link.hold_back(False)  # another window is in front
    bench.link.go(True)
    turn()
    assert announced[2:] == ["Live"]
    bench.link.go(False)
    turn()
    bench.window.map.open_slot("north", listen=True)
    turn()
    assert announced[4:] == ["Press the key for north, or click a move. It replaces: Cast rope"]
    bench.link.is_automatic, bench.link.layers = True, ("base", "lamp")
    bench.link.touch("left_shoulder")
    assert len(announced) == 5, "a demo never ends"


# What stands in files and code: ids, kernel names, and numbers with the wrong form of a word.
RAW = re.compile(
    r"\b[a-z]+_[a-z_]+\b|\b\w+\.(?:up|light|click)\b|\bNone\b|KEY_|BTN_|\b1 (?:slots|moves|keys|layers|presses)\b"
)


def given_fields(widget: QWidget) -> Iterator[str]:
    """Everything that a widget shows or has read aloud."""
    yield from (widget.accessibleName(), widget.accessibleDescription(), widget.toolTip())
    match widget:
        case QLabel() | QAbstractButton():
            yield widget.text()
        case QLineEdit():
            yield widget.placeholderText()
        case QComboBox():
            yield from (widget.itemText(row) for row in range(widget.count()))
        case QListWidget():
            items = [item for row in range(widget.count()) if (item := widget.item(row)) is not None]
            yield from (text for item in items for text in (item.text(), item.toolTip()))


def test_nothing_that_belongs_into_files_is_shown_or_read_aloud(bench: Bench) -> None:
    window = bench.window
    found: set[str] = set()
    count = 0

    def look() -> None:
        nonlocal count
        texts = [text for widget in window.findChildren(QWidget) for text in given_fields(widget) if text]
        count += len(texts)
        found.update(text for text in texts if RAW.search(text))

    for station in Station:
        window.show_station(station)
        look()
    for slot in ("left_stick.up", "south", "right_trigger.light", "motion"):
        window.map.open_slot(slot, listen=False)
        look()
    window.feel.numbers.setChecked(True)
    for control in ("right_stick", "left_trigger", "motion"):
        window.feel.show_control(control)
        look()
    assert not found
    assert count > 2000


def test_that_no_pad_is_there_is_said_once_and_hides_nothing_else(bench: Bench) -> None:
    no_pad = PadState("", (), Message(Code.NO_PAD_YET))
    state = State(PROTOCOL, "0", False, "print", (SeatState("Game", no_pad, ("base",), ()),), ())
    bench.link.state_changed.emit(state)
    said = bench.window._message._said
    assert said
    bench.window.say("Saved")
    for _ in range(3):
        bench.link.state_changed.emit(state)
    assert bench.window._message._said == "Saved"
    bench.link.tell_state()
    bench.link.state_changed.emit(state)
    assert bench.window._message._said == said, "it is news again once a pad was there"
