"""Two windows, or a window and an editor, on one file: nothing is lost, and nothing is overwritten without a word."""

from __future__ import annotations

import socket
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest
from msgspec.structs import replace
from pytestqt.qtbot import QtBot

from nub_shift.demo.games import demo_profile_text
from nub_shift.editing.document import Document
from nub_shift.protocol.window_call import Answered, call_window, window_socket
from nub_shift.store.profile_files import read_profile
from nub_shift.ui.link import RunnerLink
from nub_shift.ui.look.theme import DAY, Theme
from nub_shift.ui.only_window import OnlyWindow
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
    assert document.profile.title == "Mended" and read_profile(path) == document.profile
    assert not {"south", "east", "west"} & document.profile.layers[0].slots.keys()  # done again, to what came back
    assert [document.undo() for _ in range(4)] == ["West", "East", "South", "Changed elsewhere"]
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


def test_a_second_start_brings_the_window_that_is_open_to_the_front(qtbot: QtBot, path: Path, tmp_path: Path) -> None:
    assert call_window(path) is None  # nobody is there yet
    window = Window(Theme(DAY), opened(path), RunnerLink(path, "simulated", "print"))
    qtbot.addWidget(window)
    only = OnlyWindow(window.show_again, window)
    window.showMinimized()
    faulty = tmp_path / "faulty.toml"
    faulty.write_text("title = ")
    elsewhere = ThreadPoolExecutor(1)

    def call(asked: Path | None) -> Answered | None:
        calling = elsewhere.submit(call_window, asked)
        qtbot.waitUntil(calling.done)
        return calling.result()

    assert call(None) == Answered() and window.isVisible() and not window.isMinimized()
    refused = call(faulty)
    assert refused is not None and "faulty.toml: end of document" in refused.fault
    assert "Saltglass" in window.windowTitle()
    other = tmp_path / "other.toml"
    other.write_text(demo_profile_text().replace("Saltglass Keeper", "Another"))
    with socket.socket(socket.AF_UNIX) as strange:
        strange.connect(str(window_socket()))
        strange.sendall(b"x" * 100_000 + b"\n")  # whoever else calls, and however, does no harm
        assert call(other) == Answered() and "Another" in window.windowTitle()
    elsewhere.shutdown()
    only.close()
    assert call_window(None) is None and not window_socket().exists()
