"""What was done to a profile, and the files themselves, at their limits."""

from __future__ import annotations

import stat
from pathlib import Path

import pytest

from nub_shift.model.problems import ProfileError
from nub_shift.store.atomic import write_text
from nub_shift.store.journal import KEPT_LINES, MAX_LINES, Journal
from nub_shift.store.profile_files import parse_profile, read_profile
from nub_shift.store.reading import MAX_FILE_BYTES


def test_named_points_outlive_the_edits_around_them(tmp_path: Path) -> None:
    journal = Journal(tmp_path / "p.toml")
    journal.note("point", "Before the race", "the text then")
    for number in range(MAX_LINES + 1):
        journal.note("edit", f"Edit {number}", f"text {number}")
    again = Journal(tmp_path / "p.toml").lines
    assert [(line.label, line.text) for line in again if line.did == "point"] == [("Before the race", "the text then")]
    assert KEPT_LINES <= len(again) <= MAX_LINES


def test_an_edit_that_was_noted_and_never_kept_is_not_there_to_be_undone(tmp_path: Path) -> None:
    journal = Journal(tmp_path / "p.toml")
    journal.note("edit", "first", "text 0")
    journal.note("edit", "never kept", "text 1")  # the program was killed before the file was written
    assert Journal(tmp_path / "p.toml").stacks("text 1").undo == [("first", "text 0")]
    journal.note("edit", "second", "text 1")
    assert Journal(tmp_path / "p.toml").stacks("text 2").undo == [("first", "text 0"), ("second", "text 1")]


def test_a_file_that_is_too_large_is_told_and_not_read(tmp_path: Path) -> None:
    path = tmp_path / "p.toml"
    text = 'schema = 3\ntitle = "T"\n'
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


@pytest.mark.parametrize("control", ["left_stick", "right_stick", "surface"])
def test_the_zones_of_every_stick_and_surface_are_held_against_each_other(control: str) -> None:
    with pytest.raises(ProfileError, match=f"feel.{control}: dead zone and edge zone meet"):
        parse_profile(f'schema = 3\ntitle = "T"\n[feel.{control}]\ndead_zone = 0.5\nedge_zone = 0.5\n')
