"""The library: what is kept, made, copied, binned, and read before it is taken in."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QTextBrowser

from nub_shift.demo.games import demo_profile_text
from nub_shift.model.files import parse_profile, read_profile, write_text
from nub_shift.ui.library_station import LibraryStation
from tests.ui.conftest import Bench
from tests.ui.hands import QTest


@pytest.fixture
def library(bench: Bench) -> LibraryStation:
    write_text(bench.document.path.with_name("tidefold.toml"), demo_profile_text("tidefold"))
    bench.window.show_station("library")
    return bench.window.library


def choose(library: LibraryStation, title: str) -> None:
    (item,) = library.list.findItems(title, Qt.MatchFlag.MatchStartsWith)
    library.list.setCurrentItem(item)


def press(library: LibraryStation, button: str) -> None:
    QTest.mouseClick(library.buttons[button], Qt.MouseButton.LeftButton)


def titles(library: LibraryStation) -> set[str]:
    return {library.list.item(row).text().split("\n")[0] for row in range(library.list.count())}  # type: ignore[union-attr]


def words(library: LibraryStation) -> str:
    return library.findChildren(QTextBrowser)[0].toPlainText()


def test_another_profile_is_read_opened_and_played(bench: Bench, library: LibraryStation) -> None:
    choose(library, "Tidefold")
    assert "Layer Folds" in words(library) and "Ring Folds" in words(library)
    press(library, "open")
    assert bench.document.profile.title == "Tidefold"
    assert parse_profile(bench.link.loaded[-1]).title == "Tidefold"
    assert bench.window.map.isVisible() and "Tidefold" in bench.window.windowTitle()
    bench.document.edit("Title", parse_profile(demo_profile_text("dustwake")))
    assert bench.document.undo() == "Title"
    assert bench.document.undo() == ""  # what was done to the other one stays with it
    assert read_profile(bench.document.path).title == "Tidefold"


def test_profiles_are_made_copied_renamed_and_found(bench: Bench, library: LibraryStation) -> None:
    choose(library, "Tidefold")
    press(library, "copy")
    assert bench.document.profile.title == "Tidefold copy"
    bench.window.show_station("library")
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
    bench.window.show_station("library")
    library.name.setText("Blank")
    press(library, "new")
    assert bench.document.path.name == "blank.toml"
    bench.window.show_station("library")
    assert titles(library) == {"Saltglass Keeper", "Tidefold", "Night fold", "Other keeper", "Blank"}
    QTest.keyClicks(library.search, "fold")
    assert titles(library) == {"Tidefold", "Night fold"}


def test_what_is_binned_comes_back_and_the_open_one_stays(bench: Bench, library: LibraryStation) -> None:
    said: list[str] = []
    library.said.connect(said.append)
    choose(library, "Saltglass")
    press(library, "bin")
    assert said == ["The open profile stays: open another one first"]
    choose(library, "Tidefold")
    press(library, "bin")
    assert (bench.document.path.parent / "bin" / "tidefold.toml").exists()
    choose(library, "Tidefold")
    assert library.buttons["bin"].text() == "Bring it back"
    press(library, "bin")
    assert bench.document.path.with_name("tidefold.toml").exists()


def test_a_profile_from_elsewhere_is_shown_before_it_is_taken_in(
    bench: Bench, library: LibraryStation, tmp_path: Path
) -> None:
    outside = tmp_path / "elsewhere" / "friend.toml"
    write_text(outside, demo_profile_text("tidefold").replace('title = "Tidefold"', 'title = "From a friend"'))
    library.path.setText(str(outside))
    QTest.keyClick(library.path, Qt.Key.Key_Return)
    assert "From a friend" in words(library)
    assert bench.document.profile.title == "Saltglass Keeper"
    press(library, "take")
    assert bench.document.profile.title == "From a friend"
    assert bench.document.path.parent != outside.parent
    bench.window.show_station("library")
    write_text(outside, "title = 3")
    library.path.setText(str(outside))
    QTest.keyClick(library.path, Qt.Key.Key_Return)
    assert "It cannot be read" in words(library) and "title: 3 does not fit" in words(library)
    assert not library.buttons["take"].isEnabled()
