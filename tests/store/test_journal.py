"""What was done to a profile, and the files themselves, at their limits."""

from __future__ import annotations

import os
import stat
from pathlib import Path
from typing import Literal

import pytest

from nub_shift.model.problems import ProfileError
from nub_shift.store.atomic import sweep, write_text
from nub_shift.store.journal import MAX_LINES, MAX_UNDO, Journal, journal_path
from nub_shift.store.profile_files import parse_profile, read_profile
from nub_shift.store.reading import MAX_FILE_BYTES


def test_points_and_as_many_steps_as_can_be_undone_outlive_the_lines_around_them(tmp_path: Path) -> None:
    journal = Journal(tmp_path / "p.toml")
    journal.add("point", "Before the race", "text 0")()
    count = MAX_LINES + MAX_UNDO // 2
    for number in range(count):
        journal.add("edit", f"Edit {number}", f"text {number}")()
    again = Journal(tmp_path / "p.toml")
    assert [(line.label, line.text) for line in again.lines if line.did == "point"] == [("Before the race", "text 0")]
    assert len(again.lines) <= MAX_LINES
    steps = [(f"Edit {number}", f"text {number}") for number in range(count)]
    assert again.stacks(f"text {count}").undo == steps[-MAX_UNDO:]


Did = Literal["edit", "undo", "redo"]
# What was noted, what stands in the file, and what can be undone and done again then. A program may be killed between
# a note and the file.
KILLED: list[tuple[list[tuple[Did, str]], str, list[str], list[str]]] = [
    ([("edit", "0"), ("edit", "1")], "2", ["0", "1"], []),
    ([("edit", "0"), ("edit", "1")], "1", ["0"], []),
    ([("edit", "0"), ("edit", "1"), ("undo", "2")], "1", ["0"], ["2"]),
    ([("edit", "0"), ("edit", "1"), ("undo", "2")], "2", ["0", "1"], []),
    ([("edit", "0"), ("edit", "1"), ("undo", "2"), ("redo", "1")], "2", ["0", "1"], []),
    ([("edit", "0"), ("edit", "1"), ("undo", "2"), ("redo", "1")], "1", ["0"], ["2"]),
    ([("edit", "0"), ("edit", "1"), ("undo", "2"), ("undo", "2"), ("undo", "1")], "0", [], ["2", "1"]),
    ([("edit", "0"), ("edit", "1"), ("edit", "1"), ("edit", "2")], "3", ["0", "1", "2"], []),
]


@pytest.mark.parametrize(("noted", "present", "undo", "redo"), KILLED)
def test_what_was_noted_and_never_done_is_not_there_to_be_undone(
    tmp_path: Path,
    noted: list[tuple[Did, str]],
    present: str,
    undo: list[str],
    redo: list[str],
) -> None:
    journal = Journal(tmp_path / "p.toml")
    for did, text in noted:
        journal.add(did, "a label", text)()
    stacks = Journal(tmp_path / "p.toml").stacks(present)
    assert [text for _, text in stacks.undo] == undo
    assert [text for _, text in stacks.redo] == redo


def test_lines_that_cannot_be_read_are_kept_aside(tmp_path: Path) -> None:
    journal = Journal(tmp_path / "p.toml")
    journal.add("edit", "first", "text 0")()
    path = journal_path(tmp_path / "p.toml")
    odd = [b'{"did": "dance"}', b"\xff\xfe", b"[" * 5000, b'{"did": "edit", "la']
    late = b'{"did": "edit", "label": "late", "text": "text 1", "at": 1e300}'
    path.write_bytes(path.read_bytes() + b"\n".join([*odd[:2], late, *odd[2:]]))
    again = Journal(tmp_path / "p.toml")
    assert [(line.label, line.at > 0) for line in again.lines] == [("first", True), ("late", False)]
    assert path.with_suffix(".aside").read_bytes().splitlines() == odd
    assert [line.label for line in Journal(tmp_path / "p.toml").lines] == ["first", "late"]
    path.unlink()
    os.mkfifo(path)
    piped = Journal(tmp_path / "p.toml")
    assert piped.lines == []  # and nobody waits for a writer, nor for a reader
    with pytest.raises(OSError, match="no plain file"):
        piped.add("edit", "second", "text 1")()


def test_a_file_that_is_too_large_is_told_and_not_read(tmp_path: Path) -> None:
    path = tmp_path / "p.toml"
    text = 'schema = 4\ntitle = "T"\n'
    path.write_text(text + "#" * (MAX_FILE_BYTES - len(text)))
    assert read_profile(path).title == "T"
    path.write_text(text + "#" * (MAX_FILE_BYTES - len(text) + 1))
    with pytest.raises(ProfileError, match="is too large for a profile"):
        read_profile(path)


def test_a_link_stays_a_link_and_a_file_keeps_its_mode(tmp_path: Path) -> None:
    real = tmp_path / "elsewhere" / "real.toml"
    write_text(real, "one")
    real.chmod(0o664)
    link = tmp_path / "link.toml"
    link.symlink_to(real)
    write_text(link, "two")
    assert link.is_symlink() and real.read_text() == "two"
    assert stat.S_IMODE(real.stat().st_mode) == 0o664
    assert [path.name for path in real.parent.iterdir()] == ["real.toml"]


def test_what_killed_writes_have_left_is_swept_and_nothing_else(tmp_path: Path) -> None:
    names = [".game.toml.abcd_123", ".game.toml.new_one1", "game.toml", ".hidden.toml", ".game.toml.ABCDEFGH"]
    for name in names:
        (tmp_path / name).touch()
        os.utime(tmp_path / name, (0, 0))
    (tmp_path / names[1]).touch()
    sweep(tmp_path)
    assert sorted(path.name for path in tmp_path.iterdir()) == sorted(names[1:])


@pytest.mark.parametrize("control", ["left_stick", "right_stick", "surface"])
def test_the_zones_of_every_stick_and_surface_are_held_against_each_other(control: str) -> None:
    with pytest.raises(ProfileError, match=f"feel.{control}: dead zone and edge zone meet"):
        parse_profile(f'schema = 4\ntitle = "T"\n[feel.{control}]\ndead_zone = 0.5\nedge_zone = 0.5\n')
