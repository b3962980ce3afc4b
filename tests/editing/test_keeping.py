"""What is edited is written beside the window, in order; comments that a person wrote stay."""

from __future__ import annotations

import threading
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TypeVar

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace
from pytestqt.qtbot import QtBot

from nub_shift.demo.games import demo_profile_text
from nub_shift.editing.document import ELSEWHERE, Document, Edit
from nub_shift.editing.edits import bindings as edits
from nub_shift.model.profile.profile import Layer, Profile
from nub_shift.model.profile.reactions import Assignment
from nub_shift.store.comments import comments_in, rewritten
from nub_shift.store.profile_files import format_profile, parse_profile, read_profile
from nub_shift.ui.writing import WritingThread

T = TypeVar("T")


class Later:
    """Does work when a test says so."""

    def __init__(self) -> None:
        self.waiting: list[Callable[[], None]] = []

    def run(self, work: Callable[[], T], done: Callable[[T], None]) -> None:
        self.waiting.append(lambda: done(work()))

    def finish(self) -> None:
        while self.waiting:
            self.waiting.pop(0)()


def cleared(slot: str) -> Edit:
    return partial(edits.bind, layer_id="base", slot=slot, assignment=None)


def bound(slot: str, key: str) -> Edit:
    return partial(edits.bind, layer_id="base", slot=slot, assignment=Assignment(keys=(key,)))


def renamed(profile: Profile) -> Profile:
    return replace(profile, title="Theirs")


def without_a_move(profile: Profile) -> Profile:
    return replace(profile, moves=tuple(move for move in profile.moves if move.id != "tide"))


def turned_round(profile: Profile) -> Profile:
    return replace(profile, moves=profile.moves[::-1])


def with_a_layer(profile: Profile) -> Profile:
    layer = Layer(id="more", label="More", slots={"south": Assignment(keys=("KEY_Z",))})
    return replace(profile, layers=(*profile.layers, layer))


@pytest.fixture
def path(tmp_path: Path) -> Path:
    made = tmp_path / "game.toml"
    made.write_text(demo_profile_text())
    return made


def opened(path: Path, worker: Later | WritingThread | None = None) -> Document:
    return Document(path, read_profile(path), worker=worker)


@pytest.mark.parametrize("checked", [0, 1, 2, 3])
def test_what_is_written_here_around_a_check_is_no_news(path: Path, checked: int) -> None:
    """Edits are written before and after the file is read: that is still our own text."""
    worker = Later()
    document = opened(path, worker)
    for number, slot in enumerate(("south", "east", "west")):
        if number == checked:
            document.check_file()
        document.edit(slot, cleared(slot))
    if checked == 3:
        document.check_file()
    mine = document.profile
    worker.finish()
    assert not document.elsewhere and document.profile == mine == read_profile(path)


def test_an_edit_reads_no_file_where_it_is_made(path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    worker = Later()
    document = opened(path, worker)
    with monkeypatch.context() as hung:
        hung.setattr("nub_shift.editing.profile_file.read_bounded", lambda _: pytest.fail("the disk hangs"))
        document.edit("south", cleared("south"))
        document.undo()
        document.redo()
        document.check_file()
    mine = document.profile
    worker.finish()
    assert read_profile(path) == mine


def test_what_is_not_written_yet_is_done_again_to_what_came_from_elsewhere(path: Path) -> None:
    worker = Later()
    document = opened(path, worker)
    document.edit("South", cleared("south"))
    worker.waiting.pop(0)()  # that one is in the file, and what they write has it
    document.edit("East", cleared("east"))
    document.edit("Layer", with_a_layer)
    other = opened(path)
    other.edit("Title", renamed)
    worker.finish()
    assert read_profile(path) == document.profile
    assert document.profile.title == "Theirs" and not {"south", "east"} & document.profile.layers[0].slots.keys()
    assert [layer.id for layer in document.profile.layers].count("more") == 1
    labels = []
    while label := document.undo():
        labels.append(label)
    assert labels == ["Layer", "East", ELSEWHERE, "Layer", "East", "South"]
    worker.finish()
    assert read_profile(path) == document.profile == parse_profile(demo_profile_text())


def test_an_edit_does_not_wait_for_the_disk(qtbot: QtBot, path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    going_on = threading.Event()
    writing = WritingThread()
    document = opened(path, writing)
    writing.run(going_on.wait, lambda _: None)  # the disk is slow
    document.edit("South", cleared("south"))
    document.edit("East", cleared("east"))
    assert document.undo() == "East"
    assert "south" in read_profile(path).layers[0].slots
    monkeypatch.setattr(path.__class__, "replace", _fails)
    going_on.set()
    qtbot.waitUntil(lambda: "no space left" in document.fault)
    monkeypatch.undo()
    document.edit("West", cleared("west"))
    writing.close()
    assert document.fault == "" and read_profile(path) == document.profile
    again = opened(path)
    assert [again.undo(), again.undo(), again.undo()] == ["West", "South", ""]


def _fails(*_: object) -> None:
    raise OSError(28, "No space left on device")


WRITTEN = """\
# Mine since 2019
schema = 4
title = "By hand" # not # final
notes = "no # comment"

# --- moves ---
[[moves]]
id = "leap" # the big one
label = "Leap"
keys = ["KEY_SPACE"] # as in the game

# rarely needed
[[moves]]
id = "tide"
label = "Tide"
keys = ["KEY_T"]

[[layers]]
id = "base"
label = "Base"
[layers.slots]
south = { move = "leap" } # thumb
east = { keys = ["KEY_C"] } # was KEY_X
# end
[feel.left_stick]
dead_zone = 0.1 # drifts
"""


def test_comments_and_layout_of_a_hand_written_file_stay_also_over_undo_and_a_restart(path: Path) -> None:
    path.write_text(WRITTEN)
    document = opened(path)
    document.edit("West", bound("west", "KEY_E"))
    added = 'east = { keys = ["KEY_C"] } # was KEY_X\nwest = {keys = ["KEY_E"]}'
    assert path.read_text() == WRITTEN.replace('east = { keys = ["KEY_C"] } # was KEY_X', added)
    document.edit("East", cleared("east"))
    document.edit("Tide", without_a_move)
    assert comments_in(path.read_text())[0] == "# was KEY_X"  # what it stood beside is gone
    assert sorted(comments_in(path.read_text())) == sorted(comments_in(WRITTEN))
    again = opened(path)
    while again.undo():
        pass
    assert path.read_text() == WRITTEN
    path.write_text(WRITTEN + "# one more\n")
    again.edit("South", cleared("south"))
    assert "# one more" in path.read_text() and again.history.undo is not None and again.history.undo.label == "South"
    again.undo()
    assert path.read_text() == WRITTEN + "# one more\n"


CHANGES = (
    *(cleared("south"), bound("east", "KEY_B"), bound("left_stick.up", "KEY_UP"), bound("grip_1", "KEY_1")),
    *(renamed, without_a_move, turned_round, with_a_layer),
)


@given(data=st.data(), changes=st.lists(st.sampled_from(CHANGES), min_size=1, max_size=5, unique=True))
def test_wherever_comments_stand_and_whatever_is_edited_both_are_kept(data: st.DataObject, changes: list[Edit]) -> None:
    lines = WRITTEN.splitlines()
    for number in data.draw(st.lists(st.integers(0, len(lines)), max_size=6)):
        lines.insert(number, f'  # {number} said \'"""\' {{[')
    text = "\n".join(lines)
    wanted = sorted(comments_in(text))
    profile = parse_profile(text)
    for change in changes:
        after = change(profile)
        text = rewritten(text, profile, after, format_profile(after))
        profile = after
        assert parse_profile(text) == profile and sorted(comments_in(text)) == wanted
