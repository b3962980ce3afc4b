"""Two windows, or a window and an editor, on one file: nothing is lost, and nothing is overwritten without a word."""

from __future__ import annotations

import socket
import tempfile
from concurrent.futures import ThreadPoolExecutor
from functools import partial, reduce
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace
from pytestqt.qtbot import QtBot

from nub_shift.demo.games import demo_profile_text
from nub_shift.editing.compare.differences import differences, overlap
from nub_shift.editing.document import Document, Edit
from nub_shift.editing.edits import bindings as edits
from nub_shift.editing.edits import layers as layer_edits
from nub_shift.editing.edits.removal import remove
from nub_shift.keyboard.layout import us_layout
from nub_shift.model.references.named import Kind, Reference
from nub_shift.protocol.window_call import Answered, call_window, window_socket
from nub_shift.store.library import library_folder
from nub_shift.store.profile_files import format_profile, read_profile
from nub_shift.ui.link import RunnerLink
from nub_shift.ui.look.theme import DAY, Theme
from nub_shift.ui.runner_start import OwnRunner
from nub_shift.ui.single_instance import SingleInstance
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
    one.check_file()
    assert one.profile == other.profile


def test_what_both_changed_is_chosen_by_the_person(path: Path) -> None:
    document, beside = opened(path), opened(path)
    old = path.read_text()
    document.edit("Title", lambda mine: replace(mine, title="Mine"))
    path.write_text(old.replace("Saltglass Keeper", "By hand"))
    document.check_file()
    assert [found.text for found in document.disputed] == ["By hand → Mine"]
    assert read_profile(path) == document.profile and document.profile.title == "By hand"  # until it is chosen
    document.edit("South", emptied("south"))
    document.settle(mine=True)
    assert document.disputed == () and read_profile(path).title == "Mine"
    assert "south" not in read_profile(path).layers[0].slots
    path.write_text(path.read_text().replace("Mine", "By hand"))
    document.check_file()
    document.settle(mine=False)
    assert document.disputed == () and read_profile(path) == document.profile
    labels = [document.undo() for _ in range(5)]
    assert labels == ["Changed elsewhere", "Yours kept", "South", "Changed elsewhere", "Title"]
    beside.edit("Title", lambda mine: replace(mine, title="Beside"))  # a window knows what stood there
    document.check_file()
    assert document.profile.title == "Beside" and document.disputed == ()


CHANGES: tuple[Edit, ...] = (
    *(emptied(slot) for slot in ("south", "east", "left_stick.up")),
    *(partial(replace, title=title) for title in ("One", "Other")),
    *(partial(edits.bind_look, layer_id=layer, stick="left_stick") for layer in ("base", "lamp")),
    *(partial(edits.set_feel, control="left_stick", dead_zone=zone) for zone in (0.2, 0.3)),
    lambda profile: replace(profile, moves=profile.moves[::-1]),
    lambda profile: replace(profile, moves=tuple(sorted(profile.moves, key=lambda move: move.label))),
    lambda profile: layer_edits.add(profile, "more", "More"),
    lambda profile: remove(profile, Reference(Kind.LAYER, "lamp")),
)


@settings(max_examples=40)
@given(st.lists(st.sampled_from(CHANGES), min_size=1, max_size=4), st.lists(st.sampled_from(CHANGES), max_size=4))
def test_an_editor_that_saves_an_old_text_loses_nothing(ours: list[Edit], theirs: list[Edit]) -> None:
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder, "game.toml")
        path.write_text(demo_profile_text())
        document = opened(path)
        start = document.profile
        for number, change in enumerate(ours):
            document.edit(f"Edit {number}", change)
        mine, saved = document.profile, reduce(lambda made, change: change(made), theirs, start)
        path.write_text(format_profile(saved))
        document.check_file()
        assert read_profile(path) == document.profile
        ways = [
            {found.place for found in differences(start, side, us_layout())} for side in (mine, saved, document.profile)
        ]
        if not any(overlap(one, other) for one in ways[0] for other in ways[1]) and saved != start:
            assert document.disputed == () and ways[2] == ways[0] | ways[1]
        requested = document.disputed
        document.settle(mine=True)
        assert document.disputed == () and not document.fault
        left = [found.place for found in differences(document.profile, mine, us_layout())]
        assert not any(overlap(one.place, place) for one in requested for place in left)
        while document.profile != mine:  # the whole of what was here is never further away than undo
            assert document.undo()


def test_an_undo_takes_back_what_was_written_elsewhere_first(path: Path) -> None:
    document = opened(path)
    document.edit("South", emptied("south"))
    path.write_text(path.read_text().replace("Saltglass Keeper", "By hand"))
    document.check_file()
    assert document.undo() == "Changed elsewhere"
    assert document.profile.title == "Saltglass Keeper" and "south" not in document.profile.layers[0].slots
    assert document.undo() == "South"


def test_an_undo_before_the_news_keeps_what_was_written_elsewhere(path: Path) -> None:
    document = opened(path)
    document.edit("South", emptied("south"))
    path.write_text(path.read_text().replace("Saltglass Keeper", "By hand"))
    assert document.undo() == "South"
    assert document.profile.title == "By hand" and "south" in document.profile.layers[0].slots
    assert read_profile(path) == document.profile and not document.fault


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
    window = Window(Theme(DAY), document, RunnerLink(OwnRunner(path, "simulated:tern", "print")))
    qtbot.addWidget(window)
    window.resize(1280, 800)
    replaced = path.with_name("new")
    for title in ("Once", "Twice"):  # as editors do, by putting another file in its place
        replaced.write_text(demo_profile_text().replace("Saltglass Keeper", title))
        replaced.rename(path)
        qtbot.waitUntil(lambda title=title: document.profile.title == title)  # type: ignore[misc]
        assert window.windowTitle().startswith(title)
        assert "Undo brings yours back" in window._message.currentMessage()
    document.edit("Title", lambda mine: replace(mine, title="Mine"))
    tape = window.tape.geometry()
    path.write_text(demo_profile_text().replace("Saltglass Keeper", "Theirs"))
    qtbot.waitUntil(lambda: window.both_changed.isVisibleTo(window))
    assert "Title – Theirs → Mine" in window.both_changed.words.text() and window.both_changed.geometry() == tape
    window.both_changed.mine.click()
    assert read_profile(path).title == "Mine" and window.tape.isVisibleTo(window)


def test_a_second_start_brings_the_window_that_is_open_to_the_front(qtbot: QtBot, path: Path, tmp_path: Path) -> None:
    assert call_window(path) is None  # nobody is there yet
    window = Window(Theme(DAY), opened(path), RunnerLink(OwnRunner(path, "simulated", "print")))
    qtbot.addWidget(window)
    only = SingleInstance(window.show_again, window.close, window)
    window.showMinimized()
    library_folder().mkdir(parents=True)
    faulty = library_folder() / "faulty.toml"
    faulty.write_text("title = ")
    elsewhere = ThreadPoolExecutor(1)

    def call(requested: Path | None) -> Answered | None:
        calling = elsewhere.submit(call_window, requested)
        qtbot.waitUntil(calling.done)
        return calling.result()

    assert call(None) == Answered() and window.isVisible() and not window.isMinimized()
    refused = call(faulty)
    assert refused is not None and "faulty.toml: end of document" in refused.fault
    assert "Saltglass" in window.windowTitle()
    other = library_folder() / "other.toml"
    other.write_text(demo_profile_text().replace("Saltglass Keeper", "Another"))
    with socket.socket(socket.AF_UNIX) as strange:
        strange.connect(str(window_socket()))
        strange.sendall(b"x" * 100_000 + b"\n")  # whoever else calls, and however, does no harm
        assert call(other) == Answered() and "Another" in window.windowTitle()
    elsewhere.shutdown()
    only.close()
    assert call_window(None) is None and not window_socket().exists()
