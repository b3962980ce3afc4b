"""Two windows, or a window and an editor, on one file: nothing is lost, and nothing is overwritten without a word."""

from __future__ import annotations

from pathlib import Path

import pytest
from msgspec.structs import replace
from pytestqt.qtbot import QtBot

from nub_shift.demo.games import demo_profile_text
from nub_shift.editing.document import Document
from nub_shift.store.profile_files import read_profile
from nub_shift.ui.link import RunnerLink
from nub_shift.ui.look.theme import DAY, Theme
from nub_shift.ui.window import Window
from tests.ui.test_library import emptied


@pytest.fixture
def path(tmp_path: Path) -> Path:
    made = tmp_path / "game.toml"
    made.write_text(demo_profile_text())
    return made


def opened(path: Path) -> Document:
    return Document(path, read_profile(path))


def test_edits_of_two_windows_are_both_kept(path: Path) -> None:
    one, other = opened(path), opened(path)
    one.edit("South", emptied("south"))
    other.edit("Title", lambda mine: replace(mine, title="Theirs"))
    assert other.elsewhere
    assert other.profile.title == "Theirs" and "south" not in other.profile.layers[0].slots
    assert read_profile(path) == other.profile
    one.look()
    assert one.profile == other.profile


def test_at_the_same_place_the_later_edit_stands_and_the_other_is_one_undo_away(path: Path) -> None:
    one, other = opened(path), opened(path)
    one.edit("Title", lambda mine: replace(mine, title="One"))
    other.edit("Title", lambda mine: replace(mine, title="Other"))
    assert read_profile(path).title == "Other"
    titles = []
    while other.undo():
        titles.append(other.profile.title)
    assert titles == ["One", "Saltglass Keeper"]
    one.look()
    assert one.profile.title == "Saltglass Keeper"


def test_an_undo_takes_back_what_was_written_elsewhere_first(path: Path) -> None:
    document = opened(path)
    document.edit("South", emptied("south"))
    path.write_text(path.read_text().replace("Saltglass Keeper", "By hand"))
    assert document.undo() == "Changed elsewhere"
    assert document.profile.title == "Saltglass Keeper" and "south" not in document.profile.layers[0].slots
    assert document.undo() == "South"


def test_a_file_that_is_broken_or_has_gone_is_not_written_over(path: Path) -> None:
    document = opened(path)
    path.write_text("title = half a li")
    document.edit("South", emptied("south"))
    assert "was changed elsewhere and has faults" in document.fault
    assert path.read_text() == "title = half a li"
    path.rename(path.with_name("away.toml"))
    document.edit("East", emptied("east"))
    assert not path.exists() and "make a copy in the library" in document.fault
    path.write_text(demo_profile_text().replace("Saltglass Keeper", "Mended"))
    document.edit("West", emptied("west"))
    assert document.fault == ""
    slots = read_profile(path).layers[0].slots
    assert "west" not in slots and "south" in slots  # what came back was taken in first
    assert document.undo() == "West" and document.undo() == "Changed elsewhere"
    assert "south" not in document.profile.layers[0].slots


def test_a_window_shows_what_an_editor_writes(qtbot: QtBot, path: Path) -> None:
    document = opened(path)
    window = Window(Theme(DAY), document, RunnerLink(path, "simulated:tern", "print"))
    qtbot.addWidget(window)
    replaced = path.with_name("new")
    for title in ("Once", "Twice"):  # as editors do, by putting another file in its place
        replaced.write_text(demo_profile_text().replace("Saltglass Keeper", title))
        replaced.rename(path)
        qtbot.waitUntil(lambda title=title: document.profile.title == title)  # type: ignore[misc]
        assert window.windowTitle().startswith(title)
        assert "Undo brings back what was here" in window._message.accessibleName()
