"""The program in the desktop's menu."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import pytest
from click.testing import CliRunner

from nub_shift.cli.main import main
from nub_shift.desktop import MIME
from nub_shift.model.profile.activation import APP_ID


def test_the_program_is_put_into_the_menu_and_taken_out(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))

    def said(state: str) -> str:
        return CliRunner().invoke(main, ["desktop", state]).output.strip()

    assert said("status") == "not in the menu"
    assert said("on") == "in the menu"
    entry = (tmp_path / "applications" / f"{APP_ID}.desktop").read_text()
    assert f"MimeType={MIME};" in entry and "{" not in entry
    assert 'pattern="*.nubshift"' in (tmp_path / "mime" / "packages" / f"{APP_ID}.xml").read_text()
    about = tmp_path / "metainfo" / f"{APP_ID}.metainfo.xml"
    checked = subprocess.run(
        ["appstreamcli", "validate", "--no-net", about], capture_output=True, text=True, check=False
    )
    assert checked.returncode == 0, checked.stdout
    assert (tmp_path / "icons" / "hicolor" / "scalable" / "apps" / f"{APP_ID}.svg").exists()
    assert said("off") == "not in the menu"
    assert not list(tmp_path.rglob(f"{APP_ID}*"))
    (tmp_path / "applications").rmdir()
    (tmp_path / "applications").write_text("in the way")
    result = CliRunner().invoke(main, ["desktop", "on"])
    assert result.exit_code == 1 and "applications" in result.output


def test_terminals_know_the_command_with_completion_and_manual(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("HOME", str(tmp_path))
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    monkeypatch.setenv("PATH", f"{tmp_path}/.local/bin:{os.environ['PATH']}")
    program = Path(sys.executable).with_name("nub-shift")
    monkeypatch.setattr(sys, "argv", [str(program)])

    def said(state: str) -> str:
        return CliRunner().invoke(main, ["terminal", state], catch_exceptions=False).output.strip()

    assert said("status") == "terminals do not know nub-shift"
    assert said("on").startswith("terminals know nub-shift")
    assert (tmp_path / ".local" / "bin" / "nub-shift").readlink() == program
    completion = tmp_path / "data" / "bash-completion" / "completions" / "nub-shift"
    requested = "COMP_WORDS=(nub-shift doc) COMP_CWORD=1; _nub_shift_completion nub-shift"
    typed = f'. {completion}; {requested}; echo "${{COMPREPLY[@]}}"'
    shell = subprocess.run(["bash", "-c", typed], capture_output=True, text=True, timeout=60, check=False)
    assert shell.stdout.strip() == "doctor", shell.stderr
    pages = {page.name: page.read_text() for page in (tmp_path / "data" / "man" / "man1").iterdir()}
    assert pages.keys() == {"nub-shift.1", *(f"nub-shift-{name}.1" for name in main.commands)}
    for name, page in pages.items():
        assert ".SH EXAMPLE\nnub-shift " in page and "\b" not in page and "..." not in page.split(".SH SYNOPSIS")[0], (
            name
        )
    assert said("off") == "terminals do not know nub-shift"
    assert not [path for path in tmp_path.rglob("*") if path.is_file() or path.is_symlink()]
