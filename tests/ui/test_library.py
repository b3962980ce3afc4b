"""The library: what is kept, made, copied, binned, and read before it is taken in."""

from __future__ import annotations

import subprocess
import sys
import tempfile
from functools import partial
from itertools import permutations
from pathlib import Path
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from msgspec.structs import replace
from PyQt6.QtCore import QMimeData, QPointF, QRectF, Qt, QUrl
from PyQt6.QtGui import QDropEvent
from PyQt6.QtWidgets import QFileDialog, QTextBrowser
from pytestqt.qtbot import QtBot

from nub_shift.demo.games import demo_profile_text
from nub_shift.editing.compare.differences import GAME_SETTINGS, LAYER_SETTINGS, differences
from nub_shift.editing.compare.transfer import copy_layer_setting
from nub_shift.editing.document import Document, Edit
from nub_shift.editing.edits import bindings as edits
from nub_shift.editing.edits import slots as slot_edits
from nub_shift.keyboard.layout import us_layout
from nub_shift.model.checks.references import reference_problems
from nub_shift.model.profile.actions import Action
from nub_shift.model.profile.colours import Colour
from nub_shift.model.profile.game import Game
from nub_shift.model.profile.profile import Layer
from nub_shift.model.profile.reactions import Assignment, Reaction
from nub_shift.store.atomic import write_text
from nub_shift.store.journal import Journal
from nub_shift.store.library import entries, library_folder
from nub_shift.store.profile_files import parse_profile, read_profile
from nub_shift.ui.commands import Command, Station
from nub_shift.ui.library.station import LibraryStation
from nub_shift.ui.look.theme import DAY, Theme
from tests.ui.conftest import Bench
from tests.ui.hands import QTest


def emptied(slot: str) -> Edit:
    """An edit that empties a slot of the base layer."""
    return partial(edits.bind, layer_id="base", slot=slot, assignment=None)


@pytest.fixture
def library(bench: Bench) -> LibraryStation:
    write_text(bench.document.path.with_name("tidefold.toml"), demo_profile_text("tidefold"))
    bench.window.show_station(Station.LIBRARY)
    return bench.window.library


def choose(library: LibraryStation, title: str) -> None:
    (item,) = library.list.findItems(title, Qt.MatchFlag.MatchStartsWith)
    library.list.setCurrentItem(item)


def press(library: LibraryStation, button: str) -> None:
    QTest.mouseClick(library.buttons[button], Qt.MouseButton.LeftButton)


def titles(library: LibraryStation) -> set[str]:
    return {library.list.item(row).text().split("\n")[0] for row in range(library.list.count())}  # type: ignore[union-attr]


def differing(library: LibraryStation) -> list[str]:
    return [library.view.found.item(row).text() for row in range(library.view.found.count())]  # type: ignore[union-attr]


def words(library: LibraryStation) -> str:
    return library.findChildren(QTextBrowser)[0].toPlainText()


def test_another_profile_is_read_opened_and_played(bench: Bench, library: LibraryStation) -> None:
    choose(library, "Tidefold")
    assert "Layer Folds" in words(library) and "Ring Folds" in words(library)
    press(library, "open")
    assert bench.document.profile.title == "Tidefold"
    assert parse_profile(bench.link.loaded[-1]).title == "Tidefold"
    assert bench.window.map.isVisible() and "Tidefold" in bench.window.windowTitle()
    bench.document.edit("Title", lambda _: parse_profile(demo_profile_text("dustwake")))
    assert bench.document.undo() == "Title"
    assert bench.document.undo() == ""  # what was done to the other one stays with it
    assert read_profile(bench.document.path).title == "Tidefold"


def test_profiles_are_made_copied_renamed_and_found(bench: Bench, library: LibraryStation) -> None:
    choose(library, "Tidefold")
    press(library, "copy")
    assert bench.document.profile.title == "Tidefold copy"
    bench.window.show_station(Station.LIBRARY)
    choose(library, "Tidefold copy")
    library.name.setText("Night fold")
    press(library, "rename")
    assert (bench.document.profile.title, change.label if (change := bench.document.history.undo) else "") == (
        "Night fold",
        "Title Night fold",
    )
    choose(library, "Saltglass")
    library.name.setText("Other keeper")
    press(library, "moves")
    made = bench.document.profile
    assert (made.title, len(made.moves), made.layers[0].slots) == ("Other keeper", 24, {})
    bench.window.show_station(Station.LIBRARY)
    press(library, "new")
    assert library.name.selectedText() == "New profile 1" and bench.document.profile.title == "New profile 1"
    QTest.keyClicks(library.name, "Blank")
    QTest.keyClick(library.name, Qt.Key.Key_Return)
    assert bench.document.profile.title == "Blank" and bench.window.map.isVisible()
    bench.window.show_station(Station.LIBRARY)
    assert titles(library) == {"Saltglass Keeper", "Tidefold", "Night fold", "Other keeper", "Blank"}
    QTest.keyClicks(library.search, "fold")
    assert titles(library) == {"Tidefold", "Night fold"}


def test_whoever_leaves_a_new_profile_unnamed_names_another_one_and_stays(library: LibraryStation) -> None:
    press(library, "new")
    choose(library, "Tidefold")
    library.name.setText("Ebbfold")
    QTest.keyClick(library.name, Qt.Key.Key_Return)
    assert library.isVisible() and {"New profile 1", "Ebbfold"} <= titles(library)


def test_what_is_binned_comes_back_and_the_open_one_stays(bench: Bench, library: LibraryStation) -> None:
    said: list[str] = []
    library.said.connect(said.append)
    choose(library, "Saltglass")
    press(library, "bin")
    assert said == ["The open profile cannot be moved to the bin: open another one first"]
    path = bench.document.path.with_name("tidefold.toml")
    Document(path, read_profile(path)).edit("South", emptied("south"))
    choose(library, "Tidefold")
    press(library, "bin")
    assert (bench.document.path.parent / "bin" / "tidefold.toml").exists()
    assert Journal(path).lines == []  # a new profile of that name begins without what was done to this one
    choose(library, "Tidefold")
    assert library.buttons["bin"].text() == "Restore"
    press(library, "open")  # opening it brings it back too
    assert bench.document.path == path
    assert path.exists() and Document(path, read_profile(path)).undo() == "South"


def test_moves_to_the_bin_and_back_can_be_undone(bench: Bench, library: LibraryStation) -> None:
    path = bench.document.path.with_name("tidefold.toml")
    choose(library, "Tidefold")
    press(library, "bin")
    bench.window.actions_of[Command.UNDO].trigger()
    assert path.exists() and "Undone: Tidefold moved to bin" in bench.window._message.currentMessage()
    bench.window.actions_of[Command.REDO].trigger()
    assert not path.exists()
    choose(library, "Tidefold")
    press(library, "bin")
    assert path.exists()
    bench.window.actions_of[Command.UNDO].trigger()
    assert not path.exists()


def test_examples_are_copied_and_stay_as_they_are(qtbot: QtBot, tmp_path: Path) -> None:
    path = tmp_path / "game.toml"
    write_text(path, demo_profile_text())
    document = Document(path, read_profile(path))
    library = LibraryStation(Theme(DAY), document, [demo_profile_text(game) for game in ("saltglass", "tidefold")])
    qtbot.addWidget(library)
    library.refresh()
    assert titles(library) == {"Saltglass Keeper", "Tidefold"}
    choose(library, "Tidefold")
    assert not library.buttons["bin"].isEnabled() and not library.buttons["rename"].isEnabled()
    press(library, "copy")
    assert document.profile.title == "Tidefold copy" and document.path.parent == tmp_path


def test_a_profile_from_elsewhere_is_shown_before_it_is_taken_in(
    bench: Bench, library: LibraryStation, tmp_path: Path
) -> None:
    outside = tmp_path / "elsewhere" / "friend.toml"
    shown = "# by hand\n" + demo_profile_text("tidefold").replace('title = "Tidefold"', 'title = "From a friend"')
    write_text(outside, shown)
    data = QMimeData()
    second = outside.with_name("second.toml")
    write_text(second, demo_profile_text("dustwake"))
    data.setUrls([QUrl.fromLocalFile(str(path)) for path in (second, outside)])
    buttons, keys = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    library.dropEvent(QDropEvent(QPointF(50, 50), Qt.DropAction.CopyAction, data, buttons, keys))
    assert "Dustwake" in words(library) and "(1 more file)" in library.outside._words.text()
    QTest.mouseClick(library.outside.close_button, Qt.MouseButton.LeftButton)
    assert "From a friend" in words(library) and "more file" not in library.outside._words.text()
    assert bench.document.profile.title == "Saltglass Keeper"
    write_text(outside, demo_profile_text("dustwake"))
    QTest.mouseClick(library.outside.add, Qt.MouseButton.LeftButton)
    assert bench.document.profile.title == "From a friend"
    assert bench.document.path.read_text() == shown  # whatever the file says by now
    assert bench.document.path.parent != outside.parent
    bench.window.show_station(Station.LIBRARY)
    assert library.outside.isHidden()
    press(library, "export")
    (dialog,) = library.findChildren(QFileDialog)
    assert dialog.selectedFiles()[0].endswith("From a friend.nubshift")
    dialog.fileSelected.emit(str(outside.with_name("mine.nubshift")))
    dialog.close()
    assert read_profile(outside.with_name("mine.nubshift")) == bench.document.profile
    write_text(outside, "title = 3")
    library.show_file(outside)
    assert "This profile cannot be read" in words(library) and "title: 3 does not fit" in words(library)
    assert not library.outside.add.isEnabled()
    QTest.mouseClick(library.outside.close_button, Qt.MouseButton.LeftButton)
    assert library.outside.isHidden()


def test_earlier_states_are_named_compared_and_gone_back_to(bench: Bench, library: LibraryStation) -> None:
    start = bench.document.text
    library.name.setText("Evening")
    press(library, "point")
    bench.document.edit("South: empty", emptied("south"))
    bench.window.show_station(Station.MAP)
    bench.window.show_station(Station.LIBRARY)
    assert [library.past.item(row).text().split("\n")[0] for row in range(2)] == [  # type: ignore[union-attr]
        "South: empty",
        "★ Evening",
    ]
    library.compare.click()
    library.past.setCurrentRow(1)
    assert differing(library) == ["Layer Base", "South: Nothing → Leap"]
    press(library, "back")
    assert bench.document.text == start
    choose(library, "Tidefold")
    assert "only in the open one" in differing(library)


def test_differences_are_taken_over_one_by_one_with_what_they_need(bench: Bench, library: LibraryStation) -> None:
    choose(library, "Tidefold")
    library.compare.click()
    library.view.found.setCurrentRow(differing(library).index("Rings") + 1)
    QTest.keyClick(library.view.found, Qt.Key.Key_Return)
    taken = bench.document.profile
    assert taken.rings and {entry.move for entry in taken.rings[0].entries} <= {move.id for move in taken.moves} | {
        None
    }
    rows = library.view.found
    item = next(item for row in range(rows.count()) if (item := rows.item(row)) is not None and "→" in item.text())
    before = bench.document.profile
    rows.scrollToItem(item)
    button = rows.painter.button(QRectF(rows.visualItemRect(item)))
    QTest.mouseClick(rows.viewport(), Qt.MouseButton.LeftButton, pos=button.center().toPoint())
    assert bench.document.profile != before
    press(library, "all")
    other = read_profile(bench.document.path.with_name("tidefold.toml"))
    assert bench.document.profile == other
    assert differing(library) == ["Nothing differs"]


def test_every_single_difference_can_be_taken_and_leaves_a_sound_profile() -> None:
    games = [parse_profile(demo_profile_text(game)) for game in ("saltglass", "tidefold", "dustwake")]
    for one, other in permutations(games, 2):
        for found in differences(one, other, us_layout()):
            made = found.copy_over(one)
            assert (made != one, reference_problems(made, us_layout)) == (True, []), found.text
            left = [(rest.head, rest.text) for rest in differences(made, other, us_layout())]
            assert (found.head, found.text) not in left


def test_a_profile_has_a_colour_and_the_last_used_comes_first(bench: Bench, library: LibraryStation) -> None:
    choose(library, "Tidefold")
    QTest.mouseClick(library.colours.dots["violet"], Qt.MouseButton.LeftButton)
    assert read_profile(bench.document.path.with_name("tidefold.toml")).colour is Colour.VIOLET
    library.notes.setFocus()
    library.notes.setPlainText("Played on the sofa")
    library.search.setFocus()
    assert read_profile(bench.document.path.with_name("tidefold.toml")).notes == "Played on the sofa"
    press(library, "open")
    found = entries(bench.document.path.parent)[0]
    assert (found.title, found.colour) == ("Tidefold", "violet")


def test_what_was_done_is_undone_and_done_again_after_a_restart(bench: Bench) -> None:
    texts = [bench.document.text]
    for slot in ("south", "east", "west"):
        bench.document.edit(f"{slot}: empty", emptied(slot))
        texts.append(bench.document.text)
    bench.document.undo()
    path = bench.document.path
    again = Document(path, read_profile(path))
    assert again.redo() == "west: empty" and again.text == texts[3]
    for expected in texts[2::-1]:
        again.undo()
        assert path.read_text() == expected
    assert again.undo() == ""
    with (path.parent / ".history" / f"{path.stem}.jsonl").open("a") as stream:
        stream.write('{"did":"edit","label":"cut sho')  # killed while it wrote
    assert Document(path, read_profile(path)).redo() == "south: empty"


KILLED = """
import os, pathlib, sys
from functools import partial
from nub_shift.store.profile_files import read_profile
from nub_shift.editing.edits import bindings as edits
from nub_shift.editing.document import Document

path = pathlib.Path(sys.argv[1])
document = Document(path, read_profile(path))
document.edit("first", partial(edits.bind, layer_id="base", slot="south", assignment=None))
pathlib.Path.replace = lambda *_: os._exit(9)
document.edit("second", partial(edits.bind, layer_id="base", slot="east", assignment=None))
"""


def test_killed_between_write_and_rename_the_last_edit_but_one_is_there(tmp_path: Path) -> None:
    path = tmp_path / "p.toml"
    write_text(path, demo_profile_text())
    start = path.read_text()
    assert subprocess.run([sys.executable, "-c", KILLED, str(path)], check=False).returncode == 9
    again = Document(path, read_profile(path))
    assert "south" not in again.profile.layers[0].slots and "east" in again.profile.layers[0].slots
    assert [entry.path for entry in entries(tmp_path)] == [path]
    again.edit("third", emptied("west"))
    assert [again.undo(), again.undo(), again.undo()] == ["third", "first", ""]
    assert path.read_text() == Document(path, parse_profile(start)).text


def test_a_folder_that_cannot_be_written_is_said_and_the_next_edit_keeps_all(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "p.toml"
    write_text(path, demo_profile_text())
    document = Document(path, read_profile(path))
    before = path.read_text()

    def closed(*_: object, **__: object) -> None:
        raise OSError(30, "Read-only file system")

    with monkeypatch.context() as patched:
        patched.setattr(tempfile, "mkstemp", closed)
        document.edit("south", emptied("south"))
        assert document.fault == "p.toml cannot be written: read-only file system"
        assert path.read_text() == before
    document.edit("east", emptied("east"))
    assert (document.fault, read_profile(path)) == ("", document.profile)
    assert {"south", "east"}.isdisjoint(document.profile.layers[0].slots)


SLOTS = st.sampled_from(["south", "east", "left_stick.up", "right_stick", "dpad.up"])
ACTIONS = st.sampled_from(
    [None, Action(keys=("KEY_A",)), Action(move="leap"), Assignment(layer="lamp"), Action(silence=True)]
)

REACTIONS = st.sampled_from([Reaction.PRESS, Reaction.TAP, Reaction.HOLD])


@settings(max_examples=10, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    st.lists(st.tuples(SLOTS, REACTIONS, ACTIONS), max_size=5),
    st.data(),
)
def test_any_edits_undone_give_the_same_bytes(tmp_path: Path, done: list[Any], data: st.DataObject) -> None:
    path = tmp_path / f"{data.draw(st.integers(0, 10**9))}.toml"
    write_text(path, demo_profile_text())
    document = Document(path, read_profile(path))
    start = document.text
    for slot, reaction, action in done:
        document.edit(
            slot, partial(slot_edits.set_action, slot=slot, layer_id="base", reaction=reaction, action=action)
        )
    after = document.text
    count = 0
    while document.undo():
        count += 1
    assert document.text == start and (count == 0 or path.read_text() == start)
    while document.redo():
        count -= 1
    assert (document.text, count) == (after, 0)


def test_every_setting_of_a_layer_and_of_the_game_is_compared() -> None:
    assert LAYER_SETTINGS.keys() == {*Layer.__struct_fields__} - {"id", "slots"}
    assert GAME_SETTINGS.keys() == {*Game.__struct_fields__}


def test_what_a_layer_does_as_it_comes_on_is_copied_over_with_what_it_plays() -> None:
    theirs = parse_profile(
        'schema = 4\ntitle = "T"\n[[sequences]]\nid = "s"\nlabel = "S"\nsteps = [{ tap = ["KEY_A"] }]\n'
        '[[layers]]\nid = "base"\nlabel = "Base"\n[[layers]]\nid = "aim"\nlabel = "Aim"\nenter = { sequence = "s" }\n'
    )
    mine = replace(theirs, sequences=(), layers=(theirs.layers[0], replace(theirs.layers[1], enter=None)))
    made = copy_layer_setting(mine, theirs, "aim", "enter")
    assert made == theirs


@pytest.mark.parametrize("name", ["gift.nubshift", "GIFT.NUBSHIFT", "gift.NubShift", "gift.toml", "gift"])
def test_a_file_from_elsewhere_is_looked_at_whatever_its_name_is(bench: Bench, tmp_path: Path, name: str) -> None:
    write_text(tmp_path / name, demo_profile_text("tidefold"))
    before = bench.document.path
    assert bench.window.show_again(str(tmp_path / name)) == ""
    assert bench.window.station is Station.LIBRARY and bench.window.library.outside.isVisible()
    assert bench.document.path == before
    own = library_folder() / "own.toml"
    write_text(own, demo_profile_text("tidefold"))
    assert bench.window.show_again(str(own)) == "" and bench.document.path == own


def test_undo_shows_the_title_that_it_brings_back(bench: Bench) -> None:
    window, library = bench.window, bench.window.library
    window.show_station(Station.LIBRARY)
    before = bench.document.profile.title
    library.name.setText("Another title")
    library.buttons["rename"].click()
    for title, do in ((before, Command.UNDO), ("Another title", Command.REDO)):
        window.actions_of[do].trigger()
        first = library.list.item(0)
        assert bench.document.profile.title == title == library.name.text()
        assert first is not None and first.text().startswith(title)
