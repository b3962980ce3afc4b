"""The program in the desktop's menu."""

from __future__ import annotations

from pathlib import Path

import pytest
from click.testing import CliRunner

from nub_shift.cli.main import main
from nub_shift.desktop import MIME
from nub_shift.model.comes_on import APP_ID


def test_the_program_is_put_into_the_menu_and_taken_out(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))

    def said(state: str) -> str:
        return CliRunner().invoke(main, ["desktop", state]).output.strip()

    assert said("status") == "not in the menu"
    assert said("on") == "in the menu"
    entry = (tmp_path / "applications" / f"{APP_ID}.desktop").read_text()
    assert f"MimeType={MIME};" in entry and "{" not in entry
    assert 'pattern="*.nubshift"' in (tmp_path / "mime" / "packages" / f"{APP_ID}.xml").read_text()
    assert (tmp_path / "icons" / "hicolor" / "scalable" / "apps" / f"{APP_ID}.svg").exists()
    assert said("off") == "not in the menu"
    assert not list(tmp_path.rglob(f"{APP_ID}*"))
    (tmp_path / "applications").rmdir()
    (tmp_path / "applications").write_text("in the way")
    result = CliRunner().invoke(main, ["desktop", "on"])
    assert result.exit_code == 1 and "applications" in result.output
