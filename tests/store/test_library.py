"""Profiles are found by what they call themselves."""

from __future__ import annotations

from pathlib import Path

from nub_shift.store.library import find_titled


def test_a_profile_is_found_by_its_title_whatever_else_lies_there(tmp_path: Path) -> None:
    (tmp_path / "a.toml").write_text('schema = 4\ntitle = "One"\n')
    (tmp_path / "b.toml").write_text("schema = 4\ntitle = 'Tide \"fold\"'  # the other\nnonsense = [")
    (tmp_path / "c.toml").write_bytes(b"title = '\xff'")
    (tmp_path / "d.toml").write_text("title = 3 4")
    nowhere = tmp_path / "none"
    assert find_titled([nowhere, tmp_path], 'tide "FOLD"') == tmp_path / "b.toml"
    assert find_titled([nowhere, tmp_path], "Two") is None
