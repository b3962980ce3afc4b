"""What the window listens for: it says for what, ends by itself, by Escape and by going elsewhere, and asks first."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeySequence
from PyQt6.QtWidgets import QApplication

from nub_shift.editing.waiting import CONTROL_MS, Awaited
from nub_shift.model.profile.effects import HoldLayer
from nub_shift.model.profile.reactions import Reaction
from nub_shift.model.references.assignments import action_of, own_assignment
from nub_shift.store.profile_files import read_profile, write_profile
from nub_shift.ui.commands import Station
from nub_shift.ui.widgets.layer_name import LayerChip
from tests.ui.conftest import Bench
from tests.ui.hands import QTest


def given(bench: Bench, slot: str, layer: str = "base") -> dict[Reaction, object]:
    assignment = own_assignment(bench.document.profile, layer, slot)
    return {one: action.effect or action for one in Reaction if (action := action_of(assignment, one)) is not None}


def test_one_press_of_enter_opens_a_control_and_the_next_one_listens(bench: Bench) -> None:
    instrument = bench.window.map.lanes.instruments["south"]
    instrument.setFocus()
    before = bench.document.profile
    for awaited in (Awaited.NOTHING, Awaited.SLOT_INPUT):
        QTest.keyPress(QApplication.focusWidget(), Qt.Key.Key_Return)
        QTest.keyRelease(QApplication.focusWidget(), Qt.Key.Key_Return)
        assert bench.window.map.waiting.wait.awaited is awaited
    assert bench.document.profile == before


def test_the_prompt_says_what_the_next_key_does_and_that_is_what_it_does(bench: Bench) -> None:
    waiting, words = bench.window.map.waiting, bench.window.map.dock.wait_line.text
    opened = bench.window.map.open_slot("south", listen=True)
    assert "It replaces: Leap" in words.text()
    opened.bar.reactions[Reaction.TAP].click()
    assert words.text() == "Press the key for south (tap), or click a move" and waiting.wait.reaction is Reaction.TAP
    assert opened.bar.does.accessibleName() == "Nothing yet"
    leap = given(bench, "south")[Reaction.PRESS]
    assert opened.edits.cell is not None
    QTest.keyPress(opened.edits.cell, Qt.Key.Key_F7)
    QTest.keyRelease(opened.edits.cell, Qt.Key.Key_F7)
    assert (
        given(bench, "south").keys() == {Reaction.PRESS, Reaction.TAP} and given(bench, "south")[Reaction.PRESS] == leap
    )
    assert "Leap" in opened.about.text() and "F7" in opened.about.text(), "all that the slot does is in the sentence"
    assert opened.bar.reactions[Reaction.PRESS].text().endswith("•") and opened.bar.take_over.isHidden()
    opened.edits.give_besides()
    assert "It is added to: F7" in words.text()
    QTest.keyClick(bench.window, Qt.Key.Key_Escape)
    assert waiting.wait.awaited is Awaited.NOTHING


def test_what_is_on_one_gesture_is_moved_to_another_in_one_touch(bench: Bench) -> None:
    opened = bench.window.map.open_slot("south", listen=False)
    leap = given(bench, "south")[Reaction.PRESS]
    opened.bar.reactions[Reaction.HOLD].click()
    QTest.mouseClick(opened.bar.take_over, Qt.MouseButton.LeftButton)
    assert given(bench, "south") == {Reaction.HOLD: leap}
    bench.document.undo()
    assert given(bench, "south") == {Reaction.PRESS: leap}


def test_a_new_layer_waits_for_its_time_only_and_takes_no_control_without_a_question(bench: Bench) -> None:
    station = bench.window.map
    said: list[str] = []
    station.said.connect(said.append)
    station.await_layer("lamp")
    assert station.waiting.timed
    before = bench.document.profile
    bench.link.touch("south")
    assert bench.document.profile == before and said == ["Press south again to replace: Leap"]
    bench.link.touch("east")
    assert bench.document.profile == before, "another one is asked for as well"
    bench.link.touch()
    bench.link.touch("east")
    assert given(bench, "east") == {Reaction.PRESS: HoldLayer("lamp")}
    station.await_layer("lamp")
    QTest.keyClick(bench.window.bar, Qt.Key.Key_Escape)
    assert station.waiting.wait.awaited is Awaited.NOTHING, "wherever the focus is"
    station.await_layer("lamp")
    bench.now_us += 1000 * (CONTROL_MS + 1)
    station.waiting.check_time()
    assert station.waiting.wait.awaited is Awaited.NOTHING


def test_listening_ends_with_the_station_and_with_the_profile(bench: Bench, tmp_path: Path) -> None:
    station = bench.window.map
    station.open_slot("south", listen=True)
    bench.window.show_station(Station.PLAY)
    assert station.waiting.wait.awaited is Awaited.NOTHING
    bench.window.show_station(Station.MAP)
    station.open_slot("home", listen=True)
    other = tmp_path / "other.toml"
    write_profile(other, bench.document.profile)
    bench.document.open(other, read_profile(other))
    assert station.opened is None and station.waiting.wait.awaited is Awaited.NOTHING
    before = bench.document.profile
    station.moves.picked.emit(before.moves[0].id)
    assert bench.document.profile == before, "choosing a move assigns nothing"


def test_keys_rename_and_go_back_as_the_guide_says(bench: Bench) -> None:
    chip = next(chip for chip in bench.window.findChildren(LayerChip) if chip.layer_id == "lamp")
    chip.setFocus()
    QTest.keyClick(chip, Qt.Key.Key_F2)
    tools = bench.window.layers
    assert tools.menu is not None and tools.name is not None and bench.window.map.layer_id == "lamp"
    assert tools.name.selectedText() == "Lamp"
    tools.menu.close()
    bench.window.map.moves.list.setFocus()
    areas = []
    for keys in ("F6", "Shift+F6"):
        QTest.keySequence(bench.window, QKeySequence(keys))
        areas.append([area.isAncestorOf(QApplication.focusWidget()) for area in bench.window.map.areas].index(True))
    assert areas == [1, 0]
